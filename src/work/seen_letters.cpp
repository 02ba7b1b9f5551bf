#include "work/seen_letters.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "render/camera.h"
#include "render/ground.h"
#include "work/scene.h"

namespace work {

namespace {

// A line of sight, from the viewer to a lamp.
struct Sight {
    base::Vec3 from, to;
};

base::Vec3 onPlane(const base::Pose& pose, base::Vec3 point)
{
    const base::Vec3 d = point - pose.origin;
    return {dot(d, pose.right), dot(d, pose.up), dot(d, pose.out)};
}

// Crosses an edge, or begins inside.
bool meets(const outline::Outlined& outlined, base::Vec2 a, base::Vec2 b)
{
    const auto side = [](base::Vec2 p, base::Vec2 q, base::Vec2 r) { return (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x); };
    bool inside = false;
    for (const outline::PlacedOutline& placed : outlined.outlines)
        for (const outline::Contour& contour : placed.outline->contours)
            for (std::size_t i = 0; i < contour.size(); ++i) {
                const base::Vec2 p = placed.at(contour[i].from), q = placed.at(contour[(i + 1) % contour.size()].from);
                if ((p.y > a.y) != (q.y > a.y) && a.x < p.x + (q.x - p.x) * (a.y - p.y) / (q.y - p.y))
                    inside = !inside;
                if (side(a, b, p) * side(a, b, q) < 0 && side(p, q, a) * side(p, q, b) < 0)
                    return true;
            }
    return inside;
}

base::Box2 boxOn(const outline::Outlined& outlined)
{
    base::Box2 box;
    for (const outline::PlacedOutline& placed : outlined.outlines)
        for (const outline::Contour& contour : placed.outline->contours)
            for (const outline::Edge& edge : contour)
                box.add(placed.at(edge.from));
    return box;
}

bool groundHides(const render::Ground& ground, const Sight& sight)
{
    using base::Wide;
    const base::Vec3 way = sight.to - sight.from;
    const double far = length(way);
    const auto wide = [](base::Vec3 v) {
        return base::V3<Wide>{static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
    };
    constexpr double kBefore = 1e-4;  // a lamp on the ground is before it
    const render::GroundHits hits =
        render::intersectGround(ground, wide(sight.from), wide(way * (1 / far)), Wide(static_cast<float>(far * (1 - kBefore))));
    return hits.met[0];
}

// Points all over a lamp as it is seen, and the viewer's for each.
std::vector<Sight> sightsOf(const render::Camera& camera, const light::Light& lamp)
{
    constexpr double kFar = 1e5;  // of a sun, in distances of the frame
    constexpr int kPoints = 144;  // evenly, by the golden ratio: upright and level edges run between them
    const bool flat = lamp.kind == light::LightKind::Softbox, sun = lamp.kind == light::LightKind::Sun;
    const double away = kFar * std::max(1.0, camera.frameDistance);
    const base::Vec3 middle = sun ? camera.eye - lamp.towardsAim * away : lamp.position;
    const base::Vec3 right = flat ? lamp.right * lamp.halfWidth : camera.right * (sun ? std::tan(lamp.radius) * away : lamp.radius);
    const bool round = !flat || lamp.form == light::SoftboxForm::Disc;
    const base::Vec3 up =
        flat ? lamp.up * (round ? lamp.halfWidth : lamp.halfHeight) : camera.up * (sun ? std::tan(lamp.radius) * away : lamp.radius);
    std::vector<Sight> sights;
    for (int i = 0; i < kPoints; ++i) {
        const double u = 2 * (i + 0.5) / kPoints - 1, v = 2 * std::fmod(i * std::numbers::phi, 1.0) - 1;
        if (round && u * u + v * v > 1)
            continue;
        const base::Vec3 to = middle + right * u + up * v;
        sights.push_back(
            {camera.perspective ? camera.eye : to - camera.forward * (4 * (length(to - camera.eye) + camera.frameDistance)), to});
    }
    return sights;
}

}  // namespace

std::vector<SeenLetters::Part> SeenLetters::made(const Work& work)
{
    constexpr double kOfSheet = 1.0 / 4000;
    const Sheet& sheet = work.shownSheet();
    std::vector<Part> parts;
    for (std::size_t i = 0; i < work.pieces.order.size(); ++i) {
        const std::string& id = work.pieces.order[i];
        const Piece& piece = work.pieces.items.at(id);
        if (piece.hidden || isFlat(work, id) || std::holds_alternative<Newer>(piece.source))
            continue;
        const auto outlines = outlinesOf(work, id, kOfSheet * sheet.size.widthPt(), m_cache, {});
        if (!outlines)
            continue;
        const std::vector<std::string> letters = piece.allLetters();
        for (const PieceOutlines::Part& from : outlines->parts) {
            const LetterOwn* own = poseOwn(piece, from);
            Part part;
            part.piece = static_cast<std::uint16_t>(i + 1);
            part.isCopy = from.copy != 0;
            part.isSolid = !std::holds_alternative<solid::TubeForm>(piece.formOf(from.letter));
            part.outlined = scaled(from.outlined, own);
            part.pose = poseOn(outlines->place.pose, outlines->shift, *part.outlined, own);
            part.depth = depthOf(piece.formOf(from.letter));
            part.box = boxOn(*part.outlined);
            const bool isWhole = piece.lettering() && letterOf(from.letter) == from.letter;
            for (const outline::PlacedOutline& placed : part.outlined->outlines) {
                std::vector<std::uint16_t>& numbers = part.letters.emplace_back();
                for (const int letter : placed.letters) {
                    const std::string name = isWhole ? piece.letterIds()[static_cast<std::size_t>(letter)] : from.letter;
                    numbers.push_back(static_cast<std::uint16_t>(std::ranges::find(letters, name) - letters.begin() + 1));
                }
            }
            parts.push_back(std::move(part));
        }
    }
    return parts;
}

const std::vector<SeenLetters::Part>& SeenLetters::partsOf(const Work& work)
{
    Work seen;  // what they depend on
    seen.pieces = work.pieces;
    seen.views = work.views;
    seen.sheets = work.sheets;
    seen.shown = work.shown;
    seen.ground = work.ground;
    seen.assets = work.assets;
    if (!m_of || !(*m_of == seen)) {
        m_parts = made(work);
        m_of = std::move(seen);
    }
    return m_parts;
}

std::vector<finish::LetterBox> SeenLetters::boxes(const Work& work)
{
    const std::lock_guard lock(m_mutex);
    const SheetSize& sheet = work.sheet();
    const render::Camera camera = cameraOf(work, {});
    std::map<std::pair<std::uint16_t, std::uint16_t>, base::Box2> boxes;
    for (const Part& part : partsOf(work)) {
        if (part.isCopy)
            continue;
        for (std::size_t i = 0; i < part.letters.size(); ++i) {
            const outline::PlacedOutline& placed = part.outlined->outlines[i];
            base::Box2 box;
            for (const outline::Contour& contour : placed.outline->contours)
                for (const outline::Edge& edge : contour) {
                    const base::Vec2 at = placed.at(edge.from);
                    base::Vec2 uv;
                    if (render::project(camera, part.pose.apply({at.x, at.y, part.depth}), uv))
                        box.add(base::Vec2{(uv.x - 0.5) * sheet.widthPt(), (0.5 - uv.y) * sheet.heightPt()});
                }
            for (const std::uint16_t letter : part.letters[i])
                boxes[{part.piece, letter}].add(box);
        }
    }
    std::vector<finish::LetterBox> result;
    for (const auto& [ids, box] : boxes)
        if (!box.empty())
            result.push_back({ids.first, ids.second, box});
    return result;
}

double SeenLetters::openTo(const Work& work, const light::Light& lamp)
{
    const std::lock_guard lock(m_mutex);
    const std::vector<Sight> sights = sightsOf(cameraOf(work, {}), lamp);
    const render::Ground ground{work.ground.kind, -work.ground.wallBehind, -work.ground.floorBelow, work.ground.sweep};
    const std::vector<Part>& parts = partsOf(work);
    const auto hides = [&](const Part& part, const Sight& sight) {
        if (!part.isSolid)
            return false;
        const base::Vec3 a = onPlane(part.pose, sight.from), b = onPlane(part.pose, sight.to);
        // What of the line lies between back and front.
        double from = 0, to = 1;
        if (const double dz = b.z - a.z; std::abs(dz) > 1e-12) {
            const double back = -a.z / dz, front = (part.depth - a.z) / dz;
            from = std::max(from, std::min(back, front));
            to = std::min(to, std::max(back, front));
        } else if (a.z < 0 || a.z > part.depth) {
            return false;
        }
        if (from > to)
            return false;
        const base::Vec2 p{a.x + (b.x - a.x) * from, a.y + (b.y - a.y) * from}, q{a.x + (b.x - a.x) * to, a.y + (b.y - a.y) * to};
        base::Box2 line;
        line.add(p);
        line.add(q);
        const base::Box2& box = part.box;
        return line.low.x <= box.high.x && line.high.x >= box.low.x && line.low.y <= box.high.y && line.high.y >= box.low.y &&
               meets(*part.outlined, p, q);
    };
    const auto hidden = std::ranges::count_if(sights, [&](const Sight& sight) {
        return groundHides(ground, sight) || std::ranges::any_of(parts, [&](const Part& part) { return hides(part, sight); });
    });
    return 1 - static_cast<double>(hidden) / static_cast<double>(sights.size());
}

namespace {

SeenLetters& seenLetters()
{
    static SeenLetters s_letters;
    return s_letters;
}

}  // namespace

double openToLamp(const Work& work, const std::string& lamp)
{
    const auto light = work.lights.items.find(lamp);
    return light == work.lights.items.end() ? 0 : seenLetters().openTo(work, lightOf(light->second));
}

std::vector<finish::LetterBox> letterBoxes(const Work& work)
{
    return seenLetters().boxes(work);
}

}  // namespace work
