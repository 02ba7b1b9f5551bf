#include "session/body_maker.h"

#include <sys/resource.h>
#include <sys/syscall.h>
#include <unistd.h>

#include "base/memory.h"

namespace session {

namespace {

constexpr std::chrono::seconds kLong{2};  // then something newer does not wait for it

}  // namespace

BodyMaker::BodyMaker(work::Cache& cache, std::function<void()> onMade) : m_cache(cache), m_onMade(std::move(onMade))
{
    m_thread = std::jthread([this](const std::stop_token& stop) { run(stop); });
}

BodyMaker::~BodyMaker()
{
    m_thread.request_stop();
    {
        const std::lock_guard lock(m_mutex);
        m_current.request_stop();
    }
    m_thread.join();
}

std::uint64_t BodyMaker::want(work::Work work, double tolerancePt)
{
    const std::lock_guard lock(m_mutex);
    m_next = Wanted{++m_last, std::move(work), tolerancePt};
    if (m_busy && std::chrono::steady_clock::now() - m_began > kLong)
        m_current.request_stop();
    m_wake.notify_all();
    return m_last;
}

std::optional<BodyMaker::Made> BodyMaker::newest(std::uint64_t wanted, std::chrono::milliseconds patience)
{
    std::unique_lock lock(m_mutex);
    m_made.wait_for(lock, patience, [&] { return m_newest && m_newest->number >= wanted; });
    return m_newest;
}

std::uint64_t BodyMaker::newestNumber() const
{
    const std::lock_guard lock(m_mutex);
    return m_newest ? m_newest->number : 0;
}

void BodyMaker::run(const std::stop_token& stop)
{
    setpriority(PRIO_PROCESS, static_cast<id_t>(syscall(SYS_gettid)), 5);  // the window comes first
    for (;;) {
        std::unique_lock lock(m_mutex);
        if (!m_wake.wait(lock, stop, [&] { return m_next.has_value(); }))
            return;
        const Wanted wanted = std::move(*m_next);
        m_next.reset();
        m_current = {};
        m_busy = true;
        m_began = std::chrono::steady_clock::now();
        const std::stop_token current = m_current.get_token();
        lock.unlock();
        const auto until = std::chrono::steady_clock::now() + m_slow.load();
        while (std::chrono::steady_clock::now() < until && !current.stop_requested())
            std::this_thread::sleep_for(std::chrono::milliseconds(1));
        auto bodies =
            base::withinMemory([&] { return work::makeBodies(wanted.work, wanted.tolerancePt, m_cache, base::Progress(current)); });
        lock.lock();
        m_busy = false;
        // What failed and is not wanted any more leaves the last ones.
        if (!bodies && (bodies.error().code == base::ErrorCode::Stopped || m_next))
            continue;
        m_newest = Made{wanted.number, std::move(bodies)};
        m_made.notify_all();
        lock.unlock();
        m_onMade();
    }
}

}  // namespace session
