// The only door to worker threads for computing.
#pragma once

#include <cstddef>
#include <functional>
#include <memory>

namespace base {

// Calls run(i) for each i in [0, count), on as many threads as allowed, in no particular order. Each call must write only
// what belongs to i. Returns when all are done. Exceptions are not caught: do not throw.
void parallelFor(std::size_t count, const std::function<void(std::size_t)>& run);

// Number of threads parallelFor uses at most.
int threadCount();

// While it lives, parallelFor uses at most `threads` threads (1 or more; 0 leaves it as it is).
class ThreadLimit {
public:
    explicit ThreadLimit(int threads);
    ~ThreadLimit();
    ThreadLimit(const ThreadLimit&) = delete;
    ThreadLimit& operator=(const ThreadLimit&) = delete;

private:
    struct Control;
    std::unique_ptr<Control> m_control;
};

}  // namespace base
