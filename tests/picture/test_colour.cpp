#include <lcms2.h>

#include <QtTest>

#include "picture/colour.h"
#include "support/registered.h"

using base::Rgb;
using picture::ViewTransform;

namespace {

// CIE L*a*b* (D65 white of the sRGB primaries, IEC 61966-2-1), only for colour differences.
cmsCIELab labOf(Rgb c)
{
    const double x = 0.4124 * c.x + 0.3576 * c.y + 0.1805 * c.z, y = 0.2126 * c.x + 0.7152 * c.y + 0.0722 * c.z,
                 z = 0.0193 * c.x + 0.1192 * c.y + 0.9505 * c.z;
    const cmsCIEXYZ xyz{x, y, z}, white{0.9505, 1, 1.089};
    cmsCIELab lab;
    cmsXYZ2Lab(&white, &lab, &xyz);
    return lab;
}

}  // namespace

class TestColour : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // IEC 61966-2-1.
    void srgbTransfer()
    {
        QVERIFY(std::abs(picture::encodeSrgb(0.0031308f) - 0.04045f) < 1e-5f);
        QVERIFY(std::abs(picture::encodeSrgb(0.2140f) - 0.5f) < 1e-4f);
        for (int i = 0; i <= 255; ++i)
            QVERIFY(std::abs(picture::encodeSrgb(picture::decodeSrgb(i / 255.0f)) * 255 - i) < 1e-3f);
    }

    // The table holds what its header says, at its entries and between them.
    void theQuickCurveFollowsTheExactOne()
    {
        float worst = 0;
        for (int i = 0; i <= 100000; ++i) {
            const float v = static_cast<float>(i) / 100000;
            worst = std::max(worst, std::abs(picture::encodeSrgbQuickly({v, 0, 0}).x - picture::encodeSrgb(v)));
        }
        QVERIFY2(worst < 1e-4f, qPrintable(QString::number(worst)));
        const base::Rgb ends = picture::encodeSrgbQuickly({7, -1, 1});
        QVERIFY(std::abs(ends.x - 1) < 1e-6f && ends.y == 0 && std::abs(ends.z - 1) < 1e-6f);
    }

    // Khronos PBR Neutral: below the knee of 0.8 - 0.04 a grey loses 0.04 (less near black); it never exceeds 1.
    void softWhites()
    {
        const auto grey = [](float v) { return picture::applyViewTransform({v, v, v}, ViewTransform::SoftWhites).x; };
        QVERIFY(std::abs(grey(0.5f) - 0.46f) < 1e-6f);
        QVERIFY(std::abs(grey(0.04f) - 0.04f * 0.04f / 0.16f) < 1e-6f);  // the toe: x^2 / (4 * 0.04)
        QVERIFY(std::abs(grey(0.8f) - 0.76f) < 1e-6f);
        const float d = 1 - 0.76f, peak = 1.96f;
        QVERIFY(std::abs(grey(2.0f) - (1 - d * d / (peak + d - 0.76f))) < 1e-5f);
        QVERIFY(grey(1000) <= 1);
        const Rgb bright = picture::applyViewTransform({20, 2, 2}, ViewTransform::SoftWhites);
        QVERIFY2(bright.y > 0.5f, "very bright colours turn white");
    }

    // True colour: identity to 0.95, then hue is kept, monotone, below 1; any sRGB colour within CIEDE2000 1 of itself.
    void trueColourShowsWhatIsTyped()
    {
        const auto through = [](Rgb c) { return picture::applyViewTransform(c, ViewTransform::TrueColour); };
        QCOMPARE(through({0.95f, 0.3f, 0}), (Rgb{0.95f, 0.3f, 0}));
        float before = 0.94f;
        for (float v = 0.95f; v < 1.2f; v += 0.01f) {
            const float now = through({v, v / 2, v / 4}).x;
            QVERIFY(now > before && now <= 1);
            QVERIFY(std::abs(through({v, v / 2, v / 4}).y / now - 0.5f) < 1e-5f);
            before = now;
        }
        double worst = 0;
        for (int r = 0; r <= 255; r += 15)
            for (int g = 0; g <= 255; g += 15)
                for (int b = 0; b <= 255; b += 15) {
                    const Rgb typed = picture::decodeSrgb(Rgb{r / 255.0f, g / 255.0f, b / 255.0f});
                    const cmsCIELab a = labOf(typed), s = labOf(through(typed));
                    worst = std::max(worst, cmsCIE2000DeltaE(&a, &s, 1, 1, 1));
                }
        QVERIFY2(worst < 1, qPrintable(QString::number(worst)));
    }

    void hexColours()
    {
        QCOMPARE(picture::hexFromRgb(*picture::rgbFromHex("#E8664F")), "#E8664F");
        QCOMPARE(*picture::rgbFromHex("fff"), (Rgb{1, 1, 1}));
        QCOMPARE(picture::hexFromRgb(*picture::rgbFromHex("#1a2")), "#11AA22");
        for (const char* bad : {"", "#12", "#12345", "coral", "#GG0000", "##aabbc"})
            QVERIFY2(!picture::rgbFromHex(bad), bad);
    }
};

OPEN_GLOW_TEST(TestColour)
#include "test_colour.moc"
