#include <QtTest>

#include "base/units.h"
#include "render/sampler.h"
#include "support/support.h"
#include "surface/energy.h"
#include "surface/surface.h"

using base::Rgb;
using base::Vec3f;
using surface::Material;
using surface::Surface;

namespace {

Vec3f at(double degrees)
{
    const double a = base::radians(degrees);
    return {float(std::sin(a)), 0, float(std::cos(a))};
}

// Albedo towards a view by the surface's own sampling: mean weight.
double sampledAlbedo(const Material& material, Vec3f view, int samples)
{
    const Surface surface(material, view);
    double sum = 0;
    for (int i = 0; i < samples; ++i) {
        render::Sampler sampler(7, 11, static_cast<std::uint32_t>(i), 1);
        const auto [u, v] = sampler.next2();
        sum += surface.sample(sampler.next1(), u, v).weight.x;
    }
    return sum / samples;
}

}  // namespace

class TestMaterial : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Fresnel's equations at n = 1.5 (E. Hecht, Optics): 4 % at normal incidence, no parallel part at Brewster's angle, and the
    // unpolarised share there is half of ((n^2 - 1) / (n^2 + 1))^2.
    void fresnel()
    {
        QVERIFY(std::abs(surface::fresnelDielectric(1.0f, 1.5f) - 0.04f) < 1e-6f);
        const double brewster = std::atan(1.5);
        QVERIFY(std::abs(base::degrees(brewster) - 56.31) < 0.005);
        QVERIFY(surface::fresnelPolarised(float(std::cos(brewster)), 1.5f).parallel < 1e-9f);
        QVERIFY(std::abs(surface::fresnelDielectric(float(std::cos(brewster)), 1.5f) - std::pow(1.25 / 3.25, 2) / 2) < 1e-5);
        QVERIFY(std::abs(surface::fresnelDielectric(0.0f, 1.5f) - 1) < 1e-6f);
        QCOMPARE(surface::fresnelDielectric(float(std::cos(base::radians(45))), 1 / 1.5f), 1.0f);  // total reflection from inside
    }

    // Walter and others 2007, equation 4: the projected facets cover the surface, integral of D (n.h) = 1.
    void distributionIsNormalised()
    {
        for (const float alpha : {0.05f, 0.2f, 0.5f, 1.0f}) {
            double sum = 0;
            const int n = 20000;
            for (int i = 0; i < n; ++i) {
                const double t = (i + 0.5) / n * base::kPi / 2;
                sum +=
                    surface::ggxDistribution(at(base::degrees(t)), alpha) * std::cos(t) * std::sin(t) * 2 * base::kPi * (base::kPi / 2 / n);
            }
            QVERIFY2(std::abs(sum - 1) < 1e-3, qPrintable(QString::number(sum)));
        }
    }

    // Pearson's chi-square: drawn facet normals against their density, 10 x 8 cells in (cos, phi); 1 in 10,000 would fail by chance.
    void visibleNormalsFollowTheirDensity()
    {
        constexpr int kRows = 10, kColumns = 8, kSamples = 200000;
        for (const float alpha : {0.15f, 0.5f, 0.9f})
            for (const double angle : {10.0, 60.0, 80.0}) {
                const Vec3f view = at(angle);
                std::vector<double> expected(kRows * kColumns), found(kRows * kColumns);
                for (int i = 0; i < kSamples; ++i) {
                    render::Sampler sampler(1, 2, static_cast<std::uint32_t>(i), 3);
                    const auto [u, v] = sampler.next2();
                    // A stratified sequence would look too good for the test: shuffle it off its strata.
                    std::uint32_t h = render::mixBits(static_cast<std::uint32_t>(i) * 2u + 1u);
                    const float a = std::fmod(u + static_cast<float>(h >> 8) * 0x1p-24f, 1.0f);
                    h = render::mixBits(h);
                    const float b = std::fmod(v + static_cast<float>(h >> 8) * 0x1p-24f, 1.0f);
                    const Vec3f n = surface::sampleGgxVisible(view, alpha, a, b);
                    const int row = std::min(kRows - 1, int(n.z * kRows));
                    const int column = std::min(kColumns - 1, int((std::atan2(n.y, n.x) / (2 * base::kPi) + 0.5) * kColumns));
                    ++found[std::size_t(row * kColumns + column)];
                }
                constexpr int kFine = 200;
                for (int i = 0; i < kRows * kFine; ++i)
                    for (int j = 0; j < kColumns * kFine / 10; ++j) {
                        const double z = (i + 0.5) / (kRows * kFine), phi = ((j + 0.5) / (kColumns * kFine / 10) - 0.5) * 2 * base::kPi;
                        const double s = std::sqrt(1 - z * z);
                        const Vec3f n{float(s * std::cos(phi)), float(s * std::sin(phi)), float(z)};
                        expected[std::size_t(i / kFine * kColumns + j / (kFine / 10))] +=
                            surface::ggxVisibleDensity(view, n, alpha) * (1.0 / (kRows * kFine)) *
                            (2 * base::kPi / (kColumns * kFine / 10)) * kSamples;
                    }
                const QString wrong = support::unlikely(found, expected, 20);
                QVERIFY2(wrong.isEmpty(), qPrintable(QString("alpha %1, %2 degrees: %3").arg(alpha).arg(angle).arg(wrong)));
            }
    }

    // In white surroundings nothing is lost or made: albedo 1 within 0.2 and 0.1 per cent where nothing is absorbed.
    void furnace_data()
    {
        QTest::addColumn<float>("metallic");
        QTest::addColumn<float>("specular");
        QTest::newRow("matte") << 0.0f << 0.0f;
        QTest::newRow("plastic") << 0.0f << 1.0f;
        QTest::newRow("half a mirror layer") << 0.0f << 0.5f;
        QTest::newRow("metal") << 1.0f << 1.0f;
        QTest::newRow("between") << 0.5f << 1.0f;
    }
    void furnace()
    {
        QFETCH(float, metallic);
        QFETCH(float, specular);
        for (const float roughness : {0.0f, 0.1f, 0.3f, 0.5f, 0.8f, 1.0f})
            for (const double angle : {5.0, 45.0, 70.0, 85.0}) {
                const double albedo = sampledAlbedo({{1, 1, 1}, metallic, roughness, specular}, at(angle), 1 << 18);
                QVERIFY2(albedo > 0.998 && albedo < 1.001,
                         qPrintable(QString("roughness %1 at %2: %3").arg(roughness).arg(angle).arg(albedo)));
            }
    }

    // What sample() draws, evaluate() knows: same density and value, and the mean of 1/pdf over the draws is the half sphere.
    void samplesAgreeWithTheirDensity()
    {
        const Surface surface({{0.7f, 0.5f, 0.2f}, 0.3f, 0.6f, 1}, at(40));
        double sphere = 0;
        const int n = 1 << 16;
        for (int i = 0; i < n; ++i) {
            render::Sampler sampler(3, 5, static_cast<std::uint32_t>(i), 9);
            const auto [u, v] = sampler.next2();
            const Surface::Sample s = surface.sample(sampler.next1(), u, v);
            if (s.pdf <= 0)
                continue;
            const Surface::Value value = surface.evaluate(s.direction);
            QVERIFY(std::abs(value.pdf - s.pdf) <= 1e-4f * s.pdf);
            QVERIFY(std::abs(value.f.y * s.direction.z / s.pdf - s.weight.y) <= 1e-4f * s.weight.y + 1e-6f);
            sphere += 1 / double(s.pdf);
        }
        QVERIFY2(std::abs(sphere / n / (2 * base::kPi) - 1) < 0.02, qPrintable(QString::number(sphere / n)));
    }

    // Lambert: a matte surface sends back albedo / pi per irradiance in every direction.
    void lambert()
    {
        const Surface surface({{0.6f, 0.3f, 0.1f}, 0, 0.5f, 0}, at(30));
        for (const double angle : {0.0, 40.0, 80.0})
            QVERIFY(std::abs(surface.evaluate(at(angle)).f.x - 0.6 / base::kPi) < 1e-5);
        QCOMPARE(surface.evaluate({0, 0, -1}).f, (Rgb{}));
    }
};

QTEST_APPLESS_MAIN(TestMaterial)
#include "test_material.moc"
