// The first picture of a change, and what of it is kept for the next.
#include <QtTest>

#include "render/draft.h"
#include "support/expose.h"
#include "support/support.h"

using base::Rgb;
using render::Draft;

namespace {

render::Scene ball()
{
    surface::Material material;
    material.baseColour = {0.6f, 0.3f, 0.2f};
    render::Scene scene = support::scene({support::sphere(60, 24), support::box({-90, -60, -60}, {-50, -20, 0})}, material, 200, 160);
    scene.surroundings = true;
    scene.entries = {{"surroundings", film::EntryKind::Surroundings}};
    return scene;
}

const film::FilmShape kShape{100, 80, 0, 0, 100, 80, {{"surroundings", film::EntryKind::Surroundings}}};

bool begin(Draft& draft, const render::Scene& scene, bool sameLight = false, const std::stop_token& stop = {})
{
    // Kept until the next: a draft's scene and tracer outlive its calls.
    static std::unique_ptr<render::Tracer> s_tracer;
    static render::Scene s_scene;
    s_scene = scene;
    s_tracer = std::make_unique<render::Tracer>(s_scene);
    return draft.begin(
        s_scene, *s_tracer, kShape, 0, [](const Rgb* entries) { return entries[0]; }, sameLight, stop);
}

// Three channels, 255 for light of 1.
render::DraftPicture pictureOf(Draft& draft)
{
    return draft.picture([](Rgb light, float, double, double) { return light; });
}

render::DraftPicture made(Draft& draft, const render::Scene& scene, int passes = 1, bool sameLight = false)
{
    begin(draft, scene, sameLight);
    for (int i = 0; i < passes; ++i)
        draft.addPass();
    return pictureOf(draft);
}

// Lit from one side by a small lamp, with a shadow: what needs many paths.
render::Scene lit()
{
    render::Scene scene = ball();
    scene.ground.kind = render::GroundKind::Wall;
    scene.ground.wallZ = -60;
    scene.ground.wallMaterial = 0;
    return scene;
}

double error(const render::DraftPicture& a, const render::DraftPicture& b)
{
    double sum = 0;
    for (std::size_t i = 0; i < a.encoded.values.size(); ++i)
        sum += std::pow(static_cast<double>(a.encoded.values[i]) - b.encoded.values[i], 2);
    return std::sqrt(sum / static_cast<double>(a.encoded.values.size()));
}

}  // namespace

class TestDraft : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // With other colours and lights the first hits serve again, and the picture is the one that new ones would give.
    void firstHitsServeAgainWhileOnlyLightAndColourChange()
    {
        render::Scene recoloured = ball();
        Draft draft, other;
        const auto before = made(draft, recoloured);
        QVERIFY(draft.lookedAnew());
        recoloured.materials[0].baseColour = {0.1f, 0.5f, 0.7f};
        const auto again = made(draft, recoloured), fresh = made(other, recoloured);
        QVERIFY(!draft.lookedAnew());
        QVERIFY(other.lookedAnew());
        QVERIFY(again.encoded == fresh.encoded);
        QVERIFY(!(again.encoded == before.encoded));
    }

    void theyDoNotWhenViewOrBodiesChange()
    {
        const render::Scene start = ball();
        Draft draft;
        const auto before = made(draft, start);
        const auto looksAnewFor = [&](const render::Scene& scene) {
            made(draft, start);
            made(draft, scene);
            return draft.lookedAnew();
        };
        QVERIFY(!looksAnewFor(start));
        render::Scene walked = start;
        walked.camera.eye.x += 20;
        QVERIFY(looksAnewFor(walked));
        render::Scene moved = start;
        moved.bodies[0].pose.origin.x += 5;
        QVERIFY(looksAnewFor(moved));
        const auto again = made(draft, moved);
        QVERIFY(!std::equal(again.ids->values.begin(), again.ids->values.end(), before.ids->values.begin(),
                            [](const auto& a, const auto& b) { return a.piece == b.piece && a.letter == b.letter && a.part == b.part; }));
        render::Scene grounded = start;
        grounded.ground.kind = render::GroundKind::Wall;
        grounded.ground.wallZ = -60;
        QVERIFY(looksAnewFor(grounded));
    }

    // Walking round, light goes with its surface: after a few steps a single pass is nearer to the mean of many passes than it would
    // be alone; and what was hidden before takes nothing from what hid it.
    void lightIsTakenAlong()
    {
        render::Scene scene = lit();
        Draft draft, alone, many;
        made(draft, scene);
        for (int step = 0; step < 8; ++step) {
            scene.camera.eye.x += 4;
            (void)made(draft, scene, 1, true);
        }
        scene.camera.eye.x += 4;
        const auto walked = made(draft, scene, 1, true), fresh = made(alone, scene), reference = made(many, scene, 64);
        const double with = error(walked, reference), without = error(fresh, reference);
        QVERIFY2(with < 0.65 * without, qPrintable(QString("%1 of %2").arg(with).arg(without)));
        // Light of another colour is nobody's: said to be the same it would be seen, left out it is not.
        scene.materials[0].baseColour = {0.1f, 0.1f, 0.9f};
        Draft blue;
        QVERIFY(made(draft, scene).encoded == made(blue, scene).encoded);
    }

    // What is stopped counts for nothing, and the next picture is as good as if it had not been begun.
    void whatIsStoppedLeavesNothing()
    {
        std::stop_source stop;
        stop.request_stop();
        render::Scene scene = lit();
        Draft draft, other;
        made(draft, scene, 3);
        made(other, scene, 3);
        scene.camera.eye.x += 4;
        QVERIFY(!begin(draft, scene, true, stop.get_token()));
        const auto next = made(draft, scene, 1, true);
        QVERIFY(error(next, made(other, scene, 1, true)) < 1);
        QVERIFY(!draft.addPass(stop.get_token()));
        QVERIFY(pictureOf(draft).encoded == next.encoded);
        // A picture that was begun and not drawn.
        scene.camera.eye.x += 4;
        QVERIFY(begin(draft, scene, true));
        scene.camera.eye.x += 4;
        const auto after = made(draft, scene, 1, true), fresh = made(other, scene, 1), reference = made(other, scene, 64);
        QVERIFY(error(after, reference) < 0.8 * error(fresh, reference));
    }

    // Light that a mirror throws on the wall is found by few paths. They stand as no blocks in the first picture, and most of their light
    // is there.
    void noPathStandsAsABlock()
    {
        render::Scene scene = lit();
        surface::Material mirror;
        mirror.baseColour = {1, 1, 1};
        mirror.metallic = 1;
        mirror.roughness = 0;
        scene.materials.push_back(mirror);
        scene.bodies[0].materials.fill(1);
        scene.surroundings = false;
        scene.entries.clear();
        light::Light lamp = support::lightAt(light::LightKind::Bulb, {150, 120, 0});
        lamp.radius = 8;
        support::addLight(scene, lamp);
        Draft first, many;
        const auto one = made(first, scene), all = made(many, scene, 256);
        int blocks = 0, seen = 0;
        double sum = 0, mean = 0;
        for (int y = 0; y < 80; ++y)
            for (int x = 0; x < 100; ++x)
                if (one.ids->at(x, y)->piece == 0) {
                    ++seen;
                    sum += one.encoded.at(x, y)[0];
                    mean += all.encoded.at(x, y)[0];
                    blocks += one.encoded.at(x, y)[0] > all.encoded.at(x, y)[0] + 50;
                }
        QVERIFY(seen > 1000);
        QVERIFY2(blocks < 0.002 * seen, qPrintable(QString("%1 of %2").arg(blocks).arg(seen)));
        QVERIFY2(std::abs(sum / mean - 1) < 0.15, qPrintable(QString("%1 for %2").arg(sum).arg(mean)));
    }

    // A white body in white light from all round is 1 everywhere (a furnace): what cells share adds no edge and no tint.
    void aWhiteFurnaceStaysWhite()
    {
        surface::Material white;
        white.baseColour = {1, 1, 1};
        white.specular = 0;
        white.roughness = 1;
        render::Scene scene = support::scene({support::sphere(60, 24)}, white, 200, 160);
        scene.surroundings = true;
        scene.entries = {{"surroundings", film::EntryKind::Surroundings}};
        Draft draft;
        const auto drawn = made(draft, scene);
        double sum = 0;
        int seen = 0;
        for (int y = 0; y < 80; ++y)
            for (int x = 0; x < 100; ++x)
                if (drawn.ids->at(x, y)->piece > 0) {
                    sum += drawn.encoded.at(x, y)[0] / 255.0;
                    ++seen;
                }
        QVERIFY(seen > 1000);
        QVERIFY2(std::abs(sum / seen - 1) < 0.02, qPrintable(QString::number(sum / seen)));
    }
};

OPEN_GLOW_TEST(TestDraft)
#include "test_draft.moc"
