// The sample book's files.
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QtTest>

#include "files/material_sample.h"
#include "picture/colour.h"
#include "support/support.h"

class TestSamples : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;

    std::string write(const char* name, const QByteArray& json)
    {
        QFile file(m_folder.filePath(name));
        if (!file.open(QIODevice::WriteOnly) || file.write(json) != json.size())
            qFatal("cannot write");
        return file.fileName().toStdString();
    }

private Q_SLOTS:
    // Sixty or more in groups, with names of their own; metals are metal, what gives light does, and only that.
    void installedOnes()
    {
        base::Notes notes;
        const auto samples = files::materialSamples({files::materialFolders().front()}, &notes);
        QVERIFY2(samples.size() >= 60 && notes.empty(), qPrintable(QString::number(samples.size())));
        std::set<std::string> names, groups;
        for (const files::MaterialSample& s : samples) {
            QVERIFY2(names.insert(s.name).second && !s.group.empty() && !s.own, s.id.c_str());
            groups.insert(s.group);
            QVERIFY2((s.material.emission > 0) == (s.group == "Light"), s.id.c_str());
            if (s.group == "Metal" || s.group == "Foil")
                QVERIFY2(s.material.metallic == 1, s.id.c_str());
        }
        QVERIFY(groups.size() >= 8);
        QVERIFY(std::is_sorted(samples.begin(), samples.end(), [](const auto& a, const auto& b) { return a.group < b.group; }));
    }

    void searchInWords()
    {
        files::MaterialSample sample;
        sample.name = "Red lacquer";
        sample.group = "Paint";
        sample.words = "shiny car";
        for (const char* found : {"", "red", "SHINY red", "lac", "car, red", "paint"})
            QVERIFY2(sample.isFoundBy(found), found);
        for (const char* other : {"blue", "red blue", "quer", "edl"})
            QVERIFY2(!sample.isFoundBy(other), other);
    }

    // Kept ones come back as they were but for the swatch, before the others; one of the same name takes its place; what is broken is told.
    void ownOnes()
    {
        const std::string folder = m_folder.filePath("own").toStdString();
        work::Material material{{0.5f, 0.25f, 0.125f}, 0.5f, 0.25f, 0.75f, 2, "s1", {1, 0.5f, 0.25f}, 1.75f, 1, 0.5f, {0.25f, 0, 0}, 0.75f};
        const auto kept = files::keepMaterial(folder, "Kite & string", material);
        QVERIFY(kept && kept->id == "kite-string");
        const auto again = files::readMaterialSample(folder + "/kite-string.json");
        QVERIFY(again.has_value());
        QCOMPARE(picture::hexFromRgb(again->material.baseColour), picture::hexFromRgb(material.baseColour));
        QVERIFY(again->material.swatch.empty() && again->material.ior == 1.75f && again->material.clearcoatRoughness == 0.5f &&
                again->material.sheenRoughness == 0.75f);
        QVERIFY(files::keepMaterial(folder, "Kite, string!", {}).has_value());
        QCOMPARE(files::materialSamples({folder}).size(), std::size_t{1});
        QVERIFY(!files::keepMaterial(folder, "...", {}));
        write("own/broken.json", R"({"format": "open-glow material", "version": 1, "name": "Dull", "material": {"roughness": "much"}})");
        base::Notes notes;
        QCOMPARE(files::materialSamples({folder}, &notes).size(), std::size_t{1});
        QVERIFY(notes.size() == 1 && notes[0].place.find("broken.json, /material/roughness") != std::string::npos);
    }

    void wrongOnesAreTold_data()
    {
        QTest::addColumn<QByteArray>("json");
        QTest::addColumn<QString>("place");
        QTest::newRow("a form") << QByteArray(R"({"format": "open-glow form", "version": 1, "name": "x"})") << "";
        QTest::newRow("none") << QByteArray(R"({"format": "open-glow material", "version": 1, "name": "x"})") << "/material";
        QTest::newRow("newer") << QByteArray(R"({"format": "open-glow material", "version": 2, "name": "x"})") << "/version";
        QTest::newRow("group") << QByteArray(R"({"format": "open-glow material", "version": 1, "name": "x", "group": 5, "material": {}})")
                               << "/group";
        QTest::newRow("too much") << QByteArray(R"({"format": "open-glow material", "version": 1, "name": "x", "material": {"ior": 1e9}})")
                                  << "/material/ior";
        QTest::newRow("cut off") << QByteArray(R"({"format": "open-glow material", )") << "";
    }
    void wrongOnesAreTold()
    {
        QFETCH(QByteArray, json);
        QFETCH(QString, place);
        const auto sample = files::readMaterialSample(write("wrong.json", json));
        QVERIFY(!sample);
        QVERIFY2(sample.error().place.find("wrong.json") != std::string::npos &&
                     sample.error().place.find(place.toStdString()) != std::string::npos,
                 sample.error().place.c_str());
    }
};

QTEST_APPLESS_MAIN(TestSamples)
#include "test_samples.moc"
