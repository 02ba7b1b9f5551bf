// Numbers side by side are what they are one by one; sine and cosine; the ground.
#include <QtTest>
#include <random>

#include "base/units.h"
#include "light/light.h"
#include "render/ground.h"
#include "render/sampler.h"
#include "support/support.h"
#include "surface/surface.h"

using base::kLanes;
using base::Mask;
using base::V3;
using base::Vec3;
using base::Vec3f;
using base::Wide;
using light::Light;
using light::LightKind;

namespace {

std::mt19937 s_numbers(4);

float number(float low = 0, float high = 1)
{
    return std::uniform_real_distribution<float>(low, high)(s_numbers);
}

Wide numbers(float low = 0, float high = 1)
{
    Wide all;
    for (int lane = 0; lane < kLanes; ++lane)
        all.v[lane] = number(low, high);
    return all;
}

// Directions above the surface.
V3<Wide> directions(float lowest)
{
    const Wide z = numbers(lowest, 1), r = base::root(1 - z * z), turn = numbers();
    return {r * base::sinCosOf(turn).cosine, r * base::sinCosOf(turn).sine, z};
}

bool near(float a, float b)
{
    return a == b || std::abs(a - b) <= 2e-5f * std::max(std::abs(a), std::abs(b)) + 1e-6f;
}

bool near(const V3<Wide>& a, int lane, const Vec3f& b)
{
    return near(a.x[lane], b.x) && near(a.y[lane], b.y) && near(a.z[lane], b.z);
}

}  // namespace

class TestLanes : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void sineAndCosine()
    {
        for (int i = 0; i <= 10000; ++i) {
            const double turns = i / 10000.0;
            const auto [sine, cosine] = base::sinCosOf(static_cast<float>(turns));
            QVERIFY(std::abs(sine - std::sin(2 * base::kPi * turns)) < 4e-7 && std::abs(cosine - std::cos(2 * base::kPi * turns)) < 4e-7);
        }
    }

    // What is no number stays in its lane, and can be looked up.
    void conditionsAndBadNumbers()
    {
        Wide a;
        for (int lane = 0; lane < kLanes; ++lane)
            a.v[lane] = lane == 3 ? std::numeric_limits<float>::quiet_NaN() : lane == 5 ? base::kInfinity : static_cast<float>(lane);
        const Wide kept = base::clamped(a, Wide(1), Wide(4));
        const Mask finite = base::isFinite(a), large = a > 4;
        for (int lane = 0; lane < kLanes; ++lane) {
            QCOMPARE(kept[lane], lane == 3 ? 1 : lane == 5 ? 4 : std::clamp(static_cast<float>(lane), 1.0f, 4.0f));
            QCOMPARE(finite[lane], lane != 3 && lane != 5);
            QCOMPARE(large[lane], lane >= 5);
        }
        QCOMPARE(base::countOf(large), 3);
        QVERIFY(base::any(large) && !base::any(large & !large));
        for (int count = 0; count <= kLanes; ++count)
            QCOMPARE(base::countOf(Mask::firstOf(count)), count);
    }

    void samplers()
    {
        base::BitLanes x{}, y{}, sample{};
        for (int lane = 0; lane < kLanes; ++lane) {
            x[lane] = s_numbers() % 20000;
            y[lane] = s_numbers() % 20000;
            sample[lane] = s_numbers() % 4096;
        }
        render::SamplerOf<Wide> all(x, y, sample, 7);
        for (int pair = 0; pair < 20; ++pair) {
            const auto values = all.next2();
            for (int lane = 0; lane < kLanes; ++lane) {
                render::Sampler one(x[lane], y[lane], sample[lane], 7);
                for (int before = 0; before < pair; ++before)
                    one.next2();
                const auto [u, v] = one.next2();
                QCOMPARE(values[0][lane], u);
                QCOMPARE(values[1][lane], v);
            }
        }
    }

    // All kinds of materials side by side.
    void surfaces()
    {
        for (int run = 0; run < 400; ++run) {
            surface::Material materials[kLanes];
            surface::MaterialOf<Wide> all;
            for (int lane = 0; lane < kLanes; ++lane) {
                surface::Material& m = materials[lane];
                m = {{number(), number(), number()},
                     lane % 3 == 0   ? 1.0f
                     : lane % 3 == 1 ? 0.0f
                                     : number(),
                     number(),
                     lane % 4 == 1 ? 0.0f : number()};
                base::setLane(all.baseColour, lane, m.baseColour);
                all.metallic.v[lane] = m.metallic;
                all.roughness.v[lane] = m.roughness;
                all.specular.v[lane] = m.specular;
            }
            const V3<Wide> view = directions(0.05f), light = directions(-0.2f);
            const Wide choice = numbers(), u = numbers(), v = numbers(0, 0.999f);
            const surface::SurfaceOf<Wide> surfaces(all, view);
            const auto values = surfaces.evaluate(light);
            const auto samples = surfaces.sample(choice, u, v);
            for (int lane = 0; lane < kLanes; ++lane) {
                const surface::Surface one(materials[lane], laneOf(view, lane));
                const auto value = one.evaluate(laneOf(light, lane));
                QVERIFY(near(values.pdf[lane], value.pdf) && near(values.f, lane, value.f));
                QVERIFY(near(surfaces.albedo(), lane, one.albedo()));
                const auto sample = one.sample(choice[lane], u[lane], v[lane]);
                QVERIFY(near(samples.pdf[lane], sample.pdf) && near(samples.weight, lane, sample.weight));
                if (sample.pdf > 0)
                    QVERIFY(near(samples.direction, lane, sample.direction));
            }
        }
    }

    void lights()
    {
        for (const LightKind kind : {LightKind::Softbox, LightKind::Sun, LightKind::Bulb, LightKind::Spot}) {
            Light light = support::lightAt(kind, {100, 200, 400});
            if (kind == LightKind::Sun)
                light.radius = base::radians(2);
            const light::LightSampler sampler(light);
            int seen = 0;
            for (int run = 0; run < 200; ++run) {
                const V3<Wide> points{numbers(-300, 300), numbers(-300, 300), numbers(-300, 500)};
                const Wide u = numbers(), v = numbers(), farthest = run % 2 ? Wide(base::kInfinity) : numbers(100, 800);
                const auto samples = sampler.sample(points, u, v);
                const V3<Wide> aim = run % 3 ? samples.direction : directions(-1);
                const auto hits = sampler.hit(points, aim, farthest);
                for (int lane = 0; lane < kLanes; ++lane) {
                    const auto sample = sampler.sample(laneOf(points, lane), u[lane], v[lane]);
                    QVERIFY(near(samples.pdf[lane], sample.pdf));
                    if (sample.pdf > 0)
                        QVERIFY(near(samples.direction, lane, sample.direction) && near(samples.radiance[lane], sample.radiance));
                    const auto hit = sampler.hit(laneOf(points, lane), laneOf(aim, lane), farthest[lane]);
                    QVERIFY(near(hits.pdf[lane], hit.pdf));
                    seen += hit.pdf > 0;
                }
            }
            QVERIFY(seen > 100);
        }
    }

    // Of every ground: what is met is where the free space ends.
    void ground_data()
    {
        QTest::addColumn<int>("kind");
        QTest::newRow("wall") << static_cast<int>(render::GroundKind::Wall);
        QTest::newRow("floor") << static_cast<int>(render::GroundKind::Floor);
        QTest::newRow("sweep") << static_cast<int>(render::GroundKind::Sweep);
    }
    void ground()
    {
        QFETCH(int, kind);
        const render::Ground ground{static_cast<render::GroundKind>(kind), -80, -30, 120, 1, 2};
        const bool wall = ground.kind != render::GroundKind::Floor, floor = ground.kind != render::GroundKind::Wall, sweep = wall && floor;
        const auto isFree = [&](Vec3 p) {
            const double y = p.y - ground.floorY - ground.sweepPt, z = p.z - ground.wallZ - ground.sweepPt;
            const bool behindBend = sweep && y < 0 && z < 0 && y * y + z * z > ground.sweepPt * ground.sweepPt;
            return (!wall || p.z > ground.wallZ) && (!floor || p.y > ground.floorY) && !behindBend;
        };
        int met = 0, bent = 0;
        for (int run = 0; run < 2000; ++run) {
            V3<Wide> from{numbers(-200, 200), numbers(-29, 400), numbers(-79, 900)};
            const V3<Wide> to = normalized(V3<Wide>{numbers(-1, 1), numbers(-1, 1), numbers(-1, 1)});
            const render::GroundHits hits = render::intersectGround(ground, from, to, Wide(base::kInfinity));
            for (int lane = 0; lane < kLanes; ++lane) {
                const Vec3 o = toDouble(laneOf(from, lane)), d = toDouble(laneOf(to, lane));
                if (!isFree(o))
                    continue;
                if (!hits.met[lane]) {
                    QVERIFY(isFree(o + d * 1e5));
                    continue;
                }
                const double t = hits.distance[lane];
                const Vec3f normal = laneOf(hits.normal, lane);
                if (dot(toDouble(normal), d) > -0.02)
                    continue;  // grazing: too near to tell
                ++met;
                bent += hits.rise[lane] > 0 && hits.rise[lane] < 1;
                QVERIFY(isFree(o + d * (t - 0.02)) && !isFree(o + d * (t + 0.02)));
                QVERIFY(std::abs(length(normal) - 1) < 1e-5f);
                // Nearer than that is nothing.
                QVERIFY(!render::intersectGround(ground, from, to, hits.distance * 0.999f).met[lane]);
                if (!sweep)
                    QCOMPARE(hits.rise[lane], wall ? 1.0f : 0.0f);
            }
        }
        QVERIFY(met > 1000 && (!sweep || bent > 100));
    }
};

OPEN_GLOW_TEST(TestLanes)
#include "test_lanes.moc"
