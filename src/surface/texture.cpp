#include "surface/texture.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "base/parallel.h"
#include "picture/colour.h"

namespace surface {

// What each pixel of `to` takes of `from` side by side, whole or in part: their mean stays what it was.
struct TextureShare {
    int first = 0, count = 0;
    std::array<float, 4> weights{};
};

namespace {

constexpr float kWhole = 65535;  // of a channel of a level

// sRGB in 8 bits to light.
const std::array<float, 256>& lightOf8()
{
    static const std::array<float, 256> s_table = [] {
        std::array<float, 256> table{};
        for (std::size_t i = 0; i < table.size(); ++i)
            table[i] = picture::decodeSrgb(static_cast<float>(i) / 255);
        return table;
    }();
    return s_table;
}

// Where a pixel lies that is meant beyond the edges.
int wrapped(int i, int count, PictureEdges edges)
{
    if (i >= 0 && i < count)
        return i;
    if (edges == PictureEdges::Once)
        return std::clamp(i, 0, count - 1);
    const int period = edges == PictureEdges::Mirror ? 2 * count : count;
    const int in = (i % period + period) % period;
    return in < count ? in : period - 1 - in;
}

std::vector<TextureShare> sharesOf(int from, int to)
{
    std::vector<TextureShare> shares(static_cast<std::size_t>(to));
    const double each = static_cast<double>(from) / to;  // 1 to 3
    for (int i = 0; i < to; ++i) {
        TextureShare& share = shares[static_cast<std::size_t>(i)];
        const double begin = i * each, end = (i + 1) * each;
        share.first = static_cast<int>(begin);
        for (int k = share.first; k < from && k < end - 1e-9 && share.count < 4; ++k)
            share.weights[static_cast<std::size_t>(share.count++)] =
                static_cast<float>((std::min<double>(end, k + 1) - std::max<double>(begin, k)) / each);
    }
    return shares;
}

// How much of something `texels` wide at `at` lies on a side of `size` pixels.
float within(float at, float size, float texels)
{
    const float reach = std::max(texels, 1e-3f);
    return std::clamp(at / reach + 0.5f, 0.0f, 1.0f) * std::clamp((size - at) / reach + 0.5f, 0.0f, 1.0f);
}

}  // namespace

Texture::Texture(int width, int height, std::vector<std::uint8_t> rgba) : m_width(width), m_height(height), m_pixels(std::move(rgba))
{
    for (std::size_t i = 3; i < m_pixels.size() && !m_hasAlpha; i += 4)
        m_hasAlpha = m_pixels[i] != 255;
}

Texture::Texture(int width, int height, std::vector<std::uint16_t> deep, bool linear)
    : m_width(width), m_height(height), m_linear(linear), m_deep(std::move(deep))
{
    for (std::size_t i = 3; i < m_deep.size() && !m_hasAlpha; i += 4)
        m_hasAlpha = m_deep[i] != 65535;
}

// Of the picture itself, as pyramids have it.
template <bool isColour>
Rgba Texture::pixel(int x, int y) const
{
    const std::size_t at = 4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(m_width) + static_cast<std::size_t>(x));
    Rgba of;
    if (!m_pixels.empty()) {
        const std::uint8_t* p = m_pixels.data() + at;
        const auto& light = lightOf8();
        of = isColour ? Rgba{{light[p[0]], light[p[1]], light[p[2]]}, p[3] / 255.0f}
                      : Rgba{{p[0] / 255.0f, p[1] / 255.0f, p[2] / 255.0f}, p[3] / 255.0f};
    } else {
        const std::uint16_t* p = m_deep.data() + at;
        of = {{p[0] / kWhole, p[1] / kWhole, p[2] / kWhole}, p[3] / kWhole};
        if (isColour && !m_linear)
            of.colour = picture::decodeSrgb(of.colour);
    }
    if (isColour)
        of.colour = of.colour * of.alpha;
    return of;
}

template <bool isColour>
Texture::Pyramid Texture::pyramid() const
{
    Pyramid levels;
    for (int width = m_width, height = m_height; width > 1 || height > 1;) {
        const int w = std::max(1, width / 2), h = std::max(1, height / 2);
        const std::vector<TextureShare> across = sharesOf(width, w), down = sharesOf(height, h);
        const Level* before = levels.empty() ? nullptr : &levels.back();
        Level level{w, h, std::vector<std::uint16_t>(4 * static_cast<std::size_t>(w) * static_cast<std::size_t>(h))};
        base::parallelFor(static_cast<std::size_t>(h), [&](std::size_t y) {
            const TextureShare& rows = down[y];
            std::uint16_t* to = level.rgba.data() + 4 * y * static_cast<std::size_t>(w);
            for (const TextureShare& columns : across) {
                Rgba sum;
                for (int j = 0; j < rows.count; ++j)
                    for (int i = 0; i < columns.count; ++i) {
                        const int px = columns.first + i, py = rows.first + j;
                        Rgba one;
                        if (before) {
                            const std::uint16_t* p =
                                before->rgba.data() +
                                4 * (static_cast<std::size_t>(py) * static_cast<std::size_t>(width) + static_cast<std::size_t>(px));
                            one = {{p[0] / kWhole, p[1] / kWhole, p[2] / kWhole}, p[3] / kWhole};
                        } else {
                            one = pixel<isColour>(px, py);
                        }
                        sum = sum + one * (rows.weights[static_cast<std::size_t>(j)] * columns.weights[static_cast<std::size_t>(i)]);
                    }
                for (const float value : {sum.colour.x, sum.colour.y, sum.colour.z, sum.alpha})
                    *to++ = static_cast<std::uint16_t>(std::clamp(value, 0.0f, 1.0f) * kWhole + 0.5f);
            }
        });
        levels.push_back(std::move(level));
        width = w;
        height = h;
    }
    return levels;
}

void Texture::makeColours() const
{
    std::call_once(m_coloursMade, [this] { m_colours = pyramid<true>(); });
}

void Texture::makeValues() const
{
    std::call_once(m_valuesMade, [this] { m_values = pyramid<false>(); });
}

// Between the four pixels round the place; level 0 is the picture.
template <bool isColour>
Rgba Texture::onLevel(int level, float s, float t, PictureEdges edges) const
{
    const Level* small = level > 0 ? &(isColour ? m_colours : m_values)[static_cast<std::size_t>(level - 1)] : nullptr;
    const int width = small ? small->width : m_width, height = small ? small->height : m_height;
    const float x = s * static_cast<float>(width) - 0.5f, y = (1 - t) * static_cast<float>(height) - 0.5f;
    const float x0 = std::floor(x), y0 = std::floor(y), fx = x - x0, fy = y - y0;
    Rgba sum;
    for (int j = 0; j < 2; ++j)
        for (int i = 0; i < 2; ++i) {
            const float weight = (i ? fx : 1 - fx) * (j ? fy : 1 - fy);
            const int px = wrapped(static_cast<int>(x0) + i, width, edges), py = wrapped(static_cast<int>(y0) + j, height, edges);
            if (small) {
                const std::uint16_t* p = small->rgba.data() + 4 * (static_cast<std::size_t>(py) * static_cast<std::size_t>(width) +
                                                                   static_cast<std::size_t>(px));
                const float w = weight / kWhole;
                sum = sum + Rgba{{p[0] * w, p[1] * w, p[2] * w}, p[3] * w};
            } else {
                sum = sum + pixel<isColour>(px, py) * weight;
            }
        }
    return sum;
}

template <bool isColour>
Rgba Texture::at(float s, float t, float texels, PictureEdges edges) const
{
    if (!std::isfinite(s) || !std::isfinite(t))
        return {};
    float there = 1;
    if (edges == PictureEdges::Once) {
        there = within(s * static_cast<float>(m_width), static_cast<float>(m_width), texels) *
                within(t * static_cast<float>(m_height), static_cast<float>(m_height), texels);
        if (there == 0)
            return {};
        s = std::clamp(s, 0.0f, 1.0f);
        t = std::clamp(t, 0.0f, 1.0f);
    } else {  // near 0, so that pixels have numbers
        s -= 2 * std::floor(s / 2);
        t -= 2 * std::floor(t / 2);
    }
    const Pyramid& levels = isColour ? m_colours : m_values;
    const float level = std::clamp(std::log2(std::max(texels, 1e-6f)), 0.0f, static_cast<float>(levels.size()));
    const int lower = static_cast<int>(level);
    const float share = level - static_cast<float>(lower);
    Rgba of = onLevel<isColour>(lower, s, t, edges);
    if (share > 0)
        of = of * (1 - share) + onLevel<isColour>(lower + 1, s, t, edges) * share;
    if (isColour)
        return of * there;
    of.alpha *= there;
    return of;
}

Rgba Texture::colourAt(float s, float t, float texels, PictureEdges edges) const
{
    return at<true>(s, t, texels, edges);
}

Rgba Texture::valueAt(float s, float t, float texels, PictureEdges edges) const
{
    return at<false>(s, t, texels, edges);
}

std::size_t Texture::bytes() const
{
    std::size_t all = m_pixels.size() + 2 * m_deep.size();
    for (const Pyramid* pyramid : {&m_colours, &m_values})
        for (const Level& level : *pyramid)
            all += 2 * level.rgba.size();
    return all;
}

}  // namespace surface
