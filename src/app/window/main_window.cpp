#include "app/window/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDesktopServices>
#include <QFileDialog>
#include <QFileInfo>
#include <QKeyEvent>
#include <QMenu>
#include <QPushButton>
#include <QScreen>
#include <QSettings>
#include <QToolButton>

#include "app/desktop.h"
#include "app/drawer/casting_table.h"
#include "app/drawer/light_desk_view.h"
#include "app/drawer/profile_view.h"
#include "app/drawer/sky_charts.h"
#include "app/picture/side_view.h"
#include "app/style.h"
#include "app/ticket/head.h"
#include "app/ticket/pieces_list.h"
#include "app/window/artwork_files.h"
#include "app/window/kept_picture.h"
#include "app/window/picture_files.h"
#include "app/window/proof_sheet.h"
#include "app/window/start_page.h"
#include "app/window/state_line.h"
#include "app/window/swatch_files.h"
#include "session/edits.h"
#include "session/places.h"
#include "session/summary.h"
#include "work/starts.h"

namespace app {

namespace {

constexpr int kCompareKey = Qt::Key_F4, kWithoutLayersKey = Qt::Key_F7, kProofKey = Qt::Key_F8;
constexpr QSize kFrameRoom{8, 40};  // px that a window manager's frame takes

}  // namespace

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent),
      m_session(work::emptyWork({})),
      m_queue(
          session::FinalStore(session::cacheFolder() + "/finals"), [this](const session::LiveFrame& frame) { Q_EMIT frameReady(frame); },
          [this](const session::FinalStatus& status) { Q_EMIT finalReady(status); })
{
    qRegisterMetaType<session::LiveFrame>();
    qRegisterMetaType<session::FinalStatus>();
    setObjectName("window");
    setAcceptDrops(true);
    m_desktop = new Desktop(this);
    applyLook();
    m_finals = new Finals(&m_session, &m_queue, this);
    m_artwork = new ArtworkFiles(&m_session, this);
    m_swatches = new SwatchFiles(&m_session, this);
    m_pictures = new PictureFiles(&m_session, this);
    m_files = new WorkFiles(
        &m_session, [this] { return preview(); }, this);
    makeParts(makeContext());
    placeParts();
    makeMenus();
    connectParts();
    qApp->installEventFilter(this);
    m_lightDesk->showWork(m_session.work(), false, {});
    m_session.observe([this](const session::Change& change) { workChanged(change); });
    m_ticket->refresh();
    m_sky->refresh();
    m_casting->refresh();
    showTitle();
    showState();
    resize(usualSize());
}

// What the screen has free, frame and panel counted, but no more than is comfortable.
QSize MainWindow::usualSize() const
{
    const QRect free = screen() ? screen()->availableGeometry() : QRect(0, 0, 1280, 800);
    return QSize(free.width() - kFrameRoom.width(), free.height() - kFrameRoom.height()).boundedTo({1600, 1000});
}

MainWindow::~MainWindow()
{
    // What has the focus ends what is typed there while there is still a work.
    if (QWidget* focused = focusWidget())
        focused->clearFocus();
}

Context MainWindow::makeContext()
{
    Context desk;
    desk.session = &m_session;
    desk.unit = [this] { return session::LengthUnit{m_session.work().sheet().unit, m_session.work().sheet().ppi}; };
    desk.shownPicture = [this] { return currentPicture(); };
    desk.say = [this](const QString& sentence) { showMessage(sentence); };
    desk.offer = [this](const QString& sentence, const std::vector<Offer>& offers) { showMessage(sentence, offers); };
    desk.pickColour = [this](std::function<void(base::Rgb)> take) { m_picture->pickColour(std::move(take)); };
    desk.lightChanged = [this] {
        m_ticket->refresh();
        m_sky->refresh();
        m_casting->refresh();
        m_picture->update();
    };
    desk.replaceArtwork = [this](const QString& piece, const QString& path) { m_artwork->replace(piece, path); };
    desk.pen = [this](const std::string& lettering) { m_picture->draw(PenFor::Run, lettering); };
    desk.penCut = [this](const std::string& piece) { m_picture->draw(PenFor::Cut, piece); };
    desk.drawProfile = [this](session::ProfileOf of) {
        m_profile->speakOf(of);
        showInDrawer(Drawer::Profile);
    };
    desk.openCharts = [this] { showInDrawer(Drawer::Sky); };
    desk.openCasting = [this] { showInDrawer(Drawer::Casting); };
    desk.openBook = [this] { showBook(true); };
    desk.layPicture = [this](const QString& path, const QString& label, PictureFiles::Use use) {
        m_pictures->lay(path, label, std::move(use));
    };
    desk.aimAt = [this](AimAt what, const std::string& id) { m_picture->aimAt(what, id); };
    desk.surround = [this](const QString& path, bool keepsExposure) { m_pictures->surround(path, keepsExposure); };
    desk.replacePicture = [this](const std::string& asset, const QString& path) { m_pictures->replace(asset, path); };
    desk.handsChanged = [this] { m_picture->update(); };
    desk.artworkPage = [this](const QString& piece, int page) { m_artwork->readPage(piece, page); };
    return desk;
}

void MainWindow::connectParts()
{
    connect(this, &MainWindow::frameReady, this, &MainWindow::take, Qt::QueuedConnection);
    connect(this, &MainWindow::finalReady, m_finals, &Finals::take, Qt::QueuedConnection);
    connect(m_picture, &PictureView::wanted, this, &MainWindow::restart);
    constexpr int kRestsMs = 300;
    m_rests.setSingleShot(true);
    m_rests.setInterval(kRestsMs);
    connect(&m_rests, &QTimer::timeout, this, &MainWindow::renderAround);
    connect(m_picture, &PictureView::menuWanted, this, &MainWindow::showPictureMenu);
    for (Section* section : m_ticket->sections()) {
        section->head()->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(section->head(), &QWidget::customContextMenuRequested, this,
                [this, section](const QPoint& at) { showSectionMenu(section, section->head()->mapToGlobal(at)); });
    }
    m_ticket->pieces()->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_ticket->pieces(), &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        QMenu menu(this);
        menu.setObjectName("pieces.menu");
        addActions(&menu, {"edit.cut", "edit.copy", "edit.paste", "piece.duplicate", "", "piece.rename", "piece.hide", "piece.lock", "",
                           "piece.front", "piece.back", "", "piece.delete"});
        menu.exec(m_ticket->pieces()->viewport()->mapToGlobal(at));
    });
    connect(m_picture, &PictureView::pointed, m_state, &StateLine::showReadout);
    connect(m_picture, &PictureView::partChosen, m_state->part, &QToolButton::setChecked);
    connect(m_ticket->section("light"), &Section::openChanged, this,
            [this](bool open) { m_picture->showLamps(open && QSettings().value("lamps", true).toBool()); });
    connect(m_state, &StateLine::stopRuleChanged, this, &MainWindow::restart);
    connect(m_state->hold, &QToolButton::toggled, this, [this](bool held) {
        m_queue.hold(held);
        showState();
    });
    connect(m_state->part, &QToolButton::clicked, this, &MainWindow::setPartOnly);
    connect(m_state->actualSize, &QToolButton::toggled, m_picture, &PictureView::setActualSize);
    connect(m_picture, &PictureView::zoomChanged, this, [this] {
        const QSignalBlocker quiet(m_state->actualSize);
        m_state->actualSize->setChecked(m_picture->isActualSize());
    });
    connect(m_state->gathered, &QToolButton::pressed, this, [this] { showGathered(true); });
    connect(m_state->gathered, &QToolButton::released, this, [this] { showGathered(false); });
    connect(m_state->clipped, &QToolButton::toggled, m_picture, &PictureView::showClipped);
    connectDesk();
    connectProofs();
    connectStart();
    connectArtwork();
    connect(m_state->final, &QPushButton::clicked, this, [this] { m_ticket->openSection(9); });
    connect(m_finals, &Finals::say, this, [this](const QString& sentence) { showMessage(sentence); });
    connect(m_finals, &Finals::changed, this, &MainWindow::showFinals);
    connect(m_finals, &Finals::finished, this, &MainWindow::offerSaved);
    connect(m_state, &StateLine::stopFinalWanted, this, [this] {
        for (const Finals::Entry& e : m_finals->entries())
            if (e.status.state == session::FinalStatus::State::Running || e.status.state == session::FinalStatus::State::Waiting)
                m_finals->stop(QString::fromStdString(e.final.folder), false);
    });
    connect(m_files, &WorkFiles::say, this, [this](const QString& sentence) { showMessage(sentence); });
    connect(m_files, &WorkFiles::titleChanged, this, &MainWindow::showTitle);
}

void MainWindow::workChanged(const session::Change& change)
{
    if (change.opened && change.work) {
        m_finals->forgetPath();
        m_proofs->anotherWork();
        m_state->part->setChecked(false);
        m_picture->callOff();
        m_picture->setPart({});
        m_picture->fit();
    }
    if (change.opened)
        m_finals->takeOrigin(!change.work);
    m_ticket->refresh();
    m_sky->refresh();
    m_casting->refresh();
    m_picture->workChanged();
    m_side->update();
    m_proofs->refresh();
    m_undo->setEnabled(m_session.history().canUndo());
    m_redo->setEnabled(m_session.history().canRedo());
    m_undo->setText(m_session.history().canUndo() ? tr("&Undo %1").arg(QString::fromStdString(m_session.history().undoLabel()))
                                                  : tr("&Undo"));
    m_redo->setText(m_session.history().canRedo() ? tr("&Redo %1").arg(QString::fromStdString(m_session.history().redoLabel()))
                                                  : tr("&Redo"));
    if (change.opened)
        showTitle();
    if (change.work)
        showStart();
    if (change.work && !m_kept->isOpen())
        m_lightDesk->showWork(m_session.work(), false, {});
    if (change.work) {
        setWindowModified(m_session.isChanged());
        if (!change.opened)
            showMessage({});
        m_files->keep();  // may say that it cannot
        restart();
    }
}

void MainWindow::showFinals()
{
    for (const Finals::Entry& e : m_finals->entries())
        if (e.status.state == session::FinalStatus::State::Running) {
            m_state->showFinal(e.status.secondsLeft >= 0
                                   ? tr("Final: about %1 to go").arg(QString::fromStdString(session::durationText(e.status.secondsLeft)))
                                   : tr("Final: %1 %").arg(e.status.fraction * 100, 0, 'f', 0),
                               e.status.fraction);
            return;
        }
    const bool waits = std::any_of(m_finals->entries().begin(), m_finals->entries().end(),
                                   [](const Finals::Entry& e) { return e.status.state == session::FinalStatus::State::Waiting; });
    m_state->showFinal(waits ? tr("Final: begins in a moment") : QString());
}

// A picture is on disk: what comes next is one click away.
void MainWindow::offerSaved(const QString& folder, const QString& sentence)
{
    const auto entry = std::find_if(m_finals->entries().begin(), m_finals->entries().end(),
                                    [&](const Finals::Entry& e) { return QString::fromStdString(e.final.folder) == folder; });
    if (entry == m_finals->entries().end())
        return;
    const QString path = QString::fromStdString(entry->final.settings.out);
    std::vector<Offer> offers;
    if (Finals::canGoFurther(*entry) && !Finals::isClean(entry->status))
        offers.push_back({"goOn", tr("Go on"), [this, folder] {
                              showMessage({});
                              m_finals->goFurther(folder);
                          }});
    offers.push_back({"open", tr("Open"), [path] { QDesktopServices::openUrl(QUrl::fromLocalFile(path)); }});
    offers.push_back({"folder", tr("Show in folder"), [path] { QDesktopServices::openUrl(QUrl::fromLocalFile(QFileInfo(path).path())); }});
    showMessage(sentence, offers);
}

// --- artwork ------------------------------------------------------------------------------------------------------------------

void MainWindow::connectArtwork()
{
    connect(m_artwork, &ArtworkFiles::say, this, [this](const QString& sentence) { showMessage(sentence); });
    connect(m_swatches, &SwatchFiles::say, this, [this](const QString& sentence) { showMessage(sentence); });
    connect(m_pictures, &PictureFiles::say, this, [this](const QString& sentence) { showMessage(sentence); });
    connect(m_artwork, &ArtworkFiles::added, this, [this](const QString& piece) {
        session::Choice choice;
        choice.set({piece.toStdString(), {}});
        m_session.choose(choice);
    });
    const auto offerUpdate = [this](const QString& path, std::function<void()> update) {
        showMessage(tr("%1 has changed on disk").arg(QFileInfo(path).fileName()), {{"update", tr("Update"), std::move(update)}});
    };
    connect(m_artwork, &ArtworkFiles::changedOnDisk, this, [this, offerUpdate](const QString& piece, const QString& path) {
        offerUpdate(path, [this, piece, path] { m_artwork->replace(piece, path); });
    });
    connect(m_pictures, &PictureFiles::changedOnDisk, this, [this, offerUpdate](const QString& asset, const QString& path) {
        offerUpdate(path, [this, asset, path] { m_pictures->replace(asset.toStdString(), path); });
    });
    connect(m_files, &WorkFiles::titleChanged, m_artwork, &ArtworkFiles::watch);  // another work
    connect(m_files, &WorkFiles::artworkWanted, m_artwork, &ArtworkFiles::add);
    connect(m_start, &StartPage::artworkWanted, this, &MainWindow::addArtworkByDialog);
}

void MainWindow::addArtworkByDialog()
{
    const QString path = QFileDialog::getOpenFileName(this, tr("Add artwork"), {}, ArtworkFiles::nameFilter());
    if (!path.isEmpty())
        m_artwork->add(path);
}

// --- an empty work ------------------------------------------------------------------------------------------------------------

void MainWindow::connectStart()
{
    connect(m_start, &StartPage::typed, m_ticket, &Ticket::beginLettering);
    connect(m_start, &StartPage::openWanted, m_files, &WorkFiles::openByDialog);
    connect(m_start, &StartPage::demoWanted, m_files, [this] { m_files->openDemo(); });
    connect(m_start, &StartPage::workWanted, m_files, &WorkFiles::open);
    connect(m_start, &StartPage::sheetWanted, this,
            [this](int preset) { m_files->newWork(sheetPresets()[static_cast<std::size_t>(preset)].sheet); });
    connect(m_start, &StartPage::startWanted, this, [this](int start) {
        m_files->newFrom(work::kStartList[start].make(m_session.work().sheet()));
        m_ticket->typeOver(m_session.work().pieces.order.front());
    });
}

void MainWindow::showStart()
{
    const bool empty = m_session.work().pieces.order.empty() && !m_session.history().canUndo();
    if (empty) {
        m_start->showSheet(m_session.work());
        m_start->showRecent(m_files->recent());
    }
    m_start->setVisible(empty);
}

// Another window of its own, with an empty sheet like this one's.
void MainWindow::openWindow()
{
    auto* window = new MainWindow;
    window->setAttribute(Qt::WA_DeleteOnClose);
    window->resize(size());
    window->show();
    window->files()->newWork(m_session.work().sheet());
}

// --- the window itself --------------------------------------------------------------------------------------------------------

void MainWindow::showTitle()
{
    setWindowTitle(m_files->title() + "[*] - " + tr("Open Glow"));
    setWindowModified(m_session.isChanged());
}

void MainWindow::standardView(session::StandardView which)
{
    if (m_session.work().viewLocked) {
        showMessage(tr("The view is locked; unlock it in the View section"));
        return;
    }
    m_session.edit(tr("View").toStdString(), [&](work::Work& w) { w.view() = session::standardView(w.view(), which); });
}

void MainWindow::showEvent(QShowEvent* event)
{
    QMainWindow::showEvent(event);
    // A size remembered from a larger screen fits this one.
    if (screen() && !isMaximized() && !isFullScreen()) {
        const QRect free = screen()->availableGeometry();
        if (width() > free.width() || height() > free.height()) {
            resize(size().boundedTo(free.size()));
            move(free.topLeft());
        }
    }
    if (!focusWidget())
        m_picture->setFocus();
    restart();
}

// The compare key acts while it is held.
bool MainWindow::eventFilter(QObject* object, QEvent* event)
{
    if (event->type() == QEvent::KeyPress || event->type() == QEvent::KeyRelease)
        if (const auto* key = static_cast<QKeyEvent*>(event);
            (key->key() == kCompareKey || key->key() == kWithoutLayersKey || key->key() == kProofKey) && isActiveWindow()) {
            const bool pressed = event->type() == QEvent::KeyPress;
            if (!key->isAutoRepeat() && key->key() == kCompareKey)
                showGathered(pressed);
            else if (key->key() == kProofKey) {
                if (!key->isAutoRepeat() && !m_proofs->peek(pressed) && pressed)
                    showMessage(tr("No proof is kept yet: View, Keep a proof"));
            } else if (!key->isAutoRepeat() && m_withoutLayers != pressed) {
                m_withoutLayers = pressed;
                restart();
            }
            return true;
        }
    return QMainWindow::eventFilter(object, event);
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    if (!m_files->mayLeave()) {
        event->ignore();
        return;
    }
    QSettings().setValue("geometry", saveGeometry());
    event->accept();
}

}  // namespace app
