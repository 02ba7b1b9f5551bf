#include "session/gestures.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"

namespace session {

namespace {

constexpr double kSunRadius = 0.96;  // of the plan
constexpr double kPlanTilt = 28;     // degrees: how far the plan is seen from above at least
constexpr double kEdgeOn = 0.12;     // a plane whose normal is this square to the view is not dragged in

double wrapped(double degrees)
{
    const double d = std::fmod(degrees + 180, 360);
    return d < 0 ? d + 180 : d - 180;
}

// Place on the frame in pt from its middle, y up.
Vec2 onFrame(const render::Camera& c, Vec2 uv)
{
    return {(uv.x - 0.5) * c.frameWidth, (0.5 - uv.y) * c.frameHeight};
}

constexpr std::size_t kMostSnapped = 400;  // letters whose middles are known

// A place to snap to: how far away it is from the start, and its lines.
struct Candidate {
    double by = 0;
    std::vector<SnapLine> lines;
};

// Between what lies side by side with a box: the gap of two neighbours once more on either side of them, and the middle between them.
// `from` and `to` are the ends of each along the axis.
struct Ends {
    double from = 0, to = 0;
};
template <class Line>
void addGaps(std::vector<Candidate>& candidates, Ends own, std::vector<Ends> others, Line line)
{
    std::sort(others.begin(), others.end(), [](const Ends& a, const Ends& b) { return a.from < b.from; });
    for (std::size_t i = 0; i + 1 < others.size(); ++i) {
        const Ends &a = others[i], &b = others[i + 1];
        const double gap = b.from - a.to, room = gap - (own.to - own.from);
        if (gap <= 0)
            continue;
        const SnapLine between = line(a.to, b.from);
        candidates.push_back({b.to + gap - own.from, {between, line(b.to, b.to + gap)}});
        candidates.push_back({a.from - gap - own.to, {between, line(a.from - gap, a.from)}});
        if (room > 0)
            candidates.push_back({a.to + room / 2 - own.from, {line(a.to, a.to + room / 2), line(b.from - room / 2, b.from)}});
    }
}

const Candidate* nearest(const std::vector<Candidate>& candidates, double now, double reach)
{
    const Candidate* best = nullptr;
    for (const Candidate& c : candidates)
        if (std::abs(c.by - now) < reach && (!best || std::abs(c.by - now) < std::abs(best->by - now)))
            best = &c;
    return best;
}

}  // namespace

std::optional<Vec3> onPlane(const render::Camera& camera, Vec2 uv, Vec3 point, Vec3 normal)
{
    const render::Ray ray = render::cameraRay(camera, uv.x, uv.y);
    const Vec3 o = toDouble(ray.origin), d = toDouble(ray.direction);
    const double facing = dot(d, normal);
    if (std::abs(facing) < 1e-6)
        return std::nullopt;
    const double t = dot(point - o, normal) / facing;
    return t > 0 ? std::optional(o + d * t) : std::nullopt;
}

work::View walked(work::View view, double right, double up)
{
    view.walk = wrapped(view.walk + right);
    view.rise = std::clamp(view.rise + up, -89.0, 90.0);
    return view;
}

work::View slid(const work::View& view, const render::Camera& camera, Vec2 from, Vec2 to)
{
    const Vec2 a = onFrame(camera, from), b = onFrame(camera, to);
    const Vec3 by = camera.right * (a.x - b.x) + camera.up * (a.y - b.y);
    work::View result = view;
    result.aimX += by.x;
    result.aimY += by.y;
    result.aimZ += by.z;
    return result;
}

work::View closer(const work::View& view, const render::Camera& camera, Vec2 anchor, double factor)
{
    const Vec2 at = onFrame(camera, anchor);
    work::View result = view;
    result.frame = std::clamp(view.frame * factor, 0.001, 1000.0);
    const double kept = 1 - result.frame / view.frame;
    const Vec3 by = camera.right * (at.x * kept) + camera.up * (at.y * kept);
    result.aimX += by.x;
    result.aimY += by.y;
    result.aimZ += by.z;
    return result;
}

work::View standardView(const work::View& now, StandardView which)
{
    work::View view = now;
    view.roll = 0;
    const auto set = [&](double walk, double rise) {
        view.walk = walk;
        view.rise = rise;
        view.perspective = false;
    };
    const double isometric = base::degrees(std::atan(std::sqrt(0.5)));
    switch (which) {
    case StandardView::Straight:
        view = {};
        view.focalLength = now.focalLength;
        break;
    case StandardView::IsometricRight:
        set(45, isometric);
        break;
    case StandardView::IsometricLeft:
        set(-45, isometric);
        break;
    case StandardView::DimetricRight:
        set(45, 30);
        break;
    case StandardView::DimetricLeft:
        set(-45, 30);
        break;
    case StandardView::FromAbove:
        set(0, 90);
        break;
    }
    return view;
}

MoveDrag::MoveDrag(const work::Work& start, const work::WorkBodies& bodies, const render::Camera& camera, std::vector<Item> items,
                   Vec2 from)
    : m_start(start), m_places(bodies.places), m_camera(camera), m_items(std::move(items)), m_from(from)
{
    if (m_items.empty())
        return;
    for (const work::WorkBody& body : bodies.bodies)
        if (body.copy == 0 && body.letters.size() == 1 && m_letters.size() < kMostSnapped)
            m_letters.push_back({body.piece, body.letters.front(), work::worldBox(body)});
    const Item& lead = m_items.back();
    const work::Piece& piece = m_start.pieces.items.at(lead.piece);
    const base::Pose pose = work::poseOf(m_start.placementOf(lead.piece), m_start.ground);
    const Vec3 front = pose.origin + pose.out * work::depthOf(piece.formOf(lead.letter));
    if (!lead.letter.empty() || piece.placement.stance == work::Stance::AgainstWall) {
        m_normal = pose.out;
        m_grabbed = front;
    } else if (piece.placement.stance == work::Stance::OnFloor) {
        m_onFloor = true;
        m_normal = {0, 1, 0};
        m_grabbed = pose.origin;
    } else {
        m_normal = -m_camera.forward;
        m_grabbed = front;
    }
    if (std::abs(dot(m_normal, m_camera.forward)) < kEdgeOn)
        m_normal = -m_camera.forward;
}

Vec3 MoveDrag::offset(Vec2 place) const
{
    const auto a = onPlane(m_camera, m_from, m_grabbed, m_normal), b = onPlane(m_camera, place, m_grabbed, m_normal);
    if (!a || !b)
        return {};
    Vec3 by = *b - *a;
    if (m_onFloor)
        by.y = 0;
    return by;
}

void MoveDrag::snap(Vec3& by, double reach, Step& step) const
{
    const Item& lead = m_items.back();
    const auto at = std::find_if(m_places.begin(), m_places.end(), [&](const work::PiecePlace& p) { return p.id == lead.piece; });
    if (at == m_places.end() || at->box.empty() || !lead.letter.empty())
        return;  // letters are set by hand
    const work::Sheet& sheet = m_start.shownSheet();
    const double margin = sheet.size.toPt(sheet.size.margin);
    const double left = sheet.x - sheet.size.widthPt() / 2, right = sheet.x + sheet.size.widthPt() / 2;
    const double bottom = sheet.y - sheet.size.heightPt() / 2, top = sheet.y + sheet.size.heightPt() / 2;
    const double z = at->box.high.z;
    std::vector<Candidate> across, upright;
    const auto addX = [&](double own, double target) { across.push_back({target - own, {{{target, bottom, z}, {target, top, z}}}}); };
    const auto addY = [&](double own, double target) { upright.push_back({target - own, {{{left, target, z}, {right, target, z}}}}); };
    const base::Box3& box = at->box;
    const Vec3 middle = box.centre();
    addX(middle.x, sheet.x);
    addX(box.low.x, left + margin);
    addX(box.high.x, right - margin);
    addY(middle.y, sheet.y);
    addY(box.low.y, bottom + margin);
    addY(box.high.y, top - margin);
    const auto isMoved = [&](const std::string& id) {
        return std::any_of(m_items.begin(), m_items.end(), [&](const Item& i) { return i.piece == id; });
    };
    for (const work::PiecePlace& other : m_places) {
        if (isMoved(other.id) || other.box.empty())
            continue;
        const Vec3 its = other.box.centre();
        addX(middle.x, its.x);
        addX(box.low.x, other.box.low.x);
        addX(box.high.x, other.box.high.x);
        addX(box.low.x, other.box.high.x);
        addX(box.high.x, other.box.low.x);
        addY(middle.y, its.y);
        addY(box.low.y, other.box.high.y);
        addY(box.high.y, other.box.low.y);
        addY(at->pose.origin.y + at->baseline, other.pose.origin.y + other.baseline);
    }
    std::vector<Ends> beside, above;
    for (const work::PiecePlace& other : m_places) {
        if (isMoved(other.id) || other.box.empty())
            continue;
        if (other.box.low.y < box.high.y + by.y && other.box.high.y > box.low.y + by.y)
            beside.push_back({other.box.low.x, other.box.high.x});
        if (other.box.low.x < box.high.x + by.x && other.box.high.x > box.low.x + by.x)
            above.push_back({other.box.low.y, other.box.high.y});
    }
    addGaps(across, {box.low.x, box.high.x}, beside, [&](double from, double to) {
        return SnapLine{{from, middle.y + by.y, z}, {to, middle.y + by.y, z}};
    });
    addGaps(upright, {box.low.y, box.high.y}, above, [&](double from, double to) {
        return SnapLine{{middle.x + by.x, from, z}, {middle.x + by.x, to, z}};
    });
    // Middles of letters: of others to its own middle, and its own to the sheet's.
    for (const Letter& letter : m_letters) {
        const Vec3 its = letter.box.centre();
        if (!isMoved(letter.piece)) {
            addX(middle.x, its.x);
            addY(middle.y, its.y);
        } else if (letter.piece == lead.piece) {
            addX(its.x, sheet.x);
        }
    }
    if (const Candidate* c = nearest(across, by.x, reach)) {
        by.x = c->by;
        step.lines.insert(step.lines.end(), c->lines.begin(), c->lines.end());
    }
    if (const Candidate* c = m_onFloor ? nullptr : nearest(upright, by.y, reach)) {
        by.y = c->by;
        step.lines.insert(step.lines.end(), c->lines.begin(), c->lines.end());
    }
    step.snapped = !step.lines.empty();
}

MoveDrag::Step MoveDrag::to(Vec2 place, double reach) const
{
    Step step;
    if (m_items.empty()) {
        step.work = m_start;
        return step;
    }
    Vec3 by = offset(place);
    if (reach > 0)
        snap(by, reach, step);
    step.work = nudged(m_start, m_items, by);
    return step;
}

work::Work nudged(const work::Work& work, const std::vector<MoveDrag::Item>& items, Vec3 by)
{
    work::Work result = work;
    for (const MoveDrag::Item& item : items) {
        work::Piece& piece = result.pieces.items.at(item.piece);
        work::Placement& p = piece.placement;
        if (!item.letter.empty()) {
            const base::Pose pose = work::poseOf(result.placementOf(item.piece), result.ground);
            work::LetterOwn& own = piece.letters[item.letter];
            own.x += dot(by, pose.right);
            own.y += dot(by, pose.up);
            own.z += dot(by, pose.out);
            continue;
        }
        // A plate goes with its piece.
        const work::Shape* plate = piece.shape();
        if (plate && plate->isPlate() && std::any_of(items.begin(), items.end(), [&](const MoveDrag::Item& other) {
                return other.letter.empty() && other.piece == plate->piece;
            }))
            continue;
        p.x += by.x;
        if (p.stance != work::Stance::OnFloor)
            p.y += by.y;
        if (p.stance != work::Stance::AgainstWall)
            p.z += by.z;
    }
    return result;
}

double alongAxis(const render::Camera& camera, Vec3 origin, Vec3 axis, Vec2 from, Vec2 to)
{
    const double step = camera.frameWidth / 100;
    Vec2 a, b;
    const Vec2 drag = onFrame(camera, to) - onFrame(camera, from);
    if (!render::project(camera, origin, a) || !render::project(camera, origin + axis * step, b))
        return drag.y;
    const Vec2 seen = (onFrame(camera, b) - onFrame(camera, a)) * (1 / step);
    if (length(seen) < kEdgeOn)
        return drag.y;
    return dot(drag, seen) / dot(seen, seen);
}

double plumbDistance(const work::Placement& p, const work::Ground& ground, double middle)
{
    if (p.stance != work::Stance::Free)
        return 0;
    return ground.kind == render::GroundKind::Floor ? p.y - middle + ground.floorBelow : p.z + ground.wallBehind;
}

Vec3 plumbAxis(const work::Placement& p, const work::Ground& ground)
{
    const bool overFloor =
        p.stance == work::Stance::OnFloor || (p.stance == work::Stance::Free && ground.kind == render::GroundKind::Floor);
    return overFloor ? Vec3{0, 1, 0} : Vec3{0, 0, 1};
}

work::Placement plumbed(const work::Placement& p, const work::Ground& ground, double distance, double middle)
{
    work::Placement result = p;
    const bool overFloor = plumbAxis(p, ground).y > 0;
    if (distance <= 0) {
        result.stance = overFloor ? work::Stance::OnFloor : work::Stance::AgainstWall;
        return result;
    }
    result.stance = work::Stance::Free;
    if (overFloor)
        result.y = distance - ground.floorBelow + middle;
    else
        result.z = distance - ground.wallBehind;
    return result;
}

double angleAround(const render::Camera& camera, Vec2 centre, Vec2 place)
{
    const Vec2 d = onFrame(camera, place) - onFrame(camera, centre);
    return base::degrees(std::atan2(d.y, d.x));
}

work::Placement turnedBy(work::Placement p, double degrees)
{
    if (p.stance == work::Stance::OnFloor)
        p.turn = wrapped(p.turn + degrees);
    else
        p.roll = wrapped(p.roll + degrees);
    return p;
}

work::Work turned(const work::Work& work, const std::vector<MoveDrag::Item>& items, double degrees)
{
    work::Work result = work;
    for (const MoveDrag::Item& item : items) {
        work::Piece& piece = result.pieces.items.at(item.piece);
        if (item.letter.empty())
            piece.placement = turnedBy(piece.placement, degrees);
        else
            piece.letters[item.letter].roll += degrees;
    }
    return result;
}

LampPlan::LampPlan(const work::Work& work)
    : m_reach(std::max(work.sheet().widthPt(), work.sheet().heightPt())),
      m_walk(work.view().walk),
      m_tilt(std::max(kPlanTilt, std::abs(work.view().rise)))
{
}

double LampPlan::radiusOf(const work::Light& light) const
{
    return light.kind == light::LightKind::Sun ? kSunRadius : light.distance / (light.distance + m_reach);
}

Vec2 LampPlan::onPlan(double direction, double radius, double rise) const
{
    const double around = base::radians(direction - m_walk), tilt = base::radians(m_tilt);
    return {radius * std::sin(around), -radius * std::cos(around) * std::sin(tilt) + rise * std::cos(tilt)};
}

Lamp LampPlan::lamp(const work::Light& light) const
{
    const double radius = radiusOf(light), level = radius * std::cos(base::radians(light.height));
    const double rise = radius * std::sin(base::radians(light.height));
    return {onPlan(light.direction, level, 0), onPlan(light.direction, level, rise), std::cos(base::radians(light.direction - m_walk)) < 0};
}

work::Light LampPlan::withFoot(const work::Light& light, Vec2 place) const
{
    const double across = place.x, away = -place.y / std::sin(base::radians(m_tilt));
    work::Light result = light;
    const double level = std::hypot(across, away);
    if (level > 1e-6)
        result.direction = wrapped(base::degrees(std::atan2(across, away)) + m_walk);
    const double radius = std::clamp(level / std::max(0.05, std::cos(base::radians(light.height))), 0.02, 0.98);
    if (light.kind != light::LightKind::Sun)
        result.distance = std::clamp(m_reach * radius / (1 - radius), 1.0, 1e6);
    return result;
}

work::Light LampPlan::withHead(const work::Light& light, double y) const
{
    // On the sphere of its distance, over the same foot line: -r cos(h) cos(a) sin(t) + r sin(h) cos(t) = y. Of two heights that are seen
    // at one place the nearer to the one before.
    const double radius = radiusOf(light), tilt = base::radians(m_tilt), around = base::radians(light.direction - m_walk);
    work::Light result = light;
    double best = 1e300;
    for (double h = -89; h <= 89; h += 0.25) {
        const double seen =
            radius * (-std::cos(base::radians(h)) * std::cos(around) * std::sin(tilt) + std::sin(base::radians(h)) * std::cos(tilt));
        const double miss = std::abs(seen - y) + 1e-3 * std::abs(h - light.height);
        if (miss < best) {
            best = miss;
            result.height = h;
        }
    }
    return result;
}

}  // namespace session
