// Surroundings that differ by direction, in the picture.
#include <QtTest>

#include "base/units.h"
#include "support/expose.h"
#include "support/support.h"

using base::Rgb;
using base::Vec3;
using render::Scene;

namespace {

constexpr int kSide = 32;

light::Sky black()
{
    return {{}, {}, {}, 1, 0, {}};
}

base::Vec3f towards(double direction, double height)
{
    const double a = base::radians(direction), o = base::radians(height);
    return {float(std::sin(a) * std::cos(o)), float(std::sin(o)), float(std::cos(a) * std::cos(o))};
}

void addSky(Scene& scene, const light::Sky& sky)
{
    scene.surroundings = true;
    scene.sky = light::skyMap(sky);
    scene.entries.insert(scene.entries.begin(), {"surroundings", film::EntryKind::Surroundings});
}

Scene ball(const surface::Material& material, const light::Sky& sky)
{
    Scene scene = support::scene({support::sphere(40, 48)}, material, 100, 100);
    addSky(scene, sky);
    return scene;
}

}  // namespace

class TestSky : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A sky of one colour is even surroundings.
    void evenIsEven()
    {
        const surface::Material plastic{{0.6f, 0.3f, 0.2f}, 0, 0.3f, 1};
        Scene even = ball(plastic, {{1, 1, 1}, {1, 1, 1}, {1, 1, 1}, 1, 0, {}});
        const auto one = support::expose(even, kSide, kSide, 256);
        even.sky = nullptr;
        const auto other = support::expose(even, kSide, kSide, 256);
        QVERIFY(std::abs(support::meanOver(*one) - support::meanOver(*other)) < 2e-3 * support::meanOver(*other));
    }

    // A white plate sends back what the map says of a card that faces the same way: seen from the front, and a floor from above.
    void platesAreLitAsCards()
    {
        OPEN_GLOW_LONG_TEST
        light::Sky sky{{0.3f, 0.5f, 0.9f}, {0.8f, 0.7f, 0.5f}, {0.1f, 0.2f, 0.1f}, 0.5f, 0.4f, {}};
        sky.cards.push_back({towards(-40, 35), 0.3f, 0.2f, 0.2f, 0.5f, 0.2f, {6, 5, 4}});
        Scene scene = support::scene({support::plate({-60, -60, 0}, {120, 0, 0}, {0, 120, 0})}, {{1, 1, 1}, 0, 1, 0}, 100, 100);
        addSky(scene, sky);
        const auto film = support::expose(scene, 8, 8, 512);
        const Rgb expected = scene.sky->onCard({0, 0, 1}), is = support::meanOf(*film, 4, 4);
        const double whole = support::meanOver(*film) / double(expected.y);
        QVERIFY2(std::abs(whole - 1) < 0.01, qPrintable(QString::number(whole)));
        QVERIFY(std::abs(is.x / is.z - expected.x / expected.z) < 0.1f * expected.x / expected.z);
    }

    // A card with an entry of its own: the same samples as if it had none, its light apart, on what scatters and what mirrors, over other
    // cards and under them; sampling it by as much as it shines.
    void ownCardsAreApart()
    {
        for (const auto& material :
             {surface::Material{{0.7f, 0.7f, 0.7f}, 0, 0.4f, 1}, surface::Material{{0.9f, 0.9f, 0.9f}, 1, 0.05f, 1}}) {
            light::Sky sky{{0.3f, 0.3f, 0.3f}, {0.2f, 0.2f, 0.2f}, {0.1f, 0.1f, 0.1f}, 0.5f, 0.4f, {}};
            sky.cards.push_back({towards(-40, 35), 0.6f, 0.4f, 0, 0, 0.5f, {3, 3, 3}});
            sky.cards.push_back({towards(-35, 30), 0.3f, 0.3f, 0, 1, 0.3f, {4, 4, 4}});
            sky.cards.push_back({towards(-30, 35), 0.1f, 0.2f, 0, 0, 0, {}});
            const auto together = support::expose(ball(material, sky), kSide, kSide, 64);
            sky.cards[1].radiance = {1, 1, 1};
            sky.cards[1].own = 4;
            Scene scene = ball(material, sky);
            scene.entries.insert(scene.entries.begin() + 1, {"k1", film::EntryKind::Surroundings});
            const auto apart = support::expose(scene, kSide, kSide, 64);
            double seen = 0;
            for (int y = 0; y < kSide; ++y)
                for (int x = 0; x < kSide; ++x) {
                    const float is = support::meanOf(*apart, x, y).y + 4 * support::meanOf(*apart, x, y, 1).y,
                                was = support::meanOf(*together, x, y).y;
                    QVERIFY2(std::abs(is - was) < 1e-3f * (1 + was),
                             qPrintable(QString("%1 %2: %3 and %4").arg(x).arg(y).arg(is).arg(was)));
                    seen += double(support::meanOf(*apart, x, y, 1).y);
                }
            QVERIFY(seen > 1);
        }
    }

    // A mirror shows what is there, the right way round: a flat one that leans 20 degrees to the right and 15 up shows 40 and 30.
    void mirrorsShowIt()
    {
        light::Sky sky = black();
        sky.cards.push_back({towards(40, 0), 0.05f, 0.05f, 0, 0, 0, {3, 2, 1}});
        const base::Vec3f n = towards(20, 0);
        const Vec3 right{double(n.z), 0, -double(n.x)};
        const auto mirror = support::plate(right * -80 + Vec3{0, -80, 0}, right * 160, {0, 160, 0});
        Scene scene = support::scene({mirror}, {{1, 1, 1}, 1, 0, 1}, 40, 40);
        addSky(scene, sky);
        const auto film = support::expose(scene, 8, 8, 64);
        QVERIFY2(std::abs(support::meanOf(*film, 4, 4).x - 3) < 0.1f, qPrintable(QString::number(support::meanOf(*film, 4, 4).x)));
        sky.turn = float(base::radians(20));
        scene.sky = light::skyMap(sky);
        QVERIFY(support::meanOf(*support::expose(scene, 8, 8, 64), 4, 4).x < 0.05f);
    }

    // A card is as a softbox far away, on plastic and metal, rough and smooth.
    void aCardIsASoftboxFarAway()
    {
        OPEN_GLOW_LONG_TEST
        const double half = 0.15, far = 40000;
        for (const auto& material :
             {surface::Material{{0.7f, 0.7f, 0.7f}, 0, 0.4f, 1}, surface::Material{{0.9f, 0.9f, 0.9f}, 1, 0.25f, 1}}) {
            light::Sky sky = black();
            const base::Vec3f d = towards(-35, 30);
            const auto box = support::square(base::toDouble(d) * far, -base::toDouble(d),
                                             base::normalized(cross(base::toDouble(d), Vec3{0, 1, 0})), half * far, far);
            const auto radiance = float(light::radianceAtBrightness1(box));
            sky.cards.push_back({d, float(half), float(half), 0, 0, 0, {radiance, radiance, radiance}});
            const Scene card = ball(material, sky);
            Scene lamp = support::scene({support::sphere(40, 48)}, material, 100, 100);
            lamp.surroundings = false;
            support::addLight(lamp, box);
            const double one = support::meanOver(*support::expose(card, kSide, kSide, 512)),
                         other = support::meanOver(*support::expose(lamp, kSide, kSide, 512));
            QVERIFY2(std::abs(one / other - 1) < 0.01, qPrintable(QString("%1 and %2").arg(one).arg(other)));
        }
    }

    // Aimed at or met by chance, it is the same light: a sky beside a lamp, where later hits choose between them.
    void besideALamp()
    {
        OPEN_GLOW_LONG_TEST
        light::Sky sky = black();
        sky.cards.push_back({towards(20, 40), 0.1f, 0.1f, 0, 1, 0.5f, {20, 20, 20}});
        const surface::Material plastic{{0.8f, 0.8f, 0.8f}, 0, 0.3f, 1};
        Scene both = ball(plastic, sky);
        both.ground = {render::GroundKind::Floor, 0, -45, 200, 0, 0};
        const Scene alone = both;
        support::addLight(both, support::square({0, 300, 300}, base::normalized(Vec3{0, -1, -1}), {1, 0, 0}, 50, 420));
        const double with = support::meanOver(*support::expose(both, kSide, kSide, 512), 0),
                     without = support::meanOver(*support::expose(alone, kSide, kSide, 512), 0);
        QVERIFY2(std::abs(with / without - 1) < 0.015, qPrintable(QString("%1 and %2").arg(with).arg(without)));
    }
};

OPEN_GLOW_TEST(TestSky)
#include "test_sky.moc"
