#include <QtTest>
#include <polyclipping/clipper.hpp>
#include <random>

#include "base/units.h"
#include "solid/check.h"
#include "solid/slab.h"
#include "support/support.h"

using base::kPi;
using base::Vec2;
using solid::Bevel;
using solid::Corners;
using solid::Part;
using solid::Profile;
using solid::SlabForm;

namespace {

solid::Body make(const outline::Outline& outline, const SlabForm& form, double tolerance = 1e-3)
{
    auto body = solid::makeSlab(outline, form, tolerance, {});
    if (!body)
        qFatal("%s", body.error().message.c_str());
    return std::move(*body);
}

SlabForm slab(double depth, Bevel front = {}, Bevel back = {}, Corners corners = Corners::Mitred)
{
    return {depth, front, back, corners};
}

std::vector<Vec2> rectangle(double x, double y, double w, double h)
{
    return {{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}};
}

const std::vector<Vec2> kEll{{0, 0}, {1, 0}, {1, 0.3}, {0.3, 0.3}, {0.3, 1}, {0, 1}};

bool near(double value, double expected, double tolerance)
{
    if (std::abs(value - expected) <= tolerance)
        return true;
    qWarning("%.9f instead of %.9f", value, expected);
    return false;
}

}  // namespace

class TestSlab : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A saw of uneven teeth whose mitred bevel folds at many corners: it closes, and it is told. Were they rounded one by one, it would
    // take as many cuts as there are teeth.
    void aSawIsRoundedWhereItFolds()
    {
        for (const int teeth : {40, 4000}) {
            std::mt19937 random(5);
            std::uniform_real_distribution<double> share;
            std::vector<Vec2> saw;
            double x = 0;
            for (int i = 0; i < teeth; ++i, x += 1.9 * (0.5 + share(random))) {
                saw.push_back({x, -0.3 * share(random)});
                x += 1.5 * (0.5 + share(random));
                saw.push_back({x, 3.2 * (0.5 + share(random))});
            }
            saw.insert(saw.end(), {{x, 0}, {x, 40}, {-1, 40}});
            const auto outline = support::polygon({saw}, 1e-5);
            const auto body = solid::makeSlab(outline, {12, {3, 6, Profile::Roundover, 4}, {}, Corners::Mitred}, 0.05, {});
            QVERIFY2(body.has_value(), body ? "" : body.error().message.c_str());
            QVERIFY(solid::isClosed(*body));
            QCOMPARE(body->notes.size(), std::size_t{1});
            QCOMPARE(body->notes.front().kind, "round-corners");
        }
    }

    // An inlay of a square: sunk by s inside a border b it lacks a prism of the inner square, with a slanted rim the frustum of a pyramid;
    // raised it has that more. Each part has the area of its own.
    void inlay()
    {
        const auto square = support::polygon({rectangle(0, 0, 10, 10)}, 1e-5);
        for (const double sunk : {2.0, -1.5}) {
            SlabForm form = slab(6, {1, 1}, {}, Corners::Mitred);
            const double plain = solid::volume(make(square, form));
            form.inlay = {1, sunk};  // bevel 1, border 1: an inner square of 6
            const auto upright = make(square, form);
            QVERIFY(solid::inspect(upright).closed());
            QVERIFY(near(solid::volume(upright), plain - sunk * 36, 1e-3));
            QVERIFY(near(solid::areaOf(upright, Part::Inlay), 36, 1e-3) && near(solid::areaOf(upright, Part::Face), 64 - 36, 1e-3));
            QVERIFY(near(solid::areaOf(upright, Part::Rim), std::abs(sunk) * 24, 1e-3));
            form.inlay.rimPt = 1;
            const auto leaning = make(square, form);
            QVERIFY(solid::inspect(leaning).closed());
            QVERIFY(near(solid::volume(leaning), plain - sunk / 3 * (36 + 16 + std::sqrt(36.0 * 16)), 1e-3));
            QVERIFY(near(solid::areaOf(leaning, Part::Inlay), 16, 1e-3));
            // Walls of what is sunk look inwards, those of what is raised outwards.
            for (std::size_t t = 0; t < upright.triangles.size(); ++t)
                if (upright.parts[t] == Part::Rim) {
                    const auto p = upright.positions[upright.triangles[t][0]];
                    const auto n = upright.corners[t][0].normal;
                    QVERIFY(((p.x - 5) * n.x + (p.y - 5) * n.y > 0) == (sunk < 0));
                }
        }
        // Deeper than there is: it stops before the back.
        SlabForm form = slab(6);
        form.inlay = {1, 100};
        const auto deep = make(square, form);
        QVERIFY(solid::inspect(deep).closed() && solid::bounds(deep).low.z >= -1e-6);
        QVERIFY(near(solid::volume(deep), 6 * 36, 0.02 * 64 + 0.5));
    }

    // V = A h and side area = perimeter h for any prism, here a frame with a hole.
    void prism()
    {
        const auto outline = support::polygon({rectangle(0, 0, 3, 2), {{1, 0.5}, {1, 1.5}, {2, 1.5}, {2, 0.5}}});
        const solid::Body body = make(outline, slab(0.7));
        const solid::BodyReport report = solid::inspect(body);
        QVERIFY(report.closed());
        QCOMPARE(report.euler, 0);  // one shell, one hole through: 2 - 2
        QVERIFY(near(report.volumePt3, (6 - 1) * 0.7, 1e-5));
        QVERIFY(near(solid::areaOf(body, Part::Side), (10 + 4) * 0.7, 1e-5));
        QVERIFY(near(solid::areaOf(body, Part::Face), 5, 1e-5));
        QVERIFY(near(solid::areaOf(body, Part::Back), 5, 1e-5));
        QCOMPARE(solid::areaOf(body, Part::FrontBevel), 0.0);
    }

    // Frustum of a pyramid, V = w/3 (a^2 + (a-2w)^2 + a (a-2w)), on both ends; where the bevel is wider than the stroke, pyramids.
    void chamferedSquare()
    {
        const auto square = support::polygon({rectangle(0, 0, 1, 1)});
        const Bevel narrow{0.2, 0.2, Profile::Chamfer}, wide{0.7, 0.7, Profile::Chamfer};
        const solid::BodyReport frustum = solid::inspect(make(square, slab(0.5, narrow, narrow)));
        QVERIFY(frustum.closed());
        QVERIFY(near(frustum.volumePt3, frustumVolume(), 2e-6));
        // Two pyramids of height 1/2 on a prism: the bevel of 0.7 ends in a point at half the width.
        const solid::BodyReport pyramids = solid::inspect(make(square, slab(1.4 + 0.5, wide, wide)));
        QVERIFY(pyramids.closed());
        QVERIFY(near(pyramids.volumePt3, 0.5 + 2 * 0.5 / 3, 2e-6));
        QVERIFY(near(pyramids.bounds.high.z - pyramids.bounds.low.z, 0.5 + 2 * 0.5, 1e-6));
    }

    // Sections of the L are A(t) = (0.3 - 2t)(1.7 - 2t), by integrating the offsets; 45 degree chamfer of 0.1, mitred.
    void mitredEll()
    {
        const auto ell = support::polygon({kEll});
        const Bevel bevel{0.1, 0.1, Profile::Chamfer};
        const auto primitive = [](double t) { return 0.51 * t - 2 * t * t + 4 * t * t * t / 3; };  // of 0.51 - 4t + 4t^2
        const double expected = 0.51 * 0.2 + primitive(0.1);
        const solid::Body body = make(ell, slab(0.3, bevel));
        QVERIFY(body.notes.empty());
        QVERIFY(near(solid::volume(body), expected, 2e-6));
        const solid::Body round = make(ell, slab(0.3, bevel, {}, Corners::Round), 1e-6);
        // A rounded inner corner takes less away: at distance t by t^2 (1 - pi/4), so by (1 - pi/4) 0.1^3 / 3 in all.
        QVERIFY(near(solid::volume(round) - solid::volume(body), (1 - kPi / 4) * 0.001 / 3, 2e-6));
    }

    // Pappus-Guldin: a rounded edge of radius r on a disc of radius R. 720 and 64 chords lie inside by 2e-4.
    void roundedDisc()
    {
        const double R = 2, r = 0.5, depth = 1;
        outline::Outline disc{1e-6, {support::circle(R, {}, 720, false, 1e-6)}};
        const Bevel bevel{r, r, Profile::Roundover, 64};
        const double rounded = kPi * ((R - r) * (R - r) * r + (R - r) * r * r * kPi / 2 + 2 * r * r * r / 3);
        const solid::BodyReport report = solid::inspect(make(disc, slab(depth, bevel), 1e-5));
        QVERIFY(report.closed());
        QCOMPARE(report.euler, 2);
        QVERIFY(near(report.volumePt3 / (kPi * R * R * (depth - r) + rounded), 1, 2e-4));
    }

    // Over a square of side s sections are squares: with d(t), z(t) along the ideal curve V is the integral of (s - 2 d)^2 dz.
    // Cove d = w sin t, z = h (1 - cos t): h (s^2 - pi s w + 8 w^2 / 3). An ogee is a roundover of half the size, h ((s - 2w)^2 +
    // pi w (s - 2w) + 8 w^2 / 3), and a cove over it.
    void curvedProfilesOverASquare()
    {
        const double s = 1, w = 0.3, h = 0.2, depth = 0.5;
        const auto square = support::polygon({rectangle(0, 0, s, s)});
        const auto cove = [](double side, double width, double height) {
            return height * (side * side - kPi * side * width + 8 * width * width / 3);
        };
        const auto roundover = [](double side, double width, double height) {
            const double inner = side - 2 * width;
            return height * (inner * inner + kPi * width * inner + 8 * width * width / 3);
        };
        const double expected[] = {cove(s, w, h), roundover(s, w / 2, h / 2) + cove(s - w, w / 2, h / 2), roundover(s, w, h)};
        const Profile profiles[] = {Profile::Cove, Profile::Ogee, Profile::Roundover};
        for (int i = 0; i < 3; ++i) {
            const solid::Body body = make(square, slab(depth, {w, h, profiles[i], 64}));
            const solid::BodyReport report = solid::inspect(body);
            QVERIFY(report.closed());
            QCOMPARE(report.euler, 2);
            QVERIFY(near(report.volumePt3, s * s * (depth - h) + expected[i], 2e-4));
            // Smooth where the curve is: normals of neighbours on the bevel differ by little but at the square's corners.
            for (std::size_t t = 0; t < body.triangles.size(); ++t)
                if (body.parts[t] == Part::FrontBevel)
                    for (const solid::Corner& c : body.corners[t])
                        QVERIFY(std::abs(base::length(toDouble(c.normal)) - 1) < 1e-5 && c.normal.z > -1e-6);
        }
    }

    // Terraces are prisms on each other: V = sum of A(d_i) h / n. Sections of the L at distance d, inner corner rounded:
    // A - P d + d^2 (5 - pi / 4), by the offset's formula; risers are walls of P(d_i) h / n.
    void terracesArePrisms()
    {
        const auto square = support::polygon({rectangle(0, 0, 1, 1)}), ell = support::polygon({kEll});
        const double areaOfEll = 0.51, roundOfEll = 4;  // the L's sections are (0.3 - 2t)(1.7 - 2t) = 0.51 - 4 t + 4 t^2, mitred
        for (const int n : {1, 2, 5}) {
            const Bevel bevel{0.1, 0.15, Profile::Terraces, n};
            double ofSquare = 0, ofEll = 0, risers = 0;
            for (int i = 1; i <= n; ++i) {
                const double d = 0.1 * i / n;
                ofSquare += (1 - 2 * d) * (1 - 2 * d) * 0.15 / n;
                ofEll += (areaOfEll - roundOfEll * d + d * d * (5 - kPi / 4)) * 0.15 / n;
                risers += 4 * (1 - 2 * d) * 0.15 / n;
            }
            const solid::Body body = make(square, slab(0.5, bevel, bevel));
            const solid::BodyReport report = solid::inspect(body);
            QVERIFY(report.closed());
            QCOMPARE(report.euler, 2);
            QVERIFY(near(report.volumePt3, 0.2 + 2 * ofSquare, 2e-6));
            const double treads = 1 - 0.8 * 0.8;
            QVERIFY(near(solid::areaOf(body, Part::FrontBevel), treads, 2e-5));
            QVERIFY(near(solid::areaOf(body, Part::Riser), risers, 2e-5));
            QVERIFY(near(solid::areaOf(body, Part::BackBevel), treads + risers, 2e-5));
            const solid::Body rounded = make(ell, slab(0.3, bevel, {}, Corners::Round), 1e-6);
            QVERIFY(solid::isClosed(rounded));
            QVERIFY(near(solid::volume(rounded), areaOfEll * 0.15 + ofEll, 1e-5));
            // Treads look up, risers outwards.
            for (std::size_t t = 0; t < body.triangles.size(); ++t)
                if (body.parts[t] == Part::FrontBevel)
                    for (const solid::Corner& c : body.corners[t])
                        QVERIFY(std::abs(c.normal.z - 1) < 1e-6 || std::abs(c.normal.z) < 1e-6);
        }
        // Wider than the stroke they end on the last tread that has room; exactly half as wide, in a line.
        for (const double width : {0.5, 0.7, 2.0}) {
            const solid::Body body = make(square, slab(1, {width, 0.4, Profile::Terraces, 4}));
            QVERIFY(solid::isClosed(body));
        }
    }

    void depthZeroIsAThinClosedSheet()
    {
        const solid::BodyReport report = solid::inspect(make(support::polygon({rectangle(0, 0, 3, 2)}), slab(0)));
        QVERIFY(report.closed());
        QVERIFY(near(report.volumePt3, 6 * solid::kThinnestPt, 1e-5));
    }

    void bevelsHigherThanTheDepthAreLowered()
    {
        const Bevel bevel{0.2, 3, Profile::Chamfer};
        const solid::BodyReport report = solid::inspect(make(support::polygon({rectangle(0, 0, 2, 2)}), slab(1, bevel, bevel)));
        QVERIFY(report.closed());
        QVERIFY(near(report.bounds.high.z - report.bounds.low.z, 1, 1e-6));
        const auto frustum = [](double a, double b, double h) { return h / 3 * (a * a + b * b + a * b); };
        QVERIFY(near(report.volumePt3, 2 * frustum(2, 1.6, 0.5), 1e-5));
    }

    // Areas at each level against Clipper's round offsets, in a glyph with strokes, bowls and corners.
    void levelAreasLikeClipper()
    {
        const auto font = support::font("Junicode Two Beta", "Bold");
        QVERIFY(font);
        const outline::Outlined outlined = support::outlines("R", *font, 0.001);
        const outline::Outline& outline = *outlined.outlines[0].outline;
        ClipperLib::ClipperOffset offset(2, 0.0002 / outline.unitPt);
        for (const auto& contour : outline.contours) {
            ClipperLib::Path path;
            for (const auto& e : contour)
                path.emplace_back(e.from.x, e.from.y);
            offset.AddPath(path, ClipperLib::jtRound, ClipperLib::etClosedPolygon);
        }
        for (const double distance : {0.5, 2.0, 4.0}) {
            ClipperLib::Paths inset;
            offset.Execute(inset, -distance / outline.unitPt);
            double expected = 0;
            for (const auto& path : inset)
                expected += ClipperLib::Area(path) * outline.unitPt * outline.unitPt;
            const solid::Body body = make(outline, slab(20, {distance, 1, Profile::Chamfer}, {}, Corners::Round), 0.0002);
            QVERIFY(near(solid::areaOf(body, Part::Face) / expected, 1, 1e-4));
            QVERIFY(near(solid::areaOf(body, Part::Back) / outline::area(outline), 1, 1e-6));
        }
    }

    // The highest point is the profile at the largest distance inside: a strip of width 2 under a bevel of 4 reaches half way.
    void ridgeHeight()
    {
        const solid::Body body = make(support::polygon({rectangle(0, 0, 20, 2)}), slab(10, {4, 4, Profile::Chamfer}));
        QVERIFY(near(solid::bounds(body).high.z, 6 + 1, 1e-6));
        QVERIFY(near((*solid::Roof::make(support::polygon({rectangle(0, 0, 20, 2)})))->largestDistance(), 1, 1e-6));
    }

    // Two squares that share a corner, and a hole that touches its outer contour: each touch has two vertices.
    void contoursThatTouchInAPoint()
    {
        const Bevel bevel{0.2, 0.2, Profile::Roundover, 4};
        const auto hourglass = support::polygon({{{0, 0}, {1, 1}, {2, 0}, {2, 2}, {1, 1}, {0, 2}}});
        const auto touched = support::polygon({{{0, 0}, {2, 0}, {4, 0}, {4, 4}, {0, 4}}, {{2, 0}, {1, 2}, {3, 2}}});
        for (const auto& [outline, euler] : {std::pair{hourglass, 4}, std::pair{touched, 2}}) {
            const solid::BodyReport report = solid::inspect(make(outline, slab(1, bevel, bevel, Corners::Round)));
            QVERIFY(report.closed());
            QCOMPARE(report.euler, euler);
            QVERIFY(report.foldedAreaPt2 < 1e-6);
        }
    }

    void anOutlineThatCrossesItselfIsRefused()
    {
        const auto bow = support::polygon({{{0, 0}, {2, 2}, {2, 0}, {0, 2}}});
        const auto body = solid::makeSlab(bow, slab(1, {0.1, 0.1}), 1e-3, {});
        QVERIFY(!body.has_value());
        QCOMPARE(body.error().code, base::ErrorCode::BadInput);
    }

    // Unit, outward, smooth along curves and over a roundover, crisp at its edge with facets.
    void normalsAreThoseOfTheIdealSurface()
    {
        const double R = 2, r = 0.5;
        outline::Outline disc{1e-6, {support::circle(R, {}, 24, false, 1e-6)}};
        Bevel bevel{r, r, Profile::Roundover, 6};
        const solid::Body smooth = make(disc, slab(1, bevel), 1e-3);
        for (std::size_t i = 0; i < smooth.triangles.size(); ++i)
            for (std::size_t k = 0; k < 3; ++k) {
                const base::Vec3 p = toDouble(smooth.positions[smooth.triangles[i][k]]), n = toDouble(smooth.corners[i][k].normal);
                QVERIFY(std::abs(length(n) - 1) < 1e-5);
                if (smooth.parts[i] == Part::Side)  // of a cylinder: the direction from its axis
                    QVERIFY(dot(n, normalized(base::Vec3{p.x, p.y, 0})) > 0.9999);
                if (smooth.parts[i] == Part::FrontBevel) {  // of a torus: from the nearest point of its spine
                    const base::Vec3 spine = normalized(base::Vec3{p.x, p.y, 0}) * (R - r) + base::Vec3{0, 0, 0.5};
                    QVERIFY(dot(n, normalized(p - spine)) > 0.995);
                }
            }
        bevel.facets = true;
        const solid::Body facets = make(disc, slab(1, bevel), 1e-3);
        std::set<int> slopes;
        for (std::size_t i = 0; i < facets.triangles.size(); ++i)
            if (facets.parts[i] == Part::FrontBevel)
                slopes.insert(static_cast<int>(std::lround(facets.corners[i][0].normal.z * 1000)));
        QCOMPARE(slopes.size(), std::size_t{6});
    }

    void stopIsHeard()
    {
        std::stop_source source;
        source.request_stop();
        const auto body = solid::makeSlab(support::polygon({kEll}), slab(1), 1e-3, base::Progress(source.get_token()));
        QCOMPARE(body.error().code, base::ErrorCode::Stopped);
    }

private:
    // a = 1, w = 0.2, depth 0.5 with both ends: two frusta and a prism of 0.1.
    static double frustumVolume()
    {
        const double a = 1, w = 0.2;
        return 2 * (w / 3 * (a * a + (a - 2 * w) * (a - 2 * w) + a * (a - 2 * w))) + a * a * (0.5 - 2 * w);
    }
};

OPEN_GLOW_TEST(TestSlab)
#include "test_slab.moc"
