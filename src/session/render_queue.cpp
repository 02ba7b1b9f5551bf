#include "session/render_queue.h"

#include <sys/resource.h>
#include <sys/syscall.h>
#include <unistd.h>

#include <algorithm>

#include "session/render_jobs.h"

namespace session {

RenderQueue::RenderQueue(FinalStore store, std::function<void(LiveFrame)> onLive, std::function<void(FinalStatus)> onFinal)
    : m_store(std::move(store)), m_onLive(std::move(onLive)), m_onFinal(std::move(onFinal)), m_maker(m_cache, [this] {
          const std::lock_guard lock(m_mutex);
          if (m_exposesFinal)  // new bodies come first
              m_current.request_stop();
          m_wake.notify_all();
      })
{
    m_worker = std::jthread([this](std::stop_token stop) { run(std::move(stop)); });
}

RenderQueue::~RenderQueue()
{
    m_worker.request_stop();
    {
        const std::lock_guard lock(m_mutex);
        m_current.request_stop();
    }
    m_worker.join();
}

std::uint64_t RenderQueue::live(LiveRequest request)
{
    const std::lock_guard lock(m_mutex);
    m_current.request_stop();
    m_next = std::move(request);
    m_wake.notify_all();
    return ++m_lastNumber;
}

void RenderQueue::hold(bool held)
{
    const std::lock_guard lock(m_mutex);
    m_held = held;
    m_current.request_stop();
    m_wake.notify_all();
}

void RenderQueue::startFinal(const Final& final)
{
    const std::lock_guard lock(m_mutex);
    const bool there = std::any_of(m_finals.begin(), m_finals.end(), [&](const auto& f) { return f->final.folder == final.folder; });
    if (there)
        return;
    m_finals.push_back(std::make_unique<Running>(Running{final, {}, 0, false, false, {}}));
    m_current.request_stop();
    m_wake.notify_all();
}

void RenderQueue::stopFinal(const std::string& folder, bool save)
{
    const std::lock_guard lock(m_mutex);
    for (auto& f : m_finals)
        if (f->final.folder == folder) {
            f->stop = true;
            f->save = save;
            m_current.request_stop();
        }
    m_wake.notify_all();
}

void RenderQueue::run(std::stop_token stop)
{
    setpriority(PRIO_PROCESS, static_cast<id_t>(syscall(SYS_gettid)), 5);  // the window comes first
    while (!stop.stop_requested()) {
        std::unique_lock lock(m_mutex);
        const auto liveCanGoOn = [&] {
            return m_live && m_live->ready && !m_live->behind() && !m_live->finished && !m_held &&
                   (m_finals.empty() || m_live->samples < kBesideFinal);
        };
        const auto bodiesCame = [&] { return m_live && m_live->behind() && m_maker.newestNumber() > m_live->shown; };
        if (!m_wake.wait(lock, stop, [&] { return m_next.has_value() || !m_finals.empty() || bodiesCame() || liveCanGoOn(); }))
            return;
        m_current = {};
        if (m_next) {
            if (m_shown && !m_next->quiet && m_shown->keepsFilmFor(*m_next))
                m_live = std::move(m_shown);
            const bool keepsFilm = m_live && m_live->keepsFilmFor(*m_next);
            const LiveRequest before = m_live ? m_live->request : LiveRequest{};
            if (!keepsFilm) {
                if (m_next->quiet && !(m_live && m_live->request.quiet))
                    m_shown = std::move(m_live);
                m_live = std::make_unique<Live>();
            }
            if (!m_next->quiet)
                m_shown.reset();
            m_live->request = std::move(*m_next);
            m_live->number = m_lastNumber;
            m_next.reset();
            lock.unlock();
            within(*m_live, [&] { keepsFilm ? mixAnew(*m_live, before) : draft(*m_live); });
            continue;
        }
        if (bodiesCame()) {
            lock.unlock();
            within(*m_live, [&] { draft(*m_live); });
            continue;
        }
        if (liveCanGoOn()) {
            const bool besideFinal = !m_finals.empty();
            lock.unlock();
            within(*m_live, [&] { sharpen(*m_live, besideFinal); });
            if (m_live->finished && m_live->film) {
                m_shown.reset();
                m_live->request.quiet = false;  // it is what is seen now
            }
            continue;
        }
        Running& first = *m_finals.front();
        if (first.stop) {
            std::unique_ptr<Running> stopped = std::move(m_finals.front());
            m_finals.erase(m_finals.begin());
            lock.unlock();
            if (!saveStopped(*stopped)) {
                lock.lock();
                m_finals.insert(m_finals.begin(), std::move(stopped));  // the live picture came first
            }
            continue;
        }
        m_exposesFinal = true;
        lock.unlock();
        expose(first);
        lock.lock();
        m_exposesFinal = false;
    }
}

std::stop_token RenderQueue::interruption()
{
    const std::lock_guard lock(m_mutex);
    return m_current.get_token();
}

bool RenderQueue::isOutdated()
{
    const std::lock_guard lock(m_mutex);
    if (m_next || m_worker.get_stop_token().stop_requested())
        return true;
    m_current = {};  // whoever else wanted the worker waits for this picture
    return false;
}

}  // namespace session
