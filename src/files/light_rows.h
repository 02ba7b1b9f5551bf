// A source of light, row by row.
#pragma once

#include "base/progress.h"
#include "files/light_source.h"

namespace files {

inline constexpr int kRowsTogether = 256;  // developed at a time

// Hands on rows y0 to before y1, some at a time from the top: each(shares, y0, y1). The shares hold as many rows more above and below as
// are asked for with `halo`, as far as the picture goes.
template <class Each>
base::Result<void> eachRows(const LightSource& light, int halo, const base::Progress& progress, Each each)
{
    const int top = light.shape.regionY, bottom = top + light.shape.regionHeight;
    film::LightShares rows;  // those that are still needed
    rows.shape = light.shape;
    rows.shape.regionHeight = 0;
    int band = 0;
    for (int y = top; y < bottom; y += kRowsTogether) {
        if (progress.stopRequested())
            return base::fail(base::ErrorCode::Stopped, "Stopped while the picture was written");
        const int end = std::min(y + kRowsTogether, bottom), last = std::min(end + halo, bottom);
        if (const int first = std::max(top, y - halo); first > rows.shape.regionY && rows.shape.regionHeight > 0)
            rows = rowsOf(rows, first, rows.shape.regionY + rows.shape.regionHeight);
        while (rows.shape.regionY + rows.shape.regionHeight < last && band < light.bands) {
            const auto part = light.get(band++);
            if (!part)
                return tl::unexpected<base::Error>(part.error());
            rows.append(*part);
        }
        if (auto done = each(rows, y, end); !done)
            return done;
        progress.set(static_cast<double>(end - top) / light.shape.regionHeight);
    }
    return {};
}

}  // namespace files
