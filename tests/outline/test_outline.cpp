#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QtTest>

#include "base/units.h"
#include "outline/unite.h"
#include "support/support.h"

using base::Vec2;

class TestOutline : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void flatteningKeepsTheTolerance_data()
    {
        QTest::addColumn<double>("tolerance");
        for (const double t : {1.0, 0.1, 0.01, 0.001})
            QTest::addRow("%g", t) << t;
    }
    void flatteningKeepsTheTolerance()
    {
        QFETCH(double, tolerance);
        const outline::Curve curve{3, {{0, 0}, {10, 90}, {110, -60}, {100, 40}}};
        std::vector<outline::FlatEdge> edges;
        outline::flatten(curve, tolerance, edges);
        double worst = 0;
        for (int i = 0; i <= 2000; ++i) {
            const Vec2 p = outline::pointAt(curve, i / 2000.0);
            double nearest = 1e9;
            for (const auto& e : edges) {
                const Vec2 d = e.to - e.from;
                const double t = std::clamp(dot(p - e.from, d) / dot(d, d), 0.0, 1.0);
                nearest = std::min(nearest, length(p - (e.from + d * t)));
            }
            worst = std::max(worst, nearest);
        }
        QVERIFY2(worst <= tolerance, qPrintable(QString::number(worst)));
        QVERIFY(length(edges.front().tangentFrom - normalized(Vec2{10, 90})) < 1e-12);
    }

    // Steiner's formula: a convex outline grown by d with round corners has area A + P d + pi d^2. Normals on the arcs point
    // away from the corners.
    void grownOutlines()
    {
        outline::GridShape square(1);
        const std::int64_t side = 100000;
        const std::int64_t corners[][2] = {{0, 0}, {side, 0}, {side, side}, {0, side}};
        for (int i = 0; i < 4; ++i) {
            const auto *a = corners[i], *b = corners[(i + 1) % 4];
            const Vec2 normal = normalized(Vec2{double(b[1] - a[1]), -double(b[0] - a[0])});
            square[0].push_back({a[0], a[1], b[0], b[1], normal, normal, 0});
        }
        const double d = 20000;
        const outline::United united = outline::unite(outline::grown(square, d, 10), 1);
        QCOMPARE(united.outlines.size(), std::size_t{1});
        const double expected = double(side) * side + 4.0 * side * d + base::kPi * d * d;
        QVERIFY(std::abs(outline::area(united.outlines[0]) / expected - 1) < 1e-4);  // the arcs' chords
        for (const outline::Edge& e : united.outlines[0].contours[0]) {
            const Vec2 p{double(e.from.x + united.offsets[0].x), double(e.from.y + united.offsets[0].y)};
            const Vec2 nearest{std::clamp(p.x, 0.0, double(side)), std::clamp(p.y, 0.0, double(side))};
            const Vec2 away = normalized(p - nearest);
            QVERIFY(std::abs(dot(away, Vec2{e.normalFrom.x, e.normalFrom.y}) - 1) < 1e-3);
        }
    }

    // Thinned by t a square of side a is one of a - 2 t, with its normals outwards; by half its side nothing is left.
    void thinnedOutlines()
    {
        outline::GridShape square(1);
        const std::int64_t corners[][2] = {{0, 0}, {1000, 0}, {1000, 1000}, {0, 1000}};
        for (int i = 0; i < 4; ++i) {
            const auto *a = corners[i], *b = corners[(i + 1) % 4];
            const Vec2 normal = normalized(Vec2{double(b[1] - a[1]), -double(b[0] - a[0])});
            square[0].push_back({a[0], a[1], b[0], b[1], normal, normal, 0});
        }
        const outline::GridShape thinned = outline::grown(square, -200, 1);
        QCOMPARE(thinned.size(), std::size_t{1});
        for (const outline::GridEdge& e : thinned[0]) {
            const Vec2 along{double(e.toX - e.fromX), double(e.toY - e.fromY)};
            QCOMPARE(length(along), 600.0);
            QVERIFY(dot(e.normalFrom, normalized(Vec2{along.y, -along.x})) > 1 - 1e-9);
        }
        QVERIFY(outline::grown(square, -500, 1).empty());
    }

    // fontTools' pens on the same font. Faces without overlapping contours, so that uniting changes nothing.
    void areaAndBoundsLikeFontTools_data()
    {
        QTest::addColumn<QString>("family");
        QTest::addColumn<QString>("style");
        QTest::newRow("cubic") << "League Spartan"
                               << "Bold";
        QTest::newRow("quadratic") << "DejaVu Sans"
                                   << "Book";
        QTest::newRow("serif") << "Junicode Two Beta"
                               << "Regular";
        QTest::newRow("heavy") << "Lato"
                               << "Black";
    }
    void areaAndBoundsLikeFontTools()
    {
        QFETCH(QString, family);
        QFETCH(QString, style);
        const auto font = support::font(family, style);
        QVERIFY(font);
        const QString characters = "GALEPOINTkitefairs&8gB";
        const QJsonObject facts =
            QJsonDocument::fromJson(support::run("/usr/bin/python3", {OPEN_GLOW_SOURCE "/tests/outline/glyph_facts.py",
                                                                      support::fontPath(family, style), characters}))
                .object();
        QVERIFY(!facts.isEmpty());
        const double size = font->unitsPerEm();
        for (const QChar c : characters) {
            const QJsonObject f = facts[QString(c)].toObject();
            const outline::Outlined result = support::outlines(QString(c).toStdString(), *font, size * 2e-6, size);
            double area = 0;
            qsizetype contours = 0;
            base::Box2 box;
            for (const auto& o : result.outlines) {
                area += outline::area(*o.outline);
                contours += static_cast<qsizetype>(o.outline->contours.size());
                base::Box2 b = outline::bounds(*o.outline);
                b.low = b.low + o.originPt;
                b.high = b.high + o.originPt;
                box.add(b);
            }
            // 1e-4: flattening of curves, and overlaps of a thousandth that some glyphs have.
            QVERIFY2(std::abs(area / f["area"].toDouble() - 1) < 1e-4,
                     qPrintable(c + QString(" %1 %2").arg(area).arg(f["area"].toDouble())));
            QCOMPARE(contours, f["contours"].toInt());
            const QJsonArray b = f["bounds"].toArray();
            QVERIFY(std::abs(box.high.y - box.low.y - (b[3].toDouble() - b[1].toDouble())) < size * 2e-5);
            QVERIFY(std::abs(box.low.y - b[1].toDouble()) < size * 2e-5);
            QVERIFY(std::abs((box.high.x - box.low.x) - (b[2].toDouble() - b[0].toDouble())) < size * 2e-5);
        }
    }

    void touchingLettersBecomeOneOutline()
    {
        const auto script = support::font("Lobster Two", "Bold");
        QVERIFY(script);
        const outline::Outlined joined = support::outlines("galepoint", *script);
        std::size_t most = 0;
        for (const auto& o : joined.outlines)
            most = std::max(most, o.letters.size());
        QVERIFY2(most >= 3, "letters of a script face join");
        // Every edge names a letter of its outline.
        for (const auto& o : joined.outlines)
            for (const auto& contour : o.outline->contours)
                for (const auto& e : contour)
                    QVERIFY(e.letter >= 0 && static_cast<std::size_t>(e.letter) < o.letters.size());
    }

    void equalLettersShareOneOutline()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        const outline::Outlined result = support::outlines("EXE", *font);
        QCOMPARE(result.outlines.size(), std::size_t{3});
        QCOMPARE(result.outlines[0].outline.get(), result.outlines[2].outline.get());
        QCOMPARE(result.outlines[2].letters, std::vector<int>{2});
    }

    // Two squares that overlap in [1,2]x[1,2], one the wrong way round: area 4 + 4 - 1.
    void overlapsCountOnce()
    {
        const auto square = [](std::int64_t x, std::int64_t y, bool clockwise) {
            std::vector<base::V2<std::int64_t>> p{{x, y}, {x + 2000000, y}, {x + 2000000, y + 2000000}, {x, y + 2000000}};
            if (clockwise)
                std::reverse(p.begin(), p.end());
            std::vector<outline::GridEdge> edges;
            for (std::size_t i = 0; i < 4; ++i) {
                const auto a = p[i], b = p[(i + 1) % 4];
                const Vec2 d = normalized(Vec2{double(b.x - a.x), double(b.y - a.y)});
                edges.push_back({a.x, a.y, b.x, b.y, {d.y, -d.x}, {d.y, -d.x}, clockwise ? 1 : 0});
            }
            return edges;
        };
        const outline::United same = outline::unite({square(0, 0, false), square(1000000, 1000000, false)}, 1e-6);
        QCOMPARE(same.outlines.size(), std::size_t{1});
        QVERIFY(std::abs(outline::area(same.outlines[0]) - 7) < 1e-5);
        for (const auto& e : same.outlines[0].contours[0])  // normals point outwards, so the sum over the contour is zero
            QVERIFY(std::abs(length(Vec2{e.normalFrom.x, e.normalFrom.y}) - 1) < 1e-6);
        const outline::United turned = outline::unite({square(0, 0, true)}, 1e-6);
        QVERIFY2(outline::area(turned.outlines[0]) > 0, "outer contours run counter-clockwise whatever the font does");
    }

    // The normal of a circle's edges is the radius, not the chord's normal.
    void normalsComeFromTheCurve()
    {
        const auto font = support::font("League Spartan", "Bold");
        QVERIFY(font);
        const outline::Outlined o = support::outlines("O", *font, 0.2);
        const auto& contour = o.outlines[0].outline->contours[0];
        int curved = 0;
        for (std::size_t i = 0; i < contour.size(); ++i) {
            const auto& e = contour[i];
            const auto& next = contour[(i + 1) % contour.size()];
            QVERIFY2(std::abs(e.normalTo.x - next.normalFrom.x) + std::abs(e.normalTo.y - next.normalFrom.y) < 1e-5, "an O has no corner");
            curved += std::abs(e.normalFrom.x - e.normalTo.x) + std::abs(e.normalFrom.y - e.normalTo.y) > 0.01;
        }
        QVERIFY(curved > 8);
    }
};

OPEN_GLOW_TEST(TestOutline)
#include "test_outline.moc"
