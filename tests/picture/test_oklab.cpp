// Colours by how they look, against published values.
#include <QtTest>

#include "picture/colour.h"
#include "picture/oklab.h"
#include "support/registered.h"

using picture::Oklch;

class TestOklab : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Made with culori 4.0.2 (npm), oklch(); rebeccapurple, #663399, is oklch(44.027% 0.1603 303.373) in W3C CSS Color 4, section 9.4 too.
    void knownColours_data()
    {
        QTest::addColumn<QString>("hex");
        QTest::addColumn<double>("lightness");
        QTest::addColumn<double>("chroma");
        QTest::addColumn<double>("hue");
        QTest::newRow("white") << "#FFFFFF" << 1.0 << 0.0 << 0.0;
        QTest::newRow("red") << "#FF0000" << 0.62796 << 0.25768 << 29.234;
        QTest::newRow("green") << "#00FF00" << 0.86644 << 0.29483 << 142.495;
        QTest::newRow("blue") << "#0000FF" << 0.45201 << 0.31321 << 264.052;
        QTest::newRow("rebeccapurple") << "#663399" << 0.44027 << 0.16030 << 303.373;
        QTest::newRow("coral") << "#E8664F" << 0.66672 << 0.16631 << 31.910;
        QTest::newRow("grey") << "#808080" << 0.59987 << 0.0 << 0.0;
        QTest::newRow("night") << "#123456" << 0.31917 << 0.07245 << 251.168;
    }
    void knownColours()
    {
        QFETCH(QString, hex);
        QFETCH(double, lightness);
        QFETCH(double, chroma);
        QFETCH(double, hue);
        const base::Rgb colour = *picture::rgbFromHex(hex.toStdString());
        const Oklch seen = picture::toOklch(colour);
        QVERIFY(std::abs(seen.lightness - lightness) < 5e-5);
        QVERIFY(std::abs(seen.chroma - chroma) < 5e-4);
        QVERIFY2(std::abs(seen.hue - hue) < 0.02, qPrintable(QString::number(seen.hue)));
        QCOMPARE(QString::fromStdString(picture::hexFromRgb(picture::fromOklch(seen))), hex);
    }

    // The edge of what a screen has: the primaries lie on it, one step farther out nothing is, and a colour that is cut keeps its
    // lightness and hue.
    void theScreensEdge()
    {
        for (const char* hex : {"#FF0000", "#00FF00", "#0000FF", "#FFFF00", "#00FFFF", "#FF00FF"}) {
            const Oklch corner = picture::toOklch(*picture::rgbFromHex(hex));
            QVERIFY2(std::abs(picture::strongestChroma(corner.lightness, corner.hue) - corner.chroma) < 2e-3, hex);
        }
        for (float hue = 0; hue < 360; hue += 20)
            for (float lightness = 0.1f; lightness < 1; lightness += 0.2f) {
                const float edge = picture::strongestChroma(lightness, hue);
                QVERIFY(picture::isScreenColour(picture::fromOklch({lightness, edge, hue})));
                QVERIFY(!picture::isScreenColour(picture::fromOklch({lightness, edge + 1e-2f, hue})));
                const Oklch cut = picture::toOklch(picture::onScreen({lightness, 0.4f, hue}));
                QVERIFY(std::abs(cut.lightness - lightness) < 1e-2f);
                QVERIFY(cut.chroma < 0.02f || std::abs(std::remainder(cut.hue - hue, 360.0f)) < 4);
            }
        QVERIFY(picture::strongestChroma(1, 100) < 1e-2f);
        QVERIFY(picture::strongestChroma(0, 100) < 0.1f);
    }

    // What goes with a colour lies round its circle, as light and as strong; steps between two are as far from each other.
    void harmoniesAndSteps()
    {
        const Oklch from{0.7f, 0.1f, 40};
        const float turns[] = {-30, 30, -120, 120, 150, 180, 210};
        const auto harmonies = picture::harmoniesOf(from);
        QCOMPARE(harmonies.size(), std::size(turns));
        for (std::size_t i = 0; i < harmonies.size(); ++i) {
            const Oklch is = picture::toOklch(harmonies[i]);
            QVERIFY(std::abs(is.lightness - 0.7f) < 2e-3f && std::abs(is.chroma - 0.1f) < 2e-3f);
            QVERIFY(std::abs(std::remainder(is.hue - 40 - turns[i], 360.0f)) < 0.5f);
        }
        const base::Rgb dark = *picture::rgbFromHex("#1D3B4A"), light = *picture::rgbFromHex("#F7E7D0");
        const auto steps = picture::stepsBetween(dark, light, 3);
        QCOMPARE(steps.size(), std::size_t{3});
        const float low = picture::toOklch(dark).lightness, high = picture::toOklch(light).lightness;
        for (std::size_t i = 0; i < 3; ++i)
            QVERIFY(std::abs(picture::toOklch(steps[i]).lightness - (low + (high - low) * float(i + 1) / 4)) < 2e-3f);
    }
};

OPEN_GLOW_TEST(TestOklab)
#include "test_oklab.moc"
