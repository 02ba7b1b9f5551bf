#include <QtTest>

#include "base/units.h"
#include "solid/check.h"
#include "solid/dome_field.h"
#include "solid/domed.h"
#include "support/support.h"

using base::kPi;
using base::Vec2;
using solid::DomedForm;
using solid::Part;

namespace {

constexpr double kFinal = 0.001;  // of the radius: a tolerance of 0.15 px where a stroke is 300 px wide

solid::Body make(const outline::Outline& outline, const DomedForm& form, double tolerance)
{
    auto body = solid::makeDomed(outline, form, tolerance, {});
    if (!body)
        qFatal("%s", body.error().message.c_str());
    return std::move(*body);
}

std::vector<Vec2> circle(double radius, int points, bool clockwise = false)
{
    std::vector<Vec2> list;
    for (int i = 0; i < points; ++i) {
        const double a = 2 * kPi * i / points * (clockwise ? -1 : 1);
        list.push_back({radius * std::cos(a), radius * std::sin(a)});
    }
    return list;
}

std::vector<Vec2> rectangle(double w, double h)
{
    return {{0, 0}, {w, 0}, {w, h}, {0, h}};
}

bool near(double value, double expected, double share)
{
    if (std::abs(value - expected) <= share * std::abs(expected))
        return true;
    qWarning("%.6f instead of %.6f: %.4f", value, expected, value / expected);
    return false;
}

bool sound(const solid::Body& body)
{
    const solid::BodyReport report = solid::inspect(body);
    if (report.closed() && report.foldedAreaPt2 <= 1e-5 && report.volumePt3 > 0)
        return true;
    qWarning("unpaired %zu repeated %zu folded %g volume %g", report.unpairedEdges, report.repeatedEdges, report.foldedAreaPt2,
             report.volumePt3);
    return false;
}

}  // namespace

class TestDomed : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A disc becomes half a ball, V = 2/3 pi R^3, and so at any size and rise: V grows with the rise. (Archimedes.)
    void discIsHalfABall()
    {
        OPEN_GLOW_LONG_TEST
        const double ball = 2.0 / 3 * kPi;
        for (const double radius : {1.0, 250.0}) {
            const auto disc = support::polygon({circle(radius, 480)}, radius * 1e-5);
            const auto body = make(disc, {0, 1}, kFinal * radius);
            QVERIFY(sound(body));
            QVERIFY(near(solid::volume(body), ball * radius * radius * radius, 5e-3));
            QVERIFY(near(solid::bounds(body).high.z, radius, 5e-3));
            QVERIFY(near(solid::volume(make(disc, {0, 0.4}, kFinal * radius)), 0.4 * ball * radius * radius * radius, 5e-3));
        }
        // In front and at the back it is a whole one; with a side a ball cut apart, with a cylinder between.
        const auto disc = support::polygon({circle(1, 480)}, 1e-5);
        QVERIFY(near(solid::volume(make(disc, {0, 1, 1}, kFinal)), 2 * ball, 5e-3));
        const auto deep = make(disc, {0.7, 1, 1}, kFinal);
        QVERIFY(sound(deep));
        QVERIFY(near(solid::volume(deep), 2 * ball + 0.7 * kPi, 5e-3));
        QVERIFY(near(solid::areaOf(deep, Part::Side), 0.7 * 2 * kPi, 1e-3));
        QVERIFY(near(solid::areaOf(deep, Part::Face), 2 * kPi, 1e-2));
    }

    // The middle of a long stroke is half a cylinder: what a longer one adds is pi R^2 / 2 times the length.
    void strokeIsHalfACylinder()
    {
        OPEN_GLOW_LONG_TEST
        const auto of = [](double length) { return solid::volume(make(support::polygon({rectangle(length, 2)}, 1e-5), {0, 1}, kFinal)); };
        QVERIFY(near(of(30) - of(20), kPi / 2 * 10, 5e-3));
    }

    // Half a torus: by Pappus the half disc's area pi r^2 / 2 times the way of its middle, 2 pi R. Wide and narrow holes.
    void ringIsHalfATorus()
    {
        OPEN_GLOW_LONG_TEST
        for (const double hole : {3.0, 0.5}) {
            const auto ring = support::polygon({circle(hole + 2, 480), circle(hole, 240, true)}, 1e-5);
            const auto body = make(ring, {0, 1}, kFinal);
            QVERIFY(sound(body));
            QVERIFY(near(solid::volume(body), kPi / 2 * 2 * kPi * (hole + 1), 5e-3));
        }
    }

    // Normals of a half ball point from its middle, and those of the ideal outline on its rim.
    void normalsAreThoseOfTheBall()
    {
        OPEN_GLOW_LONG_TEST
        const auto body = make(support::polygon({circle(1, 480)}, 1e-5), {0, 1}, kFinal);
        double sum = 0, worst = 0;
        int count = 0;
        for (std::size_t t = 0; t < body.triangles.size(); ++t)
            for (std::size_t k = 0; k < 3 && body.parts[t] == Part::Face; ++k) {
                const base::Vec3 p = toDouble(body.positions[body.triangles[t][k]]), n = toDouble(body.corners[t][k].normal);
                const double off = base::degrees(std::acos(std::clamp(dot(n, normalized(p)), -1.0, 1.0)));
                sum += off;
                worst = std::max(worst, off);
                ++count;
                QVERIFY(std::abs(length(n) - 1) < 1e-5);
            }
        QVERIFY2(worst < 2, qPrintable(QString::number(worst)));
        QVERIFY2(sum / count < 0.3, qPrintable(QString::number(sum / count)));
    }

    // Thick and thin in one outline: each part of the stroke is round by itself. Fuller, the thin one comes up.
    void thinStrokesAreRoundToo()
    {
        const auto outline = support::polygon({{{0, 0}, {20, 0}, {20, 0.9}, {40, 0.9}, {40, 1.1}, {20, 1.1}, {20, 2}, {0, 2}}}, 1e-5);
        const auto topAt = [&](const solid::Body& body, double x) {
            double top = 0;
            for (const base::Vec3f& p : body.positions)
                if (std::abs(p.x - x) < 1.5)
                    top = std::max(top, double(p.z));
            return top;
        };
        const auto round = make(outline, {0, 1}, kFinal), full = make(outline, {0, 1, 0, 1}, kFinal),
                   tent = make(outline, {0, 1, 0, -1}, kFinal);
        QVERIFY(near(topAt(round, 10), 1, 0.01) && near(topAt(round, 32), 0.1, 0.04));
        QVERIFY(near(topAt(full, 10), 1, 0.02) && topAt(full, 32) > 0.2);
        QVERIFY(near(topAt(tent, 10), 1, 0.02) && topAt(tent, 32) < 0.03);
        // A pillow holds more than a round, a tent less.
        const double more = solid::volume(full) / solid::volume(round), less = solid::volume(tent) / solid::volume(round);
        QVERIFY2(more > 1.1 && less < 0.9, qPrintable(QString("%1 %2").arg(more).arg(less)));
    }

    // A tent's section is the parabola x (2 - x): 4/3 of area each pt. A round seam takes its sharp rim away and hardly anything else.
    void tentHasAParabolaForASection()
    {
        OPEN_GLOW_LONG_TEST
        const auto of = [](double length, double seam) {
            const auto body = make(support::polygon({rectangle(length, 2)}, 1e-5), {0, 1, 0, -1, seam}, kFinal);
            return std::pair(solid::volume(body), solid::bounds(body).high.z);
        };
        QVERIFY(near(of(30, 0).first - of(20, 0).first, 4.0 / 3 * 10, 5e-3));
        QVERIFY(near(of(30, 0.1).second, of(30, 0).second, 1e-3));
        QVERIFY(of(30, 0.1).first > 1.02 * of(30, 0).first);
        // Up right at the rim, where a tent without one leans.
        const auto lean = [](double seam) {
            const auto body = make(support::polygon({rectangle(20, 2)}, 1e-5), {0, 1, 0, -1, seam}, kFinal);
            for (std::size_t t = 0; t < body.triangles.size(); ++t)
                for (std::size_t k = 0; k < 3; ++k)
                    if (const auto p = body.positions[body.triangles[t][k]];
                        body.parts[t] == Part::Face && p.y == 0 && std::abs(p.x - 10) < 2)
                        return double(body.corners[t][k].normal.z);
            return -1.0;
        };
        QVERIFY(lean(0) > 0.3 && lean(0.1) < 0.05);
    }

    // Odd outlines: corners of all kinds, touching contours, a hairline beside a block, a nest of frames, a comb.
    void oddOutlinesAreSound_data()
    {
        QTest::addColumn<std::vector<std::vector<Vec2>>>("contours");
        using Contours = std::vector<std::vector<Vec2>>;
        QTest::newRow("square") << Contours{rectangle(1, 1)};
        QTest::newRow("needle") << Contours{{{0, 0}, {100, 0}, {0, 3}}};
        QTest::newRow("star") << [] {
            std::vector<Vec2> star;
            for (int i = 0; i < 14; ++i)
                star.push_back(Vec2{std::cos(kPi * i / 7), std::sin(kPi * i / 7)} * (i % 2 ? 0.2 : 1.0));
            return Contours{star};
        }();
        QTest::newRow("hairline") << Contours{{{0, 0}, {10, 0}, {10, 4.999}, {30, 4.999}, {30, 5.001}, {10, 5.001}, {10, 10}, {0, 10}}};
        QTest::newRow("touching hole") << Contours{rectangle(4, 4), {{0, 0}, {1, 3}, {3, 1}}};
        QTest::newRow("frame") << Contours{rectangle(10, 10), {{0.1, 0.1}, {0.1, 9.9}, {9.9, 9.9}, {9.9, 0.1}}};
        QTest::newRow("comb") << [] {
            std::vector<Vec2> comb{{0, 2}, {0, 0}};
            for (int i = 0; i < 40; ++i)
                for (const Vec2 p : {Vec2{i * 0.3 + 0.1, 0}, {i * 0.3 + 0.1, -3}, {i * 0.3 + 0.2, -3}, {i * 0.3 + 0.2, 0}})
                    comb.push_back(p);
            comb.push_back({12.5, 0});
            comb.push_back({12.5, 2});
            return Contours{comb};
        }();
    }
    void oddOutlinesAreSound()
    {
        QFETCH(std::vector<std::vector<Vec2>>, contours);
        const auto outline = support::polygon(contours, 1e-4);
#ifdef OPEN_GLOW_CHECKED
        const std::vector<double> tolerances{0.05};  // sanitizers are slow
#else
        const std::vector<double> tolerances{0.05, 0.01};
#endif
        for (const double tolerance : tolerances)
            for (const DomedForm& form : {DomedForm{0, 1, 1}, DomedForm{0, 1, 0.5, 1}, DomedForm{0.3, 1, 0, -0.5}, DomedForm{0, 0, 0}}) {
                const auto body = make(outline, form, tolerance);
                QVERIFY(sound(body));
                if (form.depthPt == 0 && form.rise > 0)
                    frontIsOverBack(body);
            }
    }

    void stopsWhenAsked()
    {
        std::stop_source source;
        source.request_stop();
        const auto body = solid::makeDomed(support::polygon({rectangle(1, 1)}, 1e-4), {}, 0.01, base::Progress(source.get_token()));
        QVERIFY(!body && body.error().code == base::ErrorCode::Stopped);
    }

private:
    // Front and back share their plan, and meet on the border alone.
    static void frontIsOverBack(const solid::Body& body)
    {
        std::vector<bool> inFront(body.positions.size()), inBack(body.positions.size());
        for (std::size_t t = 0; t < body.triangles.size(); ++t)
            for (const std::uint32_t v : body.triangles[t])
                (body.parts[t] == Part::Face ? inFront : inBack)[v] = true;
        float seam = -1;
        for (std::size_t v = 0; v < body.positions.size(); ++v)
            if (inFront[v] && inBack[v])
                seam = body.positions[v].z;
        for (std::size_t v = 0; v < body.positions.size(); ++v)
            QVERIFY(inFront[v] && inBack[v] ? body.positions[v].z == seam
                    : inFront[v]            ? body.positions[v].z > seam
                                            : body.positions[v].z < seam);
    }
};

OPEN_GLOW_TEST(TestDomed)
#include "test_domed.moc"
