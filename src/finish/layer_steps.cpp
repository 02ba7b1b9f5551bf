#include "finish/layer_steps.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "finish/blur.h"
#include "finish/placed.h"
#include "finish/strokes.h"
#include "finish/tone.h"
#include "picture/colour.h"
#include "render/sampler.h"

namespace finish {

namespace {

int add(Graph& graph, int last, const Placed& placed, const Tone& tone)
{
    return addChange(graph, last, placed, [maker = std::make_shared<ToneMaker>(tone)](Rgb is, int, int) { return maker->at(is); });
}

int add(Graph& graph, int last, const Placed& placed, const Levels& levels)
{
    const auto curve = std::make_shared<Curve>([&](float v) { return levelsAt(levels, v); });
    return addChange(graph, last, placed, [curve](Rgb is, int, int) { return Rgb{curve->at(is.x), curve->at(is.y), curve->at(is.z)}; });
}

int add(Graph& graph, int last, const Placed& placed, const Duotone& duotone)
{
    const auto ramp = std::make_shared<Ramp>(duotone.dark, duotone.light);
    return addChange(graph, last, placed, [ramp](Rgb is, int, int) { return ramp->at(lumaOf(is)); });
}

// The gradient over each letter's own box.
int addByLetter(Graph& graph, int last, const Placed& placed, const Fill& fill)
{
    const double w = placed.frame.width, h = placed.frame.height, perPt = placed.frame.pxPerPt, turn = base::radians(fill.turn),
                 c = std::cos(turn), s = std::sin(turn);
    const auto ramp = std::make_shared<Ramp>(fill.colour, fill.to);
    const auto end = static_cast<float>(fill.toOpacity);
    return graph.add({placed.inputs(last), 0, 4, [=](std::span<const Image* const> in, Image& out) {
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const float *below = in[0]->at(x, y), *own = in[1]->at(x, y) + 4 + placed.own;
                                  Covered is{rgbAt(below), below[3]};
                                  if (own[0] > 0) {
                                      const base::Box2& box = fill.boxes[static_cast<std::size_t>(own[0]) - 1].box;
                                      const base::Vec2 size = box.high - box.low, middle = box.centre();
                                      const double dx = (x + 0.5 - w / 2) / perPt - middle.x, dy = (h / 2 - y - 0.5) / perPt - middle.y,
                                                   across = std::max(1e-6, (std::abs(size.x * c) + std::abs(size.y * s)) * fill.reach),
                                                   corner = std::max(1e-6, std::hypot(size.x, size.y) / 2 * fill.reach);
                                      const double t =
                                          fill.form == FillForm::Round ? std::hypot(dx, dy) / corner : 0.5 + (dx * c + dy * s) / across;
                                      const auto share = static_cast<float>(std::clamp(t, 0.0, 1.0));
                                      is = composited(placed.layer.blend, is, ramp->at(share),
                                                      (1 + (end - 1) * share) * own[1] * placed.weight(in, x, y));
                                  }
                                  put(out.at(x, y), is.colour, is.alpha);
                              }
                      }});
}

int add(Graph& graph, int last, const Placed& placed, const Fill& fill)
{
    if (fill.form == FillForm::Even)
        return addCover(graph, last, placed, [colour = picture::encodeSrgb(fill.colour)](int, int) { return Covered{colour, 1}; });
    if (fill.isByLetter())
        return addByLetter(graph, last, placed, fill);
    const double w = placed.frame.width, h = placed.frame.height, turn = base::radians(fill.turn), c = std::cos(turn), s = -std::sin(turn);
    const double across = std::max(1e-6, (std::abs(w * c) + std::abs(h * s)) * fill.reach), corner = std::hypot(w, h) / 2 * fill.reach;
    const auto ramp = std::make_shared<Ramp>(fill.colour, fill.to);
    const auto end = static_cast<float>(fill.toOpacity);
    return addCover(graph, last, placed, [=, isRound = fill.form == FillForm::Round](int x, int y) {
        const double dx = x + 0.5 - w / 2, dy = y + 0.5 - h / 2;
        const double t = isRound ? std::hypot(dx, dy) / corner : 0.5 + (dx * c + dy * s) / across;
        const auto share = static_cast<float>(std::clamp(t, 0.0, 1.0));
        return Covered{ramp->at(share), 1 + (end - 1) * share};
    });
}

// Softer the further it is: the mask says how much of the radius. Each place is blurred with its like alone, weighed by the mask, so that
// what is sharp does not run into what lies behind it (normalised convolution: H. Knutsson, C.-F. Westin, 1993).
int addFarSoften(Graph& graph, int last, const Placed& placed, double sigma)
{
    return graph.add(
        {placed.inputs(last), blurReach(sigma), 4, [placed, sigma](std::span<const Image* const> in, Image& out) {
             constexpr float kLeast = 1e-3f;  // of what is sharp itself
             const Area& known = placed.known(in);
             const Image light = asLight(*in[0], known);
             Image weighed(known, 5);
             for (int y = known.y0; y < known.y1; ++y)
                 for (int x = known.x0; x < known.x1; ++x) {
                     float* to = weighed.at(x, y);
                     to[4] = std::max(placed.weight(in, x, y), kLeast);
                     for (int c = 0; c < 4; ++c)
                         to[c] = light.at(x, y)[c] * to[4];
                 }
             const Image half = blurred(weighed, out.area, sigma / 2), whole = blurred(weighed, out.area, sigma);
             for (int y = out.area.y0; y < out.area.y1; ++y)
                 for (int x = out.area.x0; x < out.area.x1; ++x) {
                     const float *is = in[0]->at(x, y), w = placed.weight(in, x, y);
                     float soft[4];
                     for (int c = 0; c < 4; ++c) {
                         const float near = half.at(x, y)[c] / half.at(x, y)[4], far = whole.at(x, y)[c] / whole.at(x, y)[4];
                         soft[c] = w < 0.5f ? light.at(x, y)[c] + (near - light.at(x, y)[c]) * 2 * w : near + (far - near) * (2 * w - 1);
                     }
                     const Covered seen = asSeen(soft);
                     put(out.at(x, y), w > 0 ? blended(placed.layer.blend, rgbAt(is), seen.colour) : rgbAt(is), w > 0 ? seen.alpha : is[3]);
                 }
         }});
}

int add(Graph& graph, int last, const Placed& placed, const Soften& soften)
{
    const double sigma = placed.px(soften.radius) / 2;
    if (placed.layer.mask.byDepth())
        return addFarSoften(graph, last, placed, sigma);
    return graph.add({placed.inputs(last), blurReach(sigma), 4, [placed, sigma](std::span<const Image* const> in, Image& out) {
                          const Image soft = blurred(asLight(*in[0], in[0]->area), out.area, sigma);
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const float *is = in[0]->at(x, y), *light = soft.at(x, y), w = placed.weight(in, x, y), alpha = light[3];
                                  const Rgb seen = picture::encodeSrgbQuickly(alpha > 1e-6f ? rgbAt(light) * (1 / alpha) : Rgb{});
                                  const float sum = is[3] + (alpha - is[3]) * w;
                                  const Rgb over = blended(placed.layer.blend, rgbAt(is), seen);
                                  const Rgb mixed = rgbAt(is) * (is[3] * (1 - w)) + over * (alpha * w);
                                  put(out.at(x, y), sum > 1e-6f ? mixed * (1 / sum) : rgbAt(is), sum);
                              }
                      }});
}

int add(Graph& graph, int last, const Placed& placed, const Sharpen& sharpen)
{
    const double sigma = placed.px(sharpen.radius) / 2;
    const auto amount = static_cast<float>(sharpen.amount);
    return graph.add({placed.inputs(last), blurReach(sigma), 4, [placed, sigma, amount](std::span<const Image* const> in, Image& out) {
                          const Image soft = blurred(*in[0], out.area, sigma);
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const float* is = in[0]->at(x, y);
                                  const Rgb colour = rgbAt(is), sharp = colour + (colour - rgbAt(soft.at(x, y))) * amount;
                                  const auto cut = [](float v) { return std::clamp(v, 0.0f, 1.0f); };
                                  const Rgb over = blended(placed.layer.blend, colour, {cut(sharp.x), cut(sharp.y), cut(sharp.z)});
                                  put(out.at(x, y), lerp(colour, over, placed.weight(in, x, y)), is[3]);
                              }
                      }});
}

int add(Graph& graph, int last, const Placed& placed, const Grain& grain)
{
    const double perPx = 1 / std::max(1e-6, placed.px(grain.size));
    const auto amount = 0.5f * static_cast<float>(grain.amount), own = static_cast<float>(std::sqrt(grain.colour)),
               shared = static_cast<float>(std::sqrt(1 - grain.colour));
    const std::uint32_t seed = render::mixBits(static_cast<std::uint32_t>(grain.seed) + 0x2545f491u);
    return addChangeRows(graph, last, placed, [=](int y, int x0, int x1, Rgb* to) {
        const double u = 0.5 * perPx, v = (y + 0.5) * perPx;
        std::vector<float> grey(static_cast<std::size_t>(x1 - x0)), one;
        if (shared > 0)
            addNoise(grey.data(), x0, x1, u, v, perPx, 0, shared, seed);
        for (int c = 0; c < 3; ++c) {
            if (own > 0 || c == 0)
                one = grey;
            if (own > 0)
                addNoise(one.data(), x0, x1, u, v, perPx, 0, own, seed + 77 * static_cast<std::uint32_t>(c + 1));
            for (std::size_t i = 0; i < one.size(); ++i)
                (c == 0 ? to[i].x : c == 1 ? to[i].y : to[i].z) = std::clamp(0.5f + amount * one[i], 0.0f, 1.0f);
        }
    });
}

int add(Graph& graph, int last, const Placed& placed, const Vignette& v)
{
    const double w = placed.frame.width, h = placed.frame.height, corner = std::hypot(w, h) / 2;
    // Lengths of the frame's own corner, or of a circle through it.
    const double perX = 1 / (w / 2 * std::numbers::sqrt2 * (1 - v.roundness) + corner * v.roundness),
                 perY = 1 / (h / 2 * std::numbers::sqrt2 * (1 - v.roundness) + corner * v.roundness);
    const Rgb colour = picture::encodeSrgb(v.colour);
    return addChange(graph, last, placed, [=, begins = v.begins, amount = v.amount](Rgb is, int x, int y) {
        const double r = std::hypot((x + 0.5 - w / 2) * perX, (y + 0.5 - h / 2) * perY);
        const double t = std::clamp((r - begins) / std::max(1e-3, 1 - begins), 0.0, 1.0);
        return lerp(is, colour, static_cast<float>(amount * t * t * (3 - 2 * t)));
    });
}

// Of a dot's cell: where ink comes first, as a rank that is even over the cell, so that the inked share is what it should be.
class Dot {
public:
    Dot()
    {
        std::vector<std::pair<double, std::size_t>> places;
        for (std::size_t y = 0; y < kSide; ++y)
            for (std::size_t x = 0; x < kSide; ++x) {
                const auto wave = [](std::size_t i) { return std::cos(2 * std::numbers::pi * (static_cast<double>(i) + 0.5) / kSide); };
                places.emplace_back(wave(x) + wave(y), places.size());
            }
        m_ranks.resize(places.size());
        std::sort(places.begin(), places.end());
        for (std::size_t i = 0; i < places.size(); ++i)
            m_ranks[places[i].second] = (static_cast<float>(i) + 0.5f) / static_cast<float>(places.size());
    }
    float rankAt(double x, double y) const
    {
        const auto place = [](double v) { return static_cast<std::size_t>((v - std::floor(v)) * kSide) % kSide; };
        return m_ranks[place(y) * kSide + place(x)];
    }

private:
    static constexpr std::size_t kSide = 128;
    std::vector<float> m_ranks;
};

int add(Graph& graph, int last, const Placed& placed, const PrintRaster& raster)
{
    static const Dot dot;
    constexpr int kProbes = 4;  // each way in a pixel
    const double perPx = 1 / std::max(1e-6, placed.px(raster.size)), turn = base::radians(raster.turn), c = std::cos(turn) * perPx,
                 s = std::sin(turn) * perPx;
    const Rgb ink = picture::encodeSrgb(raster.ink), paper = picture::encodeSrgb(raster.paper);
    return addChange(graph, last, placed, [=](Rgb is, int x, int y) {
        const float luma = lumaOf(is);
        int inked = 0;
        for (int i = 0; i < kProbes; ++i)
            for (int k = 0; k < kProbes; ++k) {
                const double px = x + (i + 0.5) / kProbes, py = y + (k + 0.5) / kProbes;
                inked += dot.rankAt(px * c - py * s, px * s + py * c) > luma;
            }
        return lerp(paper, ink, static_cast<float>(inked) / (kProbes * kProbes));
    });
}

// The plane a flat shadow falls from, in px right and down; `most` instead of what is there.
Image moved(const Image& plane, double right, double down, bool most)
{
    Image result(plane.area, 1);
    const Area& a = plane.area;
    for (int y = a.y0; y < a.y1; ++y)
        for (int x = a.x0; x < a.x1; ++x) {
            const double px = x - right, py = y - down, fx = std::floor(px), fy = std::floor(py);
            const auto at = [&](int dx, int dy) {
                return *plane.at(std::clamp(static_cast<int>(fx) + dx, a.x0, a.x1 - 1),
                                 std::clamp(static_cast<int>(fy) + dy, a.y0, a.y1 - 1));
            };
            const auto u = static_cast<float>(px - fx), v = static_cast<float>(py - fy);
            const float top = at(0, 0) + (at(1, 0) - at(0, 0)) * u, low = at(0, 1) + (at(1, 1) - at(0, 1)) * u,
                        there = top + (low - top) * v;
            *result.at(x, y) = most ? std::max(there, *plane.at(x, y)) : there;
        }
    return result;
}

int add(Graph& graph, int last, const Placed& placed, const FlatShadow& shadow)
{
    const double right = placed.px(shadow.right), down = placed.px(shadow.down), sigma = placed.px(shadow.softness) / 2,
                 far = std::hypot(right, down);
    const int reach = static_cast<int>(std::ceil(far)) + 24 + blurReach(sigma);  // each doubling looks at a neighbour more
    const Rgb colour = picture::encodeSrgb(shadow.colour);
    const auto lettersAt = [inverted = placed.layer.mask.inverted](float share) { return inverted ? 1 - share : share; };
    return graph.add({placed.inputs(last), reach, 4, [=, isLong = shadow.isLong](std::span<const Image* const> in, Image& out) {
                          Image plane(in[1]->area, 1);
                          for (int y = plane.area.y0; y < plane.area.y1; ++y)
                              for (int x = plane.area.x0; x < plane.area.x1; ++x)
                                  *plane.at(x, y) = lettersAt(in[1]->at(x, y)[4 + placed.plane]);
                          Image cast = plane;
                          // All places of the way, by doubling steps of at most a pixel.
                          const int doublings = isLong ? static_cast<int>(std::ceil(std::log2(std::max(1.0, far)))) : 0;
                          for (int i = 0; i < doublings; ++i) {
                              const double part = std::exp2(i - doublings);
                              cast = moved(cast, right * part, down * part, true);
                          }
                          if (!isLong)
                              cast = moved(plane, right, down, false);
                          cast = blurred(cast, out.area, sigma);
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const float w = *cast.at(x, y) * (1 - *plane.at(x, y)) * static_cast<float>(placed.layer.strength);
                                  const float* below = in[0]->at(x, y);
                                  const Covered is = composited(placed.layer.blend, {rgbAt(below), below[3]}, colour, w);
                                  put(out.at(x, y), is.colour, is.alpha);
                              }
                      }});
}

int add(Graph& graph, int last, const Placed& placed, const Picture& picture)
{
    if (!picture.texture)
        return last;
    const double perPt = 1 / placed.frame.pxPerPt, w = placed.frame.width, h = placed.frame.height, turn = base::radians(picture.turn),
                 c = std::cos(turn), s = std::sin(turn), high = picture.width * picture.texture->aspect();
    const auto texels = static_cast<float>(perPt / picture.width * picture.texture->width());
    const bool cropped = picture.edges == surface::PictureEdges::Once &&
                         (picture.cropLeft > 0 || picture.cropRight > 0 || picture.cropTop > 0 || picture.cropBottom > 0);
    // How much of a pixel lies before an edge that far away, in shares of a side so many px long.
    const auto inside = [](double far, double sidePx) { return static_cast<float>(std::clamp(far * sidePx + 0.5, 0.0, 1.0)); };
    return addCover(graph, last, placed, [=](int x, int y) {
        const double right = (x + 0.5 - w / 2) * perPt - picture.x, up = (h / 2 - y - 0.5) * perPt - picture.y;
        const auto across = static_cast<float>(0.5 + (right * c + up * s) / picture.width),
                   along = static_cast<float>(0.5 + (up * c - right * s) / high);
        const surface::Rgba seen = picture.texture->colourAt(across, along, texels, picture.edges);
        float left = 1;
        if (cropped) {
            const double wide = picture.width / perPt, tall = high / perPt;
            left = inside(across - picture.cropLeft, wide) * inside(1 - picture.cropRight - across, wide) *
                   inside(along - picture.cropBottom, tall) * inside(1 - picture.cropTop - along, tall);
        }
        return Covered{seen.alpha > 0 ? picture::encodeSrgbQuickly(seen.colour * (1 / seen.alpha)) : Rgb{}, seen.alpha * left};
    });
}

// Where one thing meets another, from the most and the second most that pixels show: between two neighbours the border lies where the
// share of the one ends. Lines are as wide as they are far from such places.
int add(Graph& graph, int last, const Placed& placed, const Lines& lines)
{
    const double width = placed.px(lines.width);
    const auto half = static_cast<float>(std::max(1.0, width) / 2), faint = static_cast<float>(std::min(1.0, width));
    const int reach = static_cast<int>(std::ceil(half)) + 2;
    const Rgb colour = picture::encodeSrgb(lines.colour);
    return graph.add(
        {placed.inputs(last), reach, 4, [=](std::span<const Image* const> in, Image& out) {
             const Image& source = *in[1];
             const Area& a = source.area;
             const int first = 4 + placed.own;
             Image far(out.area, 1);
             std::fill(far.pixels.values.begin(), far.pixels.values.end(), 1e9f);
             const auto mark = [&](float px, float py) {
                 const int cx = static_cast<int>(px), cy = static_cast<int>(py);
                 for (int y = std::max(out.area.y0, cy - reach); y < std::min(out.area.y1, cy + reach + 1); ++y)
                     for (int x = std::max(out.area.x0, cx - reach); x < std::min(out.area.x1, cx + reach + 1); ++x) {
                         const float dx = static_cast<float>(x) + 0.5f - px, dy = static_cast<float>(y) + 0.5f - py;
                         float& least = *far.at(x, y);
                         least = std::min(least, dx * dx + dy * dy);
                     }
             };
             const auto border = [&](const float* one, const float* other) {
                 const float more = other[2] == one[0] ? other[3] : 0, less = one[2] == other[0] ? one[3] : 0;
                 return std::clamp(1 - less + more, 0.5f, 1.5f);
             };
             for (int y = a.y0; y < a.y1; ++y)
                 for (int x = a.x0; x < a.x1; ++x) {
                     const float* here = source.at(x, y) + first;
                     if (x + 1 < a.x1)
                         if (const float* right = source.at(x + 1, y) + first; here[0] != right[0])
                             mark(static_cast<float>(x) + border(here, right), static_cast<float>(y) + 0.5f);
                     if (y + 1 < a.y1)
                         if (const float* below = source.at(x, y + 1) + first; here[0] != below[0])
                             mark(static_cast<float>(x) + 0.5f, static_cast<float>(y) + border(here, below));
                 }
             for (int y = out.area.y0; y < out.area.y1; ++y)
                 for (int x = out.area.x0; x < out.area.x1; ++x) {
                     const float covers = std::clamp(half + 0.5f - std::sqrt(*far.at(x, y)), 0.0f, 1.0f) * faint;
                     const float* below = in[0]->at(x, y);
                     const Covered is = composited(placed.layer.blend, {rgbAt(below), below[3]}, colour, covers * placed.weight(in, x, y));
                     put(out.at(x, y), is.colour, is.alpha);
                 }
         }});
}

bool needsMask(const Layer& layer)
{
    return layer.mask.looksAtIds() || !layer.mask.light.empty() || std::holds_alternative<FlatShadow>(layer.what);
}

constexpr int kLinePlanes = 4;    // number of the most that is shown, its share; of the second, its share
constexpr int kLetterPlanes = 2;  // place of the box of the letter that is shown most, from 1 on; its share

// Beside its mask.
int ownPlanesOf(const Layer& layer)
{
    const auto* fill = std::get_if<Fill>(&layer.what);
    return std::holds_alternative<Lines>(layer.what)   ? kLinePlanes
           : fill && fill->isByLetter()                ? kLetterPlanes
           : std::holds_alternative<Beams>(layer.what) ? 1
                                                       : 0;
}

// A number of a thing, as far as lines tell it apart. What is behind the pieces is one: on a sweep wall and floor have no edge.
float keyOf(const Lines& lines, const film::PixelId& id)
{
    if (id.piece == 0)
        return 0;
    const std::uint32_t letter = lines.letters ? id.letter : 0, part = lines.parts ? id.part : 0;
    return static_cast<float>(1 + (render::mixBits(id.piece + render::mixBits(letter + render::mixBits(part))) >> 9));
}

// The box of the letter that a pixel shows most of, and its share.
void fillLetterPlanes(const Fill& fill, const film::RankedIds& ids, float* to)
{
    to[0] = to[1] = 0;
    for (int i = 0; i < film::kIds && to[0] == 0; ++i)
        for (std::size_t k = 0; k < fill.boxes.size() && ids.ids[i].piece > 0 && to[0] == 0; ++k)
            if (fill.boxes[k].piece == ids.ids[i].piece && fill.boxes[k].letter == ids.ids[i].letter)
                to[0] = static_cast<float>(k + 1);
    if (to[0] == 0)
        return;
    const LetterBox& box = fill.boxes[static_cast<std::size_t>(to[0]) - 1];
    for (int i = 0; i < film::kIds; ++i)  // its parts
        if (ids.ids[i].piece == box.piece && ids.ids[i].letter == box.letter)
            to[1] += ids.shares[i];
}

// The mask of a layer with a soft edge, by itself.
int addSoftMask(Graph& graph, const Placed& placed)
{
    const double sigma = placed.px(placed.layer.mask.edge) / 2;
    return graph.add({{Graph::kSource}, blurReach(sigma), 1, [placed, sigma](std::span<const Image* const> in, Image& out) {
                          Image plane(in[0]->area, 1);
                          for (int y = plane.area.y0; y < plane.area.y1; ++y)
                              for (int x = plane.area.x0; x < plane.area.x1; ++x)
                                  *plane.at(x, y) = in[0]->at(x, y)[4 + placed.plane];
                          out = blurred(plane, out.area, sigma);
                      }});
}

// The mask of a layer that was drawn by hand.
int addPaintedMask(Graph& graph, const Placed& placed)
{
    return graph.add({{}, 0, 1, [strokes = placed.layer.mask.strokes, frame = placed.frame](std::span<const Image* const>, Image& out) {
                          paint(strokes, frame, out);
                      }});
}

// What the layers of a group made, blended over what was there before them as far as its mask says. Light is light: it is not blended.
int addGroup(Graph& graph, int before, int made, const Placed& placed)
{
    if (before == made)
        return made;
    std::vector<int> inputs = placed.inputs(before);
    inputs.push_back(made);
    return graph.add({std::move(inputs), 0, 4, [placed](std::span<const Image* const> all, Image& out) {
                          const std::span<const Image* const> in = all.first(all.size() - 1);
                          const Blend blend = placed.onLight ? Blend::Normal : placed.layer.blend;
                          for (int y = out.area.y0; y < out.area.y1; ++y)
                              for (int x = out.area.x0; x < out.area.x1; ++x) {
                                  const float *was = in[0]->at(x, y), *is = all.back()->at(x, y), w = placed.weight(in, x, y);
                                  const Rgb below = rgbAt(was);
                                  put(out.at(x, y), w > 0 ? lerp(below, blended(blend, below, rgbAt(is)), w) : below,
                                      was[3] + (is[3] - was[3]) * w);
                              }
                      }});
}

// The layers of one stage from `first` to before `end`: each(layer with the places of its planes, last step) returns the step it adds.
template <class Each>
int forLayers(Graph& graph, int last, const std::vector<Layer>& layers, const FrameSize& frame, bool onLight, std::size_t first,
              std::size_t end, Each each)
{
    int planes = 0;
    std::vector<int> before;  // each of them
    for (std::size_t i = first; i < end; ++i) {
        const Layer& layer = layers[i];
        const auto* group = std::get_if<Group>(&layer.what);
        before.push_back(last);
        if (group || isLight(layer) == onLight) {
            const int mask = needsMask(layer) ? planes : -1, own = planes + (mask < 0 ? 0 : 1);
            Placed placed{layer, mask, ownPlanesOf(layer) > 0 ? own : -1, -1, frame, onLight};
            if (mask >= 0 && layer.mask.edge > 0 && !std::holds_alternative<FlatShadow>(layer.what))
                placed.soft = addSoftMask(graph, placed);
            if (!layer.mask.strokes.empty())
                placed.painted = addPaintedMask(graph, placed);
            last = group ? addGroup(graph, before[i - first - std::min(i - first, static_cast<std::size_t>(std::max(0, group->layers)))],
                                    last, placed)
                         : each(placed, last);
        }
        planes += planesOf(layer);
    }
    return last;
}

}  // namespace

bool isLight(const Layer& layer)
{
    return std::holds_alternative<Halo>(layer.what) || std::holds_alternative<Rays>(layer.what) ||
           std::holds_alternative<Flare>(layer.what) || std::holds_alternative<Beams>(layer.what);
}

int planesOf(const Layer& layer)
{
    return (needsMask(layer) ? 1 : 0) + ownPlanesOf(layer);
}

bool looksAtIds(const Layer& layer)
{
    return layer.mask.looksAtIds() || std::holds_alternative<FlatShadow>(layer.what) || ownPlanesOf(layer) > 0;
}

void fillPlanes(const Layer& layer, const film::RankedIds& ids, float ofLight, float* to)
{
    if (needsMask(layer)) {
        *to++ = (looksAtIds(layer) ? maskOf(layer, ids) : 1) * ofLight;
    }
    if (const auto* fill = std::get_if<Fill>(&layer.what); fill && fill->isByLetter())
        fillLetterPlanes(*fill, ids, to);
    if (const auto* beams = std::get_if<Beams>(&layer.what)) {
        *to = 0;  // what stands before the lamp
        for (int i = 0; i < film::kIds; ++i)
            *to += ids.ids[i].piece > 0 && ids.depth < static_cast<float>(beams->depth) ? ids.shares[i] : 0;
    }
    const auto* lines = std::get_if<Lines>(&layer.what);
    if (!lines)
        return;
    // Things that lines do not tell apart are one.
    float keys[film::kIds] = {}, shares[film::kIds] = {};
    int count = 0;
    for (int i = 0; i < film::kIds; ++i) {
        if (ids.shares[i] <= 0)
            continue;
        const float key = keyOf(*lines, ids.ids[i]);
        int at = 0;
        while (at < count && keys[at] != key)
            ++at;
        keys[at] = key;
        shares[at] += ids.shares[i];
        count = std::max(count, at + 1);
    }
    int most = 0, second = -1;
    for (int i = 1; i < count; ++i)
        if (shares[i] > shares[most])
            most = i;
    for (int i = 0; i < count; ++i)
        if (i != most && (second < 0 || shares[i] > shares[second]))
            second = i;
    to[0] = keys[most];
    to[1] = shares[most];
    to[2] = second < 0 ? -1 : keys[second];
    to[3] = second < 0 ? 0 : shares[second];
}

float maskOf(const Layer& layer, const film::RankedIds& ids)
{
    const Mask& mask = layer.mask;
    const auto named = [&](const film::PixelId& id) {
        return mask.items.empty() || std::ranges::any_of(mask.items, [&](const MaskItem& item) {
                   return (item.piece == 0 || item.piece == id.piece) && (item.letter == 0 || item.letter == id.letter) &&
                          (item.part == 0 || item.part == id.part);
               });
    };
    // A flat shadow falls from letters, and everything it is told to spare is not among them.
    const Acts acts = mask.acts == Acts::Everywhere && (!mask.items.empty() || std::holds_alternative<FlatShadow>(layer.what))
                          ? Acts::Lettering
                          : mask.acts;
    float far = 1;
    if (mask.byDepth()) {
        const auto t = static_cast<float>(std::clamp((ids.depth - mask.farFrom) / (mask.farTo - mask.farFrom), 0.0, 1.0));
        far = t * t * (3 - 2 * t);
    }
    const float lit = mask.lit == Lit::InShadow ? 1 - ids.open : mask.lit == Lit::InLight ? ids.open : 1;
    const float unlit = mask.lit == Lit::InShadow ? 0 : 1;  // of the backdrop, on which nothing falls
    float share = 0;
    for (int i = 0; i < film::kIds; ++i) {
        const film::PixelId& id = ids.ids[i];
        const bool piece = id.piece > 0, ground = !piece && id.part > 0;
        const bool in = acts == Acts::Everywhere  ? true
                        : acts == Acts::Lettering ? piece && named(id)
                        : acts == Acts::Behind    ? !(piece && named(id))
                        : acts == Acts::Ground    ? ground
                                                  : !piece && !ground;
        share += in ? ids.shares[i] * (piece || ground ? far * lit : unlit) : 0;  // the backdrop is further than all
    }
    return std::clamp(share, 0.0f, 1.0f);
}

int addLight(Graph& graph, int last, const std::vector<Layer>& layers, const FrameSize& frame)
{
    return forLayers(graph, last, layers, frame, true, 0, layers.size(), [&](const Placed& placed, int below) {
        if (const auto* halo = std::get_if<Halo>(&placed.layer.what))
            return addStep(graph, below, placed, *halo);
        if (const auto* flare = std::get_if<Flare>(&placed.layer.what))
            return addStep(graph, below, placed, *flare);
        if (const auto* beams = std::get_if<Beams>(&placed.layer.what))
            return addStep(graph, below, placed, *beams);
        return addStep(graph, below, placed, std::get<Rays>(placed.layer.what));
    });
}

int addLayers(Graph& graph, int last, const std::vector<Layer>& layers, const FrameSize& frame, std::size_t first, std::size_t end)
{
    return forLayers(graph, last, layers, frame, false, first, std::min(end, layers.size()), [&](const Placed& placed, int below) {
        return std::visit(
            [&]<class T>(const T& what) {
                if constexpr (std::is_same_v<T, Group>)
                    return below;
                else if constexpr (requires { add(graph, below, placed, what); })
                    return add(graph, below, placed, what);
                else
                    return addStep(graph, below, placed, what);
            },
            placed.layer.what);
    });
}

}  // namespace finish
