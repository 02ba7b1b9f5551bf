// One description of the work file, read by the reader, the writer and the schema.
//
// A visitor V has: number(key, value, min, max, what), whole(...), flag(key, value, what), text(key, value, what),
// choice(key, value, names, what), colour(key, value, what), object(key, member, what), map(key, Ordered, what),
// partMap(key, map, what), own(key, optional, what), byId(key, map, what), list(key, strings, what).
#pragma once

#include "work/work.h"

namespace files {

template <class E>
struct Named {
    E value;
    const char* name;
};

inline constexpr Named<work::Unit> kUnits[] = {{work::Unit::Px, "px"}, {work::Unit::Mm, "mm"}, {work::Unit::In, "in"}, {work::Unit::Pt, "pt"}};
inline constexpr Named<outline::Align> kAligns[] = {{outline::Align::Start, "start"}, {outline::Align::Centre, "centre"}, {outline::Align::End, "end"}};
inline constexpr Named<solid::Profile> kProfiles[] = {{solid::Profile::Chamfer, "chamfer"}, {solid::Profile::Roundover, "roundover"}};
inline constexpr Named<solid::Corners> kCorners[] = {{solid::Corners::Round, "round"}, {solid::Corners::Mitred, "mitred"}};
inline constexpr Named<solid::Part> kParts[] = {{solid::Part::Face, "face"}, {solid::Part::FrontBevel, "frontBevel"}, {solid::Part::Side, "side"},
                                                {solid::Part::BackBevel, "backBevel"}, {solid::Part::Back, "back"}};
inline constexpr Named<work::Stance> kStances[] = {{work::Stance::AgainstWall, "againstWall"}, {work::Stance::OnFloor, "onFloor"}, {work::Stance::Free, "free"}};
inline constexpr Named<render::GroundKind> kGrounds[] = {{render::GroundKind::None, "none"}, {render::GroundKind::Wall, "wall"},
                                                         {render::GroundKind::Floor, "floor"}, {render::GroundKind::Sweep, "sweep"}};
inline constexpr Named<render::LightKind> kLights[] = {{render::LightKind::Softbox, "softbox"}, {render::LightKind::Sun, "sun"},
                                                       {render::LightKind::Bulb, "bulb"}, {render::LightKind::Spot, "spot"}};
inline constexpr Named<picture::ViewTransform> kViewTransforms[] = {{picture::ViewTransform::TrueColour, "true"}, {picture::ViewTransform::SoftWhites, "soft"}};

template <class V>
void describe(V& v, work::Sheet& s)
{
    v.number("width", s.width, 0.01, 100000, "width, in unit");
    v.number("height", s.height, 0.01, 100000, "height, in unit");
    v.choice("unit", s.unit, kUnits, "of width and height");
    v.number("ppi", s.ppi, 1, 4800, "pixels per inch");
    v.number("margin", s.margin, 0, 100000, "kept free along the edges, in unit");
}

template <class V>
void describe(V& v, work::FontChoice& f)
{
    v.text("family", f.family, "family name");
    v.text("style", f.style, "style name, empty for the regular one");
    v.text("asset", f.asset, "font file in this work, empty to look the family up on the machine");
    v.whole("index", f.index, 0, 65535, "face in the file");
    v.text("variations", f.variations, "settings of a variable font, such as wght=800");
}

template <class V>
void describe(V& v, work::Lettering& l)
{
    v.text("text", l.text, "lines end with a line feed");
    v.object("font", l.font, "the face");
    v.number("sizePt", l.layout.sizePt, 0.1, 50000, "size of the em, pt");
    v.number("tracking", l.layout.tracking, -1000, 10000, "added after each letter, thousandths of an em");
    v.number("lineSpacing", l.layout.lineSpacing, -10, 10, "distance of baselines, em");
    v.choice("align", l.layout.align, kAligns, "of the lines to each other");
    v.list("letterIds", l.letterIds, "an id for each grapheme of the text");
    v.whole("nextLetter", l.nextLetter, 1, 2000000000, "number of the next new letter id");
}

template <class V>
void describe(V& v, solid::Bevel& b)
{
    v.number("widthPt", b.widthPt, 0, 100000, "along the face, pt; 0 for none");
    v.number("heightPt", b.heightPt, 0, 100000, "along the depth, pt; 0 for none");
    v.choice("profile", b.profile, kProfiles, "cross-section");
    v.whole("steps", b.steps, 1, 64, "of a curved profile");
    v.flag("facets", b.facets, "each step flat with hard edges");
}

template <class V>
void describe(V& v, solid::SlabForm& f)
{
    v.number("depthPt", f.depthPt, 0, 100000, "depth, pt");
    v.object("front", f.front, "bevel in front");
    v.object("back", f.back, "bevel at the back");
    v.choice("corners", f.corners, kCorners, "of bevels round inner corners");
}

template <class V>
void describe(V& v, work::Material& m)
{
    v.colour("baseColour", m.baseColour, "base colour");
    v.text("swatch", m.swatch, "id of the swatch the base colour follows, or empty");
    v.number("metallic", m.metallic, 0, 1, "0 dielectric, 1 metal");
    v.number("roughness", m.roughness, 0, 1, "0 mirror, 1 matte");
    v.number("specular", m.specular, 0, 1, "strength of a dielectric's mirror layer");
    v.number("emission", m.emission, 0, 1000, "light given off, in base colour: 1 is a white card in full light; not of wall and floor");
}

template <class V>
void describe(V& v, work::MaterialSet& m)
{
    v.object("piece", m.piece, "of every part that has none of its own");
    v.partMap("parts", m.parts, "materials of single parts");
}

template <class V>
void describe(V& v, work::Placement& p)
{
    v.choice("stance", p.stance, kStances, "how the piece meets the ground");
    v.number("x", p.x, -1e6, 1e6, "middle, right of the sheet's middle, pt");
    v.number("y", p.y, -1e6, 1e6, "middle, above the sheet's middle, pt");
    v.number("z", p.z, -1e6, 1e6, "back, before the sheet's plane, pt");
    v.number("turn", p.turn, -36000, 36000, "about the upright axis, degrees");
    v.number("tilt", p.tilt, -36000, 36000, "top towards the viewer, degrees");
    v.number("roll", p.roll, -36000, 36000, "in its plane, counter-clockwise, degrees");
}

template <class V>
void describe(V& v, work::LetterOwn& l)
{
    v.own("form", l.form, "slab, where it differs from the piece's");
    v.own("material", l.material, "materials, where they differ from the piece's");
    v.number("x", l.x, -1e6, 1e6, "moved on the piece, pt");
    v.number("y", l.y, -1e6, 1e6, "moved on the piece, pt");
    v.number("z", l.z, -1e6, 1e6, "moved out of the piece, pt");
    v.number("roll", l.roll, -36000, 36000, "about its middle, counter-clockwise, degrees");
}

template <class V>
void describe(V& v, work::Copies& c)
{
    v.whole("count", c.count, 0, 50, "how many follow the piece");
    v.number("depthStepPt", c.depthStep, -100000, 100000, "each deeper by, pt");
    v.number("growthPt", c.growth, 0, 10000, "outline of each grown by, pt");
    v.number("backPt", c.back, -1e6, 1e6, "each moved back by, pt");
    v.number("turn", c.turn, -36000, 36000, "each turned in its plane by, degrees");
    v.colour("tint", c.tint, "their colours are mixed with it");
    v.number("tintShare", c.tintShare, 0, 1, "by so much more each");
}

template <class V>
void describe(V& v, work::Piece& p)
{
    v.text("name", p.name, "empty: named after its text");
    v.flag("hidden", p.hidden, "not shown");
    v.flag("locked", p.locked, "not changed by hand in the picture");
    v.object("lettering", p.lettering, "text and face");
    v.object("form", p.form, "slab");
    v.object("material", p.material, "materials");
    v.object("placement", p.placement, "stance and place");
    v.byId("letters", p.letters, "by letter id: what single letters have of their own");
    v.object("copies", p.copies, "linked copies");
}

template <class V>
void describe(V& v, work::Ground& g)
{
    v.choice("kind", g.kind, kGrounds, "what stands behind and below");
    v.number("wallBehindPt", g.wallBehind, -1e6, 1e6, "wall behind the sheet's plane, pt");
    v.number("floorBelowPt", g.floorBelow, -1e6, 1e6, "floor below the sheet's middle, pt");
    v.number("sweepPt", g.sweep, 0, 1e6, "radius of the bend between floor and wall, pt");
    v.object("wall", g.wall, "material of the wall");
    v.object("floor", g.floor, "material of floor and sweep");
    v.colour("backdrop", g.backdrop, "seen where nothing is hit");
    v.text("backdropSwatch", g.backdropSwatch, "id of the swatch it follows, or empty");
}

template <class V>
void describe(V& v, work::View& w)
{
    v.flag("perspective", w.perspective, "or parallel");
    v.number("focalLengthMm", w.focalLength, 5, 2000, "on a frame 36 mm wide");
    v.number("walk", w.walk, -36000, 36000, "round the lettering to the right, degrees");
    v.number("rise", w.rise, -90, 90, "over it, degrees");
    v.number("roll", w.roll, -36000, 36000, "of the camera, degrees");
    v.number("aimX", w.aimX, -1e6, 1e6, "point in the frame's middle, pt");
    v.number("aimY", w.aimY, -1e6, 1e6, "point in the frame's middle, pt");
    v.number("aimZ", w.aimZ, -1e6, 1e6, "point in the frame's middle, pt");
    v.number("frame", w.frame, 0.001, 1000, "width of what is seen at that point, in sheet widths");
}

template <class V>
void describe(V& v, work::Light& l)
{
    v.text("name", l.name, "empty: named after its kind");
    v.choice("kind", l.kind, kLights, "kind of light");
    v.flag("on", l.on, "lights the work");
    v.number("direction", l.direction, -36000, 36000, "where it comes from: 0 from the viewer, 90 from the right, degrees");
    v.number("height", l.height, -90, 90, "over the lettering, degrees");
    v.number("distancePt", l.distance, 1, 1e6, "from the sheet's middle, pt; not of a sun");
    v.number("widthPt", l.width, 0.1, 1e6, "of a softbox, pt");
    v.number("breadthPt", l.breadth, 0.1, 1e6, "of a softbox, pt");
    v.number("sizePt", l.size, 0.1, 1e6, "diameter of a bulb or spot, pt");
    v.number("sunSize", l.sunSize, 0.01, 90, "diameter of a sun as seen, degrees");
    v.number("cone", l.cone, 1, 179, "full angle of a spot, degrees");
    v.number("fade", l.fade, 0, 90, "edge of a spot's cone that fades, degrees");
    v.colour("colour", l.colour, "colour");
    v.text("swatch", l.swatch, "id of the swatch the colour follows, or empty");
    v.number("stops", l.stops, -20, 20, "brightness: 0 makes a white card at the sheet's middle 1.0");
}

template <class V>
void describe(V& v, work::Surroundings& s)
{
    v.flag("on", s.on, "light from all round");
    v.colour("colour", s.colour, "colour");
    v.text("swatch", s.swatch, "id of the swatch the colour follows, or empty");
    v.number("stops", s.stops, -20, 20, "brightness: 0 makes a white card 1.0");
}

template <class V>
void describe(V& v, work::Emissive& e)
{
    v.colour("colour", e.colour, "mixed with the colour of all materials that give off light");
    v.number("stops", e.stops, -20, 20, "0: as the materials say");
}

template <class V>
void describe(V& v, work::Finish& f)
{
    v.number("exposure", f.exposure, -20, 20, "stops");
    v.choice("viewTransform", f.viewTransform, kViewTransforms, "true: typed is seen; soft: bright whites roll off");
}

template <class V>
void describe(V& v, render::StopRule& r)
{
    v.whole("samples", r.samples, 0, 1000000, "stop after so many samples; 0: not by samples");
    v.number("seconds", r.seconds, 0, 1e7, "stop after so long; 0: not by time");
    v.number("noise", r.noise, 0, 255, "stop at this noise, in 1/255; 0: not by noise");
}

template <class V>
void describe(V& v, work::Swatch& s)
{
    v.text("name", s.name, "name");
    v.colour("colour", s.colour, "colour");
}

template <class V>
void describe(V& v, work::SavedView& s)
{
    v.text("name", s.name, "name");
    v.object("view", s.view, "the camera");
}

template <class V>
void describe(V& v, work::Work& w)
{
    v.object("sheet", w.sheet, "the picture's area");
    v.map("pieces", w.pieces, "p", "pieces, front to back");
    v.object("ground", w.ground, "wall, floor and backdrop");
    v.object("view", w.view, "the camera");
    v.flag("viewLocked", w.viewLocked, "the camera is not moved by hand");
    v.map("views", w.views, "v", "saved views");
    v.map("swatches", w.swatches, "s", "named colours");
    v.object("surroundings", w.surroundings, "plain light from all round");
    v.object("emissive", w.emissive, "light of all materials that give some off");
    v.map("lights", w.lights, "l", "lights");
    v.object("finish", w.finish, "from light to picture");
    v.object("final", w.final, "when the final render stops");
    v.list("meantSo", w.meantSo, "silenced notices: kind and place");
    v.whole("nextId", w.nextId, 1, 2000000000, "number of the next new id");
}

}  // namespace files
