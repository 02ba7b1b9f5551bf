// What it is like to walk round: pictures a second, and how far each is from the clean picture of the same view.
//
//   open-glow-bench-walk DEMO [FOLDER]     one JSON on standard output; pictures of the walk and the rest after it go to FOLDER
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <condition_variable>
#include <filesystem>
#include <mutex>
#include <nlohmann/json.hpp>

#include "files/picture_file.h"
#include "files/work_file.h"
#include "session/edits.h"
#include "session/render_queue.h"

namespace {

using Json = nlohmann::ordered_json;
using Clock = std::chrono::steady_clock;
using Picture = picture::Raster<std::uint8_t>;

constexpr int kSteps = 24;            // pictures of a walk
constexpr double kDegrees = 1.5;      // between two of them
constexpr double kRestSeconds = 3;    // looked at after the walk
constexpr std::uint32_t kClean = 96;  // samples of the reference

work::Work fourLampGold()
{
    work::FontChoice font;
    font.style = "Bold";
    work::Work work = work::newWork("GALEPOINT", font, {1920, 1080, work::Unit::Px, 72});
    work::Piece& piece = work.pieces.items.at("p1");
    piece.slab()->depthPt = 60;
    piece.slab()->front = {8, 8, solid::Profile::Roundover, 8};
    piece.material.piece.baseColour = {0.9f, 0.62f, 0.22f};
    piece.material.piece.metallic = 1;
    piece.material.piece.roughness = 0.25f;
    work.view().perspective = true;
    work.view().rise = 8;
    while (work.lights.order.size() < 4)
        session::addLight(work, work.lights.order.size() == 2 ? light::LightKind::Spot : light::LightKind::Softbox);
    return work;
}

work::Work fortyLetters()
{
    work::FontChoice font;
    font.style = "Bold";
    work::Work work = work::newWork("Kites fly over\nthe long dunes at\nGalepoint in May", font, {1920, 1080, work::Unit::Px, 72});
    work.view().perspective = true;
    return work;
}

// Of a picture as large as it came, shown in the size of the other: linear between pixels, as the window shows it.
Picture inSizeOf(const Picture& a, const Picture& b)
{
    Picture result(b.width, b.height, 3);
    const auto at = [](double v, int size, int& first) {
        v = std::clamp(v - 0.5, 0.0, size - 1.0);
        first = std::min(static_cast<int>(v), std::max(0, size - 2));
        return v - first;
    };
    for (int y = 0; y < b.height; ++y)
        for (int x = 0; x < b.width; ++x) {
            int x0 = 0, y0 = 0;
            const double u = at((x + 0.5) * a.width / b.width, a.width, x0), v = at((y + 0.5) * a.height / b.height, a.height, y0);
            for (int c = 0; c < 3; ++c) {
                const auto row = [&](int r) { return a.at(x0, r)[c] * (1 - u) + a.at(x0 + 1, r)[c] * u; };
                result.at(x, y)[c] = static_cast<std::uint8_t>(row(y0) * (1 - v) + row(y0 + 1) * v + 0.5);
            }
        }
    return result;
}

double rmse(const Picture& shown, const Picture& b)
{
    const Picture& a = shown.width == b.width && shown.height == b.height ? shown : inSizeOf(shown, b);
    double sum = 0;
    for (std::size_t i = 0; i < a.values.size(); ++i) {
        const double d = double(a.values[i]) - b.values[i];
        sum += d * d;
    }
    return std::sqrt(sum / double(a.values.size()));
}

double rounded(double v)
{
    return std::round(v * 100) / 100;
}

// Frames as they come.
struct Screen {
    std::mutex mutex;
    std::condition_variable come;
    std::vector<session::LiveFrame> frames;
    std::vector<Clock::time_point> times;

    void take(const session::LiveFrame& frame)
    {
        const std::lock_guard lock(mutex);
        frames.push_back(frame);
        times.push_back(Clock::now());
        come.notify_all();
    }
    session::LiveFrame waitFor(std::uint64_t job, bool finished)
    {
        std::unique_lock lock(mutex);
        const auto isThere = [&] { return !frames.empty() && frames.back().job >= job && (!finished || frames.back().finished); };
        come.wait(lock, isThere);
        return frames.back();
    }
};

Json walkRound(session::RenderQueue& queue, Screen& screen, const std::string& name, work::Work work, const std::string& folder)
{
    const int height = static_cast<int>(std::lround(std::sqrt(960.0 * 540 * work.sheet().heightPt() / work.sheet().widthPt())));
    const int width = static_cast<int>(std::lround(height * work.sheet().widthPt() / work.sheet().heightPt()));
    const auto ask = [&](std::uint32_t samples) {
        return queue.live({work, width, height, {}, {samples, 0, 0}, 0, denoise::Mode::Full, {}, false, false});
    };
    const auto save = [&](const session::LiveFrame& frame, const std::string& what) {
        if (!folder.empty())
            (void)files::savePng(*frame.picture, 72, fmt::format("{}/{}-{}.png", folder, name, what));
    };
    screen.waitFor(ask(2), true);
    std::vector<double> views;
    std::vector<session::LiveFrame> shown;
    const auto begin = Clock::now();
    for (int i = 0; i < kSteps; ++i) {
        work.view().walk += kDegrees;
        views.push_back(work.view().walk);
        shown.push_back(screen.waitFor(ask(64), false));
    }
    const double seconds = std::chrono::duration<double>(Clock::now() - begin).count();
    // It rests: how the picture becomes clean.
    std::this_thread::sleep_for(std::chrono::duration<double>(kRestSeconds));
    std::vector<session::LiveFrame> rest;
    std::vector<double> restTimes;
    const auto rested = Clock::now();
    {
        const std::lock_guard lock(screen.mutex);
        for (std::size_t i = 0; i < screen.frames.size(); ++i)
            if (screen.frames[i].job == shown.back().job) {
                rest.push_back(screen.frames[i]);
                restTimes.push_back(std::chrono::duration<double>(screen.times[i] - rested).count() + kRestSeconds);
            }
    }
    Json result{{"picturesPerSecond", rounded(kSteps / seconds)}};
    // Against clean pictures: the last and two before it.
    std::vector<double> errors;
    Picture last;
    for (const int i : {kSteps / 2, kSteps - 2, kSteps - 1}) {
        work.view().walk = views[static_cast<std::size_t>(i)];
        const session::LiveFrame clean = screen.waitFor(ask(kClean), true);
        errors.push_back(rmse(*shown[static_cast<std::size_t>(i)].picture, *clean.picture));
        save(shown[static_cast<std::size_t>(i)], fmt::format("walk{}", i));
        last = *clean.picture;
        if (i == kSteps - 1)
            save(clean, "clean");
    }
    result["errorWalking"] = rounded(std::max({errors[0], errors[1], errors[2]}));
    Json after = Json::array();
    for (std::size_t i = 0; i < rest.size(); ++i) {
        after.push_back({{"width", rest[i].widthPx},
                         {"seconds", rounded(restTimes[i])},
                         {"samples", rounded(rest[i].status.samples)},
                         {"error", rounded(rmse(*rest[i].picture, last))},
                         {"change", i > 0 ? rounded(rmse(*rest[i].picture, *rest[i - 1].picture)) : 0}});
        save(rest[i], fmt::format("rest{}", i));
    }
    result["rest"] = after;
    // A letter typed while the film is at work, as in the window.
    std::vector<double> typed;
    for (int i = 0; i < 9; ++i) {
        work::Piece& piece = work.pieces.items.begin()->second;
        work::setText(piece, piece.lettering()->text + "abcdefghi"[i]);
        const auto from = Clock::now();
        screen.waitFor(ask(64), false);
        typed.push_back(std::chrono::duration<double, std::milli>(Clock::now() - from).count());
        std::this_thread::sleep_for(std::chrono::milliseconds(300));
    }
    std::sort(typed.begin(), typed.end());
    result["letterTypedMs"] = rounded(typed[typed.size() / 2]);
    return result;
}

}  // namespace

int main(int argc, char** argv)
{
    const auto demo = argc >= 2 ? files::openWork(argv[1]) : base::Result<work::Work>(work::Work());
    if (argc < 2 || argc > 3 || !demo) {
        fmt::print(stderr, "usage: open-glow-bench-walk DEMO [FOLDER]\n");
        return 2;
    }
    const std::string kept = "/tmp/open-glow-bench-" + std::to_string(getpid());
    Json result;
    {
        Screen screen;
        session::RenderQueue queue(
            session::FinalStore(kept), [&](const session::LiveFrame& frame) { screen.take(frame); }, [](const session::FinalStatus&) {});
        const std::pair<const char*, work::Work> scenes[] = {
            {"four-lamp gold", fourLampGold()}, {"demo", *demo}, {"forty letters", fortyLetters()}};
        for (const auto& [name, work] : scenes)
            result[name] = walkRound(queue, screen, name, work, argc == 3 ? argv[2] : "");
    }
    std::filesystem::remove_all(kept);
    fmt::print("{}\n", result.dump(1));
    return 0;
}
