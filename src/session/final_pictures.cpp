// Finals: exposed as long as nobody wants anything else, stopped, saved.
#include <fmt/format.h>

#include <algorithm>
#include <thread>

#include "base/file_lock.h"
#include "base/memory.h"
#include "files/render_still.h"
#include "files/work_json.h"
#include "session/render_jobs.h"

namespace session {

namespace {

std::string finalKey(const Final& f)
{
    return files::filmKey(f.work, f.settings.seed);
}

}  // namespace

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
