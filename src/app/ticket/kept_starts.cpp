#include "app/ticket/kept_starts.h"

#include <QAction>
#include <QFile>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QListWidget>
#include <QPushButton>

#include "app/ticket/sample_panel.h"

namespace app {

KeptStarts::KeptStarts(const Context& context, Kind kind, QWidget* parent)
    : QWidget(parent), m_context(context), m_kind(std::move(kind)), m_line(new QHBoxLayout(this))
{
    m_line->setContentsMargins(0, 0, 0, 0);
    m_button = new QPushButton(m_kind.words.begin);
    m_button->setObjectName(m_kind.id + ".starts");
    m_button->setToolTip(m_kind.words.beginTip);
    auto* keeps = new QPushButton(tr("Keep..."));
    keeps->setObjectName(m_kind.id + ".keep");
    keeps->setToolTip(m_kind.words.keepTip);
    m_line->addWidget(m_button, 1);
    m_line->addWidget(keeps);
    connect(m_button, &QPushButton::clicked, this, &KeptStarts::open);
    connect(keeps, &QPushButton::clicked, this, &KeptStarts::keep);
}

void KeptStarts::addBeside(QWidget* widget)
{
    m_line->insertWidget(1, widget);
}

void KeptStarts::makePanel()
{
    m_panel = new SamplePanel(m_context, m_kind.id + ".starts", m_kind.words.list, this);
    QListWidget* list = m_panel->list();
    auto* forgets = new QAction(m_kind.words.forget, list);
    forgets->setObjectName(m_kind.id + ".starts.forget");
    forgets->setShortcut(QKeySequence::Delete);
    forgets->setShortcutContext(Qt::WidgetShortcut);
    connect(forgets, &QAction::triggered, this, [this, list] { forget(list->currentRow()); });
    list->addAction(forgets);
    list->setContextMenuPolicy(Qt::ActionsContextMenu);
}

void KeptStarts::open()
{
    if (!m_panel)
        makePanel();
    base::Notes notes;
    m_starts = m_kind.all(notes);
    if (!notes.empty())
        m_context.say(m_kind.words.leftOut.arg(text(notes.front().message + " (" + notes.front().place + ")")));
    if (m_starts.empty())
        return;
    std::vector<SamplePanel::Entry> entries;
    for (const Start& start : m_starts)
        entries.push_back({start.name, start.own ? tr("%1, kept by you").arg(start.tip) : start.tip, start.shown, start.label, start.take});
    m_panel->open(m_button, entries);
}

void KeptStarts::keep()
{
    QInputDialog ask(this);
    ask.setObjectName(m_kind.id + ".keep.ask");
    ask.setWindowTitle(m_kind.words.askTitle);
    ask.setLabelText(m_kind.words.ask);
    if (ask.exec() != QDialog::Accepted)
        return;
    const auto kept = m_kind.keep(ask.textValue().trimmed().toStdString());
    m_context.say(kept ? m_kind.words.kept.arg(text(*kept)) : text(base::oneLine(kept.error())));
}

void KeptStarts::forget(int row)
{
    if (row < 0 || row >= static_cast<int>(m_starts.size()) || !m_starts[static_cast<std::size_t>(row)].own) {
        m_context.say(m_kind.words.onlyOwn);
        return;
    }
    const Start start = m_starts[static_cast<std::size_t>(row)];
    m_panel->hide();
    QFile::remove(text(m_kind.folder + "/" + start.id + ".json"));
    m_context.say(m_kind.words.forgotten.arg(start.name));
}

}  // namespace app
