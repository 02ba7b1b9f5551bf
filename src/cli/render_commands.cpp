// render, desk and film: pictures.
#include <fmt/chrono.h>
#include <fmt/format.h>

#include <cmath>
#include <ctime>
#include <filesystem>
#include <set>

#include "base/file.h"
#include "base/parallel.h"
#include "cli/terminal.h"
#include "cli/works.h"
#include "files/render_still.h"
#include "files/work_json.h"
#include "film/merge.h"
#include "session/finals.h"
#include "session/outputs.h"
#include "work/light_desk.h"
#include "work/make_still.h"
#include "work/properties.h"

namespace cli {

namespace {

// The exit status when no picture can be written so.
std::optional<int> wrongPicture(const std::string& out, int bits, bool transparent)
{
    const auto exporter = files::exporterFor(out, {});
    if (!exporter)
        return wrongUsage("-o: " + exporter.error().message);
    if (transparent && !work::hasCoverage((*exporter)->format))
        return wrongUsage("--transparent: a JPEG cannot let through; save it as PNG, WebP or TIFF");
    const bool floats = bits == 32 && (*exporter)->ending == std::string_view(".tif");
    if (bits != 8 && bits != 16 && !floats)
        return wrongUsage("--bits takes 8 or 16, and 32 for a .tif");
    // Before hours are spent on it.
    if (const auto place = base::writablePlace(out); !place)
        return report(place.error());
    return std::nullopt;
}

denoise::Mode denoiseNamed(const std::string& name)
{
    return name == "off" ? denoise::Mode::Off : name == "fast" ? denoise::Mode::Fast : denoise::Mode::Full;
}

// "srgb", "p3", "rec2020" or a file; nothing: sRGB.
base::Result<files::SharedProfile> profileNamed(const std::string& name)
{
    constexpr std::uint64_t kMostBytes = 64 << 20;
    work::Work work;
    work::Output output;
    const auto known = work::valueNamed(name, work::kColours);
    if (known && *known != work::FileColours::Profile) {
        output.colours = *known;
    } else if (!name.empty()) {
        const auto bytes = base::readFile(name, kMostBytes);
        const auto added = bytes ? files::addProfile(work, name, *bytes) : base::Result<std::string>(base::failed(bytes));
        if (!added)
            return base::failed(added);
        output.colours = work::FileColours::Profile;
        output.profile = *added;
    }
    return files::profileOf(work, output);
}

}  // namespace

int runRender(const RenderOptions& options)
{
    if (const auto wrong = wrongPicture(options.out, options.bits, options.transparent))
        return *wrong;
    auto work = openWith(options.work, options.set);
    if (!work)
        return report(work.error(), options.work);
    if (!options.viewTransform.empty())
        work->finish.viewTransform =
            options.viewTransform == "soft" ? picture::ViewTransform::SoftWhites : picture::ViewTransform::TrueColour;

    const work::FileFormat format = files::formatOf(options.out, options.bits);
    if (!options.passes.empty() && !work::hasPasses(format))
        return wrongUsage("--passes goes with an .exr, which holds them, or a .png, beside which they are written; write -o to one");
    const auto passes = files::passesNamed(options.passes, format);
    if (!passes)
        return wrongUsage("--passes: " + passes.error().message);
    const auto profile = profileNamed(options.colours);
    if (!profile)
        return report(profile.error(), options.colours);
    if (*profile && !work::namesProfile(format))
        return wrongUsage("--colours goes with .png, .jpg, .webp, .avif, .jxl and .tif; other files are sRGB");

    work::StillSettings settings;
    if (!options.size.empty()) {
        const auto size = wholeNumbers(options.size, 'x', 2);
        if (!size || (*size)[0] < 1 || (*size)[1] < 1)
            return wrongUsage(fmt::format("--size takes WIDTHxHEIGHT in px, such as 1920x1080, not \"{}\"", options.size));
        settings.widthPx = (*size)[0];
        settings.heightPx = (*size)[1];
        if (std::abs(settings.widthPx * work->sheet().heightPt() / work->sheet().widthPt() - settings.heightPx) > 1)
            return wrongUsage(fmt::format("--size {} has not the shape of the sheet ({} x {} px); the picture would be stretched",
                                          options.size, work->sheet().widthPx(), work->sheet().heightPx()));
    }
    if (!options.region.empty()) {
        const auto r = wholeNumbers(options.region, ',', 4);
        if (!r)
            return wrongUsage(fmt::format("--region takes X,Y,WIDTH,HEIGHT in px from the upper left, not \"{}\"", options.region));
        settings.hasRegion = true;
        settings.region = {(*r)[0], (*r)[1], (*r)[0] + (*r)[2], (*r)[1] + (*r)[3]};
    }
    const bool ruled = options.samples > 0 || options.seconds > 0 || options.noise > 0;
    settings.memoryBudget = static_cast<std::uint64_t>(options.memory * 1e9);
    settings.stop = ruled ? render::StopRule{options.samples, options.seconds, options.noise} : work->output().stop;
    if (settings.stop == render::StopRule{0, 0, 0})
        settings.stop.samples = 64;
    settings.seed = options.seed;
    settings.firstSample = options.firstSample;
    if (options.firstSample % 2 != 0)
        return wrongUsage("--first-sample takes an even number: samples come in pairs, one for each half of the film");
    if (options.firstSample > 0 && options.film.empty())
        return wrongUsage("--first-sample goes with --film: what begins elsewhere is to be merged");
    settings.transparent = options.transparent;
    settings.denoise = denoiseNamed(options.denoise);
    settings.filmPath = options.film;
    settings.filmKey = files::filmKey(*work, options.seed);
    ProgressLine line(true);
    settings.sink.onRound = [&](const render::RoundStatus& status) { line.round(status); };
    const std::stop_token stop = stopOnSignals();
    const base::ThreadLimit threads(options.threads);
    work::Cache cache;
    const base::Progress progress(stop, [&](double f) { line.set(f); });
    const files::StillFile file{options.out, format, true, options.out + ".light", {options.quality, *profile, *passes}};
    const auto still = files::renderStill(*work, settings, file, cache, progress);
    if (!still)
        return report(still.error(), still.error().code == base::ErrorCode::BadInput ? options.work : "");
    printNotes(still->notes);
    return still->report.reason == render::Stopped::ByRequest ? kStopped : kDone;
}

int runOutputs(const OutputsOptions& options)
{
    namespace fs = std::filesystem;
    auto work = openWith(options.work, options.set);
    if (!work)
        return report(work.error(), options.work);
    std::error_code error;
    fs::create_directories(options.folder, error);
    if (!fs::is_directory(options.folder, error))
        return report({base::ErrorCode::CannotWrite, "This is no folder and cannot become one; give another with -o", options.folder});
    const std::time_t now = std::time(nullptr);
    const std::string today = fmt::format("{:%Y-%m-%d}", fmt::localtime(now)), stem = fs::path(options.work).stem().string();
    const std::stop_token stop = stopOnSignals();
    std::set<std::string> written, films;
    work::Cache cache;
    const std::vector<std::string> all = work->shownSheet().outputs.order;
    for (const std::string& id : all) {
        session::showOutput(*work, id);
        const work::Output output = work->output();
        const std::string ending = files::exporterOf(output.format).ending;
        const fs::path base = fs::path(options.folder) / session::fileNameOf(*work, output, stem, today);
        std::string path = base.string() + ending;
        for (int i = 2; written.contains(path); ++i)
            path = fmt::format("{} {}{}", base.string(), i, ending);
        written.insert(path);
        work::StillSettings settings;
        settings.widthPx = session::widthOf(*work, output);
        settings.heightPx = session::heightOf(*work, output);
        settings.stop = options.samples > 0 ? render::StopRule{options.samples, 0, 0} : output.stop;
        settings.transparent = output.letsThrough();
        settings.denoise = session::denoiseOf(output);
        settings.filmKey = files::filmKey(*work, 0);
        settings.filmPath = fmt::format("{}/.open-glow-{}x{}.film", options.folder, settings.widthPx, settings.heightPx);
        films.insert(settings.filmPath);
        ProgressLine line(true);
        settings.sink.onRound = [&](const render::RoundStatus& status) { line.round(status); };
        const base::Progress progress(stop, [&](double f) { line.set(f); });
        const auto fileOptions = files::optionsOf(*work, output);
        if (!fileOptions)
            return report(fileOptions.error(), options.work);
        const auto still =
            files::renderStill(*work, settings, {path, output.format, false, path + ".light", *fileOptions}, cache, progress);
        if (!still)
            return still.error().code == base::ErrorCode::Stopped ? kStopped : report(still.error(), options.work);
        if (still->report.reason == render::Stopped::ByRequest)
            return kStopped;
        printNotes(still->notes);
        fmt::print("{}\n", path);
    }
    for (const std::string& film : films)
        fs::remove_all(film, error);
    return kDone;
}

int runDesk(const DeskOptions& options)
{
    if (const auto wrong = wrongPicture(options.out, options.bits, options.transparent))
        return *wrong;
    const auto rendered = openWith(options.work, {});
    if (!rendered)
        return report(rendered.error(), options.work);
    const auto moved = changedBy(*rendered, options.set);
    if (!moved)
        return report(moved.error(), options.work);
    if (auto fits = work::onlyDeskMoved(*rendered, *moved); !fits)
        return report(fits.error(), "--set");
    work::LightDesk desk = work::deskOf(*moved);
    for (work::DeskChannel& channel : desk.channels)
        if (!channel.rendered)
            channel.colour = {};
    for (const std::string& entry : options.solo) {
        const work::DeskChannel* channel = desk.find(entry);
        if (!channel || !channel->rendered)
            return wrongUsage(
                fmt::format("--solo takes a light that was rendered, such as {}, not \"{}\"", desk.channels.back().entry, entry));
        desk.solo.insert(entry);
    }
    work::StillSettings settings;
    settings.filmPath = options.film;
    settings.filmKey = files::filmKey(*rendered, options.seed);
    settings.transparent = options.transparent;
    settings.denoise = denoiseNamed(options.denoise);
    ProgressLine line(true);
    const base::Progress progress(stopOnSignals(), [&](double f) { line.set(f); });
    finish::DevelopSettings develop = work::developSettingsOf(*moved, options.transparent);
    const work::FileFormat format = files::formatOf(options.out, options.bits);
    if (files::LightFolder::isOne(options.film)) {
        const auto light = files::LightFolder::open(options.film, settings.filmKey);
        if (!light)
            return report(light.error());
        develop.desk = desk.factorsFor(light->shape().entries);
        const auto saved = files::saveStill({files::sourceOf(*light), nullptr, {options.quality}, moved->credits}, develop,
                                            files::ppiFor(moved->sheet(), light->shape().width), format, options.out, progress);
        return saved ? kDone : report(saved.error());
    }
    auto still = work::developFilm(*rendered, settings, progress);
    if (!still)
        return report(still.error());
    printNotes(still->notes);
    develop.desk = desk.factorsFor(still->shares.shape.entries);
    const double ppi = files::ppiFor(moved->sheet(), still->film->shape().width);
    const auto shares = std::make_shared<const film::LightShares>(std::move(still->shares));
    if (auto saved = files::saveStill({files::sourceOf(shares), still->film.get(), {options.quality}, moved->credits}, develop, ppi, format,
                                      options.out, {});
        !saved)
        return report(saved.error());
    return kDone;
}

int runMerge(const std::vector<std::string>& films, const std::string& out)
{
    if (films.size() < 2)
        return wrongUsage("film merge takes two films or more");
    if (auto merged = film::merge(films, out); !merged)
        return report(merged.error());
    return kDone;
}

}  // namespace cli
