// What the render queue works at: the live picture (live_picture.cpp) and the finals (final_pictures.cpp).
#pragma once

#include <memory>
#include <string>

#include "session/render_queue.h"

namespace session {

inline constexpr std::uint32_t kBesideFinal = 8;  // samples of the live picture while a final runs

struct RenderQueue::Live {
    std::uint64_t number = 0;
    LiveRequest request;
    std::shared_ptr<ShownWork> shownWork;
    std::uint64_t bodies = 0;  // number of those that are wanted; 0: not asked for yet
    std::uint64_t shown = 0;   // and of those that are shown
    work::Prepared prepared;
    std::unique_ptr<film::Film> film;
    film::LightShares shares;         // of the film as it was last shown
    finish::Redeveloper redeveloper;  // of those
    std::shared_ptr<const picture::Raster<film::PixelId>> ids;
    // The same in fewer pixels, while the finish changes faster than it can be made.
    struct Small {
        int step = 0;  // px of the film for one of these, each way; 0: not made
        film::LightShares shares;
        finish::Redeveloper redeveloper;
        std::shared_ptr<const picture::Raster<film::PixelId>> ids;
    } small;
    bool ready = false;      // the draft was made
    bool tookLight = false;  // of the draft before, from another place
    bool finished = false;
    double samples = 0;
    render::RoundStatus status;  // as it was last shown

    void take(film::LightShares light)
    {
        shares = std::move(light);
        redeveloper.forget();
        small = {};
    }

    bool behind() const { return shown < bodies; }

    // Only desk and finish differ: what was exposed is developed in another way.
    bool keepsFilmFor(const LiveRequest& next) const
    {
        return ready && !behind() && !shares.values.empty() && request.widthPx == next.widthPx && request.heightPx == next.heightPx &&
               request.part == next.part && request.seed == next.seed && work::reworkBetween(request.work, next.work) <= work::Rework::Mix;
    }
};

struct RenderQueue::Running {
    Final final;
    render::RoundStatus status;
    double fraction = 0;
    bool stop = false, save = false;
    std::string saved;
};

}  // namespace session
