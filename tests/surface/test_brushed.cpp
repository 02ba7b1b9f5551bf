// Facets that are rougher along one way, and coats that lie over a relief.
#include <QtTest>

#include "support/lobes.h"
#include "support/long_test.h"
#include "support/registered.h"

using base::Rgb;
using base::Vec3f;
using support::at;
using surface::LayeredSurface;
using surface::Layers;

namespace {

Layers brushed(float strength, float ior = 1.5f)
{
    Layers layers;
    layers.anisotropy = strength;
    layers.ior = ior;
    return layers;
}

Vec3f from(double degrees, double round)
{
    const double a = base::radians(degrees), r = base::radians(round);
    return {float(std::sin(a) * std::cos(r)), float(std::sin(a) * std::sin(r)), float(std::cos(a))};
}

}  // namespace

class TestBrushed : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Walter and others 2007, equation 4, of facets that differ (E. Heitz 2014, 5.4): the integral of D (n.h) is 1. Of one roughness they
    // are the even ones.
    void distributionIsNormalised()
    {
        for (const auto& [alphaX, alphaY] : {std::pair{0.6f, 0.2f}, std::pair{1.0f, 0.1f}, std::pair{0.3f, 0.3f}}) {
            double sum = 0;
            constexpr int n = 2000, sides = 360;
            for (int i = 0; i < n; ++i)
                for (int k = 0; k < sides; ++k) {
                    const double t = (i + 0.5) / n * 90;
                    const Vec3f h = from(t, k * 360.0 / sides);
                    sum += double(surface::ggxDistribution(h, alphaX, alphaY)) * double(h.z) * std::sin(base::radians(t)) *
                           (base::kPi / 2 / n) * (2 * base::kPi / sides);
                }
            QVERIFY2(std::abs(sum - 1) < 2e-3, qPrintable(QString::number(sum)));
        }
        const Vec3f w = from(50, 20);
        QVERIFY(std::abs(surface::smithLambda(w, 0.4f, 0.4f) - surface::smithLambda(w, 0.4f)) < 1e-6f);
        QVERIFY(std::abs(surface::ggxDistribution(w, 0.4f, 0.4f) - surface::ggxDistribution(w, 0.4f)) < 1e-6f);
    }

    // White metals and plastics, from all sides.
    void inTheFurnace()
    {
        OPEN_GLOW_LONG_TEST
        for (const float metallic : {0.0f, 1.0f})
            for (const float ior : {1.5f, 2.0f})
                for (const float strength : {0.3f, 0.7f, 1.0f})
                    for (const float roughness : {0.05f, 0.35f, 0.8f})
                        for (const double angle : {5.0, 50.0, 80.0})
                            for (const double round : {0.0, 35.0, 90.0}) {
                                if (metallic == 1 && ior != 1.5f)
                                    continue;
                                const LayeredSurface surface({{1, 1, 1}, metallic, roughness, 1}, brushed(strength, ior),
                                                             from(angle, round));
                                const double albedo = support::sampledAlbedo(surface, 1 << 14);
                                QVERIFY2(albedo < 1.006 && albedo > 0.985,
                                         qPrintable(QString("metallic %1, index %2, strength %3, roughness %4 "
                                                            "at %5, %6: %7")
                                                        .arg(metallic)
                                                        .arg(ior)
                                                        .arg(strength)
                                                        .arg(roughness)
                                                        .arg(angle)
                                                        .arg(round)
                                                        .arg(albedo)));
                            }
    }

    // KHR_materials_anisotropy: alpha is the roughness's square across, and mixed towards 1 by the strength's square along. A metal's
    // highlight seen head on follows D alone.
    void highlightIsDrawnOut()
    {
        const float roughness = 0.3f, strength = 0.7f, alphaY = roughness * roughness, alphaX = alphaY + (1 - alphaY) * strength * strength;
        const LayeredSurface surface({{1, 1, 1}, 1, roughness, 1}, brushed(strength), {0, 0, 1});
        const auto d = [&](Vec3f h) {
            const double t = std::pow(double(h.x / alphaX), 2) + std::pow(double(h.y / alphaY), 2) + double(h.z * h.z);
            return 1 / (t * t);
        };
        const auto masked = [&](Vec3f w) {
            const double a2 = std::pow(double(alphaX * w.x), 2) + std::pow(double(alphaY * w.y), 2);
            return (1 + std::sqrt(1 + a2 / double(w.z * w.z))) / 2 * double(w.z);
        };
        const double middle = double(surface.evaluate({0, 0, 1}).f.x);
        for (const double round : {0.0, 30.0, 90.0}) {
            const Vec3f to = from(30, round);
            const double expected = d(from(15, round)) / masked(to);
            QVERIFY(std::abs(double(surface.evaluate(to).f.x) / middle - expected) < 1e-3 * expected + 1e-6);
        }
        QVERIFY(surface.evaluate(from(30, 0)).f.x > 50 * surface.evaluate(from(30, 90)).f.x);
        // None is as without.
        const LayeredSurface none({{1, 1, 1}, 1, roughness, 1}, brushed(0), at(30)), plain({{1, 1, 1}, 1, roughness, 1}, {}, at(30));
        QCOMPARE(none.evaluate(from(40, 200)).f, plain.evaluate(from(40, 200)).f);
    }

    // What goes one way goes the other, of dielectrics.
    void reciprocity()
    {
        for (const auto& [a, b] : {std::pair{from(30, 10), from(60, 140)}, std::pair{from(75, 80), from(10, 300)}}) {
            const surface::Material material{{0.7f, 0.5f, 0.2f}, 0, 0.3f, 0.8f};
            const Rgb there = LayeredSurface(material, brushed(0.6f, 1.8f), a).evaluate(b).f;
            const Rgb back = LayeredSurface(material, brushed(0.6f, 1.8f), b).evaluate(a).f;
            QVERIFY(std::abs(there.x - back.x) < 1e-4f * there.x + 1e-6f);
        }
    }

    void followsItsDensity()
    {
        for (const float metallic : {0.0f, 1.0f})
            for (const double round : {0.0, 60.0}) {
                const QString wrong =
                    support::densityIsWrong({{{0.7f, 0.5f, 0.2f}, metallic, 0.6f, 1}, brushed(0.6f), from(50, round)}, 0, 10, 8);
                QVERIFY2(wrong.isEmpty(), qPrintable(QString("metallic %1, %2 degrees: %3").arg(metallic).arg(round).arg(wrong)));
            }
    }

    // --- a coat over a relief ---------------------------------------------------------------------------------------------------------

    // Its highlight is where its own normal sends it; the base keeps its own.
    void coatHasItsOwnNormal()
    {
        Layers layers;
        layers.clearcoat = 1;
        layers.clearcoatRoughness = 0.2f;
        const LayeredSurface surface({{0, 0, 0}, 0, 1, 0}, layers, at(10), 0, at(20));
        double best = 0, where = 0;
        for (double angle = -80; angle <= 80; angle += 0.5)
            if (const double light = double(surface.evaluate(at(angle)).f.x) * std::cos(base::radians(angle)); light > best) {
                best = light;
                where = angle;
            }
        QVERIFY2(std::abs(where - 30) <= 1, qPrintable(QString::number(where)));
        // As an even one seen so, but for what the light's cosine on the base changes.
        const LayeredSurface even({{0, 0, 0}, 0, 1, 0}, layers, at(-10));
        QVERIFY(std::abs(best - double(even.evaluate(at(10)).f.x) * std::cos(base::radians(10))) < 1e-3 * best);
    }

    void coatInTheFurnace()
    {
        OPEN_GLOW_LONG_TEST
        Layers layers;
        layers.clearcoat = 1;
        for (const float coat : {0.0f, 0.4f})
            for (const double turn : {-40.0, 15.0, 40.0})
                for (const double angle : {5.0, 45.0, 80.0}) {
                    if (2 * turn - angle < -75)
                        continue;  // it would send light below the base
                    layers.clearcoatRoughness = coat;
                    const double albedo =
                        support::sampledAlbedo(LayeredSurface({{1, 1, 1}, 0, 0.5f, 1}, layers, at(angle), 0, at(turn)), 1 << 16);
                    QVERIFY2(albedo < 1.002 && albedo > 0.8, qPrintable(QString("%1 at %2: %3").arg(turn).arg(angle).arg(albedo)));
                }
        layers.clearcoatRoughness = 0.5f;
        const QString wrong = support::densityIsWrong({{{0.8f, 0.3f, 0.2f}, 0, 0.5f, 1}, layers, at(30), 0, at(-25)}, 0, 10, 8);
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong));
    }
};

OPEN_GLOW_TEST(TestBrushed)
#include "test_brushed.moc"
