// Layers that print flat shapes over the picture.
#include "finish/flat_shape.h"
#include "finish/placed.h"
#include "picture/colour.h"

namespace finish {

namespace {

// A shape in a colour; (x, y) and `scale` in pt, from the frame's middle, y up.
int addShape(Graph& graph, int last, const Placed& placed, const std::shared_ptr<const FlatShape>& shape, Rgb colour, double x, double y,
             double scale)
{
    if (!shape || shape->empty())
        return last;
    const double originX = placed.frame.width / 2.0 + placed.px(x), originY = placed.frame.height / 2.0 - placed.px(y);
    return graph.add({placed.inputs(last), 0, 4,
                      [=, seen = picture::encodeSrgb(colour), size = placed.px(scale)](std::span<const Image* const> in, Image& out) {
                          const Image covers = coverageOf(*shape, out.area, originX, originY, size);
                          for (int row = out.area.y0; row < out.area.y1; ++row)
                              for (int column = out.area.x0; column < out.area.x1; ++column) {
                                  const float* is = in[0]->at(column, row);
                                  const float alpha = *covers.at(column, row);
                                  Covered made{rgbAt(is), is[3]};
                                  if (alpha > 0)
                                      made = composited(placed.layer.blend, made, seen, alpha * placed.weight(in, column, row));
                                  put(out.at(column, row), made.colour, made.alpha);
                              }
                      }});
}

}  // namespace

int addStep(Graph& graph, int last, const Placed& placed, const Print& print)
{
    return addShape(graph, last, placed, print.shape, print.colour, 0, 0, 1);
}

int addStep(Graph& graph, int last, const Placed& placed, const Code& code)
{
    last = addShape(graph, last, placed, code.field, code.paper, code.x, code.y, code.size);
    return addShape(graph, last, placed, code.bars, code.colour, code.x, code.y, code.size);
}

}  // namespace finish
