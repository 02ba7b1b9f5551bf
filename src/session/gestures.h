// What hands do in the picture, as mathematics: from places on the frame to a changed work.
//
// Places are (u, v) on the frame, 0 to 1 from the upper left corner; distances on it are measured in pt of the plane through
// the view's aim. Everything is O(pieces).
#pragma once

#include <optional>

#include "render/camera.h"
#include "work/scene.h"

namespace session {

using base::Vec2;
using base::Vec3;

// --- view --------------------------------------------------------------------------------------------------------------------

work::View walked(work::View view, double degreesRight, double degreesUp);
// The point under `from` comes under `to`, in the plane through the aim.
work::View slid(const work::View& view, const render::Camera& camera, Vec2 from, Vec2 to);
// What is seen becomes `factor` as wide; the point under `anchor` stays.
work::View closer(const work::View& view, const render::Camera& camera, Vec2 anchor, double factor);

// Views with names of their own. True isometric: walk 45, rise atan(1/sqrt 2) = 35.264 (projection by equal angles, ISO 5456-3);
// dimetric: edges go two across for one up, rise 30, common practice.
enum class StandardView { Straight, IsometricRight, IsometricLeft, DimetricRight, DimetricLeft, FromAbove };
work::View standardView(const work::View& now, StandardView which);

// Where what is seen at a place lies on a plane; nothing where it is seen edge on, or behind the camera.
std::optional<Vec3> onPlane(const render::Camera& camera, Vec2 uv, Vec3 point, Vec3 normal);

// --- pieces and letters ------------------------------------------------------------------------------------------------------

// A line that something snapped to, in the world.
struct SnapLine {
    Vec3 from, to;
};

// A drag that moves what is chosen. Begun where the pointer went down, asked at every move; the work of the beginning is changed
// each time, so that nothing adds up.
//
// A piece against the wall moves along it, a standing one over the floor (only across where the floor is seen edge on), a free
// one in the plane that faces the viewer. Letters move on their piece's plane.
class MoveDrag {
public:
    using Item = work::Address;  // a letter, or a whole piece
    MoveDrag(const work::Work& start, const work::WorkBodies& bodies, const render::Camera& camera, std::vector<Item> items, Vec2 from);

    struct Step {
        work::Work work;
        std::vector<SnapLine> lines;
        bool snapped = false;
    };
    // `reach`: how near counts for snapping, pt; 0 does not snap.
    Step to(Vec2 place, double reach) const;

private:
    Vec3 offset(Vec2 place) const;
    void snap(Vec3& by, double reach, Step& step) const;

    work::Work m_start;
    std::vector<work::PiecePlace> m_places;
    struct Letter {
        std::string piece, letter;
        base::Box3 box;
    };
    std::vector<Letter> m_letters;  // the first kMostSnapped
    render::Camera m_camera;
    std::vector<Item> m_items;
    Vec2 m_from;
    Vec3 m_grabbed, m_normal;  // of the plane the drag runs in
    bool m_onFloor = false;
};

// Moves what is chosen by a distance across, up and towards the viewer, as the arrow keys do.
work::Work nudged(const work::Work& work, const std::vector<MoveDrag::Item>& items, Vec3 by);

// How far a drag goes along an axis in the world. Where the axis points at the viewer, dragging upwards goes along it.
double alongAxis(const render::Camera& camera, Vec3 origin, Vec3 axis, Vec2 from, Vec2 to);

// Distance of a piece from its ground, changed: off the wall or floor it becomes free, back on it stands there again. `middle`
// is PiecePlace::middle.
work::Placement plumbed(const work::Placement& placement, const work::Ground& ground, double distance, double middle);
double plumbDistance(const work::Placement& placement, const work::Ground& ground, double middle);
// The axis of the plumb line: away from wall or floor.
Vec3 plumbAxis(const work::Placement& placement, const work::Ground& ground);

// Angle of a place as seen round a centre on the frame, degrees counter-clockwise from the right.
double angleAround(const render::Camera& camera, Vec2 centre, Vec2 place);
// A piece turned by degrees: in its own plane, or about the upright axis on the floor.
work::Placement turnedBy(work::Placement placement, double degrees);
// All that is chosen turned: pieces as above, letters about their middles.
work::Work turned(const work::Work& work, const std::vector<MoveDrag::Item>& items, double degrees);

// --- lamps -------------------------------------------------------------------------------------------------------------------

// Lights as lamps on stands round the lettering, on a round plan that shows near and far at once: a lamp at distance d stands
// d / (d + reach) of the way to the plan's edge, a sun near the edge. The plan is seen from the view's side and from above.
struct Lamp {
    Vec2 foot, head;      // in units of the plan's radius, from its middle, y up
    bool behind = false;  // the lettering is between it and the viewer
};
class LampPlan {
public:
    LampPlan(const work::Work& work);
    Lamp lamp(const work::Light& light) const;
    Vec2 onPlan(double direction, double radius, double rise) const;
    // The foot dragged: direction and distance. The head dragged up and down: height alone. Plan coordinates.
    work::Light withFoot(const work::Light& light, Vec2 place) const;
    work::Light withHead(const work::Light& light, double y) const;

private:
    double radiusOf(const work::Light& light) const;
    double m_reach, m_walk, m_tilt;
};

}  // namespace session
