#include "session/live_render.h"

#include <sys/resource.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace session {

LiveRender::LiveRender(std::function<void(Frame)> show) : m_show(std::move(show))
{
    m_worker = std::jthread([this](std::stop_token stop) { run(std::move(stop)); });
}

LiveRender::~LiveRender()
{
    m_worker.request_stop();
    const std::lock_guard lock(m_mutex);
    m_current.request_stop();
}

std::uint64_t LiveRender::start(work::Work work, int widthPx, int heightPx, const render::StopRule& stop)
{
    const std::lock_guard lock(m_mutex);
    m_current.request_stop();
    m_next = Job{++m_lastNumber, std::move(work), widthPx, heightPx, stop, {}};
    m_wake.notify_one();
    return m_lastNumber;
}

void LiveRender::run(std::stop_token stop)
{
    setpriority(PRIO_PROCESS, static_cast<id_t>(syscall(SYS_gettid)), 5);  // the window comes first
    while (!stop.stop_requested()) {
        std::unique_lock lock(m_mutex);
        if (!m_wake.wait(lock, stop, [&] { return m_next.has_value(); }))
            return;
        const Job job = std::move(*m_next);
        m_next.reset();
        m_current = job.source;
        lock.unlock();
        renderJob(job);
    }
}

void LiveRender::renderJob(const Job& job)
{
    work::StillSettings settings;
    settings.widthPx = job.widthPx;
    settings.heightPx = job.heightPx;
    settings.stop = job.stop;
    settings.gentle = true;
    const auto show = [&](const picture::Raster<float>& encoded, const render::RoundStatus& status, const base::Notes& notes, bool finished) {
        m_show({job.number, std::make_shared<const picture::Raster<std::uint8_t>>(finish::to8Bits(encoded)), status, notes, finished, {}});
    };
    settings.onRound = [&](const render::RoundStatus& status, const work::Still& still) {
        show(finish::develop(*still.film, still.develop), status, still.notes, false);
    };
    auto still = work::makeStill(job.work, settings, m_cache, base::Progress(job.source.get_token()));
    if (!still) {
        if (still.error().code != base::ErrorCode::Stopped)
            m_show({job.number, nullptr, {}, {}, true, still.error()});
        return;
    }
    if (still->report.reason != render::Stopped::ByRequest)
        show(still->picture, {still->report.samples, still->report.noise, 0}, still->notes, true);
}

}  // namespace session
