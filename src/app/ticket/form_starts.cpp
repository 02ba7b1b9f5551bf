#include "app/ticket/form_starts.h"

#include <QAction>
#include <QFile>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/fields/panel.h"
#include "app/style.h"
#include "app/ticket/chosen.h"
#include "app/ticket/letter_sample.h"

namespace app {

namespace {

constexpr int kAcross = 4, kDown = 4;

}  // namespace

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
    m_panel = new QWidget(this, Qt::Popup);
    m_panel->setObjectName("form.starts.panel");
    auto* box = new QVBoxLayout(m_panel);
    box->setContentsMargins(2 * kGrid, 2 * kGrid, 2 * kGrid, 2 * kGrid);
    m_list = new QListWidget;
    m_list->setObjectName("form.starts.list");
    m_list->setAccessibleName(tr("Forms to begin from"));
    arrangeSamples(*m_list);
    m_list->setGridSize({kSampleSide + 20, kSampleSide + 2 * m_list->fontMetrics().height() + 8});
    box->addWidget(m_list);
    connect(m_list, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) { take(m_list->row(item)); });
    connect(m_list, &QListWidget::itemActivated, this, [this](QListWidgetItem* item) { take(m_list->row(item)); });
    auto* forgets = new QAction(tr("Forget this form"), m_list);
    forgets->setObjectName("form.starts.forget");
    forgets->setShortcut(QKeySequence::Delete);
    forgets->setShortcutContext(Qt::WidgetShortcut);
    connect(forgets, &QAction::triggered, this, [this] { forget(m_list->currentRow()); });
    m_list->addAction(forgets);
    m_list->setContextMenuPolicy(Qt::ActionsContextMenu);
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
    m_list->clear();
    const int now = ++*m_opened;
    const QIcon blank = blankSample();
    work::Work sample = sampleOf(m_context.session->work(), *piece);
    work::Piece& shown = sample.pieces.items.begin()->second;
    for (std::size_t i = 0; i < m_starts.size(); ++i) {
        auto* item = new QListWidgetItem(blank, text(m_starts[i].name), m_list);
        item->setToolTip(m_starts[i].own ? tr("%1, kept by you").arg(text(m_starts[i].name)) : text(m_starts[i].name));
        shown.form = m_starts[i].at(shown.sizePt());
        m_background.run([sample, side = sampleSideOn(*this), opened = m_opened,
                          now](const base::Progress& progress) { return *opened == now ? keptSample(sample, side, progress) : QImage(); },
                         [this, i, now](const QImage& picture) {
                             if (*m_opened == now && !picture.isNull())
                                 m_list->item(static_cast<int>(i))->setIcon(sampleIcon(picture));
                         });
    }
    const QRect room = roomFor(m_button);
    m_list->setFixedSize(std::min(room.width() - 4 * kGrid, kAcross * m_list->gridSize().width() + 2 * kGrid + 16),
                         std::min(room.height() - 4 * kGrid, kDown * m_list->gridSize().height() + 2 * kGrid));
    m_panel->adjustSize();
    openBeside(m_panel, m_button);
    m_list->setCurrentRow(0);
    m_list->setFocus();
}

void FormStarts::take(int row)
{
    if (row < 0 || row >= static_cast<int>(m_starts.size()))
        return;
    const files::FormStart start = m_starts[static_cast<std::size_t>(row)];
    ++*m_opened;
    m_panel->hide();
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
