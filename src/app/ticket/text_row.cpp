#include "app/ticket/text_row.h"

#include "app/style.h"
#include "outline/text.h"

namespace app {

namespace {

// Places in the QString where each grapheme begins, and the end.
std::vector<int> letterStarts(const std::string& text)
{
    std::vector<int> starts;
    for (const outline::Grapheme& g : outline::graphemes(text))
        starts.push_back(static_cast<int>(QString::fromUtf8(text.data(), static_cast<qsizetype>(g.begin)).size()));
    starts.push_back(static_cast<int>(QString::fromStdString(text).size()));
    return starts;
}

}  // namespace

TextRow::TextRow(const Desk& desk, QWidget* parent) : QPlainTextEdit(parent), m_desk(desk)
{
    setObjectName("lettering.text");
    setAccessibleName(tr("Text"));
    setToolTip(tr("Select characters to choose their letters"));
    setTabChangesFocus(true);
    setFixedHeight(3 * fontMetrics().lineSpacing() + 20);
    connect(this, &QPlainTextEdit::textChanged, this, &TextRow::take);
    connect(this, &QPlainTextEdit::selectionChanged, this, &TextRow::chooseSelected);
}

void TextRow::take()
{
    if (m_refreshing || m_piece.empty())
        return;
    const std::string text = toPlainText().toStdString();
    m_desk.session->edit(tr("Typing").toStdString(), "text " + m_piece,
                         [&](work::Work& w) { work::setText(w.pieces.items.at(m_piece), text); });
}

void TextRow::chooseSelected()
{
    if (m_refreshing || m_piece.empty() || !hasFocus())
        return;
    const work::Piece& piece = m_desk.session->work().pieces.items.at(m_piece);
    if (toPlainText().toStdString() != piece.lettering.text)
        return;
    const QTextCursor cursor = textCursor();
    session::Choice choice;
    if (cursor.hasSelection()) {
        const std::vector<int> starts = letterStarts(piece.lettering.text);
        for (std::size_t i = 0; i + 1 < starts.size(); ++i)
            if (starts[i] < cursor.selectionEnd() && starts[i + 1] > cursor.selectionStart() &&
                session::letterText(piece, piece.lettering.letterIds[i]) != "\n")
                choice.add({m_piece, piece.lettering.letterIds[i]});
    }
    if (choice.empty() || choice.targets.size() == piece.lettering.letterIds.size())
        choice.set({m_piece, {}});
    m_desk.session->choose(choice);
}

void TextRow::refresh()
{
    m_refreshing = true;
    const session::Choice& choice = m_desk.session->choice();
    m_piece = choice.empty() ? std::string() : choice.targets.back().piece;
    if (m_piece.empty()) {
        clear();
        m_refreshing = false;
        return;
    }
    const work::Piece& piece = m_desk.session->work().pieces.items.at(m_piece);
    const QString text = QString::fromStdString(piece.lettering.text);
    if (toPlainText() != text)
        setPlainText(text);
    // Letters chosen in the picture are marked here.
    QList<QTextEdit::ExtraSelection> marks;
    const std::vector<int> starts = letterStarts(piece.lettering.text);
    for (std::size_t i = 0; i + 1 < starts.size() && i < piece.lettering.letterIds.size(); ++i)
        if (choice.has({m_piece, piece.lettering.letterIds[i]})) {
            QTextEdit::ExtraSelection mark;
            mark.cursor = QTextCursor(document());
            mark.cursor.setPosition(starts[i]);
            mark.cursor.setPosition(starts[i + 1], QTextCursor::KeepAnchor);
            mark.format.setBackground(colours().accent);
            mark.format.setForeground(colours().onAccent);
            marks.push_back(mark);
        }
    setExtraSelections(marks);
    m_refreshing = false;
}

void TextRow::focusOutEvent(QFocusEvent* event)
{
    m_desk.session->endMerge();
    QPlainTextEdit::focusOutEvent(event);
}

}  // namespace app
