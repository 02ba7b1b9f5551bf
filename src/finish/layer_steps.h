// Layers as steps of the graph.
#pragma once

#include "film/shares.h"
#include "finish/graph.h"
#include "finish/layers.h"

namespace finish {

// What steps know of the picture they work on.
struct FrameSize {
    int width = 1, height = 1;  // px, of the whole
    double pxPerPt = 1;
};

// It is added to light, before the view transform; else it is done over colour as it is seen.
bool isLight(const Layer& layer);
// It asks what pixels show.
bool looksAtIds(const Layer& layer);

// How many planes behind the four channels of the source a layer needs, in the layers' order: none, its mask, what lines follow.
int planesOf(const Layer& layer);
// Of one pixel: what it shows, and how much of its light is of the mask's lamp (1 where it has none).
void fillPlanes(const Layer& layer, const film::RankedIds& ids, float ofLight, float* to);
// How much of a pixel is what a layer acts on, or a flat shadow's letters, 0 to 1.
float maskOf(const Layer& layer, const film::RankedIds& ids);

// Adds those that are light, over premultiplied linear light with coverage; returns the last step. `last` gives four channels.
int addLight(Graph& graph, int last, const std::vector<Layer>& layers, const FrameSize& frame);
// Adds the others, from `first` to before `end`, over encoded colour, not premultiplied, with coverage; the planes behind the source's four
// channels begin with those of the first.
int addLayers(Graph& graph, int last, const std::vector<Layer>& layers, const FrameSize& frame, std::size_t first = 0,
              std::size_t end = static_cast<std::size_t>(-1));

}  // namespace finish
