// Layers that draw out, strew and move: halos and rays over light, motion, misregistration, particles.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "finish/blur.h"
#include "finish/placed.h"
#include "picture/colour.h"

namespace finish {

namespace {

// What is brighter than `from`, three channels.
Image brightPart(const Placed& placed, std::span<const Image* const> in, float from)
{
    Image bright(placed.known(in), 3);
    for (int y = bright.area.y0; y < bright.area.y1; ++y)
        for (int x = bright.area.x0; x < bright.area.x1; ++x) {
            const Rgb light = rgbAt(in[0]->at(x, y));
            const float most = std::max({light.x, light.y, light.z});
            const Rgb gives = most > from ? light * ((most - from) / most * placed.weight(in, x, y)) : Rgb{};
            float* to = bright.at(x, y);
            to[0] = gives.x;
            to[1] = gives.y;
            to[2] = gives.z;
        }
    return bright;
}

// Adds light; it covers what is behind as far as it would hide it.
void addTo(Image& out, const Image& below, const Image& light, Rgb factor)
{
    for (int y = out.area.y0; y < out.area.y1; ++y)
        for (int x = out.area.x0; x < out.area.x1; ++x) {
            const float* is = below.at(x, y);
            const Rgb more = rgbAt(light.at(x, y)) * factor;
            const float covers = std::clamp(std::max({more.x, more.y, more.z}), 0.0f, 1.0f);
            put(out.at(x, y), rgbAt(is) + more, 1 - (1 - is[3]) * (1 - covers));
        }
}

// How often a way of so many px is doubled from less than one.
int doublingsOf(double px)
{
    return std::max(0, static_cast<int>(std::ceil(std::log2(std::max(1.0, px)))));
}

int drawnReach(double px)
{
    return static_cast<int>(std::ceil(px)) + doublingsOf(px) + 2;  // each doubling looks at a neighbour more
}

// Every pixel drawn out by (dx, dy) px, even or so that `left` of it is there at the end; their mean. Nothing comes from beyond the image.
Image drawnOut(Image image, double dx, double dy, double left)
{
    const double length = std::hypot(dx, dy);
    const int doublings = doublingsOf(length);
    const double parts = std::exp2(doublings);
    double decay = std::pow(left, 1 / parts), sum = 1;
    const int channels = image.pixels.channels;
    for (int i = 0; i < doublings; ++i) {
        const double by = std::exp2(i) / parts;
        Image longer = image;
        const auto w = static_cast<float>(decay);
        const Area& a = image.area;
        const double mx = dx * by, my = dy * by, fx = std::floor(-mx), fy = std::floor(-my);
        const auto u = static_cast<float>(-mx - fx), v = static_cast<float>(-my - fy);
        const float weights[4] = {w * (1 - u) * (1 - v), w * u * (1 - v), w * (1 - u) * v, w * u * v};
        for (int y = a.y0; y < a.y1; ++y)
            for (int corner = 0; corner < 4; ++corner) {
                const int ox = static_cast<int>(fx) + corner % 2, sy = y + static_cast<int>(fy) + corner / 2;
                if (weights[corner] == 0 || sy < a.y0 || sy >= a.y1)
                    continue;
                const int from = std::max(a.x0, a.x0 - ox), to = std::min(a.x1, a.x1 - ox);
                if (from >= to)
                    continue;
                const float* in = image.at(from + ox, sy);
                float* out = longer.at(from, y);
                const float weight = weights[corner];
                for (int k = 0; k < (to - from) * channels; ++k)
                    out[k] += weight * in[k];
            }
        image = std::move(longer);
        sum *= 1 + decay;
        decay *= decay;
    }
    const auto scale = static_cast<float>(1 / sum);
    for (float& value : image.pixels.values)
        value *= scale;
    return image;
}

}  // namespace

int addStep(Graph& graph, int last, const Placed& placed, const Halo& halo)
{
    const double sigma = placed.px(halo.radius) / 2;
    const Rgb factor = halo.tint * static_cast<float>(std::exp2(halo.stops));
    const auto from = static_cast<float>(halo.from);
    return graph.add({placed.inputs(last), blurReach(sigma), 4, [=](std::span<const Image* const> in, Image& out) {
                          addTo(out, *in[0], blurred(brightPart(placed, in, from), out.area, sigma), factor);
                      }});
}

int addStep(Graph& graph, int last, const Placed& placed, const Rays& rays)
{
    constexpr double kLeft = 0.01, kTimes = 2;  // twice as far as where a tenth is left
    const double length = placed.px(rays.length) * kTimes;
    const Rgb factor = rays.tint * static_cast<float>(std::exp2(rays.stops));
    const auto from = static_cast<float>(rays.from);
    return graph.add({placed.inputs(last), drawnReach(length), 4, [=](std::span<const Image* const> in, Image& out) {
                          const Image bright = brightPart(placed, in, from);
                          Image light(bright.area, 3);
                          const bool any = std::ranges::any_of(bright.pixels.values, [](float v) { return v > 0; });
                          for (int i = 0; any && i < rays.count; ++i) {
                              const double turn = base::radians(rays.turn + 360.0 * i / rays.count);
                              const Image ray = drawnOut(bright, length * std::cos(turn), -length * std::sin(turn), kLeft);
                              for (std::size_t k = 0; k < light.pixels.values.size(); ++k)
                                  light.pixels.values[k] += ray.pixels.values[k];
                          }
                          addTo(out, *in[0], light, factor);
                      }});
}

namespace {

// The light of a flare by place, in px.
class FlareLight {
public:
    FlareLight(const Flare& flare, const Placed& placed) : m_size(placed.px(flare.size)), m_ring(flare.ring)
    {
        const base::Vec2 middle{placed.frame.width / 2.0, placed.frame.height / 2.0};
        m_at = middle + base::Vec2{placed.px(flare.x), -placed.px(flare.y)};
        for (int i = 0; i < flare.ghosts; ++i) {
            const auto chance = [&](std::uint32_t of) {
                return static_cast<double>(
                    chanceOf(static_cast<std::uint32_t>(i) * 8 + of, static_cast<std::uint32_t>(flare.seed) + 0x2c1b3c6du));
            };
            // Both before and beyond the middle, as the surfaces of a lens throw them.
            const double way = 0.35 + 1.5 * (i + 0.2 + 0.6 * chance(0)) / flare.ghosts;
            const double radius = m_size * (0.08 + 0.3 * chance(1) * chance(1)), hue = chance(2);
            Ghost ghost{m_at + (middle - m_at) * way, radius, {}};
            for (int c = 0; c < 3; ++c)
                (c == 0   ? ghost.colour.x
                 : c == 1 ? ghost.colour.y
                          : ghost.colour.z) =
                    static_cast<float>((0.02 + 0.05 * chance(3)) * (0.7 + 0.3 * std::cos(2 * std::numbers::pi * (hue - c / 3.0))));
            m_ghosts.push_back(ghost);
        }
    }
    Rgb at(double x, double y) const
    {
        constexpr double kCore = 0.125 / 0.7664;  // where (1 + r^2)^(-3/2) is a half
        constexpr double kWide = 0.035, kFringe = 0.03, kRingLight = 0.06, kSoft = 0.06;
        const double r = std::hypot(x - m_at.x, y - m_at.y) / m_size, q = r / kCore;
        const auto glow = static_cast<float>(1 / ((1 + q * q) * std::sqrt(1 + q * q)));
        Rgb light{glow, glow, glow};
        if (m_ring > 0 && std::abs(r - 1) < 4 * kWide + kFringe) {
            // Red outside, blue inside, as a glass parts them.
            const auto ring = [&](double radius) {
                const double t = (r - radius) / kWide;
                return static_cast<float>(m_ring * kRingLight * std::exp(-t * t));
            };
            light += Rgb{ring(1 + kFringe), ring(1), ring(1 - kFringe)};
        }
        for (const Ghost& ghost : m_ghosts) {
            const double d = std::hypot(x - ghost.middle.x, y - ghost.middle.y) / ghost.radius;
            if (d >= 1 + kSoft)
                continue;
            const double inside = std::clamp((1 + kSoft - d) / (2 * kSoft), 0.0, 1.0);
            light += ghost.colour * static_cast<float>(inside * inside * (3 - 2 * inside) * (0.55 + 0.45 * d * d));
        }
        return light;
    }

private:
    struct Ghost {
        base::Vec2 middle;
        double radius;
        Rgb colour;
    };
    double m_size, m_ring;
    base::Vec2 m_at;
    std::vector<Ghost> m_ghosts;
};

}  // namespace

int addStep(Graph& graph, int last, const Placed& placed, const Flare& flare)
{
    if (flare.hidden || flare.open <= 0)
        return last;
    const Rgb factor = flare.tint * static_cast<float>(std::exp2(flare.stops) * flare.open);
    return graph.add({placed.inputs(last), 0, 4,
                      [=, shape = std::make_shared<const FlareLight>(flare, placed)](std::span<const Image* const> in, Image& out) {
                          Image light(out.area, 3);
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const Rgb more = shape->at(x + 0.5, y + 0.5) * placed.weight(in, x, y);
                                  float* to = light.at(x, y);
                                  to[0] = more.x;
                                  to[1] = more.y;
                                  to[2] = more.z;
                              }
                          addTo(out, *in[0], light, factor);
                      }});
}

namespace {

// How open the way from the lamp is to blocks of the frame, as many as keep the work in bounds; between their middles it is looked up.
class Openness {
public:
    // `blocked(x, y)`: the share of a pixel that hides the lamp; `area` is all of the frame.
    template <class Blocked>
    Openness(const Area& area, base::Vec2 lamp, Blocked blocked)
        : m_area(area),
          m_block(std::max(1, (std::max(area.x1 - area.x0, area.y1 - area.y0) + kMostBlocks - 1) / kMostBlocks)),
          m_open({}, 1)
    {
        const int width = (area.x1 - area.x0 + m_block - 1) / m_block, height = (area.y1 - area.y0 + m_block - 1) / m_block;
        m_open = Image({0, 0, width, height}, 1);
        Image through({0, 0, width, height}, 1);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                *through.at(x, y) = 1 - meanOf(x, y, blocked);
        const base::Vec2 from{(lamp.x - area.x0) / m_block, (lamp.y - area.y0) / m_block};
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                *m_open.at(x, y) = alongTo(through, from, {x + 0.5, y + 0.5});
    }
    float at(int x, int y) const
    {
        const double u = (x + 0.5 - m_area.x0) / m_block - 0.5, v = (y + 0.5 - m_area.y0) / m_block - 0.5;
        return lookedUp(m_open, u, v);
    }

private:
    static constexpr int kMostBlocks = 480;  // along the longer side

    template <class Blocked>
    float meanOf(int blockX, int blockY, Blocked blocked) const
    {
        const int x0 = m_area.x0 + blockX * m_block, y0 = m_area.y0 + blockY * m_block, x1 = std::min(x0 + m_block, m_area.x1),
                  y1 = std::min(y0 + m_block, m_area.y1);
        float sum = 0;
        for (int y = y0; y < y1; ++y)
            for (int x = x0; x < x1; ++x)
                sum += blocked(x, y);
        return sum / static_cast<float>((x1 - x0) * (y1 - y0));
    }
    // Between four, as at the edge beyond it.
    static float lookedUp(const Image& image, double u, double v)
    {
        const double fu = std::floor(u), fv = std::floor(v);
        const Area& a = image.area;
        const int x0 = std::clamp(static_cast<int>(fu), 0, a.x1 - 1), x1 = std::clamp(static_cast<int>(fu) + 1, 0, a.x1 - 1),
                  y0 = std::clamp(static_cast<int>(fv), 0, a.y1 - 1), y1 = std::clamp(static_cast<int>(fv) + 1, 0, a.y1 - 1);
        const auto s = static_cast<float>(u - fu), t = static_cast<float>(v - fv);
        const float top = *image.at(x0, y0) + (*image.at(x1, y0) - *image.at(x0, y0)) * s,
                    low = *image.at(x0, y1) + (*image.at(x1, y1) - *image.at(x0, y1)) * s;
        return top + (low - top) * t;
    }
    // The mean along the line, a step a block; beyond the frame nothing stands.
    static float alongTo(const Image& through, base::Vec2 from, base::Vec2 to)
    {
        const base::Vec2 way = to - from;
        const int steps = std::clamp(static_cast<int>(std::ceil(length(way))), 1, 4 * kMostBlocks);
        const Area& a = through.area;
        float sum = 0;
        for (int i = 0; i < steps; ++i) {
            const base::Vec2 at = from + way * ((i + 0.5) / steps);
            const bool inside = at.x >= 0 && at.y >= 0 && at.x < a.x1 && at.y < a.y1;
            sum += inside ? lookedUp(through, at.x - 0.5, at.y - 0.5) : 1;
        }
        return sum / static_cast<float>(steps);
    }

    Area m_area;
    int m_block;
    Image m_open;
};

}  // namespace

int addStep(Graph& graph, int last, const Placed& placed, const Beams& beams)
{
    if (beams.hidden)
        return last;
    const base::Vec2 lamp{placed.frame.width / 2.0 + placed.px(beams.x), placed.frame.height / 2.0 - placed.px(beams.y)};
    const Rgb factor = beams.tint * static_cast<float>(std::exp2(beams.stops));
    const double size = std::max(1e-6, placed.px(beams.size));
    // All of the frame is looked at, however little of it is wanted.
    const int open = graph.add({{Graph::kSource},
                                std::max(placed.frame.width, placed.frame.height),
                                1,
                                [=, plane = 4 + placed.own](std::span<const Image* const> in, Image& out) {
                                    const Openness way(in[0]->area, lamp, [&](int x, int y) { return in[0]->at(x, y)[plane]; });
                                    for (int y = out.area.y0; y < out.area.y1; ++y)
                                        for (int x = out.area.x0; x < out.area.x1; ++x)
                                            *out.at(x, y) = way.at(x, y);
                                }});
    std::vector<int> inputs = placed.inputs(last);
    inputs.push_back(open);
    return graph.add({std::move(inputs), 0, 4, [=](std::span<const Image* const> all, Image& out) {
                          const std::span<const Image* const> in = all.first(all.size() - 1);
                          Image light(out.area, 3);
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const double dx = (x + 0.5 - lamp.x) / size, dy = (y + 0.5 - lamp.y) / size;
                                  const float here =
                                      *all.back()->at(x, y) * placed.weight(in, x, y) / static_cast<float>(1 + dx * dx + dy * dy);
                                  std::fill_n(light.at(x, y), 3, here);
                              }
                          addTo(out, *in[0], light, factor);
                      }});
}

namespace {

// Where a pixel looks while what is seen moves, t from 0 to 1 of the way back.
struct Way {
    static constexpr double kTrailLeft = 0.05;  // of a trail's strength, at its end
    Trail trail;
    double width, height, middleX, middleY, angle;

    Way(const Trail& t, const Placed& placed)
        : trail(t),
          width(placed.frame.width),
          height(placed.frame.height),
          middleX(placed.frame.width / 2.0 + placed.px(t.x)),
          middleY(placed.frame.height / 2.0 - placed.px(t.y)),
          angle(base::radians(t.angle))
    {
    }
    base::Vec2 at(double x, double y, double t) const
    {
        const double along = trail.onlyBehind ? t : t - 0.5, dx = x - middleX, dy = y - middleY;
        if (trail.form == TrailForm::Round) {
            const double c = std::cos(angle * along), s = std::sin(angle * along);
            return {middleX + dx * c - dy * s, middleY + dx * s + dy * c};
        }
        return {x - dx * trail.zoom * along, y - dy * trail.zoom * along};
    }
    // How much of what a pixel looks at along a line (dx, dy) lies in the frame: nothing comes from beyond it.
    float inFrame(double x, double y, double dx, double dy) const
    {
        const auto to = [&](double wayX, double wayY) {  // of the way to the frame's edge
            const double acrossX = wayX > 0   ? (width - x) / wayX
                                   : wayX < 0 ? -x / wayX
                                              : 1,
                         acrossY = wayY > 0   ? (height - y) / wayY
                                   : wayY < 0 ? -y / wayY
                                              : 1;
            return std::clamp(std::min(acrossX, acrossY), 0.0, 1.0);
        };
        const double share =
            trail.onlyBehind ? (1 - std::pow(kTrailLeft, to(dx, dy))) / (1 - kTrailLeft) : (to(dx / 2, dy / 2) + to(-dx / 2, -dy / 2)) / 2;
        return static_cast<float>(std::max(share, 0.05));
    }
    double far(double x, double y) const
    {
        const double r = std::hypot(x - middleX, y - middleY);
        return r * (trail.form == TrailForm::Round ? angle : trail.zoom);
    }
};

}  // namespace

// What the layer acts on is drawn out, over what is there; with a trail that only lies behind it stands before that as it was.
int addStep(Graph& graph, int last, const Placed& placed, const Trail& trail)
{
    constexpr int kMostProbes = 160;
    const double length = placed.px(trail.length), turn = base::radians(trail.turn);
    const double dx = length * std::cos(turn), dy = -length * std::sin(turn);
    const Way way(trail, placed);
    const double w = placed.frame.width, h = placed.frame.height;
    const double farthest = std::max({way.far(0, 0), way.far(w, 0), way.far(0, h), way.far(w, h)});
    const bool along = trail.form == TrailForm::Along;
    const int reach = along ? 2 * drawnReach(length) : static_cast<int>(std::ceil(std::min(farthest, w + h))) + 2;
    return graph.add({placed.inputs(last), reach, 4, [=](std::span<const Image* const> in, Image& out) {
                          // Light of what moves, premultiplied by how much of it does.
                          Image moving = asLight(*in[0], placed.known(in));
                          for (int y = moving.area.y0; y < moving.area.y1; ++y)
                              for (int x = moving.area.x0; x < moving.area.x1; ++x) {
                                  const float share = placed.weight(in, x, y);
                                  for (int c = 0; c < 4; ++c)
                                      moving.at(x, y)[c] *= share;
                              }
                          Image drawn;
                          if (along) {
                              // Towards where it came from; both ways are half of the way each.
                              const double by = trail.onlyBehind ? 1 : 0.5;
                              const double left = trail.onlyBehind ? Way::kTrailLeft : 1;
                              drawn = drawnOut(moving, -dx * by, -dy * by, left);
                              if (!trail.onlyBehind) {
                                  const Image other = drawnOut(std::move(moving), dx * by, dy * by, left);
                                  for (std::size_t i = 0; i < drawn.pixels.values.size(); ++i)
                                      drawn.pixels.values[i] = (drawn.pixels.values[i] + other.pixels.values[i]) / 2;
                              }
                          } else {
                              drawn = Image(out.area, 4);
                              for (int y = out.area.y0; y < out.area.y1; ++y)
                                  for (int x = out.area.x0; x < out.area.x1; ++x) {
                                      const int probes = std::clamp(static_cast<int>(way.far(x, y)) + 1, 1, kMostProbes);
                                      float sum[4] = {}, one[4];
                                      for (int i = 0; i < probes; ++i) {
                                          const base::Vec2 at = way.at(x + 0.5, y + 0.5, (i + 0.5) / probes);
                                          between(moving, at.x, at.y, one);
                                          for (int c = 0; c < 4; ++c)
                                              sum[c] += one[c];
                                      }
                                      for (int c = 0; c < 4; ++c)
                                          drawn.at(x, y)[c] = sum[c] / static_cast<float>(probes);
                                  }
                          }
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const float* is = in[0]->at(x, y);
                                  const float share = placed.weight(in, x, y);
                                  Covered over = asSeen(drawn.at(x, y));
                                  if (along)
                                      over.alpha = std::min(1.0f, over.alpha / way.inFrame(x + 0.5, y + 0.5, dx, dy));
                                  // Where all moves its blur takes the place of what was there.
                                  const bool whole = placed.layer.mask.isEverywhere();
                                  const Covered below{rgbAt(is), whole ? is[3] * (1 - share) : is[3]};
                                  Covered made = composited(placed.layer.blend, below, over.colour, over.alpha);
                                  if (whole)
                                      made = {lerp(rgbAt(is), blended(placed.layer.blend, rgbAt(is), over.colour), share),
                                              is[3] * (1 - share) + over.alpha};
                                  else if (trail.onlyBehind)
                                      made = composited(Blend::Normal, made, rgbAt(is), is[3] * share);
                                  put(out.at(x, y), made.colour, made.alpha);
                              }
                      }});
}

int addStep(Graph& graph, int last, const Placed& placed, const Misprint& misprint)
{
    const double right = placed.px(misprint.right), down = placed.px(misprint.down);
    const int reach = static_cast<int>(std::ceil(std::max(std::abs(right), std::abs(down)))) + 2;
    return graph.add({placed.inputs(last), reach, 4, [=](std::span<const Image* const> in, Image& out) {
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const float* is = in[0]->at(x, y);
                                  float cyan[4], yellow[4];
                                  between(*in[0], x + 0.5 - right, y + 0.5 - down, cyan);
                                  between(*in[0], x + 0.5 + right, y + 0.5 + down, yellow);
                                  const Rgb over = blended(placed.layer.blend, rgbAt(is), {cyan[0], is[1], yellow[2]});
                                  put(out.at(x, y), lerp(rgbAt(is), over, placed.weight(in, x, y)), is[3]);
                              }
                      }});
}

namespace {

struct Particle {
    double x, y;            // px
    float c, s;             // of the way it flies, y down
    float length, breadth;  // px, half of each
    Rgb colour;
    float alpha;
    float far;  // px, to where it may be seen
};

std::vector<Particle> strewn(const Particles& p, const Placed& placed)
{
    std::vector<Particle> all;
    const Rgb from = picture::encodeSrgb(p.colour), to = picture::encodeSrgb(p.to);
    for (int i = 0; i < p.count; ++i) {
        const auto chance = [&](std::uint32_t of) {
            return chanceOf(static_cast<std::uint32_t>(i) * 16 + of, static_cast<std::uint32_t>(p.seed) + 0x517cc1b7u);
        };
        const double size = placed.px(p.size) * (1 - p.variation * std::sqrt(chance(2)));
        const double inward = 1 - p.gathers * std::sqrt(chance(3));
        const double turn = base::radians(p.turn + p.spread * (2 * chance(4) - 1));
        Particle one{placed.frame.width * (0.5 + (chance(0) - 0.5) * inward),
                     placed.frame.height * (0.5 + (chance(1) - 0.5) * inward),
                     static_cast<float>(std::cos(turn)),
                     static_cast<float>(-std::sin(turn)),
                     0,
                     0,
                     lerp(from, to, chance(5)),
                     1,
                     0};
        const auto half = static_cast<float>(size / 2);
        if (p.form == ParticleForm::Sparks) {
            one.length = half * (2 + 6 * chance(6));
            one.breadth = half * 0.5f;
        } else if (p.form == ParticleForm::Dots) {
            one.length = one.breadth = half;
            one.alpha = 0.35f + 0.65f * chance(6);
        } else {
            one.length = half;
            one.breadth = half * (0.15f + 0.85f * chance(6));  // it tumbles
        }
        // What is thinner than a pixel is as faint as it is thin.
        const float thin = std::min(1.0f, 2 * one.breadth);
        one.alpha *= thin;
        one.breadth = std::max(one.breadth, 0.5f);
        one.length = std::max(one.length, 0.5f);
        one.far = std::hypot(one.length, one.breadth) * (p.form == ParticleForm::Sparks ? 2 : 1) + 2;
        all.push_back(one);
    }
    return all;
}

// How much a particle covers at a place from its middle, and how white-hot it is there.
std::pair<float, float> seenOf(ParticleForm form, const Particle& p, float dx, float dy)
{
    const float u = dx * p.c + dy * p.s, v = std::abs(dy * p.c - dx * p.s);
    if (form == ParticleForm::Dots) {
        const float soft = std::max(1.0f, 0.35f * p.length), r = std::hypot(dx, dy);
        return {std::clamp((p.length + 0.5f - r) / soft, 0.0f, 1.0f), 0};
    }
    if (form == ParticleForm::Confetti) {
        const float along = std::clamp(p.length + 0.5f - std::abs(u), 0.0f, 1.0f), across = std::clamp(p.breadth + 0.5f - v, 0.0f, 1.0f);
        return {along * across, 0};
    }
    // A drop of light with a thin tail, and a glow round its head.
    const float head = std::clamp((u + p.length) / (2 * p.length), 0.0f, 1.0f), broad = p.breadth * head;
    const float beyond = std::max(0.0f, std::abs(u) - p.length);
    const float core = std::clamp(broad + 0.5f - std::hypot(v, beyond), 0.0f, 1.0f);
    const float r2 = ((u - p.length) * (u - p.length) + v * v) / (9 * p.breadth * p.breadth);
    const float glow = 0.45f * std::exp(-r2);
    return {std::max(core * head, glow), core * head * head};
}

}  // namespace

int addStep(Graph& graph, int last, const Placed& placed, const Particles& particles)
{
    constexpr float kLeast = 1e-4f;  // that is seen
    const auto all = std::make_shared<const std::vector<Particle>>(strewn(particles, placed));
    return graph.add(
        {placed.inputs(last), 0, 4, [=, form = particles.form](std::span<const Image* const> in, Image& out) {
             Image drawn(out.area, 4);  // premultiplied
             const Area& a = out.area;
             for (const Particle& p : *all) {
                 const auto from = [](double v, int least) { return std::max(static_cast<int>(std::floor(v)), least); };
                 const auto to = [](double v, int most) { return std::min(static_cast<int>(std::ceil(v)), most); };
                 const int y1 = to(p.y + p.far, a.y1), x0 = from(p.x - p.far, a.x0), x1 = to(p.x + p.far, a.x1);
                 for (int y = from(p.y - p.far, a.y0); y < y1; ++y)
                     for (int x = x0; x < x1; ++x) {
                         const auto [covers, hot] = seenOf(form, p, static_cast<float>(x + 0.5 - p.x), static_cast<float>(y + 0.5 - p.y));
                         const float alpha = covers * p.alpha;
                         if (alpha < kLeast)
                             continue;
                         float* to4 = drawn.at(x, y);
                         const Rgb colour = lerp(p.colour, Rgb{1, 1, 1}, 0.6f * hot);
                         for (int c = 0; c < 3; ++c)
                             to4[c] = colour[c] * alpha + to4[c] * (1 - alpha);
                         to4[3] = alpha + to4[3] * (1 - alpha);
                     }
             }
             for (int y = a.y0; y < a.y1; ++y)
                 for (int x = a.x0; x < a.x1; ++x) {
                     const float *is = in[0]->at(x, y), *over = drawn.at(x, y);
                     Covered made{rgbAt(is), is[3]};
                     if (over[3] > 0)
                         made = composited(placed.layer.blend, made, rgbAt(over) * (1 / over[3]), over[3] * placed.weight(in, x, y));
                     put(out.at(x, y), made.colour, made.alpha);
                 }
         }});
}

}  // namespace finish
