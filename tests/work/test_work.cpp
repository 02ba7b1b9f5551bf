#include <QtTest>
#include <set>

#include "support/support.h"
#include "work/works.h"

using work::Work;
using namespace works;

class TestWork : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Ranges from a text field tell what comparing cannot: the first A of AAA goes, the third keeps its own.
    void textsAreEditedAsRanges()
    {
        work::Piece piece;
        work::setText(piece, "AAA");
        const std::vector<std::string> ids = piece.lettering()->letterIds;
        piece.letters[ids[0]].x = 1;
        piece.letters[ids[2]].x = 3;
        work::editText(piece, 0, 1, "");
        QCOMPARE(piece.lettering()->text, "AA");
        QCOMPARE(piece.lettering()->letterIds, (std::vector<std::string>{ids[1], ids[2]}));
        QCOMPARE(piece.letters.size(), std::size_t{1});
        QCOMPARE(piece.letters.at(ids[2]).x, 3.0);
        work::editText(piece, 1, 0, "xy");
        QCOMPARE(piece.lettering()->text, "AxyA");
        QCOMPARE(piece.lettering()->letterIds.front(), ids[1]);
        QCOMPARE(piece.lettering()->letterIds.back(), ids[2]);
        // An accent joins the letter before it (UAX 29): still that letter. Typed over, it is another one.
        work::editText(piece, 4, 0, "\u0301");
        QCOMPARE(piece.lettering()->letterIds.size(), std::size_t{4});
        QCOMPARE(piece.lettering()->letterIds.back(), ids[2]);
        QCOMPARE(piece.letters.at(ids[2]).x, 3.0);
        work::editText(piece, 3, 3, "B");
        QCOMPARE(piece.lettering()->text, "AxyB");
        QVERIFY(piece.lettering()->letterIds.back() != ids[2] && piece.letters.empty());
        work::editText(piece, 99, 99, "!");  // beyond the end is at the end
        QCOMPARE(piece.lettering()->text, "AxyB!");
    }

    // Ids are found free, also when their numbers have run out.
    void idsNeverRunOut()
    {
        work::Work w = work::newWork("AB", {}, {});
        w.nextId = 2000000000;
        QCOMPARE(w.newId("l"), "l1");
        w.nextId = 2;
        QCOMPARE(w.newId("l"), "l3");  // l2 is there
        work::Lettering& l = *w.pieces.items.at("p1").lettering();
        l.nextLetter = 2000000000;
        QCOMPARE(l.newLetterIds(1), std::vector<std::string>{"a3"});
        QCOMPARE(work::leastNextId(w), 3);
    }

    // 1 in = 25.4 mm (1959) = 72 pt (ISO 32000); A3 = 297 x 420 mm (ISO 216), at 300 ppi 3508 x 4961 px.
    void sheetUnits()
    {
        const work::SheetSize a3{297, 420, work::Unit::Mm, 300};
        QCOMPARE(a3.widthPx(), 3508);
        QCOMPARE(a3.heightPx(), 4961);
        QVERIFY(std::abs(a3.widthPt() - 841.8898) < 1e-4);
        QCOMPARE((work::SheetSize{25.4, 1, work::Unit::Mm, 72}).widthPt(), 72.0);
        QCOMPARE((work::SheetSize{1920, 1080, work::Unit::Px, 144}).widthPt(), 960.0);
    }

    void lettersKeepTheirIds_data()
    {
        QTest::addColumn<QString>("before");
        QTest::addColumn<QString>("after");
        QTest::addColumn<QString>("ids");  // numbers of the first text's letters, x for a new one
        QTest::newRow("corrected") << "GAIL"
                                   << "GALE"
                                   << "1 2 x x";
        QTest::newRow("in the middle") << "KTE"
                                       << "KITE"
                                       << "1 x 2 3";
        QTest::newRow("doubled") << "AA"
                                 << "AAA"
                                 << "1 2 x";
        QTest::newRow("cut") << "KITES"
                             << "KIT"
                             << "1 2 3";
        QTest::newRow("graphemes") << QString::fromUtf8("e\u0301a") << QString::fromUtf8("e\u0301ba") << "1 x 2";
        QTest::newRow("emptied") << "KITE"
                                 << ""
                                 << "";
    }

    void lettersKeepTheirIds()
    {
        QFETCH(QString, before);
        QFETCH(QString, after);
        QFETCH(QString, ids);
        work::Piece piece;
        const work::Lettering& lettering = *piece.lettering();
        work::setText(piece, before.toStdString());
        const std::vector<std::string> old = lettering.letterIds;
        work::setText(piece, after.toStdString());
        const QStringList expected = ids.split(' ', Qt::SkipEmptyParts);
        QCOMPARE(lettering.letterIds.size(), std::size_t(expected.size()));
        std::set<std::string> unique(lettering.letterIds.begin(), lettering.letterIds.end());
        QCOMPARE(unique.size(), lettering.letterIds.size());
        for (int i = 0; i < expected.size(); ++i) {
            const std::string& id = lettering.letterIds[std::size_t(i)];
            if (expected[i] == "x")
                QVERIFY(std::find(old.begin(), old.end(), id) == old.end());
            else
                QCOMPARE(id, old[std::size_t(expected[i].toInt() - 1)]);
        }
    }

    // A changed swatch changes all that follows it and nothing else.
    void swatchesAreShared()
    {
        Work work = kites();
        work.swatches.items["s1"] = {"Kite red", {1, 0, 0}};
        work.swatches.order = {"s1"};
        piece(work).material.piece.swatch = "s1";
        work.ground.wall.swatch = "s1";
        const base::Rgb floor = work.ground.floor.baseColour;
        work::setSwatch(work, "s1", {0, 0.5f, 0});
        QCOMPARE(piece(work).material.piece.baseColour, (base::Rgb{0, 0.5f, 0}));
        QCOMPARE(work.ground.wall.baseColour, (base::Rgb{0, 0.5f, 0}));
        QCOMPARE(work.ground.floor.baseColour, floor);
    }
};

OPEN_GLOW_TEST(TestWork)
#include "test_work.moc"
