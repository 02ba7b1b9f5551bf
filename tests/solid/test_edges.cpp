// The edges of a slab: grown out, drawn by hand, leaning and fluted, against closed forms.
#include <QtTest>
#include <polyclipping/clipper.hpp>

#include "base/units.h"
#include "solid/check.h"
#include "solid/profile.h"
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

std::vector<Vec2> rectangle(double x, double y, double w, double h)
{
    return {{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}};
}

const std::vector<Vec2> kEll{{0, 0}, {10, 0}, {10, 3}, {3, 3}, {3, 10}, {0, 10}};

// Closed, nothing folded, and of this volume.
bool isSound(const solid::Body& body, double volume, double relative)
{
    const solid::BodyReport report = solid::inspect(body);
    if (report.closed() && report.foldedAreaPt2 < 1e-5 * volume && std::abs(report.volumePt3 - volume) <= relative * volume)
        return true;
    qWarning("unpaired %zu, repeated %zu, folded %g, volume %.7f instead of %.7f", report.unpairedEdges, report.repeatedEdges,
             report.foldedAreaPt2, report.volumePt3, volume);
    return false;
}

double frustum(double a, double b, double h)
{
    return h / 3 * (a * a + b * b + a * b);
}

SlabForm grown(Bevel front, Corners corners, double depth = 6)
{
    SlabForm form{depth, front, {}, corners};
    form.grownOut = true;
    return form;
}

}  // namespace

class TestEdges : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // What is grown by g has the area A + L g + c g^2; c is pi for round corners (J. Steiner, 1840, for convex outlines), 4 for the
    // square's points, and half of that where they are cut straight across. A chamfer of height h adds up those from 0 to w.
    void grownOutSquare()
    {
        const double a = 10, w = 2, h = 1.5, depth = 6;
        const auto square = support::polygon({rectangle(0, 0, a, a)});
        for (const auto& [corners, c] : {std::pair{Corners::Round, kPi}, {Corners::Mitred, 4.0}, {Corners::Flat, 2.0}}) {
            const solid::Body body = make(square, grown({w, h}, corners), 1e-4);
            const auto area = [&, c = c](double g) { return a * a + 4 * a * g + c * g * g; };
            QVERIFY(isSound(body, area(w) * (depth - h) + h * (a * a + 2 * a * w + c * w * w / 3), 2e-5));
            // The face is the outline as it was, the back as it was grown.
            QVERIFY(std::abs(solid::areaOf(body, Part::Face) - a * a) < 1e-3);
            QVERIFY(std::abs(solid::areaOf(body, Part::Back) / area(w) - 1) < 2e-5);
        }
    }

    // The inner corner takes one of the five outer corners' squares away again.
    void grownOutEll()
    {
        const double w = 1, h = 1, depth = 6;
        const auto area = [](double g) { return 51 + 40 * g + 4 * g * g; };
        const solid::Body body = make(support::polygon({kEll}), grown({w, h}, Corners::Mitred), 1e-4);
        QVERIFY(isSound(body, area(w) * (depth - h) + h * (51 + 20 * w + 4 * w * w / 3), 2e-5));
    }

    // A hole that is narrower than the bevel closes: what is missing there is a pyramid.
    void grownOutOverAHole()
    {
        const double depth = 6, w = 2;
        const auto frame = support::polygon({rectangle(0, 0, 20, 20), {{9, 9}, {9, 11}, {11, 11}, {11, 9}}});
        const solid::Body body = make(frame, grown({w, w}, Corners::Mitred), 1e-4);
        const double whole = 24 * 24 * (depth - w) + w * (400 + 2 * 20 * w + 4 * w * w / 3);
        QVERIFY(isSound(body, whole - 2 * 2 * 1 / 3.0, 2e-5));  // of the hole the bevel leaves a pit of depth 1
        QCOMPARE(solid::inspect(body).euler, 2);
    }

    // One that closes exactly where the side begins, along a line: no wall stands on either side of it. Both bevels leave hipped pits.
    void grownOutToALine()
    {
        const double depth = 6, w = 2;
        const auto frame = support::polygon({rectangle(0, 0, 24, 24), {{10, 7}, {10, 17}, {14, 17}, {14, 7}}});
        SlabForm form = grown({w, w}, Corners::Mitred);
        form.back = {0.5, 0.5};
        const solid::Body body = make(frame, form, 1e-4);
        const double front = w * (576 + 48 * w + 4 * w * w / 3) - 104 / 3.0, side = 28 * 28 * (depth - w - 0.5),
                     back = frustum(27, 28, 0.5) - 5 / 3.0;
        QVERIFY(isSound(body, front + side + back, 2e-5));
    }

    // The narrower bevel stands on the same side; both grow with a side that leans.
    void grownOutOnBothSides()
    {
        const auto square = support::polygon({rectangle(0, 0, 10, 10)});
        SlabForm form = grown({2, 1}, Corners::Mitred);
        form.back = {1, 1};
        QVERIFY(isSound(make(square, form), frustum(12, 14, 1) + 14 * 14 * 4 + frustum(14, 10, 1), 1e-5));
        form.draft = base::degrees(std::atan(0.25));  // 1 on a height of 4
        QVERIFY(isSound(make(square, form), frustum(14, 16, 1) + frustum(16, 14, 4) + frustum(14, 10, 1), 1e-5));
        form.linked = true;
        QVERIFY(isSound(make(square, form), frustum(12, 16, 1) + frustum(16, 14, 4) + frustum(14, 10, 1), 1e-5));
    }

    // Contours that touch in a point, and edges of many letters: grown as Clipper grows them.
    void grownOutLikeClipper()
    {
        const auto font = support::font("Junicode Two Beta", "Bold");
        QVERIFY(font);
        const auto hourglass = support::polygon({{{0, 0}, {10, 10}, {20, 0}, {20, 20}, {10, 10}, {0, 20}}});
        std::vector<outline::Outline> outlines{hourglass};
        for (const auto& placed : support::outlines("R&8", *font, 0.001).outlines)
            outlines.push_back(*placed.outline);
        for (const outline::Outline& outline : outlines) {
            ClipperLib::ClipperOffset offset(2, 0.0002 / outline.unitPt);
            for (const auto& contour : outline.contours) {
                ClipperLib::Path path;
                for (const auto& e : contour)
                    path.emplace_back(e.from.x, e.from.y);
                offset.AddPath(path, ClipperLib::jtRound, ClipperLib::etClosedPolygon);
            }
            for (const double by : {0.5, 3.0, 12.0}) {
                ClipperLib::Paths out;
                offset.Execute(out, by / outline.unitPt);
                double expected = 0;
                for (const auto& path : out)
                    expected += ClipperLib::Area(path) * outline.unitPt * outline.unitPt;
                const solid::Body body = make(outline, grown({by, 2}, Corners::Round, 20), 0.0002);
                const solid::BodyReport report = solid::inspect(body);
                QVERIFY(report.closed());
                QVERIFY(report.foldedAreaPt2 < 1e-5 * expected);
                QVERIFY(std::abs(solid::areaOf(body, Part::Back) / expected - 1) < 2e-4);
                QVERIFY(std::abs(solid::areaOf(body, Part::Face) / outline::area(outline) - 1) < 1e-5);
            }
        }
    }

    // A square of side a whose sides lean by the angle d is a frustum; where they meet before the front, a pyramid.
    void draft()
    {
        const double a = 10, depth = 6;
        const auto square = support::polygon({rectangle(0, 0, a, a)});
        for (const double degrees : {10.0, -10.0, 30.0}) {
            SlabForm form{depth, {}, {}, Corners::Mitred};
            form.draft = degrees;
            const double b = a - 2 * depth * std::tan(base::radians(std::abs(degrees)));
            const solid::Body body = make(square, form);
            QVERIFY(isSound(body, depth / 3 * (a * a + b * b + a * b), 1e-5));
            QVERIFY(std::abs(solid::areaOf(body, degrees > 0 ? Part::Face : Part::Back) - b * b) < 1e-4);
            QVERIFY(std::abs(solid::areaOf(body, Part::Side) - 4 * (a + b) / 2 * depth / std::cos(base::radians(degrees))) < 1e-3);
        }
        SlabForm steep{20, {}, {}, Corners::Mitred};
        steep.draft = 45;
        const solid::Body pyramid = make(square, steep);
        QVERIFY(isSound(pyramid, a * a * 5 / 3, 1e-5));
        // Its four faces look as they should: out and up by 45 degrees.
        for (std::size_t t = 0; t < pyramid.triangles.size(); ++t)
            if (pyramid.parts[t] == Part::Side)
                for (const auto& corner : pyramid.corners[t])
                    QVERIFY(std::abs(corner.normal.z - std::sqrt(0.5)) < 1e-4);
    }

    // Sections of a fluted square have the side a - 2 t: V = int (a - 2t)^2, with t a half ellipse, whose mean is pi/4 and whose mean
    // square is 2/3; or a saw, whose are 1/2 and 1/3.
    void flutes()
    {
        const double a = 20, depth = 12, deep = 1.5;
        const auto square = support::polygon({rectangle(0, 0, a, a)});
        for (const auto& [drawn, mean, square2] : {std::tuple{"", kPi / 4, 2.0 / 3}, {"M0 0 L0.5 1 L1 0", 0.5, 1.0 / 3}}) {
            SlabForm form{depth, {}, {}, Corners::Mitred};
            form.flutes = {3, deep, drawn};
            const solid::Body body = make(square, form, 1e-4);
            QVERIFY(isSound(body, depth * (a * a - 4 * a * deep * mean + 4 * deep * deep * square2), 2e-4));
            QVERIFY(std::abs(solid::areaOf(body, Part::Face) - a * a) < 1e-3);
        }
        // Rectangular furrows: slabs upon slabs.
        SlabForm form{depth, {}, {}, Corners::Mitred};
        form.flutes = {2, deep, "M0 0 L0.25 0 L0.25 1 L0.75 1 L0.75 0 L1 0"};
        QVERIFY(isSound(make(square, form), depth / 2 * (a * a + (a - 2 * deep) * (a - 2 * deep)), 1e-5));
        // Deeper than half the stroke they cut it through, and what is left is whole.
        form.flutes = {1, 15, "M0 0 L0.5 1 L1 0"};
        const solid::Body halves = make(square, form);
        QVERIFY(solid::inspect(halves).closed());
        QCOMPARE(solid::inspect(halves).euler, 4);
        QCOMPARE(halves.notes.size(), 1u);
        QCOMPARE(halves.notes[0].kind, std::string("cut-through"));
        form.flutes.deepPt = 9;
        QVERIFY(make(square, form).notes.empty());
    }

    // A twist keeps the volume (Cavalieri's principle), of leaning and fluted sides too.
    void twistedSidesKeepTheirVolume()
    {
        SlabForm form{12, {1, 1}, {}, Corners::Round};
        form.draft = 8;
        form.flutes = {4, 0.7, {}};
        const auto ell = support::polygon({kEll});
        const double straight = solid::volume(make(ell, form, 0.01));
        form.along.twist = 90;
        const solid::Body body = make(ell, form, 0.01);
        QVERIFY(solid::inspect(body).closed());
        QVERIFY(std::abs(solid::volume(body) / straight - 1) < 2e-3);
    }

    // Over a square, profiles of straight pieces are frusta and prisms.
    void drawnProfiles()
    {
        const double a = 10, w = 2, h = 2, depth = 5;
        const auto square = support::polygon({rectangle(0, 0, a, a)});
        const auto volumeOf = [&](const char* drawn, int steps = 8) {
            Bevel bevel{w, h, Profile::Drawn, steps};
            bevel.drawn = drawn;
            const solid::Body body = make(square, {depth, bevel, {}, Corners::Mitred}, 1e-4);
            return solid::inspect(body).closed() ? solid::volume(body) : -1;
        };
        const double base = a * a * (depth - h);
        QVERIFY(std::abs(volumeOf("M0 0 L1 1") - base - frustum(10, 6, 2)) < 1e-3);
        QVERIFY(std::abs(volumeOf("M0 0 L0 0.5 L0.5 0.5 L1 1") - base - 100 - frustum(8, 6, 1)) < 1e-3);
        // Up, down into a groove and up again. Height times area, from the rim inwards: int 4 (10 - 2t) (2 - t) + int 4 (10 - 2t) t + 2 36.
        QVERIFY(std::abs(volumeOf("M0 0 L0 1 L0.5 0.5 L1 1") - base - (164 / 3.0 + 124 / 3.0 + 72)) < 1e-3);
        // A quarter round by Bezier's approximation is the round-over's, to 0.03 %.
        Bevel round{w, h, Profile::Roundover, 64};
        const double expected = solid::volume(make(square, {depth, round, {}, Corners::Mitred}, 1e-4));
        QVERIFY(std::abs(volumeOf("M0 0 C0 0.5523 0.4477 1 1 1", 0) / expected - 1) < 3e-4);
        QVERIFY(volumeOf("") > 1.1 * base);  // nothing drawn: a bead, still closed
    }

    void profilesAreReadAndWritten()
    {
        for (const char* path : {"M0 0 L1 1", "M0 0 L0.5 0 C0.8 0 1 0.4 1 1", solid::kBead, solid::kHalfRound}) {
            const auto nodes = solid::readProfile(path);
            QVERIFY(nodes);
            QCOMPARE(QString::fromStdString(solid::writeProfile(*nodes)), QString(path));
        }
        QCOMPARE(solid::readProfile("M0,0 1,1")->size(), 2u);  // a point after M is a line, as the standard has it
        for (const auto& [path, what] : {std::pair{"", "two points"},
                                         {"L0 0", "begins with M"},
                                         {"M0 0", "two points"},
                                         {"M0 0 Q1 1 1 1", "only L and C"},
                                         {"M0 0 L1", "L needs 2 numbers"},
                                         {"M0 0 L0.6 1 L0.4 1 L1 1", "point 3"},
                                         {"M0 0 L2 1", "point 2"},
                                         {"M0 0 Lx 1", "at character 7"},
                                         {"M0 0 Lnan 1 L1 1", "numbers"}}) {
            const auto nodes = solid::readProfile(path);
            QVERIFY2(!nodes, path);
            QVERIFY2(nodes.error().message.find(what) != std::string::npos, nodes.error().message.c_str());
        }
    }

    // A curve that is tidied never runs back, whatever its handles were.
    void tidyCurvesOnlyGoOn()
    {
        for (const double a : {-2.0, 0.3, 5.0})
            for (const double b : {-3.0, -0.2, 4.0}) {
                std::vector<solid::ProfileNode> nodes{{{0.2, -1}, {}, {a, 3}}, {{0.4, 0.5}, {b, 0.1}, {a, b}}, {{0.3, 2}, {b, a}, {}}};
                solid::tidy(nodes);
                double last = 0;
                for (const solid::ProfilePlace& place : solid::flattened(nodes, 40, 0, {})) {
                    QVERIFY(place.p.x >= last - 1e-12 && place.p.x <= 1 + 1e-12);
                    QVERIFY(place.p.y >= -1e-12 && place.p.y <= 1 + 1e-12);
                    last = place.p.x;
                }
                QCOMPARE(last, 1.0);
            }
    }

    // Places along the sides go on from 0 to the contour's length, and begin where the seam is seen least: at the lowest corner, which is
    // sharp; round a disc at its lowest point.
    void theSeamIsHidden()
    {
        const auto check = [](const outline::Outline& outline, double length, double lowest) {
            const solid::Body body = make(outline, SlabForm{2});
            double high = 0;
            bool beginsBelow = false;
            for (std::size_t t = 0; t < body.triangles.size(); ++t)
                for (int i = 0; i < 3 && body.parts[t] == Part::Side; ++i) {
                    const double u = body.corners[t][i].u;
                    high = std::max(high, u);
                    QVERIFY(u > -1e-4);
                    if (u < 1e-6)
                        beginsBelow = std::abs(body.positions[body.triangles[t][i]].y - lowest) < 1e-3;
                }
            QVERIFY(beginsBelow && std::abs(high - length) < 1e-2);
        };
        check(support::polygon({kEll}), 40, 0);
        check({1e-6, {support::circle(5, {}, 720, false, 1e-6)}}, 2 * kPi * 5, -5);
        check(support::polygon({{{0, 0}, {6, -2}, {12, 0}, {6, 9}}}), 2 * std::hypot(6, 2) + 2 * std::hypot(6, 9),
              0);  // the lowest is blunt
    }

    // With 0 steps a curve is as near as it was asked to be.
    void stepsByTolerance()
    {
        const outline::Outline disc{1e-6, {support::circle(10, {}, 4000, false, 1e-6)}};
        const double expected = kPi * 100 * 3 + [] {  // a disc whose edge is a quarter round of 2: by Pappus
            const double r = 2, R = 8;
            return kPi * R * R * r + 2 * kPi * R * kPi * r * r / 4 + 2 * kPi * r * r * r / 3;
        }();
        double last = 1e9;
        for (const double tolerance : {0.1, 0.01, 0.001}) {
            const solid::Body body = make(disc, {5, {2, 2, Profile::Roundover, 0}, {}, Corners::Round}, tolerance);
            const double off = std::abs(solid::volume(body) / expected - 1);
            QVERIFY(off < last / 2);
            last = off;
        }
        QVERIFY(last < 1e-4);
    }
};

OPEN_GLOW_TEST(TestEdges)
#include "test_edges.moc"
