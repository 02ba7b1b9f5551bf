// Steps on outlines: areas against those of Clipper, closed forms, and letters that stay letters.
#include <QtTest>

#include <cmath>
#include <numbers>
#include <polyclipping/clipper.hpp>
#include <random>
#include <set>

#include "outline/steps.h"
#include "outline/unite.h"
#include "support/support.h"

using namespace outline;
using std::numbers::pi;

namespace {

constexpr double kUnit = 1e-4;

PlacedOutline placedPolygon(const std::vector<std::vector<Vec2>>& contours, int letter = 0, Vec2 at = {})
{
    return {std::make_shared<const Outline>(support::polygon(contours, kUnit)), at, {letter}, 0};
}

Outlined square(Vec2 low, double side, int letter = 0)
{
    return {{placedPolygon({{{0, 0}, {side, 0}, {side, side}, {0, side}}}, letter, low)}, {}};
}

double areaOf(const Outlined& outlined)
{
    double sum = 0;
    for (const PlacedOutline& o : outlined.outlines)
        sum += area(*o.outline);
    return sum;
}

std::shared_ptr<const Outlined> shared(Outlined outlined)
{
    return std::make_shared<const Outlined>(std::move(outlined));
}

ClipperLib::Paths pathsOf(const Outlined& outlined)
{
    ClipperLib::Paths paths;
    for (const PlacedOutline& o : outlined.outlines)
        for (const Contour& contour : o.outline->contours) {
            ClipperLib::Path path;
            for (const Edge& e : contour) {
                const Vec2 p = o.at(e.from) * (1 / kUnit);
                path.emplace_back(std::llround(p.x), std::llround(p.y));
            }
            paths.push_back(path);
        }
    return paths;
}

double clipped(const Outlined& a, const Outlined& b, ClipperLib::ClipType type)
{
    ClipperLib::Clipper clipper;
    clipper.AddPaths(pathsOf(a), ClipperLib::ptSubject, true);
    clipper.AddPaths(pathsOf(b), ClipperLib::ptClip, true);
    ClipperLib::Paths result;
    clipper.Execute(type, result, ClipperLib::pftNonZero, ClipperLib::pftNonZero);
    double sum = 0;
    for (const ClipperLib::Path& path : result)
        sum += ClipperLib::Area(path);
    return sum * kUnit * kUnit;
}

}  // namespace

class TestSteps : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Clipper on the same polygons, and |A| + |B| = |A or B| + |A and B|.
    void combinedAreasAreClippers()
    {
        std::mt19937 random(20261128);
        std::uniform_real_distribution<double> radius(20, 60), place(-40, 40), spread(0, 2 * pi);
        for (int i = 0; i < 40; ++i) {
            const auto star = [&](Vec2 middle) {
                std::vector<Vec2> corners;
                const int count = 5 + static_cast<int>(random() % 9);
                for (int k = 0; k < count; ++k) {
                    const double r = radius(random), a = 2 * pi * k / count;
                    corners.push_back(middle + Vec2{r * std::cos(a), r * std::sin(a)});
                }
                return Outlined{{placedPolygon({corners})}, {}};
            };
            const Outlined a = star({0, 0}), b = star({place(random), place(random)});
            const auto with = [&](How how) { return areaOf(applied(a, CombineWith{how, shared(b)}, 0.01)); };
            const double both = with(How::Unite), less = with(How::Subtract), overlap = with(How::Intersect);
            QVERIFY(std::abs(both - clipped(a, b, ClipperLib::ctUnion)) < 0.05);
            QVERIFY(std::abs(less - clipped(a, b, ClipperLib::ctDifference)) < 0.05);
            QVERIFY(std::abs(overlap - clipped(a, b, ClipperLib::ctIntersection)) < 0.05);
            QVERIFY(std::abs(areaOf(a) + areaOf(b) - both - overlap) < 0.05);
        }
    }

    void whatIsWonBelongsToTheLetterItTouches()
    {
        Outlined two = square({0, 0}, 40, 3);
        two.outlines.push_back(square({60, 0}, 40, 5).outlines[0]);
        // A bar over both joins them to one; a dot beside them stays by itself.
        Outlined bar{{placedPolygon({{{0, 0}, {100, 0}, {100, 10}, {0, 10}}}, 0, {0, 15})}, {}};
        const Outlined joined = applied(two, CombineWith{How::Unite, shared(bar)}, 0.01);
        QCOMPARE(joined.outlines.size(), std::size_t(1));
        QCOMPARE(std::set<int>(joined.outlines[0].letters.begin(), joined.outlines[0].letters.end()), (std::set<int>{3, 5}));
        const Outlined apart = applied(two, CombineWith{How::Unite, shared(square({300, 0}, 10))}, 0.01);
        QCOMPARE(apart.outlines.size(), std::size_t(3));
        for (const PlacedOutline& o : apart.outlines)
            for (const int letter : o.letters)
                QVERIFY(letter == 3 || letter == 5);
    }

    // A square's corners rounded: (4 - pi) r^2 less; as far as half its sides: a circle.
    void roundCorners()
    {
        const Outlined box = square({10, 20}, 100);
        for (const double r : {5.0, 20.0, 50.0}) {
            const double found = areaOf(applied(box, RoundBy{r}, 0.001));
            QVERIFY2(std::abs(found - (100 * 100 - (4 - pi) * r * r)) < 3, qPrintable(QString::number(found)));
        }
        QVERIFY(std::abs(areaOf(applied(box, RoundBy{900}, 0.001)) - pi * 50 * 50) < 3);
        QVERIFY(std::abs(areaOf(applied(box, RoundBy{0}, 0.001)) - 100 * 100) < 0.01);
        // Inner corners gain what outer ones lose: an L has five outer and one inner corner.
        const Outlined l{{placedPolygon({{{0, 0}, {60, 0}, {60, 20}, {20, 20}, {20, 60}, {0, 60}}})}, {}};
        QVERIFY(std::abs(areaOf(applied(l, RoundBy{6}, 0.001)) - (60 * 20 + 40 * 20 - 4 * (1 - pi / 4) * 36)) < 0.2);
        // Curves keep their edges: a circle has no corners.
        Outline disc;
        disc.unitPt = kUnit;
        disc.contours = {support::circle(30, {0, 0}, 120, false, kUnit)};
        const Outlined round{{{std::make_shared<const Outline>(disc), {}, {0}, 0}}, {}};
        QVERIFY(std::abs(areaOf(applied(round, RoundBy{4}, 0.001)) - areaOf(round)) < 1e-3);
    }

    void aMirrorTwiceIsNone()
    {
        const Outlined l{{placedPolygon({{{0, 0}, {60, 0}, {60, 20}, {20, 20}, {20, 60}, {0, 60}}})}, {}};
        for (const bool across : {true, false}) {
            const Outlined once = applied(l, MirrorAt{across, 30}, 0.01);
            QVERIFY(std::abs(areaOf(once) - areaOf(l)) < 1e-3);
            const double overlap = clipped(l, once, ClipperLib::ctIntersection);
            QVERIFY(overlap < areaOf(l) - 100);
            const Outlined twice = applied(once, MirrorAt{across, 30}, 0.01);
            QVERIFY(std::abs(clipped(l, twice, ClipperLib::ctIntersection) - areaOf(l)) < 1e-2);
        }
    }

    // By nothing it changes nothing. The area a push makes is the flux of its field through the edge: for a straight edge through the
    // middle of the push, across it, the integral of (1 - x^2 / r^2)^2, 16 r / 15.
    void aPushIsSoft()
    {
        const Outlined box = square({0, 0}, 100);
        QVERIFY(applied(box, PushBy{{50, 100}, {0, 0}, 30}, 0.01).outlines[0].outline == box.outlines[0].outline);
        const double r = 20, by = 6;
        const Outlined pushed = applied(box, PushBy{{50, 100}, {0, by}, r}, 0.001);
        const double won = areaOf(pushed) - areaOf(box);
        QVERIFY2(std::abs(won - by * 16 * r / 15) < 0.1, qPrintable(QString::number(won)));
        const base::Box2 bounds = outline::bounds(pushed);
        QVERIFY(std::abs(bounds.high.y - 106) < 0.01);
        QVERIFY(std::abs(bounds.high.x - 100) < 1e-3);
        // Normals are square to the edges.
        for (const Edge& e : pushed.outlines[0].outline->contours[0])
            QVERIFY(std::abs(std::hypot(e.normalFrom.x, e.normalFrom.y) - 1) < 1e-4);
        const auto& contour = pushed.outlines[0].outline->contours[0];
        for (std::size_t i = 0; i < contour.size(); ++i) {
            const GridPoint a = contour[i].from, b = contour[(i + 1) % contour.size()].from;
            const Vec2 d = normalized(Vec2{double(b.x - a.x), double(b.y - a.y)});
            QVERIFY(std::abs(d.x * contour[i].normalFrom.x + d.y * contour[i].normalFrom.y) < 0.2);
        }
    }

    void aCutLeavesTwoHalvesAndAGap()
    {
        const Outlined box = square({0, 0}, 100, 7);
        const Halves halves = cutAlong(box, {{-10, 30}, {110, 30}}, 4);  // to the right: below it lies on the right
        QVERIFY(halves.touched);
        QVERIFY(std::abs(areaOf(halves.left) - 100 * 68) < 0.1);
        QVERIFY(std::abs(areaOf(halves.right) - 100 * 28) < 0.1);
        QCOMPARE(halves.left.outlines[0].letters, std::vector<int>{7});
        QCOMPARE(halves.right.outlines[0].letters, std::vector<int>{7});
        // The other way round the sides change.
        QVERIFY(std::abs(areaOf(cutAlong(box, {{110, 30}, {-10, 30}}, 4).left) - 100 * 28) < 0.1);
        // Without a gap nothing is lost that is seen.
        const Halves hair = cutAlong(box, {{-10, 30}, {110, 30}}, 0);
        QVERIFY(std::abs(areaOf(hair.left) + areaOf(hair.right) - 100 * 100) < 0.3);
        // A bent line; one that ends inside leaves a slit; one that passes by touches nothing.
        std::vector<Vec2> wave;
        for (int i = 0; i <= 60; ++i)
            wave.push_back({i * 2.0 - 10, 50 + 20 * std::sin(i / 8.0)});
        const Halves bent = cutAlong(box, wave, 2);
        QCOMPARE(bent.left.outlines.size(), std::size_t(1));
        QCOMPARE(bent.right.outlines.size(), std::size_t(1));
        const Halves slit = cutAlong(box, {{-10, 30}, {50, 30}}, 4);
        QVERIFY(slit.right.outlines.empty());
        QVERIFY(std::abs(areaOf(slit.left) - (100 * 100 - 50 * 4)) < 0.1);
        const Halves none = cutAlong(box, {{-10, 130}, {110, 130}}, 4);
        QVERIFY(!none.touched);
        QVERIFY(none.left.outlines[0].outline == box.outlines[0].outline);
        QVERIFY(!cutAlong(box, {}, 4).touched);
    }

    // Whole words of a real face go through all steps: every outline stays closed and in order, every letter is still there.
    void lettersOfAFaceGoThrough()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        const std::string text = "Galepoint & 23%";
        const Outlined whole = support::outlines(text, *font);
        const auto lettersIn = [](const Outlined& o) {
            std::set<int> letters;
            for (const PlacedOutline& p : o.outlines)
                letters.insert(p.letters.begin(), p.letters.end());
            return letters;
        };
        const base::Box2 box = bounds(whole);
        const Vec2 middle = (box.low + box.high) * 0.5;
        for (const Operation& operation :
             {Operation(RoundBy{3}), Operation(PushBy{middle, {10, 20}, 80}), Operation(MirrorAt{true, middle.x}), Operation(GrowBy{1.5}),
              Operation(CombineWith{How::Subtract, shared(square(middle, 15))})}) {
            const Outlined after = applied(whole, operation, 0.02);
            QCOMPARE(lettersIn(after), lettersIn(whole));
            for (const PlacedOutline& o : after.outlines)
                QVERIFY(area(*o.outline) > 0);
        }
        const Halves halves = cutAlong(whole, {{box.low.x - 5, middle.y}, {box.high.x + 5, middle.y}}, 2);
        QVERIFY(areaOf(halves.left) + areaOf(halves.right) < areaOf(whole));
        QVERIFY(areaOf(halves.left) + areaOf(halves.right) > 0.9 * areaOf(whole));
    }
};

OPEN_GLOW_TEST(TestSteps)
#include "test_steps.moc"
