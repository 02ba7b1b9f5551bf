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
    m_last += 2;
    m_next = Wanted{m_last, std::move(work), tolerancePt};
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
        auto bodies = makeQuickly(wanted, current);
        if (!bodies) {
            // Coarse bodies are soon there; those that are already as they shall be come from the cache.
            if (auto coarse = make(wanted, kCoarse * wanted.tolerancePt, current))
                tell(wanted.number - 1, std::move(coarse));
            bodies = make(wanted, wanted.tolerancePt, current);
        }
        lock.lock();
        m_busy = false;
        // What failed and is not wanted any more leaves the last ones.
        if (!*bodies && (bodies->error().code == base::ErrorCode::Stopped || m_next))
            continue;
        lock.unlock();
        tell(wanted.number, std::move(*bodies));
    }
}

std::optional<base::Result<work::WorkBodies>> BodyMaker::makeQuickly(const Wanted& wanted, const std::stop_token& stop)
{
    std::stop_source end;
    const std::stop_callback ended(stop, [&] { end.request_stop(); });
    std::atomic<bool> late{false};
    std::jthread clock([&](const std::stop_token& made) {
        std::mutex mutex;
        std::condition_variable_any wait;
        std::unique_lock lock(mutex);
        if (!wait.wait_for(lock, made, kCoarseAfter, [&] { return made.stop_requested(); })) {
            late = true;
            end.request_stop();
        }
    });
    auto bodies = make(wanted, wanted.tolerancePt, end.get_token());
    clock.request_stop();
    clock.join();
    if (!bodies && bodies.error().code == base::ErrorCode::Stopped && late && !stop.stop_requested())
        return std::nullopt;
    return bodies;
}

base::Result<work::WorkBodies> BodyMaker::make(const Wanted& wanted, double tolerancePt, const std::stop_token& stop)
{
    return base::withinMemory([&] { return work::makeBodies(wanted.work, tolerancePt, m_cache, base::Progress(stop)); });
}

void BodyMaker::tell(std::uint64_t number, base::Result<work::WorkBodies> bodies)
{
    {
        const std::lock_guard lock(m_mutex);
        m_newest = Made{number, std::move(bodies)};
        m_made.notify_all();
    }
    m_onMade();
}

}  // namespace session
