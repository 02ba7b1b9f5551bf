// Lines by their length, and lettering along and between them.
#include <QtTest>

#include <cmath>
#include <numbers>

#include "outline/outline.h"
#include "outline/route.h"
#include "support/support.h"

using namespace outline;
using std::numbers::pi;

namespace {

double areaOf(const std::vector<FlatEdge>& edges)
{
    double twice = 0;
    for (const FlatEdge& e : edges)
        twice += e.from.x * e.to.y - e.to.x * e.from.y;
    return twice / 2;
}

// The sides of a rectangle, counter-clockwise.
CurveContour sidesOf(const base::Box2& box)
{
    const Vec2 a = box.low, c = box.high, b{c.x, a.y}, d{a.x, c.y};
    return {{1, {a, b}}, {1, {b, c}}, {1, {c, d}}, {1, {d, a}}};
}

std::vector<FlatEdge> bent(const Between& between, const base::Box2& box, double tolerance)
{
    std::vector<FlatEdge> edges;
    for (const Curve& side : sidesOf(box))
        flattenBent(side, between, tolerance, edges);
    return edges;
}

}  // namespace

class TestRoute : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Closed forms: a circle's 2 pi r; an ellipse's 4 a E(e), E the complete elliptic integral of the second kind (DLMF 19.2, computed by
    // the standard library); a spiral's r = a + b t: integral of sqrt(r^2 + b^2).
    void lengthsAreThoseOfClosedForms()
    {
        const double r = 137;
        QVERIFY(std::abs(Route(ellipseArc({3, 4}, r, r, 270, -90), true).length() / (2 * pi * r) - 1) < 1e-6);
        const double a = 200, b = 70, e = std::sqrt(1 - b * b / (a * a));
        QVERIFY(std::abs(Route(ellipseArc({}, a, b, 0, 360), true).length() / (4 * a * std::comp_ellint_2(e)) - 1) < 1e-6);
        const double inner = 40, outer = 160, turns = 2.5, slope = (outer - inner) / (turns * 2 * pi);
        const auto sum = [&](double radius) {
            const double root = std::sqrt(radius * radius + slope * slope);
            return (radius * root + slope * slope * std::log(radius + root)) / (2 * slope);
        };
        QVERIFY(std::abs(Route(spiral(inner, outer, turns), false).length() / (sum(outer) - sum(inner)) - 1) < 1e-4);
    }

    void aPlaceIsAsFarAlongAsItSays()
    {
        const double r = 90;
        const Route circle(ellipseArc({}, r, r, 90, -270), true);
        for (double s = -50; s < 700; s += 7.3) {
            const double angle = pi / 2 - s / r;
            const Route::Place at = circle.at(s);
            QVERIFY(length(at.point - Vec2{r * std::cos(angle), r * std::sin(angle)}) < 1e-4 * r);
            QVERIFY(length(at.along - Vec2{std::sin(angle), -std::cos(angle)}) < 1e-4);
        }
        // Beside it, outwards, it is longer by 2 pi d; and the other way it runs backwards.
        QVERIFY(std::abs(circle.beside(10).length() - 2 * pi * (r + 10)) < 1e-3);
        QVERIFY(length(circle.backwards().at(30).point - circle.at(circle.length() - 30).point) < 1e-6);
        const Route turned = Route(ellipseArc({}, r, r, 17, 377), true).fromBelow();
        QVERIFY(length(turned.at(turned.length() / 2).point - Vec2{0, r}) < 0.05 * r);
        QVERIFY(turned.at(turned.length() / 2).along.x > 0.99);  // clockwise
    }

    void aStraightLineChangesNothing()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        for (const Align align : {Align::Start, Align::Centre, Align::End}) {
            LayoutSettings settings;
            settings.align = align;
            const auto layout = layoutText("Kites, AV\nover To", *font, settings, {});
            QVERIFY(layout);
            Layout set = *layout;
            const double w = layout->widthPt, last = layout->baselines.back();
            setAlong(set, Route({{1, {{0, last}, {w, last}}}}, false), {});
            const double shift = align == Align::Start ? 0 : align == Align::Centre ? w / 2 : w;
            QCOMPARE(set.glyphs.size(), layout->glyphs.size());
            for (std::size_t i = 0; i < set.glyphs.size(); ++i) {
                QCOMPARE(set.glyphs[i].turn, 0.0);
                QVERIFY(length(set.glyphs[i].origin - layout->glyphs[i].origin - Vec2{shift, 0}) < 1e-9);
            }
            QVERIFY(set.notes.empty());
        }
    }

    // Along a curve letters are as far from each other, measured on it, as they are on a straight line.
    void distancesAreKeptAlongTheLine()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        LayoutSettings settings;
        settings.sizePt = 40;
        settings.tracking = 30;
        const auto layout = layoutText("GALEPOINT KITE FAIR", *font, settings, {});
        QVERIFY(layout);
        const double r = 180;
        Layout set = *layout;
        setAlong(set, Route(ellipseArc({}, r, r, 270, -90), true), {});
        for (std::size_t i = 0; i < set.glyphs.size(); ++i) {
            const PlacedGlyph& g = set.glyphs[i];
            const Vec2 middle = g.origin + Vec2{std::cos(g.turn), std::sin(g.turn)} * (g.advance / 2);
            QVERIFY(std::abs(length(middle) - r) < 1e-3);
            const double along = (pi / 2 - std::atan2(middle.y, middle.x)) * r;  // from the top, clockwise
            QVERIFY2(std::abs(along - layout->glyphs[i].middle) < 1e-3, qPrintable(QString::number(along - layout->glyphs[i].middle)));
        }
    }

    void aFilledLineIsFull()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        const auto layout = layoutText("KITES", *font, {}, {});
        QVERIFY(layout);
        for (const double longer : {1.5, 3.0}) {
            const double whole = layout->widthPt * longer;
            Layout set = *layout;
            AlongSettings along;
            along.fill = true;
            setAlong(set, Route({{1, {{0, 0}, {whole, 0}}}}, false), along);
            QVERIFY(std::abs(set.glyphs.front().origin.x) < 1e-9);
            QVERIFY(std::abs(set.glyphs.back().origin.x + set.glyphs.back().advance - whole) < 1e-9);
        }
        // Round a closed line every gap is as wide as the last one, from the end to the beginning.
        Layout round = *layout;
        AlongSettings along;
        along.fill = true;
        const Route circle(ellipseArc({}, 300, 300, 270, -90), true);
        setAlong(round, circle, along);
        const auto angle = [&](const PlacedGlyph& g, double share) {
            const Vec2 at = g.origin + Vec2{std::cos(g.turn), std::sin(g.turn)} * (g.advance * share);
            return std::atan2(at.y, at.x);
        };
        const auto gap = [&](std::size_t a, std::size_t b) {
            double d = angle(round.glyphs[a], 0.5) - angle(round.glyphs[b], 0.5);
            d -= std::floor(d / (2 * pi)) * 2 * pi;
            return d * 300 - (round.glyphs[a].advance + round.glyphs[b].advance) / 2;
        };
        const double last = gap(4, 0);
        for (std::size_t i = 0; i + 1 < 5; ++i)
            QVERIFY(std::abs(gap(i, i + 1) - last) <
                    0.01 + std::abs(layout->glyphs[i + 1].origin.x - layout->glyphs[i].origin.x - layout->glyphs[i].advance));
    }

    void whatIsTooLongIsSaidAndRunsOn()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        auto layout = layoutText("KITES", *font, {}, {});
        QVERIFY(layout);
        setAlong(*layout, Route({{1, {{0, 0}, {50, 0}}}}, false), {});
        QCOMPARE(layout->notes.size(), std::size_t(1));
        QCOMPARE(layout->notes[0].kind, std::string("too-long"));
        QVERIFY(layout->glyphs.back().origin.x > 50);
    }

    void straightLinesBendNothing()
    {
        const base::Box2 box{{-100, -20}, {140, 60}};
        for (const LineStart start : {LineStart::Hill, LineStart::Barrel, LineStart::Swell, LineStart::Fan, LineStart::Road}) {
            const TwoLines none = linesOf(start, 0);
            const Between between(box, none.top, none.bottom);
            for (const Vec2 p : {Vec2{0, 0}, {-100, 60}, {77, -45}, {200, 10}, {-140, 90}}) {
                QVERIFY(length(between.apply(p) - p) < 1e-9);
                const Vec2 d = between.turn(p, {3, -2});
                QVERIFY(length(d - Vec2{3, -2}) < 1e-6);
            }
        }
    }

    // The block itself becomes what lies between the lines: a trapezium's area, and that under a parabola, 2/3 of its height (Archimedes).
    void theBlockFillsWhatIsBetweenTheLines()
    {
        const base::Box2 box{{0, 0}, {300, 100}};
        const TwoLines pennant = linesOf(LineStart::Pennant, 1);
        const auto a = bent(Between(box, pennant.top, pennant.bottom), box, 0.01);
        QVERIFY(std::abs(areaOf(a) / (300 * 100) - 1) < 1e-3);  // as much is lost on the right as is won on the left
        const TwoLines bridge = linesOf(LineStart::Bridge, 1);  // raised by 60 in the middle
        const auto b = bent(Between(box, bridge.top, bridge.bottom), box, 0.01);
        QVERIFY2(std::abs(areaOf(b) / (300 * (100 - 60 * 2.0 / 3)) - 1) < 2e-3, qPrintable(QString::number(areaOf(b))));
        // Straight sides are split: every corner of the flattened top lies on the line.
        QVERIFY(b.size() > 20);
        for (const FlatEdge& e : b)
            if (e.tangentFrom.x < -0.9)
                QVERIFY(std::abs(e.from.y - 100) < 0.02);
    }

    // Directions are those of the bent curve: at both ends of every edge within the turn of that edge.
    void normalsFollowTheBend()
    {
        const base::Box2 box{{0, 0}, {300, 100}};
        const TwoLines swell = linesOf(LineStart::Swell, 1);
        const Between between(box, swell.top, swell.bottom);
        for (const Vec2 p : {Vec2{20, 30}, {150, 80}, {260, -10}})
            for (const Vec2 d : {Vec2{1, 0}, {0, 1}, {0.6, 0.8}}) {
                const double h = 1e-4;
                const Vec2 measured = (between.apply(p + d * h) - between.apply(p - d * h)) * (1 / (2 * h));
                QVERIFY2(length(measured - between.turn(p, d)) < 0.01 * length(measured), "Jacobian");
            }
    }

    // Turned letters share the outline of straight ones; what touches is united where it lies.
    void turnedLettersAreOneOutline()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        LayoutSettings settings;
        settings.sizePt = 30;
        settings.tracking = 100;
        const auto layout = layoutText("OOOO", *font, settings, {});
        QVERIFY(layout);
        Layout set = *layout;
        setAlong(set, Route(ellipseArc({}, 100, 100, 270, -90), true), {});
        const auto outlined = outlineLayout(set, "OOOO", *font, {30, 0.05}, {});
        QVERIFY(outlined);
        QCOMPARE(outlined->outlines.size(), std::size_t(4));
        const double half = font->capHeight() * 30 / 2;
        for (const PlacedOutline& o : outlined->outlines) {
            QCOMPARE(o.outline, outlined->outlines[0].outline);
            QVERIFY(o.turn != 0);
            const base::Box2 box = bounds(o);
            QVERIFY(std::abs(length((box.low + box.high) * 0.5) - 100 - half) < 0.5);
        }
        // Hanging inside a circle they crowd together.
        settings.tracking = -300;
        const auto tight = layoutText("OOOO", *font, settings, {});
        QVERIFY(tight);
        Layout joined = *tight;
        AlongSettings hanging;
        hanging.under = true;
        hanging.capHeight = font->capHeight() * 30;
        setAlong(joined, Route(ellipseArc({}, 50, 50, 270, -90), true), hanging);
        const auto united = outlineLayout(joined, "OOOO", *font, {30, 0.05}, {});
        QVERIFY(united);
        QVERIFY(united->outlines.size() < 4);
        double whole = 0;
        for (const PlacedOutline& o : united->outlines)
            whole += area(*o.outline);
        QVERIFY(whole < 4 * area(*outlined->outlines[0].outline));
        QVERIFY(whole > 2 * area(*outlined->outlines[0].outline));
    }
};

OPEN_GLOW_TEST(TestRoute)
#include "test_route.moc"
