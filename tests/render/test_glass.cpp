// Light through glass and layers, against closed forms and quadrature.
#include <QtTest>

#include "base/units.h"
#include "render/sampler.h"
#include "support/expose.h"
#include "support/support.h"
#include "surface/layered.h"

using base::Rgb;
using base::Vec3;
using base::Vec3f;
using light::Light;
using render::Scene;
using support::expose;
using support::meanOver;
using surface::Layers;
using surface::Material;

namespace {

Layers glass(float ior = 1.5f, Rgb absorption = {})
{
    Layers layers;
    layers.ior = ior;
    layers.transmission = layers.solid = 1;
    layers.absorption = absorption;
    return layers;
}

Scene sceneOf(const std::vector<solid::SharedBody>& bodies, const Material& material, const Layers& layers, double frame)
{
    Scene scene = support::scene(bodies, material, frame, frame);
    scene.layers = {layers};
    return scene;
}

void surround(Scene& scene)
{
    scene.surroundings = true;
    scene.entries = {{"surroundings", film::EntryKind::Surroundings}};
}

const Material kClear{{1, 1, 1}, 0, 0, 1};

}  // namespace

class TestGlass : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Clear glass in even surroundings is invisible, however it is bent, frosted, nested or overlapping; and wax that absorbs nothing.
    void furnace_data()
    {
        QTest::addColumn<float>("roughness");
        QTest::addColumn<float>("transmission");
        QTest::addColumn<int>("bodies");
        QTest::newRow("ball") << 0.0f << 1.0f << 1;
        QTest::newRow("frosted ball") << 0.5f << 1.0f << 1;
        QTest::newRow("wax") << 0.4f << 0.0f << 1;
        QTest::newRow("half wax, half glass") << 0.2f << 0.5f << 1;
        QTest::newRow("a drop of water in glass") << 0.0f << 1.0f << 2;
        QTest::newRow("glass grown into glass") << 0.0f << 1.0f << 3;
        QTest::newRow("a viewer in glass") << 0.5f << 1.0f << 4;
    }
    void furnace()
    {
        QFETCH(float, roughness);
        QFETCH(float, transmission);
        QFETCH(int, bodies);
        Layers layers = glass();
        layers.transmission = transmission;
        layers.translucency = transmission < 1 ? 0.8f : 0;
        Scene scene = sceneOf({support::sphere(40, 48)}, {{1, 1, 1}, 0, roughness, 1}, layers, 50);
        if (bodies == 2 || bodies == 3) {
            scene.materials.push_back(kClear);
            scene.layers.push_back(glass(bodies == 2 ? 1.33f : 1.5f));
            render::PlacedBody second{support::sphere(bodies == 2 ? 20 : 35, 48), {}, {}, 1, {0}, {}};
            second.materials.fill(1);
            if (bodies == 3)
                second.pose.origin = {20, 10, 0};
            scene.bodies.push_back(second);
        }
        if (bodies == 4)
            scene.camera.eye = {0, 0, 10};
        surround(scene);
        const double mean = meanOver(*expose(scene, 24, 24, 256));
        QVERIFY2(std::abs(mean - 1) < 0.004, qPrintable(QString::number(mean)));
    }

    // A plate in front of white surroundings: what its two sides and everything between them send back, and what of it goes through
    // (E. Hecht, Optics: multiple reflections in a plate, incoherent; Beer and Lambert's law): R and T of one side at right angles,
    // t = exp(-a d), T^2 t / (1 - R^2 t^2) + R + T^2 R t^2 / (1 - R^2 t^2).
    void aPlateAbsorbs()
    {
        const double depth = 20, a = 0.03;
        Scene scene = sceneOf({support::box({-200, -200, 0}, {200, 200, depth})}, kClear, glass(1.5f, {0.0f, float(a), 0.1f}), 20);
        surround(scene);
        const double r = 0.04, t = std::exp(-a * depth), one = (1 - r) * (1 - r) / (1 - r * r * t * t);
        const double expected = one * t + r + one * r * t * t, mean = meanOver(*expose(scene, 16, 16, 1024));
        QVERIFY2(std::abs(mean / expected - 1) < 0.01, qPrintable(QString("%1, not %2").arg(mean).arg(expected)));
    }

    // A ball bends light as the lensmaker's formula for a ball says: its focus lies n D / (4 (n - 1)) behind its middle (E. Hecht, Optics).
    // A little lamp d behind the focus is seen from there as wide as h d / f: of a frame of half h a lamp of half w fills w f / (h d).
    void aBallHasItsFocus()
    {
        for (const float ior : {1.5f, 1.8f}) {
            const double radius = 100, focus = ior * 2 * radius / (4 * (ior - 1)), half = 4, past = 20, lamp = 0.4;
            Scene scene =
                sceneOf({support::sphere(radius, 300), support::plate({-lamp, -half, -focus - past}, {2 * lamp, 0, 0}, {0, 2 * half, 0})},
                        kClear, glass(ior), 2 * half);
            Material shining{{1, 1, 1}, 0, 1, 0, 1};
            scene.materials.push_back(shining);
            scene.layers.push_back({});
            scene.bodies[1].materials.fill(1);
            scene.emissive = true;
            scene.entries = {{"emissive", film::EntryKind::Emissive}};
            const double r = std::pow((ior - 1) / (ior + 1), 2), through = (1 - r) * (1 - r);
            const double expected = through * lamp * focus / (half * past), mean = meanOver(*expose(scene, 64, 16, 256));
            QVERIFY2(std::abs(mean / expected - 1) < 0.05, qPrintable(QString("index %1: %2, not %3").arg(ior).arg(mean).arg(expected)));
        }
    }

    // What a softbox does to a plate of a material, before or behind it, is the integral of the material's values over the box.
    void layersInLight_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<bool>("behind");
        QTest::newRow("coat over paint") << 0 << false;
        QTest::newRow("velvet") << 1 << false;
        QTest::newRow("tinted layer of high index") << 2 << false;
        QTest::newRow("frosted pane") << 3 << true;
        QTest::newRow("paper from behind") << 4 << true;
        QTest::newRow("paper from the front") << 4 << false;
    }
    void layersInLight()
    {
        QFETCH(int, kind);
        QFETCH(bool, behind);
        Material material{{0.7f, 0.4f, 0.2f}, kind == 2 ? 0.0f : 0.1f, kind == 3 ? 0.6f : 0.5f, 1};
        Layers layers;
        if (kind == 0) {
            layers.clearcoat = 0.8f;
            layers.clearcoatRoughness = 0.4f;
        } else if (kind == 1) {
            layers.sheenColour = {0.3f, 0.8f, 0.6f};
        } else if (kind == 2) {
            layers.ior = 2.2f;
            layers.specularColour = {1, 0.5f, 0.2f};
        } else if (kind == 3) {
            layers.transmission = 1;
        } else {
            layers.translucency = 0.6f;
        }
        Scene scene = sceneOf({support::plate({-300, -300, 0}, {600, 0, 0}, {0, 600, 0})}, material, layers, 2);
        const double side = behind ? -1 : 1, half = 60;
        const Light box = support::square({50, 20, side * 90}, {0, 0, -side}, {1, 0, 0}, half, 90);
        support::addLight(scene, box);
        const double mean = meanOver(*expose(scene, 16, 16, 512));

        surface::energyTables();
        surface::layerTables();
        surface::glassTables();
        const surface::LayeredSurface surface(material, layers, {0, 0, 1});
        double expected = 0;
        constexpr int kSteps = 400;
        for (int i = 0; i < kSteps; ++i)
            for (int j = 0; j < kSteps; ++j) {
                const Vec3 d{50 + half * (2 * (i + 0.5) / kSteps - 1), 20 + half * (2 * (j + 0.5) / kSteps - 1), side * 90};
                const double r2 = dot(d, d), cosine = 90 / std::sqrt(r2);
                const Vec3f to = base::toFloat(d * (1 / std::sqrt(r2)));
                expected += double(surface.evaluate(to).f.y) * cosine * cosine / r2 * (4 * half * half / (kSteps * kSteps));
            }
        expected *= light::radianceAtBrightness1(box);
        QVERIFY2(expected > 0.01 && std::abs(mean / expected - 1) < 0.01, qPrintable(QString("%1, not %2").arg(mean).arg(expected)));
    }

    // Glass that stands on a floor is as if glued on: the floor is seen through it, and no light comes from behind the floor.
    void glassOnAFloor()
    {
        Scene scene = sceneOf({support::box({-300, -300, 0}, {300, 300, 30})}, kClear, glass(), 40);
        scene.materials.push_back({{0, 0, 0}, 0, 1, 0});
        scene.layers.push_back({});
        scene.ground = {render::GroundKind::Wall, 0, 0, 0, 1, 1};
        surround(scene);
        // Only the glass's own front sends something back: the floor is black.
        const double mean = meanOver(*expose(scene, 16, 16, 256));
        QVERIFY2(std::abs(mean - 0.04) < 0.002, qPrintable(QString::number(mean)));
    }
};

OPEN_GLOW_TEST(TestGlass)
#include "test_glass.moc"
