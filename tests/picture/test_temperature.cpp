#include <QtTest>

#include "picture/temperature.h"
#include "support/registered.h"

using base::Rgb;

namespace {

// Chromaticity, by the matrix of IEC 61966-2-1 from linear sRGB to XYZ.
std::pair<double, double> xyOf(const Rgb& c)
{
    const double r = double(c.x), g = double(c.y), b = double(c.z);
    const double x = 0.4124 * r + 0.3576 * g + 0.1805 * b, y = 0.2126 * r + 0.7152 * g + 0.0722 * b,
                 z = 0.0193 * r + 0.1192 * g + 0.9505 * b;
    return {x / (x + y + z), y / (x + y + z)};
}

}  // namespace

class TestTemperature : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Illuminants of ISO/CIE 11664-2 and CIE 15:2004, table T.3: A, D50, D55, D65, D75; and a black body of 4000 K (CIE 15, Planckian
    // locus: 0.3805, 0.3768), where the loci begin to be mixed.
    void illuminants_data()
    {
        QTest::addColumn<double>("kelvin");
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("y");
        QTest::newRow("A") << 2856.0 << 0.44758 << 0.40745;
        QTest::newRow("4000") << 4000.0 << 0.3805 << 0.3768;
        QTest::newRow("D50") << 5003.0 << 0.34567 << 0.35850;
        QTest::newRow("D55") << 5503.0 << 0.33242 << 0.34743;
        QTest::newRow("D65") << 6504.0 << 0.31272 << 0.32903;
        QTest::newRow("nearly D65") << 6504.1 << 0.31272 << 0.32903;
        QTest::newRow("D75") << 7504.0 << 0.29902 << 0.31485;
    }
    void illuminants()
    {
        QFETCH(double, kelvin);
        QFETCH(double, x);
        QFETCH(double, y);
        const auto [ownX, ownY] = xyOf(picture::rgbOfTemperature(kelvin));
        QVERIFY2(std::abs(ownX - x) < 5e-4 && std::abs(ownY - y) < 5e-4, qPrintable(QString("%1 %2").arg(ownX).arg(ownY)));
    }

    // As bright at any temperature, from red over white to blue without a jump, never negative.
    void brightAndSmooth()
    {
        Rgb before = picture::rgbOfTemperature(1000);
        for (double kelvin = 1000; kelvin <= 25000; kelvin += 50) {
            const Rgb c = picture::rgbOfTemperature(kelvin);
            QVERIFY(std::abs(luminance(c) - 1) < 1e-5f && c.x >= 0 && c.y >= 0 && c.z >= 0);
            QVERIFY2(c.z >= before.z - 1e-5f && c.x <= before.x + 1e-5f, qPrintable(QString::number(kelvin)));
            QVERIFY(length(c - before) < 0.05f * length(before));
            before = c;
        }
        QCOMPARE(picture::rgbOfTemperature(picture::kWhiteKelvin), (Rgb{1, 1, 1}));
        QCOMPARE(picture::rgbOfTemperature(5), picture::rgbOfTemperature(1000));
    }
};

OPEN_GLOW_TEST(TestTemperature)
#include "test_temperature.moc"
