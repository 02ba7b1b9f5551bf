// What happens to slabs and domes along their depth.
#include <QtTest>

#include "base/units.h"
#include "solid/block.h"
#include "solid/check.h"
#include "solid/domed.h"
#include "solid/slab.h"
#include "support/support.h"

using base::kPi;
using base::Vec2;
using base::Vec3;
using solid::Along;
using solid::Part;
using solid::SlabForm;

namespace {

const std::vector<Vec2> kEll{{0, 0}, {10, 0}, {10, 3}, {3, 3}, {3, 10}, {0, 10}};
constexpr double kArea = 51, kDepth = 12, kTolerance = 0.003;

solid::Body slab(const Along& along, const solid::Bevel& front = {}, double tolerance = kTolerance)
{
    SlabForm form{kDepth, front};
    form.along = along;
    auto body = solid::makeSlab(support::polygon({kEll}, 1e-5), form, tolerance, {});
    if (!body)
        qFatal("%s", body.error().message.c_str());
    return std::move(*body);
}

Along twisted(double degrees)
{
    Along along;
    along.twist = degrees;
    return along;
}
Along tapered(double size)
{
    Along along;
    along.taper = size;
    return along;
}
Along leaned(double x, double y)
{
    Along along;
    along.leanX = x;
    along.leanY = y;
    return along;
}
Along bent(double degrees, double towards)
{
    Along along;
    along.bend = degrees;
    along.bendTowards = towards;
    return along;
}

bool near(double value, double expected, double share)
{
    if (std::abs(value - expected) <= share * std::abs(expected))
        return true;
    qWarning("%.6f instead of %.6f: %.5f", value, expected, value / expected);
    return false;
}

// How far corner normals are from those of their triangles, degrees, on average by area.
double normalsOff(const solid::Body& body)
{
    double sum = 0, area = 0;
    for (std::size_t t = 0; t < body.triangles.size(); ++t) {
        const auto at = [&](int k) { return toDouble(body.positions[body.triangles[t][static_cast<std::size_t>(k)]]); };
        const Vec3 flat = cross(at(1) - at(0), at(2) - at(0));
        if (length(flat) < 1e-9)
            continue;
        for (const solid::Corner& c : body.corners[t])
            sum += length(flat) * base::degrees(std::acos(std::clamp(dot(normalized(flat), toDouble(c.normal)), -1.0, 1.0))) / 3;
        area += length(flat);
    }
    return sum / area;
}

}  // namespace

class TestAlong : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Cross-sections that are turned and moved keep their areas, and with them the volume (Cavalieri).
    void turnedAndLeanedKeepTheirVolume()
    {
        for (const double turn : {30.0, -170.0, 720.0}) {
            const auto body = slab(twisted(turn));
            QVERIFY(solid::inspect(body).closed());
            QVERIFY(near(solid::volume(body), kArea * kDepth, 1e-3));
        }
        const auto leaned30 = slab(leaned(30, -12));
        QVERIFY(near(solid::volume(leaned30), kArea * kDepth, 1e-6));
        const base::Box3 box = solid::bounds(leaned30);
        QVERIFY(near(box.high.x, 40, 1e-6) && near(box.low.y, -12, 1e-6));
    }

    // To a point it is a pyramid, V = A h / 3, to another size the frustum of one, V = h/3 A (1 + s + s^2). (Euclid XII.)
    void taperedIsAPyramid()
    {
        QVERIFY(near(solid::volume(slab(tapered(0))), kArea * kDepth / 3, 1e-3));
        for (const double size : {0.4, 1.7})
            QVERIFY(near(solid::volume(slab(tapered(size))), kArea * kDepth / 3 * (1 + size + size * size), 1e-5));
        // The front stays as it is, whatever comes behind it.
        for (const Along& along : {tapered(0.3), twisted(200), leaned(5, 5)})
            QVERIFY(near(solid::areaOf(slab(along), Part::Face), kArea, 1e-4));
    }

    // A bent axis keeps volume by Pappus where the section's middle is on it: a square rod of a quarter turn.
    void bentIsPartOfARing()
    {
        SlabForm form{30};
        form.along = bent(90, 0);
        const auto body = solid::makeSlab(support::polygon({{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}}, 1e-5), form, kTolerance, {});
        QVERIFY(body.has_value());
        QVERIFY(solid::inspect(*body).closed());
        QVERIFY(near(solid::volume(*body), 4 * 30, 1e-3));
        const double radius = 30 / (kPi / 2);
        QVERIFY(near(solid::bounds(*body).high.x, radius, 2e-3));  // the back looks to the right, its middle a radius away
        QVERIFY(near(solid::bounds(*body).high.z, radius + 1, 2e-3));
    }

    // Normals are those of the surface it became: near their triangles' own, which come nearer with finer slices.
    void normalsGoAlong()
    {
        const double plain = normalsOff(slab({}));
        QVERIFY(plain < 1e-3);
        for (const Along& along : {twisted(120), tapered(0.5), leaned(9, 4), bent(60, 30)}) {
            const double coarse = normalsOff(slab(along)), fine = normalsOff(slab(along, {}, kTolerance / 30));
            const bool isFlat = coarse < 1e-2;  // tapered and leaned sides stay so
            QVERIFY2(coarse < 3 && (isFlat || fine < coarse / 1.4), qPrintable(QString("%1 %2").arg(coarse).arg(fine)));
        }
        const auto bevelled = slab(twisted(90), {0.5, 0.5, solid::Profile::Roundover, 12});
        QVERIFY(solid::inspect(bevelled).closed());
        QVERIFY2(normalsOff(bevelled) < 3, qPrintable(QString::number(normalsOff(bevelled))));
    }

    void domesGoAlongToo()
    {
        const auto outline = support::polygon({kEll}, 1e-5);
        solid::DomedForm form{8, 1, 0};
        const auto straight = solid::makeDomed(outline, form, 0.01, {});
        form.along = twisted(150);
        const auto body = solid::makeDomed(outline, form, 0.01, {});
        QVERIFY(straight && body && solid::inspect(*body).closed());
        QVERIFY(near(solid::volume(*body), solid::volume(*straight), 2e-3));
        QVERIFY2(normalsOff(*body) < 3, qPrintable(QString::number(normalsOff(*body))));
    }

    // About a middle that is given: a quarter turn about the corner brings the back's far corner over the axis.
    void aboutAnotherMiddle()
    {
        Along along = twisted(90);
        along.about = Vec2{0, 0};
        const base::Box3 box = solid::bounds(slab(along));
        QVERIFY(std::abs(box.low.x - -10) < 0.05);
    }

    // To its point a block is a pyramid (V = A h / 3), wherever that lies; part of the way a frustum; in a direction a prism. Flat, it
    // covers what it passes over and its front stays.
    void blocks()
    {
        const auto ell = support::polygon({{{0, 0}, {10, 0}, {10, 3}, {3, 3}, {3, 10}, {0, 10}}});
        const auto make = [&](const solid::BlockForm& form) {
            auto body = solid::makeBlock(ell, form, 1e-3, {});
            if (!body)
                qFatal("%s", body.error().message.c_str());
            return std::move(*body);
        };
        for (const auto& [x, y] : {std::pair{4.0, 4.0}, {-30.0, 12.0}, {200.0, -80.0}}) {
            const solid::Body point = make({6, true, x, y, 1});
            QVERIFY(solid::inspect(point).closed());
            QVERIFY(std::abs(solid::volume(point) - 51 * 6 / 3.0) < 0.1);
            QVERIFY(std::abs(solid::volume(make({6, true, x, y, 0.5})) - 51 * 6 / 3.0 * (1 + 0.5 + 0.25)) < 0.01);
            const solid::Body way = make({6, false, x, y});
            QVERIFY(std::abs(solid::volume(way) - 51 * 6) < 0.01);
            QVERIFY(std::abs(solid::bounds(way).low.x - std::min(0.0, x)) < 1e-4);
        }
        const solid::Body flat = make({0, true, 100, 0, 0.5});
        const base::Box3 box = solid::bounds(flat);
        QVERIFY(solid::inspect(flat).closed() && box.high.z < 0.5);
        QVERIFY(std::abs(box.high.x - 55) < 1e-3 && std::abs(box.high.y - 10) < 1e-4);
    }
};

OPEN_GLOW_TEST(TestAlong)
#include "test_along.moc"
