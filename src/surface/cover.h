// What covers a material: pictures laid on it, and a pattern over them.
#pragma once

#include "surface/pattern.h"
#include "surface/texture.h"

namespace surface {

// Where pictures lie.
enum class PictureLies : std::uint8_t {
    Wrapped,  // one sheet over the front of the whole piece; on its sides along the outline
    Front,    // one sheet over the whole piece, seen from its front
    Letter,   // the same about each letter's middle
    Outline,  // along the outline and the profile
};

// They lie on one sheet, each as high as its width makes it.
struct Pictures {
    SharedTexture colour;     // over the base colour, as far as it is opaque
    SharedTexture roughness;  // green, in place of the roughness: black is a mirror
    SharedTexture metallic;   // blue, in place of metallic; both as glTF 2.0, 3.9.2, has them in one picture
    SharedTexture relief;     // green: heights; or normals, see below
    SharedTexture cutOut;     // nothing is where its alpha, or without one its green, is under a half (glTF 2.0, 3.9.4: MASK)
    SharedTexture light;      // times what is given off
    float widthPt = 100;
    Vec2f turn{1, 0};  // cosine and sine, counter-clockwise
    Vec2f middle;      // pt: where the middle of the first one lies
    PictureEdges edges = PictureEdges::Repeat;
    PictureLies lies = PictureLies::Wrapped;
    float reliefPt = 1;    // white over black
    bool normals = false;  // the pictures of relief and coat have tangent-space normals, green upwards (glTF 2.0, 3.9.3), and no height
    SharedTexture coat;    // the same of the coat alone (KHR_materials_clearcoat: clearcoatNormalTexture)

    bool operator==(const Pictures&) const = default;
    bool any() const { return colour || roughness || metallic || relief || cutOut || light || coat; }
};

// Of one material.
struct Cover {
    Pattern pattern;
    Pictures pictures;

    bool operator==(const Cover&) const = default;
    bool any() const { return pattern.kind != PatternKind::None || pictures.any(); }
    bool hasRelief() const { return (pattern.kind != PatternKind::None && pattern.relief > 0) || pictures.relief; }
};

// A place on the plane that pictures lie on.
struct SheetPlace {
    Vec2f at;             // pt
    Vec2f along[2];       // what that changes by along two unit tangents of the surface
    float footprint = 0;  // pt
};

// Of a point of that plane: where it is on one of the pictures, 0 to 1 to the right and upwards.
Vec2f onPicture(const Pictures& pictures, const Texture& texture, Vec2f at);

// What a place looks like under its pictures: colour, roughness and metallic.
void lay(const Pictures& pictures, const SheetPlace& place, Look& look);
// The normal that one of the pictures, its relief or its coat, gives; `tangents` are those of the place. `normal` where there is none.
Vec3f reliefNormal(const Pictures& pictures, const SharedTexture& relief, const SheetPlace& place, const Vec3f (&tangents)[2],
                   Vec3f normal);
// Whether nothing is there.
bool isCutOut(const Pictures& pictures, Vec2f at);
// Light that a place with this base colour gives off, where `emission` is how much.
Rgb lightAt(const Pictures& pictures, const SheetPlace& place, Rgb baseColour, float emission);
// The brightest that can be.
inline Rgb mostLight(const Pictures& pictures, Rgb baseColour, float emission)
{
    return (pictures.colour ? Rgb{1, 1, 1} : baseColour) * emission;
}

}  // namespace surface
