// Light that mirrors throw on other things.
#include <QtTest>

#include "render/camera.h"
#include "render/integrator.h"
#include "support/expose.h"
#include "support/support.h"

using base::Vec3;
using render::Scene;

namespace {

// A white wall at z = 0, seen from the front; on its right a mirror square to it, from y = -20 to 20, and a small lamp 300 pt before the
// wall's middle. Behind the mirror there is a lamp as well: at (300, 0, 300).
Scene wallAndMirror(bool mirror)
{
    std::vector<solid::SharedBody> bodies{support::plate({-200, -200, 0}, {400, 0, 0}, {0, 400, 0})};
    if (mirror)
        bodies.push_back(support::plate({150, -20, 20}, {0, 0, 200}, {0, 40, 0}));  // looks to the left
    Scene scene = support::scene(bodies, {{0.8f, 0.8f, 0.8f}, 0, 1, 0}, 200, 200);
    scene.materials.push_back({{1, 1, 1}, 1, 0, 1});
    if (mirror)
        scene.bodies[1].materials.fill(1);
    light::Light lamp = support::lightAt(light::LightKind::Bulb, {0, 0, 300});
    lamp.radius = 3;
    support::addLight(scene, lamp);
    return scene;
}

struct Mean {
    double value = 0, variance = 0;  // of one sample
};

// Light of a place on the wall, by samples of these numbers; by ways that are chosen by what was learnt, or without it.
Mean sampled(const Scene& scene, double x, double y, std::uint32_t first, std::uint32_t count, bool learns)
{
    using namespace base;
    const render::Tracer tracer(scene);
    render::Integrator integrator(scene, tracer);
    if (learns)
        integrator.learnThrownLight();
    render::PathBatch batch(scene, 1);
    V3<Wide> origins, directions;
    render::cameraRays(scene.camera, 200, 200, Wide(static_cast<float>(100 + x)), Wide(static_cast<float>(100 - y)), origins, directions);
    double sum = 0, squares = 0;
    for (std::uint32_t i = 0; i < count;) {
        batch.clear();
        int paths = 0;
        for (; paths < render::PathBatch::kSize && i < count; paths += kLanes, i += kLanes) {
            BitLanes number{};
            for (int lane = 0; lane < kLanes; ++lane)
                number[lane] = first + i + static_cast<std::uint32_t>(lane);
            batch.add(origins, directions, render::SamplerOf<Wide>(BitLanes{} + 3, BitLanes{} + 5, number, 7), kLanes);
        }
        integrator.trace(batch);
        for (int p = 0; p < paths; ++p) {
            const auto light = static_cast<double>(batch.light(p)[0].y);
            sum += light;
            squares += light * light;
        }
    }
    return {sum / count, squares / count - sum / count * sum / count};
}

double lightAt(const Scene& scene, double x, double y, std::uint32_t first, std::uint32_t count)
{
    return sampled(scene, x, y, first, count, false).value;
}

}  // namespace

class TestThrown : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // In the middle of what a flat mirror throws, the light is that of the lamp that is seen in it (image source: d^2 and cosine by hand),
    // beside the lamp itself; well beside it there is nothing.
    void asMuchAsTheLampInTheMirror()
    {
        constexpr std::uint32_t kLate = 1u << 20;  // samples that are seen rather sharp
        const Scene with = wallAndMirror(true), without = wallAndMirror(false);
        const double direct = lightAt(without, 0, 0, 0, 4096);
        const double far = 300.0 / (300 * std::sqrt(2.0)), expected = far * far * std::sqrt(0.5);  // (d / d')^2 cos 45
        const double thrown = lightAt(with, 0, 0, kLate, 1 << 19) / direct - 1;
        QVERIFY2(std::abs(thrown / expected - 1) < 0.08, qPrintable(QString("%1 of %2").arg(thrown).arg(expected)));
        const double beside = lightAt(with, 0, 90, kLate, 1 << 15) / lightAt(without, 0, 90, 0, 4096) - 1;
        QVERIFY2(std::abs(beside) < 0.02, qPrintable(QString::number(beside)));
    }

    // What was learnt only chooses ways: in the middle of thrown light, at its edge and beside it the light is the
    // same; and in it a sample errs by far less.
    void learntLightIsTheSame()
    {
        const Scene scene = wallAndMirror(true);
        for (const auto [x, y] : {std::pair(0.0, 0.0), {60.0, 10.0}, {20.0, 38.0}, {0.0, 90.0}}) {
            const Mean plain = sampled(scene, x, y, 1u << 20, 1 << 18, false), learnt = sampled(scene, x, y, 5u << 18, 1 << 18, true);
            const double error = std::sqrt((plain.variance + learnt.variance) / (1 << 18));
            // Numbers of one sequence err by less than as many that know nothing of each other, so three deviations are plenty.
            QVERIFY2(std::abs(plain.value - learnt.value) < 3 * error + 1e-3 * plain.value,
                     qPrintable(QString("%1 and %2 at %3, %4").arg(plain.value).arg(learnt.value).arg(x).arg(y)));
            if (y < 20)
                QVERIFY2(learnt.variance < 0.5 * plain.variance,
                         qPrintable(QString("%1 and %2 at %3, %4").arg(plain.variance).arg(learnt.variance).arg(x).arg(y)));
        }
    }

    // Asked to stop, it learns nothing; nor is there anything to learn without metal or glass.
    void nothingLearntIsNothingChanged()
    {
        const Scene scene = wallAndMirror(true), dull = wallAndMirror(false);
        const render::Tracer tracer(scene);
        render::Integrator integrator(scene, tracer);
        std::stop_source stopped;
        stopped.request_stop();
        QVERIFY(!integrator.learnThrownLight(stopped.get_token()));
        QVERIFY(integrator.learnThrownLight());
        QCOMPARE(sampled(dull, 0, 0, 0, 512, true).value, sampled(dull, 0, 0, 0, 512, false).value);
    }

    // The edge of it (at y = 40) is soft at first and sharper with many samples; the light there is spread, not lost: over a column it is
    // the same.
    void sharperWithSamples()
    {
        OPEN_GLOW_LONG_TEST
        const Scene with = wallAndMirror(true), without = wallAndMirror(false);
        const auto column = [&](std::uint32_t first) {
            std::vector<double> thrown;
            for (double y = 2.5; y < 100; y += 5)
                thrown.push_back(lightAt(with, 0, y, first, 1 << 17) - lightAt(without, 0, y, first, 1024));
            return thrown;
        };
        const std::vector<double> early = column(0), late = column(1u << 20);
        const auto outside = [](const std::vector<double>& c) {  // share beyond the edge
            double all = 0, out = 0;
            for (std::size_t i = 0; i < c.size(); ++i) {
                all += c[i];
                out += i >= 8 ? c[i] : 0;
            }
            return std::pair(all, out / all);
        };
        const auto [earlyAll, earlyOut] = outside(early);
        const auto [lateAll, lateOut] = outside(late);
        QVERIFY2(lateOut < 0.75 * earlyOut, qPrintable(QString("%1, then %2").arg(earlyOut).arg(lateOut)));
        QVERIFY2(std::abs(earlyAll / lateAll - 1) < 0.25, qPrintable(QString("%1 and %2").arg(earlyAll).arg(lateAll)));
    }
};

OPEN_GLOW_TEST(TestThrown)
#include "test_thrown.moc"
