#include <QtTest>

#include "base/units.h"
#include "render/sampler.h"
#include "support/lobes.h"
#include "support/support.h"
#include "surface/energy.h"

using base::Rgb;
using base::Vec3f;
using support::at;
using support::densityIsWrong;
using support::sampledAlbedo;
using surface::Material;
using surface::Surface;

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
                const double albedo = sampledAlbedo(Surface({{1, 1, 1}, metallic, roughness, specular}, at(angle)), 1 << 18);
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

    // --- layers ---------------------------------------------------------------------------------------------------------------------

    // White under a coat, of any index: nothing is lost or made, but between the facets of a coat over a mirror. Sheens only take.
    void layersInTheFurnace_data()
    {
        QTest::addColumn<float>("metallic");
        QTest::addColumn<float>("ior");
        QTest::addColumn<float>("coat");
        QTest::addColumn<float>("sheen");
        QTest::newRow("none") << 0.0f << 1.5f << 0.0f << 0.0f;
        QTest::newRow("water") << 0.0f << 1.33f << 0.0f << 0.0f;
        QTest::newRow("between the table's indices") << 0.0f << 1.27f << 0.0f << 0.0f;
        QTest::newRow("diamond") << 0.0f << 2.42f << 0.0f << 0.0f;
        QTest::newRow("highest") << 0.0f << 3.0f << 0.0f << 0.0f;
        QTest::newRow("coated plastic") << 0.0f << 1.5f << 1.0f << 0.0f;
        QTest::newRow("half a coat") << 0.0f << 1.5f << 0.5f << 0.0f;
        QTest::newRow("coated metal") << 1.0f << 1.5f << 1.0f << 0.0f;
        QTest::newRow("cloth") << 0.0f << 1.5f << 0.0f << 1.0f;
        QTest::newRow("everything") << 0.5f << 1.8f << 0.7f << 0.6f;
    }
    void layersInTheFurnace()
    {
        QFETCH(float, metallic);
        QFETCH(float, ior);
        QFETCH(float, coat);
        QFETCH(float, sheen);
        for (const float roughness : {0.0f, 0.4f, 1.0f})
            for (const float over : {0.0f, 0.4f, 1.0f})
                for (const double angle : {5.0, 50.0, 85.0}) {
                    if (over > 0 && coat == 0 && sheen == 0)
                        continue;  // of what is not there
                    const surface::Layers layers{{1, 1, 1}, ior, coat, over, {sheen, sheen, sheen}, over};
                    const double albedo =
                        sampledAlbedo(surface::LayeredSurface({{1, 1, 1}, metallic, roughness, 1}, layers, at(angle)), 1 << 17);
                    QVERIFY2(albedo < 1.0015 && albedo > (sheen > 0 ? 0.6 : 0.99),
                             qPrintable(QString("roughness %1 under %2 at %3: %4").arg(roughness).arg(over).arg(angle).arg(albedo)));
                }
    }

    // Layers that add nothing change nothing.
    void withoutLayersItIsTheSame()
    {
        for (const Material& material : {Material{{0.7f, 0.5f, 0.2f}, 0, 0.3f, 1}, Material{{0.7f, 0.5f, 0.2f}, 1, 0.6f, 1},
                                         Material{{0.2f, 0.4f, 0.9f}, 0.4f, 0.15f, 0.5f}, Material{{0.7f, 0.5f, 0.2f}, 0, 0.5f, 0}})
            for (const double angle : {3.0, 50.0, 80.0})
                for (const double to : {-70.0, -20.0, 10.0, 60.0}) {
                    const auto plain = Surface(material, at(angle)).evaluate(at(to));
                    const auto layered = surface::LayeredSurface(material, {}, at(angle)).evaluate(at(to));
                    QVERIFY(std::abs(plain.f.x - layered.f.x) < 2e-3f * plain.f.x + 1e-4f);
                    QVERIFY(std::abs(plain.f.z - layered.f.z) < 2e-3f * plain.f.z + 1e-4f);
                }
    }

    // Fresnel head on, ((n - 1) / (n + 1))^2 (E. Hecht, Optics): water, glass, diamond; tinted and as strong as glTF's extensions say
    // (KHR_materials_ior, KHR_materials_specular, KHR_materials_clearcoat), over black.
    void headOn()
    {
        const auto albedo = [](const surface::Layers& layers, float specular) {
            return surface::LayeredSurface({{0, 0, 0}, 0, 0, specular}, layers, at(0.5)).albedo();
        };
        const auto is = [](float value, double expected) { return std::abs(value - expected) < 4e-4; };
        QVERIFY(is(albedo({{1, 1, 1}, 1.333f}, 1).x, 0.0204) && is(albedo({}, 1).x, 0.04) && is(albedo({{1, 1, 1}, 2.42f}, 1).x, 0.1724));
        const Rgb tinted = albedo({{1, 0.5f, 0}, 2}, 0.5f);
        QVERIFY(is(tinted.x, 1 / 18.0) && is(tinted.y, 1 / 36.0) && is(tinted.z, 0));
        QVERIFY(is(albedo({{1, 1, 1}, 1.5f, 0.5f, 0}, 0).y, 0.02));
        // Towards grazing angles the colour leaves it.
        const Rgb steep = surface::LayeredSurface({{0, 0, 0}, 0, 0, 1}, {{1, 0.5f, 0}, 1.5f}, at(88)).albedo();
        QVERIFY(steep.z > 0.9f * steep.x);
    }

    // The sheen's distribution covers the surface as facets do: integral of D cos = 1 (A. Estevez and C. Kulla 2017, equation 2).
    void sheenIsNormalised()
    {
        for (const float roughness : {0.2f, 0.5f, 1.0f}) {
            double sum = 0;
            constexpr int n = 4000;
            for (int i = 0; i < n; ++i) {
                const double t = (i + 0.5) / n * base::kPi / 2, z = std::cos(t);
                const Vec3f h{float(std::sin(t)), 0, float(z)};
                const double d = surface::sheenOf(h, h, roughness) * 4 * (2 * z - z * z);  // seen along itself
                sum += d * z * std::sin(t) * 2 * base::kPi * (base::kPi / 2 / n);
            }
            QVERIFY2(std::abs(sum - 1) < 2e-3, qPrintable(QString::number(sum)));
        }
    }

    // What goes one way goes the other: all but coats and metals, which are scaled towards the view.
    void reciprocity()
    {
        const Material material{{0.7f, 0.5f, 0.2f}, 0, 0.35f, 0.9f};
        const surface::Layers layers{{1, 0.6f, 0.3f}, 1.8f, 0, 0, {0.5f, 0.2f, 0.6f}, 0.4f};
        for (const double a : {5.0, 35.0, 65.0, 80.0})
            for (const double b : {-75.0, -40.0, 0.0, 20.0}) {
                const Rgb there = surface::LayeredSurface(material, layers, at(a)).evaluate(at(b)).f;
                const Rgb back = surface::LayeredSurface(material, layers, at(b)).evaluate(at(a)).f;
                QVERIFY(std::abs(there.x - back.x) < 1e-4f * there.x + 1e-6f && std::abs(there.z - back.z) < 1e-4f * there.z + 1e-6f);
            }
    }

    void layersFollowTheirDensity()
    {
        const std::pair<Material, surface::Layers> cases[] = {
            {{{0.8f, 0.3f, 0.2f}, 0, 0.5f, 1}, {{1, 1, 1}, 1.5f, 1, 0.3f}},
            {{{0.8f, 0.6f, 0.2f}, 1, 0.7f, 1}, {{1, 1, 1}, 1.5f, 0.6f, 0.4f}},
            {{{0.3f, 0.3f, 0.6f}, 0, 0.9f, 1}, {{1, 0.5f, 1}, 2.2f, 0, 0, {0.8f, 0.8f, 0.9f}, 0.5f}},
            {{{0.5f, 0.3f, 0.6f}, 0.4f, 0.4f, 1}, {{1, 0.5f, 1}, 1.2f, 0.9f, 0.8f, {0.3f, 0.1f, 0.1f}, 0.3f}}};
        for (const auto& [material, layers] : cases)
            for (const double angle : {15.0, 65.0}) {
                const QString wrong = densityIsWrong({material, layers, at(angle)}, 0, 10, 8);
                QVERIFY2(wrong.isEmpty(), qPrintable(QString("%1 degrees: %2").arg(angle).arg(wrong)));
            }
    }

    // --- glass ----------------------------------------------------------------------------------------------------------------------

    // Clear glass loses and makes nothing: from outside and inside, smooth and frosted, with wax or paint in it.
    void glassInTheFurnace_data()
    {
        QTest::addColumn<float>("eta");  // 0: a thin pane
        QTest::addColumn<float>("transmission");
        QTest::newRow("pane") << 0.0f << 1.0f;
        QTest::newRow("into glass") << 1.5f << 1.0f;
        QTest::newRow("out of glass") << 1 / 1.5f << 1.0f;
        QTest::newRow("into diamond") << 2.42f << 1.0f;
        QTest::newRow("out of diamond") << 1 / 2.42f << 1.0f;
        QTest::newRow("into what is the same") << 1.0f << 1.0f;
        QTest::newRow("into water, half of it milk") << 1.33f << 0.5f;
        QTest::newRow("wax") << 1.5f << 0.0f;
    }
    void glassInTheFurnace()
    {
        QFETCH(float, eta);
        QFETCH(float, transmission);
        for (const float roughness : {0.0f, 0.3f, 0.6f, 1.0f})
            for (const double angle : {5.0, 50.0, 85.0}) {
                surface::Layers layers;
                layers.transmission = transmission;
                layers.translucency = 0.7f * (1 - transmission);
                layers.solid = eta > 0;
                layers.ior = eta == 0 ? 1.5f : std::max(eta, 1 / eta);
                const double albedo = sampledAlbedo(surface::LayeredSurface({{1, 1, 1}, 0, roughness, 1}, layers, at(angle), eta), 1 << 17);
                // Of the roughest ones a hundredth is left to the noise of this.
                QVERIFY2(std::abs(albedo - 1) < (roughness >= 0.6f ? 0.01 : 0.004),
                         qPrintable(QString("roughness %1 at %2: %3").arg(roughness).arg(angle).arg(albedo)));
            }
    }

    // Snell: n sin a = sin b; beyond the critical angle, 41.8 degrees in glass, nothing leaves (E. Hecht, Optics). A pane lets
    // (1 - R) / (1 + R) = 0.923 through at right angles, and bends nothing.
    void snell()
    {
        surface::Layers layers;
        layers.transmission = layers.solid = 1;
        const Material clear{{1, 1, 1}, 0, 0, 1};
        const auto sent = [&](double angle, float eta, Vec3f* to = nullptr) {
            double through = 0;
            for (int i = 0; i < 4096; ++i) {
                render::Sampler sampler(1, 2, static_cast<std::uint32_t>(i), 3);
                const auto [u, v] = sampler.next2();
                const auto s = surface::LayeredSurface(clear, layers, at(angle), eta).sample(sampler.next1(), u, v);
                if (s.pdf > 0 && s.direction.z < 0) {
                    through += s.weight.x / 4096;
                    if (to)
                        *to = s.direction;
                }
            }
            return through;
        };
        for (const double angle : {0.5, 20.0, 60.0}) {
            Vec3f to;
            QVERIFY(sent(angle, 1.5f, &to) > 0.9);
            QVERIFY(std::abs(-to.x * 1.5 - std::sin(base::radians(angle))) < 0.01);
        }
        QVERIFY(sent(41, 1 / 1.5f) > 0.5 && sent(42.6, 1 / 1.5f) < 0.01);
        QVERIFY(std::abs(sent(0.5, 1.5f) - 0.96) < 1e-3);
        layers.solid = 0;
        Vec3f straight;
        QVERIFY(std::abs(sent(0.5, 0) - 0.923) < 1e-3 && sent(50, 0, &straight) > 0.8);
        QVERIFY(length(straight + at(50)) < 0.01f);
    }

    // glTF's volume: the colour is what is left of white after the distance.
    void absorption()
    {
        const Rgb a = surface::absorptionOf({0.5f, 1, 0.1f}, 20);
        QVERIFY(std::abs(std::exp(-20 * a.x) - 0.5f) < 1e-6f && a.y == 0 && std::abs(std::exp(-40 * a.z) - 0.01f) < 1e-6f);
        QCOMPARE(surface::absorptionOf({0.5f, 0, 0.1f}, 0), (Rgb{}));
    }

    void glassFollowsItsDensity()
    {
        for (const float eta : {0.0f, 1.5f, 1 / 1.5f})
            for (const float transmission : {1.0f, 0.6f})
                for (const double angle : {15.0, 60.0}) {
                    surface::Layers layers;
                    layers.transmission = transmission;
                    layers.translucency = 0.5f;
                    layers.solid = eta > 0;
                    layers.clearcoat = transmission < 1;
                    layers.clearcoatRoughness = 0.5f;
                    const QString wrong = densityIsWrong({{{0.8f, 0.5f, 0.3f}, 0, 0.7f, 1}, layers, at(angle), eta}, -1, 16, 6);
                    QVERIFY2(wrong.isEmpty(),
                             qPrintable(QString("%1 in %2, %3 degrees: %4").arg(transmission).arg(eta).arg(angle).arg(wrong)));
                }
    }

    // Eight side by side are as each alone.
    void layersSideBySide()
    {
        surface::MaterialOf<base::Wide> materials;
        surface::LayersOf<base::Wide> layers;
        base::V3<base::Wide> view, light, beyond, coatNormal;
        std::vector<std::pair<Material, surface::Layers>> alone;
        for (int i = 0; i < base::kLanes; ++i) {
            const float t = float(i) / 7;
            alone.push_back(
                {{{t, 0.5f, 1 - t}, i % 2 ? 1 - t : 0, t, 1}, {{1, t, 1}, 1 + t, i % 3 ? t : 0, t, {i % 2 ? t : 0, 0, t * t}, 1 - t}});
            const auto& [m, l] = alone.back();
            setLane(materials.baseColour, i, m.baseColour);
            materials.metallic.v[i] = m.metallic;
            materials.roughness.v[i] = m.roughness;
            materials.specular.v[i] = m.specular;
            setLane(layers.specularColour, i, l.specularColour);
            layers.ior.v[i] = l.ior;
            layers.clearcoat.v[i] = l.clearcoat;
            layers.clearcoatRoughness.v[i] = l.clearcoatRoughness;
            setLane(layers.sheenColour, i, l.sheenColour);
            layers.sheenRoughness.v[i] = l.sheenRoughness;
            alone.back().second.transmission = layers.transmission.v[i] = i % 4 == 1 ? 0 : 1 - t;
            alone.back().second.translucency = layers.translucency.v[i] = i % 4 < 2 ? 0 : t;
            alone.back().second.solid = layers.solid.v[i] = i % 2;
            surface::Layers& more = alone.back().second;
            more.anisotropy = layers.anisotropy.v[i] = i % 4 == 1 ? 0.9f : 0;
            more.iridescence = layers.iridescence.v[i] = i % 3 == 0 ? 0 : t;
            if (i % 3)
                more.film.film = surface::thinFilm({1.5f, 300 * t});
            layers.film.film[i] = more.film.film.get();
            setLane(coatNormal, i, i % 2 ? at(20 * t) : Vec3f{0, 0, 1});
            setLane(view, i, at(10 + 70 * t));
            setLane(light, i, at(60 - 100 * t));
            setLane(beyond, i, -at(100 * t - 60));
        }
        const surface::LayeredSurfaceOf<base::Wide> together(materials, layers, view, 0, coatNormal);
        const auto value = together.evaluate(light);
        const auto through = together.evaluate(beyond);
        const auto sample = together.sample(base::Wide(0.3f), base::Wide(0.4f), base::Wide(0.7f));
        for (int i = 0; i < base::kLanes; ++i) {
            const auto& [m, l] = alone[std::size_t(i)];
            const surface::LayeredSurface one(m, l, laneOf(view, i), 0, laneOf(coatNormal, i));
            const auto near = [](float a, float b) { return std::abs(a - b) <= 1e-4f * std::abs(b) + 1e-6f; };
            QVERIFY(near(value.f.x[i], one.evaluate(laneOf(light, i)).f.x) && near(value.pdf[i], one.evaluate(laneOf(light, i)).pdf));
            QVERIFY(near(through.f.x[i], one.evaluate(laneOf(beyond, i)).f.x) && near(through.pdf[i], one.evaluate(laneOf(beyond, i)).pdf));
            QVERIFY(near(sample.weight.y[i], one.sample(0.3f, 0.4f, 0.7f).weight.y));
        }
    }
};

OPEN_GLOW_TEST(TestMaterial)
#include "test_material.moc"
