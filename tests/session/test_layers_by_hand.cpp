// Layers of the finish by hand, and what they name.
#include <QtTest>

#include "session/clip.h"
#include "session/edits.h"
#include "session/layers.h"
#include "support/support.h"
#include "work/properties.h"
#include "work/scene.h"

namespace {

std::size_t kind(const char* name)
{
    const auto& names = work::Kinds<decltype(work::Layer::what)>::names;
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
