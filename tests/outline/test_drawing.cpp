// Drawings: their text, and the outlines of shapes that lie over each other.
#include <QtTest>
#include <fmt/format.h>
#include <polyclipping/clipper.hpp>
#include <random>

#include "base/units.h"
#include "outline/drawing.h"
#include "outline/outline.h"
#include "support/registered.h"

using base::Vec2;

namespace {

outline::CurveContour polygon(const std::vector<Vec2>& points)
{
    outline::CurveContour contour;
    for (std::size_t i = 0; i < points.size(); ++i)
        contour.push_back({1, {points[i], points[(i + 1) % points.size()]}});
    return contour;
}

outline::CurveContour square(Vec2 low, double side)
{
    return polygon({low, low + Vec2{side, 0}, low + Vec2{side, side}, low + Vec2{0, side}});
}

// Of four cubics; their radius is off by 2.7e-4 at most (the usual handle length 4/3 (sqrt 2 - 1), Goldapp 1991).
outline::CurveContour circle(Vec2 middle, double r)
{
    const double k = 4.0 / 3 * (std::sqrt(2.0) - 1) * r;
    outline::CurveContour contour;
    const Vec2 ways[] = {{1, 0}, {0, 1}, {-1, 0}, {0, -1}};
    for (int i = 0; i < 4; ++i) {
        const Vec2 a = ways[i], b = ways[(i + 1) % 4];
        contour.push_back({3, {middle + a * r, middle + a * r + b * k, middle + b * r + a * k, middle + b * r}});
    }
    return contour;
}

outline::DrawnShape shape(const char* id, std::vector<outline::CurveContour> contours, bool evenOdd = false)
{
    return {id, {}, 0x804020, evenOdd, std::move(contours)};
}

std::map<int, double> areas(const outline::Drawing& drawing, const outline::OutlineSettings& settings)
{
    std::map<int, double> areas;
    const auto outlined = outline::outlineDrawing(drawing, settings, {});
    for (const outline::PlacedOutline& o : outlined->outlines)
        areas[o.letters.front()] += outline::area(*o.outline);
    return areas;
}

}  // namespace

class TestDrawing : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void textAndBack()
    {
        outline::Drawing drawing{120.25, 80, {}, {{"artwork-left", "2 gradients became one colour each", {}}}};
        drawing.shapes.push_back(shape("s1", {circle({30.125, 40}, 1.0 / 3), square({1, 2}, 7)}));
        drawing.shapes.push_back(shape("s2", {{{2, {Vec2{0, 0}, Vec2{5, 9.7}, Vec2{10, 0}}}, {1, {Vec2{10, 0}, Vec2{0, 0}}}}}, true));
        drawing.shapes.back().name = "kite & \"tail\" <3>";
        const std::string text = outline::svgOf(drawing);
        const auto back = outline::drawingFromSvg(text, "a");
        QVERIFY2(back.has_value(), back ? "" : back.error().message.c_str());
        QCOMPARE(back->shapes.size(), drawing.shapes.size());
        QVERIFY(back->notes == drawing.notes);
        QCOMPARE(back->shapes[1].name, drawing.shapes[1].name);
        QVERIFY(back->shapes[1].evenOdd && !back->shapes[0].evenOdd);
        // y is turned over and back: that rounds once.
        for (std::size_t s = 0; s < 2; ++s)
            for (std::size_t c = 0; c < drawing.shapes[s].contours.size(); ++c)
                for (std::size_t i = 0; i < drawing.shapes[s].contours[c].size(); ++i)
                    for (int k = 0; k <= drawing.shapes[s].contours[c][i].degree; ++k)
                        QVERIFY(length(back->shapes[s].contours[c][i].p[k] - drawing.shapes[s].contours[c][i].p[k]) < 1e-12);
        QCOMPARE(outline::svgOf(*back), text);
    }

    void brokenTextsAreRefused_data()
    {
        QTest::addColumn<QByteArray>("text");
        const QByteArray head = "<svg viewBox=\"0 0 10 10\">";
        QTest::newRow("nothing") << QByteArray();
        QTest::newRow("no size") << QByteArray("<svg><path id=\"a\" fill=\"#000000\" d=\"\"/></svg>");
        QTest::newRow("a size of nan") << QByteArray("<svg viewBox=\"0 0 nan 10\"></svg>");
        QTest::newRow("no end") << head + "<path";
        QTest::newRow("no id") << head + "<path fill=\"#000000\" d=\"M 0 0 L 1 1 Z\"/></svg>";
        QTest::newRow("an id twice") << head + "<path id=\"a\" fill=\"#000000\" d=\"\"/><path id=\"a\" fill=\"#000000\" d=\"\"/></svg>";
        QTest::newRow("no colour") << head + "<path id=\"a\" d=\"\"/></svg>";
        QTest::newRow("half a colour") << head + "<path id=\"a\" fill=\"#12345\" d=\"\"/></svg>";
        QTest::newRow("an arc") << head + "<path id=\"a\" fill=\"#000000\" d=\"M 0 0 A 1 1 0 0 0 2 2\"/></svg>";
        QTest::newRow("half a point") << head + "<path id=\"a\" fill=\"#000000\" d=\"M 0\"/></svg>";
        QTest::newRow("infinite") << head + "<path id=\"a\" fill=\"#000000\" d=\"M 0 0 L inf 2\"/></svg>";
    }
    void brokenTextsAreRefused()
    {
        QFETCH(QByteArray, text);
        const auto drawing = outline::drawingFromSvg({text.data(), static_cast<std::size_t>(text.size())}, "broken.svg");
        QVERIFY(!drawing);
        QCOMPARE(drawing.error().place, "broken.svg");
    }

    // Shapes lie beside each other where they overlapped: each point is of the topmost one. A square of 40 with a disc of radius 10 in its
    // middle and a square of 20 over its corner.
    void whatIsCoveredIsCutAway()
    {
        outline::Drawing drawing{100, 100, {}, {}};
        drawing.shapes = {shape("s1", {square({20, 20}, 40)}), shape("s2", {circle({40, 40}, 10)}), shape("s3", {square({50, 50}, 20)})};
        const auto found = areas(drawing, {200, 0.01});  // twice as large
        const double disc = base::kPi * 100;
        QVERIFY2(std::abs(found.at(2) / 4 - 400) < 1e-3, qPrintable(QString::number(found.at(2))));
        QVERIFY(std::abs(found.at(1) / 4 / disc - 1) < 1e-3);
        QVERIFY2(std::abs(found.at(0) / 4 - (1600 - disc - 100)) < 0.4, qPrintable(QString::number(found.at(0) / 4)));
        // The whole page's middle is the origin.
        const auto outlined = outline::outlineDrawing(drawing, {200, 0.01}, {});
        base::Box2 box;
        for (const outline::PlacedOutline& o : outlined->outlines) {
            box.add(outline::bounds(*o.outline).low + o.originPt);
            box.add(outline::bounds(*o.outline).high + o.originPt);
        }
        QVERIFY(length(box.low - Vec2{-60, -60}) < 1e-3 && length(box.high - Vec2{40, 40}) < 1e-3);
    }

    // The even-odd rule leaves out what is covered twice, the other one does not (SVG 1.1, 11.3).
    void bothFillRules()
    {
        outline::Drawing drawing{100, 100, {}, {}};
        const std::vector<outline::CurveContour> twice{square({10, 10}, 40), square({20, 20}, 20)};
        drawing.shapes = {shape("s1", twice)};
        QVERIFY(std::abs(areas(drawing, {100, 0.01}).at(0) - 1600) < 1e-3);
        drawing.shapes = {shape("s1", twice, true)};
        QVERIFY(std::abs(areas(drawing, {100, 0.01}).at(0) - 1200) < 1e-3);
    }

    // Random polygons over each other against Clipper on the same polygons: the topmost keeps all, the others what is left.
    void randomPolygonsAgainstClipper()
    {
        std::mt19937 random(7);
        std::uniform_real_distribution<double> place(5, 95);
        for (int run = 0; run < 40; ++run) {
            outline::Drawing drawing{100, 100, {}, {}};
            std::vector<ClipperLib::Path> paths;
            const double steps = 1e4;
            for (int i = 0; i < 4; ++i) {
                std::vector<Vec2> points;
                ClipperLib::Path path;
                for (int k = 0; k < 5; ++k) {
                    const ClipperLib::IntPoint p(std::llround(place(random) * steps), std::llround(place(random) * steps));
                    path.push_back(p);
                    points.push_back({p.X / steps, p.Y / steps});
                }
                paths.push_back(path);
                drawing.shapes.push_back(shape(fmt::format("s{}", i + 1).c_str(), {polygon(points)}, run % 2 == 1));
            }
            const auto rule = run % 2 == 1 ? ClipperLib::pftEvenOdd : ClipperLib::pftNonZero;
            const auto found = areas(drawing, {100, 0.01});
            for (int i = 0; i < 4; ++i) {
                ClipperLib::Paths own, over;
                ClipperLib::SimplifyPolygon(paths[i], own, rule);
                for (int k = i + 1; k < 4; ++k) {
                    ClipperLib::Paths each;
                    ClipperLib::SimplifyPolygon(paths[k], each, rule);
                    over.insert(over.end(), each.begin(), each.end());
                }
                ClipperLib::Clipper clipper;
                clipper.AddPaths(own, ClipperLib::ptSubject, true);
                clipper.AddPaths(over, ClipperLib::ptClip, true);
                ClipperLib::Paths left;
                clipper.Execute(ClipperLib::ctDifference, left, ClipperLib::pftEvenOdd, ClipperLib::pftNonZero);
                double expected = 0;
                for (const auto& path : left)
                    expected += ClipperLib::Area(path);
                const double mine = found.contains(i) ? found.at(i) : 0;
                QVERIFY2(std::abs(mine - std::abs(expected) / steps / steps) < 0.02,
                         qPrintable(QString("run %1, shape %2: %3, %4").arg(run).arg(i).arg(mine).arg(expected / steps / steps)));
            }
        }
    }
};

OPEN_GLOW_TEST(TestDrawing)
#include "test_drawing.moc"
