// The sample book's files.
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QtTest>

#include <complex>
#include <cstring>
#include <numeric>

#include "files/base64.h"
#include "files/material_sample.h"
#include "picture/cie1931.h"
#include "picture/colour.h"
#include "support/support.h"
#include "work/pictures.h"

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

    // Metals against their optical constants: A. Rakic and others, Optical properties of metallic films for vertical-cavity optoelectronic
    // devices, Applied Optics 37, 1998, Lorentz-Drude model (table 1 and 2; numbers as in Debian's python3-meep 1.25.0), seen head on under
    // D65 by the CIE 1931 observer. The model smooths copper's edge at 2.1 eV, where it is off by a tenth: hence the tolerances.
    void metalsAgainstTheirConstants_data()
    {
        using List = QList<double>;
        QTest::addColumn<QString>("sample");
        QTest::addColumn<double>("plasma");  // eV, as the others
        QTest::addColumn<List>("strengths");
        QTest::addColumn<List>("energies");
        QTest::addColumn<List>("widths");
        QTest::addColumn<double>("tolerance");
        QTest::newRow("gold") << "gold" << 9.03 << List{0.760, 0.024, 0.010, 0.071, 0.601, 4.384}
                              << List{0, 0.415, 0.830, 2.969, 4.304, 13.32} << List{0.053, 0.241, 0.345, 0.870, 2.494, 2.214} << 0.08;
        QTest::newRow("copper") << "copper" << 10.83 << List{0.575, 0.061, 0.104, 0.723, 0.638} << List{0, 0.291, 2.957, 5.300, 11.18}
                                << List{0.030, 0.378, 1.056, 3.213, 4.305} << 0.13;
        QTest::newRow("silver") << "silver" << 9.01 << List{0.845, 0.065, 0.124, 0.011, 0.840, 5.646}
                                << List{0, 0.816, 4.481, 8.185, 9.083, 20.29} << List{0.048, 3.886, 0.452, 0.065, 0.916, 2.419} << 0.03;
        QTest::newRow("aluminium") << "aluminium" << 14.98 << List{0.523, 0.227, 0.050, 0.166, 0.030} << List{0, 0.162, 1.544, 1.808, 3.473}
                                   << List{0.047, 0.333, 0.312, 1.351, 3.382} << 0.02;
    }
    void metalsAgainstTheirConstants()
    {
        QFETCH(QString, sample);
        QFETCH(double, plasma);
        QFETCH(QList<double>, strengths);
        QFETCH(QList<double>, energies);
        QFETCH(QList<double>, widths);
        QFETCH(double, tolerance);
        const auto found = files::readMaterialSample(std::string(OPEN_GLOW_SOURCE) + "/assets/materials/" + sample.toStdString() + ".json");
        QVERIFY(found.has_value());
        const base::Rgb seen = picture::seenUnderD65([&](float nm) {
            const double e = 1239.841984 / double(nm);
            std::complex<double> permittivity = 1;
            for (int i = 0; i < strengths.size(); ++i)
                permittivity += strengths[i] * plasma * plasma / std::complex<double>(energies[i] * energies[i] - e * e, -e * widths[i]);
            const std::complex<double> n = std::sqrt(permittivity);
            return std::norm((n - 1.0) / (n + 1.0));
        });
        const base::Rgb is = found->material.baseColour;
        QVERIFY2(std::abs(is.x - seen.x) < tolerance && std::abs(is.y - seen.y) < tolerance && std::abs(is.z - seen.z) < tolerance,
                 qPrintable(QString("%1 %2 %3 is %4 %5 %6").arg(seen.x).arg(seen.y).arg(seen.z).arg(is.x).arg(is.y).arg(is.z)));
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

    // With the pictures it has, as one file, under the names works give them; what it has not is left out.
    void withPictures()
    {
        const std::string folder = m_folder.filePath("pictured").toStdString();
        work::Work w;
        const auto bytes = std::make_shared<const outline::Bytes>(outline::Bytes{1, 2, 3, 4, 250});
        const std::string name = work::addPicture(w, {"leaves.png", bytes, {}});
        w.assets["fonts/other.otf"].bytes = bytes;
        work::Material material;
        material.pictures.colour = material.pictures.relief = name;
        material.pictures.roughness = "pictures/not-there-0123456789abcdef.png";
        material.pictures.widthPt = 77;
        QVERIFY(files::keepMaterial(folder, "Leaves", material, w.assets).has_value());
        const auto again = files::readMaterialSample(folder + "/leaves.json");
        QVERIFY2(again.has_value(), again ? "" : again.error().message.c_str());
        QCOMPARE(again->material.pictures.colour, name);
        QCOMPARE(again->material.pictures.relief, name);
        QVERIFY(again->material.pictures.roughness.empty() && again->material.pictures.widthPt == 77);
        QVERIFY(again->pictures.size() == 1 && *again->pictures.at(name).bytes == *bytes);
        // A name that would lead elsewhere is only a title.
        QFile file(QString::fromStdString(folder) + "/leaves.json");
        QVERIFY(file.open(QIODevice::ReadOnly));
        write("pictured/leaves.json", file.readAll().replace(name.c_str(), "pictures/../../../etc/x-0123456789abcdef.png"));
        const auto moved = files::readMaterialSample(folder + "/leaves.json");
        QVERIFY(moved && moved->pictures.size() == 1 && moved->material.pictures.colour == moved->pictures.begin()->first);
        QVERIFY(moved->pictures.begin()->first.find("..") == std::string::npos);
        write("pictured/leaves.json",
              R"({"format": "open-glow material", "version": 1, "name": "L", "material": {}, "files": {"a": "!!!!"}})");
        const auto wrong = files::readMaterialSample(folder + "/leaves.json");
        QVERIFY(!wrong && wrong.error().message.find("base64") != std::string::npos);
    }

    // RFC 4648, 10; and every byte there is.
    void base64()
    {
        const char* const kPairs[][2] = {
            {"", ""}, {"f", "Zg=="}, {"fo", "Zm8="}, {"foo", "Zm9v"}, {"foob", "Zm9vYg=="}, {"fooba", "Zm9vYmE="}, {"foobar", "Zm9vYmFy"}};
        for (const auto& [plain, coded] : kPairs) {
            const outline::Bytes bytes(plain, plain + std::strlen(plain));
            QCOMPARE(files::base64Of(bytes), std::string(coded));
            QVERIFY(files::bytesFromBase64(coded) == bytes);
        }
        outline::Bytes all(256);
        std::iota(all.begin(), all.end(), std::uint8_t{0});
        QVERIFY(files::bytesFromBase64(files::base64Of(all)) == all);
        for (const char* wrong : {"Zg=", "Z", "Zm9v!m9v", "Zg==Zg==", "===="})
            QVERIFY2(!files::bytesFromBase64(wrong), wrong);
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

OPEN_GLOW_TEST(TestSamples)
#include "test_samples.moc"
