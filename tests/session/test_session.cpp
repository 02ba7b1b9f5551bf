// History, choice, edits and summaries: an open work without a window.
#include <QtTest>

#include "files/work_json.h"
#include "picture/colour.h"
#include "session/edits.h"
#include "session/gesture.h"
#include "session/session.h"
#include "session/summary.h"
#include "support/registered.h"

using session::Choice;
using session::Session;

namespace {

work::Work kites(const std::string& text = "KITE")
{
    work::FontChoice font;
    font.style = "Bold";
    return work::newWork(text, font, {800, 600, work::Unit::Px, 72});
}

solid::SlabForm& form(work::Work& w)
{
    return *w.pieces.items.at("p1").slab();
}

}  // namespace

class TestSession : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A gesture changes what it touches, however the work changes meanwhile; undo and opening call it off.
    void aGestureChangesTheWorkAsItStands()
    {
        session::Session s(work::newWork("KITE", {}, {}));
        session::Gesture drag(s, "Move");
        const auto right = [](double by) { return [by](work::Work& w) { w.pieces.items.at("p1").placement.x += by; }; };
        QVERIFY(drag.move(right(10)));
        s.edit("Name", [](work::Work& w) { w.pieces.items.at("p1").name = "Title"; });
        s.edit("Asset", [](work::Work& w) { w.assets["kept/a.exr"] = {}; });
        QVERIFY(drag.move(right(30)));
        const work::Piece& p = s.work().pieces.items.at("p1");
        QCOMPARE(p.placement.x, 30.0);
        QCOMPARE(p.name, "Title");
        QVERIFY(s.work().assets.contains("kept/a.exr"));
        QVERIFY(drag.move(right(0)));  // back where it began
        QCOMPARE(s.work().pieces.items.at("p1").placement.x, 0.0);
        QVERIFY(drag.move(right(40)));
        s.undo();
        const work::Work undone = s.work();
        QVERIFY(drag.isCalledOff());
        QVERIFY(!drag.move(right(50)));
        QVERIFY(s.work() == undone);
        session::Gesture other(s, "Move");
        s.open(work::newWork("FAIR", {}, {}), "fair.openglow");
        QVERIFY(!other.move(right(50)));
        other.end(true);
        QVERIFY(s.work() == work::newWork("FAIR", {}, {}));
    }

    // A piece that goes during a drag is not brought back, and what a letter gets of its own is told apart from its piece's.
    void aGestureLeavesWhatIsGone()
    {
        work::Work work = work::newWork("KITE", {}, {});
        work.pieces.items["p9"] = work.pieces.items.at("p1");
        work.pieces.order.push_back("p9");
        session::Session s(work);
        session::Gesture drag(s, "Depth");
        s.edit("Delete", [](work::Work& w) {
            w.pieces.items.erase("p9");
            w.pieces.order = {"p1"};
        });
        QVERIFY(drag.move([](work::Work& w) {
            w.pieces.items.at("p9").slab()->depthPt = 7;
            w.pieces.items.at("p1").letters["a2"].form = solid::SlabForm{9, {}, {}, solid::Corners::Round};
        }));
        QCOMPARE(s.work().pieces.items.size(), std::size_t{1});
        QCOMPARE(s.work().pieces.items.at("p1").letters.at("a2").form, work::Form(solid::SlabForm{9, {}, {}, solid::Corners::Round}));
        drag.end(true);
        QVERIFY(s.work().pieces.items.at("p1").letters.empty());
    }

    void undoLeadsBackToAnEqualWork()
    {
        const work::Work start = kites();
        Session s(start);
        int told = 0;
        s.observe([&](const session::Change&) { ++told; });
        QVERIFY(s.edit("Depth", [](work::Work& w) { form(w).depthPt = 7; }));
        QVERIFY(s.edit("Text", [](work::Work& w) { work::setText(w.pieces.items.at("p1"), "KITES"); }));
        QVERIFY(s.edit("Add light", [](work::Work& w) { session::addLight(w, light::LightKind::Sun); }));
        QVERIFY(s.isChanged());
        const work::Work end = s.work();
        QCOMPARE(told, 3);
        QCOMPARE(s.history().undoLabel(), std::string("Add light"));
        for (int i = 0; i < 3; ++i)
            s.undo();
        QVERIFY(s.work() == start);
        QVERIFY(files::toJson(s.work()) == files::toJson(start));
        QVERIFY(!s.isChanged() && !s.history().canUndo());
        for (int i = 0; i < 3; ++i)
            s.redo();
        QVERIFY(s.work() == end);
    }

    // A drag is one step however many values it runs through; one that comes back to its start, and one that changes nothing,
    // is none.
    void mergingAndNothing()
    {
        const work::Work start = kites();
        const double depth = work::Work(start).pieces.items.at("p1").slab()->depthPt;
        Session s(start);
        const auto drag = [&](double to) { return s.edit("Depth", "depth", [to](work::Work& w) { form(w).depthPt = to; }); };
        for (int i = 1; i < 50; ++i)
            drag(i);
        s.endMerge();
        drag(60);
        drag(61);
        s.undo();
        QCOMPARE(s.work().pieces.items.at("p1").slab()->depthPt, 49.0);
        s.undo();
        QVERIFY(s.work() == start);
        QVERIFY(!drag(depth));
        QVERIFY(!s.history().canUndo());
        drag(5);
        drag(depth);
        QVERIFY(!s.history().canUndo());
        QVERIFY(s.work() == start);
    }

    void aNewEditDropsWhatWasUndone()
    {
        Session s(kites());
        s.edit("A", [](work::Work& w) { form(w).depthPt = 1; });
        s.edit("B", [](work::Work& w) { form(w).depthPt = 2; });
        s.undo();
        s.edit("C", [](work::Work& w) { form(w).depthPt = 3; });
        QVERIFY(!s.history().canRedo());
        s.undo();
        QCOMPARE(s.work().pieces.items.at("p1").slab()->depthPt, 1.0);
    }

    void choicesOfPiecesAndLetters()
    {
        Session s(kites());
        const auto ids = s.work().pieces.items.at("p1").lettering()->letterIds;
        Choice letters;
        letters.set({"p1", ids[0]});
        letters.add({"p1", ids[2]});
        s.choose(letters);
        QCOMPARE(session::choiceTitle(s.work(), s.choice()), std::string("Chosen: K, T of KITE"));
        // A form for these two; the piece and the others keep theirs.
        const double depth = s.work().pieces.items.at("p1").slab()->depthPt;
        s.edit("Depth", [&](work::Work& w) {
            for (solid::SlabForm* f : session::formsIn<solid::SlabForm>(w, s.choice()))
                f->depthPt = 5;
        });
        const work::Piece& piece = s.work().pieces.items.at("p1");
        QCOMPARE(piece.letters.size(), std::size_t{2});
        QCOMPARE(piece.slab()->depthPt, depth);
        QCOMPARE(work::depthOf(piece.formOf(ids[2])), 5.0);
        const auto depthOf = [](const solid::SlabForm& f) { return f.depthPt; };
        QCOMPARE(session::common<double>(session::formsOf<solid::SlabForm>(s.work(), s.choice()), depthOf), std::optional(5.0));
        // The whole piece reads mixed, and setting it sets all; letters like their piece have nothing of their own any more.
        letters.add({"p1", {}});
        QCOMPARE(letters.targets.size(), std::size_t{1});
        s.choose(letters);
        QVERIFY(!session::common<double>(session::formsOf<solid::SlabForm>(s.work(), s.choice()), depthOf).has_value());
        s.edit("Depth", [&](work::Work& w) {
            for (solid::SlabForm* f : session::formsIn<solid::SlabForm>(w, s.choice()))
                f->depthPt = 9;
        });
        QVERIFY(s.work().pieces.items.at("p1").letters.empty());
        // What goes is chosen no longer.
        letters.set({"p1", ids[3]});
        s.choose(letters);
        s.edit("Text", [](work::Work& w) { work::setText(w.pieces.items.at("p1"), "KIT"); });
        QVERIFY(s.choice().empty());
    }

    void viewsGoBack()
    {
        Session s(kites());
        QVERIFY(!s.backToLastView());
        for (double walk : {5.0, 10.0, 15.0})
            s.edit("Walk", "walk", [walk](work::Work& w) { w.view().walk = walk; });
        s.endMerge();
        QVERIFY(s.backToLastView());
        QCOMPARE(s.work().view().walk, 0.0);
        QVERIFY(s.backToLastView());  // and forth
        QCOMPARE(s.work().view().walk, 15.0);
    }

    void piecesAndLights()
    {
        work::Work w = kites();
        const std::string id = session::addLettering(w, "DUNES");
        QCOMPARE(w.pieces.order, (std::vector<std::string>{id, "p1"}));
        const auto copies = session::duplicate(w, {"p1"});
        QCOMPARE(w.pieces.order, (std::vector<std::string>{id, copies[0], "p1"}));
        for (int i = 0; i < 5; ++i)
            session::reorder(w, {id}, 1);
        QCOMPARE(w.pieces.order.back(), id);
        session::remove(w, {"p1", id});
        QCOMPARE(w.pieces.order, copies);
        session::remove(w, copies);
        QVERIFY(w.pieces.items.empty());
        QVERIFY(!session::addLettering(w, "NEW").empty());

        const std::string sun = session::addLight(w, light::LightKind::Sun);
        const std::string second = session::duplicateLight(w, sun);
        QCOMPARE(session::lightTitle(w, second), std::string("Sun 2"));
        session::removeLight(w, sun);
        QCOMPARE(session::lightTitle(w, second), std::string("Sun"));
    }

    // A3 to A5 halves every length (ISO 216: each format has half the area of the one before).
    void aSmallerSheetTakesTheWorkAlong()
    {
        work::Work w = kites();
        w.sheet() = {297, 420, work::Unit::Mm, 300};
        w.pieces.items.at("p1").placement.x = 30;
        w.pieces.items.at("p1").slab()->front.widthPt = 4;
        const double size = w.pieces.items.at("p1").lettering()->layout.sizePt, distance = w.lights.items.begin()->second.distance;
        session::changeSheet(w, {148.5, 210, work::Unit::Mm, 300}, true);
        const work::Piece& p = w.pieces.items.at("p1");
        QCOMPARE(p.lettering()->layout.sizePt, size / 2);
        QCOMPARE(p.slab()->front.widthPt, 2.0);
        QCOMPARE(p.placement.x, 15.0);
        QCOMPARE(w.lights.items.begin()->second.distance, distance / 2);
    }

    // Why a colour is seen otherwise than typed: by what the material does, then by what light does.
    void whyAColourIsSeenOtherwise()
    {
        const auto why = [](const char* typed, const char* seen, const work::Material& material = {}) {
            return session::whySeenOtherwise(material, *picture::rgbFromHex(typed), *picture::rgbFromHex(seen));
        };
        work::Material matte, coated, glass, stone, gold, printed;
        printed.pictures.colour = "pictures/sail-0123456789abcdef.png";
        printed.pictures.relief = "pictures/weave-0123456789abcdef.png";
        QCOMPARE(session::picturesText(printed.pictures), std::string("sail.png, relief"));
        matte.specular = 0;
        coated.clearcoat = 1;
        glass.transmission = 1;
        stone.pattern = surface::PatternKind::Granite;
        gold.metallic = 1;
        QCOMPARE(why("#3A6EA5", "#3D70A6"), "");
        QCOMPARE(why("#3A6EA5", "#E8664F", printed), "picture");
        QCOMPARE(why("#3A6EA5", "#1E3A58", matte), "shadow");
        QCOMPARE(why("#3A6EA5", "#4582C2", matte), "strong light");
        QCOMPARE(why("#808080", "#8C7050", matte), "coloured light");
        QCOMPARE(why("#3A6EA5", "#5A83B2"), "mirror layer");
        QCOMPARE(why("#3A6EA5", "#5A83B2", coated), "clear coat");
        QCOMPARE(why("#3A6EA5", "#5A83B2", glass), "seen through");
        QCOMPARE(why("#3A6EA5", "#5A83B2", stone), "pattern");
        QCOMPARE(why("#FFE59E", "#8A7020", gold), "mirrors what is around it");
    }

    void summariesSayWhatIsSet()
    {
        work::Work w = kites("KITE\nFAIR");
        work::Piece& p = w.pieces.items.at("p1");
        p.lettering()->layout.sizePt = 180;
        p.form = solid::SlabForm{24, {3, 3, solid::Profile::Roundover, 8}, {}, solid::Corners::Round};
        Choice choice;
        choice.set({"p1", {}});
        const session::LengthUnit pt;
        QCOMPARE(session::letteringSummary(w, choice), std::string("League Spartan Bold, 180 pt, 2 lines"));
        QCOMPARE(session::formSummary(w, choice, pt), std::string("slab 24 pt, roundover 3 pt in front"));
        QCOMPARE(session::lightSummary(w), std::string("1 light, brightest from the upper left, soft; surroundings"));
        QCOMPARE(session::viewSummary(w), std::string("parallel, straight"));
        QCOMPARE(session::stopSentence({64, 10, 1.5}), std::string("when clean or at 64 samples or after 10 s"));
        p.letters[p.lettering()->letterIds[0]].form = solid::SlabForm{1, p.slab()->front, {}, solid::Corners::Round};
        QCOMPARE(session::formSummary(w, choice, pt), std::string("slabs of mixed depth, roundover 3 pt in front"));
    }
};

OPEN_GLOW_TEST(TestSession)
#include "test_session.moc"
