// The first picture of a change, and what of it is kept for the next.
#include <QtTest>

#include "render/draft.h"
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

struct Made {
    render::DraftPicture picture;
    std::shared_ptr<const render::FirstHits> hits;
};

Made draft(const render::Scene& scene, const std::shared_ptr<const render::FirstHits>& before = {})
{
    const render::Tracer tracer(scene);
    const film::FilmShape shape{100, 80, 0, 0, 100, 80, scene.entries};
    Draft made(
        scene, tracer, shape, 0, [](const Rgb* entries) { return entries[0]; }, before);
    made.addPass();
    return {made.picture([](Rgb light, float) { return light; }), made.firstHits()};
}

}  // namespace

class TestDraft : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // With other colours and lights the first hits serve again, and the picture is the one that new ones would give.
    void firstHitsServeAgainWhileOnlyLightAndColourChange()
    {
        render::Scene recoloured = ball();
        const Made before = draft(recoloured);
        recoloured.materials[0].baseColour = {0.1f, 0.5f, 0.7f};
        const Made again = draft(recoloured, before.hits), fresh = draft(recoloured);
        QVERIFY(again.hits == before.hits);
        QVERIFY(fresh.hits != before.hits);
        QVERIFY(again.picture.encoded == fresh.picture.encoded);
        QVERIFY(!(again.picture.encoded == before.picture.encoded));
    }

    void theyDoNotWhenViewOrBodiesChange()
    {
        const render::Scene start = ball();
        const Made before = draft(start);
        QVERIFY(draft(start, before.hits).hits == before.hits);
        render::Scene walked = start;
        walked.camera.eye.x += 20;
        QVERIFY(draft(walked, before.hits).hits != before.hits);
        render::Scene moved = start;
        moved.bodies[0].pose.origin.x += 5;
        const Made again = draft(moved, before.hits);
        QVERIFY(again.hits != before.hits);
        QVERIFY(!std::equal(again.picture.ids->values.begin(), again.picture.ids->values.end(), before.picture.ids->values.begin(),
                            [](const auto& a, const auto& b) { return a.piece == b.piece && a.letter == b.letter && a.part == b.part; }));
        render::Scene grounded = start;
        grounded.ground.kind = render::GroundKind::Wall;
        grounded.ground.wallZ = -60;
        QVERIFY(draft(grounded, before.hits).hits != before.hits);
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
        const Made made = draft(scene);
        double sum = 0;
        int seen = 0;
        for (int y = 0; y < 80; ++y)
            for (int x = 0; x < 100; ++x)
                if (made.picture.ids->at(x, y)->piece > 0) {
                    sum += made.picture.encoded.at(x, y)[0];
                    ++seen;
                }
        QVERIFY(seen > 1000);
        QVERIFY2(std::abs(sum / seen - 1) < 0.02, qPrintable(QString::number(sum / seen)));
    }
};

QTEST_APPLESS_MAIN(TestDraft)
#include "test_draft.moc"
