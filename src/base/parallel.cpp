#include "base/parallel.h"

#include <algorithm>
#include <atomic>
#include <thread>
#include <vector>

#ifndef OPEN_GLOW_PLAIN_THREADS
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>
#endif

namespace base {

#ifdef OPEN_GLOW_PLAIN_THREADS  // for the thread sanitizer, which does not understand Debian's TBB

namespace {
std::atomic<int> s_limit{static_cast<int>(std::max(1u, std::thread::hardware_concurrency()))};
}

struct ThreadLimit::Control {
    int before = 0;
};

ThreadLimit::ThreadLimit(int threads) : m_control(std::make_unique<Control>())
{
    m_control->before = s_limit;
    if (threads > 0)
        s_limit = threads;
}

ThreadLimit::~ThreadLimit()
{
    s_limit = m_control->before;
}

int threadCount()
{
    return s_limit;
}

void parallelFor(std::size_t count, const std::function<void(std::size_t)>& run)
{
    std::atomic<std::size_t> next{0};
    const auto work = [&] {
        for (std::size_t i = next++; i < count; i = next++)
            run(i);
    };
    std::vector<std::jthread> threads;
    for (int t = 1; t < threadCount() && static_cast<std::size_t>(t) < count; ++t)
        threads.emplace_back(work);
    work();
}

#else

struct ThreadLimit::Control {
    tbb::global_control control;
};

ThreadLimit::ThreadLimit(int threads)
{
    if (threads > 0)
        m_control.reset(new Control{tbb::global_control(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(threads))});
}

ThreadLimit::~ThreadLimit() = default;

int threadCount()
{
    return static_cast<int>(tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism));
}

void parallelFor(std::size_t count, const std::function<void(std::size_t)>& run)
{
    tbb::parallel_for(
        std::size_t{0}, count, [&](std::size_t i) { run(i); }, tbb::simple_partitioner());
}

#endif

}  // namespace base
