// Versions that are kept with their pictures: read again as they were, taken from in part, out of undo's reach.
#include <QTemporaryDir>
#include <QtTest>

#include "base/file.h"
#include "files/work_file.h"
#include "files/work_json.h"
#include "session/clip.h"
#include "session/finals.h"
#include "session/layers.h"
#include "session/proofs.h"
#include "session/session.h"
#include "support/support.h"
#include "work/fonts.h"
#include "work/scene.h"

namespace {

work::Work kites()
{
    work::Work w = work::newWork("GALE", {}, {640, 360, work::Unit::Px, 72});
    w.swatches.add(w.newId("s"), {"Sail", {0.8f, 0.1f, 0.1f}});
    w.assets["kept/final.exr"].bytes = std::make_shared<const outline::Bytes>(outline::Bytes(100, 7));
    return w;
}

picture::Raster<std::uint8_t> seen(std::uint8_t value = 90)
{
    picture::Raster<std::uint8_t> raster(16, 9, 3);
    std::fill(raster.values.begin(), raster.values.end(), value);
    return raster;
}

std::string keep(work::Work& w, const std::string& note, std::uint8_t value = 90)
{
    const auto proof = session::newProof(w, note, "2026-05-30 14:05", seen(value));
    if (!proof)
        qFatal("%s", proof.error().message.c_str());
    proof->addTo(w);
    return proof->id;
}

}  // namespace

class TestProofs : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // What was kept comes back value for value, also from the file, without what a proof does not keep; the work around stays.
    void keptAndReadAgain()
    {
        work::Work w = kites();
        work::Work expected = w;
        expected.assets.clear();
        const std::string id = keep(w, "red sail");
        setText(w.pieces.items.begin()->second, "GALEPOINT");
        w.view().walk = 30;
        const std::string second = keep(w, "walked");
        QVERIFY(id != second && w.proofs.order == (std::vector{id, second}));
        const QTemporaryDir folder;
        const std::string path = folder.filePath("kites.openglow").toStdString();
        QVERIFY(files::saveWork(w, path));
        const auto read = files::openWork(path);
        QVERIFY(read && *read == w);
        const auto version = session::versionOf(*read, id);
        QVERIFY(version);
        work::Work bare = *version;
        bare.assets.clear();
        QVERIFY(bare == expected);
        QVERIFY(session::versionOf(*read, second)->proofs.order.empty());
        work::Work back = *read;
        session::goBackTo(back, *version);
        QCOMPARE(work::titleOf(back.pieces.items.begin()->second), std::string("GALE"));
        QVERIFY(back.proofs == w.proofs && back.assets.contains("kept/final.exr"));
        QVERIFY(back.nextId >= w.nextId);
        // And what it was before is a version too.
        session::goBackTo(back, *session::versionOf(back, second));
        work::Work was = w;
        back.assets = was.assets = {};
        back.nextId = was.nextId;
        QVERIFY(back == was);
    }

    // Pictures and fonts of a proof stay when the work itself no longer has a use for them, and go with the proof.
    void whatAProofUsesStays()
    {
        work::Work w = kites();
        const std::string font = "fonts/Own.ttf";
        w.assets[font].bytes =
            std::make_shared<const outline::Bytes>(*base::readFile(support::fontPath("League Spartan", "Bold").toStdString(), 1 << 24));
        w.pieces.items.begin()->second.lettering()->font.asset = font;
        const std::string id = keep(w, "own face");
        w.pieces.items.begin()->second.lettering()->font.asset.clear();
        work::dropUnusedAssets(w);
        QVERIFY(w.assets.contains(font) && session::versionOf(w, id));
        // Of one picture and one version there is one file.
        const std::size_t before = w.assets.size();
        keep(w, "once more");
        keep(w, "and again");
        QCOMPARE(w.assets.size(), before + 1);
        // They do not go where only pieces, or only what is rendered, is asked for.
        const QTemporaryDir folder;
        const auto isBare = [](const work::Work& of) {
            return of.proofs.order.empty() &&
                   std::ranges::none_of(of.assets, [](const auto& asset) { return asset.first.starts_with(work::kProofFolder); });
        };
        QVERIFY(isBare(session::clipOf(w, w.pieces.order)));
        session::FinalSettings settings;
        settings.widthPx = 64;
        settings.heightPx = 36;
        const auto final = session::FinalStore(folder.path().toStdString()).create(w, settings);
        QVERIFY(final && isBare(*files::openWork(final->folder + "/work.openglow")));
        w.proofs = {};
        work::dropUnusedAssets(w);
        QVERIFY(!w.assets.contains(font) && w.assets.size() == 1);
    }

    // Nothing of it is in the film's key: keeping a version renders nothing.
    void nothingIsRendered()
    {
        work::Work w = kites();
        const work::Work before = w;
        keep(w, "same");
        QVERIFY(work::reworkBetween(before, w) <= work::Rework::Mix);
        QCOMPARE(files::filmKey(w, 3), files::filmKey(before, 3));
    }

    // A proof that was kept and then undone past would be lost: undo does not concern proofs.
    void undoLeavesProofs()
    {
        session::Session s(kites());
        s.edit("walk", [](work::Work& w) { w.view().walk = 10; });
        s.edit("rise", [](work::Work& w) { w.view().rise = 20; });
        const auto proof = session::newProof(s.work(), "both", "2026-05-30 14:05", seen());
        QVERIFY(proof);
        s.editAll([&](work::Work& w) { proof->addTo(w); });
        QVERIFY(s.isChanged());
        s.undo();
        s.undo();
        QVERIFY(s.work().view().walk == 0 && s.work().proofs.order.size() == 1 && !s.history().canUndo());
        const auto version = session::versionOf(s.work(), proof->id);
        QVERIFY(version && version->view().walk == 10 && version->view().rise == 20);
        QVERIFY(s.edit("back", [&](work::Work& w) { session::goBackTo(w, *version); }));
        QVERIFY(s.work().view().rise == 20);
        s.undo();
        QVERIFY(s.work().view().walk == 0);
        s.editAll([](work::Work& w) { w.proofs = {}; });
        s.redo();
        QVERIFY(s.work().proofs.order.empty());
    }

    // One side alone is taken over; all else stays as it is.
    void sidesTakenOver()
    {
        work::Work w = kites();
        const std::string piece = w.pieces.order.front(), light = w.lights.order.front(), swatch = w.swatches.order.front();
        w.view().walk = 25;
        w.lights.items.at(light).stops = 2;
        w.surroundings.stops = -3;
        w.pieces.items.at(piece).material.piece.baseColour = {0.8f, 0.1f, 0.1f};
        w.pieces.items.at(piece).material.piece.swatch = swatch;
        w.pieces.items.at(piece).letters["a2"].material = work::MaterialSet{};
        w.finish.exposure = 0.5;
        const std::string tone = session::addLayer(w, 0, {});
        const std::string id = keep(w, "all of it");

        const work::Work plain = [&] {
            work::Work p = kites();
            p.proofs = w.proofs;
            p.assets = w.assets;
            p.nextId = w.nextId;
            setSwatch(p, swatch, {0, 0, 1});
            return p;
        }();
        const work::Work version = *session::versionOf(plain, id);
        const auto taken = [&](session::ProofSide side) {
            work::Work t = plain;
            session::takeOver(t, version, side);
            return t;
        };
        work::Work t = taken(session::ProofSide::View);
        QCOMPARE(t.view().walk, 25.0);
        t.view() = plain.view();
        QVERIFY(t == plain);
        t = taken(session::ProofSide::Light);
        QVERIFY(t.lights == w.lights && t.surroundings == w.surroundings);
        t.lights = plain.lights;
        t.surroundings = plain.surroundings;
        QVERIFY(t == plain);
        t = taken(session::ProofSide::Materials);
        const work::Piece& is = t.pieces.items.at(piece);
        QVERIFY(is.letters.at("a2").material && is.material.piece.baseColour == w.pieces.items.at(piece).material.piece.baseColour);
        // Its swatch has changed since: the colour it had follows a swatch of that colour.
        QVERIFY(is.material.piece.swatch != swatch && t.swatches.items.at(is.material.piece.swatch).colour == is.material.piece.baseColour);
        QVERIFY(t.view() == plain.view() && t.lights == plain.lights && t.finish == plain.finish);
        t = taken(session::ProofSide::Finish);
        QVERIFY(t.finish == w.finish && t.finish.layers.items.contains(tone));
        t.finish = plain.finish;
        QVERIFY(t == plain);
        // Captions belong to the work, and stay over the rest.
        work::Work captioned = plain;
        const std::string caption = session::addCaption(captioned, "on the dunes", {});
        work::Work own = captioned;
        session::takeOver(own, version, session::ProofSide::Finish);
        QVERIFY(own.finish.layers.order == (std::vector{tone, caption}) && own.finish.exposure == 0.5);
        session::takeOver(own, *session::versionOf(own, id), session::ProofSide::Light);
        QVERIFY(own.finish.layers.items.at(caption) == captioned.finish.layers.items.at(caption));
    }

    // What cannot be read is told, and nothing is changed by it.
    void brokenProofs()
    {
        work::Work w = kites();
        const std::string id = keep(w, "good");
        const auto why = [&](const work::Work& of, const std::string& proof) {
            const auto version = session::versionOf(of, proof);
            return version ? QString() : QString::fromStdString(version.error().message);
        };
        QVERIFY(why(w, "pf99").contains("not in the work"));
        work::Work gone = w;
        gone.assets.erase(w.proofs.items.at(id).version);
        QVERIFY(why(gone, id).contains("missing"));
        for (const char* text : {"", "{", "[]", "{\"version\": 99}", "{\"pieces\": 3}"}) {
            work::Work bad = w;
            const std::string json = text;
            bad.assets[w.proofs.items.at(id).version].bytes = std::make_shared<const outline::Bytes>(json.begin(), json.end());
            QVERIFY2(!why(bad, id).isEmpty(), text);
        }
        work::Work full = w;
        while (full.proofs.order.size() < session::kMostProofs)
            full.proofs.add("pf" + std::to_string(100 + full.proofs.order.size()), {});
        const auto more = session::newProof(full, "", "", seen());
        QVERIFY(!more && more.error().code == base::ErrorCode::TooLarge);
    }
};

OPEN_GLOW_TEST(TestProofs)
#include "test_proofs.moc"
