// Depth of field.
#include <QtTest>

#include "base/units.h"
#include "support/expose.h"
#include "support/support.h"

using render::Scene;

namespace {

constexpr int kSide = 96;
constexpr double kFrame = 100, kDistance = 400;  // pt

// A ball of radius 1 on the axis, `before` the plane that the frame lies in.
Scene ballAt(double before)
{
    Scene scene = support::scene({support::sphere(1, 24)}, {{1, 1, 1}, 0, 1, 0}, kFrame, kFrame);
    scene.surroundings = true;
    scene.entries = {{"surroundings", film::EntryKind::Surroundings}};
    scene.bodies.front().pose.origin = {0, 0, before};
    scene.camera.perspective = true;
    scene.camera.frameDistance = kDistance;
    scene.camera.eye = {0, 0, kDistance};
    scene.camera.sharpDistance = kDistance;
    return scene;
}

struct Blot {
    double coverage = 0, x = 0, y = 0, spread2 = 0;  // px, px, px, px^2
};

Blot blotOf(const film::Film& film)
{
    Blot blot;
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const double a = support::alphaOf(film, x, y), dx = x + 0.5 - kSide / 2, dy = y + 0.5 - kSide / 2;
            blot.coverage += a;
            blot.x += a * dx;
            blot.y += a * dy;
            blot.spread2 += a * (dx * dx + dy * dy);
        }
    blot.x /= blot.coverage;
    blot.y /= blot.coverage;
    blot.spread2 /= blot.coverage;
    return blot;
}

Blot blotOf(const Scene& scene, std::uint32_t samples = 64)
{
    return blotOf(*support::expose(scene, kSide, kSide, samples));
}

}  // namespace

class TestLens : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // The circle of confusion of a thin lens (e.g. E. Hecht, Optics, 5.2): at distance d, sharp at s, of a lens of diameter A it has the
    // diameter A |d - s| / d in the plane at s. The mean square from its middle is half the square of its radius; what the ball and the
    // pixels' own filter spread by is measured where it is sharp, and taken off.
    void circleOfConfusion()
    {
        OPEN_GLOW_LONG_TEST
        for (const auto& [before, sharp] : {std::pair{80.0, 400.0}, {-120.0, 400.0}, {0.0, 330.0}, {60.0, 340.0}}) {
            Scene scene = ballAt(before);
            const double own = blotOf(scene).spread2;
            scene.camera.lensRadius = 20;
            scene.camera.sharpDistance = sharp;
            const double d = kDistance - before, radius = 20 * std::abs(d - sharp) / d * (kDistance / sharp) * kSide / kFrame;
            const Blot blot = blotOf(scene, 512);
            QVERIFY2(std::abs(blot.spread2 - own - radius * radius / 2) < 0.03 * radius * radius / 2 + 0.1,
                     qPrintable(QString("%1 of %2 at %3").arg(blot.spread2 - own).arg(radius * radius / 2).arg(before)));
        }
    }

    // What lies in the sharp plane stays where it is and as sharp as without a lens, also beside the axis.
    void theSharpPlaneIsSharp()
    {
        Scene scene = ballAt(50);
        scene.bodies.front().pose.origin = {18, -9, 50};
        const Blot plain = blotOf(scene);
        scene.camera.lensRadius = 25;
        scene.camera.sharpDistance = kDistance - 50;
        const Blot blot = blotOf(scene);
        QVERIFY(std::abs(blot.x - plain.x) < 0.1 && std::abs(blot.y - plain.y) < 0.1);
        QVERIFY(std::abs(blot.spread2 - plain.spread2) < 0.02 * plain.spread2);
        QVERIFY(std::abs(blot.coverage - plain.coverage) < 0.1 * plain.coverage);
    }

    // A lens of blades: a regular polygon in the circle, a corner straight up, evenly bright. Mean square of an n-gon of circumradius r is
    // r^2 (2 + cos(2 pi / n)) / 6. Before the sharp plane it stands as the lens does, behind it on its head.
    void blades()
    {
        OPEN_GLOW_LONG_TEST
        for (const int n : {3, 5, 6}) {
            Scene scene = ballAt(-120);
            const double own = blotOf(scene).spread2;
            scene.camera.lensRadius = 30;
            scene.camera.blades = n;
            const double radius = 30 * 120 / 520.0 * kSide / kFrame;
            const double expected = radius * radius * (2 + std::cos(2 * base::kPi / n)) / 6;
            const auto film = support::expose(scene, kSide, kSide, 1024);
            const Blot blot = blotOf(*film);
            QVERIFY2(std::abs(blot.spread2 - own - expected) < 0.04 * expected + 0.1,
                     qPrintable(QString("%1: %2 of %3").arg(n).arg(blot.spread2 - own).arg(expected)));
            // Of a triangle the corner is seen: far from the middle straight down (behind), not straight up. Rows go down.
            if (n == 3) {
                double up = 0, down = 0;
                for (int i = 1; i < kSide / 2; ++i) {
                    up += support::alphaOf(*film, kSide / 2, kSide / 2 - i) * i;
                    down += support::alphaOf(*film, kSide / 2, kSide / 2 + i) * i;
                }
                QVERIFY2(up > 1.5 * down || down > 1.5 * up, "a triangle has a corner at one end");
            }
        }
    }

    // Without a lens nothing changes, sample by sample.
    void offIsOff()
    {
        const Scene plain = ballAt(30);
        Scene lens = plain;
        lens.camera.sharpDistance = 100;
        lens.camera.blades = 7;
        const auto a = support::expose(plain, 24, 24, 4), b = support::expose(lens, 24, 24, 4);
        for (int y = 0; y < 24; ++y)
            for (int x = 0; x < 24; ++x)
                QCOMPARE(support::meanOf(*a, x, y), support::meanOf(*b, x, y));
    }
};

OPEN_GLOW_TEST(TestLens)
#include "test_lens.moc"
