#include <QFile>
#include <QtTest>

#include "outline/text.h"
#include "support/registered.h"

class TestText : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Unicode Standard Annex 29's own test file (package unicode-data).
    void graphemesFollowTheStandard()
    {
        QFile file("/usr/share/unicode/auxiliary/GraphemeBreakTest.txt");
        QVERIFY2(file.open(QIODevice::ReadOnly), "unicode-data is missing");
        int cases = 0;
        while (!file.atEnd()) {
            const QString line = QString::fromUtf8(file.readLine()).section('#', 0, 0).trimmed();
            if (line.isEmpty())
                continue;
            std::string text;
            std::vector<std::size_t> ends;
            for (const QString& token : line.split(' ', Qt::SkipEmptyParts)) {
                if (token == QString(QChar(0x00f7))) {
                    if (!text.empty())
                        ends.push_back(text.size());
                } else if (token != QString(QChar(0x00d7))) {
                    const char32_t c = token.toUInt(nullptr, 16);
                    text += QString::fromUcs4(&c, 1).toStdString();
                }
            }
            if (!outline::isUtf8(text))
                continue;  // lone surrogates are no text
            std::vector<std::size_t> found;
            for (const outline::Grapheme& g : outline::graphemes(text))
                found.push_back(g.end);
            QVERIFY2(found == ends, qPrintable(line));
            ++cases;
        }
        QVERIFY(cases > 500);
    }

    void wrongUtf8IsSeen()
    {
        QVERIFY(outline::isUtf8("Gal\xc3\xa9point \xf0\x9f\xaa\x81"));
        for (const char* bad :
             {"\xc3", "\xff", "a\x80", "\xc0\xaf", "\xed\xa0\x80"})  // RFC 3629: cut, never used, lone, overlong, surrogate
            QVERIFY2(!outline::isUtf8(bad), bad);
    }
};

OPEN_GLOW_TEST(TestText)
#include "test_text.moc"
