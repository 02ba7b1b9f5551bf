// Pictures on bodies as they are rendered: real size on face, bevel and side, holes, light through them.
#include <QtTest>

#include "render/draft.h"
#include "solid/slab.h"
#include "support/expose.h"
#include "support/support.h"

using base::Vec3;
using render::Scene;
using support::expose;
using support::meanOf;
using surface::PictureEdges;
using surface::PictureLies;

namespace {

surface::SharedTexture textureOf(int width, int height, const std::function<int(int x, int y)>& grey)
{
    std::vector<std::uint8_t> rgba;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const auto v = std::uint8_t(grey(x, y));
            rgba.insert(rgba.end(), {v, v, v, 255});
        }
    auto texture = std::make_shared<const surface::Texture>(width, height, std::move(rgba));
    texture->makeColours();
    texture->makeValues();
    return texture;
}

// White on its left half, black on its right one: as many pt of each as half its width.
surface::Pictures halves(float width, PictureLies lies = PictureLies::Wrapped)
{
    surface::Pictures pictures;
    pictures.colour = textureOf(64, 64, [](int x, int) { return x < 32 ? 255 : 0; });
    pictures.widthPt = width;
    pictures.lies = lies;
    return pictures;
}

// A plank of 200 x 200 pt, 60 deep, with bevels of 40 in front, matte, in even light.
Scene plank(const surface::Pictures& pictures)
{
    const outline::Outline square = support::polygon({{{-100, -100}, {100, -100}, {100, 100}, {-100, 100}}}, 0.01);
    const solid::SlabForm form{60, {40, 40}, {}, solid::Corners::Mitred};
    const auto body = std::make_shared<const solid::Body>(*solid::makeSlab(square, form, 0.02, {}));
    Scene scene = support::scene({body}, {{1, 1, 1}, 0, 1, 0}, 100, 100);
    scene.layers.resize(1);
    scene.covers = {{{}, pictures}};
    scene.surroundings = true;
    scene.entries = {{"surroundings", film::EntryKind::Surroundings}};
    return scene;
}

// A flat square of 100 pt in front of nothing, or of a white wall 50 pt behind.
Scene card(const surface::Pictures& pictures, bool wall)
{
    Scene scene = support::scene({support::plate({-50, -50, 0}, {100, 0, 0}, {0, 100, 0})}, {{1, 1, 1}, 0, 1, 0}, 100, 100);
    scene.layers.resize(2);
    scene.materials.push_back({{1, 1, 1}, 0, 1, 0});
    scene.covers = {{{}, pictures}, {}};
    if (wall)
        scene.ground = {render::GroundKind::Wall, -50, 0, 0, 1, 1};
    return scene;
}

// Where the middle line of the picture goes from dark to light or back, in pixels.
std::vector<int> changes(const Scene& scene, bool up = false)
{
    constexpr int kSide = 200;
    const auto film = expose(scene, kSide, kSide, 16);
    std::vector<int> places;
    bool before = false;
    for (int i = 0; i < kSide; ++i) {
        const bool now = meanOf(*film, up ? kSide / 2 : i, up ? i : kSide / 2).y > 0.4f;
        if (i > 0 && now != before)
            places.push_back(i);
        before = now;
    }
    return places;
}

}  // namespace

class TestPictures : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A frame of 100 pt, 200 px wide: a picture 25 pt wide changes every 25 px, from the middle on. On the side, seen from the right, it
    // runs along the outline; on a bevel of 45 degrees along its slope, and seen from the front it is as large as on the face.
    void itMeasuresItsSize()
    {
        Scene face = plank(halves(25));
        const auto places = changes(face);
        QVERIFY2(places.size() >= 7 && places.size() <= 9, qPrintable(QString::number(places.size())));
        for (std::size_t i = 0; i < places.size(); ++i)
            QVERIFY2(std::abs((places[i] - 100) % 25) <= 1 || std::abs((places[i] - 100) % 25) >= 24,
                     qPrintable(QString::number(places[i])));
        QVERIFY(changes(face, true).empty());

        Scene side = face;
        side.camera.eye = {1000, 0, 10};
        side.camera.right = {0, 0, -1};
        side.camera.forward = {-1, 0, 0};
        side.camera.frameWidth = side.camera.frameHeight = 50;
        side.camera.eye.z = 10;  // the side is 20 pt deep under the bevel
        QVERIFY2(std::abs(int(changes(side, true).size()) - 4) <= 1, qPrintable(QString::number(changes(side, true).size())));

        Scene bevel = plank(halves(10));
        bevel.camera.eye = {80, 0, 1000};
        bevel.camera.frameWidth = bevel.camera.frameHeight = 36;
        QVERIFY2(std::abs(double(changes(bevel).size()) - 7.2) <= 1.1, qPrintable(QString::number(changes(bevel).size())));
        bevel.covers[0].pictures.lies = PictureLies::Outline;
        bevel.covers[0].pictures.turn = {0, 1};
        const double along = 2 * 36 / std::cos(base::kPi / 4) / 10;
        QVERIFY2(std::abs(double(changes(bevel).size()) - along) <= 1.1, qPrintable(QString::number(changes(bevel).size())));
    }

    // One sheet goes on from letter to letter: two bodies of one piece show what lies over them both; letter by letter each begins anew.
    void overTheWholePiece()
    {
        surface::Pictures pictures = halves(80, PictureLies::Front);
        pictures.edges = PictureEdges::Once;
        Scene scene = card(pictures, false);
        scene.bodies = {};
        const auto half = support::plate({0, 0, 0}, {40, 0, 0}, {0, 40, 0});
        for (const double x : {-45.0, 5.0}) {
            render::PlacedBody body{half, {}, {}, 0, {}, {}};
            body.pose.origin = {x, -20, 0};
            body.home = {x, -20};
            scene.bodies.push_back(body);
        }
        support::addLight(scene, support::square({0, 0, 400}, {0, 0, -1}, {1, 0, 0}, 200, 400));
        const auto bright = [&](int x) { return double(meanOf(*expose(scene, 100, 100, 32), x, 50).y); };
        // The left one is white but for its outer 5 pt, where the picture has ended and the base is as white; the right one black up to 40.
        QVERIFY(bright(20) > 0.2 && bright(60) < 0.05 && bright(80) < 0.05 && bright(92) > 0.2);
        scene.covers[0].pictures.lies = PictureLies::Letter;
        scene.covers[0].pictures.widthPt = 40;
        QVERIFY(bright(15) > 0.2 && bright(35) < 0.05 && bright(65) > 0.2 && bright(85) < 0.05);
    }

    // Checks of half a pixel are grey in every pixel, in perspective far off as well.
    void fineOnesAreEven()
    {
        surface::Pictures pictures = halves(64 * 0.2f);
        pictures.colour = textureOf(64, 64, [](int x, int y) { return (x + y) % 2 ? 255 : 0; });
        Scene scene = plank(pictures);
        for (const bool perspective : {false, true}) {
            scene.camera.perspective = perspective;
            const auto film = expose(scene, 32, 32, 16);
            for (int i = 0; i < 32; ++i)
                QVERIFY2(std::abs(meanOf(*film, i, 16).y - 0.5f) < 0.06f, qPrintable(QString::number(meanOf(*film, i, 16).y)));
        }
    }

    // One pass of the draft has it in place already.
    void theDraftIsCrisp()
    {
        Scene scene = plank(halves(20));
        const film::FilmShape shape{200, 200, 0, 0, 200, 200, scene.entries};
        const render::Tracer tracer(scene);
        render::Draft draft;
        draft.begin(scene, tracer, shape, 0, [](const base::Rgb* entries) { return entries[0]; }, false, {});
        draft.addPass();
        const auto picture = draft.picture([](base::Rgb light, float, double, double) { return light; });
        int wrong = 0;
        for (int y = 20; y < 180; ++y)
            for (int x = 0; x < 200; ++x) {
                const double u = ((x + 0.5 - 100) / 2 + 10) / 20, in = u - std::floor(u),
                             edge = std::min(std::abs(in - 0.5), std::min(in, 1 - in));
                wrong += edge > 0.06 && (picture.encoded.at(x, y)[1] > 120) != (in < 0.5);
            }
        QVERIFY2(wrong < 40, qPrintable(QString::number(wrong)));
    }

    // Through holes one sees what is behind, and chooses it; light goes through them: half of a card away, half of its shadow.
    void holes()
    {
        surface::Pictures pictures;
        pictures.cutOut = textureOf(2, 2, [](int x, int) { return x ? 255 : 0; });
        pictures.widthPt = 100;
        Scene scene = card(pictures, true);
        scene.surroundings = false;
        scene.entries.clear();
        light::Light sun;
        sun.kind = light::LightKind::Sun;
        sun.radius = 0.001;
        sun.towardsAim = base::normalized(Vec3{0, -1, -1});  // the shadow lies 50 pt lower
        support::addLight(scene, sun);
        scene.camera.frameHeight = scene.camera.frameWidth = 200;
        const auto film = expose(scene, 100, 100, 16);
        QCOMPARE(int(film->at(37, 40).ids->first().part), 254);  // the left half is wall, the right one card
        QCOMPARE(int(film->at(63, 40).ids->first().part) != 254, true);
        const auto lit = [&](int x, int y) { return meanOf(*film, x, y).y > 0.2f; };
        QVERIFY(lit(37, 87) && !lit(63, 87));
    }

    // A card that gives off light through a picture of which half is black gives the wall half the light of a whole one, to the noise of
    // the estimate; light aimed at it and light that is met agree.
    void lightThroughAPicture()
    {
        const auto mean = [](const surface::Pictures& pictures) {
            Scene scene = support::scene({support::plate({-50, -50, 0}, {0, 100, 0}, {100, 0, 0})}, {{1, 1, 1}, 0, 1, 0, 2}, 300, 300);
            scene.layers.resize(2);
            scene.materials.push_back({{0.5f, 0.5f, 0.5f}, 0, 1, 0});
            scene.covers = {{{}, pictures}, {}};
            scene.ground = {render::GroundKind::Wall, -80, 0, 0, 1, 1};
            scene.surroundings = false;
            scene.emissive = true;
            scene.entries = {{"emissive", film::EntryKind::Emissive}};
            return support::meanOver(*expose(scene, 40, 40, 256));
        };
        surface::Pictures pictures;
        pictures.light = textureOf(64, 64, [](int, int y) { return y % 16 < 8 ? 255 : 0; });
        pictures.widthPt = 100;
        pictures.lies = PictureLies::Front;
        const double whole = mean({}), half = mean(pictures);
        QVERIFY2(whole > 0.01 && std::abs(half / whole - 0.5) < 0.02, qPrintable(QString("%1 of %2").arg(half).arg(whole)));
        // As its colour it does the same.
        std::swap(pictures.light, pictures.colour);
        const double coloured = mean(pictures);
        QVERIFY2(std::abs(coloured / whole - 0.5) < 0.03, qPrintable(QString("%1 of %2").arg(coloured).arg(whole)));
    }
};

OPEN_GLOW_TEST(TestPictures)
#include "test_pictures.moc"
