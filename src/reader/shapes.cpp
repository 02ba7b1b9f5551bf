#include "reader/shapes.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <polyclipping/clipper.hpp>

#include "reader/strokes.h"

namespace reader {

namespace {

using ClipperLib::IntPoint;
using ClipperLib::Paths;

constexpr double kGrid = 1024;     // steps of a pt, in clipping
constexpr double kFarthest = 1e6;  // pt
constexpr double kToleranceOfPage = 1.0 / 20000;

IntPoint onGrid(Vec2 p)
{
    return {std::llround(std::clamp(p.x, -kFarthest, kFarthest) * kGrid), std::llround(std::clamp(p.y, -kFarthest, kFarthest) * kGrid)};
}

Paths onGrid(const std::vector<Polygon>& polygons)
{
    Paths paths;
    for (const Polygon& polygon : polygons) {
        ClipperLib::Path path;
        for (const Vec2 p : polygon)
            path.push_back(onGrid(p));
        if (path.size() > 2)
            paths.push_back(std::move(path));
    }
    return paths;
}

std::vector<outline::CurveContour> contoursOf(const Paths& paths)
{
    std::vector<outline::CurveContour> contours;
    for (const ClipperLib::Path& path : paths) {
        outline::CurveContour contour;
        for (std::size_t i = 0; i < path.size(); ++i) {
            const IntPoint a = path[i], b = path[(i + 1) % path.size()];
            contour.push_back({1, {Vec2{a.X / kGrid, a.Y / kGrid}, Vec2{b.X / kGrid, b.Y / kGrid}}});
        }
        contours.push_back(std::move(contour));
    }
    return contours;
}

Paths combined(ClipperLib::ClipType type, const Paths& a, bool aEvenOdd, const Paths& b, bool bEvenOdd)
{
    ClipperLib::Clipper clipper;
    clipper.AddPaths(a, ClipperLib::ptSubject, true);
    clipper.AddPaths(b, ClipperLib::ptClip, true);
    Paths out;
    clipper.Execute(type, out, aEvenOdd ? ClipperLib::pftEvenOdd : ClipperLib::pftNonZero,
                    bEvenOdd ? ClipperLib::pftEvenOdd : ClipperLib::pftNonZero);
    ClipperLib::CleanPolygons(out);  // neighbours within a step of the grid
    std::erase_if(out, [](const ClipperLib::Path& path) { return path.size() < 3; });
    return out;
}

base::Box2 boxOf(const Path& path)
{
    base::Box2 box;
    for (const Subpath& sub : path)
        for (const outline::Curve& curve : sub.curves)
            for (int i = 0; i <= curve.degree; ++i)
                box.add(curve.p[i]);
    return box;
}

// The box of a path that is one rectangle square to the page; empty for any other.
base::Box2 rectangleOf(const Path& path)
{
    if (path.size() != 1 || path[0].curves.size() < 3 || path[0].curves.size() > 4)
        return {};
    for (const outline::Curve& curve : path[0].curves)
        if (curve.degree != 1 || (curve.p[0].x != curve.p[1].x && curve.p[0].y != curve.p[1].y))
            return {};
    return boxOf(path);
}

bool within(const base::Box2& inner, const base::Box2& outer, double slack)
{
    return !outer.empty() && inner.low.x >= outer.low.x - slack && inner.low.y >= outer.low.y - slack &&
           inner.high.x <= outer.high.x + slack && inner.high.y <= outer.high.y + slack;
}

std::vector<Polygon> filled(const Path& path, double tolerance)
{
    std::vector<Polygon> polygons;
    for (Polyline& line : polylinesOf(path, tolerance))
        polygons.push_back(std::move(line.points));
    return polygons;
}

// The contours of one painted thing in pt, y up, without those the clips hide.
std::vector<outline::CurveContour> contoursOf(const Painted& painted, const Matrix& toPage, double tolerance, bool& evenOdd)
{
    const Matrix all = toPage * painted.matrix;
    std::vector<Polygon> areas;
    Path fill;
    base::Box2 box;
    if (painted.isStroke) {
        const double scale = std::max(all.scale(), 1e-9);
        areas = strokeOf(painted.path, painted.stroke, tolerance / scale);
        for (Polygon& area : areas) {
            for (Vec2& p : area) {
                p = all(p);
                box.add(p);
            }
            double twice = 0;  // a mirrored part would take away from its neighbours
            for (std::size_t i = 0; i < area.size(); ++i)
                twice += cross(area[i], area[(i + 1) % area.size()]);
            if (twice < 0)
                std::reverse(area.begin(), area.end());
        }
    } else {
        fill = placed(painted.path, all);
        box = boxOf(fill);
    }
    evenOdd = !painted.isStroke && painted.evenOdd;
    if (box.empty())
        return {};
    std::vector<const Clip*> cutting;
    std::vector<Path> clips;
    for (const Clip& clip : painted.clips) {
        Path path = placed(clip.path, toPage);
        if (within(box, rectangleOf(path), 2 / kGrid))
            continue;
        cutting.push_back(&clip);
        clips.push_back(std::move(path));
    }
    if (cutting.empty() && !painted.isStroke) {
        std::vector<outline::CurveContour> contours;
        for (Subpath& sub : fill) {
            const Vec2 first = sub.curves.empty() ? sub.start : sub.curves.front().p[0],
                       last = sub.curves.empty() ? first : sub.curves.back().p[sub.curves.back().degree];
            if (!(first == last))
                sub.curves.push_back({1, {last, first}});
            if (!sub.curves.empty())
                contours.push_back(std::move(sub.curves));
        }
        return contours;
    }
    Paths paths = painted.isStroke ? combined(ClipperLib::ctUnion, onGrid(areas), false, {}, false) : onGrid(filled(fill, tolerance));
    for (std::size_t i = 0; i < cutting.size(); ++i) {
        paths = combined(ClipperLib::ctIntersection, paths, evenOdd, onGrid(filled(clips[i], tolerance)), cutting[i]->evenOdd);
        evenOdd = false;
    }
    return contoursOf(paths);
}

// One shape a colour, in the order of their topmost ones: what overlaps in another colour may look otherwise.
void mergeByColour(outline::Drawing& drawing)
{
    std::vector<outline::DrawnShape> merged;
    for (outline::DrawnShape& shape : drawing.shapes) {
        // Even-odd shapes are wound as they are filled first, so that they can be one with others.
        if (shape.evenOdd) {
            std::vector<Polygon> polygons;
            for (const outline::CurveContour& contour : shape.contours)
                polygons.push_back(polylinesOf({{contour, true, contour.front().p[0]}}, drawing.widthPt * kToleranceOfPage).front().points);
            shape.contours = contoursOf(combined(ClipperLib::ctUnion, onGrid(polygons), true, {}, true));
            shape.evenOdd = false;
        }
        const auto same = std::find_if(merged.begin(), merged.end(), [&](const auto& m) { return m.colour == shape.colour; });
        if (same == merged.end())
            merged.push_back(std::move(shape));
        else
            same->contours.insert(same->contours.end(), std::make_move_iterator(shape.contours.begin()),
                                  std::make_move_iterator(shape.contours.end()));
    }
    drawing.notes.push_back(
        {"artwork-merged",
         fmt::format("{} shapes are more than {}: those of one colour became one shape each", drawing.shapes.size(), outline::kMostShapes),
         {}});
    drawing.shapes = std::move(merged);
}

struct Left {
    const char *what, *one, *many;
};
constexpr Left kLeft[] = {{"gradient", "1 gradient became one colour", "{} gradients became one colour each"},
                          {"transparency", "1 transparent paint became opaque", "{} transparent paints became opaque"},
                          {"pattern or picture as a fill", "1 pattern or picture that fills a shape was left out",
                           "{} patterns or pictures that fill shapes were left out"},
                          {"paint", "1 paint of an unknown kind was left out", "{} paints of an unknown kind were left out"},
                          {"picture", "1 picture was left out: it has no outlines", "{} pictures were left out: they have no outlines"},
                          {"mask", "1 mask was ignored: what it hides is there", "{} masks were ignored: what they hide is there"},
                          {"paint that is not seen", "1 paint that is not seen was left out", "{} paints that are not seen were left out"},
                          {"outside", "1 shape outside the page was left out", "{} shapes outside the page were left out"},
                          {"filter", "1 filter was ignored", "{} filters were ignored"},
                          {"blend mode", "1 blend mode was ignored", "{} blend modes were ignored"}};

}  // namespace

base::Result<outline::Drawing> drawingOf(Picture picture, double widthPt, double heightPt, double toPt,
                                         const std::vector<std::string>& names)
{
    outline::Drawing drawing{widthPt, heightPt, {}, {}};
    const Matrix toPage{toPt, 0, 0, -toPt, 0, heightPt};
    const double tolerance = std::max(widthPt, heightPt) * kToleranceOfPage;
    const base::Box2 page{{0, 0}, {widthPt, heightPt}};
    std::size_t curves = 0;
    for (std::size_t i = 0; i < picture.painted.size(); ++i) {
        const Painted& painted = picture.painted[i];
        outline::DrawnShape shape;
        shape.contours = contoursOf(painted, toPage, tolerance, shape.evenOdd);
        base::Box2 box;
        for (const outline::CurveContour& contour : shape.contours) {
            curves += contour.size();
            for (const outline::Curve& curve : contour)
                for (int k = 0; k <= curve.degree; ++k)
                    box.add(curve.p[k]);
        }
        if (box.empty())
            continue;
        if (box.high.x < page.low.x || box.high.y < page.low.y || box.low.x > page.high.x || box.low.y > page.high.y) {
            ++picture.left["outside"];
            continue;
        }
        if (curves > outline::kMostCurves)
            return base::fail(base::ErrorCode::TooLarge, "The artwork has too many curves; simplify it");
        shape.id = fmt::format("s{}", drawing.shapes.size() + 1);
        shape.colour = painted.colour;
        if (i < names.size())
            shape.name = names[i];
        drawing.shapes.push_back(std::move(shape));
    }
    for (const Left& left : kLeft)
        if (const auto found = picture.left.find(left.what); found != picture.left.end())
            drawing.notes.push_back(
                {"artwork-left", found->second == 1 ? left.one : fmt::format(fmt::runtime(left.many), found->second), {}});
    if (drawing.shapes.size() > outline::kMostShapes)
        mergeByColour(drawing);
    return drawing;
}

}  // namespace reader
