#include "work/make_still.h"

#include <fmt/format.h>

#include <set>

#include "base/memory.h"
#include "work/clashes.h"
#include "work/fit.h"

namespace work {

namespace {

constexpr int kLargestSide = 100000;  // px
const base::Note kUnchecked{
    "older-film", "This film was made by an earlier version: whether it is of this work as it is now could not be checked", {}};

}  // namespace

base::Result<std::unique_ptr<film::Film>> filmFor(const film::FilmShape& shape, const WorkBodies& bodies, const StillSettings& settings)
{
    const std::uint64_t there = settings.memoryBudget > 0 ? settings.memoryBudget : bytesAvailable(), needed = bytesNeeded(shape, bodies);
    // A film in a file is no memory that must be there: the system keeps of it what fits.
    if (needed - (settings.filmPath.empty() ? 0 : film::Film::bytesFor(shape)) > there)
        return base::fail(
            base::ErrorCode::TooLarge,
            fmt::format("A picture of {} x {} px with {} lights needs about {:.1f} GB, {:.1f} GB are free; render it smaller or in regions",
                        shape.regionWidth, shape.regionHeight, shape.entries.size(), static_cast<double>(needed) / 1e9,
                        static_cast<double>(there) / 1e9));
    return settings.filmPath.empty()
               ? film::Film::create(shape)
               : film::Film::openFile(shape, settings.filmPath, {settings.filmKey, settings.seed, settings.firstSample});
}

base::Result<film::FilmShape> filmShapeFor(const render::Scene& scene, const SheetSize& sheet, const StillSettings& settings)
{
    film::FilmShape shape;
    shape.width = settings.widthPx > 0 ? settings.widthPx : sheet.widthPx();
    shape.height = settings.heightPx > 0 ? settings.heightPx : sheet.heightPx();
    shape.entries = scene.entries;
    shape.reach = static_cast<float>(scene.camera.frameWidth);
    if (shape.width > kLargestSide || shape.height > kLargestSide)
        return base::fail(base::ErrorCode::TooLarge,
                          fmt::format("{} x {} px is too large; a side may have {} px at most", shape.width, shape.height, kLargestSide));
    const film::Film::Rect r = settings.hasRegion ? settings.region : film::Film::Rect{0, 0, shape.width, shape.height};
    if (r.x0 < 0 || r.y0 < 0 || r.x1 > shape.width || r.y1 > shape.height || r.x0 >= r.x1 || r.y0 >= r.y1)
        return base::fail(base::ErrorCode::BadInput, fmt::format("The region {},{} {} x {} does not lie in the picture of {} x {} px", r.x0,
                                                                 r.y0, r.x1 - r.x0, r.y1 - r.y0, shape.width, shape.height));
    shape.regionX = r.x0;
    shape.regionY = r.y0;
    shape.regionWidth = r.x1 - r.x0;
    shape.regionHeight = r.y1 - r.y0;
    return shape;
}

std::uint64_t bytesNeeded(const film::FilmShape& shape, const WorkBodies& bodies)
{
    const std::uint64_t pixels = static_cast<std::uint64_t>(shape.regionWidth) * shape.regionHeight;
    std::uint64_t triangles = 0, own = 0;
    std::set<const solid::Body*> seen;
    for (const WorkBody& b : bodies.bodies) {
        triangles += b.body->triangles.size();
        if (seen.insert(b.body.get()).second)
            own += b.body->triangles.size();
    }
    // For each pixel: the shares, their halves, errors and goals, the picture as float and encoded. A body's mesh, and the tracer's
    // vertices and tree for each use.
    const std::uint64_t perPixel = (1 + 3 * shape.entries.size()) * sizeof(float) + 24 + 16 + 16 + 8;
    return film::Film::bytesFor(shape) + pixels * perPixel + own * 160 + triangles * 120;
}

std::uint64_t bytesAvailable()
{
    return base::memoryAvailable() / 10 * 9;
}

base::Result<Prepared> prepareWith(const Work& work, WorkBodies bodies, const StillSettings& settings)
{
    Prepared prepared;
    prepared.scene = makeScene(work, bodies);
    const auto shape = filmShapeFor(prepared.scene, work.sheet(), settings);
    if (!shape)
        return tl::unexpected<base::Error>(shape.error());
    prepared.shape = *shape;
    prepared.develop = developSettingsOf(work, settings.transparent);
    prepared.bodies = std::move(bodies);
    prepared.bodies.clashes = clashesOf(work, prepared.bodies);
    for (const base::Notes& notes : {offSheet(work, prepared.bodies, prepared.scene.camera), clashNotes(work, prepared.bodies.clashes)})
        prepared.bodies.notes.insert(prepared.bodies.notes.end(), notes.begin(), notes.end());
    return prepared;
}

base::Result<Prepared> prepare(const Work& work, const StillSettings& settings, Cache& cache, const base::Progress& progress)
{
    const int width = settings.widthPx > 0 ? settings.widthPx : work.sheet().widthPx();
    auto bodies = makeBodies(work, toleranceFor(work.sheet(), width), cache, progress);
    if (!bodies)
        return tl::unexpected<base::Error>(bodies.error());
    return prepareWith(work, std::move(*bodies), settings);
}

base::Result<render::RenderReport> expose(const Prepared& prepared, const StillSettings& settings, film::Film& film,
                                          const base::Progress& progress)
{
    render::RenderSettings renderSettings;
    renderSettings.stop = settings.stop;
    renderSettings.seed = settings.seed;
    renderSettings.viewing = finish::viewingOf(prepared.develop);
    renderSettings.denoise = settings.denoise;
    renderSettings.sink = settings.sink;
    renderSettings.gentle = settings.gentle;
    renderSettings.tree = settings.tree;
    auto report = render::render(prepared.scene, renderSettings, film, progress);
    if (report && film.leastSamples() == 0)
        return base::fail(base::ErrorCode::Stopped, "Stopped before the first picture was there");
    return report;
}

base::Notes notesOf(const Prepared& prepared, const film::Film& film)
{
    base::Notes notes = prepared.bodies.notes;
    if (film.isUnchecked())
        notes.push_back(kUnchecked);
    return notes;
}

base::Result<Still> makeStill(const Work& work, const StillSettings& settings, Cache& cache, const base::Progress& progress)
{
    const auto prepared = prepare(work, settings, cache, progress.split(0, 0.02));
    if (!prepared)
        return tl::unexpected<base::Error>(prepared.error());
    auto film = filmFor(prepared->shape, prepared->bodies, settings);
    if (!film)
        return tl::unexpected<base::Error>(film.error());
    auto report = expose(*prepared, settings, **film, progress.split(0.02, 1));
    if (!report)
        return tl::unexpected<base::Error>(report.error());
    Still still;
    still.notes = notesOf(*prepared, **film);
    still.develop = prepared->develop;
    if (still.develop.needsIds())
        film::addIds(report->shares, **film, render::viewpointOf(prepared->scene.camera));
    still.picture = finish::develop(report->shares, still.develop);
    still.shares = std::move(report->shares);
    still.report = std::move(*report);
    still.film = std::move(*film);
    return still;
}

namespace {

// Where depths in a film without its scene are measured from. What stands before a parallel camera says how far back it is: its bodies are
// made again where a layer asks how deep things lie.
film::Viewpoint viewpointOf(const Work& work, const finish::DevelopSettings& develop, const base::Progress& progress)
{
    Cache cache;
    WorkBodies bodies;
    if (!work.view().perspective && std::ranges::any_of(develop.layers, [](const finish::Layer& layer) { return layer.mask.byDepth(); }))
        if (auto made = makeBodies(work, toleranceFor(work.sheet(), 0), cache, progress))
            bodies = std::move(*made);
    return render::viewpointOf(cameraOf(work, bodies));
}

}  // namespace

base::Result<Still> developFilm(const Work& work, const StillSettings& settings, const base::Progress& progress)
{
    auto film = film::Film::openToRead(settings.filmPath, settings.filmKey);
    if (!film)
        return tl::unexpected<base::Error>(film.error());
    Still still;
    still.film = std::move(*film);
    if (still.film->isUnchecked())
        still.notes.push_back(kUnchecked);
    still.develop = developSettingsOf(work, settings.transparent);
    if (still.film->leastSamples() == 0)
        return base::fail(base::ErrorCode::BadInput, "The film is not exposed yet; go on with its render first", settings.filmPath);
    auto cleaned = denoise::clean(*still.film, {settings.denoise, finish::viewingOf(still.develop).desk}, progress);
    if (!cleaned)
        return tl::unexpected<base::Error>(cleaned.error());
    still.shares = std::move(cleaned->shares);
    film::addIds(still.shares, *still.film, viewpointOf(work, still.develop, progress));
    still.report.samples = still.film->meanSamples();
    still.picture = finish::develop(still.shares, still.develop);
    return still;
}

}  // namespace work
