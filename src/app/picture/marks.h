// Pictures laid over the picture: the line round what is chosen, and the marks of clipped pixels. Made from rasters, without a
// widget.
#pragma once

#include <QImage>
#include <functional>

#include "film/film.h"
#include "picture/raster.h"

namespace app {

using Ids = picture::Raster<film::PixelId>;

// Two-tone dashes, `thick` pixels wide, just outside the pixels that `isChosen`; clear elsewhere. As large as `ids`. O(pixels).
QImage choiceLine(const Ids& ids, const std::function<bool(const film::PixelId&)>& isChosen, int thick);

// A wide two-tone hatch where `clipped` is not 0, so that what is under it is still seen. O(pixels).
QImage clippedMarks(const picture::Raster<std::uint8_t>& clipped);

// The rectangle round the pixels that `isChosen`; empty when there are none. O(pixels).
QRect chosenBounds(const Ids& ids, const std::function<bool(const film::PixelId&)>& isChosen);

// Which letters have at least half of their visible pixels within `area` (px of `ids`); pairs of piece and letter numbers, in
// order. O(pixels).
std::vector<std::pair<int, int>> lettersWithin(const Ids& ids, const QRect& area);

}  // namespace app
