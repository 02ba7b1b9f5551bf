#include "surface/cover.h"

#include <algorithm>
#include <cmath>

namespace surface {

namespace {

Vec2f turnedBack(const Pictures& pictures, Vec2f v)
{
    return {pictures.turn.x * v.x + pictures.turn.y * v.y, pictures.turn.x * v.y - pictures.turn.y * v.x};
}

// How many pixels of a picture so many pt are.
float texelsOf(const Pictures& pictures, const Texture& texture, float pt)
{
    return pt * static_cast<float>(texture.width()) / pictures.widthPt;
}

Rgba colourOn(const Pictures& pictures, const Texture& texture, const SheetPlace& place)
{
    const Vec2f on = onPicture(pictures, texture, place.at);
    return texture.colourAt(on.x, on.y, texelsOf(pictures, texture, place.footprint), pictures.edges);
}

Rgba valueOn(const Pictures& pictures, const Texture& texture, Vec2f at, float footprint)
{
    const Vec2f on = onPicture(pictures, texture, at);
    return texture.valueAt(on.x, on.y, texelsOf(pictures, texture, footprint), pictures.edges);
}

}  // namespace

Vec2f onPicture(const Pictures& pictures, const Texture& texture, Vec2f at)
{
    const Vec2f p = turnedBack(pictures, at - pictures.middle);
    const float height = pictures.widthPt * static_cast<float>(texture.aspect());
    return {p.x / pictures.widthPt + 0.5f, p.y / height + 0.5f};
}

void lay(const Pictures& pictures, const SheetPlace& place, Look& look)
{
    if (pictures.colour) {
        const Rgba over = colourOn(pictures, *pictures.colour, place);
        look.colour = over.colour + look.colour * (1 - over.alpha);
    }
    const auto value = [&](const SharedTexture& texture, float Rgb::*channel, float& of) {
        if (!texture)
            return;
        const Rgba there = valueOn(pictures, *texture, place.at, place.footprint);
        of += (there.colour.*channel - of) * there.alpha;
    };
    value(pictures.roughness, &Rgb::y, look.roughness);
    value(pictures.metallic, &Rgb::z, look.metallic);
}

Vec3f reliefNormal(const Pictures& pictures, const SharedTexture& relief, const SheetPlace& place, const Vec3f (&tangents)[2], Vec3f normal)
{
    if (!relief)
        return normal;
    const Texture& texture = *relief;
    if (pictures.normals) {
        const Rgba there = valueOn(pictures, texture, place.at, place.footprint);
        const Vec2f slope = Vec2f{2 * there.colour.x - 1, 2 * there.colour.y - 1} * there.alpha;
        const Vec3f right = tangents[0] * turnedBack(pictures, place.along[0]).x + tangents[1] * turnedBack(pictures, place.along[1]).x;
        const Vec3f up = tangents[0] * turnedBack(pictures, place.along[0]).y + tangents[1] * turnedBack(pictures, place.along[1]).y;
        const auto unit = [](Vec3f v) { return dot(v, v) > 0 ? normalized(v) : v; };
        const float upright = std::max(0.05f, 2 * there.colour.z - 1);
        return normalized(normal * (there.alpha > 0 ? upright : 1) + unit(right) * slope.x + unit(up) * slope.y);
    }
    // Differences over a pixel of the picture, or over what is seen as one.
    const float step = 0.5f * std::max(place.footprint, pictures.widthPt / static_cast<float>(texture.width()));
    Vec3f bent = normal;
    for (int i = 0; i < 2; ++i) {
        const auto height = [&](float by) {
            const Rgba there = valueOn(pictures, texture, place.at + place.along[i] * by, place.footprint);
            return there.colour.y * there.alpha;
        };
        bent = bent - tangents[i] * ((height(step) - height(-step)) * pictures.reliefPt / (2 * step));
    }
    return normalized(bent);
}

bool isCutOut(const Pictures& pictures, Vec2f at)
{
    if (!pictures.cutOut)
        return false;
    const Vec2f on = onPicture(pictures, *pictures.cutOut, at);
    if (pictures.edges == PictureEdges::Once && (on.x < 0 || on.x > 1 || on.y < 0 || on.y > 1))
        return false;
    const Rgba there = pictures.cutOut->valueAt(on.x, on.y, 0, pictures.edges);
    return (pictures.cutOut->hasAlpha() ? there.alpha : there.colour.y) < 0.5f;
}

Rgb lightAt(const Pictures& pictures, const SheetPlace& place, Rgb baseColour, float emission)
{
    Look look{baseColour, 0, 0, 0, {}};
    if (pictures.colour)
        lay(pictures, place, look);
    Rgb light = look.colour * emission;
    if (pictures.light) {
        const Rgba there = colourOn(pictures, *pictures.light, place);
        light = light * there.colour;  // dark where it is not
    }
    return light;
}

}  // namespace surface
