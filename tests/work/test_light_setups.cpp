// Lamps that are set together.
#include <QTemporaryDir>
#include <QtTest>
#include <set>

#include "files/light_setup.h"
#include "light/light.h"
#include "support/registered.h"
#include "work/scene.h"
#include "work/surroundings.h"

namespace {

work::Work kites(int width = 1600, int height = 900)
{
    work::SheetSize sheet;
    sheet.width = width;
    sheet.height = height;
    return work::newWork("KITE", {}, sheet);
}

// Of a white card at the lettering that faces the viewer: what each lamp gives by brightness and cosine, and the surroundings.
double onCard(const work::Work& w)
{
    double sum = work::surroundingsOnCard(w);
    for (const auto& [_, light] : w.lights.items)
        sum += double(luminance(light.factor())) * std::max(0.0, -work::lightOf(light).towardsAim.z);
    return sum;
}

}  // namespace

class TestLightSetups : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Fourteen or more, each by itself of use: names and words of its own, neither black nor blinding.
    void installedOnes()
    {
        base::Notes notes;
        const auto all = files::lightSetups({std::string(OPEN_GLOW_SOURCE) + "/assets/light-set-ups"}, &notes);
        QVERIFY2(notes.empty(), notes.empty() ? "" : notes.front().message.c_str());
        QVERIFY(all.size() >= 14);
        std::set<std::string> names;
        for (const auto& one : all) {
            names.insert(one.name);
            QVERIFY(!one.words.empty() && !one.own);
            work::Work w = kites();
            work::useLightSetup(w, one.setup);
            QCOMPARE(w.lights.order.size(), one.setup.lights.size());
            const double card = onCard(w);
            QVERIFY2(card > 0.1 && card < 2.2, qPrintable(QString("%1: %2").arg(one.name.c_str()).arg(card)));
        }
        QCOMPARE(names.size(), all.size());
    }

    // As large as the sheet asks for: twice the sheet, lamps twice as large and far, as bright. In the place of those there, or beside
    // them.
    void asLargeAsTheSheet()
    {
        work::LightSetup setup;
        setup.reachPt = 800;
        setup.surroundingsStops = -2;
        setup.lights.resize(2);
        setup.lights[0].distance = 1000;
        setup.lights[0].width = 300;
        setup.lights[1].kind = light::LightKind::Bulb;
        setup.lights[1].size = 10;
        work::Work w = kites(1600, 900);
        const std::string before = w.lights.order.front();
        work::useLightSetup(w, setup);
        QCOMPARE(w.lights.order.size(), std::size_t(2));
        const work::Light& first = w.lights.items.at(w.lights.order[0]);
        QVERIFY(std::abs(first.distance - 2000) < 1e-9 && std::abs(first.width - 600) < 1e-9);
        QVERIFY(std::abs(w.lights.items.at(w.lights.order[1]).size - 20) < 1e-9);
        QVERIFY(std::abs(work::surroundingsOnCard(w) - 0.25) < 0.005);
        w.surroundings.stops = -3;
        work::useLightSetup(w, setup, true);
        QCOMPARE(w.lights.order.size(), std::size_t(4));
        QCOMPARE(std::set<std::string>(w.lights.order.begin(), w.lights.order.end()).size(), std::size_t(4));
        QCOMPARE(w.surroundings.stops, -3.0);
        // Also before surroundings of another brightness by themselves.
        work::useSurroundings(w, *work::readySurroundings("snow"));
        work::useLightSetup(w, setup);
        QVERIFY(std::abs(work::surroundingsOnCard(w) - 0.25) < 0.005);
    }

    // Kept by a name, and taken again by another work.
    void keptOnes()
    {
        QTemporaryDir folder;
        work::Work w = kites();
        work::Light& light = w.lights.items.begin()->second;
        light.form = light::SoftboxForm::Disc;
        light.grid = 40;
        light.kelvin = 3400;
        light.falls = false;
        const work::LightSetup setup = work::lightSetupOf(w);
        const auto kept = files::keepLightSetup(folder.path().toStdString(), "Dune at dusk", setup);
        QVERIFY2(kept.has_value(), kept ? "" : kept.error().message.c_str());
        const auto all = files::lightSetups({folder.path().toStdString()});
        QVERIFY(all.size() == 1 && all[0].name == "Dune at dusk" && all[0].id == "dune-at-dusk");
        work::Work other = kites();
        work::useLightSetup(other, all[0].setup);
        work::Light same = other.lights.items.begin()->second;
        QVERIFY(same == light);
        w.lights = {};
        QVERIFY(!files::keepLightSetup(folder.path().toStdString(), "None", work::lightSetupOf(w)).has_value());
    }

    void wrongOnes_data()
    {
        QTest::addColumn<QByteArray>("json");
        QTest::addColumn<QString>("place");
        const QByteArray head = R"({"format": "open-glow light set-up", "version": 1, "name": "X", )";
        QTest::newRow("no lights") << head + R"("reachPt": 1000})"
                                   << "/lights";
        QTest::newRow("none in the list") << head + R"("reachPt": 1000, "lights": []})"
                                          << "/lights";
        QTest::newRow("not an object") << head + R"("reachPt": 1000, "lights": [3]})"
                                       << "/lights/0";
        QTest::newRow("no reach") << head + R"("lights": [{}]})"
                                  << "/reachPt";
        QTest::newRow("stops") << head + R"("reachPt": 1000, "surroundingsStops": 99, "lights": [{}]})"
                               << "/surroundingsStops";
        QTest::newRow("a value") << head + R"("reachPt": 1000, "lights": [{}, {"grid": 400}]})"
                                 << "/lights/1/grid";
        QTest::newRow("a newer kind") << head + R"("reachPt": 1000, "lights": [{"kind": "laser"}]})"
                                      << "/lights/0/kind";
    }
    void wrongOnes()
    {
        QFETCH(QByteArray, json);
        QFETCH(QString, place);
        QTemporaryDir folder;
        QFile file(folder.filePath("x.json"));
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write(json) > 0);
        file.close();
        const auto read = files::readLightSetup(file.fileName().toStdString());
        QVERIFY(!read.has_value());
        QVERIFY2(read.error().place.find(place.toStdString()) != std::string::npos, read.error().place.c_str());
        base::Notes notes;
        QVERIFY(files::lightSetups({folder.path().toStdString()}, &notes).empty() && notes.size() == 1);
    }
};

OPEN_GLOW_TEST(TestLightSetups)
#include "test_light_setups.moc"
