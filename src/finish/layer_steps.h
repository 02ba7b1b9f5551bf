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

// How many planes behind the four channels of the source a layer needs, in the layers' order: none, its mask, what lines follow.
int planesOf(const Layer& layer);
void fillPlanes(const Layer& layer, const film::RankedIds& ids, float* to);
// How much of a pixel a layer acts on, or a flat shadow's letters cover, 0 to 1.
float maskOf(const Layer& layer, const film::RankedIds& ids);

// Adds the halos, over premultiplied linear light with coverage; returns the last step. `last` gives four channels.
int addHalos(Graph& graph, int last, const std::vector<Layer>& layers, const FrameSize& frame);
// Adds the others, over encoded colour, not premultiplied, with coverage.
int addLayers(Graph& graph, int last, const std::vector<Layer>& layers, const FrameSize& frame);

}  // namespace finish
