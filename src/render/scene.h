// What a render sees: plain values, all lengths in pt in one right-handed world (x right, y up, z towards the viewer).
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "base/vec.h"
#include "film/shares.h"
#include "light/light.h"
#include "light/surroundings.h"
#include "render/ground_kind.h"
#include "solid/body.h"
#include "surface/cover.h"
#include "surface/material.h"

namespace render {

using base::Vec3;
using base::Vec3f;
using light::Light;
using light::LightKind;
using surface::Layers;
using surface::Material;

using PartMaterials = std::array<int, solid::kPartCount>;  // index into Scene::materials for each part

struct PlacedBody {
    solid::SharedBody body;
    base::Pose pose;
    PartMaterials materials{};
    int piece = 0;                               // counted from 0
    std::vector<int> letters;                    // the body's letters as counted in its piece
    std::vector<PartMaterials> letterMaterials;  // one for each of these letters; empty when they are all `materials`
    // Where its origin was on the plane of its piece, from the piece's middle, before letters were moved by hand; and how far it was turned
    // there, radians: what lies over the whole piece goes by that.
    base::Vec2 home;
    double homeTurn = 0;
};

// Wall z = wallZ seen from its front, floor y = floorY seen from above, both unbounded; a sweep joins them with a quarter
// cylinder of radius sweepPt. From behind and below they are not there.
struct Ground {
    GroundKind kind = GroundKind::None;
    double wallZ = 0, floorY = 0, sweepPt = 200;
    int wallMaterial = 0, floorMaterial = 0;

    bool operator==(const Ground&) const = default;
};

struct Camera {
    Vec3 eye;                                             // perspective: the viewpoint; parallel: the middle of the frame, moved back
    Vec3 right{1, 0, 0}, up{0, 1, 0}, forward{0, 0, -1};  // unit
    bool perspective = false;
    double frameWidth = 1920, frameHeight = 1080;  // pt, in the plane through the aim
    double frameDistance = 1000;                   // pt from the eye to that plane
    double lensRadius = 0;                         // pt, of a perspective camera; 0: everything is sharp
    double sharpDistance = 1000;                   // pt along `forward` to the plane that is sharp
    int blades = 0;                                // corners of the lens, one straight up; 0: round
    // pt along `forward`: bodies are seen from there on only; what a ray begins in is cut away whole, so that no inside is seen. 0: from
    // the eye on.
    double cutDistance = 0;

    bool operator==(const Camera&) const = default;
};

inline film::Viewpoint viewpointOf(const Camera& camera)
{
    return {camera.perspective, camera.frameWidth, camera.frameHeight, camera.frameDistance};
}

// Who casts on whom in the light of one entry of the film: by the places of pieces counted from 1, 0 is wall and floor. Those beyond the
// end of a list are not in it.
struct Casting {
    std::vector<bool> unlit;       // get none of it straight from where it comes from
    std::vector<bool> shadowless;  // do not stand in its way, but in their own; wall and floor always do

    bool operator==(const Casting&) const = default;
};

inline bool isIn(const std::vector<bool>& pieces, int piece)
{
    return static_cast<std::size_t>(piece) < pieces.size() && pieces[static_cast<std::size_t>(piece)];
}

struct Scene {
    std::vector<PlacedBody> bodies;
    std::vector<Material> materials;
    std::vector<Layers> layers;          // of each material; empty where none has any layer or cover
    std::vector<surface::Cover> covers;  // of each material; empty where none has any
    Ground ground;
    bool surroundings = true;                  // radiance 1 from everywhere, white,
    std::shared_ptr<const light::SkyMap> sky;  // or where there is one as it says
    std::vector<Light> lights;
    bool emissive = false;  // materials that give off light do so
    film::Entries entries;  // of the film: for the surroundings and emissive materials as far as there are any, and one for each light, in
                            // their order
    Camera camera;
    double foldZ = 0;               // level parallel view: where the floor is folded down, see ground.h
    std::vector<Casting> castings;  // one for each of the entries; empty: everybody on everybody
    std::vector<bool> unmirrored;   // pieces counted from 1 that are not seen in others, nor throw light on them

    bool casts() const { return !castings.empty() || !unmirrored.empty(); }
};

}  // namespace render
