// Directions chosen by the photons that have arrived at a place.
#include <QtTest>

#include "render/sampler.h"
#include "render/thrown_light.h"
#include "support/support.h"

using base::Mask;
using base::Vec3f;
using base::Wide;
using base::WideInt;
using render::ThrownLight;

namespace {

float next()
{
    static std::uint32_t state = 1;
    state = render::mixBits(state + 0x9e3779b9u);
    return float(state >> 8) * 0x1p-24f;
}

// Two beams, steep and low, onto a square of 40 pt that faces `axis`; together as bright as so many white cards in full light.
std::vector<ThrownLight::Photon> beams(Vec3f axis, float cards)
{
    const base::FrameOf<float> frame(axis);
    std::vector<ThrownLight::Photon> photons;
    constexpr int kCount = 4000;
    for (int i = 0; i < kCount; ++i) {
        const bool low = i % 4 == 0;
        const Vec3f from{(low ? 2.0f : 0.3f) + 0.2f * next(), 0.2f * next() - (low ? 1.0f : 0.0f), low ? 0.3f : 1.0f};
        photons.push_back({frame.toWorld({40 * next() - 20, 40 * next() - 20, 0}), axis, frame.toWorld(normalized(from)),
                           cards * base::kPiFloat * 1600 / kCount});
    }
    return photons;
}

ThrownLight::Places placesAt(const ThrownLight& light, Vec3f point, Vec3f normal)
{
    return light.at(base::spread<Wide>(point), base::spread<Wide>(normal), 0.5f, 0.5f, Mask::firstOf(base::kLanes));
}

}  // namespace

class TestThrownLight : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Facing every way, also aslant: the density covers the half ball once, and directions follow it (Pearson's chi-square; 1 in 10,000
    // would fail by chance).
    void directionsFollowTheirDensity_data()
    {
        QTest::addColumn<float>("x");
        QTest::addColumn<float>("y");
        QTest::addColumn<float>("z");
        QTest::newRow("wall") << 0.0f << 0.0f << 1.0f;
        QTest::newRow("behind") << 0.0f << 0.0f << -1.0f;
        QTest::newRow("floor") << 0.0f << 1.0f << 0.0f;
        QTest::newRow("ceiling") << 0.0f << -1.0f << 0.0f;
        QTest::newRow("right") << 1.0f << 0.0f << 0.0f;
        QTest::newRow("left") << -1.0f << 0.0f << 0.0f;
        QTest::newRow("aslant") << 0.2f << 0.9f << 0.3f;
    }
    void directionsFollowTheirDensity()
    {
        QFETCH(float, x);
        QFETCH(float, y);
        QFETCH(float, z);
        const Vec3f normal = normalized(Vec3f{x, y, z});
        const ThrownLight light(beams(normal, 0.5f), 20);
        const ThrownLight::Places places = placesAt(light, {}, normal);
        QVERIFY(places.cell[0] >= 0);
        constexpr int kRows = 24, kColumns = 48, kFine = 60, kSamples = 200000;
        std::vector<double> expected(kRows * kColumns), found(kRows * kColumns);
        for (int i = 0; i < kSamples / base::kLanes; ++i) {
            Wide u, v;
            for (int lane = 0; lane < base::kLanes; ++lane) {
                u.v[lane] = next();
                v.v[lane] = next();
            }
            const base::V3<Wide> d = light.directions(places.cell, u, v, Mask::firstOf(base::kLanes));
            for (int lane = 0; lane < base::kLanes; ++lane) {
                const Vec3f one = laneOf(d, lane);
                QVERIFY(std::abs(length(one) - 1) < 1e-5f);
                const int row = std::min(int((double(one.y) + 1) / 2 * kRows), kRows - 1);
                const int column =
                    std::min(int((std::atan2(double(one.x), double(one.z)) / (2 * base::kPi) + 0.5) * kColumns), kColumns - 1);
                ++found[std::size_t(row * kColumns + column)];
            }
        }
        double whole = 0;
        for (int i = 0; i < kRows * kFine; ++i)
            for (int k = 0; k < kColumns * kFine; k += base::kLanes) {
                base::V3<Wide> d;
                for (int lane = 0; lane < base::kLanes; ++lane) {
                    const double height = -1 + 2 * (i + 0.5) / (kRows * kFine), level = std::sqrt(1 - height * height),
                                 phi = ((k + lane + 0.5) / (kColumns * kFine) - 0.5) * 2 * base::kPi;
                    setLane(d, lane, {float(level * std::sin(phi)), float(height), float(level * std::cos(phi))});
                }
                Wide densities;
                light.densities(places.cell, d, densities);
                for (int lane = 0; lane < base::kLanes; ++lane) {
                    const double share = double(densities[lane]) * 4 * base::kPi / (kRows * kFine * kColumns * kFine);
                    whole += share;
                    expected[std::size_t(i / kFine * kColumns + (k + lane) / kFine)] += share * kSamples;
                }
            }
        QVERIFY2(std::abs(whole - 1) < 0.01, qPrintable(QString::number(whole)));
        // The sum over a cell errs where a bin ends in it.
        for (std::size_t i = 0; i < found.size(); ++i)
            found[i] = std::abs(found[i] - expected[i]) < 0.02 * expected[i] ? expected[i] : found[i];
        const QString wrong = support::unlikely(found, expected, 40);
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong));
    }

    // The more light, the more is chosen by it; faint light and places, sides and lanes without any choose nothing.
    void asMuchAsThereIs()
    {
        const Vec3f wall{0, 0, 1};
        float last = 0;
        for (const float cards : {0.01f, 0.1f, 1.0f}) {
            const ThrownLight light(beams(wall, cards), 20);
            const float share = placesAt(light, {}, wall).share[0];
            QVERIFY2(share > last + 0.05f && share < ThrownLight::kMostShare, qPrintable(QString::number(double(share))));
            last = share;
        }
        QVERIFY(ThrownLight().empty());
        QVERIFY(ThrownLight(beams(wall, 1e-4f), 20).empty());
        const ThrownLight light(beams(wall, 1), 20);
        QVERIFY(!light.empty());
        QCOMPARE(placesAt(light, {200, 0, 0}, wall).share[3], 0.0f);
        QCOMPARE(placesAt(light, {}, {0, 1, 0}).share[3], 0.0f);
        QCOMPARE(light.at({0, 0, 0}, {0, 0, 1}, 0.5f, 0.5f, Mask::firstOf(3)).cell[3], -1);
        Wide densities = 1;
        light.densities(WideInt(-1), {0, 0, 1}, densities);
        QCOMPARE(densities[0], 0.0f);
    }
};

OPEN_GLOW_TEST(TestThrownLight)
#include "test_thrown_light.moc"
