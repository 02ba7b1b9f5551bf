// Swatches out of text files.
#include <QFile>
#include <QTemporaryDir>
#include <QtTest>

#include "files/swatch_file.h"
#include "picture/colour.h"
#include "support/registered.h"

class TestSwatches : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;

    std::string write(const QByteArray& bytes)
    {
        QFile file(m_folder.filePath("colours.txt"));
        if (!file.open(QIODevice::WriteOnly) || file.write(bytes) != bytes.size())
            qFatal("cannot write");
        return file.fileName().toStdString();
    }

private Q_SLOTS:
    void colours_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("expected");
        // As common programs write it: a head of three lines, then numbers in columns.
        QTest::newRow("palette list") << QByteArray("Some Palette\nName: Dunes\nColumns: 4\n#\n243 217 177\tSand\n 25 118 138\tSea water\n"
                                                    "228  87  46\tUntitled\n300 1 1 no\n243 217 177 again\n")
                                      << "#F3D9B1 Sand|#19768A Sea water|#E4572E Untitled";
        // CSS Color 4: custom properties, properties, short hex, functions.
        QTest::newRow("CSS")
            << QByteArray(":root { --sand: #f3d9b1; --deep-sea:#0E5566; }\na:hover { color: #E45; background: rgb(25, 118, 138) }\n"
                          "b { color: rgba(1 2 3 / 50%) } #header { color: red }")
            << "#F3D9B1 sand|#0E5566 deep-sea|#EE4455 #EE4455|#19768A #19768A|#010203 #010203";
        QTest::newRow("Sass") << QByteArray("$kite: #E8664F;\n@wind: #DDEBE4;") << "#E8664F kite|#DDEBE4 wind";
        QTest::newRow("SVG")
            << QByteArray("<svg><g fill=\"#F2A541\" id=\"#ABCDEFG\"/><path style=\"stroke:#B8741C;fill:#f2a541\" href=\"#abc-no\"/></svg>")
            << "#F2A541 #F2A541|#B8741C #B8741C|#AABBCC #AABBCC";
        QTest::newRow("hex list") << QByteArray("E8664F\r\n#0F7C82 Sea\r\n\r\nfff1dc\r\n#abcde\r\n")
                                  << "#E8664F #E8664F|#0F7C82 Sea|#FFF1DC #FFF1DC";
    }
    void colours()
    {
        QFETCH(QByteArray, bytes);
        QFETCH(QString, expected);
        const auto swatches = files::readSwatches(write(bytes));
        QVERIFY(swatches.has_value());
        QStringList found;
        for (const work::Swatch& s : *swatches)
            found << QString::fromStdString(picture::hexFromRgb(s.colour) + " " + s.name);
        QCOMPARE(found.join("|"), expected);
    }

    void noColoursAreTold_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        QTest::newRow("empty") << QByteArray();
        QTest::newRow("words") << QByteArray("the dunes\n12 34\n#zzz\n#12345678901\nrgb(300, 1, 1)\nrgb(");
        QTest::newRow("zeros") << QByteArray(100000, '\0');
    }
    void noColoursAreTold()
    {
        QFETCH(QByteArray, bytes);
        const auto swatches = files::readSwatches(write(bytes));
        QVERIFY(!swatches && swatches.error().place.find("colours.txt") != std::string::npos);
        QVERIFY(swatches.error().message.find("hex") != std::string::npos);
    }

    void noMoreThanAWorkCanUse()
    {
        QByteArray many;
        for (int i = 0; i < 5000; ++i)
            many += "#" + QByteArray::number(0x100000 + i, 16) + "\n";
        QCOMPARE(files::readSwatches(write(many))->size(), std::size_t{256});
        QVERIFY(!files::readSwatches(write(QByteArray(5 << 20, '#'))));
        QVERIFY(!files::readSwatches(m_folder.filePath("none.gpl").toStdString()));
    }
};

OPEN_GLOW_TEST(TestSwatches)
#include "test_swatches.moc"
