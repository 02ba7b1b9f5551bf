// The picture that sharpens while nobody touches the work: one worker, the latest work wins.
#pragma once

#include <condition_variable>
#include <cstdint>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

#include "picture/raster.h"
#include "work/make_still.h"

namespace session {

// What the worker has to show. Either a picture (8-bit sRGB, three channels) or an error.
struct Frame {
    std::uint64_t job = 0;  // as start() returned it; older ones are stale
    std::shared_ptr<const picture::Raster<std::uint8_t>> picture;
    render::RoundStatus status;
    base::Notes notes;
    bool finished = false;
    std::optional<base::Error> error;
};

class LiveRender {
public:
    // `show` is called on the worker's thread.
    explicit LiveRender(std::function<void(Frame)> show);
    ~LiveRender();
    LiveRender(const LiveRender&) = delete;
    LiveRender& operator=(const LiveRender&) = delete;

    // Drops what is being rendered and starts on this work at this size. Returns at once.
    std::uint64_t start(work::Work work, int widthPx, int heightPx, const render::StopRule& stop);

private:
    struct Job {
        std::uint64_t number = 0;
        work::Work work;
        int widthPx = 0, heightPx = 0;
        render::StopRule stop;
        std::stop_source source;
    };
    void run(std::stop_token stop);
    void renderJob(const Job& job);

    std::function<void(Frame)> m_show;
    work::Cache m_cache;
    std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::optional<Job> m_next;
    std::stop_source m_current;
    std::uint64_t m_lastNumber = 0;
    std::jthread m_worker;  // last: it ends before what it uses
};

}  // namespace session
