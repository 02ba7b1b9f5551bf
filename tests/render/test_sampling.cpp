// Every sampler draws what its density says: Pearson's chi-square test on the sphere round a point, with independent numbers.
#include <QtTest>
#include <functional>
#include <random>
#include <set>

#include "base/frame.h"
#include "base/units.h"
#include "light/emitters.h"
#include "render/sampler.h"
#include "render/tracer.h"
#include "support/support.h"
#include "surface/surface.h"

using base::laneOf;
using base::Vec3;
using base::Vec3f;
using light::Light;
using light::LightKind;

namespace {

// Draws a direction from three numbers (a zero vector: none), and tells the density of one.
struct Drawn {
    std::function<Vec3f(float, float, float)> draw;
    std::function<double(Vec3f)> density;
    Vec3f axis;     // of the cap of directions that is looked at
    double widest;  // its half angle, degrees
};

Drawn ofLight(const Light& light, double widest)
{
    const auto sampler = std::make_shared<light::LightSampler>(light);
    return {[=](float, float u, float v) {
                const light::LightSample s = sampler->sample({}, u, v);
                return s.pdf > 0 ? s.direction : Vec3f{};
            },
            [=](Vec3f d) { return static_cast<double>(sampler->hit({}, d, base::kInfinity).pdf); }, toFloat(-light.towardsAim), widest};
}

Drawn ofSurface(const surface::Material& material)
{
    const auto surface = std::make_shared<surface::Surface>(material, normalized(Vec3f{0.5f, 0.2f, 0.8f}));
    return {[=](float choice, float u, float v) {
                const auto s = surface->sample(choice, u, v);
                return s.pdf > 0 ? s.direction : Vec3f{};
            },
            [=](Vec3f d) { return static_cast<double>(surface->evaluate(d).pdf); },
            {0, 0, 1},
            90};
}

// Two glowing plates, one three times as bright, and the ground between them and the point.
Drawn ofEmitters()
{
    struct Stage {
        render::Scene scene;
        std::unique_ptr<render::Tracer> tracer;
        std::unique_ptr<light::EmitterSampler> sampler;
    };
    const auto stage = std::make_shared<Stage>();
    stage->scene =
        support::scene({support::plate({-40, -30, 100}, {0, 50, 0}, {45, 0, 0}), support::plate({10, -20, 90}, {0, 40, 10}, {30, 0, 0})},
                       {{1, 0.5f, 0.2f}, 0, 0.5f, 1, 1}, 100, 100);
    stage->scene.materials.push_back({{0.4f, 1, 0.6f}, 0, 0.5f, 1, 3});
    stage->scene.bodies[1].materials.fill(1);
    stage->scene.emissive = true;
    stage->tracer = std::make_unique<render::Tracer>(stage->scene);
    stage->sampler = std::make_unique<light::EmitterSampler>(render::emissiveTriangles(stage->scene));
    return {[=](float, float u, float v) {
                const auto s = stage->sampler->sample({}, u, v);
                return s.light.pdf > 0 ? s.light.direction : Vec3f{};
            },
            [=](Vec3f d) {
                render::Hits hits;
                base::Mask found;
                stage->tracer->intersect({}, base::spread<base::Wide>(d), base::Mask::firstOf(1), false, hits, found);
                if (!found[0])
                    return 0.0;
                const auto& material = stage->scene.materials[static_cast<std::size_t>(hits.material[0])];
                return static_cast<double>(
                    stage->sampler->density(surface::emissionOf(material), hits.distance[0], -dot(d, laneOf(hits.geometric, 0))));
            },
            {0, 0, 1},
            40};
}

}  // namespace

class TestSampling : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void drawsFollowTheirDensity_data()
    {
        QTest::addColumn<int>("which");
        int which = 0;
        for (const char* name :
             {"softbox", "softbox, near and askew", "sun", "bulb", "spot", "matte", "plastic", "rough metal", "between", "emissive plates"})
            QTest::newRow(name) << which++;
    }
    void drawsFollowTheirDensity()
    {
        QFETCH(int, which);
        Light softbox = support::lightAt(LightKind::Softbox, {100, 200, 400}), near = support::lightAt(LightKind::Softbox, {20, 30, 60});
        near.halfWidth = 50;
        near.halfHeight = 20;
        near.towardsAim = normalized(Vec3{0.3, -0.3, -1});
        near.right = normalized(cross(Vec3{0, 1, 0}, -near.towardsAim));
        near.up = cross(-near.towardsAim, near.right);
        Light sun = support::lightAt(LightKind::Sun, {1, 2, 2});
        sun.radius = base::radians(3);
        Light bulb = support::lightAt(LightKind::Bulb, {30, 60, 90});
        bulb.radius = 25;
        Light spot = support::lightAt(LightKind::Spot, {-30, 60, 90});
        spot.radius = 30;
        spot.coneCosine = 0.5;
        spot.innerCosine = 0.8;
        const std::function<Drawn()> all[] = {[&] { return ofLight(softbox, 15); },
                                              [&] { return ofLight(near, 60); },
                                              [&] { return ofLight(sun, 4); },
                                              [&] { return ofLight(bulb, 15); },
                                              [&] { return ofLight(spot, 20); },
                                              [] {
                                                  return ofSurface({{0.8f, 0.8f, 0.8f}, 0, 0.5f, 0});
                                              },
                                              [] {
                                                  return ofSurface({{0.8f, 0.2f, 0.2f}, 0, 0.4f, 1});
                                              },
                                              [] {
                                                  return ofSurface({{0.9f, 0.8f, 0.5f}, 1, 0.6f, 1});
                                              },
                                              [] {
                                                  return ofSurface({{0.9f, 0.8f, 0.5f}, 0.5f, 0.5f, 0.7f});
                                              },
                                              ofEmitters};
        const Drawn drawn = all[which]();
        constexpr int kRows = 10, kColumns = 12, kFine = 80, kSamples = 60000;
        const double least = std::cos(base::radians(drawn.widest));
        const base::FrameOf<float> frame(drawn.axis);
        std::vector<double> found(kRows * kColumns + 1), expected(found.size());
        std::mt19937 numbers(20);
        std::uniform_real_distribution<float> uniform(0, 1);
        for (int i = 0; i < kSamples; ++i) {
            const float a = uniform(numbers), b = uniform(numbers), c = uniform(numbers);
            const Vec3f d = drawn.draw(a, b, c);
            const Vec3f local = frame.toLocal(d);
            std::size_t cell = found.size() - 1;  // nothing was drawn
            if (dot(d, d) > 0) {
                const int row = static_cast<int>((1 - double(local.z)) / (1 - least) * kRows);
                const int column =
                    std::min(kColumns - 1, static_cast<int>((std::atan2(local.y, local.x) / (2 * base::kPi) + 0.5) * kColumns));
                QVERIFY2(row < kRows || local.z > least - 1e-4, "outside the cap");
                cell = static_cast<std::size_t>(std::min(row, kRows - 1) * kColumns + column);
            }
            ++found[cell];
        }
        double inside = 0;
        const double area = (1 - least) / (kRows * kFine) * 2 * base::kPi / (kColumns * kFine);
        for (int r = 0; r < kRows * kFine; ++r)
            for (int c = 0; c < kColumns * kFine; ++c) {
                const double z = 1 - (r + 0.5) / (kRows * kFine) * (1 - least), s = std::sqrt(std::max(0.0, 1 - z * z));
                const double phi = ((c + 0.5) / (kColumns * kFine) - 0.5) * 2 * base::kPi;
                const double p = drawn.density(frame.toWorld(toFloat(Vec3{s * std::cos(phi), s * std::sin(phi), z}))) * area;
                expected[static_cast<std::size_t>(r / kFine * kColumns + c / kFine)] += p * kSamples;
                inside += p;
            }
        expected.back() = std::max(0.0, 1 - inside) * kSamples;
        const QString wrong = support::unlikely(found, expected, 40);
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong));
    }

    // Even and odd samples are nets of their own (H. Niederreiter, Point sets and sequences with small discrepancy, 1987): of the first 2^k
    // of each, every box of that share of the square, 2^-a wide and 2^-(k-a) high, has exactly one.
    void eachHalfIsANet()
    {
        constexpr int kPower = 6;
        for (const std::uint32_t half : {0u, 1u})
            for (int pixel = 0; pixel < 20; ++pixel)
                for (int across = 0; across <= kPower; ++across) {
                    std::set<std::pair<int, int>> boxes;
                    for (std::uint32_t i = 0; i < 1u << kPower; ++i) {
                        render::Sampler sampler(static_cast<std::uint32_t>(pixel), 5, 2 * i + half, 3);
                        sampler.next2();
                        const auto [u, v] = sampler.next2();
                        boxes.insert({static_cast<int>(std::ldexp(u, across)), static_cast<int>(std::ldexp(v, kPower - across))});
                    }
                    QCOMPARE(boxes.size(), std::size_t{1} << kPower);
                }
    }

    // Half the difference of two independent halves errs as much as their mean: here of u v, whose mean is 1/4.
    void halvesTellTheNoise()
    {
        double told = 0, real = 0;
        for (std::uint32_t pixel = 0; pixel < 20000; ++pixel) {
            double halves[2] = {0, 0};
            for (std::uint32_t i = 0; i < 16; ++i) {
                render::Sampler sampler(pixel, 9, i, 2);
                const auto [u, v] = sampler.next2();
                halves[i % 2] += double(u) * v / 8;
            }
            told += std::pow((halves[0] - halves[1]) / 2, 2);
            real += std::pow((halves[0] + halves[1]) / 2 - 0.25, 2);
        }
        // Each is a sum of 20,000 squares: six standard deviations of their ratio are 8 %.
        QVERIFY2(std::abs(told / real - 1) < 0.08, qPrintable(QString::number(told / real)));
    }
};

OPEN_GLOW_TEST(TestSampling)
#include "test_sampling.moc"
