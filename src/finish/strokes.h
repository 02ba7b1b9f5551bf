// Masks that are drawn by hand.
#pragma once

#include "finish/graph.h"
#include "finish/layer_steps.h"

namespace finish {

// How much strokes cover the pixels of `out` (one channel), 0 to 1: each with a round brush that fades towards its edge by a smooth step,
// alike along all of it, one over the other. O(points x the brush's pixels).
void paint(const std::vector<Stroke>& strokes, const FrameSize& frame, Image& out);

}  // namespace finish
