#include "session/render_queue.h"

#include <fmt/format.h>
#include <sys/resource.h>
#include <sys/syscall.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>

#include "base/file_lock.h"
#include "base/memory.h"
#include "files/render_still.h"
#include "files/work_json.h"
#include "render/draft.h"

namespace session {

namespace {

constexpr int kDraftPasses = 3;                      // before the film takes over
constexpr std::uint32_t kBesideFinal = 8;            // samples of the live picture while a final runs
constexpr std::uint64_t kDraftBytes = 160;           // a pixel, of draft and first hits
constexpr std::chrono::milliseconds kPatience{150};  // for bodies; then the last ones are shown
constexpr double kDraftMs = 70;                      // the first picture of a change may take so long
constexpr double kSmallestDraft = 1.0 / 3;           // of its size, each way, to keep to that
constexpr double kFinishMs = 30;                     // a change of the finish may take so long to be seen
constexpr int kLargestStep = 4;                      // px of the picture for one of its first picture, each way, to keep to that
// Samples of the film that look better than a draft; and better than one that had light to take along.
constexpr double kFirstShown = 2, kFirstShownAfter = 4;

std::shared_ptr<const picture::Raster<std::uint8_t>> shared8Bits(const picture::Raster<float>& encoded)
{
    return std::make_shared<const picture::Raster<std::uint8_t>>(finish::to8Bits(encoded));
}

double msSince(std::chrono::steady_clock::time_point began)
{
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - began).count();
}

finish::DevelopSettings developOf(const LiveRequest& request, const film::Entries& entries)
{
    finish::DevelopSettings settings = work::developSettingsOf(request.work, false);
    if (request.desk)
        settings.desk = request.desk->factorsFor(entries);
    return settings;
}

// A draft's light, which is mixed and exposed already, for the layers of the finish.
class MixedDraft {
public:
    MixedDraft(const film::FilmShape& size, const finish::DevelopSettings& develop) : m_settings(develop)
    {
        // What is behind asks for the desk as it was; all other light is in an entry behind those.
        m_settings.desk = finish::viewingOf(develop).desk;
        m_settings.desk.push_back({1, 1, 1});
        m_settings.exposureStops = 0;
        film::FilmShape shape = size;
        shape.entries.assign(m_settings.desk.size(), {});  // without names: whose light it is nobody knows any more
        m_shares = film::LightShares(shape);
    }
    void put(base::Rgb light, float alpha, double u, double v)
    {
        const film::FilmShape& s = m_shares.shape;
        float* to = m_shares.at(static_cast<int>(u * s.width) - s.regionX, static_cast<int>(v * s.height) - s.regionY);
        float* last = to + m_shares.stride() - 3;
        *to = alpha;
        last[0] = light.x;
        last[1] = light.y;
        last[2] = light.z;
    }
    picture::Raster<float> developed(const picture::Raster<film::PixelId>& ids, const picture::Raster<float>& depths)
    {
        if (m_settings.needsIds()) {
            m_shares.ids.resize(ids.values.size());
            for (std::size_t i = 0; i < ids.values.size(); ++i) {
                m_shares.ids[i].ids[0] = ids.values[i];
                m_shares.ids[i].shares[0] = 1;
                m_shares.ids[i].depth = depths.values[i];
            }
        }
        return finish::develop(m_shares, m_settings);
    }

private:
    finish::DevelopSettings m_settings;
    film::LightShares m_shares;
};

// Nothing that light depends on has changed.
bool differsInViewAlone(const LiveRequest& last, const LiveRequest& next)
{
    if (last.desk != next.desk)
        return false;
    work::Work same = last.work;
    same.view() = next.work.view();
    return same == next.work;
}

film::FilmShape scaled(film::FilmShape shape, double by)
{
    if (by == 1)
        return shape;
    const auto down = [&](int px) { return static_cast<int>(std::floor(px * by)); };
    const auto up = [&](int px) { return std::max(1, static_cast<int>(std::ceil(px * by))); };
    const int right = up(shape.regionX + shape.regionWidth), bottom = up(shape.regionY + shape.regionHeight);
    shape.width = up(shape.width);
    shape.height = up(shape.height);
    shape.regionX = down(shape.regionX);
    shape.regionY = down(shape.regionY);
    shape.regionWidth = std::min(right, shape.width) - shape.regionX;
    shape.regionHeight = std::min(bottom, shape.height) - shape.regionY;
    return shape;
}

std::string finalKey(const Final& f)
{
    return files::filmKey(f.work, f.settings.seed);
}

}  // namespace

struct RenderQueue::Live {
    std::uint64_t number = 0;
    LiveRequest request;
    std::shared_ptr<ShownWork> shownWork;
    std::uint64_t bodies = 0;  // number of those that are wanted; 0: not asked for yet
    std::uint64_t shown = 0;   // and of those that are shown
    work::Prepared prepared;
    std::unique_ptr<film::Film> film;
    film::LightShares shares;         // of the film as it was last shown
    finish::Redeveloper redeveloper;  // of those
    std::shared_ptr<const picture::Raster<film::PixelId>> ids;
    // The same in fewer pixels, while the finish changes faster than it can be made.
    struct Small {
        int step = 0;  // px of the film for one of these, each way; 0: not made
        film::LightShares shares;
        finish::Redeveloper redeveloper;
        std::shared_ptr<const picture::Raster<film::PixelId>> ids;
    } small;
    bool ready = false;      // the draft was made
    bool tookLight = false;  // of the draft before, from another place
    bool finished = false;
    double samples = 0;
    render::RoundStatus status;  // as it was last shown

    void take(film::LightShares light)
    {
        shares = std::move(light);
        redeveloper.forget();
        small = {};
    }

    bool behind() const { return shown < bodies; }

    // Only desk and finish differ: what was exposed is developed in another way.
    bool keepsFilmFor(const LiveRequest& next) const
    {
        return ready && !behind() && !shares.values.empty() && request.widthPx == next.widthPx && request.heightPx == next.heightPx &&
               request.part == next.part && request.seed == next.seed && work::reworkBetween(request.work, next.work) <= work::Rework::Mix;
    }
};

struct RenderQueue::Running {
    Final final;
    render::RoundStatus status;
    double fraction = 0;
    bool stop = false, save = false;
    std::string saved;
};

RenderQueue::RenderQueue(FinalStore store, std::function<void(LiveFrame)> onLive, std::function<void(FinalStatus)> onFinal)
    : m_store(std::move(store)), m_onLive(std::move(onLive)), m_onFinal(std::move(onFinal)), m_maker(m_cache, [this] {
          const std::lock_guard lock(m_mutex);
          if (m_exposesFinal)  // new bodies come first
              m_current.request_stop();
          m_wake.notify_all();
      })
{
    m_worker = std::jthread([this](std::stop_token stop) { run(std::move(stop)); });
}

RenderQueue::~RenderQueue()
{
    m_worker.request_stop();
    {
        const std::lock_guard lock(m_mutex);
        m_current.request_stop();
    }
    m_worker.join();
}

std::uint64_t RenderQueue::live(LiveRequest request)
{
    const std::lock_guard lock(m_mutex);
    m_current.request_stop();
    m_next = std::move(request);
    m_wake.notify_all();
    return ++m_lastNumber;
}

void RenderQueue::hold(bool held)
{
    const std::lock_guard lock(m_mutex);
    m_held = held;
    m_current.request_stop();
    m_wake.notify_all();
}

void RenderQueue::startFinal(const Final& final)
{
    const std::lock_guard lock(m_mutex);
    const bool there = std::any_of(m_finals.begin(), m_finals.end(), [&](const auto& f) { return f->final.folder == final.folder; });
    if (there)
        return;
    m_finals.push_back(std::make_unique<Running>(Running{final, {}, 0, false, false, {}}));
    m_current.request_stop();
    m_wake.notify_all();
}

void RenderQueue::stopFinal(const std::string& folder, bool save)
{
    const std::lock_guard lock(m_mutex);
    for (auto& f : m_finals)
        if (f->final.folder == folder) {
            f->stop = true;
            f->save = save;
            m_current.request_stop();
        }
    m_wake.notify_all();
}

void RenderQueue::run(std::stop_token stop)
{
    setpriority(PRIO_PROCESS, static_cast<id_t>(syscall(SYS_gettid)), 5);  // the window comes first
    while (!stop.stop_requested()) {
        std::unique_lock lock(m_mutex);
        const auto liveCanGoOn = [&] {
            return m_live && m_live->ready && !m_live->behind() && !m_live->finished && !m_held &&
                   (m_finals.empty() || m_live->samples < kBesideFinal);
        };
        const auto bodiesCame = [&] { return m_live && m_live->behind() && m_maker.newestNumber() > m_live->shown; };
        if (!m_wake.wait(lock, stop, [&] { return m_next.has_value() || !m_finals.empty() || bodiesCame() || liveCanGoOn(); }))
            return;
        m_current = {};
        if (m_next) {
            if (m_shown && !m_next->quiet && m_shown->keepsFilmFor(*m_next))
                m_live = std::move(m_shown);
            const bool keepsFilm = m_live && m_live->keepsFilmFor(*m_next);
            const LiveRequest before = m_live ? m_live->request : LiveRequest{};
            if (!keepsFilm) {
                if (m_next->quiet && !(m_live && m_live->request.quiet))
                    m_shown = std::move(m_live);
                m_live = std::make_unique<Live>();
            }
            if (!m_next->quiet)
                m_shown.reset();
            m_live->request = std::move(*m_next);
            m_live->number = m_lastNumber;
            m_next.reset();
            lock.unlock();
            within(*m_live, [&] { keepsFilm ? mixAnew(*m_live, before) : draft(*m_live); });
            continue;
        }
        if (bodiesCame()) {
            lock.unlock();
            within(*m_live, [&] { draft(*m_live); });
            continue;
        }
        if (liveCanGoOn()) {
            const bool besideFinal = !m_finals.empty();
            lock.unlock();
            within(*m_live, [&] { sharpen(*m_live, besideFinal); });
            if (m_live->finished && m_live->film) {
                m_shown.reset();
                m_live->request.quiet = false;  // it is what is seen now
            }
            continue;
        }
        Running& first = *m_finals.front();
        if (first.stop) {
            std::unique_ptr<Running> stopped = std::move(m_finals.front());
            m_finals.erase(m_finals.begin());
            lock.unlock();
            if (!saveStopped(*stopped)) {
                lock.lock();
                m_finals.insert(m_finals.begin(), std::move(stopped));  // the live picture came first
            }
            continue;
        }
        m_exposesFinal = true;
        lock.unlock();
        expose(first);
        lock.lock();
        m_exposesFinal = false;
    }
}

void RenderQueue::send(Live& live, LiveFrame frame)
{
    send(live, std::move(frame), live.prepared.shape);
}

void RenderQueue::send(Live& live, LiveFrame frame, const film::FilmShape& shape)
{
    if (live.request.quiet && (!frame.finished || frame.error))
        return;
    frame.job = live.number;
    frame.widthPx = shape.width;
    frame.heightPx = shape.height;
    frame.place = {shape.regionX, shape.regionY, shape.regionX + shape.regionWidth, shape.regionY + shape.regionHeight};
    if (!frame.ids)
        frame.ids = live.ids;
    frame.shownWork = live.shownWork;
    frame.behind = live.behind();
    if (live.shownWork)
        frame.notes = live.shownWork->bodies.notes;
    m_onLive(std::move(frame));
}

// Runs a step of the live picture; when memory runs out the frame says so and the picture stays as it is.
void RenderQueue::within(Live& live, const std::function<void()>& step)
{
    const auto done = base::withinMemory([&]() -> base::Result<void> {
        step();
        return {};
    });
    if (!done)
        failLive(live, done.error());
}

void RenderQueue::failLive(Live& live, const base::Error& error)
{
    LiveFrame frame;
    frame.finished = live.finished = true;
    frame.error = error;
    send(live, std::move(frame));
}

namespace {

// What of bodies that were made before is still in the work.
work::WorkBodies stillIn(work::WorkBodies bodies, const work::Work& work)
{
    const auto isGone = [&](const std::string& piece, const std::vector<std::string>& letters) {
        const auto at = work.pieces.items.find(piece);
        if (at == work.pieces.items.end() || at->second.hidden || isFlat(work, piece))
            return true;
        return std::any_of(letters.begin(), letters.end(), [&](const std::string& letter) { return !at->second.hasLetter(letter); });
    };
    std::erase_if(bodies.bodies, [&](const work::WorkBody& b) { return isGone(b.piece, b.letters); });
    std::erase_if(bodies.places, [&](const work::PiecePlace& p) { return isGone(p.id, {}); });
    return bodies;
}

}  // namespace

// The bodies of the request, or the last ones as long as it takes. False when there is nothing to show: an error, or something newer.
bool RenderQueue::makeBodies(Live& live)
{
    const LiveRequest& r = live.request;
    if (live.bodies == 0)
        live.bodies = m_maker.want(r.work, work::toleranceFor(r.work.sheet(), r.widthPx));
    const std::stop_token interrupted = interruption();
    auto made = m_maker.newest(live.bodies, kPatience);
    while (!made && !interrupted.stop_requested())
        made = m_maker.newest(live.bodies, kPatience);
    if (!made)
        return false;
    live.shown = made->number;
    if (!made->bodies && !live.behind()) {
        failLive(live, made->bodies.error());
        return false;
    }
    work::StillSettings settings;
    settings.widthPx = r.widthPx;
    settings.heightPx = r.heightPx;
    settings.hasRegion = r.part.has_value();
    settings.region = r.part.value_or(film::Film::Rect{});
    work::WorkBodies bodies = made->bodies ? std::move(*made->bodies) : work::WorkBodies();
    auto prepared = work::prepareWith(r.work, live.behind() ? stillIn(std::move(bodies), r.work) : std::move(bodies), settings);
    if (!prepared) {
        failLive(live, prepared.error());
        return false;
    }
    live.prepared = std::move(*prepared);
    live.prepared.develop = developOf(r, live.prepared.scene.entries);
    return true;
}

void RenderQueue::keepShown(Live& live, work::WorkBodies bodies, const render::Camera& camera)
{
    live.shownWork = std::make_shared<ShownWork>(ShownWork{live.request.work, std::move(bodies), camera, {}});
    if (live.request.drawsLines)
        live.shownWork->lines = linesOf(live.shownWork->bodies, camera);
}

// Of the size, each way, that the first picture can have in its time.
double RenderQueue::draftScale(const film::FilmShape& shape) const
{
    const double whole = m_draftMs * shape.regionWidth * shape.regionHeight;
    const double scale = whole > kDraftMs ? std::max(kSmallestDraft, std::sqrt(kDraftMs / whole)) : 1;
    return scale > 0.95 ? 1 : scale;
}

void RenderQueue::draft(Live& live)
{
    std::this_thread::sleep_for(m_slow);
    live.ready = false;
    if (!makeBodies(live))
        return;
    const LiveRequest& r = live.request;
    // The live picture has its limit as finals have; it is as large as the window.
    const film::FilmShape& shape = live.prepared.shape;
    const std::uint64_t needed = work::bytesNeeded(shape, live.prepared.bodies) + kDraftBytes *
                                                                                      static_cast<std::uint64_t>(shape.regionWidth) *
                                                                                      static_cast<std::uint64_t>(shape.regionHeight);
    if (const std::uint64_t there = m_liveMemory > 0 ? m_liveMemory.load() : work::bytesAvailable(); needed > there)
        return failLive(live,
                        {base::ErrorCode::TooLarge,
                         fmt::format("The picture needs {:.1f} GB of memory at this size, and {:.1f} GB are free; make the window smaller "
                                     "or close other programs",
                                     static_cast<double>(needed) / 1e9, static_cast<double>(there) / 1e9),
                         {}});
    keepShown(live, live.prepared.bodies, live.prepared.scene.camera);
    if (!m_tree || !m_tree->isFor(live.prepared.scene.bodies))
        m_tree = std::make_shared<const render::BodyTree>(live.prepared.scene.bodies);

    const render::Tracer tracer(live.prepared.scene, m_tree);
    const bool sameLight = m_drafted && !live.behind() && differsInViewAlone(*m_drafted, r);
    m_drafted = live.behind() ? std::nullopt : std::optional(r);  // light of older bodies is not taken along
    live.tookLight = sameLight;
    const film::FilmShape small = scaled(shape, draftScale(shape));
    const bool startsSmall = !(small == shape);
    const auto begin = [&](const film::FilmShape& size, bool takesLight, const std::stop_token& stop) {
        return m_draft.begin(
            live.prepared.scene, tracer, size, r.seed,
            [&](const base::Rgb* entries) { return finish::mixed(entries, live.prepared.develop); }, takesLight, stop);
    };
    const auto show = [&](const film::FilmShape& size) {
        const finish::DevelopSettings& develop = live.prepared.develop;
        std::optional<MixedDraft> mixed;
        if (!develop.layers.empty())
            mixed.emplace(size, develop);
        render::DraftPicture made = m_draft.picture([&](base::Rgb light, float alpha, double u, double v) {
            if (!mixed)
                return finish::shownAt(light, alpha, u, v, 1.0 / size.width, develop, true);
            mixed->put(light, alpha, u, v);
            return base::Rgb{};
        });
        live.ids = made.ids;
        LiveFrame frame;
        frame.picture = mixed ? shared8Bits(mixed->developed(*made.ids, made.depths))
                              : std::make_shared<const picture::Raster<std::uint8_t>>(std::move(made.encoded));
        frame.draft = true;
        send(live, std::move(frame), size);
    };
    // The first picture is never stopped, and as large as its time allows: the picture follows a drag however fast it is.
    const auto began = std::chrono::steady_clock::now();
    begin(small, sameLight, {});
    m_draft.addPass();
    show(small);
    m_draftMs = msSince(began) / (static_cast<double>(small.regionWidth) * small.regionHeight);
    const std::stop_token interrupted = interruption();
    if (!startsSmall || begin(shape, true, interrupted))
        for (int pass = startsSmall ? 0 : 1; pass < kDraftPasses && m_draft.addPass(interrupted); ++pass)
            show(shape);
    live.ready = true;
}

void RenderQueue::mixAnew(Live& live, const LiveRequest& before)
{
    std::this_thread::sleep_for(m_slow);
    live.prepared.develop = developOf(live.request, live.prepared.shape.entries);
    keepShown(live, live.shownWork->bodies, live.shownWork->camera);
    if (live.request.denoise != before.denoise)
        live.take(std::move(denoise::clean(*live.film, {live.request.denoise, finish::viewingOf(live.prepared.develop).desk}, {})->shares));
    // The stop rule speaks of what is seen, but not of a moment's comparing.
    const bool onlyCompares = live.request.asGathered != before.asGathered && live.request.stop == before.stop &&
                              live.request.desk == before.desk && live.request.denoise == before.denoise &&
                              live.request.work == before.work;
    live.finished = live.finished && onlyCompares;
    showFilm(live, live.finished ? live.status : render::RoundStatus{live.samples, -1, -1}, live.finished, false, true);
}

std::stop_token RenderQueue::interruption()
{
    const std::lock_guard lock(m_mutex);
    return m_current.get_token();
}

bool RenderQueue::isOutdated()
{
    const std::lock_guard lock(m_mutex);
    if (m_next || m_worker.get_stop_token().stop_requested())
        return true;
    m_current = {};  // whoever else wanted the worker waits for this picture
    return false;
}

void RenderQueue::showFilm(Live& live, const render::RoundStatus& status, bool finished, bool waits, bool quickly)
{
    live.samples = status.samples;
    live.status = status;
    film::LightShares gathered;
    if (live.request.asGathered)
        gathered = film::sharesOf(*live.film);
    film::LightShares& shares = live.request.asGathered ? gathered : live.shares;
    const finish::DevelopSettings& develop = live.prepared.develop;
    if (develop.needsIds() && shares.ids.empty())
        film::addIds(shares, *live.film, render::viewpointOf(live.prepared.scene.camera));
    // What was shown already may wait for something newer.
    const bool mayStop = !quickly || showSmall(live, status);
    LiveFrame frame;
    if (live.request.asGathered) {
        frame.picture = shared8Bits(finish::develop(shares, develop));
    } else {
        std::optional<picture::Raster<float>> made;
        do {
            const auto began = std::chrono::steady_clock::now();
            made = live.redeveloper.develop(shares, develop, mayStop ? interruption() : std::stop_token());
            if (made) {
                frame.picture = shared8Bits(*made);
                m_finishMs = msSince(began) / (static_cast<double>(made->width) * made->height);
            }
        } while (!made && !isOutdated());
        if (!made)
            return;
    }
    if (live.request.marksClipped)
        frame.clipped = std::make_shared<const picture::Raster<std::uint8_t>>(finish::clipped(live.shares, develop));
    frame.status = status;
    frame.finished = finished;
    frame.waits = waits;
    send(live, std::move(frame));
}

// While the finish is changed it is seen in as many pixels as keep up with it. False: in all of them.
bool RenderQueue::showSmall(Live& live, const render::RoundStatus& status)
{
    const film::FilmShape& whole = live.shares.shape;
    const finish::DevelopSettings& develop = live.prepared.develop;
    int step = 1;
    while (step < kLargestStep && m_finishMs * whole.regionWidth * whole.regionHeight > kFinishMs * step * step)
        step *= 2;
    if (step == 1 || live.request.asGathered)
        return false;
    Live::Small& small = live.small;
    if (small.step != step || (develop.needsIds() && small.shares.ids.empty())) {
        small.step = step;
        small.shares = film::smaller(live.shares, step);
        small.redeveloper.forget();
        const film::FilmShape& s = small.shares.shape;
        picture::Raster<film::PixelId> ids(s.regionWidth, s.regionHeight, 1);
        for (int y = 0; y < ids.height; ++y)
            for (int x = 0; x < ids.width; ++x)
                *ids.at(x, y) = *live.ids->at(std::min(x * step, live.ids->width - 1), std::min(y * step, live.ids->height - 1));
        small.ids = std::make_shared<const picture::Raster<film::PixelId>>(std::move(ids));
    }
    LiveFrame frame;
    const auto began = std::chrono::steady_clock::now();
    frame.picture = shared8Bits(*small.redeveloper.develop(small.shares, develop));
    m_finishMs = msSince(began) / (static_cast<double>(frame.picture->width) * frame.picture->height);
    if (live.request.marksClipped)
        frame.clipped = std::make_shared<const picture::Raster<std::uint8_t>>(finish::clipped(small.shares, develop));
    frame.status = status;
    frame.draft = true;
    frame.ids = small.ids;
    send(live, std::move(frame), small.shares.shape);
    return true;
}

void RenderQueue::sharpen(Live& live, bool besideFinal)
{
    std::this_thread::sleep_for(m_slow);
    if (!live.film) {
        auto film = film::Film::create(live.prepared.shape);
        if (!film)
            return failLive(live, film.error());
        live.film = std::move(*film);
    }
    work::StillSettings settings;
    settings.stop = live.request.stop;
    if (besideFinal)
        settings.stop.samples = settings.stop.samples > 0 ? std::min(settings.stop.samples, kBesideFinal) : kBesideFinal;
    settings.seed = live.request.seed;
    settings.gentle = true;
    settings.tree = m_tree;
    settings.denoise = live.request.denoise;
    settings.sink.onPicture = [&](const render::RoundStatus& status, const film::LightShares& shares) {
        if (status.samples < (live.tookLight ? kFirstShownAfter : kFirstShown))
            return;
        live.take(shares);
        showFilm(live, status, false, false);
    };
    const std::stop_token interrupted = interruption();
    auto report = work::expose(live.prepared, settings, *live.film, base::Progress(interrupted));
    if (!report || report->reason == render::Stopped::ByRequest)
        return;
    live.take(std::move(report->shares));
    const bool waits = besideFinal && report->reason == render::Stopped::BySamples && report->samples < live.request.stop.samples;
    live.finished = !waits;
    showFilm(live, {report->samples, report->noise, 0}, live.finished, waits);
}

void RenderQueue::tell(const Running& running, FinalStatus::State state, std::optional<base::Error> error)
{
    m_onFinal({running.final.folder, state, running.fraction, running.status.samples, running.status.noise, running.status.secondsLeft,
               running.saved, std::move(error)});
}

work::StillSettings RenderQueue::settingsFor(const Final& f) const
{
    work::StillSettings settings;
    settings.widthPx = f.settings.widthPx;
    settings.heightPx = f.settings.heightPx;
    settings.stop = f.settings.output.stop;
    if (settings.stop.seconds > 0)
        settings.stop.seconds = std::max(0.01, settings.stop.seconds - f.seconds);
    settings.seed = f.settings.seed;
    settings.transparent = f.settings.output.letsThrough();
    settings.filmPath = f.filmPath();
    settings.filmKey = finalKey(f);
    settings.denoise = denoiseOf(f.settings.output);
    settings.memoryBudget = m_memory;
    return settings;
}

void RenderQueue::expose(Running& running)
{
    std::this_thread::sleep_for(m_slow);
    Final& f = running.final;
    work::StillSettings settings = settingsFor(f);
    settings.sink.onRound = [&](const render::RoundStatus& status) {
        running.status = status;
        f.samples = status.samples;
        (void)m_store.update(f);  // only what is shown after a kill; the film itself is the checkpoint
        tell(running, FinalStatus::State::Running);
    };
    const std::stop_token interrupted = interruption();
    auto lastTold = std::chrono::steady_clock::now();
    std::mutex telling;
    const auto report = [&](double fraction) {
        const std::lock_guard lock(telling);
        running.fraction = fraction;
        if (const auto now = std::chrono::steady_clock::now(); now - lastTold > std::chrono::milliseconds(200)) {
            lastTold = now;
            tell(running, FinalStatus::State::Running);
        }
    };
    tell(running, FinalStatus::State::Running);
    const auto began = std::chrono::steady_clock::now();
    const auto made = base::withinMemory([&]() -> base::Result<files::RenderedStill> {
        const auto lock = base::FileLock::take(f.folder);
        if (!lock)
            return tl::unexpected<base::Error>(lock.error());
        const auto options = files::optionsOf(f.work, f.settings.output);
        if (!options)
            return base::failed(options);
        m_store.borrowFilm(f);
        return files::renderStill(f.work, settings, {f.settings.out, f.settings.output.format, false, {}, *options}, m_cache,
                                  base::Progress(interrupted, report));
    });
    if (made && made->report.samples > 0) {
        running.status.samples = made->report.samples;
        running.status.noise = made->report.noise;
    }
    f.seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
    f.samples = running.status.samples;
    if (made ? made->report.reason == render::Stopped::ByRequest : made.error().code == base::ErrorCode::Stopped) {
        (void)m_store.update(f);
        return;  // goes on when the queue comes back to it
    }
    std::optional<base::Error> error;
    if (!made)
        error = made.error();
    running.fraction = 1;
    running.status.secondsLeft = 0;
    if (!error) {
        running.saved = f.settings.out;
        f.finished = true;
        if (auto kept = m_store.update(f); !kept)
            error = kept.error();
        m_store.makeRoom(f.folder);
    }
    std::unique_ptr<Running> done;
    {
        const std::lock_guard lock(m_mutex);
        const auto at = std::find_if(m_finals.begin(), m_finals.end(), [&](const auto& r) { return r.get() == &running; });
        done = std::move(*at);
        m_finals.erase(at);
    }
    tell(*done, error ? FinalStatus::State::Failed : FinalStatus::State::Finished, error);
}

bool RenderQueue::saveStopped(Running& running)
{
    std::optional<base::Error> error;
    Final& f = running.final;
    if (running.save && files::LightFolder::isOne(f.filmPath())) {
        const std::stop_token interrupted = interruption();
        tell(running, FinalStatus::State::Running);
        const auto made = base::withinMemory([&]() -> base::Result<files::RenderedStill> {
            const auto options = files::optionsOf(f.work, f.settings.output);
            if (!options)
                return base::failed(options);
            return files::saveUnfinished(f.work, settingsFor(f), {f.settings.out, f.settings.output.format, false, {}, *options}, m_cache,
                                         base::Progress(interrupted, [&](double fraction) { running.fraction = fraction; }));
        });
        if (!made && made.error().code == base::ErrorCode::Stopped)
            return false;
        if (made)
            running.saved = f.settings.out;
        else
            error = made.error();
    } else if (running.save) {
        // The film as it is.
        const auto still = work::developFilm(f.work, settingsFor(f), {});
        const auto options = files::optionsOf(f.work, f.settings.output);
        if (!still || !options) {
            error = still ? options.error() : still.error();
        } else if (auto saved = files::saveStill({files::sourceOf(std::make_shared<const film::LightShares>(still->shares)),
                                                  still->film.get(), *options, f.work.credits},
                                                 still->develop, files::ppiFor(f.work.sheet(), f.settings.widthPx),
                                                 f.settings.output.format, f.settings.out, {});
                   !saved) {
            error = saved.error();
        } else {
            running.saved = f.settings.out;
            running.status.samples = f.samples = still->report.samples;
        }
    }
    (void)m_store.update(f);
    tell(running, error ? FinalStatus::State::Failed : FinalStatus::State::Stopped, error);
    return true;
}

}  // namespace session
