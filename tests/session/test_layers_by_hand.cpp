// Layers of the finish by hand, and what they name.
#include <QtTest>

#include "session/clip.h"
#include "session/edits.h"
#include "session/layers.h"
#include "support/support.h"
#include "work/properties.h"
#include "work/scene.h"
#include "work/values.h"

namespace {

std::size_t kind(const char* name)
{
    const auto& names = work::Kinds<work::LayerWhat>::names;
    return std::size_t(std::find_if(std::begin(names), std::end(names), [&](const auto& n) { return std::string_view(n.name) == name; }) -
                       std::begin(names));
}

}  // namespace

class TestLayersByHand : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Added over the one that is shown, moved, doubled and taken away; ids are never given twice.
    void listed()
    {
        work::Work w = work::newWork("AB", {}, {});
        const std::string tone = session::addLayer(w, kind("tone")), grain = session::addLayer(w, kind("grain")),
                          halo = session::addLayer(w, kind("halo"), tone);
        QCOMPARE(w.finish.layers.order, (std::vector{tone, halo, grain}));
        QVERIFY(!session::canMoveLayer(w, grain, 1) && session::canMoveLayer(w, grain, -1) && !session::canMoveLayer(w, "y99", 1));
        session::moveLayer(w, grain, -1);
        QCOMPARE(w.finish.layers.order, (std::vector{tone, grain, halo}));
        const std::string copy = session::duplicateLayer(w, grain);
        QCOMPARE(w.finish.layers.order, (std::vector{tone, grain, copy, halo}));
        QCOMPARE(w.finish.layers.items.at(copy), w.finish.layers.items.at(grain));
        session::removeLayer(w, tone);
        QVERIFY(!w.finish.layers.items.contains(tone) && w.finish.layers.order.size() == 3);
        QCOMPARE(session::layerTitle(w, w.finish.layers.items.at(grain)), std::string("Grain"));
        QVERIFY(work::leastNextId(w) <= w.nextId);
    }

    // Into a group, about in it and out of it, one step each; a group goes with its layers, over another one too. What is drawn stays in
    // the order of the list.
    void grouped()
    {
        work::Work w = work::newWork("AB", {}, {});
        auto& layers = w.finish.layers;
        const auto in = [&](const std::string& id) { return work::groupOf(layers, id); };
        const std::string a = session::addLayer(w, kind("tone")), b = session::addLayer(w, kind("grain")),
                          c = session::addLayer(w, kind("vignette"));
        const std::string g = session::addGroup(w, b);
        QCOMPARE(layers.order, (std::vector{a, b, g, c}));
        QVERIFY(in(b) == g && in(a).empty() && in(c).empty() && in(g).empty());
        session::moveLayer(w, a, 1);  // into it, the lowest
        QVERIFY(in(a) == g && layers.order == (std::vector{a, b, g, c}));
        session::moveLayer(w, a, 1);
        QCOMPARE(layers.order, (std::vector{b, a, g, c}));
        session::moveLayer(w, a, 1);  // out over it
        QVERIFY(in(a).empty() && layers.order == (std::vector{b, g, a, c}));
        session::moveLayer(w, a, -1);  // and in again, the topmost
        QVERIFY(in(a) == g && layers.order == (std::vector{b, a, g, c}));
        session::moveLayer(w, b, -1);  // out under it
        QVERIFY(in(b).empty() && layers.order == (std::vector{b, a, g, c}) && !session::canMoveLayer(w, b, -1));
        const std::string h = session::addGroup(w, c);
        QCOMPARE(layers.order, (std::vector{b, a, g, c, h}));
        session::moveLayer(w, g, 1);
        QCOMPARE(layers.order, (std::vector{b, c, h, a, g}));
        session::moveLayer(w, g, -1);
        session::moveLayer(w, g, -1);
        QVERIFY(layers.order == (std::vector{a, g, b, c, h}) && !session::canMoveLayer(w, g, -1) && !session::canMoveLayer(w, h, 1));
        // Dropped between two of a group or right under it, it is in it; elsewhere it is not.
        session::dropLayer(w, b, {a, b, g, c, h});
        QVERIFY(in(b) == g);
        session::dropLayer(w, b, {a, g, c, b, h});
        QVERIFY(in(b) == h);
        session::dropLayer(w, c, {c, a, g, b, h});
        QVERIFY(in(c).empty() && in(b) == h && in(a) == g);
        const std::string copy = session::duplicateLayer(w, g);
        QVERIFY(layers.order.size() == 7 && work::layersOf(w).size() == 7);
        session::removeLayer(w, copy);
        QCOMPARE(layers.order, (std::vector{c, a, g, b, h}));
        layers.items.at(g).on = false;  // with what is in it
        QCOMPARE(work::layersOf(w).size(), std::size_t{3});
        layers.items.at(g).on = true;
        session::dissolveGroup(w, g);
        QVERIFY(in(a).empty() && layers.order == (std::vector{c, a, b, h}));
        // A kept finish has its groups in other works as well.
        const work::FinishStart start = work::finishStartOf(w);
        work::Work other = work::newWork("C", {}, {});
        work::useFinish(other, start);
        const auto made = work::layersOf(other);
        QVERIFY(made.size() == 4 && std::get<finish::Group>(made.back().what).layers == 1);
    }

    // Strokes keep their points to a hundredth of a pt, and grow with the sheet; what is no number ends them.
    void strokes()
    {
        work::Work w = work::newWork("AB", {}, {});
        const std::string id = session::addLayer(w, kind("tone"));
        session::addStroke(w, id, {{1.234, -5.678}, {100, 2}}, {40, 0.25, true});
        const auto strokes = work::layersOf(w).front().mask.strokes;
        QVERIFY(strokes.size() == 1 && strokes[0].size == 40 && strokes[0].softness == 0.25 && strokes[0].erases);
        QCOMPARE(w.finish.layers.items.at(id).strokes.items.begin()->second.points, std::string("1.23,-5.68 100.00,2.00"));
        QVERIFY(work::leastNextId(w) <= w.nextId);
        work::grow(w, 2);
        QVERIFY(work::layersOf(w).front().mask.strokes[0].points[1] == (base::Vec2{200, 4}));
        QCOMPARE(work::pointsOf("1,2 3 4,5 x 6,7").size(), std::size_t{2});
        QCOMPARE(work::pointsOf("1e999,2").size(), std::size_t{0});
    }

    // A caption stays flat through copies, other works and other finishes; it goes with its piece, and is hidden without its layer.
    void captionsStayFlat()
    {
        work::Work w = work::newWork("AB", {}, {});
        const std::string layer = session::addCaption(w, "on the dunes"),
                          piece = std::get<finish::Print>(w.finish.layers.items.at(layer).what).piece;
        QVERIFY(isFlat(w, piece));
        QCOMPARE(session::layerTitle(w, w.finish.layers.items.at(layer)), std::string("on the dunes"));
        const auto copies = session::duplicate(w, {piece});
        QVERIFY(isFlat(w, copies.front()) && w.finish.layers.order.size() == 2);
        work::Work other = work::newWork("C", {}, {});
        const auto pasted = session::paste(other, session::clipOf(w, {piece}));
        QVERIFY(isFlat(other, pasted.front()) && other.finish.layers.order.size() == 1);
        // Another finish takes the place of how it looks, not of what it says.
        session::addLayer(w, kind("grain"));
        session::addLayer(w, kind("code"));
        work::FinishStart start = work::finishStartOf(w);
        QCOMPARE(start.layers.size(), std::size_t{1});
        start.layers = {work::layerOfKind(kind("tone"))};
        work::useFinish(w, start);
        QCOMPARE(w.finish.layers.order.size(), std::size_t{4});
        QVERIFY(std::holds_alternative<finish::Tone>(w.finish.layers.items.at(w.finish.layers.order.front()).what));
        QVERIFY(isFlat(w, piece) && isFlat(w, copies.front()));
        session::remove(w, {copies.front()});
        QCOMPARE(w.finish.layers.order.size(), std::size_t{3});
        session::removeLayer(w, layer);
        QVERIFY(!isFlat(w, piece) && w.pieces.items.at(piece).hidden);
    }

    // What a caption's face cannot draw is said, as it is of bodies, though it is none.
    void captionsLackGlyphs()
    {
        work::Work w = work::newWork("AB", {}, {});
        const std::string layer = session::addCaption(w, "on \xEE\x84\xA3 dunes"),  // a place for private use: the caption's face has none
            piece = std::get<finish::Print>(w.finish.layers.items.at(layer).what).piece;
        work::Cache cache;
        const auto bodies = work::makeBodies(w, 0.1, cache, {});
        QVERIFY(bodies && std::ranges::none_of(bodies->bodies, [&](const auto& b) { return b.piece == piece; }));
        const auto note = std::ranges::find_if(bodies->notes,
                                               [&](const base::Note& n) { return n.place.find(piece + "/letters/") != std::string::npos; });
        std::string said;
        for (const base::Note& n : bodies->notes)
            said += n.kind + " " + n.place + "; ";
        QVERIFY2(note != bodies->notes.end() && (note->kind == "lent-face" || note->kind == "missing-glyph"), said.c_str());
    }

    // Chosen letters and parts by the numbers that pixels have; what is gone is nobody.
    void actsOnWhatIsChosen()
    {
        work::Work w = work::newWork("AB", {}, {});
        const std::string piece = w.pieces.order.front(), letter = w.pieces.items.at(piece).letterIds()[1];
        const std::string id = session::addLayer(w, kind("fill"));
        session::Choice choice;
        choice.targets = {{piece, letter, "face"}, {piece, letter, "side"}};
        session::actOnChosen(w, id, choice);
        QCOMPARE(w.finish.layers.items.at(id).pieces, (std::vector{piece + "/" + letter}));
        QCOMPARE(session::whereText(w, w.finish.layers.items.at(id)), std::string("Face, Side, B"));
        const auto items = work::layersOf(w).front().mask.items;
        QCOMPARE(items, (std::vector<finish::MaskItem>{{1, 2, 1}, {1, 2, 3}}));
        w.pieces.items.clear();
        w.pieces.order.clear();
        const auto gone = work::layersOf(w).front();
        QCOMPARE(finish::DevelopSettings{.layers = {gone}}.needsIds(), true);
        QVERIFY(gone.mask.items.front().piece > 10000);
    }

    // What is off, has no strength or is of a newer version is not in the picture; and a layer is no reason to expose anew.
    void onlyTheFinish()
    {
        work::Work w = work::newWork("AB", {}, {});
        const work::Work before = w;
        const std::string id = session::addLayer(w, kind("tone"));
        QCOMPARE(work::layersOf(w).size(), std::size_t(1));
        QCOMPARE(work::reworkBetween(before, w), work::Rework::Mix);
        w.finish.layers.items.at(id).on = false;
        QVERIFY(work::layersOf(w).empty());
        w.finish.layers.items.at(id).on = true;
        w.finish.layers.items.at(id).what = work::Newer{"ripple", "{}"};
        QVERIFY(work::layersOf(w).empty());
        QCOMPARE(session::layerTitle(w, w.finish.layers.items.at(id)), std::string("ripple, made by a newer version"));
    }

    // A finish made on one sheet fits another: its lengths grow; beside what is there, or in its place; kept without names of pieces.
    void starts()
    {
        work::Work w = work::newWork("AB", {}, {});  // 1920 pt wide
        work::FinishStart start{960, {work::layerOfKind(kind("soften")), work::layerOfKind(kind("fill"))}};
        std::get<finish::Soften>(start.layers[0].what).radius = 10;
        work::useFinish(w, start);
        QCOMPARE(w.finish.layers.order.size(), std::size_t(2));
        QCOMPARE(std::get<finish::Soften>(w.finish.layers.items.at(w.finish.layers.order[0]).what).radius, 20.0);
        work::useFinish(w, start, true);
        QCOMPARE(w.finish.layers.order.size(), std::size_t(4));
        work::useFinish(w, start);
        w.finish.layers.items.at(w.finish.layers.order[1]).pieces = {"p1"};
        const work::FinishStart kept = work::finishStartOf(w);
        QVERIFY(kept.reachPt == 1920 && kept.layers.size() == 2 && kept.layers[1].pieces.empty());
    }
};

OPEN_GLOW_TEST(TestLayersByHand)
#include "test_layers_by_hand.moc"
