#include <QtTest>

#include "base/units.h"
#include "solid/centre_line.h"
#include "solid/check.h"
#include "solid/tube.h"
#include "support/support.h"

using base::kPi;
using base::Vec2;
using solid::TubeForm;
using solid::TubePath;
using solid::TubeSection;

namespace {

constexpr double kFine = 0.0005;

solid::Body make(const outline::Outline& outline, const TubeForm& form, double tolerance = kFine)
{
    auto body = solid::makeTube(outline, form, tolerance, {});
    if (!body)
        qFatal("%s", body.error().message.c_str());
    return std::move(*body);
}

outline::Outline bar(double w, double h)
{
    return support::polygon({{{0, 0}, {w, 0}, {w, h}, {0, h}}}, 1e-4);
}

// Two bars 120 long and 4 wide that cross in the origin.
outline::Outline crossed(double degrees)
{
    const double half = base::radians(degrees) / 2, c = std::cos(half), s = std::sin(half), x = 2 / s, y = 2 / c;
    std::vector<Vec2> points;
    const auto end = [&](double along, double up) {
        const Vec2 out{c * along, s * up}, side{s * up, -c * along};
        points.push_back(out * 60.0 + side * 2.0);
        points.push_back(out * 60.0 - side * 2.0);
    };
    end(1, 1);
    points.push_back({0, y});
    end(-1, 1);
    points.push_back({-x, 0});
    end(-1, -1);
    points.push_back({0, -y});
    end(1, -1);
    points.push_back({x, 0});
    return support::polygon({points}, 1e-4);
}

bool near(double value, double expected, double share)
{
    if (std::abs(value - expected) <= share * std::abs(expected))
        return true;
    qWarning("%.6f instead of %.6f: %.5f", value, expected, value / expected);
    return false;
}

}  // namespace

class TestTube : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Along a circle it is a torus: V = 2 pi^2 R r^2, surface 4 pi^2 R r. (Pappus.)
    void alongACircleIsATorus()
    {
        outline::Outline disc;
        disc.unitPt = 1e-4;
        disc.contours.push_back(support::circle(20, {5, 5}, 360, false, 1e-4));
        const auto body = make(disc, {3, 0, TubePath::Outline});
        QVERIFY(solid::inspect(body).closed());
        QVERIFY(near(solid::volume(body), 2 * kPi * kPi * 20 * 1.5 * 1.5, 5e-3));
        QVERIFY(near(solid::areaOf(body, solid::Part::Tube), 4 * kPi * kPi * 20 * 1.5, 5e-3));
        QCOMPARE(solid::inspect(body).euler, 0);
        // The same along the middle of a ring.
        outline::Outline ring = disc;
        ring.contours[0] = support::circle(24, {5, 5}, 360, false, 1e-4);
        ring.contours.push_back(support::circle(16, {5, 5}, 360, true, 1e-4));
        const auto middle = make(ring, {3});
        QCOMPARE(solid::inspect(middle).euler, 0);
        QVERIFY(near(solid::volume(middle), 2 * kPi * kPi * 20 * 1.5 * 1.5, 5e-3));
    }

    // Along a bar it is a cylinder with two half balls, which reach just to the bar's ends; with flat ends a cylinder alone. It lies on
    // the plane, or as far off it as it is lifted.
    void alongABarIsACylinder()
    {
        TubeForm form{2};
        const auto body = make(bar(40, 5), form);
        QVERIFY(solid::inspect(body).closed());
        const base::Box3 box = solid::bounds(body);
        QVERIFY(near(box.high.x - box.low.x, 40, 1e-3) && near(box.high.y - box.low.y, 2, 2e-3));
        QVERIFY(std::abs(box.low.z) < 2e-3 && near(box.high.z, 2, 2e-3) && near((box.low.y + box.high.y) / 2, 2.5, 1e-3));
        QVERIFY(near(solid::volume(body), kPi * 38 + 4 * kPi / 3, 5e-3));
        form.roundEnds = false;
        form.liftPt = 7;
        const auto flat = make(bar(40, 5), form);
        QVERIFY(near(solid::volume(flat), kPi * 38, 5e-3));
        QVERIFY(near(solid::bounds(flat).low.z, 7, 1e-3));
    }

    void aRibbonIsABox()
    {
        TubeForm form{0.5, 4};
        form.section = TubeSection::Ribbon;
        const auto body = make(bar(40, 5), form);
        QVERIFY(solid::inspect(body).closed());
        QVERIFY(near(solid::volume(body), 0.5 * 4 * 39.5, 1e-3));
        // Each corner looks the way its own face does.
        for (std::size_t t = 0; t < body.triangles.size(); ++t) {
            const auto at = [&](std::size_t k) { return toDouble(body.positions[body.triangles[t][k]]); };
            const base::Vec3 flat = normalized(cross(at(1) - at(0), at(2) - at(0)));
            for (const solid::Corner& c : body.corners[t])
                QVERIFY(dot(flat, toDouble(c.normal)) > 0.999);
        }
    }

    // A rope's section is its strands' union, whatever its lay: three circles that touch, with the gusset between them.
    void aRopeHasStrands()
    {
        TubeForm form{4};
        form.section = TubeSection::Rope;
        form.layPt = 9;
        form.roundEnds = false;
        const auto body = make(bar(60, 5), form, 2e-4);
        QVERIFY(solid::inspect(body).closed());
        const double r = 2 / (1 + 2 / std::sqrt(3.0));  // of a strand: r + 2 r / sqrt 3 is half the width
        const double between = std::sqrt(3.0) * r * r - kPi * r * r / 2;
        QVERIFY(near(solid::volume(body) / 56, 3 * kPi * r * r + between, 1e-2));
        // It turns: the same place half a lay further is another one.
        form.layPt = 1e5;
        QVERIFY(make(bar(60, 5), form, 2e-4).positions != body.positions);
    }

    // Lines of the letters' strokes: a plus is two that cross, or one and two that stop short; an L bends; a dot is a ball.
    void linesOfStrokes()
    {
        const auto linesOf = [](const std::vector<Vec2>& points) {
            const auto lines = solid::centreLines(support::polygon({points}, 1e-4));
            return lines ? *lines : std::vector<solid::CentreLine>();
        };
        const std::vector<Vec2> plus{{4, 0}, {6, 0}, {6, 4}, {10, 4}, {10, 6}, {6, 6}, {6, 10}, {4, 10}, {4, 6}, {0, 6}, {0, 4}, {4, 4}};
        QCOMPARE(linesOf(plus).size(), std::size_t{2});
        QCOMPARE(linesOf({{0, 0}, {20, 0}, {20, 3}, {3, 3}, {3, 20}, {0, 20}}).size(), std::size_t{1});
        // A T: the bar goes on, the stem meets it.
        const auto tee = linesOf({{9, 0}, {11, 0}, {11, 18}, {20, 18}, {20, 20}, {0, 20}, {0, 18}, {9, 18}});
        QCOMPARE(tee.size(), std::size_t{2});
        QCOMPARE(std::count_if(tee.begin(), tee.end(), [](const auto& l) { return l.meetsAtStart || l.meetsAtEnd; }), 1);
        QCOMPARE(linesOf({{0, 0}, {4, 0}, {4, 4}, {0, 4}}).front().points.size(), std::size_t{1});
        const auto dot = make(bar(4, 4), {3});
        QVERIFY(solid::inspect(dot).closed());
        QVERIFY(near(solid::volume(dot), 4 * kPi / 3 * 1.5 * 1.5 * 1.5, 1e-2));
        // Gaps take from the stem what its end and the gap need.
        TubeForm form{1};
        const double whole =
            solid::volume(make(support::polygon({{{9, 0}, {11, 0}, {11, 18}, {20, 18}, {20, 20}, {0, 20}, {0, 18}, {9, 18}}}, 1e-4), form));
        form.gaps = true;
        form.gapPt = 2;
        const double apart =
            solid::volume(make(support::polygon({{{9, 0}, {11, 0}, {11, 18}, {20, 18}, {20, 20}, {0, 20}, {0, 18}, {9, 18}}}, 1e-4), form));
        QVERIFY(near(whole - apart, kPi / 4 * 3, 0.05));
    }

    // Two bars that cross at a slant are two lines through one place, whose bends are none; a K is a stem and two that meet it.
    void slantedCrossings()
    {
        OPEN_GLOW_LONG_TEST
        for (const double degrees : {90.0, 65.0, 40.0}) {
            const auto lines = solid::centreLines(crossed(degrees));
            QVERIFY(lines && lines->size() == 2);
            int places = 0;
            for (const solid::CentreLine& line : *lines) {
                QVERIFY(!line.meetsAtStart && !line.meetsAtEnd);
                for (const solid::CentreLine::Crossing& c : line.crossings) {
                    ++places;
                    QVERIFY(length(line.points[c.point].p) < 0.1);
                    QVERIFY(near(c.sine, std::sin(base::radians(degrees)), 0.1));
                }
            }
            QCOMPARE(places, 2);
        }
        const auto k =
            support::polygon({{{0, 0}, {4, 0}, {4, 8}, {14, 0}, {20, 0}, {7, 10}, {20, 20}, {14, 20}, {4, 12}, {4, 20}, {0, 20}}}, 1e-4);
        const auto lines = solid::centreLines(k);
        QVERIFY(lines);
        for (const solid::CentreLine& line : *lines)
            QVERIFY(line.crossings.empty());
    }

    // One over the other: two separate tubes whose volumes are their sections times their lengths (Pappus), the upper one's of its ramp by
    // Simpson's rule, and which keep apart; nothing else has moved.
    void oneOverTheOther()
    {
        OPEN_GLOW_LONG_TEST
        for (const double degrees : {90.0, 65.0, 40.0}) {
            const auto outline = crossed(degrees);
            TubeForm form{2};
            form.roundEnds = false;
            const double flat = solid::volume(make(outline, form));
            form.over = true;
            const auto body = make(outline, form);
            QVERIFY(solid::inspect(body).closed());
            const double ramp = std::min(16.0, 6 / std::sin(base::radians(degrees)));
            double longer = 0;
            const int steps = 2000;
            for (int i = 0; i <= steps; ++i) {
                const double slope = 2.1 * kPi / (2 * ramp) * std::sin(kPi * i / steps);
                longer += (i == 0 || i == steps ? 1 : i % 2 == 1 ? 4 : 2) * (std::sqrt(1 + slope * slope) - 1) * ramp / (3 * steps);
            }
            QVERIFY(near(solid::volume(body) - flat, kPi * 2 * longer, 3e-2));
            QVERIFY(near(solid::volume(body), flat + kPi * 2 * longer, 2e-3));
            QVERIFY(near(solid::bounds(body).high.z, 4.1, 2e-3) && std::abs(solid::bounds(body).low.z) < 2e-3);
            // Nothing is nearer to the lower line than its own tube, whichever of the two it is.
            double clear = 0;
            for (const double side : {1.0, -1.0}) {
                const double half = base::radians(degrees) / 2;
                const base::Vec3 line{std::cos(half), side * std::sin(half), 0};
                double least = 1e9;
                for (const base::Vec3f& p : body.positions)
                    if (std::hypot(p.x, p.y) < 40)  // caps have their middles
                        least = std::min(least, length(cross(base::Vec3{p.x, p.y, p.z - 1.0}, line)));
                clear = std::max(clear, least);
            }
            QVERIFY(near(clear, 1, 2e-3));
            const auto count = static_cast<std::ptrdiff_t>(body.positions.size());
            const auto high = std::count_if(body.positions.begin(), body.positions.end(), [](base::Vec3f p) { return p.z > 2.02f; });
            QVERIFY(high > count / 50 && high < count / 4);
        }
    }

    // A bar is as thin as it is wide, a ring as its wall, a dumb-bell as its neck; what runs out to a point is not nothing.
    void thinnestStrokes()
    {
        const auto thin = [](const outline::Outline& outline) { return solid::thinnestStroke(outline).value(); };
        QVERIFY(std::abs(thin(support::polygon({{{0, 0}, {100, 0}, {100, 10}, {0, 10}}})) - 10) < 1e-3);
        outline::Outline ring{1e-6, {support::circle(10, {}, 400, false, 1e-6), support::circle(7, {}, 400, true, 1e-6)}};
        QVERIFY(std::abs(thin(ring) - 3) < 0.01);
        const auto bell = support::polygon(
            {{{0, 0}, {20, 0}, {20, 8}, {40, 8}, {40, 0}, {60, 0}, {60, 20}, {40, 20}, {40, 12}, {20, 12}, {20, 20}, {0, 20}}});
        QVERIFY(std::abs(thin(bell) - 4) < 1e-3);
        QVERIFY(thin(support::polygon({{{0, 0}, {60, -8}, {60, 8}}})) > 8);  // a wedge
    }

    // Every kind on letters of eight faces: closed, outwards, no wider than the outline and its own width.
    void lettersAreSound()
    {
        const std::pair<const char*, const char*> faces[] = {
            {"League Spartan", "Black"}, {"Lobster Two", "Bold Italic"}, {"Comfortaa", "Bold"}, {"Blankenburg_UNZ1A", "Regular"},
            {"Lato", "Hairline Italic"}, {"Kristi", "Medium"},           {"Amiri", "Bold"},     {"Linux Libertine O", "Regular"}};
#ifdef OPEN_GLOW_CHECKED
        const std::string letters = "Q%";  // sanitizers are slow
#else
        const std::string letters = "AQ&8gs%";
#endif
        int bodies = 0, empty = 0;  // gaps can leave nothing of a small sign
        for (const auto& [family, style] : faces) {
            const auto font = support::font(family, style);
            QVERIFY(font);
            for (const char c : letters) {
                for (const auto& placed : support::outlines(std::string(1, c), *font, 0.05).outlines)
                    for (const TubeForm& form :
                         {TubeForm{3}, TubeForm{2, 0, TubePath::Outline}, TubeForm{4, 2, TubePath::Centre, TubeSection::Rope},
                          TubeForm{1, 8, TubePath::Outline, TubeSection::Ribbon},
                          TubeForm{2, 0, TubePath::Centre, TubeSection::Round, 1, true},
                          TubeForm{2, 0, TubePath::Centre, TubeSection::Round, 0, false, 1, true, 3, 20, true}}) {
                        const auto body = make(*placed.outline, form, 0.05);
                        const QByteArray what = QString("%1 in %2").arg(c).arg(family).toUtf8();
                        const solid::BodyReport report = solid::inspect(body);
                        ++bodies;
                        empty += body.triangles.empty();
                        QVERIFY2(report.closed() || body.triangles.empty(), what);
                        QVERIFY2(report.volumePt3 > 0 || body.triangles.empty(), what);
                        const base::Box2 own = outline::bounds(*placed.outline);
                        QVERIFY2(report.bounds.low.x > own.low.x - form.widthPt && report.bounds.high.y < own.high.y + form.widthPt, what);
                    }
            }
        }
        QVERIFY2(bodies > 32 * int(letters.size()) && empty < bodies / 50, qPrintable(QString("%1 of %2 empty").arg(empty).arg(bodies)));
    }
};

OPEN_GLOW_TEST(TestTube)
#include "test_tube.moc"
