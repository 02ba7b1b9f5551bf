// The window: the ticket beside the picture, the drawer and the state line under it.
#pragma once

#include <QMainWindow>
#include <QSplitter>
#include <QTimer>

#include "app/picture/picture_view.h"
#include "app/ticket/ticket.h"
#include "app/window/finals.h"
#include "app/window/work_files.h"
#include "session/arrange.h"
#include "session/gestures.h"
#include "session/render_queue.h"

namespace app {

class ArtworkFiles;
class PictureFiles;
class SwatchFiles;
class KeptPicture;
class ProofSheet;
class Desktop;
class LightDeskView;
class ProfileView;
class SkyCharts;
class CastingTable;
class SampleBook;
class SideView;
class StartPage;
class StateLine;

class MainWindow : public QMainWindow {
    Q_OBJECT

public:
    // An empty work; WorkFiles::start() or open() puts another in.
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    session::Session& session() { return m_session; }
    session::RenderQueue& queue() { return m_queue; }
    PictureView* picture() const { return m_picture; }
    Ticket* ticket() const { return m_ticket; }
    WorkFiles* files() const { return m_files; }
    Finals* finals() const { return m_finals; }
    ArtworkFiles* artwork() const { return m_artwork; }
    SwatchFiles* swatches() const { return m_swatches; }
    PictureFiles* pictures() const { return m_pictures; }
    Desktop* desktop() const { return m_desktop; }
    KeptPicture* kept() const { return m_kept; }
    // Instead of what the state line says; for tests.
    void setLiveStop(const render::StopRule& stop);
    // The picture shows the work as it is now, and sharpens no further.
    bool isSettled() const;

Q_SIGNALS:
    void settled();
    void drawerChanged();
    void bookChanged(bool open);
    // From the worker, queued to this thread.
    void frameReady(const session::LiveFrame& frame);
    void finalReady(const session::FinalStatus& status);

protected:
    void showEvent(QShowEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    bool eventFilter(QObject* object, QEvent* event) override;

private:
    Context makeContext();
    enum class Drawer { Nothing, Side, Lights, Profile, Sky, Casting };
    void makeMenus();
    void makeFileMenu(QMenu* file);
    void makeEditMenu(QMenu* edit);
    void makePieceMenu(QMenu* piece);
    void addShape(work::ShapeKind kind);
    void addPlates(bool plate, bool rim);
    void makeArrangeMenu(QMenu* menu);
    std::optional<double> askLength(const QString& title, const QString& label, double nowPt);
    void makeViewMenu(QMenu* view);
    void addKeys();
    void connectParts();
    void connectDesk();
    void showInDrawer(Drawer what);
    void showBook(bool open);
    void dropSample(const QString& sample, QPointF place);
    void connectProofs();
    QImage currentPicture() const;  // of the work as it is, whole and out of the coarse; else null
    void showGathered(bool shown);  // without noise reduction, for comparing
    void restart();
    void renderAround();
    void take(const session::LiveFrame& frame);
    void workChanged(const session::Change& change);
    void showState();
    void showFinals();
    void offerSaved(const QString& folder, const QString& sentence);
    void showMessage(const QString& sentence, const std::vector<Offer>& offers = {});
    void leave(QWidget* part);  // which goes: the picture has the keys then
    void showTitle();
    void connectStart();
    void showStart();
    void openWindow();
    void setAppearance(const QString& appearance);
    void applyLook();
    void makeParts(const Context& desk);
    void placeParts();
    void setTicketWidth();
    QSize usualSize() const;
    void takeDropped(const QString& path);
    void takeDroppedPicture(const QString& path, QPointF place);
    void connectArtwork();
    void addArtworkByDialog();
    // --- clipboard
    void copyPieces(bool cut);
    void copyPicture();
    void copyLight(const std::string& id);
    void paste();
    void pasteAspect(bool (*use)(work::Work&, const session::Choice&, const work::Work&), const QString& label);
    std::optional<work::Work> clip() const;
    // --- what a right click offers
    void showPictureMenu(QPointF place, const QPoint& global);
    void addUnderPointer(QMenu* menu, QPointF place);
    void addSameColour(QMenu* menu);
    void addLampMenu(QMenu* menu, const std::string& id);
    void addActions(QMenu* menu, const std::vector<const char*>& ids);
    void showSectionMenu(Section* section, const QPoint& global);
    void setPartOnly(bool on);
    void standardView(session::StandardView which);
    std::optional<picture::Raster<std::uint8_t>> preview() const;

    session::Session m_session;
    Ticket* m_ticket = nullptr;
    PictureView* m_picture = nullptr;
    SideView* m_side = nullptr;
    LightDeskView* m_lightDesk = nullptr;
    ProfileView* m_profile = nullptr;
    SkyCharts* m_sky = nullptr;
    CastingTable* m_casting = nullptr;
    SampleBook* m_book = nullptr;
    KeptPicture* m_kept = nullptr;
    ProofSheet* m_proofs = nullptr;
    bool m_gathered = false, m_withoutLayers = false, m_reducesNoise = true;
    StateLine* m_state = nullptr;
    QWidget* m_drawer = nullptr;
    StartPage* m_start = nullptr;
    QSplitter* m_columns = nullptr;
    Desktop* m_desktop = nullptr;
    QWidget* m_message = nullptr;
    QLabel* m_messageText = nullptr;
    QHBoxLayout* m_offers = nullptr;
    WorkFiles* m_files = nullptr;
    Finals* m_finals = nullptr;
    ArtworkFiles* m_artwork = nullptr;
    SwatchFiles* m_swatches = nullptr;
    PictureFiles* m_pictures = nullptr;
    QAction *m_undo = nullptr, *m_redo = nullptr;
    std::optional<render::StopRule> m_liveStop;
    work::Cache m_arranged;  // of bodies made for arranging
    session::AlignTo m_alignTo = session::AlignTo::EachOther;
    session::AlignBy m_alignBy = session::AlignBy::Outline;
    double m_depthStepPt = 20;
    session::LiveFrame m_last;
    std::uint64_t m_job = 0, m_pictured = 0;
    bool m_settled = false;
    session::LiveRequest m_asked;                       // what m_job is of
    std::optional<session::LiveRequest> m_askedAround;  // a larger part round it, when all is clean
    std::uint64_t m_aroundJob = 0;
    QTimer m_rests;                // runs out when nothing has moved for a while
    session::RenderQueue m_queue;  // last: its worker ends before the rest
};

}  // namespace app
