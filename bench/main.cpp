// What Open Glow is held to, measured: medians of several runs, as one JSON on standard output.
//
//   open-glow-bench WORK            solids, renders and memory; WORK is the scene of the render measures
//   open-glow-bench --transport WORK           rays per second, against the same rays replayed without shading
//   open-glow-bench --final WORK WIDTH NOISE   a final until it is clean: seconds, samples, memory, and how well the time was told
//   open-glow-bench --lines         bodies after a change of lettering along and between lines, and of a cut
//   open-glow-bench --layers        ms to develop a picture with each kind of layer, and with fourteen
//   open-glow-bench --glyphs N      makes bodies of N glyphs of the fonts on this machine and counts what is wrong
#include <fmt/format.h>
#include <fontconfig/fontconfig.h>
#include <sys/resource.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <filesystem>
#include <functional>
#include <mutex>
#include <nlohmann/json.hpp>
#include <random>
#include <set>

#include "base/file.h"
#include "base/parallel.h"
#include "files/artwork.h"
#include "files/work_file.h"
#include "outline/outline.h"
#include "outline/trace.h"
#include "render/camera.h"
#include "render/integrator.h"
#include "render/render.h"
#include "session/edits.h"
#include "session/render_queue.h"
#include "solid/check.h"
#include "solid/domed.h"
#include "solid/slab.h"
#include "solid/tube.h"
#include "work/artwork.h"
#include "work/make_still.h"
#include "work/properties.h"
#include "work/typeset.h"

namespace {

using Json = nlohmann::ordered_json;
using Clock = std::chrono::steady_clock;

double milliseconds(const std::function<void()>& run)
{
    const auto start = Clock::now();
    run();
    return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

Json median(int runs, const std::function<double()>& measure)
{
    std::vector<double> values;
    for (int i = 0; i < runs; ++i)
        values.push_back(measure());
    std::sort(values.begin(), values.end());
    const auto rounded = [](double v) { return std::round(v * 100) / 100; };
    return {{"median", rounded(values[values.size() / 2])},
            {"least", rounded(values.front())},
            {"most", rounded(values.back())},
            {"runs", runs}};
}

// A 12-letter word with an 8-segment roundover at full HD: whole, and with one letter changed.
Json benchWord(const std::string& family, const std::string& style)
{
    work::FontChoice font;
    font.family = family;
    font.style = style;
    const std::string text = "GALEPOINTFLY";
    work::Work work = work::newWork(text, font, {1920, 1080, work::Unit::Px, 72});
    work::Piece& piece = work.pieces.items.at("p1");
    piece.lettering()->layout.sizePt = 180;
    const double tolerance = work::toleranceFor(work.sheet(), 1920);
    work::Cache fonts;
    (void)work::makeBodies(work, tolerance, fonts, {});
    Json result;
    std::size_t triangles = 0;
    result["wholeMs"] = median(15, [&] {
        work::Cache cache;
        base::Notes notes;
        (void)work::openFont(work, font, cache, notes);
        return milliseconds([&] {
            const auto bodies = work::makeBodies(work, tolerance, cache, {});
            triangles = 0;
            for (const auto& b : bodies->bodies)
                triangles += b.body->triangles.size();
        });
    });
    result["triangles"] = triangles;
    result["oneLetterChangedMs"] = median(15, [&] {
        work::Cache cache;
        (void)work::makeBodies(work, tolerance, cache, {});
        work::Work changed = work;
        work::setText(changed.pieces.items.at("p1"), "GALEPOINTFRY");
        return milliseconds([&] { (void)work::makeBodies(changed, tolerance, cache, {}); });
    });
    return result;
}

// Bodies at 960 px after a hand's change: a letter typed into forty that run round a circle (all others and none of them cached), a point
// of two lines moved, and the gap of a cut through a long word.
Json benchLines()
{
    work::FontChoice font;
    font.family = "League Spartan";
    font.style = "Bold";
    const auto bodiesAfter = [](const work::Work& work, const std::function<void(work::Work&, int)>& change, bool known) {
        const double tolerance = work::toleranceFor(work.sheet(), 960);
        int run = 0;
        return median(15, [&, tolerance] {
            work::Cache cache;
            work::Work changed = work;
            if (known)
                (void)work::makeBodies(work, tolerance, cache, {});
            change(changed, ++run);
            return milliseconds([&] { (void)work::makeBodies(changed, tolerance, cache, {}); });
        });
    };
    Json result;
    work::Work circle = work::newWork("GALEPOINT KITE FAIR ON THE DUNES IN MAY", font, {960, 540, work::Unit::Px, 72});
    circle.pieces.items.at("p1").lettering()->layout.sizePt = 36;
    circle.pieces.items.at("p1").lettering()->run.kind = work::RunKind::Circle;
    const auto typed = [](work::Work& w, int) { work::setText(w.pieces.items.at("p1"), "GALEPOINT KITE FAIR ON THE DUNES IN JMAY"); };
    result["letterTypedRoundACircleMs"] = bodiesAfter(circle, typed, true);
    result["wholeCircleMs"] = bodiesAfter(circle, typed, false);
    work::Work lines = work::newWork("GALEPOINT", font, {960, 540, work::Unit::Px, 72});
    lines.pieces.items.at("p1").lettering()->run.kind = work::RunKind::TwoLines;
    result["twoLinesMovedMs"] = bodiesAfter(
        lines, [](work::Work& w, int run) { w.pieces.items.at("p1").lettering()->run.amount += 0.01 * run; }, true);
    work::Work cut = work::newWork("GALEPOINT", font, {960, 540, work::Unit::Px, 72});
    work::Cut across;
    across.line.points.add("n1", {-480, 0});
    across.line.points.add("n2", {480, 10});
    cut.pieces.items.at("p1").steps.add("g9", {true, across});
    result["cutMovedMs"] = bodiesAfter(
        cut,
        [](work::Work& w, int run) {
            std::get<work::Cut>(w.pieces.items.at("p1").steps.items.at("g9").what).line.points.items.at("n1").y = run;
        },
        true);
    return result;
}

// An SVG of 2,000 shapes from its bytes to a piece and its bodies, and pictures traced: two hundred discs, and noise smoothed as a
// photograph is, both 1,600 x 1,000.
Json benchArtwork()
{
    Json result;
    std::mt19937 random(3);
    const auto number = [&](int below) { return static_cast<int>(random() % static_cast<unsigned>(below)); };
    std::string svg = "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"1000\" height=\"600\">";
    for (int i = 0; i < 2000; ++i)
        svg += fmt::format("<path d=\"M{} {}q{} {} 12 14q-9 8 -12 3z\" fill=\"#{:06x}\"/>", number(980), number(580), number(16), number(9),
                           number(1 << 24));
    svg += "</svg>";
    const auto bytes = std::make_shared<const outline::Bytes>(svg.begin(), svg.end());
    work::ArtworkFile file;
    result["read2000ShapesMs"] = median(5, [&] { return milliseconds([&] { file = *files::artworkFromBytes(bytes, "it.svg", 1, {}); }); });
    result["shapes"] = file.drawing.shapes.size();
    result["bodies2000ShapesMs"] = median(5, [&] {
        work::Work work = work::emptyWork({960, 540, work::Unit::Px, 72});
        work::addArtwork(work, file);
        work::Cache cache;
        return milliseconds([&] { (void)work::makeBodies(work, work::toleranceFor(work.sheet(), 960), cache, {}); });
    });
    outline::Greys discs{1600, 1000, std::vector<std::uint8_t>(1600 * 1000, 255)}, photograph = discs;
    for (int y = 0; y < 1000; ++y)
        for (int x = 0; x < 1600; ++x) {
            const double d = std::hypot(x % 90 - 45, y % 90 - 45);
            const auto at = static_cast<std::size_t>(y * 1600 + x);
            discs.values[at] = static_cast<std::uint8_t>(std::clamp((d - 30) * 255, 0.0, 255.0));
            const double wave = std::sin(x * 0.021) + std::sin(y * 0.017 + x * 0.004) + std::sin((x + y) * 0.11) * 0.4;
            photograph.values[at] = static_cast<std::uint8_t>(std::clamp(128 + 50 * wave + number(40) - 20, 0.0, 255.0));
        }
    const auto traceMs = [](const outline::Greys& greys) {
        return median(5, [&] { return milliseconds([&] { (void)outline::traced(greys, {0.5, false, 0.75, 16}); }); });
    };
    result["traceDiscsMs"] = traceMs(discs);
    result["tracePhotographMs"] = traceMs(photograph);
    return result;
}

// Rays per second of the integrator against the same rays replayed without any shading.
Json benchTransport(const work::Work& work)
{
    work::Cache cache;
    const auto bodies = work::makeBodies(work, work::toleranceFor(work.sheet(), 480), cache, {});
    const render::Scene scene = work::makeScene(work, *bodies);
    render::Tracer tracer(scene);
    render::Integrator integrator(scene, tracer);
    const int width = 240, height = 240 * work.sheet().heightPx() / work.sheet().widthPx(), samples = 8;
    const auto traceRow = [&](int y) {
        render::PathBatch batch(scene, 1);
        std::uint64_t rays = 0;
        for (int first = 0; first < width * samples; first += render::PathBatch::kSize) {
            batch.clear();
            for (int i = first; i < std::min(width * samples, first + render::PathBatch::kSize); i += base::kLanes) {
                const auto number = reinterpret_cast<base::BitLanes>(base::WideInt::countingFrom(i).v);
                render::SamplerOf<base::Wide> sampler(number / std::uint32_t(samples), base::BitLanes{} + std::uint32_t(y),
                                                      number % std::uint32_t(samples), 0);
                const auto [u, v] = sampler.next2();
                base::V3<base::Wide> origins, directions;
                render::cameraRays(scene.camera, width, height, base::asFloat(number / std::uint32_t(samples)) + u, float(y) + v, origins,
                                   directions);
                batch.add(origins, directions, sampler, base::kLanes);
            }
            rays += integrator.trace(batch);
        }
        return rays;
    };
    std::vector<render::Tracer::RayNote> notes;
    tracer.noteRays(&notes);
    for (int y = 0; y < height; ++y)
        traceRow(y);
    tracer.noteRays(nullptr);

    Json result;
    result["scene"] = "demo";
    result["triangles"] = tracer.triangleCount();
    result["raysPerPath"] = std::round(100.0 * double(notes.size()) / (double(width) * height * samples)) / 100;
    std::vector<double> ratios, shaded, raw;
    for (int run = 0; run < 9; ++run) {
        const double ms = milliseconds([&] { base::parallelFor(std::size_t(height), [&](std::size_t y) { traceRow(int(y)); }); });
        std::atomic<std::size_t> met{0};
        constexpr std::size_t kChunk = 8192;
        const double rawMs = milliseconds([&] {
            base::parallelFor((notes.size() + kChunk - 1) / kChunk, [&](std::size_t c) {
                std::size_t count = 0;
                for (std::size_t i = c * kChunk; i < std::min(notes.size(), (c + 1) * kChunk); ++i)
                    count += tracer.meetsBody(notes[i]);
                met += count;
            });
        });
        shaded.push_back(double(notes.size()) / ms / 1000);
        raw.push_back(double(notes.size()) / rawMs / 1000);
        ratios.push_back(rawMs / ms);
    }
    const auto middle = [](std::vector<double> v) {
        std::sort(v.begin(), v.end());
        return std::round(v[v.size() / 2] * 100) / 100;
    };
    result["megaraysPerSecond"] = middle(shaded);
    result["replayedMegaraysPerSecond"] = middle(raw);
    result["ratio"] = middle(ratios);
    return result;
}

// Peak memory of a full HD still with four lights.
Json benchMemory()
{
    work::FontChoice font;
    font.style = "Bold";
    work::Work work = work::newWork("GALE POINT", font, {1920, 1080, work::Unit::Px, 72});
    while (work.lights.order.size() < 4) {
        const std::string id = work.newId("l");
        work.lights.items[id] = {};
        work.lights.items[id].direction = 60.0 * double(work.lights.order.size());
        work.lights.order.push_back(id);
    }
    work::Cache cache;
    work::StillSettings settings;
    settings.stop = {2, 0, 0};
    const auto still = work::makeStill(work, settings, cache, {});
    const auto bytes = finish::to8Bits(still->picture);
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    return {{"lights", still->film->entryCount()},
            {"peakMB", usage.ru_maxrss / 1024},
            {"filmMB", film::Film::bytesFor(still->film->shape()) >> 20},
            {"pictureBytes", bytes.values.size()}};
}

// What covers cost: the demo, its letters and wall in other materials, against itself in the same round.
Json benchCovers(const work::Work& demo)
{
    constexpr int kRuns = 7;
    std::mt19937 random(1);
    std::vector<std::uint8_t> pixels(std::size_t{4} * 2048 * 2048);
    for (std::uint8_t& v : pixels)
        v = static_cast<std::uint8_t>(random());
    for (std::size_t i = 3; i < pixels.size(); i += 4)
        pixels[i] = 255;
    const std::string asset = "pictures/noise-0123456789abcdef.png";
    const auto texture = std::make_shared<const surface::Texture>(2048, 2048, std::move(pixels));
    const std::pair<const char*, std::function<void(work::Material&)>> kinds[] = {
        {"plain", [](work::Material&) {}},
        {"coated", [](work::Material& m) { m.clearcoat = 1; }},
        {"picture", [&](work::Material& m) { m.pictures.colour = asset; }},
        {"picture with relief", [&](work::Material& m) { m.pictures.colour = m.pictures.relief = asset; }},
        {"holes", [&](work::Material& m) { m.pictures.cutOut = asset; }},
        {"brick", [](work::Material& m) { m.pattern = surface::PatternKind::Brick; }},
        {"flat brick",
         [](work::Material& m) {
             m.pattern = surface::PatternKind::Brick;
             m.patternRelief = 0;
         }},
        {"glass", [](work::Material& m) { m.transmission = 1; }}};
    work::Cache cache;
    work::StillSettings settings;
    settings.widthPx = 480;
    settings.heightPx = static_cast<int>(std::lround(480 * demo.sheet().heightPt() / demo.sheet().widthPt()));
    settings.stop = {16, 0, 0};
    settings.denoise = denoise::Mode::Off;
    std::map<std::string, std::vector<double>> ratios;
    double plain = 0;
    for (int run = -1; run < kRuns; ++run)  // the first one fills the cache
        for (const auto& [name, change] : kinds) {
            work::Work work = demo;
            work.assets[asset].texture = texture;
            for (work::Material* m : work::materialsIn(work))
                change(*m);
            const double ms = milliseconds([&] { (void)work::makeStill(work, settings, cache, {}); });
            if (std::string_view(name) == "plain")
                plain = ms;
            if (run >= 0)
                ratios[name].push_back(ms / plain);
        }
    Json result;
    for (const auto& [name, change] : kinds) {
        std::vector<double>& all = ratios[name];
        std::sort(all.begin(), all.end());
        result[name] = std::round(all[all.size() / 2] * 1000) / 1000;
    }
    return result;
}

// From a change to its first picture, as the window waits for it. The demo at about 960x540 pixels, and a wide word at exactly that.
Json benchLive(const work::Work& demo)
{
    std::mutex mutex;
    std::condition_variable come;
    std::uint64_t shown = 0, clean = 0;  // the last job that was shown, and that was shown with noise of at most 4
    const std::string folder = "/tmp/open-glow-bench-" + std::to_string(getpid());
    Json result;
    {
        session::RenderQueue queue(
            session::FinalStore(folder),
            [&](const session::LiveFrame& frame) {
                const std::lock_guard lock(mutex);
                shown = frame.job;
                if (frame.status.noise >= 0 && frame.status.noise <= 4)
                    clean = frame.job;
                come.notify_all();
            },
            [](const session::FinalStatus&) {});
        const auto waitFor = [&](const work::Work& work, int width, int height) {
            return milliseconds([&] {
                const std::uint64_t job = queue.live({work, width, height, {}, {4096, 0, 1.5}, 0, denoise::Mode::Full, {}, false, false});
                std::unique_lock lock(mutex);
                come.wait(lock, [&] { return shown >= job; });
            });
        };
        work::FontChoice font;
        font.style = "Bold";
        const std::pair<const char*, work::Work> scenes[] = {
            {"demo", demo}, {"wide word", work::newWork("GALE POINT", font, {960, 540, work::Unit::Px, 72})}};
        for (const auto& [name, start] : scenes) {
            work::Work work = start;
            const int height = static_cast<int>(std::lround(std::sqrt(960.0 * 540 * work.sheet().heightPt() / work.sheet().widthPt())));
            const int width = static_cast<int>(std::lround(height * work.sheet().widthPt() / work.sheet().heightPt()));
            waitFor(work, width, height);
            work::Piece& piece = work.pieces.items.begin()->second;
            const std::pair<const char*, std::function<void()>> changes[] = {
                {"viewMs", [&] { work.view().walk += 1; }},
                {"lightMs", [&] { work.lights.items.begin()->second.direction += 1; }},
                {"materialMs", [&] { piece.material.piece.roughness = piece.material.piece.roughness > 0.5f ? 0.4f : 0.6f; }},
                {"geometryMs", [&] { piece.slab()->depthPt += 1; }}};
            for (const auto& [what, change] : changes)
                result[name][what] = median(15, [&] {
                    change();
                    // The film is at work when the change comes, as it is in the window.
                    std::this_thread::sleep_for(std::chrono::milliseconds(300));
                    return waitFor(work, width, height);
                });
            result[name]["cleanMs"] = median(3, [&] {
                work.lights.items.begin()->second.direction += 1;
                return milliseconds([&] {
                    const std::uint64_t job =
                        queue.live({work, width, height, {}, {4096, 0, 1.5}, 0, denoise::Mode::Full, {}, false, false});
                    std::unique_lock lock(mutex);
                    come.wait(lock, [&] { return clean >= job; });
                });
            });
            // Mixed from the film that is there.
            std::this_thread::sleep_for(std::chrono::seconds(3));
            result[name]["brightnessMs"] = median(15, [&] {
                work.lights.items.begin()->second.stops += 0.01;
                std::this_thread::sleep_for(std::chrono::milliseconds(100));
                return waitFor(work, width, height);
            });
            const double tolerance = work::toleranceFor(work.sheet(), width);
            result[name]["solidsAloneMs"] = median(15, [&] {
                piece.slab()->depthPt += 1;
                work::Cache cache;
                base::Notes notes;
                (void)work::openFont(work, piece.lettering()->font, cache, notes);
                return milliseconds([&] { (void)work::makeBodies(work, tolerance, cache, {}); });
            });
        }
    }
    std::filesystem::remove_all(folder);
    return result;
}

Json benchFinal(const work::Work& work, int width, double noise)
{
    const auto begin = Clock::now();
    const auto since = [&] { return std::chrono::duration<double>(Clock::now() - begin).count(); };
    work::StillSettings settings;
    settings.widthPx = width;
    settings.heightPx = static_cast<int>(std::lround(width * work.sheet().heightPt() / work.sheet().widthPt()));
    settings.stop = {1024, 0, noise};
    std::vector<std::pair<double, double>> told;  // when, and what was left
    Json rounds = Json::array();
    settings.sink.onRound = [&](const render::RoundStatus& status) {
        told.emplace_back(since(), status.secondsLeft);
        rounds.push_back({std::round(since() * 10) / 10, std::round(status.samples * 10) / 10, std::round(status.noise * 100) / 100});
    };
    work::Cache cache;
    const auto still = work::makeStill(work, settings, cache, {});
    const double seconds = since();
    double worst = 1;  // of what was told after a tenth of the time, against how it was
    for (const auto& [when, left] : told)
        if (when >= seconds / 10 && when < 0.9 * seconds && left >= 0)
            worst = std::max({worst, (when + left) / seconds, seconds / (when + left)});
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    return {{"px", {settings.widthPx, settings.heightPx}},
            {"seconds", seconds},
            {"samples", still->report.samples},
            {"noise", still->report.noise},
            {"raysPerPath", static_cast<double>(still->report.rays) / static_cast<double>(still->report.paths)},
            {"peakMB", usage.ru_maxrss / 1024},
            {"timeToldWrongBy", worst},
            {"rounds", rounds}};
}

base::Result<solid::Body> bodyOf(const outline::Outline& outline, const work::Form& form, double tolerancePt)
{
    if (const auto* domed = std::get_if<solid::DomedForm>(&form))
        return solid::makeDomed(outline, *domed, tolerancePt, {});
    if (const auto* tube = std::get_if<solid::TubeForm>(&form))
        return solid::makeTube(outline, *tube, tolerancePt, {});
    return solid::makeSlab(outline, std::get<solid::SlabForm>(form), tolerancePt, {});
}

solid::SlabForm grown(solid::SlabForm form)
{
    form.grownOut = true;
    return form;
}

solid::SlabForm fluted(solid::SlabForm form, double draft, int flutes)
{
    form.draft = draft;
    form.flutes = {flutes, 0.8, {}};
    return form;
}

const std::pair<const char*, work::Form> kGlyphForms[] = {
    {"roundover, wide chamfer", solid::SlabForm{24, {3, 3, solid::Profile::Roundover, 8}, {60, 9}}},
    {"terraces, ogee, mitred",
     solid::SlabForm{24, {30, 9, solid::Profile::Terraces, 7}, {2, 3, solid::Profile::Ogee, 6}, solid::Corners::Mitred}},
    {"inlay", solid::SlabForm{24, {0.5, 0.5}, {}, solid::Corners::Round, {}, {1, 4, 0.7, solid::Profile::Cove, 4}}},
    {"grown out, round", grown({24, {3, 4, solid::Profile::Roundover, 5}, {1, 1}})},
    {"grown out over every counter",
     grown({24, {60, 9, solid::Profile::Ogee, 6}, {25, 5, solid::Profile::Terraces, 3}, solid::Corners::Flat})},
    {"grown out, drawn", grown({24, {2, 4, solid::Profile::Drawn, 5}, {}, solid::Corners::Mitred})},
    {"draft", fluted({24, {2, 2, solid::Profile::Roundover, 4}, {}, solid::Corners::Flat}, 5, 0)},
    {"steep draft to the back", fluted({24, {1, 1}, {1, 2, solid::Profile::Cove, 3}, solid::Corners::Mitred}, -40, 0)},
    {"fluted", fluted({24, {1, 1}, {}, solid::Corners::Round}, 3, 4)},
    {"cushion", solid::DomedForm{0, 1, 1}},
    {"pillow", solid::DomedForm{0, 1, 0, 0.8}},
    {"tent", solid::DomedForm{6, 0.6, 0, -1, 0.5}},
    {"tube", solid::TubeForm{3}},
    {"tubes over each other", solid::TubeForm{3, 0, solid::TubePath::Centre, solid::TubeSection::Round, 0, false, 1, true, 3, 20, true}},
    {"rope outline", solid::TubeForm{3, 0, solid::TubePath::Outline, solid::TubeSection::Rope}}};

// A word of twelve letters at the tolerance of a full-HD sheet, in each form: all of it, coarse as while dragging, and one letter.
Json benchForms(const work::Work& fonts)
{
    solid::SlabForm twisted{24, {3, 3, solid::Profile::Roundover, 8}};
    twisted.along.twist = 60;
    const std::pair<const char*, work::Form> forms[] = {{"slab", solid::SlabForm{24, {3, 3, solid::Profile::Roundover, 8}}},
                                                        {"inlay", solid::SlabForm{24, {1, 1}, {}, solid::Corners::Round, {}, {1, 4, 1}}},
                                                        {"grownOut", grown({24, {3, 3, solid::Profile::Roundover, 8}})},
                                                        {"fluted", fluted({24, {1, 1}}, 3, 4)},
                                                        {"domed", solid::DomedForm{0, 1, 1}},
                                                        {"tube", solid::TubeForm{4}},
                                                        {"twistedSlab", twisted}};
    Json result;
    const auto wordWith = [&](const work::Form& form) {
        work::Work work =
            work::newWork("Kitesurfgale", fonts.pieces.items.begin()->second.lettering()->font, {1920, 1080, work::Unit::Px, 72});
        work.assets = fonts.assets;
        work::Piece& piece = work.pieces.items.begin()->second;
        work::scaleTo(piece, 260);
        piece.form = form;
        return work;
    };
    const auto measure = [&](const char* name, const work::Work& work) {
        const double tolerance = work::toleranceFor(work.sheet(), 1920);
        const auto bodiesOf = [&](const work::Work& what, double t) {
            return median(5, [&] {
                work::Cache cache;
                return milliseconds([&] { (void)work::makeBodies(what, t, cache, {}); });
            });
        };
        work::Work one = work;
        work::setText(one.pieces.items.at("p1"), "K");
        result[name] = {{"finalMs", bodiesOf(work, tolerance)},
                        {"draggingMs", bodiesOf(work, 8 * tolerance)},
                        {"oneLetterMs", bodiesOf(one, tolerance)}};
    };
    for (const auto& [name, form] : forms)
        measure(name, wordWith(form));
    work::Work plates = wordWith(solid::SlabForm{24, {3, 3, solid::Profile::Roundover, 8}});
    session::Choice choice;
    choice.set({"p1", {}});
    session::addPlates(plates, choice, true, true);
    measure("slabWithPlateAndRim", plates);
    return result;
}

Json benchGlyphs(int wanted)
{
    FcPattern* all = FcPatternCreate();
    FcObjectSet* what = FcObjectSetBuild(FC_FILE, FC_INDEX, nullptr);
    FcFontSet* fonts = FcFontList(nullptr, all, what);
    std::set<std::string> paths;
    for (int i = 0; i < fonts->nfont; ++i) {
        FcChar8* file = nullptr;
        if (FcPatternGetString(fonts->fonts[i], FC_FILE, 0, &file) == FcResultMatch)
            paths.insert(reinterpret_cast<const char*>(file));
    }
    FcFontSetDestroy(fonts);
    FcObjectSetDestroy(what);
    FcPatternDestroy(all);

    const int perFont = wanted / std::max<int>(1, int(paths.size())) + 1;
    std::atomic<int> glyphs{0}, bodies{0}, open{0}, folded{0}, failed{0};
    const std::vector<std::string> list(paths.begin(), paths.end());
    std::vector<std::string> faults(list.size());
    std::vector<std::array<double, std::size(kGlyphForms)>> spent(list.size());  // ms, by font and form
    const double ms = milliseconds([&] {
        base::parallelFor(list.size(), [&](std::size_t f) {
            auto bytes = base::readFile(list[f]);
            if (!bytes)
                return;
            const auto font = outline::Font::open(std::make_shared<const outline::Bytes>(std::move(*bytes)), 0, "", list[f]);
            if (!font)
                return;
            const int step = std::max(1, (*font)->glyphCount() / perFont);
            for (int g = 1; g < (*font)->glyphCount(); g += step) {
                outline::Layout layout;
                layout.glyphs = {{std::uint32_t(g), 0, {}}};
                const auto outlined = outline::outlineLayout(layout, "x", **font, {120, 0.0625, {}}, {});
                glyphs += !outlined->outlines.empty();
                for (const auto& placed : outlined->outlines)
                    for (std::size_t n = 0; n < std::size(kGlyphForms); ++n) {
                        const auto& [name, form] = kGlyphForms[n];
                        ++bodies;
                        base::Result<solid::Body> body = base::fail(base::ErrorCode::Stopped, "");
                        const double taken = milliseconds([&] { body = bodyOf(*placed.outline, form, 0.0625); });
                        spent[f][n] += taken;
                        if (!body) {
                            ++failed;
                            faults[f] += fmt::format("{} glyph {} {}: {}; ", list[f], g, name, body.error().message);
                            continue;
                        }
                        const solid::BodyReport report = solid::inspect(*body);
                        const bool isTube = std::holds_alternative<solid::TubeForm>(form);
                        const auto* slab = std::get_if<solid::SlabForm>(&form);
                        open += !report.closed();
                        const bool folds =
                            !isTube && !(slab && !slab->flutes.none()) && report.foldedAreaPt2 > 1e-5 * outline::area(*placed.outline);
                        folded += folds;
                        if (!report.closed() || folds)
                            faults[f] += fmt::format("{} glyph {} {}: {} unpaired, {} repeated, {} folded; ", list[f], g, name,
                                                     report.unpairedEdges, report.repeatedEdges, report.foldedAreaPt2);
                    }
            }
        });
    });
    Json result{{"fonts", list.size()},
                {"glyphs", glyphs.load()},
                {"bodies", bodies.load()},
                {"failed", failed.load()},
                {"open", open.load()},
                {"folded", folded.load()},
                {"msPerBody", std::round(ms / std::max(1, bodies.load()) * 100) / 100}};
    for (std::size_t n = 0; n < std::size(kGlyphForms); ++n) {
        double sum = 0;
        for (const auto& ofFont : spent)
            sum += ofFont[n];
        result["msPerForm"][kGlyphForms[n].first] = std::round(sum * std::size(kGlyphForms) / std::max(1, bodies.load()) * 100) / 100;
    }
    for (const std::string& fault : faults)
        if (!fault.empty())
            result["faults"].push_back(fault);
    return result;
}

// A picture developed anew with each kind of layer, and with fourteen at once, as a slider's step does it.
Json benchLayers()
{
    constexpr const auto& kKinds = work::Kinds<decltype(work::Layer::what)>::names;
    Json result;
    for (const auto& [width, height] : {std::pair(960, 540), std::pair(1920, 1080)}) {
        film::LightShares shares({width, height, 0, 0, width, height, {{"l1"}, {"l2"}, {"l3"}}});
        std::mt19937 random(3);
        std::uniform_real_distribution<float> uniform;
        for (float& v : shares.values)
            v = uniform(random);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                *shares.at(x, y) = 1;
                film::RankedIds ids;
                ids.ids[0] = {static_cast<std::uint16_t>(16 * x / width % 2), static_cast<std::uint16_t>(1 + 4 * y / height), 1};
                ids.shares[0] = 1;
                shares.ids.push_back(ids);
            }
        finish::DevelopSettings settings;
        settings.desk = {{1, 0.9f, 0.8f}, {0.2f, 0.2f, 0.3f}, {0.4f, 0.4f, 0.4f}};
        settings.widthPt = 1920;
        Json& of = result[fmt::format("{}x{}", width, height)];
        work::Work work;
        const auto measure = [&](const char* name) {
            settings.layers = work::layersOf(work);
            of[name] = median(9, [&] { return milliseconds([&] { (void)finish::to8Bits(finish::develop(shares, settings)); }); });
            work.finish.layers = {};
        };
        measure("without");
        for (std::size_t kind = 0; kind < std::size(kKinds); ++kind) {
            work.finish.layers.add("y1", work::layerOfKind(kind));
            measure(kKinds[kind].name);
        }
        for (const std::size_t kind : {0u, 1u, 3u, 3u, 4u, 5u, 6u, 7u, 8u, 10u, 12u, 0u, 3u, 7u}) {
            work::Layer layer = work::layerOfKind(kind);
            if (work.finish.layers.order.size() % 3 == 1)
                layer.acts = finish::Acts::Lettering;
            work.finish.layers.add(fmt::format("y{}", work.finish.layers.order.size() + 1), layer);
        }
        const work::Work fourteen = work;
        measure("fourteen");
        // A slider of one of them: what lies below is kept. While it moves the window takes as few pixels as keep up with it.
        for (const int by : {1, 2, 4})
            for (const auto& [name, moved] : {std::pair("lowest", "y1"), {"middle", "y8"}, {"top", "y14"}}) {
                const film::LightShares some = film::smaller(shares, by);
                work = fourteen;
                finish::Redeveloper again;
                const auto step = [&] {
                    work.finish.layers.items.at(moved).strength *= 0.99;
                    settings.layers = work::layersOf(work);
                    (void)finish::to8Bits(*again.develop(some, settings));
                };
                step();
                step();
                of[fmt::format("{}OfFourteen{}", name, by == 1 ? std::string() : fmt::format("By{}", by))] =
                    median(9, [&] { return milliseconds(step); });
            }
    }
    return result;
}

}  // namespace

int main(int argc, char** argv)
{
    if (argc == 3 && std::string(argv[1]) == "--glyphs") {
        fmt::print("{}\n", benchGlyphs(std::atoi(argv[2])).dump(2));
        return 0;
    }
    if (argc == 3 && std::string(argv[1]) == "--forms") {
        const auto work = files::openWork(argv[2]);
        if (work)
            fmt::print("{}\n", benchForms(*work).dump(2));
        return work ? 0 : 1;
    }
    if (argc == 2 && std::string(argv[1]) == "--artwork") {
        fmt::print("{}\n", benchArtwork().dump(2));
        return 0;
    }
    if (argc == 2 && std::string(argv[1]) == "--lines") {
        fmt::print("{}\n", benchLines().dump(2));
        return 0;
    }
    if (argc == 2 && std::string(argv[1]) == "--layers") {
        fmt::print("{}\n", benchLayers().dump(2));
        return 0;
    }
    if (argc == 3 && std::string(argv[1]) == "--covers") {
        const auto work = files::openWork(argv[2]);
        if (work)
            fmt::print("{}\n", benchCovers(*work).dump(2));
        return work ? 0 : 1;
    }
    if (argc == 3 && std::string(argv[1]) == "--live") {
        const auto work = files::openWork(argv[2]);
        if (work)
            fmt::print("{}\n", benchLive(*work).dump(2));
        return work ? 0 : 1;
    }
    if (argc == 3 && std::string(argv[1]) == "--transport") {
        const auto work = files::openWork(argv[2]);
        if (work)
            fmt::print("{}\n", benchTransport(*work).dump());
        return work ? 0 : 1;
    }
    if (argc == 5 && std::string(argv[1]) == "--final") {
        const auto work = files::openWork(argv[2]);
        if (work)
            fmt::print("{}\n", benchFinal(*work, std::atoi(argv[3]), std::atof(argv[4])).dump());
        return work ? 0 : 1;
    }
    if (argc != 2) {
        fmt::print(
            stderr,
            "usage: open-glow-bench WORK | --live WORK | --transport WORK | --covers WORK | --final WORK WIDTH NOISE | --lines | --layers "
            "| --glyphs N\n");
        return 2;
    }
    const auto work = files::openWork(argv[1]);
    if (!work) {
        fmt::print(stderr, "{}\n", base::oneLine(work.error()));
        return 1;
    }
    Json result;
    result["threads"] = base::threadCount();
    result["live"] = benchLive(*work);
    result["memoryFullHd"] = benchMemory();
    result["words"]["League Spartan Bold"] = benchWord("League Spartan", "Bold");
    result["words"]["Lobster Two Bold"] = benchWord("Lobster Two", "Bold");
    result["words"]["Junicode Two Beta Bold"] = benchWord("Junicode Two Beta", "Bold");
    result["lines"] = benchLines();
    result["transport"] = benchTransport(*work);
    fmt::print("{}\n", result.dump(2));
    return 0;
}
