// Bodies made behind: on a thread of its own, so that a picture can go on with the last ones while new ones take long.
#pragma once

#include <chrono>
#include <condition_variable>
#include <functional>
#include <mutex>
#include <optional>
#include <thread>

#include "work/bodies.h"

namespace session {

class BodyMaker {
public:
    // `onMade` is called on the maker's thread after each.
    BodyMaker(work::Cache& cache, std::function<void()> onMade);
    ~BodyMaker();
    BodyMaker(const BodyMaker&) = delete;
    BodyMaker& operator=(const BodyMaker&) = delete;

    // Wants the bodies of this work; returns their number. What is being made is finished first, so that a drag shows something,
    // but not when it has taken long already; of what waits only the newest is made. What takes longer than kCoarseAfter comes coarse
    // first, under a number before its own.
    std::uint64_t want(work::Work work, double tolerancePt);

    struct Made {
        std::uint64_t number = 0;
        base::Result<work::WorkBodies> bodies;
    };
    // The newest that are made, as soon as they are those wanted, or after `patience`; none when there are none yet.
    std::optional<Made> newest(std::uint64_t wanted, std::chrono::milliseconds patience);
    std::uint64_t newestNumber() const;

    static constexpr std::chrono::milliseconds kCoarseAfter{200};
    static constexpr double kCoarse = 8;  // times the tolerance

    // For tests: making takes so much longer.
    void setSlow(std::chrono::milliseconds wait) { m_slow = wait; }

private:
    struct Wanted;
    void run(const std::stop_token& stop);
    // Nothing where it takes longer than kCoarseAfter.
    std::optional<base::Result<work::WorkBodies>> makeQuickly(const Wanted& wanted, const std::stop_token& stop);
    base::Result<work::WorkBodies> make(const Wanted& wanted, double tolerancePt, const std::stop_token& stop);
    void tell(std::uint64_t number, base::Result<work::WorkBodies> bodies);

    struct Wanted {
        std::uint64_t number = 0;
        work::Work work;
        double tolerancePt = 0;
    };
    work::Cache& m_cache;
    std::function<void()> m_onMade;
    std::atomic<std::chrono::milliseconds> m_slow{std::chrono::milliseconds(0)};
    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake, m_made;
    std::optional<Wanted> m_next;
    std::optional<Made> m_newest;
    std::stop_source m_current;
    std::chrono::steady_clock::time_point m_began;
    bool m_busy = false;
    std::uint64_t m_last = 0;
    std::jthread m_thread;  // last: it ends before what it uses
};

}  // namespace session
