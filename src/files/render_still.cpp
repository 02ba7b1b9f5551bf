#include "files/render_still.h"

#include <fmt/format.h>

#include <chrono>
#include <filesystem>

namespace files {

namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

constexpr int kGrid = 8;  // rows: bands begin where noise reduction has its cells

// Bands in an order that spreads over the picture from the first: numbers with their bits reversed.
std::vector<int> spreadOrder(int count)
{
    std::vector<int> order;
    unsigned bits = 0;
    while (1 << bits < count)
        ++bits;
    for (unsigned i = 0; i < 1u << bits; ++i) {
        unsigned reversed = 0;
        for (unsigned b = 0; b < bits; ++b)
            reversed |= (i >> b & 1u) << (bits - 1 - b);
        if (static_cast<int>(reversed) < count)
            order.push_back(static_cast<int>(reversed));
    }
    return order;
}

// Whether the disk holds all bands, unpacked.
base::Result<void> hasRoom(const film::FilmShape& shape, const std::string& folder)
{
    const std::uint64_t needed =
        static_cast<std::uint64_t>(shape.regionWidth) * static_cast<std::uint64_t>(shape.regionHeight) * (1 + 3 * shape.entries.size()) * 2;
    std::error_code error;
    const fs::space_info there = fs::space(fs::absolute(folder).parent_path(), error);
    if (!error && needed > there.available)
        return base::fail(
            base::ErrorCode::TooLarge,
            fmt::format(
                "The light of this picture needs up to {:.1f} GB on disk, and {:.1f} GB are free; render it smaller or name another folder",
                static_cast<double>(needed) / 1e9, static_cast<double>(there.available) / 1e9),
            folder);
    return {};
}

}  // namespace

base::Result<int> bandRowsFor(const work::Prepared& prepared, const work::StillSettings& settings)
{
    const film::FilmShape& shape = prepared.shape;
    const std::uint64_t there = settings.memoryBudget > 0 ? settings.memoryBudget : work::bytesAvailable();
    const std::uint64_t needed = work::bytesNeeded(shape, prepared.bodies);
    if (needed <= there)
        return 0;
    film::FilmShape none = shape;
    none.regionHeight = 0;
    const std::uint64_t fixed = work::bytesNeeded(none, prepared.bodies),
                        forRow = (needed - fixed) / static_cast<std::uint64_t>(shape.regionHeight);
    const std::uint64_t forBand = std::min(there, kBandBytes);
    const auto fitting = static_cast<int>(std::min<std::uint64_t>(forBand > fixed ? (forBand - fixed) / forRow : 0, 1u << 20));
    const int rows = std::min((fitting - 2 * kBandMargin) / kGrid * kGrid, (shape.regionHeight + kGrid - 1) / kGrid * kGrid);
    if (rows < kGrid)
        return base::fail(
            base::ErrorCode::TooLarge,
            fmt::format("A picture {} px wide needs {:.1f} GB for a narrow band alone, and {:.1f} GB are free; render it smaller",
                        shape.width, static_cast<double>(fixed + forRow * (2 * kBandMargin + kGrid)) / 1e9,
                        static_cast<double>(there) / 1e9));
    return rows;
}

base::Result<RenderedStill> exposeBands(const work::Prepared& prepared, int rowsInBand, const work::StillSettings& settings,
                                        const std::string& folder, const base::Progress& progress)
{
    const auto began = Clock::now();
    const auto seconds = [&] { return std::chrono::duration<double>(Clock::now() - began).count(); };
    if (!LightFolder::isOne(folder))
        if (auto room = hasRoom(prepared.shape, folder); !room)
            return base::failed(room);
    const auto light = LightFolder::create(folder, settings.filmKey, prepared.shape,
                                           rowsInBand > 0 ? rowsInBand : prepared.shape.regionHeight, settings.stop);
    if (!light)
        return base::failed(light);
    std::vector<int> missing;
    for (const int band : spreadOrder(light->bandCount()))
        if (!light->has(band))
            missing.push_back(band);

    RenderedStill still;
    still.notes = prepared.bodies.notes;
    const film::FilmShape& shape = light->shape();
    double rowsDone = 0, rowsToDo = 0, samples = 0;
    for (const int band : missing)
        rowsToDo += light->bandRect(band).y1 - light->bandRect(band).y0;
    for (const int band : missing) {
        const film::Film::Rect r = light->bandRect(band);
        const double rows = r.y1 - r.y0, share = rows / rowsToDo;
        work::StillSettings own = settings;
        film::FilmShape part = prepared.shape;
        part.regionY = std::max(shape.regionY, r.y0 - kBandMargin);
        part.regionHeight = std::min(shape.regionY + shape.regionHeight, r.y1 + kBandMargin) - part.regionY;
        own.filmPath = light->filmPath(band);
        if (own.stop.seconds > 0)
            own.stop.seconds = std::max(0.01, (settings.stop.seconds - seconds()) * rows / (rowsToDo - rowsDone));
        own.sink.onRound = [&](const render::RoundStatus& status) {
            if (!settings.sink.onRound)
                return;
            // What this band and those before it take for a row, those to come take as well.
            render::RoundStatus whole = status;
            if (status.secondsLeft >= 0)
                whole.secondsLeft =
                    status.secondsLeft + (rowsToDo - rowsDone - rows) * (seconds() + status.secondsLeft) / (rowsDone + rows);
            settings.sink.onRound(whole);
        };
        auto film = work::filmFor(part, prepared.bodies, own);
        if (!film)
            return base::failed(film);
        auto made = work::expose(prepared, own, **film, progress.split(rowsDone / rowsToDo, rowsDone / rowsToDo + share));
        if (!made)
            return base::failed(made);
        if (made->reason == render::Stopped::ByRequest)
            return base::fail(base::ErrorCode::Stopped, "Stopped; what is there is kept, and the same render goes on from it", folder);
        film::addIds(made->shares, **film, render::viewpointOf(prepared.scene.camera));
        if (auto kept = light->put(band, made->shares, made->samples); !kept)
            return base::failed(kept);
        std::error_code error;
        film->reset();
        fs::remove(own.filmPath, error);
        still.report.rays += made->rays;
        still.report.paths += made->paths;
        still.report.noise = std::max(still.report.noise, made->noise);
        still.report.reason = made->reason;
        samples += made->samples * rows;
        rowsDone += rows;
    }
    still.report.samples = rowsDone > 0 ? samples / rowsDone : 0;
    still.report.seconds = seconds();
    return still;
}

base::Result<RenderedStill> saveUnfinished(const work::Work& work, const work::StillSettings& settings, const StillFile& file,
                                           work::Cache& cache, const base::Progress& progress)
{
    const auto prepared = work::prepare(work, settings, cache, progress.split(0, 0.02));
    if (!prepared)
        return base::failed(prepared);
    work::StillSettings quick = settings;
    quick.stop = {kQuickSamples, 0, 0};
    quick.filmPath.clear();
    const std::string folder = settings.filmPath + " as it is";
    int rows = 0;
    {
        const auto light = LightFolder::open(settings.filmPath, settings.filmKey);
        if (!light)
            return base::failed(light);
        rows = light->rowsInBand();
        const auto copy = LightFolder::create(folder, settings.filmKey, prepared->shape, rows, quick.stop);
        if (!copy)
            return base::failed(copy);
        if (auto adopted = copy->adopt(*light); !adopted)
            return base::failed(adopted);
    }
    auto still = exposeBands(*prepared, rows, quick, folder, progress.split(0.02, 0.97));
    if (!still)
        return still;
    {
        const auto light = LightFolder::open(folder, settings.filmKey);
        if (!light)
            return base::failed(light);
        if (auto saved = saveStill({sourceOf(*light), nullptr, file.options, work.credits}, prepared->develop,
                                   ppiFor(work.sheet(), prepared->shape.width), file.format, file.path, progress.split(0.97, 1));
            !saved)
            return base::failed(saved);
    }
    LightFolder::remove(folder);
    return still;
}

base::Result<RenderedStill> renderStill(const work::Work& work, const work::StillSettings& settings, const StillFile& file,
                                        work::Cache& cache, const base::Progress& progress)
{
    const auto prepared = work::prepare(work, settings, cache, progress.split(0, 0.02));
    if (!prepared)
        return base::failed(prepared);
    const auto bandRows = bandRowsFor(*prepared, settings);
    if (!bandRows)
        return base::failed(bandRows);
    const double ppi = ppiFor(work.sheet(), prepared->shape.width);
    if (*bandRows > 0 || LightFolder::isOne(settings.filmPath)) {
        if (settings.firstSample > 0)
            return base::fail(base::ErrorCode::BadInput,
                              "Only pictures that memory holds can begin at another sample; render it smaller or in regions");
        const std::string folder = settings.filmPath.empty() ? file.lightFolder : settings.filmPath;
        auto still = exposeBands(*prepared, *bandRows, settings, folder, progress.split(0.02, 0.97));
        if (!still)
            return still;
        if (file.format == work::FileFormat::Exr)
            still->notes.push_back(
                {"passes-left-out", "The picture was made in bands: of the passes its EXR has lights and coverage alone", ""});
        else if (!file.options.passes.empty())
            still->notes.push_back({"passes-left-out", "The picture was made in bands, which have no passes to be saved beside it", ""});
        const auto light = LightFolder::open(folder, settings.filmKey);
        if (!light)
            return base::failed(light);
        if (auto saved = saveStill({sourceOf(*light), nullptr, file.options, work.credits}, prepared->develop, ppi, file.format, file.path,
                                   progress.split(0.97, 1));
            !saved)
            return base::failed(saved);
        if (settings.filmPath.empty())
            LightFolder::remove(folder);
        return still;
    }
    const auto film = work::filmFor(prepared->shape, prepared->bodies, settings);
    if (!film)
        return base::failed(film);
    RenderedStill still;
    still.notes = work::notesOf(*prepared, **film);
    auto report = work::expose(*prepared, settings, **film, progress.split(0.02, 1));
    if (!report)
        return base::failed(report);
    still.report = std::move(*report);
    if (still.report.reason == render::Stopped::ByRequest && !file.whenStopped)
        return still;
    if (prepared->develop.needsIds())
        film::addIds(still.report.shares, **film, render::viewpointOf(prepared->scene.camera));
    const auto shares = std::make_shared<const film::LightShares>(std::move(still.report.shares));
    still.report.shares = {};
    if (auto saved = saveStill({sourceOf(shares), film->get(), file.options, work.credits, prepared->scene.camera}, prepared->develop, ppi,
                               file.format, file.path, {});
        !saved)
        return base::failed(saved);
    return still;
}

}  // namespace files
