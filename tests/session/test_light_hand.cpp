// Lights set by where their glint and their shadows are.
#include <QtTest>

#include "base/units.h"
#include "render/render.h"
#include "session/light_hand.h"
#include "support/long_test.h"
#include "support/registered.h"
#include "work/make_still.h"
#include "work/properties.h"

using base::Vec2;
using base::Vec3;
using session::LightHand;
using session::Touched;

namespace {

constexpr int kWidth = 240, kHeight = 180;

work::Work kites(const std::string& text)
{
    work::FontChoice font;
    font.style = "Bold";
    work::Work work = work::newWork(text, font, {kWidth, kHeight, work::Unit::Px, 72});
    work.surroundings.on = false;
    work.lights.items.begin()->second.kelvin = 4000;  // whatever it is besides
    return work;
}

// A letter of polished metal before nothing, domed or with a wide bevel.
work::Work polished(bool domed)
{
    work::Work work = kites("O");
    work.ground.kind = render::GroundKind::None;
    work::Piece& piece = work.pieces.items.at("p1");
    piece.lettering()->layout.sizePt = 200;
    piece.material.piece.metallic = 1;
    piece.material.piece.roughness = 0;
    piece.material.piece.baseColour = {1, 1, 1};
    if (domed)
        piece.form = solid::DomedForm{};
    else
        piece.slab()->front = {12, 12, solid::Profile::Roundover, 24};
    return work;
}

work::WorkBodies bodiesOf(const work::Work& work)
{
    work::Cache cache;
    return *work::makeBodies(work, 0.02, cache, {});
}

work::Light smallLight(light::LightKind kind)
{
    work::Light light;
    light.kind = kind;
    light.distance = 900;
    light.width = light.breadth = light.size = 30;
    light.sunSize = 2;
    light.cone = 60;
    return light;
}

// Brightness of a still of the work at its own size, by the samples as they are.
std::vector<float> rendered(const work::Work& work, unsigned samples)
{
    work::Cache cache;
    work::StillSettings settings;
    settings.widthPx = kWidth;
    settings.heightPx = kHeight;
    settings.stop = {samples, 0, 0};
    settings.denoise = denoise::Mode::Off;
    const auto still = work::makeStill(work, settings, cache, {});
    if (!still)
        qFatal("%s", still.error().message.c_str());
    std::vector<float> light;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x)
            light.push_back(luminance(finish::mixed(still->shares.entries(x, y), still->develop)));
    return light;
}

// Within a pixel of a place.
float brightestNear(const std::vector<float>& light, int x, int y)
{
    float most = 0;
    for (int j = y - 1; j <= y + 1; ++j)
        for (int i = x - 1; i <= x + 1; ++i)
            most = std::max(most, light[std::size_t(j * kWidth + i)]);
    return most;
}

Vec2 middleOf(int x, int y)
{
    return {(x + 0.5) / kWidth, (y + 0.5) / kHeight};
}

}  // namespace

class TestLightHand : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // The light's reflection is seen within a pixel of the place that was pointed at, for every kind of light, on a bevel and on a dome:
    // found in the rendered picture.
    void glintsAreWhereTheyWerePointedAt_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<bool>("domed");
        for (const auto& kind : work::kLights)
            for (const bool domed : {false, true})
                QTest::addRow("%s on a %s", kind.name, domed ? "dome" : "bevel") << int(kind.value) << domed;
    }
    void glintsAreWhereTheyWerePointedAt()
    {
        OPEN_GLOW_LONG_TEST
        QFETCH(int, kind);
        QFETCH(bool, domed);
        work::Work work = polished(domed);
        const auto bodies = bodiesOf(work);
        const LightHand hand(work, bodies);
        int tried = 0;
        for (const auto& [x, y] : {std::pair{60, 60}, {170, 70}, {80, 150}}) {
            // The nearest place whose mirror direction goes up or to the side, away from what else could be met.
            std::optional<Touched> at;
            int px = 0, py = 0;
            for (int i = 0; i < 60 && !at; ++i) {
                px = x + (i % 8) * 3;
                py = y + (i / 8) * 3;
                at = hand.touch(middleOf(px, py));
                if (at && (at->normal.z < 0.75 || at->normal.z > 0.97))
                    at.reset();
            }
            if (!at)
                continue;
            ++tried;
            const auto aimed = session::withGlintAt(smallLight(light::LightKind(kind)), work.ground, *at);
            QVERIFY2(aimed.why.empty(), aimed.why.c_str());
            QVERIFY(std::abs(aimed.light.distance - 900) < 1e-9 && aimed.light.width == 30);
            work.lights.items.begin()->second = aimed.light;
            const std::vector<float> light = rendered(work, 16);
            const float brightest = *std::max_element(light.begin(), light.end());
            const float near = brightestNear(light, px, py);
            QVERIFY2(near > 0.3f * brightest && brightest > 1,
                     qPrintable(QString("at %1, %2: %3 of %4").arg(px).arg(py).arg(double(near)).arg(double(brightest))));
        }
        QVERIFY(tried >= 2);
    }

    // Where a wall or a floor would hide the lamp it goes as far as it can, and says so.
    void whatCannotBe()
    {
        work::Work work = kites("O");
        work.ground.kind = render::GroundKind::Sweep;
        work.ground.floorBelow = 80;
        const Touched back{{0, 0, 10}, normalized(Vec3{1, 0, -0.1}), normalized(Vec3{1, 0, 1})};
        const auto aimed = session::withGlintAt(smallLight(light::LightKind::Softbox), work.ground, back);
        QVERIFY(aimed.why.find("behind the wall") != std::string::npos);
        const light::Light lamp = work::lightOf(aimed.light);
        QVERIFY(lamp.position.z > 0 && std::abs(length(lamp.position) - 900) < 1e-6);
        const Touched under{{0, 0, 10}, normalized(Vec3{0, -1, 0.3}), {0, 0, 1}};
        const auto low = session::withGlintAt(smallLight(light::LightKind::Bulb), work.ground, under);
        QVERIFY(low.why.find("below the floor") != std::string::npos);
        QVERIFY(work::lightOf(low.light).position.y > -80);
        const Touched far{{0, 2000, 0}, {0, 0, 1}, {0, 0, 1}};
        work.ground.kind = render::GroundKind::None;
        QVERIFY(session::withGlintAt(smallLight(light::LightKind::Bulb), work.ground, far).why.find("too near") != std::string::npos);
    }

    // A shadow that is pulled falls where it was let go: the ray from there to the lamp passes what casts it, and the place is dark in the
    // picture, while it was bright before.
    void shadowsFallWhereTheyArePulled_data()
    {
        QTest::addColumn<int>("kind");
        for (const auto& kind : work::kLights)
            QTest::newRow(kind.name) << int(kind.value);
    }
    void shadowsFallWhereTheyArePulled()
    {
        OPEN_GLOW_LONG_TEST
        QFETCH(int, kind);
        work::Work work = kites("I");
        work.ground.wallBehind = 40;
        work::Piece& piece = work.pieces.items.at("p1");
        piece.placement.stance = work::Stance::Free;
        piece.lettering()->layout.sizePt = 90;
        work::Light light = smallLight(light::LightKind(kind));
        light.direction = -40;
        light.height = 20;
        light.width = light.breadth = light.size = 4;
        light.sunSize = 0.5;
        work.lights.items.begin()->second = light;
        const auto bodies = bodiesOf(work);
        const LightHand hand(work, bodies);
        // The shadow's lower end: the lowest place on the wall that a body hides the lamp from.
        std::optional<Touched> tip;
        std::optional<Vec3> caster;
        for (int y = kHeight - 1; y >= 0 && !caster; --y)
            for (int x = 0; x < kWidth && !caster; ++x)
                if (const auto at = hand.touch(middleOf(x, y)); at && at->onGround)
                    if ((caster = hand.casterOf(at->point, light)))
                        tip = at;
        QVERIFY(tip.has_value());
        Vec2 place;
        work::Cache cache;
        const render::Camera camera = work::cameraOf(work, bodies);
        QVERIFY(render::project(camera, tip->point + Vec3{28, -16, 0}, place));
        const auto to = hand.touch(place);
        QVERIFY(to && to->onGround);
        const auto aimed = session::withShadowAt(light, work.ground, *caster, to->point);
        QVERIFY2(aimed.why.empty(), aimed.why.c_str());
        const light::Light lamp = work::lightOf(aimed.light);
        const Vec3 way = aimed.light.kind == light::LightKind::Sun ? -lamp.towardsAim : normalized(lamp.position - to->point);
        QVERIFY(length(cross(*caster - to->point, way)) < 1e-3);
        work.lights.items.begin()->second = aimed.light;
        // In the picture the shadow's lowest row and its end there, within a pixel.
        const std::vector<float> light2 = rendered(work, 32);
        const float lit = light2[std::size_t(4 * kWidth + kWidth - 4)];
        const int px = int(place.x * kWidth), py = int(place.y * kHeight);
        const auto isDark = [&](int x, int y) { return light2[std::size_t(y * kWidth + x)] < 0.5f * lit; };
        bool dark = false, below = false;
        for (int i = px - 1; i <= px + 1; ++i) {
            dark = dark || isDark(i, py - 1) || isDark(i, py);
            below = below || isDark(i, py + 2);
        }
        QVERIFY2(dark && !below, qPrintable(QString("%1, %2").arg(px).arg(py)));
    }

    // How soft: what a lamp's width becomes behind the caster, by intersecting lines.
    void penumbra()
    {
        const Vec3 caster{0, 0, 50}, ground{20, -30, -50};
        for (const auto& kind : work::kLights) {
            work::Light light = session::withShadowAt(smallLight(kind.value), {}, caster, ground).light;
            light = session::withPenumbra(light, caster, ground, 12);
            const double behind = length(caster - ground);
            const double wide = light.kind == light::LightKind::Sun ? 2 * behind * std::tan(base::radians(light.sunSize / 2))
                                                                    : (light.kind == light::LightKind::Softbox ? light.width : light.size) *
                                                                          behind / length(work::lightOf(light).position - caster);
            QVERIFY2(std::abs(wide - 12) < 1e-6, kind.name);
        }
    }

    // A card's reflection comes to a place on the letter, also when all surroundings are turned and tilted.
    void cardsByTheirReflection()
    {
        work::Work work = polished(true);
        work.lights = {};
        work.surroundings.on = true;
        work.surroundings.kind = work::SurroundingsKind::Sky;
        work.surroundings.above = work.surroundings.horizon = work.surroundings.below = {0, 0, 0};
        work.surroundings.turn = 35;
        work.surroundings.tilt = -20;
        work::SkyCard card;
        card.width = card.breadth = 4;
        card.softness = 0;
        card.stops = 5;
        const LightHand hand(work, bodiesOf(work));
        std::optional<Touched> at;
        int px = 60, py = 60;
        for (int i = 0; i < 64 && !at; ++i) {
            px = 60 + i % 8 * 3;
            py = 60 + i / 8 * 3;
            at = hand.touch(middleOf(px, py));
            if (at && at->normal.z < 0.75)
                at.reset();
        }
        QVERIFY(at.has_value());
        work.surroundings.cards.add("k1", session::withGlintAt(card, work.surroundings, *at));
        const std::vector<float> light = rendered(work, 16);
        const float brightest = *std::max_element(light.begin(), light.end());
        const float near = brightestNear(light, px, py);
        QVERIFY2(near > 0.3f * brightest && brightest > 1, qPrintable(QString("%1 of %2").arg(double(near)).arg(double(brightest))));
    }
};

OPEN_GLOW_TEST(TestLightHand)
#include "test_light_hand.moc"
