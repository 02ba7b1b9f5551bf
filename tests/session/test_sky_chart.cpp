// Round charts of the sky, and cards moved on them.
#include <QtTest>

#include "base/units.h"
#include "light/surroundings.h"
#include "session/sky_chart.h"
#include "support/registered.h"
#include "work/scene.h"

using base::Vec2;
using base::Vec3;
using session::ChartPlace;

namespace {

std::vector<Vec3> directions()
{
    std::vector<Vec3> all;
    for (int height = -80; height <= 80; height += 20)
        for (int around = -170; around <= 180; around += 25) {
            const double a = base::radians(around), h = base::radians(height);
            all.push_back({std::sin(a) * std::cos(h), std::sin(h), std::cos(a) * std::cos(h)});
        }
    return all;
}

work::Surroundings turned()
{
    work::Surroundings s;
    s.kind = work::SurroundingsKind::Sky;
    s.above = s.horizon = s.below = {0, 0, 0};
    s.turn = 40;
    s.tilt = -25;
    return s;
}

work::SkyCard card()
{
    work::SkyCard c;
    c.direction = -30;
    c.height = 20;
    c.width = 40;
    c.breadth = 24;
    c.roll = 15;
    c.softness = 0;
    c.stops = 0;
    return c;
}

}  // namespace

class TestSkyChart : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // There and back, right is right and up is up on both, and equal parts of the sky have equal parts of the chart.
    void charts()
    {
        for (const Vec3 d : directions()) {
            const ChartPlace place = session::onChart(d);
            QVERIFY(length(session::fromChart(place) - d) < 1e-9);
            QVERIFY(place.behind == (d.z < 0) && place.at.x * d.x >= 0 && place.at.y * d.y >= 0);
        }
        // A cap of 60 degrees is half of the hemisphere's area, and half of the chart's.
        const double radius = std::hypot(session::onChart({std::sin(base::radians(60)), 0, 0.5}).at.x, 0.0);
        QVERIFY(std::abs(radius * radius - 0.5) < 1e-9);
        QVERIFY(std::abs(length(session::fromChart({true, {3, 4}}) - Vec3{0.6, 0.8, 0})) < 1e-9);
    }

    // A card is where the light has it, whatever all of them are turned by: inside its edge there is its light, outside there is none.
    void cardsAreWhereTheirLightIs()
    {
        work::Work w;
        w.surroundings = turned();
        w.surroundings.cards.add("k1", card());
        const light::Sky sky = work::skyOf(w);
        const auto lit = [&](Vec3 d) { return sky.radiance(toFloat(normalized(d))).x > 0.5f; };
        const Vec3 middle = session::directionOf(card(), w.surroundings);
        QVERIFY(lit(middle));
        for (const float roundness : {0.0f, 0.5f, 1.0f}) {
            w.surroundings.cards.items.at("k1").roundness = roundness;
            const light::Sky round = work::skyOf(w);
            for (const Vec3 d : session::borderOf(w.surroundings.cards.items.at("k1"), w.surroundings, 40)) {
                QVERIFY(round.radiance(toFloat(normalized(d * 0.97 + middle * 0.03))).x > 0.5f);
                QVERIFY(round.radiance(toFloat(normalized(d * 1.03 - middle * 0.03))).x < 0.5f);
            }
        }
        for (const Vec3 d : directions())
            QCOMPARE(session::covers(card(), w.surroundings, d), lit(d));
    }

    // Moved, made larger and turned, the middle, the corner and the top are where they were put.
    void movedByHand()
    {
        const work::Surroundings s = turned();
        for (const Vec3 d : directions())
            QVERIFY(length(session::directionOf(session::cardTowards(card(), s, d), s) - d) < 1e-9);
        work::SkyCard wide = card();
        wide.width = 70;
        wide.breadth = 11;
        const work::SkyCard same = session::withCornerAt(card(), s, session::cornerOf(wide, s));
        QVERIFY(std::abs(same.width - 70) < 1e-6 && std::abs(same.breadth - 11) < 1e-6);
        work::SkyCard rolled = card();
        rolled.roll = -64;
        const work::SkyCard too = session::withTopTowards(card(), s, session::topOf(rolled, s));
        QVERIFY(std::abs(too.roll + 64) < 1e-6 && too.width == card().width);
        // Pulled beyond what there is it stays in its limits.
        const work::SkyCard most = session::withCornerAt(card(), s, session::directionOf(card(), s) * -1.0);
        QVERIFY(most.width >= 0.2 && most.width <= 170 && most.breadth >= 0.2 && most.breadth <= 170);
    }
};

OPEN_GLOW_TEST(TestSkyChart)
#include "test_sky_chart.moc"
