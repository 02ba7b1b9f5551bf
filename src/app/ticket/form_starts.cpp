#include "app/ticket/form_starts.h"

#include <QAction>
#include <QFile>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QListWidget>
#include <QPushButton>

#include "app/ticket/chosen.h"
#include "app/ticket/letter_sample.h"
#include "app/ticket/sample_panel.h"

namespace app {

FormStarts::FormStarts(const Context& context, QWidget* parent) : QWidget(parent), m_context(context)
{
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(0, 0, 0, 0);
    m_button = new QPushButton(tr("Begin from..."));
    m_button->setObjectName("form.starts");
    m_button->setToolTip(tr("Forms that are ready, on your own first letter; everything in them can be changed after"));
    auto* keeps = new QPushButton(tr("Keep..."));
    keeps->setObjectName("form.keep");
    keeps->setToolTip(tr("Keeps the form of what is chosen by a name, for other works"));
    line->addWidget(m_button, 1);
    line->addWidget(keeps);
    connect(m_button, &QPushButton::clicked, this, &FormStarts::open);
    connect(keeps, &QPushButton::clicked, this, &FormStarts::keep);
}

void FormStarts::makePanel()
{
    m_panel = new SamplePanel("form.starts", tr("Forms to begin from"), this);
    connect(m_panel, &SamplePanel::taken, this, &FormStarts::take);
    QListWidget* list = m_panel->list();
    auto* forgets = new QAction(tr("Forget this form"), list);
    forgets->setObjectName("form.starts.forget");
    forgets->setShortcut(QKeySequence::Delete);
    forgets->setShortcutContext(Qt::WidgetShortcut);
    connect(forgets, &QAction::triggered, this, [this, list] { forget(list->currentRow()); });
    list->addAction(forgets);
    list->setContextMenuPolicy(Qt::ActionsContextMenu);
}

void FormStarts::open()
{
    const work::Piece* piece = leadPiece(m_context);
    if (!piece)
        return;
    if (!m_panel)
        makePanel();
    base::Notes notes;
    m_starts = files::formStarts(files::formFolders(), &notes);
    if (!notes.empty())
        m_context.say(tr("A form was left out: %1 (%2)").arg(text(notes.front().message), text(notes.front().place)));
    work::Work sample = sampleOf(m_context.session->work(), *piece);
    work::Piece& shown = sample.pieces.items.begin()->second;
    std::vector<SamplePanel::Entry> entries;
    for (const files::FormStart& start : m_starts) {
        shown.form = start.at(shown.sizePt());
        entries.push_back(
            {text(start.name), start.own ? tr("%1, kept by you").arg(text(start.name)) : text(start.name), [sample] { return sample; }});
    }
    m_panel->open(m_button, entries);
}

void FormStarts::take(int row)
{
    if (row < 0 || row >= static_cast<int>(m_starts.size()))
        return;
    const files::FormStart start = m_starts[static_cast<std::size_t>(row)];
    m_context.session->edit(tr("Form").toStdString(), [&](work::Work& w) {
        const session::Choice& choice = m_context.session->choice();
        for (const session::Target& target : choice.targets) {
            work::Piece& piece = w.pieces.items.at(target.piece);
            const work::Form form = start.at(piece.sizePt());
            if (!target.letter.empty()) {
                piece.letters[target.letter].form = form;
                continue;
            }
            piece.form = form;
            for (auto& [_, own] : piece.letters)
                own.form.reset();
        }
        session::tidyLetters(w);
    });
}

void FormStarts::keep()
{
    const work::Piece* piece = leadPiece(m_context);
    const auto forms = session::formsOf(m_context.session->work(), m_context.session->choice());
    if (!piece || forms.empty())
        return;
    const work::Form form = *forms.back();
    const double size = piece->sizePt();
    QInputDialog ask(this);
    ask.setObjectName("form.keep.ask");
    ask.setWindowTitle(tr("Keep this form"));
    ask.setLabelText(tr("Its name; a form of yours with the same name is replaced"));
    if (ask.exec() != QDialog::Accepted)
        return;
    const auto kept = files::keepForm(files::ownFormFolder(), ask.textValue().trimmed().toStdString(), form, size);
    m_context.say(kept ? tr("\"%1\" is among the forms to begin from").arg(text(kept->name)) : text(base::oneLine(kept.error())));
}

void FormStarts::forget(int row)
{
    if (row < 0 || row >= static_cast<int>(m_starts.size()) || !m_starts[static_cast<std::size_t>(row)].own) {
        m_context.say(tr("Only forms you kept can be forgotten"));
        return;
    }
    const files::FormStart start = m_starts[static_cast<std::size_t>(row)];
    m_panel->hide();
    QFile::remove(text(files::ownFormFolder() + "/" + start.id + ".json"));
    m_context.say(tr("\"%1\" is forgotten").arg(text(start.name)));
}

}  // namespace app
