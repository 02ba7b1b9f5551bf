// What the window is made of, and where it stands; the message over the picture.
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QToolButton>

#include "app/drawer/casting_table.h"
#include "app/drawer/light_desk_view.h"
#include "app/drawer/profile_view.h"
#include "app/drawer/sample_book.h"
#include "app/drawer/sky_charts.h"
#include "app/fields/panel.h"
#include "app/motion.h"
#include "app/picture/side_view.h"
#include "app/style.h"
#include "app/window/kept_picture.h"
#include "app/window/main_window.h"
#include "app/window/proof_sheet.h"
#include "app/window/start_page.h"
#include "app/window/state_line.h"

namespace app {

namespace {

constexpr int kTicketWidth = 340;

// The ticket keeps its width whatever the window's is.
class Columns : public QSplitter {
public:
    explicit Columns(std::function<void()> resized) : QSplitter(Qt::Horizontal), m_resized(std::move(resized)) {}

protected:
    void resizeEvent(QResizeEvent* event) override
    {
        QSplitter::resizeEvent(event);
        m_resized();
    }

private:
    std::function<void()> m_resized;
};

}  // namespace

void MainWindow::makeParts(const Context& desk)
{
    m_ticket = new Ticket(desk, m_finals);
    m_picture = new PictureView(desk);
    keepInSight(this, [picture = m_picture] {
        const QRect letters = picture->lettersRect();
        return letters.isEmpty() ? QRect() : QRect(picture->mapToGlobal(letters.topLeft()), letters.size());
    });
    m_kept = new KeptPicture;
    m_proofs = new ProofSheet(desk);
    m_side = new SideView(desk);
    m_lightDesk = new LightDeskView(desk);
    m_profile = new ProfileView(desk);
    m_sky = new SkyCharts(desk);
    m_casting = new CastingTable(desk);
    m_book = new SampleBook(desk);
    m_book->hide();
    m_state = new StateLine;
    m_start = new StartPage;
    m_start->hide();
    m_message = new QWidget;
    m_message->setObjectName("message");
    m_message->setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(m_message);
    row->setContentsMargins(3 * kGrid, kGrid, 2 * kGrid, kGrid);
    m_messageText = new QLabel;
    m_messageText->setObjectName("message.text");
    m_messageText->setWordWrap(true);
    row->addWidget(m_messageText, 1);
    m_offers = new QHBoxLayout;
    m_offers->setSpacing(kGrid);
    row->addLayout(m_offers);
    auto* done = new QToolButton;
    done->setObjectName("message.close");
    done->setText(tr("Close"));
    done->setToolTip(tr("Takes the message away"));
    connect(done, &QToolButton::clicked, this, [this] { showMessage({}); });
    row->addWidget(done, 0, Qt::AlignTop);
    m_message->hide();
}

void MainWindow::placeParts()
{
    m_drawer = new QWidget;
    m_drawer->setObjectName("drawer");
    auto* drawerColumn = new QVBoxLayout(m_drawer);
    drawerColumn->setContentsMargins(0, 0, 0, 0);
    drawerColumn->addWidget(m_side);
    drawerColumn->addWidget(m_lightDesk);
    drawerColumn->addWidget(m_profile);
    drawerColumn->addWidget(m_sky);
    drawerColumn->addWidget(m_casting);
    m_lightDesk->hide();
    m_profile->hide();
    m_sky->hide();
    m_casting->hide();
    m_drawer->hide();

    // The message lies over the picture's margin: what comes and goes must not move the picture.
    auto* stack = new QGridLayout;
    stack->addWidget(m_picture, 0, 0);
    stack->addWidget(m_kept, 0, 0);
    stack->addWidget(m_proofs, 0, 0);
    stack->addWidget(m_start, 0, 0, Qt::AlignCenter);
    stack->addWidget(m_message, 0, 0, Qt::AlignTop);
    auto* rightSide = new QWidget;
    auto* right = new QVBoxLayout(rightSide);
    right->setContentsMargins(0, 0, 0, 0);
    right->setSpacing(kGrid);
    auto* beside = new QHBoxLayout;
    beside->setSpacing(kGrid);
    beside->addLayout(stack, 1);
    beside->addWidget(m_book);
    right->addLayout(beside, 1);
    right->addWidget(m_drawer);
    right->addWidget(m_state);

    m_columns = new Columns([this] { setTicketWidth(); });
    m_columns->setObjectName("columns");
    m_columns->setHandleWidth(2 * kGrid);
    m_columns->setChildrenCollapsible(false);
    m_columns->addWidget(m_ticket);
    m_columns->addWidget(rightSide);
    m_columns->setStretchFactor(0, 0);
    m_columns->setStretchFactor(1, 1);
    auto* middle = new QWidget;
    middle->setObjectName("middle");
    middle->setAttribute(Qt::WA_StyledBackground);
    auto* all = new QHBoxLayout(middle);
    all->setContentsMargins(2 * kGrid, 2 * kGrid, 2 * kGrid, 2 * kGrid);
    all->addWidget(m_columns);
    setCentralWidget(middle);

    if (QSettings().value("ticketFolded", false).toBool())
        m_ticket->setFolded(true);
    connect(m_columns, &QSplitter::splitterMoved, this, [this] {
        if (!m_ticket->isFolded())
            QSettings().setValue("ticketWidth", m_ticket->width() * 100 / currentLook().textPercent);
    });
    connect(m_ticket, &Ticket::foldChanged, this, [this](bool folded) {
        QSettings().setValue("ticketFolded", folded);
        setTicketWidth();
    });
}

void MainWindow::setTicketWidth()
{
    // As wide as it was dragged, in px at the usual text size.
    const int wide = m_ticket->isFolded() ? m_ticket->minimumWidth()
                                          : QSettings().value("ticketWidth", kTicketWidth).toInt() * currentLook().textPercent / 100;
    m_columns->setSizes({wide, m_columns->width() - wide - m_columns->handleWidth()});
}

void MainWindow::leave(QWidget* part)
{
    if (focusWidget() && part->isAncestorOf(focusWidget()))
        m_picture->setFocus();
}

void MainWindow::showMessage(const QString& sentence, const std::vector<Offer>& offers)
{
    leave(m_message);
    while (QLayoutItem* item = m_offers->takeAt(0)) {
        item->widget()->hide();
        item->widget()->deleteLater();
        delete item;
    }
    for (const Offer& offer : offers) {
        auto* button = new QPushButton(offer.label);
        button->setObjectName("message." + offer.id);
        connect(button, &QPushButton::clicked, this, offer.run);
        m_offers->addWidget(button, 0, Qt::AlignTop);
    }
    m_messageText->setText(sentence);
    const bool appears = !m_message->isVisible();
    m_message->setVisible(!sentence.isEmpty());
    if (appears)
        fadeIn(m_message);
}

}  // namespace app
