#include <QtTest>

#include "finish/develop.h"
#include "support/registered.h"

using base::Rgb;
using finish::DevelopSettings;

class TestDevelop : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void deskAndExposureAreFactors()
    {
        const Rgb entries[2] = {{0.2f, 0.2f, 0.2f}, {0.1f, 0.3f, 0.5f}};
        DevelopSettings s;
        s.desk = {{1, 1, 1}, {2, 0, 0.5f}};
        s.exposureStops = -1;
        const Rgb mixed = finish::mixed(entries, s);
        QVERIFY(std::abs(mixed.x - 0.2f) < 1e-6f && std::abs(mixed.y - 0.1f) < 1e-6f && std::abs(mixed.z - 0.225f) < 1e-6f);
    }

    // Half covered: over a backdrop the mean in linear light; transparent the colour itself, without matte colour.
    void coverage()
    {
        const Rgb entries[1] = {{0.25f, 0.25f, 0.25f}};  // premultiplied: 0.5 where covered
        DevelopSettings s;
        s.desk = {{1, 1, 1}};
        s.backdrop = {0.9f, 0.9f, 0.9f};
        QVERIFY(std::abs(picture::decodeSrgb(finish::developed(entries, 0.5f, s)).x - 0.7f) < 1e-5f);
        s.transparent = true;
        QVERIFY(std::abs(picture::decodeSrgb(finish::developed(entries, 0.5f, s)).x - 0.5f) < 1e-5f);
        const Rgb nothing[1] = {};
        QCOMPARE(finish::developed(nothing, 0, s), (Rgb{}));
    }

    // A gradient behind goes from the bottom of the frame to its top, as typed at both ends and evenly between; what covers half lets half
    // of it through, in linear light. Transparent pictures do without.
    void gradientBehind()
    {
        film::LightShares shares({1, 101, 0, 0, 1, 101, {{"l1"}}});
        for (std::size_t i = 0; i < shares.values.size(); ++i)
            shares.values[i] = 0;
        DevelopSettings s;
        s.desk = {{1, 1, 1}};
        s.behind.kind = finish::Behind::Kind::Gradient;
        s.behind.bottom = *picture::rgbFromHex("#204080");
        s.behind.top = *picture::rgbFromHex("#F0E0C0");
        const auto seen = finish::develop(shares, s);
        const auto at = [&](int y) { return Rgb{seen.at(0, y)[0], seen.at(0, y)[1], seen.at(0, y)[2]}; };
        QVERIFY(length(at(100) - picture::encodeSrgb(s.behind.bottom)) < 0.01f &&
                length(at(0) - picture::encodeSrgb(s.behind.top)) < 0.01f);
        for (int y = 1; y < 101; ++y)
            QVERIFY(at(y).x < at(y - 1).x + 1e-4f && at(y).y < at(y - 1).y + 1e-4f);
        const Rgb half = finish::shownAt({0.25f, 0.25f, 0.25f}, 0.5f, 0.5, 0, 0, s);
        QVERIFY(std::abs(picture::decodeSrgb(half.x) - (0.25f + 0.5f * s.behind.top.x)) < 1e-3f);
        s.transparent = true;
        QCOMPARE(finish::develop(shares, s).at(0, 50)[3], 0.0f);
    }

    // Surroundings behind are light: mixed at the desk and exposed with the rest, seen where the camera looks, in parts as in the whole.
    void surroundingsBehind()
    {
        light::Panorama round(64, 32);
        for (int y = 0; y < 32; ++y)
            for (int x = 0; x < 64; ++x)
                round.pixel(x, y) = {x < 16 || x >= 48 ? 0.8f : 0.1f, 0.2f, y < 16 ? 0.4f : 0.0f};  // behind the letters and beside: red
        film::LightShares shares({40, 20, 0, 0, 40, 20, {{"surroundings"}}});
        for (float& v : shares.values)
            v = 0;
        DevelopSettings s;
        s.desk = {{0.5f, 1, 1}};
        s.exposureStops = 1;
        s.behind.kind = finish::Behind::Kind::Light;
        s.behind.surroundings = std::make_shared<const light::Panorama>(round);
        for (const bool perspective : {true, false}) {
            s.behind.camera.perspective = perspective;
            const auto seen = finish::develop(shares, s);
            // Straight ahead is away from the viewer: the picture's edge. Above the middle it is blue, below not; a red of 0.8 x 0.5 x 2.
            const auto light = [&](int x, int y, int c) { return picture::decodeSrgb(seen.at(x, y)[c]); };
            QVERIFY2(std::abs(light(20, 2, 0) - 0.8f) < 0.01f && std::abs(light(20, 2, 1) - 0.4f) < 0.01f,
                     qPrintable(QString::number(double(light(20, 2, 0)))));
            QVERIFY(std::abs(light(20, 2, 2) - 0.8f) < 0.01f && light(20, 17, 2) < 0.01f);
            const auto rows = finish::developRows(shares, s, 5, 9, 0, 20);
            for (int i = 0; i < 40 * 3 * 4; ++i)
                QCOMPARE(rows.values[std::size_t(i)], seen.at(0, 5)[i]);
        }
        // Even ones are the same everywhere.
        s.behind.surroundings = nullptr;
        s.desk = {{0.25f, 0.25f, 0.25f}};
        QVERIFY(std::abs(picture::decodeSrgb(finish::develop(shares, s).at(3, 3)[1]) - 0.5f) < 1e-3f);
        s.transparent = true;
        QCOMPARE(finish::develop(shares, s).at(3, 3)[3], 0.0f);
    }

    // White paper is not clipped, what is a stop brighter is, and what nothing covers never is.
    void clippedIsBrighterThanWhite()
    {
        film::LightShares shares({3, 1, 0, 0, 3, 1, {{"l1"}}});
        shares.values = {1, 1, 1, 1, 1, 0.2f, 2, 0.2f, 0, 0.2f, 2, 0.2f};
        DevelopSettings s;
        s.desk = {{1, 1, 1}};
        QCOMPARE(finish::clipped(shares, s).values, (std::vector<std::uint8_t>{0, 1, 0}));
        s.exposureStops = 1;
        QCOMPARE(finish::clipped(shares, s).values, (std::vector<std::uint8_t>{1, 1, 0}));
        s.exposureStops = -2;
        QCOMPARE(finish::clipped(shares, s).values, (std::vector<std::uint8_t>{0, 0, 0}));
    }

    // A gradient over three levels in 300 px: no run of equal pixels as wide as a band (100 px), mean kept to 0.1/255.
    void ditherHidesBands()
    {
        picture::Raster<float> gradient(300, 40, 3);
        double mean = 0;
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 300; ++x)
                for (int c = 0; c < 3; ++c) {
                    gradient.at(x, y)[c] = (100 + 3 * (x + 0.5f) / 300) / 255;
                    mean += double(gradient.at(x, y)[c]) * 255 / (300 * 40 * 3);
                }
        const auto bytes = finish::to8Bits(gradient);
        double kept = 0;
        for (int y = 0; y < 40; ++y)
            for (int c = 0; c < 3; ++c) {
                int run = 0, longest = 0;
                for (int x = 0; x < 300; ++x) {
                    run = x > 0 && bytes.at(x, y)[c] == bytes.at(x - 1, y)[c] ? run + 1 : 1;
                    longest = std::max(longest, run);
                    kept += bytes.at(x, y)[c] / (300.0 * 40 * 3);
                }
                QVERIFY2(longest < 60, qPrintable(QString::number(longest)));
            }
        QVERIFY(std::abs(kept - mean) < 0.1);
    }

    void exactValuesAreNotDithered()
    {
        picture::Raster<float> flat(64, 64, 4);
        for (std::size_t i = 0; i < flat.values.size(); ++i)
            flat.values[i] = i % 4 == 3 ? 0.4999f : 200 / 255.0f;
        const auto bytes = finish::to8Bits(flat);
        for (std::size_t i = 0; i < bytes.values.size(); ++i)
            QCOMPARE(int(bytes.values[i]), i % 4 == 3 ? 127 : 200);
        QCOMPARE(int(finish::to16Bits(flat).values[0]), 51400);  // 200 / 255 * 65535
    }
};

OPEN_GLOW_TEST(TestDevelop)
#include "test_develop.moc"
