// What the steps of layers are made from.
#pragma once

#include <algorithm>

#include "base/units.h"
#include "finish/blend.h"
#include "finish/layer_steps.h"
#include "finish/noise.h"

namespace finish {

// A layer while its steps are made: where its mask lies in the source, if it has one.
struct Placed {
    Layer layer;
    int plane = -1;  // of its mask
    int own = -1;    // the first of those that it asks for beside that
    int soft = -1;   // the step that made its mask soft
    FrameSize frame;
    bool onLight = false;  // what is below is light, not colour as it is seen
    int painted = -1;      // the step that its strokes are

    double px(double pt) const { return pt * frame.pxPerPt; }
    // What is below, the source where it is looked at, the soft mask and the painted one where there are such.
    std::vector<int> inputs(int last) const
    {
        std::vector<int> of{last};
        if (plane >= 0 || own >= 0)
            of.push_back(Graph::kSource);
        if (soft >= 0)
            of.push_back(soft);
        if (painted >= 0)
            of.push_back(painted);
        return of;
    }
    // Where the weight is known beside the result: `in` is that of a step with a reach.
    Area known(std::span<const Image* const> in) const
    {
        Area area = in[0]->area;
        for (const Image* mask : {soft >= 0 ? softOf(in) : in[0], painted >= 0 ? in.back() : in[0]})
            area = {std::max(area.x0, mask->area.x0), std::max(area.y0, mask->area.y0), std::min(area.x1, mask->area.x1),
                    std::min(area.y1, mask->area.y1)};
        return area;
    }
    // How much it acts there.
    float weight(std::span<const Image* const> in, int x, int y) const
    {
        const Mask& mask = layer.mask;
        float share = soft >= 0 ? *softOf(in)->at(x, y) : plane >= 0 ? in[1]->at(x, y)[4 + plane] : 1;
        if (mask.darkest > 0 || mask.brightest < 1)
            share *= ofBrightness(in[0]->at(x, y));
        if (mask.fades > 0)
            share *= faded(x, y);
        if (painted >= 0)
            share *= *in.back()->at(x, y);
        return static_cast<float>(layer.strength) * (mask.inverted ? 1 - share : share);
    }

private:
    const Image* softOf(std::span<const Image* const> in) const { return in[in.size() - (painted >= 0 ? 2 : 1)]; }
    float ofBrightness(const float* below) const;
    float faded(int x, int y) const;
};

inline Rgb rgbAt(const float* p)
{
    return {p[0], p[1], p[2]};
}

inline void put(float* to, Rgb colour, float alpha)
{
    to[0] = colour.x;
    to[1] = colour.y;
    to[2] = colour.z;
    to[3] = alpha;
}

// Calls each(below, x, y, weight, out) for every pixel.
template <class Each>
int addPointwise(Graph& graph, int last, const Placed& placed, Each each)
{
    return graph.add({placed.inputs(last), 0, 4, [placed, each](std::span<const Image* const> in, Image& out) {
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x)
                                  each(in[0]->at(x, y), x, y, placed.weight(in, x, y), out.at(x, y));
                      }});
}

// A layer that changes what is there: change(colour, x, y) gives what is blended over it; coverage stays.
template <class Change>
int addChange(Graph& graph, int last, const Placed& placed, Change change)
{
    return addPointwise(graph, last, placed, [blend = placed.layer.blend, change](const float* below, int x, int y, float w, float* out) {
        const Rgb is = rgbAt(below);
        put(out, w > 0 ? lerp(is, blended(blend, is, change(is, x, y)), w) : is, below[3]);
    });
}

// The same by rows: change(y, x0, x1, to) puts what is blended over the pixels of a row from x0 to before x1; it does not ask what is
// there.
template <class Change>
int addChangeRows(Graph& graph, int last, const Placed& placed, Change change)
{
    return graph.add({placed.inputs(last), 0, 4, [placed, change](std::span<const Image* const> in, Image& out) {
                          std::vector<Rgb> row(static_cast<std::size_t>(out.area.x1 - out.area.x0));
                          for (int y = out.area.y0; y < out.area.y1; ++y) {
                              change(y, out.area.x0, out.area.x1, row.data());
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const float *below = in[0]->at(x, y), w = placed.weight(in, x, y);
                                  const Rgb is = rgbAt(below), made = row[static_cast<std::size_t>(x - out.area.x0)];
                                  put(out.at(x, y), w > 0 ? lerp(is, blended(placed.layer.blend, is, made), w) : is, below[3]);
                              }
                          }
                      }});
}

// A layer that covers: cover(x, y) gives its colour and how much it covers.
template <class Cover>
int addCover(Graph& graph, int last, const Placed& placed, Cover cover)
{
    return addPointwise(graph, last, placed, [blend = placed.layer.blend, cover](const float* below, int x, int y, float w, float* out) {
        const Covered over = cover(x, y);
        const Covered is = composited(blend, {rgbAt(below), below[3]}, over.colour, over.alpha * w);
        put(out, is.colour, is.alpha);
    });
}

// The steps of each kind: over encoded colour, four channels. They return the last step.
int addStep(Graph& graph, int last, const Placed& placed, const Curves& what);
int addStep(Graph& graph, int last, const Placed& placed, const Mixer& what);
int addStep(Graph& graph, int last, const Placed& placed, const Particles& what);
int addStep(Graph& graph, int last, const Placed& placed, const Smoke& what);
int addStep(Graph& graph, int last, const Placed& placed, const Trail& what);
int addStep(Graph& graph, int last, const Placed& placed, const Stuff& what);
int addStep(Graph& graph, int last, const Placed& placed, const Misprint& what);
int addStep(Graph& graph, int last, const Placed& placed, const Bands& what);
int addStep(Graph& graph, int last, const Placed& placed, const Print& what);
int addStep(Graph& graph, int last, const Placed& placed, const Code& what);
int addStep(Graph& graph, int last, const Placed& placed, const Lookup& what);
// And over light.
int addStep(Graph& graph, int last, const Placed& placed, const Halo& halo);
int addStep(Graph& graph, int last, const Placed& placed, const Rays& rays);
int addStep(Graph& graph, int last, const Placed& placed, const Flare& flare);
int addStep(Graph& graph, int last, const Placed& placed, const Beams& beams);

// Of a value from 0 to 1: through its five, a monotone cubic between each two.
float curveAt(const Curves& curves, float at);

// Colour that is seen, as light, premultiplied, so that blurring is what a lens does; and back.
Image asLight(const Image& image, const Area& area);
Covered asSeen(const float* light);
// Between the pixels, of an image of four channels or more that goes on at its edges as there: the first four.
void between(const Image& image, double x, double y, float* to);

}  // namespace finish
