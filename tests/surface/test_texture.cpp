// Pictures on materials: what is looked up against closed forms, IEC 61966-2-1 and glTF 2.0.
#include <QtTest>
#include <cmath>
#include <random>

#include "support/registered.h"
#include "surface/cover.h"

using namespace surface;

namespace {

// IEC 61966-2-1, written out anew.
double lightOf(double coded)
{
    return coded <= 0.04045 ? coded / 12.92 : std::pow((coded + 0.055) / 1.055, 2.4);
}

using Paint = std::function<std::array<int, 4>(int x, int y)>;  // rows from the top

SharedTexture textureOf(int width, int height, const Paint& paint)
{
    std::vector<std::uint8_t> rgba;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            for (const int v : paint(x, y))
                rgba.push_back(std::uint8_t(v));
    auto texture = std::make_shared<const Texture>(width, height, std::move(rgba));
    texture->makeColours();
    texture->makeValues();
    return texture;
}

SharedTexture noise(int width, int height)
{
    std::mt19937 random(7);
    return textureOf(width, height, [&](int, int) {
        const auto v = [&] { return int(random() % 256); };
        return std::array{v(), v(), v(), 255};
    });
}

std::array<int, 4> grey(int v)
{
    return {v, v, v, 255};
}

// Of light that the whole picture sends, by its pixels.
double meanLight(const Texture& texture)
{
    double sum = 0;
    for (int y = 0; y < texture.height(); ++y)
        for (int x = 0; x < texture.width(); ++x)
            sum += lightOf(double(texture
                                      .valueAt((float(x) + 0.5f) / float(texture.width()), 1 - (float(y) + 0.5f) / float(texture.height()),
                                               0, PictureEdges::Once)
                                      .colour.y));
    return sum / (double(texture.width()) * texture.height());
}

SheetPlace at(float x, float y, float footprint = 0)
{
    return {{x, y}, {{1, 0}, {0, 1}}, footprint};
}

const Vec3f kTangents[2] = {{1, 0, 0}, {0, 1, 0}};

}  // namespace

class TestTexture : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // The middle of a pixel is the pixel, its first row on top; between two lies their mean, in light.
    void whatIsLookedUp()
    {
        const auto t = textureOf(4, 2, [](int x, int y) { return grey(10 + 40 * x + 100 * y); });
        const auto value = [&](float x, float y) { return t->valueAt(x / 4, y / 2, 0, PictureEdges::Once).colour.x * 255; };
        QVERIFY(std::abs(value(0.5f, 1.5f) - 10) < 1e-3f && std::abs(value(3.5f, 0.5f) - 230) < 1e-3f);
        QVERIFY(std::abs(value(1, 1.5f) - 30) < 1e-3f && std::abs(value(0.5f, 1) - 60) < 1e-3f);
        const float light = t->colourAt(0.25f, 0.75f, 0, PictureEdges::Once).colour.x;
        QVERIFY(std::abs(double(light) - (lightOf(10 / 255.0) + lightOf(50 / 255.0)) / 2) < 1e-6);
    }

    // Sixteen bits keep them; a linear one is light as it is (EXR).
    void deepOnes()
    {
        for (const bool linear : {false, true}) {
            Texture t(1, 1, std::vector<std::uint16_t>{12345, 54321, 1, 65535}, linear);
            t.makeColours();
            const Rgb seen = t.colourAt(0.5f, 0.5f, 0, PictureEdges::Once).colour;
            const double red = 12345 / 65535.0, green = 54321 / 65535.0;
            QVERIFY(std::abs(double(seen.x) - (linear ? red : lightOf(red))) < 1e-6);
            QVERIFY(std::abs(double(seen.y) - (linear ? green : lightOf(green))) < 1e-6);
        }
    }

    // From how far away it is looked at changes nothing of its mean: every level's is the picture's to 1e-4, odd sizes too.
    void farOnesKeepTheirMean_data()
    {
        QTest::addColumn<int>("width");
        QTest::addColumn<int>("height");
        for (const auto& [w, h] : {std::pair{128, 128}, {137, 91}, {1, 333}, {257, 3}})
            QTest::addRow("%d x %d", w, h) << w << h;
    }
    void farOnesKeepTheirMean()
    {
        QFETCH(int, width);
        QFETCH(int, height);
        const auto t = noise(width, height);
        const double mean = meanLight(*t);
        const float far = t->colourAt(0.3f, 0.8f, 1e6f, PictureEdges::Repeat).colour.y;
        QVERIFY2(std::abs(double(far) - mean) < 1e-4, qPrintable(QString("%1, not %2").arg(double(far)).arg(mean)));
        // Halfway down as well: over all places.
        double sum = 0;
        constexpr int kPlaces = 64;
        for (int y = 0; y < kPlaces; ++y)
            for (int x = 0; x < kPlaces; ++x)
                sum += double(t->colourAt((float(x) + 0.5f) / kPlaces, (float(y) + 0.5f) / kPlaces, 4, PictureEdges::Repeat).colour.y);
        QVERIFY2(std::abs(sum / kPlaces / kPlaces - mean) < 0.01, qPrintable(QString("%1, not %2").arg(sum / kPlaces / kPlaces).arg(mean)));
    }

    // Black and white checks are even at a distance: half of white's light, not the light of half its code.
    void checksAreEvenFarAway()
    {
        const auto t = textureOf(256, 256, [](int x, int y) { return grey((x + y) % 2 ? 255 : 0); });
        for (const float texels : {2.0f, 4.0f, 8.0f, 300.0f})
            for (int i = 0; i < 50; ++i) {
                const float v = t->colourAt(0.013f * float(i), 0.7f - 0.011f * float(i), texels, PictureEdges::Repeat).colour.y;
                QVERIFY2(std::abs(v - 0.5f) < 1e-3f, qPrintable(QString("%1 at %2").arg(double(v)).arg(double(texels))));
            }
    }

    void beyondItsEdges()
    {
        const auto t = textureOf(4, 4, [](int x, int y) { return grey(60 * x + 5 * y); });
        const auto value = [&](float s, float up, PictureEdges edges) { return t->valueAt(s, up, 0, edges).colour.y * 255; };
        for (const float s : {0.125f, 0.4f, 0.875f})
            for (const float up : {0.125f, 0.6f}) {
                QVERIFY(std::abs(value(s + 3, up - 5, PictureEdges::Repeat) - value(s, up, PictureEdges::Repeat)) < 0.01f);
                QVERIFY(std::abs(value(-s, up, PictureEdges::Mirror) - value(s, up, PictureEdges::Mirror)) < 0.01f);
                QVERIFY(std::abs(value(2 - s, up + 2, PictureEdges::Mirror) - value(s, up, PictureEdges::Mirror)) < 0.01f);
            }
        QCOMPARE(t->colourAt(-0.1f, 0.5f, 0, PictureEdges::Once).alpha, 0.0f);
        QCOMPARE(t->colourAt(0.5f, 1.2f, 0, PictureEdges::Once).alpha, 0.0f);
        QCOMPARE(t->colourAt(0.02f, 0.98f, 0, PictureEdges::Once).alpha, 1.0f);
        // Places that are none show nothing.
        QCOMPARE(t->colourAt(std::nanf(""), 0, 0, PictureEdges::Repeat).alpha, 0.0f);
        QVERIFY(std::isfinite(t->colourAt(3e8f, -3e8f, 1, PictureEdges::Mirror).colour.y));
    }

    // Clear pixels of whatever colour leave no rim: what is seen of an opaque white beside clear black is white, only less of it.
    void clearPixelsHaveNoColour()
    {
        const auto t = textureOf(16, 16, [](int x, int) { return x < 8 ? std::array{255, 255, 255, 255} : std::array{0, 0, 0, 0}; });
        for (const float texels : {0.0f, 2.0f, 5.0f, 16.0f}) {
            const Rgba v = t->colourAt(0.5f, 0.5f, texels, PictureEdges::Repeat);
            QVERIFY(v.alpha > 0.2f && v.alpha < 0.8f);
            QVERIFY2(std::abs(v.colour.y / v.alpha - 1) < 1e-3f, qPrintable(QString::number(double(v.colour.y / v.alpha))));
        }
        QVERIFY(t->hasAlpha() && !noise(3, 3)->hasAlpha());
    }

    // The pixels of a large one are there once: 64 MB of 4096 x 4096, and two thirds of that for its colours' levels.
    void aLargeOneIsHeldOnce()
    {
        const Texture t(4096, 4096, std::vector<std::uint8_t>(std::size_t{4} << 24, 200));
        QCOMPARE(t.bytes(), std::size_t{64} << 20);
        t.makeColours();
        QVERIFY2(t.bytes() < std::size_t{108} << 20, qPrintable(QString::number(t.bytes())));
    }

    // Laid 80 pt wide, twice as wide as high, its middle 10 pt to the right and 5 up, turned a quarter left.
    void whereItLies()
    {
        const auto t = textureOf(2, 1, [](int x, int) { return x ? std::array{255, 0, 0, 255} : std::array{0, 0, 255, 255}; });
        Pictures pictures;
        pictures.colour = t;
        pictures.widthPt = 80;
        pictures.middle = {10, 5};
        const auto isRed = [&](float x, float y) {
            Look look;
            lay(pictures, at(x, y), look);
            return look.colour.x > look.colour.z;
        };
        QVERIFY(isRed(30, 5) && !isRed(-10, 5));
        QVERIFY(!isRed(10 + 60, 5) && isRed(10 - 60, 5));  // the next ones
        pictures.turn = {0, 1};
        QVERIFY(isRed(10, 25) && !isRed(10, -15));
    }

    // Over the base colour as far as it is opaque; roughness is green and metallic blue (glTF 2.0, 3.9.2), in place of what is set.
    void whatItChanges()
    {
        Pictures pictures;
        pictures.colour = textureOf(1, 1, [](int, int) { return std::array{255, 255, 255, 51}; });
        pictures.roughness = pictures.metallic = textureOf(1, 1, [](int, int) { return std::array{0, 102, 204, 255}; });
        Look look{{0.5f, 0.1f, 0}, 0.9f, 0, 0, {}};
        lay(pictures, at(0, 0), look);
        QVERIFY(length(look.colour - Rgb{0.6f, 0.28f, 0.2f}) < 1e-3f);
        QVERIFY(std::abs(look.roughness - 0.4f) < 1e-3f && std::abs(look.metallic - 0.8f) < 1e-3f);
        // Beyond one that lies there once all is as it was.
        pictures.edges = PictureEdges::Once;
        Look outside{{0.5f, 0.1f, 0}, 0.9f, 0, 0, {}};
        lay(pictures, at(500, 0), outside);
        QVERIFY(outside.colour == (Rgb{0.5f, 0.1f, 0}) && outside.roughness == 0.9f && outside.metallic == 0);
    }

    // A ramp from black to white over 100 pt that is 20 pt high leans back by arctan(0.2); turned, it leans the other way.
    void heightsLean()
    {
        Pictures pictures;
        pictures.relief = textureOf(256, 256, [](int x, int) { return grey(x); });
        pictures.widthPt = 100;
        pictures.reliefPt = 20;
        const Vec3f bent = reliefNormal(pictures, pictures.relief, at(3, 0), kTangents, {0, 0, 1});
        QVERIFY2(std::abs(-bent.x / bent.z - 0.2f) < 0.003f && std::abs(bent.y) < 1e-3f,
                 qPrintable(QString("%1 %2 %3").arg(double(bent.x)).arg(double(bent.y)).arg(double(bent.z))));
        pictures.turn = {0, 1};
        const Vec3f turned = reliefNormal(pictures, pictures.relief, at(0, 3), kTangents, {0, 0, 1});
        QVERIFY(std::abs(-turned.y / turned.z - 0.2f) < 0.003f && std::abs(turned.x) < 1e-3f);
        pictures.relief = nullptr;
        QVERIFY(reliefNormal(pictures, pictures.relief, at(0, 3), kTangents, {0, 0, 1}) == (Vec3f{0, 0, 1}));
    }

    // A normal map's (128, 128, 255) is straight on; red leans to the right and green up (glTF 2.0, 3.9.3), with the picture as it is
    // turned.
    void normalMaps()
    {
        Pictures pictures;
        pictures.normals = true;
        const auto of = [&](int r, int g, int b) {
            pictures.relief = textureOf(1, 1, [&](int, int) { return std::array{r, g, b, 255}; });
            return reliefNormal(pictures, pictures.relief, at(0, 0), kTangents, {0, 0, 1});
        };
        QVERIFY(length(of(128, 128, 255) - Vec3f{0, 0, 1}) < 0.006f);
        const float s = std::sqrt(0.5f);
        QVERIFY(length(of(218, 128, 218) - Vec3f{s, 0, s}) < 0.01f);
        QVERIFY(length(of(128, 218, 218) - Vec3f{0, s, s}) < 0.01f);
        pictures.turn = {0, 1};
        QVERIFY(length(of(218, 128, 218) - Vec3f{0, s, s}) < 0.01f);
    }

    // Holes are where alpha is under a half (glTF 2.0, 3.9.4), or where one without alpha is dark.
    void holes()
    {
        Pictures pictures;
        pictures.widthPt = 2;
        pictures.cutOut = textureOf(2, 2, [](int x, int) { return std::array{x ? 0 : 255, x ? 0 : 255, x ? 0 : 255, x ? 255 : 10}; });
        QVERIFY(isCutOut(pictures, {-0.5f, 0}) && !isCutOut(pictures, {0.5f, 0}));
        pictures.cutOut = textureOf(2, 2, [](int x, int) { return grey(x ? 0 : 255); });
        QVERIFY(!isCutOut(pictures, {-0.5f, 0}) && isCutOut(pictures, {0.5f, 0}));
        pictures.edges = PictureEdges::Once;
        QVERIFY(!isCutOut(pictures, {5.5f, 0}));
    }

    // Light is given off in the picture's colours, through a picture of its own, and never more than lamps are chosen by.
    void lightInItsColours()
    {
        Pictures pictures;
        pictures.colour = textureOf(1, 1, [](int, int) { return std::array{255, 0, 0, 255}; });
        QVERIFY(length(lightAt(pictures, at(0, 0), {0.2f, 0.2f, 0.2f}, 5) - Rgb{5, 0, 0}) < 1e-3f);
        pictures.light = textureOf(1, 1, [](int, int) { return grey(188); });
        const Rgb through = lightAt(pictures, at(0, 0), {0.2f, 0.2f, 0.2f}, 5);
        QVERIFY(std::abs(double(through.x) - 5 * lightOf(188 / 255.0)) < 1e-3);
        const Rgb most = mostLight(pictures, {0.2f, 0.2f, 0.2f}, 5);
        QVERIFY(most.x >= through.x && most.y >= through.y && most.z >= through.z);
    }
};

OPEN_GLOW_TEST(TestTexture)
#include "test_texture.moc"
