// Finishes in files: those that come along, those that are kept, those that are broken.
#include <QtTest>

#include "files/finish_start.h"
#include "files/light_file.h"
#include "files/work_json.h"
#include "support/support.h"
#include "work/make_still.h"
#include "work/properties.h"

class TestFinishes : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Each can be read, differs from the others and from a picture without, and renders.
    void theyComeAlong()
    {
        base::Notes notes;
        const auto all = files::finishes({std::string(OPEN_GLOW_SOURCE) + "/assets/finishes"}, &notes);
        QVERIFY(notes.empty());
        QVERIFY(all.size() >= 16);
        work::SheetSize sheet;
        sheet.width = sheet.height = 300;
        work::Work w = work::newWork("K", {}, sheet);
        work::StillSettings settings;
        settings.widthPx = settings.heightPx = 60;
        settings.stop = {4, 0, 0};
        work::Cache cache;
        auto still = work::makeStill(w, settings, cache, {});
        QVERIFY(still.has_value());
        film::addIds(still->shares, *still->film, {});
        std::vector<std::vector<float>> seen{still->picture.values};
        for (const auto& one : all) {
            work::useFinish(w, one.start);
            const auto picture = finish::develop(still->shares, work::developSettingsOf(w, false));
            for (const float v : picture.values)
                QVERIFY2(v >= -1e-4f && v <= 1.0001f, one.id.c_str());
            for (const auto& other : seen) {
                double off = 0;
                for (std::size_t i = 0; i < other.size(); ++i)
                    off += std::abs(double(other[i] - picture.values[i]));
                QVERIFY2(off / double(other.size()) > 0.0001,
                         qPrintable(QString("%1: %2").arg(one.id.c_str()).arg(off / double(other.size()))));
            }
            seen.push_back(picture.values);
        }
    }

    // Every kind of layer with all it has comes back from a work's file, none of its values under another's name.
    void everyKindComesBack()
    {
        work::Work w = work::newWork("K", {}, {});
        for (std::size_t kind = 0; kind < std::size(work::Kinds<work::LayerWhat>::names); ++kind) {
            work::Layer layer = work::layerOfKind(kind);
            layer.name = "Mine";
            layer.pieces = {"p1", "p1/a1"};
            layer.parts = {"face"};
            layer.inverted = true;
            layer.acts = finish::Acts::Behind;
            if (auto* picture = std::get_if<finish::Picture>(&layer.what))
                picture->width = 77;
            if (auto* lines = std::get_if<finish::Lines>(&layer.what))
                lines->parts = false;
            w.finish.layers.add(w.newId("y"), layer);
        }
        const auto read = files::fromJson(files::toJson(w));
        QVERIFY2(read.has_value(), read ? "" : read.error().message.c_str());
        QVERIFY(read->finish == w.finish);
    }

    // Kept and read again; one without a layer is refused, broken ones name the place.
    void keptAndBroken()
    {
        QTemporaryDir folder;
        work::FinishStart start{800, {work::layerOfKind(0), work::layerOfKind(7)}};
        start.layers[1].strength = 0.7;
        start.layers[1].acts = finish::Acts::Ground;
        const auto kept = files::keepFinish(folder.path().toStdString(), "My Print", start);
        QVERIFY(kept.has_value());
        const auto read = files::readFinish(folder.filePath(QString::fromStdString(kept->id) + ".json").toStdString());
        QVERIFY(read.has_value() && read->name == "My Print" && read->start.layers == start.layers && read->start.reachPt == 800);
        QVERIFY(!files::keepFinish(folder.path().toStdString(), "Empty", {}));
        const auto wrong = [&](const QByteArray& layers, const char* place) {
            QFile file(folder.filePath("wrong.json"));
            (void)file.open(QIODevice::WriteOnly);
            file.write("{\"format\": \"open-glow finish\", \"version\": 1, \"name\": \"W\", \"reachPt\": 100, \"layers\": " + layers + "}");
            file.close();
            const auto result = files::readFinish(file.fileName().toStdString());
            return !result && QByteArray::fromStdString(result.error().place).contains(place);
        };
        QVERIFY(
            wrong("[]", "/layers") && wrong("[3]", "/layers/0") && wrong("[{\"kind\": \"tone\", \"contrast\": 7}]", "/layers/0/contrast") &&
            wrong("[{\"kind\": \"ripple\"}]", "/layers/0/kind") && wrong("[{\"kind\": \"fill\", \"blend\": \"melt\"}]", "/layers/0/blend"));
    }

    // What pixels show lasts in files of light, large numbers too; files without it are read as before.
    void idsInFilesOfLight()
    {
        files::LightFile light;
        light.key = "key";
        light.shares = film::LightShares({3, 2, 0, 0, 3, 2, {{"l1"}}});
        const std::size_t plain = files::lightBytes(light)->size();
        QVERIFY(files::lightFromBytes(*files::lightBytes(light), "x")->shares.ids.empty());
        light.shares.ids.resize(6);
        for (std::size_t i = 0; i < 6; ++i) {
            film::RankedIds& ids = light.shares.ids[i];
            ids.ids[0] = {std::uint16_t(1 + 1999 * i), std::uint16_t(60000 - i), std::uint16_t(i == 3 ? 254 : i)};
            ids.ids[1] = {};
            ids.shares[0] = 0.75f;
            ids.shares[1] = 0.25f;
        }
        const auto bytes = files::lightBytes(light);
        QVERIFY(bytes->size() > plain);
        const auto read = files::lightFromBytes(*bytes, "x");
        QVERIFY(read.has_value());
        QCOMPARE(read->shares.ids.size(), std::size_t(6));
        for (std::size_t i = 0; i < 6; ++i)
            QVERIFY(read->shares.ids[i] == light.shares.ids[i]);
    }
};

OPEN_GLOW_TEST(TestFinishes)
#include "test_finishes.moc"
