#include "app/main_window.h"

#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPlainTextEdit>
#include <QVBoxLayout>

#include "app/picture_view.h"

namespace app {

namespace {

constexpr int kTicketWidth = 300;

}  // namespace

MainWindow::MainWindow(work::Work work, const QString& title, QWidget* parent)
    : QMainWindow(parent), m_work(std::move(work)), m_render(session::FinalStore("/tmp/open-glow-finals"), [this](const session::LiveFrame& frame) { Q_EMIT frameReady(frame); }, [](const session::FinalStatus&) {})
{
    setWindowTitle(title + tr(" - Open Glow"));
    resize(1280, 800);
    auto* middle = new QWidget;
    auto* columns = new QHBoxLayout(middle);
    columns->setContentsMargins(0, 0, 0, 0);
    columns->setSpacing(0);

    auto* ticket = new QWidget;
    ticket->setFixedWidth(kTicketWidth);
    auto* form = new QFormLayout(ticket);
    form->setContentsMargins(16, 16, 16, 16);
    form->setRowWrapPolicy(QFormLayout::WrapAllRows);
    m_text = new QPlainTextEdit;
    m_text->setObjectName("text");
    m_text->setTabChangesFocus(true);
    m_text->setFixedHeight(96);
    form->addRow(tr("&Text"), m_text);
    m_depth = new QDoubleSpinBox;
    m_depth->setObjectName("depth");
    m_depth->setRange(0, 100000);
    m_depth->setDecimals(1);
    m_depth->setSuffix(tr(" pt"));
    form->addRow(tr("&Depth"), m_depth);
    m_notes = new QLabel;
    m_notes->setObjectName("notes");
    m_notes->setWordWrap(true);
    form->addRow(m_notes);
    columns->addWidget(ticket);

    auto* right = new QVBoxLayout;
    right->setSpacing(0);
    m_picture = new PictureView;
    m_picture->setObjectName("picture");
    right->addWidget(m_picture, 1);
    m_state = new QLabel;
    m_state->setObjectName("state");
    m_state->setContentsMargins(16, 8, 16, 8);
    right->addWidget(m_state);
    columns->addLayout(right, 1);
    setCentralWidget(middle);

    if (const work::Piece* p = piece()) {
        m_text->setPlainText(QString::fromStdString(p->lettering.text));
        m_depth->setValue(p->form.depthPt);
    } else {
        ticket->setEnabled(false);
    }
    connect(m_text, &QPlainTextEdit::textChanged, this, [this] {
        work::setText(*piece(), m_text->toPlainText().toStdString());
        restart();
    });
    connect(m_depth, &QDoubleSpinBox::valueChanged, this, [this](double depth) {
        piece()->form.depthPt = depth;
        restart();
    });
    connect(m_picture, &PictureView::resized, this, &MainWindow::restart);
    connect(this, &MainWindow::frameReady, this, &MainWindow::take, Qt::QueuedConnection);
}

work::Piece* MainWindow::piece()
{
    return m_work.pieces.order.empty() ? nullptr : &m_work.pieces.items.at(m_work.pieces.order.front());
}

void MainWindow::restart()
{
    const QSize size = m_picture->frameSize(m_work.sheet.widthPt(), m_work.sheet.heightPt());
    m_job = m_render.live({m_work, size.width(), size.height(), {}, m_liveStop, 0});
    m_state->setText(tr("Rendering..."));
}

void MainWindow::take(const session::LiveFrame& frame)
{
    if (frame.job != m_job)
        return;
    if (frame.error) {
        m_state->setText(QString::fromStdString(base::oneLine(*frame.error)));
        return;
    }
    m_picture->show(frame.picture);
    QStringList notes;
    for (const base::Note& note : frame.notes)
        notes += QString::fromStdString(note.message);
    m_notes->setText(notes.join('\n'));
    QString state = tr("%1 samples").arg(frame.status.samples, 0, 'f', 0);
    if (frame.status.noise >= 0)
        state += tr(", noise %1").arg(frame.status.noise, 0, 'f', 1);
    if (frame.finished)
        state += m_liveStop.noise > 0 && frame.status.noise <= m_liveStop.noise ? tr(". Clean.") : tr(". The live picture stops here.");
    else if (frame.status.secondsLeft >= 0)
        state += tr(", about %1 s to go").arg(frame.status.secondsLeft, 0, 'f', 0);
    m_state->setText(state);
    if (frame.finished)
        Q_EMIT settled();
}

}  // namespace app
