// The table of who casts on whom, in a work.
#include <QtTest>

#include "files/work_json.h"
#include "session/casting.h"
#include "session/clip.h"
#include "session/edits.h"
#include "support/support.h"
#include "work/light_setup.h"
#include "work/scene.h"
#include "work/starts.h"
#include "work/surroundings.h"

using session::Casts;

namespace {

struct Two {
    work::Work work = work::newWork("KITE", {}, {});
    std::string first, second, light;

    Two()
    {
        first = session::addLettering(work, "SUN");
        second = work.pieces.order.back();
        if (work.lights.order.empty())
            session::addLight(work, light::LightKind::Softbox);
        light = work.lights.order.front();
    }
    render::Scene scene() const
    {
        work::Cache cache;
        return work::makeScene(work, *work::makeBodies(work, 0.1, cache, {}));
    }
};

}  // namespace

class TestCastingTable : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // What is ticked is what is rendered: by entry of the film and piece, wall and floor before them.
    void reachesTheScene()
    {
        Two t;
        QVERIFY(!t.scene().casts());
        session::setCasts(t.work, Casts::Lit, t.light, work::kGroundId, false);
        session::setCasts(t.work, Casts::Shadow, work::kSurroundingsEntry, t.second, false);
        t.work.pieces.items.at(t.first).mirrored = false;
        const render::Scene scene = t.scene();
        QCOMPARE(scene.castings.size(), scene.entries.size());
        const auto entry = [&](const std::string& name) {
            return static_cast<std::size_t>(
                std::find_if(scene.entries.begin(), scene.entries.end(), [&](const film::Entry& e) { return e.name == name; }) -
                scene.entries.begin());
        };
        QCOMPARE(scene.castings[entry(t.light)].unlit, (std::vector<bool>{true, false, false}));
        QVERIFY(scene.castings[entry(t.light)].shadowless.empty());
        QCOMPARE(scene.castings[entry(work::kSurroundingsEntry)].shadowless, (std::vector<bool>{false, false, true}));
        QCOMPARE(scene.unmirrored, (std::vector<bool>{false, true, false}));
        // A piece without any, and a light without any.
        t.work.pieces.items.at(t.first).castsShadow = false;
        QCOMPARE(t.scene().castings[entry(t.light)].shadowless, (std::vector<bool>{false, true, false}));
        session::setAllCast(t.work, Casts::Shadow, t.light, false);
        QCOMPARE(t.scene().castings[entry(t.light)].shadowless, (std::vector<bool>{false, true, true}));
        QVERIFY(!session::canCast(t.work, Casts::Shadow, t.light, t.second));
        QVERIFY(!session::canCast(t.work, Casts::Shadow, work::kSurroundingsEntry, t.first));
        QVERIFY(!session::canCast(t.work, Casts::Shadow, work::kSurroundingsEntry, work::kGroundId));
    }

    // Ticks taken away and put back leave the work as it was; a whole column at once.
    void thereAndBack()
    {
        Two t;
        const work::Work before = t.work;
        for (const Casts what : {Casts::Lit, Casts::Shadow})
            for (const std::string& piece : {t.second, t.first}) {
                session::setCasts(t.work, what, t.light, piece, false);
                QVERIFY(!session::casts(t.work, what, t.light, piece));
            }
        QCOMPARE(t.work.lights.items.at(t.light).casting.unlit.size(), std::size_t{2});
        session::setCasts(t.work, Casts::Lit, t.light, t.first, false);  // once more is no more
        QCOMPARE(t.work.lights.items.at(t.light).casting.unlit.size(), std::size_t{2});
        QVERIFY(!session::allCast(t.work, Casts::Lit, t.light));
        for (const Casts what : {Casts::Lit, Casts::Shadow})
            for (const std::string& piece : {t.first, t.second})
                session::setCasts(t.work, what, t.light, piece, true);
        QVERIFY(t.work == before);
        session::setAllCast(t.work, Casts::Lit, t.light, false);
        QVERIFY(!session::casts(t.work, Casts::Lit, t.light, t.first) && !session::casts(t.work, Casts::Lit, t.light, work::kGroundId));
        session::setAllCast(t.work, Casts::Lit, t.light, true);
        QVERIFY(t.work == before);
    }

    // It is a matter of rendering, is saved, and what nobody has is no harm.
    void inFiles()
    {
        Two t;
        work::Work changed = t.work;
        session::setCasts(changed, Casts::Lit, t.light, t.first, false);
        session::setCasts(changed, Casts::Shadow, work::kEmissiveEntry, t.first, false);
        changed.pieces.items.at(t.second).castsShadow = false;
        QCOMPARE(work::reworkBetween(t.work, changed), work::Rework::Expose);
        const auto read = files::fromJson(files::toJson(changed));
        QVERIFY(read.has_value() && *read == changed);
        changed.lights.items.at(t.light).casting.unlit = {"p77", "nobody"};
        changed.pieces.items.at(t.second).castsShadow = true;
        changed.emissive = {};
        t.work = changed;
        QVERIFY(!t.scene().casts());
        QVERIFY(!files::withValueAt(changed, "/lights/" + t.light + "/casting/unlit", "7"));
        const auto set = files::withValueAt(changed, "/lights/" + t.light + "/casting/unlit", "[\"" + t.first + "\"]");
        QVERIFY(set.has_value() && !session::casts(*set, Casts::Lit, t.light, t.first));
    }

    // Copies are lit as what they were copied from: doubled, and pasted.
    void copies()
    {
        Two t;
        session::setCasts(t.work, Casts::Lit, t.light, t.first, false);
        session::setCasts(t.work, Casts::Shadow, work::kSurroundingsEntry, t.first, false);
        const auto doubled = session::duplicate(t.work, {t.first});
        QCOMPARE(doubled.size(), std::size_t{1});
        QVERIFY(!session::casts(t.work, Casts::Lit, t.light, doubled.front()));
        QVERIFY(!session::casts(t.work, Casts::Shadow, work::kSurroundingsEntry, doubled.front()));
        const auto pasted = session::paste(t.work, session::clipOf(t.work, {t.first}));
        QVERIFY(!session::casts(t.work, Casts::Lit, t.light, pasted.front()));
        QVERIFY(session::casts(t.work, Casts::Lit, t.light, t.second));
    }

    // A light that goes to another work, by way of a clip or as a set-up, names none of this one's pieces there; the ground is everywhere.
    // Other surroundings cast as the ones before.
    void elsewhere()
    {
        Two t;
        session::setCasts(t.work, Casts::Lit, t.light, t.first, false);
        session::setCasts(t.work, Casts::Lit, t.light, work::kGroundId, false);
        session::setCasts(t.work, Casts::Shadow, t.light, t.second, false);
        const std::vector<std::string> ground{work::kGroundId};
        Two other;
        session::paste(other.work, session::clipOfLight(t.work, t.light));
        const work::Casting& pasted = other.work.lights.items.at(other.work.lights.order.back()).casting;
        QVERIFY(pasted.unlit == ground && pasted.shadowless.empty());
        const work::LightSetup setup = work::lightSetupOf(t.work);
        QVERIFY(setup.lights.front().casting.unlit == ground && setup.lights.front().casting.shadowless.empty());
        const std::string copy = session::duplicateLight(t.work, t.light);
        QVERIFY(t.work.lights.items.at(copy).casting == t.work.lights.items.at(t.light).casting);
        t.work.surroundings.casting.shadows = false;
        work::useSurroundings(t.work, *work::readySurroundings("snow"));
        QVERIFY(!t.work.surroundings.casting.shadows);
    }
};

OPEN_GLOW_TEST(TestCastingTable)
#include "test_casting_table.moc"
