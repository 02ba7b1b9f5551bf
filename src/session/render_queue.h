// One queue for all rendering: the live picture of the work as it stands, and final renders that go on beside it.
//
// One worker. A new live work comes first: its draft is there after a tenth of a second and is never skipped, so that the picture
// follows a drag however fast the drag is. Then it sharpens. While a final render runs, the live picture sharpens to a few samples
// and leaves the machine to the final; an edit interrupts the final, whose film keeps what it has.
// A new work that differs in desk and finish alone (brightness and colour of lights, exposure, names) keeps the film: its first
// picture is as clean as the last one was.
#pragma once

#include <atomic>
#include <condition_variable>
#include <cstdint>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

#include "picture/raster.h"
#include "render/draft.h"
#include "session/body_lines.h"
#include "session/body_maker.h"
#include "session/finals.h"
#include "work/light_desk.h"
#include "work/make_still.h"

namespace session {

// Where things are in a picture that is shown; for overlays and hands.
struct ShownWork {
    work::Work work;
    work::WorkBodies bodies;
    render::Camera camera;
    std::vector<BodyLines> lines;  // when they were asked for
};

struct LiveRequest {
    work::Work work;
    int widthPx = 0, heightPx = 0;         // of the whole picture
    std::optional<film::Film::Rect> part;  // only this is rendered
    render::StopRule stop{256, 0, 1.5};
    std::uint32_t seed = 0;
    denoise::Mode denoise = denoise::Mode::Full;
    std::optional<work::LightDesk> desk;  // seen instead of the work's own brightness and colours
    bool asGathered = false;              // shown without noise reduction, for comparing; nothing else changes
    bool marksClipped = false;            // frames say which pixels are too bright to be shown
    bool drawsLines = false;              // frames have the lines of all bodies
    bool quiet = false;                   // no frame comes before it is finished, and none if it fails: what is there meanwhile stays

    bool operator==(const LiveRequest&) const = default;
};

// What the worker has to show. Either a picture (8-bit sRGB, three channels) or an error.
struct LiveFrame {
    std::uint64_t job = 0;          // as live() returned it; older ones are stale
    int widthPx = 0, heightPx = 0;  // of the whole picture; a draft may be smaller than what was asked for
    film::Film::Rect place{};       // of this picture in it
    std::shared_ptr<const picture::Raster<std::uint8_t>> picture;
    std::shared_ptr<const picture::Raster<film::PixelId>> ids;
    std::shared_ptr<const picture::Raster<std::uint8_t>> clipped;  // see finish::clipped(); not of a draft
    std::shared_ptr<const ShownWork> shownWork;
    render::RoundStatus status;
    base::Notes notes;
    bool draft = false;     // coarse light; or, where there are samples, fewer pixels while the finish changes
    bool finished = false;  // the stop rule is met
    bool waits = false;     // sharpens no further while a final render runs
    bool behind = false;    // new bodies are still being made; these are the last ones
    std::optional<base::Error> error;
};

struct FinalStatus {
    enum class State { Waiting, Running, Stopped, Finished, Failed };
    std::string folder;
    State state = State::Waiting;
    double fraction = 0, samples = 0, noise = -1, secondsLeft = -1;
    std::string saved;  // where the picture went
    std::optional<base::Error> error;
};

class RenderQueue {
public:
    // Both are called on the worker's thread.
    RenderQueue(FinalStore store, std::function<void(LiveFrame)> onLive, std::function<void(FinalStatus)> onFinal);
    ~RenderQueue();
    RenderQueue(const RenderQueue&) = delete;
    RenderQueue& operator=(const RenderQueue&) = delete;

    // Starts on this work. Returns at once; frames of earlier jobs that still come carry their older numbers.
    std::uint64_t live(LiveRequest request);
    // While held, a new work gets its draft and no more.
    void hold(bool held);

    // Takes a final into the queue, or back into it.
    void startFinal(const Final& final);
    // Stops it. `save` writes the picture as far as it is.
    void stopFinal(const std::string& folder, bool save);

    const FinalStore& store() const { return m_store; }

    // For tests: every shownWork waits so long before it begins.
    void setSlowStage(std::chrono::milliseconds wait) { m_slow = wait; }
    void setSlowBodies(std::chrono::milliseconds wait) { m_maker.setSlow(wait); }
    // For tests: bytes that a final may use; 0: what the machine can give.
    void setMemory(std::uint64_t bytes) { m_memory = bytes; }
    void setLiveMemory(std::uint64_t bytes) { m_liveMemory = bytes; }  // the same for the live picture

private:
    struct Live;     // the live picture being made
    struct Running;  // a final in the queue
    void run(std::stop_token stop);
    void within(Live& live, const std::function<void()>& step);
    void failLive(Live& live, const base::Error& error);
    bool makeBodies(Live& live);
    static void keepShown(Live& live, work::WorkBodies bodies, const render::Camera& camera);
    void draft(Live& live);
    double draftScale(const film::FilmShape& shape) const;
    void mixAnew(Live& live, const LiveRequest& before);
    void sharpen(Live& live, bool besideFinal);
    void showFilm(Live& live, const render::RoundStatus& status, bool finished, bool waits, bool quickly = false);
    bool showSmall(Live& live, const render::RoundStatus& status);
    std::stop_token interruption();  // asked for by whatever comes to the queue
    bool isOutdated();               // something newer is wanted
    work::StillSettings settingsFor(const Final& final) const;
    void expose(Running& running);
    bool saveStopped(Running& running);  // false: interrupted, again later
    void send(Live& live, LiveFrame frame);
    void send(Live& live, LiveFrame frame, const film::FilmShape& shape);
    void tell(const Running& running, FinalStatus::State state, std::optional<base::Error> error = {});

    FinalStore m_store;
    std::function<void(LiveFrame)> m_onLive;
    std::function<void(FinalStatus)> m_onFinal;
    work::Cache m_cache;
    std::chrono::milliseconds m_slow{0};
    std::atomic<std::uint64_t> m_memory{0}, m_liveMemory{0};
    std::shared_ptr<const render::BodyTree> m_tree;  // kept while bodies stay
    render::Draft m_draft;
    double m_draftMs = 0;                  // a pixel, of the last first picture
    std::optional<LiveRequest> m_drafted;  // what it is of
    double m_finishMs = 0;                 // a pixel, of the last picture of a film

    std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::optional<LiveRequest> m_next;
    std::unique_ptr<Live> m_live;   // the worker's alone
    std::unique_ptr<Live> m_shown;  // what is seen while m_live is quiet; the same
    std::vector<std::unique_ptr<Running>> m_finals;
    std::stop_source m_current;  // stops what the worker does now
    std::uint64_t m_lastNumber = 0;
    bool m_held = false;
    bool m_exposesFinal = false;
    BodyMaker m_maker;
    std::jthread m_worker;  // last: it ends before what it uses
};

}  // namespace session
