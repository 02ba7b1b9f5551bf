#include "files/glb_pictures.h"

#include <algorithm>
#include <functional>
#include <string_view>

#include "base/frame.h"
#include "base/parallel.h"
#include "files/picture_file.h"
#include "picture/colour.h"

namespace files {

namespace {

using surface::Pictures;
using surface::Texture;
using surface::Vec2f;

constexpr int kMostPainted = 4096;  // of a picture that is painted anew

// As it lies when it is neither turned nor shifted.
Pictures straight(const Pictures& pictures)
{
    Pictures p = pictures;
    p.turn = {1, 0};
    p.middle = {};
    return p;
}

// `colourAt` gives coded values from 0 to 1 and alpha for a place on the plane; those outside of a picture that lies there once are asked
// for far away.
using Paint = std::function<surface::Rgba(Vec2f at, float footprint)>;
base::Result<GlbImage> painted(const Pictures& pictures, const Texture& lead, bool alpha, const Paint& paint)
{
    const double smaller = std::min(1.0, double(kMostPainted) / std::max(lead.width(), lead.height()));
    const int width = std::max(1, int(lead.width() * smaller)), height = std::max(1, int(lead.height() * smaller));
    picture::Raster<std::uint8_t> raster(width, height, alpha ? 4 : 3);
    const float tall = pictures.widthPt * static_cast<float>(lead.aspect());
    const bool rim = pictures.edges == surface::PictureEdges::Once;
    base::parallelFor(static_cast<std::size_t>(height), [&](std::size_t row) {
        const int y = static_cast<int>(row);
        for (int x = 0; x < width; ++x) {
            Vec2f at{((static_cast<float>(x) + 0.5f) / static_cast<float>(width) - 0.5f) * pictures.widthPt,
                     (0.5f - (static_cast<float>(y) + 0.5f) / static_cast<float>(height)) * tall};
            if (rim && (x == 0 || y == 0 || x == width - 1 || y == height - 1))
                at = {10 * pictures.widthPt, 10 * tall};
            const surface::Rgba v = paint(at, pictures.widthPt / static_cast<float>(width));
            const float values[] = {v.colour.x, v.colour.y, v.colour.z, v.alpha};
            for (int c = 0; c < raster.channels; ++c)
                raster.at(x, y)[c] = static_cast<std::uint8_t>(std::clamp(values[c], 0.0f, 1.0f) * 255 + 0.5f);
        }
    });
    auto png = pngBytes(raster, 72);
    if (!png)
        return base::failed(png);
    return GlbImage{std::move(*png), "image/png"};
}

// The file of a picture where it can be used as it is: PNG or JPEG.
std::optional<GlbImage> asItIs(const work::Work& work, const surface::SharedTexture& texture)
{
    using namespace std::string_view_literals;
    for (const auto& [_, asset] : work.assets)
        if (asset.texture == texture && asset.bytes) {
            const std::string_view begin(reinterpret_cast<const char*>(asset.bytes->data()), std::min<std::size_t>(asset.bytes->size(), 8));
            if (begin.starts_with("\x89PNG"sv))
                return GlbImage{*asset.bytes, "image/png"};
            if (begin.starts_with("\xff\xd8\xff"sv))
                return GlbImage{*asset.bytes, "image/jpeg"};
        }
    return std::nullopt;
}

}  // namespace

const Texture* leadOf(const Pictures& pictures)
{
    for (const auto& texture :
         {pictures.colour, pictures.relief, pictures.roughness, pictures.metallic, pictures.cutOut, pictures.light, pictures.coat})
        if (texture)
            return texture.get();
    return nullptr;
}

Vec2f glbCoordinates(const Pictures& pictures, Vec2f at)
{
    const Vec2f on = surface::onPicture(pictures, *leadOf(pictures), at);
    return {on.x, 1 - on.y};
}

std::array<float, 4> glbTangent(const std::array<base::Vec3f, 3>& p, const std::array<Vec2f, 3>& t, base::Vec3f normal)
{
    const base::Vec3f a = p[1] - p[0], b = p[2] - p[0];
    const Vec2f ta = t[1] - t[0], tb = t[2] - t[0];
    const float area = ta.x * tb.y - ta.y * tb.x, sign = area < 0 ? -1 : 1;
    base::Vec3f right = (a * tb.y - b * ta.y) * sign;
    const base::Vec3f up = (a * tb.x - b * ta.x) * sign;  // against t, which goes down
    right = right - normal * dot(normal, right);
    if (!(dot(right, right) > 0))
        right = base::FrameOf<float>(normal).toWorld({1, 0, 0});
    right = normalized(right);
    return {right.x, right.y, right.z, dot(cross(normal, right), up) < 0 ? -1.0f : 1.0f};
}

base::Result<GlbImages> glbImages(const work::Work& work, const surface::Material& material, const Pictures& laid)
{
    const Texture* lead = leadOf(laid);
    GlbImages images;
    if (!lead)
        return images;
    const Pictures pictures = straight(laid);
    images.cutOut = pictures.cutOut != nullptr;
    images.edges = pictures.edges;
    const auto lookAt = [&](Vec2f at, float footprint) {
        surface::Look look{material.baseColour, material.roughness, material.metallic, 0, {}};
        surface::lay(pictures, {at, {}, footprint}, look);
        return look;
    };
    const auto into = [](std::optional<GlbImage>& image, base::Result<GlbImage> made) -> base::Result<void> {
        if (!made)
            return base::failed(made);
        image = std::move(*made);
        return {};
    };
    if (pictures.colour || pictures.cutOut) {
        if (pictures.colour && !images.cutOut && !pictures.colour->hasAlpha() && pictures.edges != surface::PictureEdges::Once)
            images.colour = asItIs(work, pictures.colour);
        if (!images.colour)
            if (auto done = into(
                    images.colour,
                    painted(pictures, *lead, images.cutOut,
                            [&](Vec2f at, float footprint) -> surface::Rgba {
                                return {picture::encodeSrgb(lookAt(at, footprint).colour), surface::isCutOut(pictures, at) ? 0.0f : 1.0f};
                            }));
                !done)
                return base::failed(done);
    }
    if (pictures.roughness || pictures.metallic)
        if (auto done = into(images.metalRoughness, painted(pictures, *lead, false,
                                                            [&](Vec2f at, float footprint) -> surface::Rgba {
                                                                const surface::Look look = lookAt(at, footprint);
                                                                return {{0, look.roughness, look.metallic}, 1};
                                                            }));
            !done)
            return base::failed(done);
    const auto addNormals = [&](std::optional<GlbImage>& image, const surface::SharedTexture& relief) -> base::Result<void> {
        if (!relief)
            return {};
        return into(image, painted(pictures, *lead, false, [&](Vec2f at, float footprint) -> surface::Rgba {
                        const base::Vec3f n =
                            surface::reliefNormal(pictures, relief, {at, {{1, 0}, {0, 1}}, footprint}, {{1, 0, 0}, {0, 1, 0}}, {0, 0, 1});
                        return {{n.x * 0.5f + 0.5f, n.y * 0.5f + 0.5f, n.z * 0.5f + 0.5f}, 1};
                    }));
    };
    if (auto done = addNormals(images.normal, pictures.relief); !done)
        return base::failed(done);
    if (auto done = addNormals(images.coat, pictures.coat); !done)
        return base::failed(done);
    if (material.emission > 0 && (pictures.colour || pictures.light))
        if (auto done =
                into(images.emissive,
                     painted(pictures, *lead, false,
                             [&](Vec2f at, float footprint) -> surface::Rgba {
                                 return {picture::encodeSrgb(surface::lightAt(pictures, {at, {}, footprint}, material.baseColour, 1)), 1};
                             }));
            !done)
            return base::failed(done);
    return images;
}

}  // namespace files
