#include "files/large_still.h"

#include <fmt/format.h>

#include <chrono>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "base/file.h"
#include "files/picture_file.h"
#include "files/still_file.h"

namespace files {

namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;
using Clock = std::chrono::steady_clock;

constexpr int kRowsTogether = 256;  // developed at a time
constexpr int kGrid = 8;            // rows: bands begin where noise reduction has its cells
constexpr const char* kDescription = "light.json";

template <class T>
auto fail(const T& failed)
{
    return tl::unexpected<base::Error>(failed.error());
}

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

std::vector<std::string> namesOf(const film::Entries& entries)
{
    std::vector<std::string> names;
    for (const film::Entry& entry : entries)
        names.push_back(entry.name);
    return names;
}

// Rows of some shares, as shares of their own.
film::LightShares rowsOf(const film::LightShares& shares, int y0, int y1)
{
    film::FilmShape shape = shares.shape;
    shape.regionY = y0;
    shape.regionHeight = y1 - y0;
    film::LightShares part(shape);
    const float* from = shares.at(0, y0 - shares.shape.regionY);
    std::copy(from, from + part.values.size(), part.values.begin());
    return part;
}

struct Plan {
    film::FilmShape shape;
    int rowsInBand = 0;  // 0: it fits into memory as a whole
};

base::Result<Plan> planFor(const work::Work& work, const work::StillSettings& settings, work::Cache& cache, const base::Progress& progress)
{
    const int width = settings.widthPx > 0 ? settings.widthPx : work.sheet.widthPx();
    const auto bodies = work::makeBodies(work, work::toleranceFor(work.sheet, width), cache, progress);
    if (!bodies)
        return fail(bodies);
    const auto shape = work::filmShapeFor(work::makeScene(work, *bodies), work.sheet, settings);
    if (!shape)
        return fail(shape);
    Plan plan{*shape, 0};
    const std::uint64_t there = settings.memoryBudget > 0 ? settings.memoryBudget : work::bytesAvailable();
    const std::uint64_t needed = work::bytesNeeded(*shape, *bodies);
    if (needed <= there)
        return plan;
    film::FilmShape none = *shape;
    none.regionHeight = 0;
    const std::uint64_t fixed = work::bytesNeeded(none, *bodies),
                        forRow = (needed - fixed) / static_cast<std::uint64_t>(shape->regionHeight);
    const std::uint64_t forBand = std::min(there, kBandBytes);
    const auto rows = static_cast<int>(std::min<std::uint64_t>(forBand > fixed ? (forBand - fixed) / forRow : 0, 1u << 20));
    plan.rowsInBand = std::min((rows - 2 * kBandMargin) / kGrid * kGrid, (shape->regionHeight + kGrid - 1) / kGrid * kGrid);
    if (plan.rowsInBand < kGrid)
        return base::fail(
            base::ErrorCode::TooLarge,
            fmt::format("A picture {} px wide needs {:.1f} GB for a narrow band alone, and {:.1f} GB are free; render it smaller",
                        shape->width, static_cast<double>(fixed + forRow * (2 * kBandMargin + kGrid)) / 1e9,
                        static_cast<double>(there) / 1e9));
    return plan;
}

}  // namespace

base::Result<bool> isLarge(const work::Work& work, const work::StillSettings& settings, work::Cache& cache, const base::Progress& progress)
{
    const auto plan = planFor(work, settings, cache, progress);
    if (!plan)
        return fail(plan);
    return plan->rowsInBand > 0;
}

bool LightFolder::isOne(const std::string& path)
{
    std::error_code error;
    return fs::is_regular_file(fs::path(path) / kDescription, error);
}

void LightFolder::remove(const std::string& folder)
{
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(folder, error)) {
        const std::string name = entry.path().filename().string();
        if (name == kDescription || (name.starts_with("band-") && (name.ends_with(".exr") || name.ends_with(".film"))))
            fs::remove(entry.path(), error);
    }
    fs::remove(folder, error);  // stays when anything else is in it
}

base::Result<LightFolder> LightFolder::create(const std::string& folder, const std::string& key, const film::FilmShape& shape,
                                              int rowsInBand, const render::StopRule& stop)
{
    if (isOne(folder)) {
        auto there = open(folder, key);
        if (!there)
            return there;
        film::FilmShape wanted = shape;
        wanted.reach = there->m_shape.reach;
        if (there->m_shape != wanted)
            return base::fail(base::ErrorCode::BadInput,
                              "This folder holds the light of this work at another size; name another folder or delete it", folder);
        const render::StopRule& was = there->m_stop;
        const auto stricter = [](double now, double before) { return now > 0 && (before == 0 || now < before); };
        const bool more =
            (stop.samples > 0 ? stop.samples : ~0u) > (was.samples > 0 ? was.samples : ~0u) || stricter(stop.noise, was.noise);
        if (more && there->isWhole())
            return base::fail(base::ErrorCode::BadInput,
                              "This folder holds the picture as it was finished before, with fewer samples; delete it or name another "
                              "folder to render it with more",
                              folder);
        return there;
    }
    std::error_code error;
    if (fs::exists(fs::symlink_status(folder, error)) && (!fs::is_directory(folder, error) || !fs::is_empty(folder, error)))
        return base::fail(base::ErrorCode::BadInput,
                          "There is something else of this name; name another folder for the light of the picture with --film", folder);
    fs::create_directories(folder, error);
    const Json j = {{"format", "open-glow-light"},
                    {"version", 1},
                    {"key", key},
                    {"width", shape.width},
                    {"height", shape.height},
                    {"regionX", shape.regionX},
                    {"regionY", shape.regionY},
                    {"regionWidth", shape.regionWidth},
                    {"regionHeight", shape.regionHeight},
                    {"entries", namesOf(shape.entries)},
                    {"rowsInBand", rowsInBand},
                    {"stopSamples", stop.samples},
                    {"stopNoise", stop.noise}};
    if (auto written = base::replaceFile((fs::path(folder) / kDescription).string(), j.dump(1) + "\n"); !written)
        return fail(written);
    return open(folder, key);
}

base::Result<LightFolder> LightFolder::open(const std::string& folder, const std::string& key)
{
    const std::string path = (fs::path(folder) / kDescription).string();
    const auto bytes = base::readFile(path, 1 << 26);
    if (!bytes)
        return fail(bytes);
    try {
        const Json j = Json::parse(bytes->begin(), bytes->end());
        film::FilmShape shape;
        shape.width = j.at("width");
        shape.height = j.at("height");
        shape.regionX = j.at("regionX");
        shape.regionY = j.at("regionY");
        shape.regionWidth = j.at("regionWidth");
        shape.regionHeight = j.at("regionHeight");
        shape.entries = film::entriesNamed(j.at("entries").get<std::vector<std::string>>());
        const int rows = j.at("rowsInBand");
        if (j.at("version") != 1 || rows < 1 || shape.regionWidth < 1 || shape.regionHeight < 1)
            return base::fail(base::ErrorCode::BadInput, "This is no kept light of this version; render it again", path);
        if (j.at("key") != key)
            return base::fail(base::ErrorCode::BadInput,
                              "This folder holds the light of another work or seed; name another folder or delete it", folder);
        auto lock = base::FileLock::take(folder);
        if (!lock)
            return fail(lock);
        LightFolder light(folder, key, shape, rows);
        light.m_lock = std::move(*lock);
        light.m_stop = {j.value("stopSamples", 0u), 0, j.value("stopNoise", 0.0)};
        return light;
    } catch (const Json::exception&) {
        return base::fail(base::ErrorCode::BadInput, "The description of this light is broken; delete its folder and render it again",
                          path);
    }
}

film::Film::Rect LightFolder::bandRect(int band) const
{
    const int y = m_shape.regionY + band * m_rows, end = m_shape.regionY + m_shape.regionHeight;
    return {m_shape.regionX, y, m_shape.regionX + m_shape.regionWidth, std::min(y + m_rows, end)};
}

std::string LightFolder::pathOf(int band) const
{
    return (fs::path(m_folder) / fmt::format("band-{:04}.exr", band)).string();
}

std::string LightFolder::filmPath(int band) const
{
    return (fs::path(m_folder) / fmt::format("band-{:04}.film", band)).string();
}

bool LightFolder::has(int band) const
{
    std::error_code error;
    return fs::is_regular_file(pathOf(band), error);
}

bool LightFolder::isWhole() const
{
    for (int band = 0; band < bandCount(); ++band)
        if (!has(band))
            return false;
    return true;
}

base::Result<void> LightFolder::put(int band, const film::LightShares& shares, double samples) const
{
    const film::Film::Rect r = bandRect(band);
    const auto bytes = lightBytes({rowsOf(shares, r.y0, r.y1), m_key, samples, {}});
    if (!bytes)
        return fail(bytes);
    return base::replaceFile(pathOf(band), *bytes);
}

base::Result<LightFile> LightFolder::get(int band) const
{
    const auto bytes = base::readFile(pathOf(band));
    if (!bytes)
        return fail(bytes);
    auto light = lightFromBytes(*bytes, pathOf(band));
    const film::Film::Rect r = bandRect(band);
    if (light && (light->key != m_key || light->shares.shape.regionY != r.y0 || light->shares.shape.regionHeight != r.y1 - r.y0 ||
                  light->shares.shape.regionWidth != m_shape.regionWidth || light->shares.shape.entries != m_shape.entries))
        return base::fail(base::ErrorCode::BadInput, "This band is of another picture; delete it and render again", pathOf(band));
    return light;
}

namespace {

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

base::Result<LargeStill> exposeLarge(const work::Work& work, const work::StillSettings& settings, const std::string& folder,
                                     work::Cache& cache, const base::Progress& progress)
{
    const auto began = Clock::now();
    const auto seconds = [&] { return std::chrono::duration<double>(Clock::now() - began).count(); };
    const auto plan = planFor(work, settings, cache, progress.split(0, 0.01));
    if (!plan)
        return fail(plan);
    if (!LightFolder::isOne(folder))
        if (auto room = hasRoom(plan->shape, folder); !room)
            return fail(room);
    const auto light = LightFolder::create(folder, settings.filmKey, plan->shape,
                                           plan->rowsInBand > 0 ? plan->rowsInBand : plan->shape.regionHeight, settings.stop);
    if (!light)
        return fail(light);
    std::vector<int> missing;
    for (const int band : spreadOrder(light->bandCount()))
        if (!light->has(band))
            missing.push_back(band);

    LargeStill still;
    const film::FilmShape& shape = light->shape();
    double rowsDone = 0, rowsToDo = 0, samples = 0;
    for (const int band : missing)
        rowsToDo += light->bandRect(band).y1 - light->bandRect(band).y0;
    for (const int band : missing) {
        const film::Film::Rect r = light->bandRect(band);
        const double rows = r.y1 - r.y0, share = rows / rowsToDo;
        work::StillSettings own = settings;
        own.hasRegion = true;
        own.region = {r.x0, std::max(shape.regionY, r.y0 - kBandMargin), r.x1,
                      std::min(shape.regionY + shape.regionHeight, r.y1 + kBandMargin)};
        own.filmPath = light->filmPath(band);
        own.developStopped = false;
        own.develop = false;
        if (own.stop.seconds > 0)
            own.stop.seconds = std::max(0.01, (settings.stop.seconds - seconds()) * rows / (rowsToDo - rowsDone));
        own.onRound = [&](const render::RoundStatus& status) {
            if (!settings.onRound)
                return;
            // What this band and those before it take for a row, those to come take as well.
            render::RoundStatus whole = status;
            if (status.secondsLeft >= 0)
                whole.secondsLeft =
                    status.secondsLeft + (rowsToDo - rowsDone - rows) * (seconds() + status.secondsLeft) / (rowsDone + rows);
            settings.onRound(whole);
        };
        auto made = work::makeStill(work, own, cache,
                                    progress.split(0.01 + 0.99 * rowsDone / rowsToDo, 0.01 + 0.99 * (rowsDone / rowsToDo + share)));
        if (!made)
            return fail(made);
        if (made->report.reason == render::Stopped::ByRequest)
            return base::fail(base::ErrorCode::Stopped, "Stopped; what is there is kept, and the same render goes on from it", folder);
        if (auto kept = light->put(band, made->shares, made->report.samples); !kept)
            return fail(kept);
        std::error_code error;
        made->film.reset();
        fs::remove(own.filmPath, error);
        still.report.rays += made->report.rays;
        still.report.paths += made->report.paths;
        still.report.noise = std::max(still.report.noise, made->report.noise);
        still.report.reason = made->report.reason;
        still.notes = std::move(made->notes);
        samples += made->report.samples * rows;
        rowsDone += rows;
    }
    still.report.samples = rowsDone > 0 ? samples / rowsDone : 0;
    still.report.seconds = seconds();
    return still;
}

LightSource sourceOf(const LightFolder& folder)
{
    return {folder.shape(), folder.bandCount(), [folder](int band) -> base::Result<film::LightShares> {
                auto light = folder.get(band);
                if (!light)
                    return fail(light);
                return std::move(light->shares);
            }};
}

LightSource sourceOf(std::shared_ptr<const LightFile> light)
{
    return {light->shares.shape, 1, [light](int) -> base::Result<film::LightShares> { return light->shares; }};
}

base::Result<film::LightShares> smallerLight(const LightSource& light, int step)
{
    film::FilmShape shape = light.shape;
    std::vector<float> values;
    film::LightShares rest;  // rows of a band's end that are no whole step yet
    for (int band = 0; band < light.bands; ++band) {
        auto part = light.get(band);
        if (!part)
            return fail(part);
        rest.values.insert(rest.values.end(), part->values.begin(), part->values.end());
        const int before = rest.shape.regionHeight;
        rest.shape = part->shape;
        rest.shape.regionY -= before;
        rest.shape.regionHeight += before;
        const int y0 = rest.shape.regionY, y1 = y0 + rest.shape.regionHeight, whole = y0 + rest.shape.regionHeight / step * step;
        if (whole > y0) {
            const film::LightShares small = film::smaller(rowsOf(rest, y0, whole), step);
            values.insert(values.end(), small.values.begin(), small.values.end());
            shape = small.shape;
            rest = whole < y1 ? rowsOf(rest, whole, y1) : film::LightShares();
        }
    }
    if (values.empty())
        return film::smaller(rest, step);
    shape.regionY = light.shape.regionY / step;
    shape.height = std::max(1, light.shape.height / step);
    film::LightShares result;
    result.shape = shape;
    result.values = std::move(values);
    result.shape.regionHeight = static_cast<int>(result.values.size() / (static_cast<std::size_t>(shape.regionWidth) * result.stride()));
    return result;
}

namespace {

// Hands on rows, some at a time, from the top.
template <class Each>
base::Result<void> eachRows(const LightSource& light, const base::Progress& progress, Each each)
{
    for (int band = 0; band < light.bands; ++band) {
        const auto part = light.get(band);
        if (!part)
            return fail(part);
        const film::FilmShape& s = part->shape;
        for (int y = s.regionY; y < s.regionY + s.regionHeight; y += kRowsTogether) {
            if (progress.stopRequested())
                return base::fail(base::ErrorCode::Stopped, "Stopped while the picture was written");
            if (auto done = each(rowsOf(*part, y, std::min(y + kRowsTogether, s.regionY + s.regionHeight))); !done)
                return done;
            progress.set(static_cast<double>(y - light.shape.regionY) / light.shape.regionHeight);
        }
    }
    return {};
}

}  // namespace

base::Result<void> saveLight(const LightSource& light, const finish::DevelopSettings& develop, double ppi, int bits,
                             const std::string& path, const base::Progress& progress)
{
    const film::FilmShape& s = light.shape;
    const PictureShape shape{s.regionWidth, s.regionHeight, develop.transparent ? 4 : 3};
    if (auto can = checkStillName(path, bits); !can)
        return can;
    if (endingOf(path) == ".exr") {
        std::vector<std::string> channels{"R", "G", "B", "A"};
        for (const film::Entry& entry : s.entries)
            for (const char* const channel : {"R", "G", "B"})
                channels.push_back("light." + entry.name + "." + channel);
        return saveExr(channels, s.regionWidth, s.regionHeight, {s.regionX, s.regionY, s.width, s.height}, ppi, path,
                       [&](const AddRows<float>& add) {
                           return eachRows(light, progress, [&](const film::LightShares& rows) {
                               picture::Raster<float> lines(s.regionWidth, rows.shape.regionHeight, static_cast<int>(channels.size()));
                               for (int y = 0; y < lines.height; ++y)
                                   for (int x = 0; x < lines.width; ++x) {
                                       const base::Rgb mix = finish::mixed(rows.entries(x, y), develop);
                                       float* to = lines.at(x, y);
                                       *to++ = mix.x;
                                       *to++ = mix.y;
                                       *to++ = mix.z;
                                       std::copy_n(rows.at(x, y), rows.stride(), to);
                                   }
                               return add(lines);
                           });
                       });
    }
    if (bits == 16)
        return savePng16(shape, ppi, path, [&](const AddRows<std::uint16_t>& add) {
            return eachRows(light, progress,
                            [&](const film::LightShares& rows) { return add(finish::to16Bits(finish::develop(rows, develop))); });
        });
    return savePng8(shape, ppi, path, [&](const AddRows<std::uint8_t>& add) {
        return eachRows(light, progress, [&](const film::LightShares& rows) {
            return add(finish::to8Bits(finish::develop(rows, develop), rows.shape.regionY - s.regionY));
        });
    });
}

}  // namespace files
