#include "outline/outline.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <list>
#include <map>
#include <numeric>

#include "base/parallel.h"
#include "outline/text.h"
#include "outline/unite.h"

namespace outline {

namespace {

constexpr double kStepsPerEm = 1e6;
constexpr double kMostSteps = 1e9;  // across one layout, so that 32 bits hold any outline

struct GlyphShape {
    GridShape shape;  // letter is -1 until it is placed
    bool isThinnedAway = false;
    std::int64_t lowX = 0, lowY = 0, highX = 0, highY = 0;
};

// Curves on the grid, by what makes edges of one curve.
template <class Flatten>
GridShape onGrid(const std::vector<CurveContour>& contours, Flatten flattened)
{
    GridShape shape;
    for (const CurveContour& contour : contours) {
        std::vector<FlatEdge> flat;
        for (const Curve& curve : contour)
            flattened(curve, flat);
        std::vector<GridEdge> edges;
        for (const FlatEdge& e : flat) {
            const GridEdge edge{std::llround(e.from.x),
                                std::llround(e.from.y),
                                std::llround(e.to.x),
                                std::llround(e.to.y),
                                {e.tangentFrom.y, -e.tangentFrom.x},
                                {e.tangentTo.y, -e.tangentTo.x},
                                -1};
            if (edge.fromX != edge.toX || edge.fromY != edge.toY)
                edges.push_back(edge);
        }
        if (edges.size() >= 3)
            shape.push_back(std::move(edges));
    }
    return shape;
}

// `middle` comes to lie at (0, 0).
GridShape onGrid(const std::vector<CurveContour>& contours, double stepsPerUnit, Vec2 middle, double toleranceSteps)
{
    return onGrid(contours, [&](Curve curve, std::vector<FlatEdge>& flat) {
        for (int i = 0; i <= curve.degree; ++i)
            curve.p[i] = (curve.p[i] - middle) * stepsPerUnit;
        flatten(curve, toleranceSteps, flat);
    });
}

// The curves of a glyph where it stands, bent.
GridShape bentOnGrid(const std::vector<CurveContour>& contours, double ptPerFontUnit, Vec2 origin, const Between& between, double unit,
                     double tolerancePt)
{
    return onGrid(contours, [&](Curve curve, std::vector<FlatEdge>& flat) {
        for (int i = 0; i <= curve.degree; ++i)
            curve.p[i] = curve.p[i] * ptPerFontUnit + origin;
        const std::size_t first = flat.size();
        flattenBent(curve, between, tolerancePt, flat);
        for (std::size_t i = first; i < flat.size(); ++i) {
            flat[i].from = flat[i].from * (1 / unit);
            flat[i].to = flat[i].to * (1 / unit);
        }
    });
}

void measure(GlyphShape& glyph)
{
    glyph.lowX = glyph.lowY = INT64_MAX;
    glyph.highX = glyph.highY = INT64_MIN;
    for (const auto& contour : glyph.shape)
        for (const GridEdge& e : contour) {
            glyph.lowX = std::min(glyph.lowX, e.fromX);
            glyph.highX = std::max(glyph.highX, e.fromX);
            glyph.lowY = std::min(glyph.lowY, e.fromY);
            glyph.highY = std::max(glyph.highY, e.fromY);
        }
}

GlyphShape shapeOf(GridShape shape, double toleranceSteps, const std::vector<double>& growthsSteps)
{
    GlyphShape glyph;
    glyph.shape = std::move(shape);
    const bool hasInk = !glyph.shape.empty();
    for (const double growth : growthsSteps)
        if (growth != 0 && !glyph.shape.empty())
            glyph.shape = grown(glyph.shape, growth, toleranceSteps);
    glyph.isThinnedAway = hasInk && glyph.shape.empty();
    measure(glyph);
    return glyph;
}

Vec2 turnedBy(Vec2 v, double radians)
{
    const double c = std::cos(radians), s = std::sin(radians);
    return {c * v.x - s * v.y, s * v.x + c * v.y};
}

GlyphShape turnedBy(const GlyphShape& glyph, double radians)
{
    GlyphShape result = glyph;
    const auto turn = [radians](std::int64_t& x, std::int64_t& y) {
        const Vec2 p = turnedBy(Vec2{double(x), double(y)}, radians);
        x = std::llround(p.x);
        y = std::llround(p.y);
    };
    for (auto& contour : result.shape)
        for (GridEdge& e : contour) {
            turn(e.fromX, e.fromY);
            turn(e.toX, e.toY);
            e.normalFrom = turnedBy(e.normalFrom, radians);
            e.normalTo = turnedBy(e.normalTo, radians);
        }
    measure(result);
    return result;
}

// What is drawn alike wherever it stands.
struct Drawn {
    int face = 0;
    std::uint32_t glyph = 0;
    double scale = 1;

    auto operator<=>(const Drawn&) const = default;
};

// A glyph where it stands. Its shape is as it is seen; `level` the same before it was turned.
struct Placed {
    Drawn drawn;
    const GlyphShape* shape = nullptr;
    const GlyphShape* level = nullptr;  // nullptr: no other is like it
    std::int64_t x = 0, y = 0;
    int letter = 0;
    double turn = 0;
};

// Groups of glyphs whose bounds touch, each in text order; found by a sweep over x.
std::vector<std::vector<int>> touchingGroups(const std::vector<Placed>& placed)
{
    std::vector<int> parent(placed.size());
    std::iota(parent.begin(), parent.end(), 0);
    const auto root = [&](int i) {
        while (parent[i] != i)
            i = parent[i] = parent[parent[i]];
        return i;
    };
    std::vector<int> order = parent;
    const auto low = [&](int i) { return placed[i].x + placed[i].shape->lowX; };
    std::sort(order.begin(), order.end(), [&](int a, int b) { return low(a) < low(b); });
    std::vector<int> open;
    for (const int i : order) {
        const Placed& p = placed[i];
        std::erase_if(open, [&](int o) { return placed[o].x + placed[o].shape->highX + 2 < low(i); });
        for (const int o : open) {
            const Placed& q = placed[o];
            if (q.y + q.shape->lowY - 2 <= p.y + p.shape->highY && p.y + p.shape->lowY - 2 <= q.y + q.shape->highY)
                parent[root(i)] = root(o);
        }
        open.push_back(i);
    }
    std::map<int, std::vector<int>> groups;
    for (std::size_t i = 0; i < placed.size(); ++i)
        groups[root(static_cast<int>(i))].push_back(static_cast<int>(i));
    std::vector<std::vector<int>> list;
    for (auto& [_, members] : groups)
        list.push_back(std::move(members));
    return list;
}

GridShape joinedShape(const std::vector<Placed>& placed, const std::vector<int>& members)
{
    GridShape joined;
    const Placed& anchor = placed[members.front()];
    for (const int m : members)
        for (std::vector<GridEdge> contour : placed[m].shape->shape) {
            const std::int64_t dx = placed[m].x - anchor.x, dy = placed[m].y - anchor.y;
            for (GridEdge& e : contour)
                e = {e.fromX + dx, e.fromY + dy, e.toX + dx, e.toY + dy, e.normalFrom, e.normalTo, placed[m].letter};
            joined.push_back(std::move(contour));
        }
    return joined;
}

struct SharedUnited {
    std::vector<std::shared_ptr<const Outline>> outlines;
    std::vector<std::vector<int>> letters;
    std::vector<base::V2<std::int64_t>> offsets;
};

SharedUnited shared(United united)
{
    SharedUnited result{{}, std::move(united.letters), std::move(united.offsets)};
    for (Outline& outline : united.outlines)
        result.outlines.push_back(std::make_shared<const Outline>(std::move(outline)));
    return result;
}

bool isBlank(std::string_view letter)
{
    return std::all_of(letter.begin(), letter.end(), [](unsigned char c) { return c <= ' '; }) || letter == "\u00a0" ||
           letter == "\u3000" || (letter.size() == 3 && letter[0] == '\xe2' && letter[1] == '\x80');
}

enum class Ink : std::uint8_t { None, ThinnedAway, Some };

void noteInkless(const std::string& text, const Layout& layout, const std::vector<Ink>& ink, base::Notes& notes)
{
    const std::vector<Grapheme> letters = graphemes(text);
    std::vector<bool> drawn(letters.size(), false);
    for (const PlacedGlyph& g : layout.glyphs)
        drawn[static_cast<std::size_t>(g.letter)] = true;
    for (std::size_t i = 0; i < letters.size(); ++i) {
        const std::string letter = text.substr(letters[i].begin, letters[i].end - letters[i].begin);
        if (drawn[i] && ink[i] == Ink::ThinnedAway)
            notes.push_back({"thinned-away", fmt::format("\"{}\" is thinner than it is made thinner by; it is left out", letter),
                             fmt::format("letter {}", i + 1)});
        else if (drawn[i] && ink[i] == Ink::None && !isBlank(letter))
            notes.push_back({"no-outline", fmt::format("\"{}\" is only a picture in this font and has no outline; it is left out", letter),
                             fmt::format("letter {}", i + 1)});
    }
}

}  // namespace

double area(const Outline& outline)
{
    double twice = 0;
    for (const Contour& contour : outline.contours)
        for (std::size_t i = 0; i < contour.size(); ++i) {
            const GridPoint a = contour[i].from, b = contour[(i + 1) % contour.size()].from;
            twice += double(a.x) * b.y - double(b.x) * a.y;
        }
    return twice / 2 * outline.unitPt * outline.unitPt;
}

base::Box2 bounds(const Outline& outline)
{
    base::Box2 box;
    for (const Contour& contour : outline.contours)
        for (const Edge& e : contour)
            box.add(Vec2{double(e.from.x), double(e.from.y)} * outline.unitPt);
    return box;
}

base::Vec2 PlacedOutline::at(GridPoint p) const
{
    const Vec2 own = Vec2{double(p.x), double(p.y)} * outline->unitPt;
    return originPt + (turn == 0 ? own : turnedBy(own, turn));
}

base::Box2 bounds(const PlacedOutline& placed)
{
    base::Box2 box;
    for (const Contour& contour : placed.outline->contours)
        for (const Edge& e : contour)
            box.add(placed.at(e.from));
    return box;
}

base::Box2 bounds(const Outlined& outlined)
{
    base::Box2 box;
    for (const PlacedOutline& o : outlined.outlines)
        for (const Contour& contour : o.outline->contours)
            for (const Edge& e : contour)
                box.add(o.at(e.from));
    return box;
}

std::size_t edgeCount(const Outline& outline)
{
    std::size_t count = 0;
    for (const Contour& contour : outline.contours)
        count += contour.size();
    return count;
}

base::Result<Outlined> outlineLayout(const Layout& layout, const std::string& text, const Faces& faces, const OutlineSettings& settings,
                                     const base::Progress& progress, const Bend* bend)
{
    const double sizePt = settings.sizePt;
    double extent = sizePt;
    for (const PlacedGlyph& g : layout.glyphs) {
        const Vec2 at = bend ? bend->of(g.line).apply(g.origin) * 2 : g.origin;  // bent ones reach further than their origin
        extent = std::max({extent, std::abs(at.x), std::abs(at.y)});
    }
    const double unit = std::max(sizePt / kStepsPerEm, 2 * extent / kMostSteps);

    std::map<Drawn, GlyphShape> shapes;
    std::list<GlyphShape> own;  // of single letters
    std::vector<Placed> placed;
    std::vector<double> growthsSteps = settings.growthsPt;
    for (double& growth : growthsSteps)
        growth /= unit;
    const double tolerance = settings.tolerancePt / unit;
    std::vector<Ink> ink(graphemes(text).size(), Ink::None);
    for (const PlacedGlyph& g : layout.glyphs) {
        const GlyphShape* shape = nullptr;
        const GlyphShape* level = nullptr;
        const Font& font = faces.of(g.face);
        const double ptPerFontUnit = sizePt * g.scale / font.unitsPerEm();
        const Drawn drawn{g.face, g.glyph, g.scale};
        if (bend) {
            shape = &own.emplace_back(
                shapeOf(bentOnGrid(font.glyphOutline(g.glyph), ptPerFontUnit, g.origin, bend->of(g.line), unit, settings.tolerancePt),
                        tolerance, growthsSteps));
        } else {
            auto found = shapes.find(drawn);
            if (found == shapes.end())
                found = shapes
                            .emplace(drawn, shapeOf(onGrid(font.glyphOutline(g.glyph), ptPerFontUnit / unit, {}, tolerance), tolerance,
                                                    growthsSteps))
                            .first;
            shape = level = &found->second;
        }
        Ink& seen = ink[static_cast<std::size_t>(g.letter)];
        if (shape->shape.empty()) {
            if (shape->isThinnedAway && seen == Ink::None)
                seen = Ink::ThinnedAway;
            continue;
        }
        seen = Ink::Some;
        if (g.turn != 0)
            shape = &own.emplace_back(turnedBy(*level, g.turn));
        const Vec2 at = bend ? Vec2{} : g.origin;
        placed.push_back({drawn, shape, level, std::llround(at.x / unit), std::llround(at.y / unit), g.letter, g.turn});
    }

    Outlined result;
    noteInkless(text, layout, ink, result.notes);
    std::map<Drawn, SharedUnited> alone;  // glyphs that touch no other, united once each
    for (const std::vector<int>& members : touchingGroups(placed)) {
        if (progress.stopRequested())
            return base::fail(base::ErrorCode::Stopped, "Stopped");
        const Placed& anchor = placed[members.front()];
        SharedUnited group;
        double turn = 0;
        if (members.size() > 1 || !anchor.level) {
            group = shared(unite(joinedShape(placed, members), unit));
        } else {
            auto found = alone.find(anchor.drawn);
            if (found == alone.end())
                found = alone.emplace(anchor.drawn, shared(unite(anchor.level->shape, unit))).first;
            group = found->second;
            for (std::vector<int>& letters : group.letters)
                letters.assign(1, anchor.letter);
            turn = anchor.turn;
        }
        for (std::size_t i = 0; i < group.outlines.size(); ++i) {
            const Vec2 offset{double(group.offsets[i].x), double(group.offsets[i].y)};
            result.outlines.push_back({group.outlines[i],
                                       (Vec2{double(anchor.x), double(anchor.y)} + (turn == 0 ? offset : turnedBy(offset, turn))) * unit,
                                       group.letters[i], turn});
        }
    }
    std::stable_sort(result.outlines.begin(), result.outlines.end(),
                     [](const PlacedOutline& a, const PlacedOutline& b) { return a.letters < b.letters; });
    return result;
}

namespace {

struct Box {
    std::int64_t lowX = INT64_MAX, lowY = INT64_MAX, highX = INT64_MIN, highY = INT64_MIN;

    bool touches(const Box& o) const { return lowX <= o.highX && o.lowX <= highX && lowY <= o.highY && o.lowY <= highY; }
};

Box boxOf(const GridShape& shape)
{
    Box box;
    for (const auto& contour : shape)
        for (const GridEdge& e : contour) {
            box.lowX = std::min(box.lowX, e.fromX);
            box.highX = std::max(box.highX, e.fromX);
            box.lowY = std::min(box.lowY, e.fromY);
            box.highY = std::max(box.highY, e.fromY);
        }
    return box;
}

}  // namespace

base::Result<Outlined> outlineDrawing(const Drawing& drawing, const OutlineSettings& settings, const base::Progress& progress)
{
    const double scale = settings.sizePt / drawing.heightPt;
    const double unit = std::max(drawing.widthPt, drawing.heightPt) * scale / kStepsPerEm;
    const Vec2 middle = Vec2{drawing.widthPt, drawing.heightPt} * 0.5;
    std::vector<Area> areas(drawing.shapes.size());
    std::vector<Box> boxes(areas.size());
    base::parallelFor(areas.size(), [&](std::size_t i) {
        const DrawnShape& shape = drawing.shapes[i];
        areas[i] = {onGrid(shape.contours, scale / unit, middle, settings.tolerancePt / unit), shape.evenOdd};
        boxes[i] = boxOf(areas[i].shape);
    });
    std::vector<United> united(areas.size());
    base::parallelFor(areas.size(), [&](std::size_t i) {
        if (areas[i].shape.empty() || progress.stopRequested())
            return;
        std::vector<const Area*> over;
        for (std::size_t k = i + 1; k < areas.size(); ++k)
            if (!areas[k].shape.empty() && boxes[k].touches(boxes[i]))
                over.push_back(&areas[k]);
        united[i] = without(areas[i], over, unit);
        for (const double growth : settings.growthsPt)
            if (growth != 0 && !united[i].outlines.empty())
                united[i] = unite(grown(shapeOf(united[i]), growth / unit, settings.tolerancePt / unit), unit);
    });
    if (progress.stopRequested())
        return base::fail(base::ErrorCode::Stopped, "Stopped");
    Outlined result;
    for (std::size_t i = 0; i < united.size(); ++i)
        for (std::size_t k = 0; k < united[i].outlines.size(); ++k)
            result.outlines.push_back({std::make_shared<const Outline>(std::move(united[i].outlines[k])),
                                       Vec2{double(united[i].offsets[k].x), double(united[i].offsets[k].y)} * unit,
                                       {static_cast<int>(i)}});
    return result;
}

}  // namespace outline
