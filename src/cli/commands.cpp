#include "cli/commands.h"

#include <fmt/format.h>
#include <unistd.h>

#include <atomic>
#include <charconv>
#include <csignal>
#include <cstdio>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "base/file.h"
#include "base/parallel.h"
#include "files/large_still.h"
#include "files/mesh_file.h"
#include "files/still_file.h"
#include "files/work_file.h"
#include "files/work_json.h"
#include "outline/text.h"
#include "solid/check.h"
#include "work/fonts.h"
#include "work/light_desk.h"
#include "work/make_still.h"

namespace cli {

namespace {

constexpr double kPreviewSide = 256;  // px
constexpr const char* kUsualFont = "League Spartan Bold";

std::stop_source s_stop;

void onSignal(int)
{
    // The only thing a handler may do here; request_stop() on a source without callbacks is one atomic store.
    s_stop.request_stop();
}

void stopOnSignals()
{
    struct sigaction action {};
    action.sa_handler = onSignal;
    sigaction(SIGINT, &action, nullptr);
    sigaction(SIGTERM, &action, nullptr);
}

int report(const base::Error& error, const std::string& file = {})
{
    base::Error shown = error;
    if (!file.empty() && shown.place.find(file) == std::string::npos)
        shown.place = shown.place.empty() ? file : file + ", " + shown.place;
    std::string line = base::oneLine(shown);
    for (char& c : line)
        if (c == '\n')
            c = ' ';
    fmt::print(stderr, "open-glow-cli: {}\n", line);
    switch (error.code) {
    case base::ErrorCode::BadUsage:
        return kUsage;
    case base::ErrorCode::Stopped:
        return kStopped;
    default:
        return kFault;
    }
}

int wrongUsage(const std::string& message)
{
    return report({base::ErrorCode::BadUsage, message, {}});
}

// The exit status when no picture can be written so.
std::optional<int> wrongPicture(const std::string& out, int bits)
{
    const std::string ending = files::endingOf(out);
    if (ending != ".png" && ending != ".exr")
        return wrongUsage(fmt::format("-o takes a name that ends in .png or .exr, not \"{}\"", out));
    if (bits != 8 && bits != 16)
        return wrongUsage("--bits takes 8 or 16");
    return std::nullopt;
}

void printNotes(const base::Notes& notes)
{
    for (const base::Note& n : notes)
        fmt::print(stderr, "open-glow-cli: note: {}: {}\n", n.place, n.message);
}

// Whole numbers between separators: "1920x1080", "0,0,100,50".
std::optional<std::vector<int>> wholeNumbers(const std::string& text, char separator, std::size_t count)
{
    std::vector<int> numbers;
    const char* at = text.data();
    const char* const end = at + text.size();
    while (at < end) {
        int value = 0;
        const auto [next, error] = std::from_chars(at, end, value);
        if (error != std::errc{} || (next != end && *next != separator))
            return std::nullopt;
        numbers.push_back(value);
        at = next == end ? end : next + 1;
    }
    if (numbers.size() != count)
        return std::nullopt;
    return numbers;
}

base::Result<work::Work> changedBy(base::Result<work::Work> work, const std::vector<std::string>& settings)
{
    for (const std::string& setting : settings) {
        if (!work)
            return work;
        const std::size_t equals = setting.find('=');
        if (equals == std::string::npos || setting.empty() || setting[0] != '/')
            return base::fail(base::ErrorCode::BadUsage, fmt::format("--set takes /json/pointer=value, not \"{}\"", setting));
        auto changed = files::withValueAt(*work, setting.substr(0, equals), setting.substr(equals + 1));
        if (!changed) {
            base::Error error = changed.error();
            error.place = "--set " + (error.place.empty() ? setting : error.place);
            return tl::unexpected<base::Error>(error);
        }
        work = std::move(changed);
    }
    return work;
}

render::Denoise denoiseNamed(const std::string& name)
{
    return name == "off" ? render::Denoise::Off : name == "fast" ? render::Denoise::Fast : render::Denoise::Full;
}

base::Result<work::Work> openWith(const std::string& path, const std::vector<std::string>& settings)
{
    return changedBy(files::openWork(path), settings);
}

// Progress on stderr, only when somebody looks.
class ProgressLine {
public:
    explicit ProgressLine(bool shown) : m_shown(shown && isatty(STDERR_FILENO)) {}
    ~ProgressLine()
    {
        if (m_shown && m_percent >= 0)
            fmt::print(stderr, "\r\x1b[K");
    }
    void set(double fraction)
    {
        const int percent = static_cast<int>(fraction * 100);
        if (m_shown && m_percent.exchange(percent) != percent)
            print();
    }
    void round(const render::RoundStatus& status)
    {
        m_text = fmt::format("{:.0f} samples", status.samples);
        if (status.noise >= 0)
            m_text += fmt::format(", noise {:.2f}/255", status.noise);
        if (status.secondsLeft >= 0)
            m_text += fmt::format(", {} left", spoken(status.secondsLeft));
        if (m_shown)
            print();
    }

private:
    static std::string spoken(double seconds)
    {
        const int s = static_cast<int>(seconds + 0.5);
        return s < 60 ? fmt::format("{} s", s) : fmt::format("{} min {} s", s / 60, s % 60);
    }
    void print()
    {
        const std::lock_guard lock(m_mutex);
        fmt::print(stderr, "\r\x1b[K{} % {}", m_percent.load(), m_text);
    }
    bool m_shown;
    std::atomic<int> m_percent{-1};
    std::string m_text;
    std::mutex m_mutex;
};

}  // namespace

int runNew(const NewOptions& options)
{
    const auto size = wholeNumbers(options.sheet, 'x', 2);
    if (!size || (*size)[0] < 1 || (*size)[1] < 1)
        return wrongUsage(fmt::format("--sheet takes WIDTHxHEIGHT in px, such as 1920x1080, not \"{}\"", options.sheet));
    if (!outline::isUtf8(options.text))
        return wrongUsage("--text must be UTF-8");
    const auto font = !options.fontFile.empty() ? work::fontFromFile(options.fontFile)
                                                : work::fontNamed(options.font.empty() ? kUsualFont : options.font);
    if (!font)
        return report(font.error());
    base::Notes notes;
    if (!font->exact && !options.font.empty())
        notes.push_back(
            {"missing-font", fmt::format("\"{}\" is not on this machine; \"{}\" stands in", options.font, font->choice.family), "--font"});
    work::Cache cache;
    work::Sheet sheet;
    sheet.width = (*size)[0];
    sheet.height = (*size)[1];
    sheet.ppi = options.ppi;
    work::Work work = work::newWork(options.text, font->choice, sheet);
    work.assets[font->choice.asset] = font->asset;
    work::Piece& piece = work.pieces.items.begin()->second;
    if (options.sizePt > 0) {
        work::scaleTo(piece, options.sizePt);
    } else {
        // As large as fits four fifths of the width and three fifths of the height.
        const auto opened = work::openFont(work, font->choice, cache, notes);
        if (!opened)
            return report(opened.error());
        const auto layout = outline::layoutText(options.text, **opened, piece.lettering.layout, {});
        if (!layout)
            return report(layout.error());
        const double now = piece.lettering.layout.sizePt;
        const double high = (*opened)->capHeight() * now - layout->baselines.back();
        const double fit = std::min(layout->widthPt > 0 ? 0.8 * sheet.widthPt() / layout->widthPt : 1, 0.6 * sheet.heightPt() / high);
        work::scaleTo(piece, now * fit);
    }
    const auto valid = files::fromJson(files::toJson(work));
    if (!valid)
        return report(valid.error());
    auto bodies = work::makeBodies(work, work::toleranceFor(sheet, sheet.widthPx()), cache, {});
    if (!bodies)
        return report(bodies.error());
    notes.insert(notes.end(), bodies->notes.begin(), bodies->notes.end());
    printNotes(notes);
    // A small picture for file managers.
    work::StillSettings small;
    const double shrink = kPreviewSide / std::max(sheet.width, sheet.height);
    small.widthPx = std::max(1, static_cast<int>(std::lround(sheet.width * shrink)));
    small.heightPx = std::max(1, static_cast<int>(std::lround(sheet.height * shrink)));
    small.stop = {16, 0, 0};
    const auto preview = work::makeStill(work, small, cache, {});
    if (!preview)
        return report(preview.error());
    if (auto saved = files::saveWork(work, options.out, finish::to8Bits(preview->picture)); !saved)
        return report(saved.error());
    return kDone;
}

namespace {

// Band by band; the light is kept in the film's folder, or beside the picture until that is finished.
int renderLarge(const work::Work& work, const RenderOptions& options, const work::StillSettings& settings, work::Cache& cache, const base::Progress& progress)
{
    const std::string folder = options.film.empty() ? options.out + ".light" : options.film;
    const auto exposed = files::exposeLarge(work, settings, folder, cache, progress.split(0, 0.97));
    if (!exposed)
        return report(exposed.error());
    printNotes(exposed->notes);
    const auto light = files::LightFolder::open(folder, settings.filmKey);
    if (!light)
        return report(light.error());
    const double ppi = files::ppiFor(work.sheet, light->shape().width);
    if (auto saved = files::saveLight(files::sourceOf(*light), work::developSettingsOf(work, options.transparent), ppi, options.bits, options.out, progress.split(0.97, 1)); !saved)
        return report(saved.error());
    std::error_code error;
    if (options.film.empty())
        std::filesystem::remove_all(folder, error);
    return kDone;
}

}  // namespace

int runRender(const RenderOptions& options)
{
    if (const auto wrong = wrongPicture(options.out, options.bits))
        return *wrong;
    auto work = openWith(options.work, options.set);
    if (!work)
        return report(work.error(), options.work);
    if (!options.viewTransform.empty())
        work->finish.viewTransform =
            options.viewTransform == "soft" ? picture::ViewTransform::SoftWhites : picture::ViewTransform::TrueColour;

    work::StillSettings settings;
    if (!options.size.empty()) {
        const auto size = wholeNumbers(options.size, 'x', 2);
        if (!size || (*size)[0] < 1 || (*size)[1] < 1)
            return wrongUsage(fmt::format("--size takes WIDTHxHEIGHT in px, such as 1920x1080, not \"{}\"", options.size));
        settings.widthPx = (*size)[0];
        settings.heightPx = (*size)[1];
        if (std::abs(settings.widthPx * work->sheet.heightPt() / work->sheet.widthPt() - settings.heightPx) > 1)
            return wrongUsage(fmt::format("--size {} has not the shape of the sheet ({} x {} px); the picture would be stretched",
                                          options.size, work->sheet.widthPx(), work->sheet.heightPx()));
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
    settings.stop = ruled ? render::StopRule{options.samples, options.seconds, options.noise} : work->final;
    if (settings.stop == render::StopRule{0, 0, 0})
        settings.stop.samples = 64;
    settings.seed = options.seed;
    settings.transparent = options.transparent;
    settings.denoise = denoiseNamed(options.denoise);
    settings.filmPath = options.film;
    settings.filmKey = files::filmKey(*work, options.seed);
    ProgressLine line(true);
    settings.onRound = [&](const render::RoundStatus& status) { line.round(status); };
    stopOnSignals();
    const base::ThreadLimit threads(options.threads);
    work::Cache cache;
    const base::Progress progress(s_stop.get_token(), [&](double f) { line.set(f); });
    const auto isLarge = files::isLarge(*work, settings, cache, base::Progress(progress.stopToken()));
    if (!isLarge)
        return report(isLarge.error(), isLarge.error().code == base::ErrorCode::BadInput ? options.work : "");
    if (*isLarge || files::LightFolder::isOne(options.film))
        return renderLarge(*work, options, settings, cache, progress);
    auto still = work::makeStill(*work, settings, cache, progress);
    if (!still)
        return report(still.error(), still.error().code == base::ErrorCode::BadInput ? options.work : "");
    printNotes(still->notes);
    if (auto saved = files::saveStill(*still, files::ppiFor(work->sheet, still->film->shape().width), options.bits, options.out); !saved)
        return report(saved.error());
    return still->report.reason == render::Stopped::ByRequest ? kStopped : kDone;
}

int runDesk(const DeskOptions& options)
{
    if (const auto wrong = wrongPicture(options.out, options.bits))
        return *wrong;
    const auto rendered = files::openWork(options.work);
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
            return wrongUsage(fmt::format("--solo takes a light that was rendered, such as {}, not \"{}\"", desk.channels.back().entry, entry));
        desk.solo.insert(entry);
    }
    work::StillSettings settings;
    settings.filmPath = options.film;
    settings.filmKey = files::filmKey(*rendered, options.seed);
    settings.transparent = options.transparent;
    settings.denoise = denoiseNamed(options.denoise);
    ProgressLine line(true);
    stopOnSignals();
    const base::Progress progress(s_stop.get_token(), [&](double f) { line.set(f); });
    finish::DevelopSettings develop = work::developSettingsOf(*moved, options.transparent);
    if (files::LightFolder::isOne(options.film)) {
        const auto light = files::LightFolder::open(options.film, settings.filmKey);
        if (!light)
            return report(light.error());
        develop.desk = desk.factorsFor(light->shape().entries);
        const auto saved = files::saveLight(files::sourceOf(*light), develop, files::ppiFor(moved->sheet, light->shape().width), options.bits, options.out, progress);
        return saved ? kDone : report(saved.error());
    }
    auto still = work::developFilm(*rendered, settings, progress);
    if (!still)
        return report(still.error());
    develop.desk = desk.factorsFor(still->shares.shape.entries);
    still->develop = develop;
    still->picture = finish::develop(still->shares, still->develop);
    if (auto saved = files::saveStill(*still, files::ppiFor(moved->sheet, still->film->shape().width), options.bits, options.out); !saved)
        return report(saved.error());
    return kDone;
}

int runMesh(const std::string& path, const std::string& out, const std::vector<std::string>& set)
{
    if (files::endingOf(out) != ".stl")
        return wrongUsage(fmt::format("-o takes a name that ends in .stl, not \"{}\"", out));
    const auto work = openWith(path, set);
    if (!work)
        return report(work.error(), path);
    work::Cache cache;
    stopOnSignals();
    const auto bodies =
        work::makeBodies(*work, work::toleranceFor(work->sheet, work->sheet.widthPx()), cache, base::Progress(s_stop.get_token()));
    if (!bodies)
        return report(bodies.error(), path);
    printNotes(bodies->notes);
    if (auto saved = files::saveStl(*bodies, out); !saved)
        return report(saved.error());
    return kDone;
}

int runInfo(const std::string& path, const std::vector<std::string>& set)
{
    using Json = nlohmann::ordered_json;
    const auto work = openWith(path, set);
    if (!work)
        return report(work.error(), path);
    work::Cache cache;
    const auto bodies = work::makeBodies(*work, work::toleranceFor(work->sheet, work->sheet.widthPx()), cache, {});
    if (!bodies)
        return report(bodies.error(), path);
    Json out;
    out["sheet"] = {{"widthPx", work->sheet.widthPx()},
                    {"heightPx", work->sheet.heightPx()},
                    {"widthPt", work->sheet.widthPt()},
                    {"heightPt", work->sheet.heightPt()},
                    {"ppi", work->sheet.ppi}};
    base::Box3 box;
    std::size_t triangles = 0;
    double volume = 0;
    bool closed = true;
    std::vector<std::size_t> bodyCount(work->pieces.order.size(), 0);
    for (const work::WorkBody& b : bodies->bodies) {
        const solid::BodyReport r = solid::inspect(*b.body);
        triangles += b.body->triangles.size();
        volume += r.volumePt3;
        closed = closed && r.closed();
        ++bodyCount[static_cast<std::size_t>(b.piece)];
        for (const base::Vec3f& p : b.body->positions)
            box.add(b.pose.apply(toDouble(p)));
    }
    out["pieces"] = Json::array();
    for (std::size_t i = 0; i < work->pieces.order.size(); ++i) {
        const work::Piece& piece = work->pieces.items.at(work->pieces.order[i]);
        out["pieces"].push_back({{"id", work->pieces.order[i]},
                                 {"text", piece.lettering.text},
                                 {"letters", piece.lettering.letterIds.size()},
                                 {"bodies", bodyCount[i]}});
    }
    out["letters"] = 0;
    for (const auto& piece : out["pieces"])
        out["letters"] = out["letters"].get<std::size_t>() + piece["letters"].get<std::size_t>();
    out["bodies"] = bodies->bodies.size();
    out["triangles"] = triangles;
    if (!box.empty())
        out["boundsPt"] = {{"low", {box.low.x, box.low.y, box.low.z}}, {"high", {box.high.x, box.high.y, box.high.z}}};
    out["volumePt3"] = volume;
    out["closed"] = closed;
    out["notices"] = Json::array();
    for (const base::Note& n : bodies->notes)
        out["notices"].push_back({{"kind", n.kind}, {"message", n.message}, {"place", n.place}});
    fmt::print("{}\n", out.dump(2));
    return kDone;
}

int runSchema()
{
    fmt::print("{}", files::schema());
    return kDone;
}

}  // namespace cli
