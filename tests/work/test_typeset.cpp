// Letters with a face and a size of their own, faces that are lent, columns, rows of copies, and pieces that cut into each other.
#include <QtTest>

#include "files/work_json.h"
#include "support/support.h"
#include "work/clashes.h"
#include "work/fonts.h"
#include "work/piece_outlines.h"
#include "work/typeset.h"
#include "works.h"

using base::Vec2;
using base::Vec3;

using works::bodiesOf;

namespace {

work::FontChoice lobster()
{
    work::FontChoice font;
    font.family = "Lobster Two";
    font.style = "Bold Italic";
    return font;
}

work::Typeset set(const work::Work& work, base::Notes& notes)
{
    work::Cache cache;
    auto result = work::typeset(work, work.pieces.items.at("p1"), cache, notes);
    if (!result)
        qFatal("%s", result.error().message.c_str());
    return std::move(*result);
}

work::Work withText(const std::string& text)
{
    work::Work work = works::kites();
    work::setText(works::piece(work), text);
    return work;
}

// A box standing free, its middle at x, y and its back at z.
std::string addBox(work::Work& work, Vec3 at, Vec3 size)
{
    work::Piece piece = works::piece(work);
    work::Shape shape;
    shape.width = size.x;
    shape.height = size.y;
    piece.source = shape;
    piece.hidden = false;
    piece.steps = {};
    piece.letters.clear();
    piece.copies = {};
    *piece.slab() = {};
    piece.slab()->depthPt = size.z;
    piece.placement = {};
    piece.placement.stance = work::Stance::Free;
    piece.placement.x = at.x;
    piece.placement.y = at.y;
    piece.placement.z = at.z;
    const std::string id = work.newId("p");
    work.pieces.add(id, std::move(piece));
    return id;
}

// Without lettering.
work::Work boxes()
{
    work::Work work = works::kites();
    works::piece(work).hidden = true;
    return work;
}

}  // namespace

class TestTypeset : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void lettersHaveFacesAndSizesOfTheirOwn()
    {
        work::Work work = withText("KITE");
        work::Piece& piece = works::piece(work);
        const auto ids = piece.letterIds();
        base::Notes notes;
        const work::Typeset before = set(work, notes);
        piece.letters[ids[1]].font = lobster();
        piece.letters[ids[2]].typeSize = 2;
        const work::Typeset after = set(work, notes);
        QVERIFY(notes.empty());
        QCOMPARE(after.faces.count(), std::size_t{2});
        QCOMPARE(after.faces.of(after.layout.glyphs[1].face).familyName(), "Lobster Two");
        QCOMPARE(after.layout.glyphs[0].glyph, before.layout.glyphs[0].glyph);
        QVERIFY(after.layout.glyphs[1].glyph != before.layout.glyphs[1].glyph);
        // It takes twice the room, and is drawn twice as large.
        QCOMPARE(after.layout.glyphs[2].advance, 2 * before.layout.glyphs[2].advance);
        work::Cache cache;
        const auto small = work::outlinesOf(withText("T"), "p1", 0.01, cache, {}), mixed = work::outlinesOf(work, "p1", 0.01, cache, {});
        const auto areaOf = [](const work::PieceOutlines& outlines, int letter) {
            double sum = 0;
            for (const auto& part : outlines.parts)
                for (const auto& o : part.outlined->outlines)
                    if (o.letters.front() == letter)
                        sum += outline::area(*o.outline);
            return sum;
        };
        QVERIFY(std::abs(areaOf(*mixed, 2) / areaOf(*small, 0) - 4) < 1e-3);
        // What leaves as a drawing has the same curves.
        const auto curves = work::curvesOf(work, piece, cache);
        QVERIFY(curves.at(ids[1]).contours.size() != 0);
    }

    // A table of edits: letters that stay keep face and size, a replaced text begins anew.
    void editsKeepWhatLettersHave_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("edited");
        QTest::addColumn<int>("letter");  // that has its own
        QTest::addColumn<int>("then");    // where it is afterwards; -1: gone
        QTest::newRow("insert before") << "KITE"
                                       << "xKITE" << 1 << 2;
        QTest::newRow("insert after") << "KITE"
                                      << "KITEx" << 1 << 1;
        QTest::newRow("insert beside") << "KITE"
                                       << "KIxTE" << 1 << 1;
        QTest::newRow("remove before") << "KITE"
                                       << "ITE" << 1 << 0;
        QTest::newRow("remove it") << "KITE"
                                   << "KTE" << 1 << -1;
        QTest::newRow("line break") << "KITE"
                                    << "K\nITE" << 1 << 2;
        QTest::newRow("repeated letters") << "AAAA"
                                          << "AAAAA" << 1 << 1;
        QTest::newRow("replace the rest") << "KITE"
                                          << "KIWI" << 1 << 1;
        QTest::newRow("replace all") << "KITE"
                                     << "dunes" << 1 << -1;
    }
    void editsKeepWhatLettersHave()
    {
        QFETCH(QString, text);
        QFETCH(QString, edited);
        QFETCH(int, letter);
        QFETCH(int, then);
        work::Work work = withText(text.toStdString());
        work::Piece& piece = works::piece(work);
        work::LetterOwn& own = piece.letters[piece.letterIds()[std::size_t(letter)]];
        own.font = lobster();
        own.typeSize = 1.5;
        own.name = "the kite's";
        const work::LetterOwn kept = own;
        work::setText(piece, edited.toStdString());
        for (std::size_t i = 0; i < piece.letterIds().size(); ++i) {
            const auto found = piece.letters.find(piece.letterIds()[i]);
            QCOMPARE(found != piece.letters.end(), static_cast<int>(i) == then);
            if (found != piece.letters.end())
                QVERIFY(found->second == kept);
        }
        // It is saved and read, the face's file with it.
        const auto again = files::fromJson(files::toJson(work));
        QVERIFY(again && again->pieces.items.at("p1").letters == piece.letters);
    }

    void facesOfLettersTravelWithTheWork()
    {
        work::Work work = withText("KITE");
        const auto font = work::fontOnMachine("Lobster Two", "Bold Italic");
        QVERIFY(font);
        work.assets[font->choice.asset] = font->asset;
        const std::string without = work::fontContents(work);
        works::piece(work).letters[works::piece(work).letterIds()[0]].font = font->choice;
        work::Work saved = work;
        work::dropUnusedAssets(saved);
        QVERIFY(saved.assets.contains(font->choice.asset));
        QVERIFY(work::fontContents(work).size() > without.size());
    }

    // U+0416, which the usual face has not: another face stands in, is named, and all such letters can take it for good.
    void aFaceIsLent()
    {
        work::Work work = withText("K\u0416T\u0416");
        work::Piece& piece = works::piece(work);
        base::Notes notes;
        const work::Typeset lent = set(work, notes);
        QCOMPARE(notes.size(), std::size_t{1});
        QCOMPARE(notes[0].kind, "lent-face");
        QCOMPARE(notes[0].place, "letter 2");
        QCOMPARE(lent.layout.glyphs.size(), std::size_t{4});
        QCOMPARE(lent.layout.glyphs[1].face, lent.layout.glyphs[3].face);
        QVERIFY(lent.layout.glyphs[1].face != 0 && lent.layout.glyphs[0].face == 0);
        const outline::Font& lender = lent.faces.of(lent.layout.glyphs[1].face);
        QVERIFY(lender.has(U'\u0416'));
        QVERIFY(notes[0].message.find(lender.name()) != std::string::npos && notes[0].message.find("\u0416") != std::string::npos);
        work::Cache cache;
        const work::Address letter{"p1", piece.letterIds()[1]};
        QCOMPARE(work::lettersLike(work, letter, cache), (std::vector<std::string>{piece.letterIds()[1], piece.letterIds()[3]}));
        const auto faces = work::facesThatHave(work, letter, 3);
        QVERIFY(!faces.empty());
        const auto font = work::fontOnMachine(faces.front().family, faces.front().style);
        work.assets[font->choice.asset] = font->asset;
        for (const std::string& id : work::lettersLike(work, letter, cache))
            piece.letters[id].font = font->choice;
        notes.clear();
        QVERIFY(set(work, notes).layout.glyphs.size() == 4);
        QCOMPARE(set(work, notes).layout.widthPt, lent.layout.widthPt);
        QVERIFY(notes.empty());
        // What nobody has is left out and said, as ever.
        work::setText(piece, "K\U0010FFFD");
        notes.clear();
        QCOMPARE(set(work, notes).layout.glyphs.size(), std::size_t{1});
        QCOMPARE(notes.back().kind, "missing-glyph");
    }

    // A stacked word is as high as its letters, in the middle of its place, whatever the alignment.
    void stackedLinesStandInTheirMiddle()
    {
        for (const auto align : {outline::Align::Start, outline::Align::Centre, outline::Align::End, outline::Align::Justified}) {
            work::Work work = withText("HHHH\nHH");
            works::piece(work).lettering()->layout.stacked = true;
            works::piece(work).lettering()->layout.align = align;
            works::piece(work).placement.x = 30;
            const auto bodies = bodiesOf(work);
            QCOMPARE(bodies.bodies.size(), std::size_t{6});
            const base::Box3 box = bodies.places.front().box;
            QVERIFY(box.high.y - box.low.y > 1.4 * (box.high.x - box.low.x));
            QVERIFY(std::abs((box.low.x + box.high.x) / 2 - 30) < 0.02 * (box.high.x - box.low.x));
            QVERIFY(std::abs((box.low.y + box.high.y) / 2) < 0.01 * (box.high.y - box.low.y));
            // It is bent or set on a line only from straight lines.
            works::piece(work).lettering()->run.kind = work::RunKind::Arc;
            work::Work plain = work;
            works::piece(plain).lettering()->layout.stacked = false;
            QCOMPARE(bodiesOf(work).bodies.size(), bodiesOf(plain).bodies.size());
            QVERIFY(std::abs(bodiesOf(work).places.front().box.high.x - bodiesOf(plain).places.front().box.high.x) < 1e-9);
        }
    }

    // A grid of linked copies: row by row, each where its step and row bring it.
    void copiesStandInAGrid()
    {
        work::Work work = withText("I");
        works::piece(work).copies.count = 2;
        works::piece(work).copies.across = 40;
        works::piece(work).copies.up = 1;
        works::piece(work).copies.rows = 3;
        works::piece(work).copies.rowAcross = 5;
        works::piece(work).copies.rowUp = -90;
        works::piece(work).copies.depthStep = 2;
        const auto bodies = bodiesOf(work);
        QCOMPARE(bodies.bodies.size(), std::size_t{9});
        const Vec3 first = bodies.bodies.front().pose.origin;
        for (const work::WorkBody& body : bodies.bodies) {
            const int step = body.copy % 3, row = body.copy / 3;
            const Vec3 by = body.pose.origin - first;
            QVERIFY(std::abs(by.x - (40 * step + 5 * row)) < 1e-9 && std::abs(by.y - (step - 90 * row)) < 1e-9);
            double deepest = 0;
            for (const base::Vec3f& p : body.body->positions)
                deepest = std::max(deepest, double(p.z));
            QVERIFY(std::abs(deepest - (works::piece(work).slab()->depthPt + 2 * step)) < 1e-4);
        }
    }

    void clashesAreFoundAndParted_data()
    {
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("y");
        QTest::addColumn<double>("z");
        QTest::addColumn<double>("size");
        QTest::addColumn<bool>("clash");
        QTest::newRow("apart") << 120.0 << 0.0 << 0.0 << 100.0 << false;
        QTest::newRow("side by side") << 100.0 << 0.0 << 0.0 << 100.0 << false;
        QTest::newRow("one on the other") << 10.0 << 10.0 << 20.0 << 50.0 << false;
        QTest::newRow("in front of it") << 0.0 << 0.0 << 30.0 << 100.0 << false;
        QTest::newRow("on one plane") << 90.0 << 95.0 << 0.0 << 100.0 << false;
        QTest::newRow("a corner in the other") << 90.0 << 95.0 << 5.0 << 100.0 << true;
        QTest::newRow("a little into it") << 10.0 << 10.0 << 19.0 << 50.0 << true;
        QTest::newRow("wholly within") << 0.0 << 0.0 << 5.0 << 5.0 << true;
    }
    void clashesAreFoundAndParted()
    {
        QFETCH(double, x);
        QFETCH(double, y);
        QFETCH(double, z);
        QFETCH(double, size);
        QFETCH(bool, clash);
        work::Work work = boxes();
        const std::string a = addBox(work, {0, 0, 0}, {100, 100, 20});
        const std::string b = addBox(work, {x, y, z}, {size, size, size == 5 ? 5.0 : 20.0});
        const auto bodies = bodiesOf(work);
        const auto clashes = work::clashesOf(work, bodies);
        QCOMPARE(!clashes.empty(), clash);
        QCOMPARE(work::clashNotes(work, clashes).size(), clashes.size());
        if (!clash)
            return;
        QCOMPARE(clashes.front().piece, a);
        QCOMPARE(clashes.front().other, b);
        const Vec3 where = clashes.front().at;  // within both
        QVERIFY(std::abs(where.x) <= 50 && std::abs(where.y) <= 50 && where.z >= 0 && where.z <= 20);
        QVERIFY(std::abs(where.x - x) <= size / 2 && std::abs(where.y - y) <= size / 2 && where.z >= z);
        for (const std::string& piece : {a, b}) {
            const work::Work apart = work::parted(work, bodies, piece);
            QVERIFY(!(apart == work));
            QVERIFY(work::clashesOf(apart, bodiesOf(apart)).empty());
        }
    }

    // Round shapes whose boxes overlap do not clash; turned ones that do, do.
    void onlyBodiesClashNotTheirBoxes()
    {
        work::Work work = boxes();
        const std::string a = addBox(work, {0, 0, 0}, {100, 100, 20}), b = addBox(work, {80, 80, 3}, {100, 100, 20});
        for (const std::string& id : {a, b})
            work.pieces.items.at(id).shape()->kind = work::ShapeKind::Ellipse;
        QVERIFY(work::clashesOf(work, bodiesOf(work)).empty());
        work.pieces.items.at(b).placement.x = 60;
        work.pieces.items.at(b).placement.y = 60;
        work.pieces.items.at(b).placement.z = 3;
        QVERIFY(!work::clashesOf(work, bodiesOf(work)).empty());
        work.pieces.items.at(b).placement.z = 40;
        QVERIFY(work::clashesOf(work, bodiesOf(work)).empty());
        work.pieces.items.at(b).placement.tilt = 60;  // it swings through the other
        QVERIFY(!work::clashesOf(work, bodiesOf(work)).empty());
        // Its own copies are meant to stand so.
        work.pieces.items.at(b).hidden = true;
        work.pieces.items.at(a).copies.count = 3;
        work.pieces.items.at(a).copies.growth = 4;
        QVERIFY(work::clashesOf(work, bodiesOf(work)).empty());
    }
};

OPEN_GLOW_TEST(TestTypeset)
#include "test_typeset.moc"
