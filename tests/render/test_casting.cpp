// Who casts on whom, and what is cut off near the camera.
#include <QtTest>

#include "support/expose.h"
#include "support/support.h"

using base::Vec3;
using render::Scene;

namespace {

constexpr int kSide = 24;

// Materials: 0 the floor's, 1 black, 2 white and rough.
void addMaterials(Scene& scene)
{
    scene.materials.push_back({{0, 0, 0}, 0, 1, 0});
    scene.materials.push_back({{0.8f, 0.8f, 0.8f}, 0, 1, 0});
}

// A wall of this material at z = 0, seen from the front; between it and the viewer's side, out of sight of a frame 40 wide, a black
// screen 20 pt before it on the right, of piece 1, that keeps half of the light off.
Scene wallAndScreen(const surface::Material& wall, bool screen)
{
    std::vector<solid::SharedBody> bodies{support::plate({-300, -300, 0}, {600, 0, 0}, {0, 600, 0})};
    if (screen)
        bodies.push_back(support::box({24, -100, 20}, {124, 100, 22}));
    Scene scene = support::scene(bodies, wall, 40, 40);
    addMaterials(scene);
    if (screen) {
        scene.bodies[1].materials.fill(1);
        scene.bodies[1].piece = 1;
    }
    return scene;
}

std::vector<light::Light> lights()
{
    light::Light bulb = support::lightAt(light::LightKind::Bulb, {90, 0, 60}), sun = support::lightAt(light::LightKind::Sun, {400, 0, 250}),
                 spot = support::lightAt(light::LightKind::Spot, {110, 10, 70});
    bulb.radius = 8;
    sun.radius = 0.05;
    spot.radius = 6;
    spot.coneCosine = 0.3;
    spot.innerCosine = 0.5;
    return {bulb, sun, spot, support::square({100, 0, 60}, {-1, 0, -0.6}, {0, 1, 0}, 20, 110)};
}

double mean(const Scene& scene, std::size_t entry = 0, std::uint32_t samples = 256)
{
    return support::meanOver(*support::expose(scene, kSide, kSide, samples), entry);
}

void dropShadow(Scene& scene, int piece)
{
    scene.castings.resize(scene.entries.size());
    for (render::Casting& casting : scene.castings) {
        casting.shadowless.resize(static_cast<std::size_t>(piece) + 2);
        casting.shadowless[static_cast<std::size_t>(piece) + 1] = true;
    }
}

}  // namespace

class TestCasting : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Light comes to a wall as if what throws no shadow were not there, from every kind of light and from all round, on rough and on glossy
    // walls: with light that is aimed at and light that is met. It is black, so nothing else changes.
    void withoutShadow_data()
    {
        QTest::addColumn<float>("roughness");
        QTest::addColumn<int>("which");
        for (const float roughness : {1.0f, 0.45f})
            for (const int which : {0, 1, 2, 3, 4, 5})
                QTest::addRow("roughness %.2f, %d", double(roughness), which) << roughness << which;
    }
    void withoutShadow()
    {
        OPEN_GLOW_LONG_TEST
        QFETCH(float, roughness);
        QFETCH(int, which);
        const surface::Material wall{{0.5f, 0.5f, 0.5f}, roughness < 1 ? 1.0f : 0.0f, roughness, 0};
        const auto lit = [&](bool screen) {
            Scene scene = wallAndScreen(wall, screen);
            scene.surroundings = which >= 4;
            if (which >= 4)
                scene.entries.push_back({"surroundings", film::EntryKind::Surroundings});
            if (which == 5) {
                light::Sky sky;
                sky.cards.push_back({{0.8f, 0, 0.6f}, 0.3f, 0.3f, 0, 0, 0, {20, 20, 20}});
                scene.sky = light::skyMap(sky);
            }
            if (which < 4)
                support::addLight(scene, lights()[static_cast<std::size_t>(which)]);
            return scene;
        };
        const double open = mean(lit(false));
        Scene scene = lit(true);
        const double shadow = mean(scene);
        QVERIFY2(shadow < 0.96 * open, qPrintable(QString("%1 of %2").arg(shadow).arg(open)));  // else this tests nothing
        dropShadow(scene, 1);
        // What mirrors sharply shows the black screen itself: taken out there as well, it is as if it were not there at all.
        scene.unmirrored = {false, false, true};
        const double without = mean(scene);
        QVERIFY2(std::abs(without - open) < 0.015 * open, qPrintable(QString("%1 of %2").arg(without).arg(open)));
        if (roughness == 1) {  // and what is no mirror needs no more than that
            scene.unmirrored.clear();
            const double mirrored = mean(scene);
            QVERIFY2(std::abs(mirrored - open) < 0.015 * open, qPrintable(QString("%1 of %2").arg(mirrored).arg(open)));
        }
    }

    // It shades itself all the same.
    void ownShadowStays()
    {
        const auto lit = [&](bool shadow) {
            // Two plates of one piece, the front one over the back one's right half.
            Scene scene = support::scene({support::plate({-20, -20, 0}, {40, 0, 0}, {0, 40, 0}), support::box({30, -60, 20}, {90, 60, 21})},
                                         {{0.8f, 0.8f, 0.8f}, 0, 1, 0}, 40, 40);
            support::addLight(scene, lights()[0]);
            if (!shadow)
                dropShadow(scene, 0);
            return scene;
        };
        QCOMPARE(mean(lit(false), 0, 16), mean(lit(true), 0, 16));
    }

    // A light spares a piece, straight and in its highlights, and nothing else; each light for itself.
    void unlit()
    {
        for (const float roughness : {1.0f, 0.2f}) {
            Scene scene = support::scene({support::sphere(12, 24), support::sphere(12, 24)}, {{0.6f, 0.6f, 0.6f}, 0, roughness, 1}, 60, 60);
            scene.bodies[0].pose.origin = {-15, 0, 0};
            scene.bodies[1].pose.origin = {15, 0, 0};
            scene.bodies[1].piece = 1;
            light::Light left = support::lightAt(light::LightKind::Bulb, {-100, 40, 120}),
                         right = support::lightAt(light::LightKind::Bulb, {100, 40, 120});
            left.radius = right.radius = 15;
            support::addLight(scene, left);
            support::addLight(scene, right);
            const auto whole = support::expose(scene, kSide, kSide, 64);
            scene.castings.resize(2);
            scene.castings[0].unlit = {false, false, true};
            const auto spared = support::expose(scene, kSide, kSide, 64);
            double before = 0, after = 0, kept = 0, keptBefore = 0, other = 0, otherBefore = 0;
            for (int y = 0; y < kSide; ++y)
                for (int x = 0; x < kSide; ++x) {
                    const bool second = x >= kSide / 2;
                    (second ? before : keptBefore) += double(support::meanOf(*whole, x, y, 0).y);
                    (second ? after : kept) += double(support::meanOf(*spared, x, y, 0).y);
                    otherBefore += double(support::meanOf(*whole, x, y, 1).y);
                    other += double(support::meanOf(*spared, x, y, 1).y);
                }
            // What is left comes from the other ball.
            QVERIFY2(before > 1 && after < 0.1 * before, qPrintable(QString("%1 of %2").arg(after).arg(before)));
            QVERIFY2(std::abs(kept - keptBefore) < 0.04 * keptBefore, qPrintable(QString("%1 of %2").arg(kept).arg(keptBefore)));
            QVERIFY2(std::abs(other - otherBefore) < 0.01 * otherBefore, qPrintable(QString("%1 of %2").arg(other).arg(otherBefore)));
        }
    }

    // A mirror shows what throws no shadow, in front of the light; and does not show what is not seen in mirrors, whose shadow stays.
    void mirrors()
    {
        const surface::Material mirror{{1, 1, 1}, 1, 0, 1};
        const auto scene = [&](bool shadow, bool mirrored) {
            // Seen in the wall: the screen, black, before white surroundings.
            Scene s = support::scene(
                {support::plate({-300, -300, 0}, {600, 0, 0}, {0, 600, 0}), support::box({-30, -30, 20}, {30, 30, 22})}, mirror, 40, 40);
            addMaterials(s);
            s.bodies[1].materials.fill(1);
            s.bodies[1].piece = 1;
            s.camera.eye = {0, 0, 10};  // between them
            s.surroundings = true;
            s.entries = {{"surroundings", film::EntryKind::Surroundings}};
            if (!shadow)
                dropShadow(s, 1);
            if (!mirrored)
                s.unmirrored = {false, false, true};
            return s;
        };
        QVERIFY(mean(scene(true, true), 0, 16) < 0.01);
        QVERIFY(mean(scene(false, true), 0, 16) < 0.01);
        QVERIFY(mean(scene(false, false), 0, 16) > 0.97);
        // On a rough wall it is the other way round.
        Scene shadowed = wallAndScreen({{0.8f, 0.8f, 0.8f}, 0, 1, 0}, true);
        support::addLight(shadowed, lights()[0]);
        const double before = mean(shadowed);
        shadowed.unmirrored = {false, false, true};
        QVERIFY(std::abs(mean(shadowed) - before) < 0.01 * before);
    }

    // A piece that gives off light lights a wall as before when it is not seen in mirrors; one that throws no shadow in it lets it through.
    void glowing()
    {
        OPEN_GLOW_LONG_TEST
        Scene scene = wallAndScreen({{0.5f, 0.5f, 0.5f}, 0, 1, 0}, true);
        scene.bodies.push_back({support::box({60, -20, 60}, {80, 20, 80}), {}, {}, 2, {}, {}});
        scene.materials.push_back({{1, 1, 1}, 0, 1, 0, 8});
        scene.bodies[2].materials.fill(3);
        scene.emissive = true;
        scene.entries = {{"emissive", film::EntryKind::Emissive}};
        const double shadowed = mean(scene, 0, 512);
        Scene unmirrored = scene;
        unmirrored.unmirrored = {false, false, false, true};
        QVERIFY2(std::abs(mean(unmirrored, 0, 512) - shadowed) < 0.02 * shadowed,
                 qPrintable(QString("%1 of %2").arg(mean(unmirrored, 0, 512)).arg(shadowed)));
        Scene without = scene;
        dropShadow(without, 1);
        Scene open = scene;
        open.bodies.erase(open.bodies.begin() + 1);
        const double whole = mean(open, 0, 512);
        QVERIFY(shadowed < 0.9 * whole);
        QVERIFY2(std::abs(mean(without, 0, 512) - whole) < 0.02 * whole,
                 qPrintable(QString("%1 of %2").arg(mean(without, 0, 512)).arg(whole)));
        scene.castings = {{{false, true}, {}}};  // the wall, piece 0
        QVERIFY(mean(scene, 0, 64) < 1e-6);
    }

    // Lists that name nobody change no sample.
    void everybodyOnEverybody()
    {
        Scene scene = wallAndScreen({{0.8f, 0.8f, 0.8f}, 0, 0.3f, 1}, true);
        support::addLight(scene, lights()[3]);
        const auto plain = support::expose(scene, kSide, kSide, 4);
        scene.castings = {{{false, false, false}, {false}}};
        scene.unmirrored = {false, false, false};
        const auto listed = support::expose(scene, kSide, kSide, 4);
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x)
                QCOMPARE(support::meanOf(*listed, x, y), support::meanOf(*plain, x, y));
    }

    // Cut off 5 pt before its middle a ball of radius 10 is gone where the plane is in it (a disc of radius 8.66), and stays outside of
    // that; behind it the wall is seen, never the ball's inside. Its shadow is whole.
    void cutOffNear()
    {
        for (const bool perspective : {false, true}) {
            Scene scene = support::scene({support::sphere(10, 96), support::plate({-60, -60, -10.5}, {120, 0, 0}, {0, 120, 0})},
                                         {{0.8f, 0.8f, 0.8f}, 0, 1, 0}, 24, 24);
            scene.bodies[1].piece = 1;
            scene.surroundings = true;
            scene.entries = {{"surroundings", film::EntryKind::Surroundings}};
            scene.camera.perspective = perspective;
            scene.camera.frameDistance = 4000;
            scene.camera.eye = {0, 0, 4000};
            scene.camera.cutDistance = 3995;
            constexpr int kPixels = 96;
            const auto film = support::expose(scene, kPixels, kPixels, 4);
            for (int y = 0; y < kPixels; ++y)
                for (int x = 0; x < kPixels; ++x) {
                    const double px = (x + 0.5 - kPixels / 2) * 24.0 / kPixels, py = (y + 0.5 - kPixels / 2) * 24.0 / kPixels,
                                 r = std::hypot(px, py);
                    const int piece = film->at(x, y).ids->most().piece - 1;
                    if (r < 8.4)
                        QCOMPARE(piece, 1);
                    else if (r > 8.9 && r < 9.7)
                        QCOMPARE(piece, 0);
                    else if (r > 10.3)
                        QCOMPARE(piece, 1);
                }
            const double under = double(support::meanOf(*film, kPixels / 2, kPixels / 2).y);
            scene.bodies.erase(scene.bodies.begin());
            const auto bare = support::expose(scene, kPixels, kPixels, 4);
            QVERIFY(under < 0.5 * double(support::meanOf(*bare, kPixels / 2, kPixels / 2).y));
        }
    }
};

OPEN_GLOW_TEST(TestCasting)
#include "test_casting.moc"
