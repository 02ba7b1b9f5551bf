// Brushed materials and coats over a relief in the picture.
#include <QtTest>

#include "base/units.h"
#include "solid/slab.h"
#include "support/expose.h"
#include "support/support.h"

using base::Vec3;
using render::Scene;

namespace {

constexpr int kSide = 64;

// A block of 200 x 200 x 100 pt, its front seen from 100 pt by 100, under a small softbox before its middle.
Scene block(const surface::Material& material, const surface::Layers& layers)
{
    const outline::Outline square = support::polygon({{{-100, -100}, {100, -100}, {100, 100}, {-100, 100}}}, 0.01);
    const auto body = std::make_shared<const solid::Body>(*solid::makeSlab(square, {100, {}, {}, solid::Corners::Mitred}, 0.02, {}));
    Scene scene = support::scene({body}, material, 100, 100);
    scene.layers = {layers};
    scene.covers.resize(1);
    support::addLight(scene, support::square({0, 0, 400}, {0, 0, -1}, {1, 0, 0}, 10, 300));
    return scene;
}

// How far light spreads over the picture, pt^2: to the right, up, and along the one with the other.
std::array<double, 3> spreadOf(const Scene& scene)
{
    const auto film = support::expose(scene, kSide, kSide, 64);
    double sum = 0;
    std::array<double, 3> spread{};
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const double light = double(support::meanOf(*film, x, y).y), px = (x + 0.5 - kSide / 2.0) * 100 / kSide,
                         py = (kSide / 2.0 - y - 0.5) * 100 / kSide;
            sum += light;
            spread[0] += light * px * px;
            spread[1] += light * py * py;
            spread[2] += light * px * py;
        }
    for (double& s : spread)
        s /= sum;
    return spread;
}

surface::Layers brushed(double turn)
{
    surface::Layers layers;
    layers.anisotropy = 0.6f;
    layers.anisotropyRotation = float(base::radians(turn));
    return layers;
}

}  // namespace

class TestGrain : public QObject {
    Q_OBJECT

    const surface::Material m_steel{{0.8f, 0.8f, 0.8f}, 1, 0.15f, 1};

private Q_SLOTS:
    // KHR_materials_anisotropy: to where u grows, which is to the right of the face, turned counter-clockwise.
    void highlightsGoByTheSheet()
    {
        OPEN_GLOW_LONG_TEST
        const auto even = spreadOf(block(m_steel, {})), right = spreadOf(block(m_steel, brushed(0))),
                   up = spreadOf(block(m_steel, brushed(90))), slant = spreadOf(block(m_steel, brushed(30)));
        QVERIFY(std::abs(even[0] - even[1]) < 0.1 * even[0]);
        QVERIFY2(right[0] > 3 * right[1] && up[1] > 3 * up[0], qPrintable(QString("%1 by %2").arg(right[0]).arg(right[1])));
        const double turn = base::degrees(0.5 * std::atan2(2 * slant[2], slant[0] - slant[1]));
        QVERIFY2(std::abs(turn - 30) < 4, qPrintable(QString::number(turn)));
    }

    // It goes with the piece, and on its sides along the outline.
    void highlightsGoByThePiece()
    {
        OPEN_GLOW_LONG_TEST
        Scene turned = block(m_steel, brushed(0));
        const double s = std::sqrt(0.5);
        turned.bodies[0].pose = {{s, s, 0}, {-s, s, 0}, {0, 0, 1}, {}};
        const auto spread = spreadOf(turned);
        QVERIFY(spread[2] > 0.4 * spread[0] && std::abs(spread[0] - spread[1]) < 0.15 * spread[0]);

        Scene side = block(m_steel, brushed(0));
        side.camera.eye = {1000, 0, 50};
        side.camera.right = {0, 0, -1};
        side.camera.forward = {-1, 0, 0};
        side.lights.clear();
        side.entries.clear();
        support::addLight(side, support::square({400, 0, 50}, {-1, 0, 0}, {0, 0, -1}, 10, 300));
        const auto along = spreadOf(side);
        QVERIFY2(along[1] > 3 * along[0], qPrintable(QString("%1 by %2").arg(along[0]).arg(along[1])));
    }

    // A thick lacquer is level over hammered ground; a thin one follows it.
    void coatsLevelOrFollow()
    {
        const auto lit = [&](float relief, float follows) {
            surface::Layers layers;
            layers.clearcoat = 1;
            layers.clearcoatRoughness = 0.3f;
            layers.clearcoatRelief = follows;
            Scene scene = block({{0, 0, 0}, 0, 1, 0}, layers);
            surface::Pattern& pattern = scene.covers[0].pattern;
            pattern.kind = surface::PatternKind::Hammered;
            pattern.sizePt = 12;
            pattern.second = {0, 0, 0};
            pattern.relief = relief;
            return support::expose(scene, kSide, kSide, 64);
        };
        const auto flat = lit(0, 0), level = lit(1, 0), follows = lit(1, 1);
        double whole = 0, levelled = 0, followed = 0;
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                const float is = support::meanOf(*flat, x, y).y;
                whole += double(is);
                levelled += double(std::abs(support::meanOf(*level, x, y).y - is));
                followed += double(std::abs(support::meanOf(*follows, x, y).y - is));
            }
        QVERIFY(whole > 0);
        QVERIFY2(levelled < 0.05 * whole && followed > 0.3 * whole,
                 qPrintable(QString("%1 and %2 of %3").arg(levelled).arg(followed).arg(whole)));
    }

    // A coat with normals of its own (KHR_materials_clearcoat): one that leans by phi mirrors the light from where its way bends by 2 phi,
    // whatever lies under it; what lies under it stays as it is.
    void coatsHaveTheirOwn()
    {
        surface::Layers layers;
        layers.clearcoat = 1;
        layers.clearcoatRoughness = 0.1f;
        constexpr int kLeans = 132;
        const auto middleOf = [&](bool own, bool relief) {
            Scene scene = block({{0, 0, 0}, 0, 1, 0}, layers);
            surface::Cover& cover = scene.covers[0];
            cover.pictures.normals = true;
            if (own)
                cover.pictures.coat = std::make_shared<const surface::Texture>(1, 1, std::vector<std::uint8_t>{kLeans, 128, 255, 255});
            if (own)
                cover.pictures.coat->makeValues();
            if (relief) {
                cover.pattern.kind = surface::PatternKind::Hammered;
                cover.pattern.sizePt = 12;
            }
            const auto film = support::expose(scene, kSide, kSide, 64);
            double sum = 0, x = 0;
            for (int row = 0; row < kSide; ++row)
                for (int column = 0; column < kSide; ++column) {
                    const double light = double(support::meanOf(*film, column, row).y);
                    sum += light;
                    x += light * (column + 0.5 - kSide / 2.0) * 100 / kSide;
                }
            return x / sum;
        };
        const double sine = kLeans / 127.5 - 1, expected = -(400 - 100) * std::tan(2 * std::asin(sine));
        QVERIFY(std::abs(middleOf(false, false)) < 1);
        for (const bool relief : {false, true})
            QVERIFY2(std::abs(middleOf(true, relief) - expected) < 1.5,
                     qPrintable(QString("%1, not %2").arg(middleOf(true, relief)).arg(expected)));
    }
};

OPEN_GLOW_TEST(TestGrain)
#include "test_grain.moc"
