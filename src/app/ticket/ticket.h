// The left column: the pieces in words, then the sections in the order of work.
#pragma once

#include <QWidget>

#include "app/ticket/sections.h"
#include "work/cache.h"

class QPushButton;
class QScrollArea;
class QToolButton;

namespace app {

class PiecesList;
class TextRow;

class Ticket : public QWidget {
    Q_OBJECT

public:
    Ticket(const Context& context, Finals* finals, QWidget* parent = nullptr);

    void refresh();
    // Notices of the live picture, without those that were silenced.
    void showNotices(const base::Notes& notes);
    PiecesList* pieces() const { return m_pieces; }
    const std::vector<Section*>& sections() const { return m_sections; }
    Section* section(const QString& id) const;
    // By key: opens it, closes the others, and goes to its first field; an open one stays open.
    void openSection(int number);
    // A strip of the sections' drawings alone.
    bool isFolded() const { return m_folded; }
    void setFolded(bool folded);

    // What menus and keys do.
    void addLettering();
    // The first letters of a word were typed elsewhere; the rest comes in the text's own field.
    void beginLettering(const QString& text);
    void typeOver(const std::string& lettering);  // chosen, all of its text marked
    void duplicateChosen();
    void removeChosen();
    void moveChosen(int way);
    void groupChosen();
    void ungroupChosen();
    void toggleHidden();
    void toggleLocked();
    void rename();
    void fitChosen();
    void breakChosen();
    // The face of what is chosen.
    void useFontFile(const QString& path);

Q_SIGNALS:
    void sectionOpened(const QString& id);
    void foldChanged(bool folded);

protected:
    void paintEvent(QPaintEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void changeEvent(QEvent* event) override;

private:
    void closeOthers(Section* opened, bool byPointer);
    QWidget* makePieces();
    TextRow* addLettering(const QString& label, const QString& words);
    TextRow* focusText(const std::string& piece);
    void toggle(const QString& on, const QString& off, bool work::Piece::*what);
    void goTo(const QString& place);
    std::vector<Section::Remedy> remediesOf(const base::Note& note);
    std::vector<Section::Remedy> facesFor(const work::Address& letter);

    Context m_context;
    work::Cache m_fonts;
    PiecesList* m_pieces = nullptr;
    QLabel* m_choiceTitle = nullptr;
    std::vector<Section*> m_sections;
    base::Notes m_notes;
    std::vector<QPushButton*> m_forChosen;
    QScrollArea* m_scroll = nullptr;
    QWidget* m_piecesBox = nullptr;
    QToolButton* m_fold = nullptr;
    std::vector<QWidget*> m_wideOnly;  // what a folded ticket leaves out
    std::vector<Section*> m_toClose;   // once the pointer has left
    bool m_folded = false;
};

}  // namespace app
