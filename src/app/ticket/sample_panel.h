// A panel that opens beside its button, with things to take, each shown on a small picture that is rendered behind.
#pragma once

#include <QListWidget>
#include <atomic>
#include <functional>
#include <memory>

#include "app/window/background.h"
#include "work/work.h"

namespace app {

class SamplePanel : public QWidget {
    Q_OBJECT

public:
    SamplePanel(const QString& id, const QString& what, QWidget* parent);  // `what` is the list's accessible name

    struct Entry {
        QString name, tip;
        std::function<work::Work()> shown;  // asked behind, too
    };
    void open(QWidget* beside, const std::vector<Entry>& entries);
    QListWidget* list() { return m_list; }

Q_SIGNALS:
    void taken(int row);

private:
    void take(QListWidgetItem* item);

    QListWidget* m_list;
    std::shared_ptr<std::atomic<int>> m_opened = std::make_shared<std::atomic<int>>(0);  // samples of an earlier opening are not made
    Background m_background;                                                             // renders the samples
};

}  // namespace app
