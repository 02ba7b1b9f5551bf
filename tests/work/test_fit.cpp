// Lettering and its sheet, and a ground that comes to where the pieces are: held against the bodies that are made of them.
#include "support/support.h"
#include "work/fit.h"
#include "work/grounding.h"
#include "work/scene.h"
#include "work/works.h"

using base::Progress;

namespace {

constexpr double kTolerance = 0.5;  // pt

base::Box3 boxOf(const work::Work& work, const std::string& piece = "p1")
{
    work::Cache cache;
    const auto bodies = work::makeBodies(work, kTolerance, cache, {});
    for (const work::PiecePlace& place : bodies->places)
        if (place.id == piece)
            return place.box;
    return {};
}

work::Work lettering(const std::string& text, double width = 800, double height = 600)
{
    return work::newWork(text, {}, {width, height, work::Unit::Pt, 72});
}

}  // namespace

class TestFit : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Whatever is typed, it fills 84 % of the width or 72 % of the height of its sheet; measured on the bodies, whose ink is a little less
    // than the advance.
    void letteringFillsItsSheet()
    {
        work::Cache cache;
        for (const char* text : {"I", "KITE", "Galepoint Kite Fair on the dunes", "ON\nTHE\nDUNES\nIN\nMAY"}) {
            work::Work work = lettering(text);
            QVERIFY(work::fitToSheet(work, "p1", cache));
            const base::Box3 box = boxOf(work);
            const double across = (box.high.x - box.low.x) / 800, up = (box.high.y - box.low.y) / 600;
            QVERIFY2(across <= 0.845 && up <= 0.80, text);
            QVERIFY2(across > 0.76 || up > 0.65, qPrintable(QString("%1: %2, %3").arg(text).arg(across).arg(up)));
            QVERIFY(work.pieces.items.at("p1").slab()->depthPt > 0);
        }
    }

    void linesBreakWhereTheLetteringBecomesLargest()
    {
        work::Cache cache;
        work::Work work = lettering("the kites of galepoint fly over the dunes in may");
        work::Piece& piece = work.pieces.items.at("p1");
        QVERIFY(work::fitToSheet(work, "p1", cache));
        const double oneLine = piece.sizePt();
        const std::string first = piece.letterIds().front(), last = piece.letterIds().back();
        piece.letters[last].y = 5;
        QVERIFY(work::breakLines(work, "p1", cache));
        QVERIFY(piece.lettering()->text.find('\n') != std::string::npos);
        QVERIFY(piece.sizePt() > 2 * oneLine);
        QCOMPARE(piece.letterIds().front(), first);
        QCOMPARE(piece.letters.at(last).y, 5.0 * piece.sizePt() / oneLine);
        // No other place for the breaks of as many lines is larger.
        const double best = piece.sizePt();
        std::string words = piece.lettering()->text;
        std::replace(words.begin(), words.end(), '\n', ' ');
        for (std::size_t at = words.find(' '); at != std::string::npos; at = words.find(' ', at + 1)) {
            work::Work other = lettering(words.substr(0, at) + "\n" + words.substr(at + 1));
            QVERIFY(work::fitToSheet(other, "p1", cache));
            QVERIFY(other.pieces.items.at("p1").sizePt() <= best * 1.0001);
        }
        // One word has nowhere to break.
        work::Work word = lettering("Galepoint");
        QVERIFY(work::breakLines(word, "p1", cache));
        QCOMPARE(word.pieces.items.at("p1").lettering()->text, "Galepoint");
    }

    void fittedStaysFittedUntilItGetsAnotherSize()
    {
        work::Cache cache;
        work::Work work = lettering("KITE");
        work.pieces.items.at("p1").lettering()->fits = true;
        work::keepFitted({}, work, cache);
        const double four = work.pieces.items.at("p1").sizePt();
        work::Work longer = work;
        work::setText(longer.pieces.items.at("p1"), "KITE FAIR");
        work::keepFitted(work, longer, cache);
        QVERIFY(longer.pieces.items.at("p1").sizePt() < four);
        work::Work sized = longer;
        work::scaleTo(sized.pieces.items.at("p1"), 20);
        work::keepFitted(longer, sized, cache);
        QCOMPARE(sized.pieces.items.at("p1").sizePt(), 20.0);
        QVERIFY(!sized.pieces.items.at("p1").lettering()->fits);
    }

    // Letters wholly outside the frame are counted, those on its edge are not.
    void whatIsOffTheSheetIsSaid()
    {
        work::Cache cache;
        work::Work work = lettering("IIIIIIIIII");
        const auto notes = [&] {
            const auto bodies = work::makeBodies(work, kTolerance, cache, {});
            return work::offSheet(work, *bodies, work::cameraOf(work, *bodies));
        };
        QVERIFY(notes().empty());
        work.pieces.items.at("p1").placement.x = 400;  // its middle on the edge: half of the letters are beyond
        QCOMPARE(notes().size(), std::size_t{1});
        QCOMPARE(notes().front().kind, "off-sheet");
        QVERIFY2(notes().front().message.starts_with("5 of 10 letters"), notes().front().message.c_str());
        QCOMPARE(notes().front().place, "pieces/p1");
        work.pieces.items.at("p1").placement.x = 4000;
        QVERIFY(notes().front().message.find("not on the sheet") != std::string::npos);
        work.pieces.items.at("p1").placement.x = 400;
        work.view().frame = 3;  // the view takes them in again
        QVERIFY(notes().empty());
    }

    // The floor comes under the letters, which stand on it where they were; the view rises from a line to a floor.
    void aFloorComesUnderTheLetters()
    {
        work::Cache cache;
        for (const auto kind : {render::GroundKind::Floor, render::GroundKind::Sweep}) {
            work::Work work = lettering("KITE");
            work.pieces.items.at("p1").placement.y = 70;
            const base::Box3 before = boxOf(work);
            QVERIFY(work::chooseGround(work, kind, cache));
            const work::Placement& p = work.pieces.items.at("p1").placement;
            QCOMPARE(p.stance, work::Stance::OnFloor);
            const base::Box3 after = boxOf(work);
            QVERIFY(length(after.low - before.low) < 0.01 && length(after.high - before.high) < 0.01);
            QVERIFY(std::abs(after.low.y + work.ground.floorBelow) < 0.01);
            QVERIFY(work.view().rise >= work::kLeastRise);
            if (kind == render::GroundKind::Sweep)  // it stands before the bend
                QVERIFY(after.low.z >= -work.ground.wallBehind + work.ground.sweep);
            // And back against a wall, where it was.
            QVERIFY(!work::chooseGround(work, render::GroundKind::Wall, cache));
            QCOMPARE(work.pieces.items.at("p1").placement.stance, work::Stance::AgainstWall);
            QVERIFY(length(boxOf(work).low - before.low) < 0.01);
        }
    }

    // Only what is lowest stands; lines above it stay where they are, and what stands free has its own wish.
    void othersStayWhereTheyAre()
    {
        work::Cache cache;
        work::Work work = lettering("KITE");
        work.pieces.items.at("p1").placement.y = 150;
        work::Piece below = work.pieces.items.at("p1");
        below.placement.y = -150;
        work.pieces.add("p8", below);
        work::Piece free = below;
        free.placement = {work::Stance::Free, 10, 20, 30, 0, 0, 0};
        work.pieces.add("p9", free);
        const base::Box3 above = boxOf(work), hung = boxOf(work, "p9");
        work::chooseGround(work, render::GroundKind::Floor, cache);
        QCOMPARE(work.pieces.items.at("p8").placement.stance, work::Stance::OnFloor);
        QCOMPARE(work.pieces.items.at("p9").placement, free.placement);
        QVERIFY(length(boxOf(work).low - above.low) < 0.01);
        QCOMPARE(boxOf(work, "p9"), hung);
        // A view from high enough, or one that is locked, stays.
        work::Work high = lettering("KITE");
        high.view().rise = 20;
        QVERIFY(!work::chooseGround(high, render::GroundKind::Floor, cache));
        QCOMPARE(high.view().rise, 20.0);
        work::Work locked = lettering("KITE");
        locked.viewLocked = true;
        QVERIFY(!work::chooseGround(locked, render::GroundKind::Floor, cache));
    }
};

OPEN_GLOW_TEST(TestFit)
#include "test_fit.moc"
