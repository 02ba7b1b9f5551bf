// Pieces between works, and what lies behind what.
#include "files/work_file.h"
#include "session/arrange.h"
#include "session/body_lines.h"
#include "session/clip.h"
#include "session/edits.h"
#include "session/groups.h"
#include "session/lines.h"
#include "session/under.h"
#include "support/support.h"
#include "work/scene.h"

namespace {

work::Work kites(const char* text = "KITE")
{
    return work::newWork(text, {}, {800, 600, work::Unit::Pt, 72});
}

}  // namespace

class TestClip : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void piecesGoFromWorkToWork()
    {
        work::Work from = kites();
        const std::string letter = from.pieces.items.at("p1").letterIds()[2];
        from.pieces.items.at("p1").letters[letter].y = 12;
        from.swatches.add("s7", {"Sand", {0.5f, 0.4f, 0.2f}});
        from.pieces.items.at("p1").material.parts["side"].swatch = "s7";
        from.pieces.add("p9", kites("FAIR").pieces.items.at("p1"));
        const work::Work clip = session::clipOf(from, {"p1"});
        QCOMPARE(clip.pieces.order, std::vector<std::string>{"p1"});
        QVERIFY(clip.lights.order.empty());

        work::Work to = kites("DUNES");
        const auto ids = session::paste(to, clip);
        QCOMPARE(to.pieces.order.size(), std::size_t{2});
        QCOMPARE(to.pieces.order.front(), ids.front());
        work::Piece pasted = to.pieces.items.at(ids.front());
        QCOMPARE(pasted.lettering()->text, "KITE");
        QCOMPARE(pasted.letters.at(letter).y, 12.0);
        // It follows a swatch of this work now, and a second time the same one.
        const std::string swatch = pasted.material.of("side").swatch;
        QCOMPARE(to.swatches.items.at(swatch).name, "Sand");
        session::paste(to, clip);
        QCOMPARE(to.swatches.order.size(), std::size_t{1});
        QVERIFY(to.pieces.items.at(to.pieces.order[0]).placement.x != pasted.placement.x);  // not one in the other
        QCOMPARE(to.lights.order.size(), std::size_t{1});
        const std::size_t lights = to.lights.order.size();
        session::paste(to, session::clipOfLight(from, from.lights.order.front()));
        QCOMPARE(to.lights.order.size(), lights + 1);
    }

    // Grouped pieces are neighbours; order, copies and what is deleted keep groups whole.
    void piecesAreGrouped()
    {
        work::Work w = kites("A");
        for (const char* text : {"B", "C", "D", "E"})
            session::addLettering(w, text);
        const auto order = [&] {
            std::string letters;
            for (const std::string& id : w.pieces.order)
                letters += w.pieces.items.at(id).lettering()->text;
            return letters;
        };
        const auto at = [&](const char* text) {
            return *std::find_if(w.pieces.order.begin(), w.pieces.order.end(),
                                 [&](const std::string& id) { return w.pieces.items.at(id).lettering()->text == text; });
        };
        QCOMPARE(order(), "EDCBA");
        const std::string group = session::group(w, {at("B"), at("E")});
        QCOMPARE(order(), "EBDCA");
        QCOMPARE(session::piecesIn(w, group).size(), std::size_t{2});
        QCOMPARE(session::groupTitle(w, group), "E, B");
        QCOMPARE(session::whole(w, at("B")).targets.size(), std::size_t{2});
        QCOMPARE(session::whole(w, at("B")).targets.back().piece, at("B"));  // it leads
        QVERIFY(session::isChosenAsGroup(w, session::whole(w, at("B")), at("B")));
        QCOMPARE(session::whole(w, at("C")).targets.size(), std::size_t{1});

        // Past a group as a whole; the group past another piece as a whole.
        session::reorder(w, {at("D")}, -1);
        QCOMPARE(order(), "DEBCA");
        QVERIFY(session::groupOf(w, at("D")).empty());
        session::reorder(w, {at("E"), at("B")}, 1);
        QCOMPARE(order(), "DCEBA");
        QCOMPARE(session::groupOf(w, at("E")), group);
        // Dropped between two of a group it joins; taken away from it, it leaves.
        session::setOrder(w, {at("C"), at("E"), at("D"), at("B"), at("A")});
        QCOMPARE(session::groupOf(w, at("D")), group);
        session::setOrder(w, {at("E"), at("C"), at("D"), at("B"), at("A")});
        QVERIFY(session::groupOf(w, at("E")).empty());
        QCOMPARE(session::piecesIn(w, group).size(), std::size_t{2});

        w.groups.items.at(group).name = "Pair";
        const auto copies = session::duplicate(w, {at("D"), at("B")});
        QCOMPARE(w.groups.order.size(), std::size_t{2});
        QVERIFY(session::groupOf(w, copies[0]) != group);
        QCOMPARE(session::groupTitle(w, session::groupOf(w, copies[0])), "Pair");
        work::Work other = kites("X");
        session::paste(other, session::clipOf(w, copies));
        QCOMPARE(other.groups.order.size(), std::size_t{1});
        QCOMPARE(session::piecesIn(other, other.groups.order.front()).size(), std::size_t{2});
        // Through the file and back.
        const auto bytes = files::workBytes(w, "w");
        QVERIFY(files::workFromBytes(*bytes, "w") == w);

        session::remove(w, copies);
        QCOMPARE(w.groups.order, std::vector<std::string>{group});
        session::ungroup(w, {at("D")});
        QVERIFY(w.groups.order.empty() && session::groupOf(w, at("B")).empty());
    }

    // Edges, gaps and sizes by the boxes of the bodies, computed anew after each.
    void piecesAreArranged()
    {
        work::Work w = kites("A");
        for (const char* text : {"BB", "C"})
            session::addLettering(w, text);
        w.sheet().margin = 20;
        double at = -150;
        for (auto& [_, piece] : w.pieces.items) {
            work::scaleTo(piece, 60);
            piece.lettering()->fits = false;
            piece.placement.x = at;
            piece.placement.y = at / 3;
            at += at < -100 ? 60 : 170;
        }
        const std::vector<std::string> all = w.pieces.order;
        work::Cache cache;
        const auto boxes = [&] {
            std::map<std::string, base::Box3> found;
            const auto bodies = work::makeBodies(w, 0.1, cache, {});
            for (const work::PiecePlace& place : bodies->places)
                found[place.id] = place.box;
            return found;
        };
        const auto apply = [&](const std::function<work::Work(const work::WorkBodies&)>& change) {
            const auto bodies = work::makeBodies(w, 0.1, cache, {});
            w = change(*bodies);
        };
        const auto same = [](double a, double b) { return std::abs(a - b) < 1e-6; };
        const auto before = boxes();
        apply([&](const auto& b) { return session::aligned(w, b, all, session::Edge::Left, session::AlignTo::EachOther); });
        double left = 1e9;
        for (const auto& [id, box] : before)
            left = std::min(left, box.low.x);
        for (const auto& [id, box] : boxes())
            QVERIFY(same(box.low.x, left) && same(box.low.y, before.at(id).low.y));
        apply([&](const auto& b) { return session::aligned(w, b, all, session::Edge::Lower, session::AlignTo::Margin); });
        for (const auto& [_, box] : boxes())
            QVERIFY(same(box.low.y, -300 + 20));
        apply([&](const auto& b) { return session::aligned(w, b, {all[0]}, session::Edge::MiddleAcross, session::AlignTo::EachOther); });
        QVERIFY(same(boxes().at(all[0]).low.x, -boxes().at(all[0]).high.x));  // alone: to the sheet

        w.pieces.items.at(all[0]).placement.x = -200;
        w.pieces.items.at(all[1]).placement.x = -170;
        w.pieces.items.at(all[2]).placement.x = 250;
        apply([&](const auto& b) { return session::distributed(w, b, all, true); });
        auto now = boxes();
        QVERIFY(same(now.at(all[1]).low.x - now.at(all[0]).high.x, now.at(all[2]).low.x - now.at(all[1]).high.x));
        QVERIFY(same((now.at(all[0]).low.x + now.at(all[0]).high.x) / 2, -200) || now.at(all[0]).low.x < -200);
        const double high = now.at(all[2]).high.y - now.at(all[2]).low.y;
        apply([&](const auto& b) { return session::sameSize(w, b, all, true); });
        now = boxes();
        for (const auto& [_, box] : now)
            QVERIFY(std::abs((box.high.x - box.low.x) - (now.at(all[2]).high.x - now.at(all[2]).low.x)) < 0.05);
        QVERIFY(same(now.at(all[2]).high.y - now.at(all[2]).low.y, high));

        // A group is one thing, and what is locked stays.
        session::group(w, {all[0], all[1]});
        const double apart = now.at(all[1]).low.x - now.at(all[0]).low.x;
        w.pieces.items.at(all[2]).locked = true;
        const double locked = now.at(all[2]).low.x;
        apply([&](const auto& b) { return session::aligned(w, b, all, session::Edge::Right, session::AlignTo::Sheet); });
        now = boxes();
        QVERIFY(same(now.at(all[1]).low.x - now.at(all[0]).low.x, apart));
        QVERIFY(same(std::max(now.at(all[0]).high.x, now.at(all[1]).high.x), 400));
        QVERIFY(same(now.at(all[2]).low.x, locked));
    }

    void formAndMaterialArePasted()
    {
        work::Work from = kites();
        from.pieces.items.at("p1").slab()->depthPt = 77;
        from.pieces.items.at("p1").material.piece.baseColour = {0, 0, 1};
        const work::Work clip = session::clipOf(from, {"p1"});
        work::Work to = kites("FAIR");
        const std::string letter = to.pieces.items.at("p1").letterIds()[1];
        session::Choice one;
        one.set({"p1", letter});
        QVERIFY(session::pasteForm(to, one, clip));
        QVERIFY(session::pasteMaterial(to, one, clip));
        const work::Piece& piece = to.pieces.items.at("p1");
        QCOMPARE(std::get<solid::SlabForm>(piece.formOf(letter)).depthPt, 77.0);
        QVERIFY(std::get<solid::SlabForm>(piece.form).depthPt != 77);
        QCOMPARE(piece.materialOf(letter).piece.baseColour, (base::Rgb{0, 0, 1}));
        QVERIFY(!session::pasteForm(to, one, session::clipOf(from, {})));
    }

    // A light becomes like the copied one, under its own name.
    void aLightIsPastedOntoAnother()
    {
        work::Work from = kites();
        const std::string lamp = from.lights.order.front();
        from.lights.items.at(lamp).stops = 2.5;
        from.lights.items.at(lamp).colour = {1, 0, 0};
        from.lights.items.at(lamp).name = "red one";
        work::Work to = kites();
        const std::string own = to.lights.order.front();
        to.lights.items.at(own).name = "mine";
        QVERIFY(session::pasteLight(to, own, session::clipOfLight(from, lamp)));
        QCOMPARE(to.lights.items.at(own).stops, 2.5);
        QCOMPARE(to.lights.items.at(own).colour, (base::Rgb{1, 0, 0}));
        QCOMPARE(to.lights.items.at(own).name, "mine");
        QVERIFY(!session::pasteLight(to, own, session::clipOf(from, {})));
    }

    // A block has twelve edges and no other line, from any side; the diagonals of its faces are none.
    void aBlockIsTwelveLines()
    {
        work::Work work = kites("I");  // a bar in this face
        work.pieces.items.at("p1").slab()->front = work.pieces.items.at("p1").slab()->back = {};
        work.ground.kind = render::GroundKind::None;
        work::Cache cache;
        const auto bodies = work::makeBodies(work, 0.25, cache, {});
        QVERIFY(bodies && bodies->bodies.size() == 1);
        for (const double walk : {0.0, 35.0, -120.0}) {
            work.view().walk = walk;
            work.view().rise = walk / 6;
            work.view().perspective = walk != 0;
            const auto lines = session::linesOf(*bodies, work::makeScene(work, *bodies).camera);
            QCOMPARE(lines.size(), std::size_t{1});
            QCOMPARE(lines[0].target.piece, "p1");
            QCOMPARE(lines[0].lines.size(), std::size_t{12});
        }
    }

    // Three bars one behind the other: a ray through their middle meets them in this order, one beside them none.
    void whatLiesUnderAPlace()
    {
        work::Work work = kites("I");
        work.pieces.items.at("p1").placement.stance = work::Stance::Free;
        for (const auto& [id, z] : {std::pair{"p8", -200.0}, {"p9", 150.0}}) {
            work::Piece piece = work.pieces.items.at("p1");
            piece.placement.z = z;
            work.pieces.add(id, piece);
        }
        for (const bool perspective : {false, true}) {
            work.view().perspective = perspective;
            work::Cache cache;
            const auto bodies = work::makeBodies(work, 0.5, cache, {});
            const auto targets = session::under(*bodies, work::cameraOf(work, *bodies), {0.5, 0.5});
            QCOMPARE(targets.size(), std::size_t{3});
            QCOMPARE(targets[0].piece, "p9");
            QCOMPARE(targets[1].piece, "p1");
            QCOMPARE(targets[2].piece, "p8");
            QCOMPARE(targets[2].letter, work.pieces.items.at("p8").letterIds()[0]);
            QVERIFY(session::under(*bodies, work::cameraOf(work, *bodies), {0.9, 0.5}).empty());
        }
    }

    // Pieces that are copied together go on with each other; what is copied alone goes on with what it was with.
    void copiesGoWithCopies()
    {
        work::Work work = work::newWork("KITE", {}, {800, 600, work::Unit::Px, 72});
        const std::string disc = session::addShape(work, {work::ShapeKind::Ellipse}, {});
        work::Piece& word = work.pieces.items.at("p1");
        word.lettering()->run.kind = work::RunKind::Artwork;
        word.lettering()->run.piece = disc;
        word.steps.add("g9", {true, work::Combine{outline::How::Subtract, disc}});
        const auto of = [&](const std::string& id) {
            const work::Piece& piece = work.pieces.items.at(id);
            return std::pair(piece.lettering()->run.piece, std::get<work::Combine>(piece.steps.items.at("g9").what).piece);
        };
        const auto both = session::duplicate(work, {disc, "p1"});
        QCOMPARE(of(both[1]), (std::pair{both[0], both[0]}));
        const auto alone = session::duplicate(work, {"p1"});
        QCOMPARE(of(alone[0]), (std::pair{disc, disc}));
        const work::Work clip = session::clipOf(work, {disc, "p1"});
        work::Work other = work::emptyWork({800, 600, work::Unit::Px, 72});
        other.nextId = 50;
        const auto pasted = session::paste(other, clip);
        QCOMPARE(pasted.size(), std::size_t(2));
        for (const std::string& id : pasted)
            if (const work::Lettering* lettering = other.pieces.items.at(id).lettering())
                QVERIFY(other.pieces.items.contains(lettering->run.piece));
    }
};

OPEN_GLOW_TEST(TestClip)
#include "test_clip.moc"
