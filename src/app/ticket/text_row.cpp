#include "app/ticket/text_row.h"

#include "app/style.h"
#include "outline/text.h"
#include "work/properties.h"

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

// A line break at the end waits until something stands in its line: who ends a word with Return has not begun a second line.
QString settled(QString text)
{
    while (text.endsWith('\n'))
        text.chop(1);
    return text;
}

}  // namespace

TextRow::TextRow(const Context& context, QWidget* parent) : QPlainTextEdit(parent), m_context(context)
{
    setObjectName("lettering.text");
    setAccessibleName(tr("Text"));
    setToolTip(tr("Select characters to choose their letters"));
    setTabChangesFocus(true);
    setFixedHeight(3 * fontMetrics().lineSpacing() + 20);
    connect(document(), &QTextDocument::contentsChange, this, &TextRow::noteChange);
    connect(this, &QPlainTextEdit::textChanged, this, &TextRow::take);
    connect(this, &QPlainTextEdit::selectionChanged, this, &TextRow::chooseSelected);
}

void TextRow::take()
{
    if (m_refreshing || m_piece.empty())
        return;
    // The document tells each change as a place, what went and what came; several at once (a drop within the field) are told one by one.
    const QString text = settled(toPlainText());
    if (text == m_shown)
        return;
    const auto bytes = [](const QString& s, int from, int to) { return static_cast<std::size_t>(s.mid(from, to - from).toUtf8().size()); };
    const bool follows = m_shown.left(m_place) == text.left(m_place) && m_shown.mid(m_place + m_removed) == text.mid(m_place + m_added);
    if (text.toUtf8().size() > static_cast<qsizetype>(work::kMostText)) {
        m_context.say(tr("A lettering has %1 bytes of text at most; set longer texts in several pieces").arg(work::kMostText));
        refresh();
        return;
    }
    m_context.session->edit(tr("Typing").toStdString(), "text " + m_piece, [&](work::Work& w) {
        work::Piece& piece = w.pieces.items.at(m_piece);
        if (follows && piece.lettering()->text == m_shown.toStdString())
            work::editText(piece, bytes(m_shown, 0, m_place), bytes(m_shown, m_place, m_place + m_removed),
                           text.mid(m_place, m_added).toStdString());
        else
            work::setText(piece, text.toStdString());
    });
    m_shown = text;
}

void TextRow::noteChange(int place, int removed, int added)
{
    // Qt counts the document's last paragraph mark when all is replaced.
    const int length = static_cast<int>(toPlainText().size()), before = static_cast<int>(m_shown.size());
    m_place = std::min(place, std::min(length, before));
    m_removed = std::min(removed, before - m_place);
    m_added = std::min(added, length - m_place);
}

void TextRow::chooseSelected()
{
    if (m_refreshing || m_piece.empty() || !hasFocus())
        return;
    const work::Piece& piece = m_context.session->work().pieces.items.at(m_piece);
    if (settled(toPlainText()) != settled(QString::fromStdString(piece.lettering()->text)))
        return;
    const QTextCursor cursor = textCursor();
    session::Choice choice;
    if (cursor.hasSelection()) {
        const std::vector<int> starts = letterStarts(piece.lettering()->text);
        for (std::size_t i = 0; i + 1 < starts.size(); ++i)
            if (starts[i] < cursor.selectionEnd() && starts[i + 1] > cursor.selectionStart() &&
                session::letterText(piece, piece.lettering()->letterIds[i]) != "\n")
                choice.add({m_piece, piece.lettering()->letterIds[i]});
    }
    if (choice.empty() || choice.targets.size() == piece.lettering()->letterIds.size())
        choice.set({m_piece, {}});
    m_context.session->choose(choice);
}

void TextRow::refresh()
{
    m_refreshing = true;
    const session::Choice& choice = m_context.session->choice();
    m_piece = choice.empty() ? std::string() : choice.targets.back().piece;
    if (!m_piece.empty() && !m_context.session->work().pieces.items.at(m_piece).lettering())
        m_piece.clear();
    if (m_piece.empty()) {
        clear();
        m_refreshing = false;
        return;
    }
    const work::Piece& piece = m_context.session->work().pieces.items.at(m_piece);
    const QString text = QString::fromStdString(piece.lettering()->text);
    if (hasFocus() ? settled(toPlainText()) != settled(text) : toPlainText() != text)
        setPlainText(text);
    m_shown = text;
    // Letters chosen in the picture are marked here.
    QList<QTextEdit::ExtraSelection> marks;
    const std::vector<int> starts = letterStarts(piece.lettering()->text);
    for (std::size_t i = 0; i + 1 < starts.size() && i < piece.lettering()->letterIds.size(); ++i)
        if (choice.has({m_piece, piece.lettering()->letterIds[i]})) {
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
    m_context.session->endMerge();
    refresh();
    QPlainTextEdit::focusOutEvent(event);
}

}  // namespace app
