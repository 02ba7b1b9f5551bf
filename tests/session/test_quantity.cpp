#include <QtTest>

#include "session/quantity.h"
#include "support/registered.h"

using session::Kind;
using session::LengthUnit;

class TestQuantity : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // 1 in = 25.4 mm (1959) = 72 pt (ISO 32000); a px is 72 / ppi pt.
    void read_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<int>("kind");
        QTest::addColumn<double>("value");  // NaN: refused
        const double no = std::numeric_limits<double>::quiet_NaN();
        const auto row = [](const char* text, Kind kind, double value) {
            QTest::newRow(text) << QString::fromUtf8(text) << int(kind) << value;
        };
        row("24+6", Kind::Length, 30);
        row("12mm", Kind::Length, 12 * 72 / 25.4);
        row("1/2in", Kind::Length, 36);
        row("1/2 in + 4 pt", Kind::Length, 40);
        row("24 + 25.4mm", Kind::Length, 96);
        row("2 * (3 + 4)", Kind::Length, 14);
        row("(1+2) in", Kind::Length, 216);
        row("2,5cm", Kind::Length, 25 * 72 / 25.4);
        row("150px", Kind::Length, 36);
        row("-3 + 1", Kind::Length, -2);
        row("10--4", Kind::Length, 14);
        row("3\u22121", Kind::Length, 2);
        row("90/4", Kind::Angle, 22.5);
        row("45\u00b0", Kind::Angle, 45);
        row("25%", Kind::Percent, 0.25);
        row("30", Kind::Percent, 0.3);
        row("2 min", Kind::Seconds, 120);
        row("", Kind::Length, no);
        row("abc", Kind::Length, no);
        row("12 mm x", Kind::Length, no);
        row("1/0", Kind::Length, no);
        row("(1", Kind::Length, no);
        row("1..2", Kind::Length, no);
        row("3 mm", Kind::Angle, no);
        row("+", Kind::Length, no);
    }
    void read()
    {
        QFETCH(QString, text);
        QFETCH(int, kind);
        QFETCH(double, value);
        const auto result = session::parseQuantity(text.toStdString(), Kind(kind), {work::Unit::Pt, 300});
        QCOMPARE(result.has_value(), !std::isnan(value));
        if (result)
            QVERIFY2(std::abs(*result - value) < 1e-9, qPrintable(QString::number(*result)));
        else
            QVERIFY(!result.error().message.empty());
    }

    void deepBracketsAreRefused() { QVERIFY(!session::parseQuantity(std::string(100000, '('), Kind::Plain, {}).has_value()); }

    void shown()
    {
        const LengthUnit mm{work::Unit::Mm, 300};
        QCOMPARE(session::shownNumber(72, Kind::Length, mm), std::string("25.4"));
        QCOMPARE(session::shownNumber(0.25, Kind::Percent, mm), std::string("25"));
        QCOMPARE(session::shownNumber(-0.0001, Kind::Plain, mm), std::string("0"));
        QCOMPARE(session::unitName(Kind::Length, mm), std::string("mm"));
        // What is shown reads back.
        for (const double v : {0.0, 1.25, 733.99, -12.5})
            QVERIFY(std::abs(*session::parseQuantity(session::shownNumber(v, Kind::Length, mm, 6), Kind::Length, mm) - v) < 1e-5);
    }
};

OPEN_GLOW_TEST(TestQuantity)
#include "test_quantity.moc"
