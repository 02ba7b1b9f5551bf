// A panel that opens beside its button, with things to take, each shown on a small picture that is rendered behind. What the pointer
// rests on, or arrow keys go to, is tried in the work until the panel closes: the large picture shows it.
#pragma once

#include <QListWidget>
#include <QTimer>
#include <atomic>
#include <functional>
#include <memory>
#include <optional>

#include "app/ticket/section.h"
#include "app/window/background.h"
#include "work/work.h"

namespace app {

// Words to search by, as a tip shows them: "warm, small, near".
QString listed(const QString& words);

class SamplePanel : public QWidget {
    Q_OBJECT

public:
    // `what` is the list's accessible name.
    SamplePanel(const Context& context, const QString& id, const QString& what, QWidget* parent);

    struct Entry {
        QString name, tip;
        std::function<work::Work()> shown;  // asked behind, too
        QString label;                      // of the step that takes it
        std::function<void(work::Work&)> take;
    };
    void open(QWidget* beside, const std::vector<Entry>& entries);
    QListWidget* list() { return m_list; }

protected:
    void hideEvent(QHideEvent* event) override;

private:
    void rest(int row);  // tried when it stays there
    void tryRow(int row);
    void backFromTries();
    void take(QListWidgetItem* item);

    Context m_context;
    QListWidget* m_list;
    std::vector<Entry> m_entries;
    QTimer m_resting;
    int m_tried = -1, m_next = -1;
    std::optional<work::Work> m_before;                                                  // what was tried
    std::shared_ptr<std::atomic<int>> m_opened = std::make_shared<std::atomic<int>>(0);  // samples of an earlier opening are not made
    Background m_background;                                                             // renders the samples
};

}  // namespace app
