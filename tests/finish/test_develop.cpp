#include <QtTest>

#include "finish/develop.h"

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

QTEST_APPLESS_MAIN(TestDevelop)
#include "test_develop.moc"
