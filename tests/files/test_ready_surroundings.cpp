// Surroundings that are ready, in a work.
#include <QtTest>
#include <set>

#include "base/units.h"
#include "files/work_json.h"
#include "support/support.h"
#include "work/scene.h"
#include "work/surroundings.h"

class TestReadySurroundings : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Fourteen or more with names of their own; each is saved and read as it was, has ids of its own, and is another picture.
    void installedOnes()
    {
        OPEN_GLOW_LONG_TEST
        std::set<std::string> ids, names, seen;
        for (const work::ReadySurroundings& ready : work::readySurroundings()) {
            ids.insert(ready.id);
            names.insert(ready.name);
            work::Work w = work::newWork("KITE", {}, {});
            work::useSurroundings(w, ready);
            QCOMPARE(w.surroundings.kind, work::SurroundingsKind::Sky);
            std::set<std::string> all(w.surroundings.cards.order.begin(), w.surroundings.cards.order.end());
            QCOMPARE(all.size(), w.surroundings.cards.items.size());
            const std::string fresh = w.newId("k");
            QVERIFY(!w.surroundings.cards.items.contains(fresh));
            const auto read = files::fromJson(files::toJson(w));
            QVERIFY2(read.has_value() && read->surroundings == w.surroundings, ready.id);
            seen.insert(files::toJson(w));
            QVERIFY2(std::abs(w.surroundings.stops) < 6, ready.id);  // it is neither black nor blinding
        }
        QVERIFY(ids.size() >= 14);
        QCOMPARE(names.size(), ids.size());
        QCOMPARE(seen.size(), ids.size());
        QVERIFY(work::readySurroundings("light TENT") == work::readySurroundings("light-tent"));
        QVERIFY(work::readySurroundings("light-tent") && !work::readySurroundings("porridge"));
    }

    // Swapped, a white card that faces the viewer stays as bright, within 1/100 stop, also beyond the first swap; unless it is not wished.
    void exposureIsKept()
    {
        work::Work w = work::newWork("KITE", {}, {});
        const double before = double(luminance(w.surroundings.factor()));
        for (const char* id : {"clear-noon", "two-strips", "snow"}) {
            work::useSurroundings(w, *work::readySurroundings(id));
            const light::SkyMap map(work::skyOf(w));
            const double now = double(luminance(map.onCard({0, 0, 1}))) * double(luminance(w.surroundings.factor()));
            QVERIFY2(std::abs(std::log2(now / before)) < 0.03, qPrintable(QString("%1: %2 for %3").arg(id).arg(now).arg(before)));
        }
        work::useSurroundings(w, *work::readySurroundings("snow"), false);
        QCOMPARE(w.surroundings.stops, 0.0);
    }

    // A metal face that looks at the viewer mirrors what is straight before it: nearly as bright as white, where even light of the same
    // brightness on a card would be a dull third of that; within 20 degrees round it six tenths of it are left.
    void metalFacesShine()
    {
        work::Work w = work::newWork("KITE", {}, {});
        const double even = double(luminance(w.surroundings.factor()));
        work::useSurroundings(w, *work::readySurroundings(work::kFrontForMetal));
        const light::SkyMap map(work::skyOf(w));
        const auto mirrored = [&](double across, double up) {
            const double a = base::radians(across), b = base::radians(up);
            return double(
                       luminance(map.radiance({float(std::sin(a) * std::cos(b)), float(std::sin(b)), float(std::cos(a) * std::cos(b))}))) *
                   double(luminance(w.surroundings.factor()));
        };
        QVERIFY2(even < 0.4 && mirrored(0, 0) > 0.7 && mirrored(0, 0) < 1.05, qPrintable(QString("%1 %2").arg(even).arg(mirrored(0, 0))));
        for (const auto& [across, up] : {std::pair(-20, 0), {20, 0}, {0, -10}, {0, 15}})
            QVERIFY2(mirrored(across, up) > 0.6 * mirrored(0, 0), qPrintable(QString::number(mirrored(across, up))));
        work::Material material;
        QVERIFY(!work::isDullInEvenLight(material));
        material.metallic = 1;
        material.roughness = 0.3f;
        QVERIFY(work::isDullInEvenLight(material));
        material.roughness = 0.8f;
        QVERIFY(!work::isDullInEvenLight(material));
    }

    // Cards and colours are of the exposure, colour and brightness over all of them of the desk.
    void whatIsMadeAnew()
    {
        work::Work w = work::newWork("KITE", {}, {});
        work::useSurroundings(w, *work::readySurroundings("beach"));
        work::Work moved = w;
        moved.surroundings.stops += 1;
        moved.surroundings.colour = {1, 0.8f, 0.6f};
        QCOMPARE(work::reworkBetween(w, moved), work::Rework::Mix);
        moved.surroundings.cards.items.begin()->second.height += 1;
        QCOMPARE(work::reworkBetween(w, moved), work::Rework::Expose);
        moved = w;
        moved.surroundings.turn = 10;
        QCOMPARE(work::reworkBetween(w, moved), work::Rework::Expose);
    }
};

OPEN_GLOW_TEST(TestReadySurroundings)
#include "test_ready_surroundings.moc"
