#include "files/glb_atlas.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "base/parallel.h"
#include "files/picture_file.h"
#include "picture/colour.h"

namespace files {

namespace {

using base::Vec3f;
using surface::Vec2f;

constexpr int kMostSide = 2048;  // px
constexpr int kRim = 2;          // px that a patch goes on beyond its edge

float cross2(Vec2f a, Vec2f b)
{
    return a.x * b.y - a.y * b.x;
}

// The representative of a set; paths are halved on the way.
std::uint32_t rootOf(std::vector<std::uint32_t>& parent, std::uint32_t i)
{
    while (parent[i] != i)
        i = parent[i] = parent[parent[i]];
    return i;
}

// Values from 0 to 1 of one map, while it is not known whether it will be needed.
struct Map {
    picture::Raster<std::uint8_t> raster;
    std::vector<std::uint8_t> rest;  // where nothing lies

    Map(int width, int height, std::vector<float> of) : raster(width, height, static_cast<int>(of.size()))
    {
        for (const float v : of)
            rest.push_back(coded(v));
    }
    static std::uint8_t coded(float v) { return static_cast<std::uint8_t>(std::clamp(v, 0.0f, 1.0f) * 255 + 0.5f); }
    void set(int x, int y, std::initializer_list<float> values) { std::ranges::transform(values, raster.at(x, y), coded); }
    void setRest(int x, int y) { std::ranges::copy(rest, raster.at(x, y)); }
    bool isEven() const
    {
        for (std::size_t i = 0; i < raster.values.size(); ++i)
            if (raster.values[i] != rest[i % rest.size()])
                return false;
        return true;
    }
};

std::vector<float> listOf(base::Rgb c)
{
    return {c.x, c.y, c.z};
}

}  // namespace

double atlasDensity(const surface::Cover& cover)
{
    constexpr double kOfPattern = 32, kLeast = 2, kMost = 16;  // px of its size; px per pt
    double wish = cover.pattern.kind == surface::PatternKind::None ? 0 : kOfPattern / static_cast<double>(cover.pattern.sizePt);
    if (const surface::Texture* lead = leadOf(cover.pictures))
        wish = std::max(wish, lead->width() / static_cast<double>(cover.pictures.widthPt));
    return std::clamp(wish, kLeast, kMost);
}

GlbAtlas::GlbAtlas(const solid::Body& body, const std::vector<std::uint32_t>& triangles, double wish)
    : m_body(body), m_triangles(triangles), m_axis(triangles.size()), m_patch(triangles.size()), m_pxPerPt(wish)
{
    std::vector<std::uint32_t> parent(triangles.size());
    std::iota(parent.begin(), parent.end(), 0);
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> edges;
    for (std::uint32_t i = 0; i < triangles.size(); ++i) {
        const auto& t = body.triangles[triangles[i]];
        const Vec3f n = cross(body.positions[t[1]] - body.positions[t[0]], body.positions[t[2]] - body.positions[t[0]]);
        const std::array<float, 3> along{n.x, n.y, n.z};
        const auto most = std::ranges::max_element(along, {}, [](float v) { return std::abs(v); });
        m_axis[i] = static_cast<int>(most - along.begin()) + (*most < 0 ? 3 : 0);
        for (std::size_t k = 0; k < 3; ++k) {
            const auto [known, isNew] = edges.try_emplace(std::minmax(t[k], t[(k + 1) % 3]), i);
            if (!isNew && m_axis[known->second] == m_axis[i])
                parent[rootOf(parent, i)] = rootOf(parent, known->second);
        }
    }
    std::map<std::uint32_t, int> patchOf;
    for (std::uint32_t i = 0; i < triangles.size(); ++i) {
        const auto [place, isNew] = patchOf.try_emplace(rootOf(parent, i), static_cast<int>(m_patches.size()));
        m_patch[i] = place->second;
        if (isNew)
            m_patches.push_back({onPatch(i, 0), onPatch(i, 0)});
        Patch& patch = m_patches[static_cast<std::size_t>(m_patch[i])];
        for (std::size_t k = 0; k < 3; ++k) {
            const Vec2f p = onPatch(i, k);
            patch.least = {std::min(patch.least.x, p.x), std::min(patch.least.y, p.y)};
            patch.most = {std::max(patch.most.x, p.x), std::max(patch.most.y, p.y)};
        }
    }
    // Patches have a rim however small they are: a body in crumbs gets a larger sheet.
    constexpr double kLeast = 0.05;  // px per pt
    for (layOut(); std::max(m_width, m_height) > kMostSide && m_pxPerPt > kLeast; layOut())
        m_pxPerPt *= 0.9;
}

Vec2f GlbAtlas::onPatch(std::size_t i, std::size_t corner) const
{
    const Vec3f p = m_body.positions[m_body.triangles[m_triangles[i]][corner]];
    const std::array<float, 3> at{p.x, p.y, p.z};
    const auto axis = static_cast<std::size_t>(m_axis[i] % 3);
    return {m_axis[i] < 3 ? at[(axis + 1) % 3] : -at[(axis + 1) % 3], at[(axis + 2) % 3]};
}

// On shelves, the tallest first, in about a square.
void GlbAtlas::layOut()
{
    std::vector<Patch*> order;
    double area = 0;
    int widest = 1;
    for (Patch& patch : m_patches) {
        const auto px = [&](float pt) { return static_cast<int>(std::ceil(static_cast<double>(pt) * m_pxPerPt)) + 1 + 2 * kRim; };
        patch.width = px(patch.most.x - patch.least.x);
        patch.height = px(patch.most.y - patch.least.y);
        area += static_cast<double>(patch.width) * patch.height;
        widest = std::max(widest, patch.width);
        order.push_back(&patch);
    }
    std::ranges::stable_sort(order, std::greater(), &Patch::height);
    m_width = std::max(widest, static_cast<int>(std::sqrt(area) * 1.1));
    int x = 0, y = 0, shelf = 0;
    for (Patch* patch : order) {
        if (x + patch->width > m_width) {
            x = 0;
            y += shelf;
            shelf = 0;
        }
        patch->x = x;
        patch->y = y;
        x += patch->width;
        shelf = std::max(shelf, patch->height);
    }
    m_height = y + shelf;
}

std::array<Vec2f, 3> GlbAtlas::at(std::size_t i) const
{
    const Patch& patch = m_patches[static_cast<std::size_t>(m_patch[i])];
    const auto scale = static_cast<float>(m_pxPerPt);
    std::array<Vec2f, 3> corners;
    for (std::size_t k = 0; k < 3; ++k) {
        const Vec2f p = (onPatch(i, k) - patch.least) * scale;
        corners[k] = {(p.x + static_cast<float>(patch.x + kRim) + 0.5f) / static_cast<float>(m_width),
                      (p.y + static_cast<float>(patch.y + kRim) + 0.5f) / static_cast<float>(m_height)};
    }
    return corners;
}

std::vector<GlbAtlas::Texel> GlbAtlas::texels() const
{
    std::vector<Texel> all(static_cast<std::size_t>(m_width) * static_cast<std::size_t>(m_height));
    for (std::size_t i = 0; i < m_triangles.size(); ++i) {
        const Patch& patch = m_patches[static_cast<std::size_t>(m_patch[i])];
        std::array<Vec2f, 3> p = at(i);
        for (Vec2f& corner : p)
            corner = {corner.x * static_cast<float>(m_width), corner.y * static_cast<float>(m_height)};
        const float twice = cross2(p[1] - p[0], p[2] - p[0]);
        if (!(std::abs(twice) > 1e-9f))
            continue;
        const auto [left, right] = std::minmax({p[0].x, p[1].x, p[2].x});
        const auto [top, bottom] = std::minmax({p[0].y, p[1].y, p[2].y});
        const auto from = [](float v, int least) { return std::max(least, static_cast<int>(std::floor(v)) - kRim); };
        const auto end = [](float v, int most) { return std::min(most, static_cast<int>(std::ceil(v)) + kRim); };
        for (int y = from(top, patch.y); y < end(bottom, patch.y + patch.height); ++y)
            for (int x = from(left, patch.x); x < end(right, patch.x + patch.width); ++x) {
                const Vec2f middle{static_cast<float>(x) + 0.5f, static_cast<float>(y) + 0.5f};
                float inside = 1e9f;
                for (std::size_t k = 0; k < 3; ++k) {
                    const Vec2f edge = p[(k + 1) % 3] - p[k];
                    const float off = cross2(edge, middle - p[k]) / std::max(std::hypot(edge.x, edge.y), 1e-9f);
                    inside = std::min(inside, twice > 0 ? off : -off);
                }
                Texel& texel = all[static_cast<std::size_t>(y) * static_cast<std::size_t>(m_width) + static_cast<std::size_t>(x)];
                if (inside > -kRim - 1 && (texel.triangle < 0 || inside > texel.inside))
                    texel = {static_cast<std::int32_t>(i), inside};
            }
    }
    return all;
}

base::Result<GlbImages> GlbAtlas::paint(const surface::Material& material, const surface::Cover& cover,
                                        const render::PictureSheet& sheet) const
{
    const surface::Pictures& pictures = cover.pictures;
    const std::vector<Texel> all = texels();
    const bool cutOut = pictures.cutOut != nullptr, shines = material.emission > 0 && (pictures.colour || pictures.light);
    std::vector<float> plain = listOf(picture::encodeSrgb(material.baseColour));
    if (cutOut)
        plain.push_back(1);
    Map colour(m_width, m_height, plain), gloss(m_width, m_height, {0, material.roughness, material.metallic}),
        normal(m_width, m_height, {0.5f, 0.5f, 1}), light(m_width, m_height, {1, 1, 1}), coat(m_width, m_height, {0.5f, 0.5f, 1});
    const auto footprint = static_cast<float>(1 / m_pxPerPt);
    const auto texelAt = [&](int x, int y) {
        return all[static_cast<std::size_t>(y) * static_cast<std::size_t>(m_width) + static_cast<std::size_t>(x)];
    };
    const auto paintOne = [&](int x, int y, std::size_t i) {
        const std::uint32_t triangle = m_triangles[i];
        const auto& corners = m_body.corners[triangle];
        const auto& at = m_body.triangles[triangle];
        const std::array<Vec2f, 3> t = this->at(i);
        const Vec2f here{(static_cast<float>(x) + 0.5f) / static_cast<float>(m_width),
                         (static_cast<float>(y) + 0.5f) / static_cast<float>(m_height)};
        const float whole = cross2(t[1] - t[0], t[2] - t[0]), second = cross2(here - t[0], t[2] - t[0]) / whole,
                    third = cross2(t[1] - t[0], here - t[0]) / whole;
        const auto between = [&](Vec3f a, Vec3f b, Vec3f c) { return a * (1 - second - third) + b * second + c * third; };
        const surface::Place place = render::placeOn(m_body, triangle, second, third);
        const Vec3f smooth = normalized(between(corners[0].normal, corners[1].normal, corners[2].normal));
        render::Cloth cloth = render::clothOn(m_body, triangle, {place.point, smooth, place.u, place.v, footprint});
        // As glTF 2.0, 3.7.2.1, interpolates it.
        const std::array<Vec3f, 3> p{m_body.positions[at[0]], m_body.positions[at[1]], m_body.positions[at[2]]};
        std::array<std::array<float, 4>, 3> tangents;
        for (std::size_t k = 0; k < 3; ++k)
            tangents[k] = glbTangent(p, t, normalized(corners[k].normal));
        const auto direction = [&](std::size_t k) { return Vec3f{tangents[k][0], tangents[k][1], tangents[k][2]}; };
        const Vec3f right = normalized(between(direction(0), direction(1), direction(2))), up = cross(smooth, right) * tangents[0][3];
        const auto coded = [&](Map& map, Vec3f n) {
            map.set(x, y, {dot(n, right) * 0.5f + 0.5f, dot(n, up) * 0.5f + 0.5f, dot(n, smooth) * 0.5f + 0.5f});
        };
        surface::Look look{material.baseColour, material.roughness, material.metallic, 0, {}};
        bool there = true;
        if (pictures.any()) {
            const surface::SheetPlace on = sheet.at(m_body, triangle, cloth, pictures.lies);
            surface::lay(pictures, on, look);
            there = !surface::isCutOut(pictures, on.at);
            if (shines) {
                const base::Rgb given = picture::encodeSrgb(surface::lightAt(pictures, on, material.baseColour, 1));
                light.set(x, y, {given.x, given.y, given.z});
            }
            coded(coat, surface::reliefNormal(pictures, pictures.coat, on, cloth.along, smooth));
            cloth.place.normal = surface::reliefNormal(pictures, pictures.relief, on, cloth.along, smooth);
        }
        if (cover.pattern.kind != surface::PatternKind::None) {
            const surface::Look under = look;
            look = surface::patterned(cover.pattern, under, cloth.place);
            cloth.place.normal = surface::relievedNormal(cover.pattern, under, cloth.place, cloth.along, cloth.du, cloth.dv, look);
        }
        const base::Rgb c = picture::encodeSrgb(look.colour);
        if (cutOut)
            colour.set(x, y, {c.x, c.y, c.z, there ? 1.0f : 0.0f});
        else
            colour.set(x, y, {c.x, c.y, c.z});
        gloss.set(x, y, {0, look.roughness, look.metallic});
        coded(normal, cloth.place.normal);
    };
    base::parallelFor(static_cast<std::size_t>(m_height), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        for (int x = 0; x < m_width; ++x) {
            for (Map* map : {&colour, &gloss, &normal, &light, &coat})
                map->setRest(x, y);
            if (const Texel texel = texelAt(x, y); texel.triangle >= 0)
                paintOne(x, y, static_cast<std::size_t>(texel.triangle));
        }
    });
    GlbImages images;
    images.cutOut = cutOut;
    images.edges = surface::PictureEdges::Once;
    for (const auto& [map, image] : {std::pair(&colour, &images.colour),
                                     {&gloss, &images.metalRoughness},
                                     {&normal, &images.normal},
                                     {&light, &images.emissive},
                                     {&coat, &images.coat}}) {
        if (map->isEven())
            continue;
        auto png = pngBytes(map->raster, 72);
        if (!png)
            return base::failed(png);
        *image = GlbImage{std::move(*png), "image/png"};
    }
    return images;
}

}  // namespace files
