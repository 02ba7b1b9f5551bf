// Patterns in the picture: as large as they are said to be, on every side; crisp in the draft.
#include <QtTest>

#include "render/draft.h"
#include "solid/slab.h"
#include "support/expose.h"
#include "support/support.h"

using base::Vec3;
using render::Scene;
using support::expose;
using support::meanOf;

namespace {

surface::Pattern stripes(float size, double turn = 0)
{
    surface::Pattern pattern;
    pattern.kind = surface::PatternKind::Stripes;
    pattern.sizePt = size;
    pattern.turn = {float(std::cos(turn)), float(std::sin(turn))};
    pattern.second = {0, 0, 0};
    return pattern;
}

// A plank of 200 x 200 pt, 60 deep, with bevels of 40 in front, in matte white with black stripes, in even light.
Scene plank(const surface::Pattern& pattern)
{
    const outline::Outline square = support::polygon({{{-100, -100}, {100, -100}, {100, 100}, {-100, 100}}}, 0.01);
    const solid::SlabForm form{60, {40, 40}, {}, solid::Corners::Mitred};
    const auto body = std::make_shared<const solid::Body>(*solid::makeSlab(square, form, 0.02, {}));
    Scene scene = support::scene({body}, {{1, 1, 1}, 0, 1, 0}, 100, 100);
    scene.layers.resize(1);
    scene.covers = {{pattern, {}}};
    scene.surroundings = true;
    scene.entries = {{"surroundings", film::EntryKind::Surroundings}};
    return scene;
}

// How often the middle line of the picture goes from dark to light or back.
int changes(const Scene& scene, bool up)
{
    constexpr int kSide = 200;
    const auto film = expose(scene, kSide, kSide, 16);
    int count = 0;
    bool before = false;
    for (int i = 0; i < kSide; ++i) {
        const bool now = meanOf(*film, up ? kSide / 2 : i, up ? i : kSide / 2).y > 0.5f;
        count += i > 0 && now != before;
        before = now;
    }
    return count;
}

}  // namespace

class TestRealSize : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A frame of 100 pt shows ten pairs of stripes of 10 pt on the face; of the side, seen from the right; and on a bevel of 45 degrees,
    // seen from the front, as many as there are pt of its slope: cos 45 degrees of it is seen.
    void stripesMeasureTheirSize()
    {
        Scene face = plank(stripes(10));
        QVERIFY(std::abs(changes(face, false) - 20) <= 1);
        QCOMPARE(changes(face, true), 0);

        Scene side = face;
        side.camera.eye = {1000, 0, 30};
        side.camera.right = {0, 0, -1};
        side.camera.forward = {-1, 0, 0};
        side.camera.frameWidth = side.camera.frameHeight = 50;
        QVERIFY2(std::abs(changes(side, true) - 10) <= 1, qPrintable(QString::number(changes(side, true))));

        Scene bevel = plank(stripes(10, base::kPi / 2));
        bevel.camera.eye = {80, 0, 1000};
        bevel.camera.frameWidth = bevel.camera.frameHeight = 36;
        const double expected = 2 * 36 / std::cos(base::kPi / 4) / 10;
        QVERIFY2(std::abs(changes(bevel, false) - expected) <= 1.1, qPrintable(QString::number(changes(bevel, false))));
    }

    // A piece that is moved and turned takes its pattern along.
    void aPatternStaysOnItsPiece()
    {
        Scene scene = plank(stripes(10));
        const double s = std::sqrt(0.5);
        scene.bodies[0].pose = {{s, s, 0}, {-s, s, 0}, {0, 0, 1}, {13, 4, 0}};
        const double expected = 20 * s;
        QVERIFY2(std::abs(changes(scene, false) - expected) <= 1.1 && std::abs(changes(scene, true) - expected) <= 1.1,
                 qPrintable(QString("%1, %2").arg(changes(scene, false)).arg(changes(scene, true))));
    }

    // Checks that no pixel resolves are even grey in every pixel, in the middle between the two; in perspective the far ones are as well.
    void fineOnesAreEven()
    {
        surface::Pattern checks = stripes(0.2f);
        checks.kind = surface::PatternKind::Checks;
        Scene scene = plank(checks);
        for (const bool perspective : {false, true}) {
            scene.camera.perspective = perspective;
            const auto film = expose(scene, 32, 32, 16);
            for (int i = 0; i < 32; ++i)
                QVERIFY2(std::abs(meanOf(*film, i, 16).y - 0.5f) < 0.06f, qPrintable(QString::number(meanOf(*film, i, 16).y)));
        }
    }

    // One pass of the draft, a path for 16 pixels, has the stripes in place already.
    void theDraftIsCrisp()
    {
        Scene scene = plank(stripes(10));
        const film::FilmShape shape{200, 200, 0, 0, 200, 200, scene.entries};
        const render::Tracer tracer(scene);
        render::Draft draft;
        draft.begin(scene, tracer, shape, 0, [](const base::Rgb* entries) { return entries[0]; }, false, {});
        draft.addPass();
        const auto picture = draft.picture([](base::Rgb light, float, double, double) { return light; });
        int wrong = 0;
        for (int y = 0; y < 200; ++y)
            for (int x = 0; x < 200; ++x) {
                const double u = (x + 0.5 - 100) / 2, in = u / 10 - std::floor(u / 10),
                             edge = std::min(std::abs(in - 0.5), std::min(in, 1 - in));
                const bool light = picture.encoded.at(x, y)[1] > 120;
                wrong += edge > 0.06 && light != (in < 0.5);
            }
        QVERIFY2(wrong < 40, qPrintable(QString::number(wrong)));
    }

    // Relief catches light from the side: hammered metal is uneven where flat metal is even.
    void reliefIsSeen()
    {
        surface::Pattern dents = stripes(20);
        dents.kind = surface::PatternKind::Hammered;
        const auto spread = [&](float relief) {
            dents.relief = relief;
            Scene scene = plank(dents);
            scene.surroundings = false;
            scene.entries.clear();
            light::Light sun;
            sun.kind = light::LightKind::Sun;
            sun.radius = 0.02;
            sun.towardsAim = base::normalized(Vec3{-300, 0, -200});
            support::addLight(scene, sun);
            const auto film = expose(scene, 64, 64, 64);
            double sum = 0, square = 0;
            for (int y = 16; y < 48; ++y)
                for (int x = 16; x < 48; ++x) {
                    const double v = double(meanOf(*film, x, y).y);
                    sum += v;
                    square += v * v;
                }
            return std::sqrt(square / 1024 - sum * sum / 1024 / 1024) / (sum / 1024);
        };
        const double flat = spread(0), deep = spread(1);
        QVERIFY2(deep > 2 * flat && deep > 0.1, qPrintable(QString("%1 and %2").arg(flat).arg(deep)));
    }
};

OPEN_GLOW_TEST(TestRealSize)
#include "test_real_size.moc"
