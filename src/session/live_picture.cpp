// The live picture: bodies, a draft, then the film.
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <thread>

#include "base/memory.h"
#include "render/draft.h"
#include "session/render_jobs.h"

namespace session {

namespace {

constexpr int kDraftPasses = 3;                      // before the film takes over
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

}  // namespace

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

}  // namespace session
