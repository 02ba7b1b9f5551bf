// Proofs laid over the picture: kept versions of the work beside the work as it is, to be compared, taken from and gone back to.
#pragma once

#include <QImage>
#include <QWidget>
#include <map>

#include "app/ticket/section.h"
#include "app/window/background.h"
#include "app/window/comparison.h"
#include "session/proofs.h"

class QLineEdit;
class QListWidget;
class QPushButton;
class QToolButton;

namespace app {

class ProofSheet : public QWidget {
    Q_OBJECT

public:
    explicit ProofSheet(const Context& context, QWidget* parent = nullptr);

    // Keeps the work as it is, with its picture; when none is there it is rendered first, in the background.
    void keep(const QString& note);
    // Another work is open: what is on its way for the last one is dropped.
    void anotherWork();
    // The work has changed.
    void refresh();
    // The picture of the work as it is has come.
    void showNow();
    // Shows the proof that was chosen last, or the newest, alone over the picture, as long as it lasts. False: there is none.
    bool peek(bool on);
    bool isPeeking() const { return m_peeks; }
    void open();

Q_SIGNALS:
    void shown(bool open);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QWidget* makeHead();
    QWidget* makeFoot();
    void fill();
    void addPicture(const work::Proof& proof);
    void enable();
    std::vector<std::string> chosen() const;  // proofs, in the sheet's order
    QImage pictureOf(const std::string& proof) const;
    QString nameOf(const std::string& proof) const;
    void compare(bool on);
    void add(const work::Work& version, const QString& note, const QImage& picture);
    void takeOver(session::ProofSide side, const QString& label);
    void goBack();
    void remove();
    // The version of the only chosen one; says why when it cannot be read.
    std::optional<work::Work> version() const;

    Context m_context;
    QLineEdit* m_note = nullptr;
    QListWidget* m_list = nullptr;
    Comparison* m_comparison = nullptr;
    QWidget *m_head = nullptr, *m_foot = nullptr;
    QPushButton *m_compare = nullptr, *m_take = nullptr, *m_back = nullptr, *m_remove = nullptr;
    std::map<std::string, QImage> m_small;  // by asset, as they come
    std::string m_last;                     // chosen last
    work::Ordered<work::Proof> m_listed;
    std::uint64_t m_works = 0;  // opened so far
    bool m_peeks = false, m_filling = false;
    Background m_background;
};

}  // namespace app
