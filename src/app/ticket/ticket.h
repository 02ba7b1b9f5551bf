// The left column: the pieces in words, then the sections in the order of work.
#pragma once

#include <QWidget>

#include "app/ticket/sections.h"

class QListWidget;
class QPushButton;
class QVBoxLayout;

namespace app {

class Ticket : public QWidget {
    Q_OBJECT

public:
    Ticket(const Context& context, Finals* finals, QWidget* parent = nullptr);

    void refresh();
    // Notices of the live picture, without those that were silenced.
    void showNotices(const base::Notes& notes);
    const std::vector<Section*>& sections() const { return m_sections; }
    Section* section(const QString& id) const;
    void openSection(int number);

    // What menus and keys do.
    void addLettering();
    void duplicateChosen();
    void removeChosen();
    void moveChosen(int by);
    void setHidden(bool hidden);
    void setLocked(bool locked);

Q_SIGNALS:
    void sectionOpened(const QString& id);

private:
    QWidget* makePieces();
    void refreshPieces();
    void chooseFromList();
    void goTo(const QString& place);

    Context m_context;
    QListWidget* m_pieces = nullptr;
    QLabel* m_choiceTitle = nullptr;
    std::vector<Section*> m_sections;
    base::Notes m_notes;
    std::vector<QPushButton*> m_forChosen;
    bool m_refreshing = false;
};

}  // namespace app
