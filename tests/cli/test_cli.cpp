// The command line as people and scripts call it.
#include <QColorSpace>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QImage>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>
#include <csignal>
#include <random>

#include "files/work_file.h"
#include "support/support.h"

class TestCli : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QString m_cli = qEnvironmentVariable("OPEN_GLOW_CLI");
    QString path(const QString& name) { return m_folder.filePath(name); }
    QByteArray cli(const QStringList& arguments, int* code, QByteArray* errors = nullptr)
    {
        return support::run(m_cli, arguments, code, errors);
    }
    QJsonObject info(const QString& work, const QStringList& more = {})
    {
        int code = -1;
        return QJsonDocument::fromJson(cli(QStringList{"info", work} + more, &code)).object();
    }

    // Waits until every pixel of the film has a sample, however long the program takes for that; false when it ends before. The film's
    // header tells which round goes on (src/film/layout.h): from the second on the first picture is there.
    static bool isExposed(const QString& film, QProcess& process)
    {
        constexpr qint64 kRound = 80;  // where it stands
        while (process.state() == QProcess::Running) {
            QFile file(film);
            std::uint32_t round = 0;
            if (file.open(QIODevice::ReadOnly) && file.seek(kRound) &&
                file.read(reinterpret_cast<char*>(&round), sizeof round) == sizeof round && round > 1)
                return true;
            process.waitForFinished(20);
        }
        return false;
    }

private Q_SLOTS:
    void initTestCase()
    {
        int code = -1;
        QByteArray errors;
        cli({"new", path("kite.openglow"), "--text", "KITE", "--font", "League Spartan Bold", "--sheet", "320x180"}, &code, &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY2(errors.isEmpty(), errors);
    }

    // Artwork instead of a text, its shapes in the facts, and its outlines out again.
    void artworkBecomesAWork()
    {
        int code = -1;
        QByteArray errors;
        const QString mark = OPEN_GLOW_SOURCE "/assets/demo/kite-mark.svg";
        cli({"new", path("mark.openglow"), "--artwork", mark, "--sheet", "300x300"}, &code, &errors);
        QVERIFY2(code == 0 && errors.isEmpty(), errors);
        const QJsonObject piece = info(path("mark.openglow"))["pieces"].toArray()[0].toObject();
        QCOMPARE(piece["artwork"].toString(), "kite-mark.svg");
        QCOMPARE(piece["shapes"].toArray().size(), 6);
        QCOMPARE(piece["shapes"].toArray()[2].toObject()["name"].toString(), "sail-low");
        QCOMPARE(piece["shapes"].toArray()[2].toObject()["colour"].toString(), "#0F7C82");
        QVERIFY(info(path("mark.openglow"))["closed"].toBool());
        cli({"render", path("mark.openglow"), "-o", path("mark.png"), "--size", "60x60", "--samples", "4"}, &code, &errors);
        QVERIFY2(code == 0, errors);
        // Out, and in again.
        const QString id = piece["id"].toString();
        cli({"outline", path("mark.openglow"), "-o", path("out.svg"), "--piece", id}, &code, &errors);
        QVERIFY2(code == 0, errors);
        cli({"new", path("again.openglow"), "--artwork", path("out.svg"), "--sheet", "300x300"}, &code, &errors);
        QVERIFY2(code == 0, errors);
        const QJsonArray again = info(path("again.openglow"))["pieces"].toArray()[0].toObject()["shapes"].toArray();
        QCOMPARE(again.size(), 6);
        QCOMPARE(again[2].toObject()["colour"].toString(), "#0F7C82");
        QVERIFY(again[2].toObject()["name"].toString().startsWith(id));
        cli({"outline", path("mark.openglow"), "-o", path("out.svg"), "--piece", "p99"}, &code, &errors);
        QVERIFY(code == 2 && errors.contains("p99"));
        QFile broken(path("broken.svg"));
        QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("<svg") > 0);
        broken.close();
        cli({"new", path("x.openglow"), "--artwork", path("broken.svg")}, &code, &errors);
        QVERIFY2(code == 1 && errors.contains("broken.svg"), errors);
        cli({"new", path("x.openglow")}, &code, &errors);
        QCOMPARE(code, 2);
    }

    // Every form to begin with makes a closed body; a cushion is thinner than what it is laid on is long.
    void formsToBeginWith()
    {
        int code = 0;
        QByteArray errors;
        const QStringList lines = QString::fromUtf8(cli({"list", "forms"}, &code, &errors)).split('\n', Qt::SkipEmptyParts);
        QCOMPARE(code, 0);
        QVERIFY2(lines.size() >= 12 && errors.isEmpty(), errors);
        for (qsizetype i = 0; i < lines.size(); i += 3) {  // a third of them: each is read in the tests of files
            const QString id = lines[i].section('\t', 0, 0);
            cli({"new", path("form.openglow"), "--text", "&B", "--font", "League Spartan Bold", "--sheet", "160x90", "--form", id}, &code,
                &errors);
            QVERIFY2(code == 0, errors);
            const QJsonObject facts = info(path("form.openglow"));
            QVERIFY2(facts["closed"].toBool() && facts["volumePt3"].toDouble() > 0, qPrintable(id));
            QCOMPARE(facts["pieces"][0]["volumePt3"].toDouble(), facts["volumePt3"].toDouble());
            QVERIFY2(facts["pieces"][0]["thinnestPt"].toDouble() > 0.1, qPrintable(id));
            for (const auto& notice : facts["notices"].toArray())  // a wide mitred bevel may fold somewhere
                QCOMPARE(notice.toObject()["kind"].toString(), QString("round-corners"));
        }
        cli({"new", path("form.openglow"), "--text", "O", "--form", "porridge"}, &code, &errors);
        QCOMPARE(code, 2);
        QVERIFY2(errors.contains("porridge") && errors.contains("list forms"), errors);
        // The sample book the same.
        const QString samples = QString::fromUtf8(cli({"list", "materials"}, &code, &errors));
        QVERIFY2(code == 0 && errors.isEmpty() && samples.contains("\ngold\tGold\tMetal\n"), errors);
        cli({"new", path("gold.openglow"), "--text", "O", "--font", "League Spartan Bold", "--sheet", "160x90", "--material", "Gold"},
            &code, &errors);
        QVERIFY2(code == 0, errors);
        const QString gold = support::run("unzip", {"-p", path("gold.openglow"), "work.json"});
        QVERIFY(gold.contains("\"metallic\": 1") && gold.contains("Left strip"));  // with something round it that it shows
        cli({"new", path("form.openglow"), "--text", "O", "--material", "porridge"}, &code, &errors);
        QVERIFY2(code == 2 && errors.contains("porridge") && errors.contains("list materials"), errors);
        // And what is round the letters.
        const QString skies = QString::fromUtf8(cli({"list", "surroundings"}, &code, &errors));
        QVERIFY2(code == 0 && skies.contains("two-strips\tTwo strips\t"), errors);
        cli({"new", path("sky.openglow"), "--text", "O", "--font", "League Spartan Bold", "--sheet", "160x90", "--surroundings",
             "Two strips"},
            &code, &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY(support::run("unzip", {"-p", path("sky.openglow"), "work.json"}).contains("\"Left strip\""));
        cli({"new", path("form.openglow"), "--text", "O", "--surroundings", "porridge"}, &code, &errors);
        QVERIFY2(code == 2 && errors.contains("porridge") && errors.contains("list surroundings"), errors);
        // A picture of all round, by new and by --set; a broken one is told with its name.
        QImage round(64, 32, QImage::Format_RGB888);
        round.fill(QColor(255, 255, 255));
        QVERIFY(round.save(path("round.png")));
        cli({"new", path("round.openglow"), "--text", "O", "--font", "League Spartan Bold", "--sheet", "160x90", "--surroundings",
             path("round.png")},
            &code, &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY(support::run("unzip", {"-p", path("round.openglow"), "work.json"}).contains("\"kind\": \"picture\""));
        // All white, it is light of 16 from everywhere, at the brightness that makes a card as bright as before: what plain light gives.
        cli({"new", path("plain.openglow"), "--text", "O", "--font", "League Spartan Bold", "--sheet", "160x90"}, &code, &errors);
        const QStringList still{"--samples", "64", "--denoise", "off", "--set", "/lights/l2/on=false"};
        cli(QStringList{"render", path("round.openglow"), "-o", path("round-still.png")} + still, &code, &errors);
        QVERIFY2(code == 0, errors);
        cli(QStringList{"render", path("plain.openglow"), "-o", path("plain-still.png")} + still, &code, &errors);
        const auto mean = [&](const QString& name) {
            const QImage image =
                QImage(path(name)).convertToFormat(QImage::Format_Grayscale8).scaled(1, 1, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
            return image.pixelColor(0, 0).red();
        };
        QVERIFY2(std::abs(mean("round-still.png") - mean("plain-still.png")) <= 3,
                 qPrintable(QString("%1 and %2").arg(mean("round-still.png")).arg(mean("plain-still.png"))));
        cli(QStringList{"render", path("plain.openglow"), "-o", path("set-still.png"), "--set", "/surroundings/kind=picture", "--set",
                        "/surroundings/picture=" + path("round.png")} +
                still,
            &code, &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY(mean("set-still.png") > mean("plain-still.png") + 20);
        QFile wrong(path("wrong.hdr"));
        QVERIFY(wrong.open(QIODevice::WriteOnly) && wrong.write("#?RADIANCE\n\n") > 0);
        wrong.close();
        cli({"new", path("form.openglow"), "--text", "O", "--surroundings", path("wrong.hdr")}, &code, &errors);
        QVERIFY2(code == 1 && errors.contains("wrong.hdr"), errors);
        // And light set-ups.
        const QString lights = QString::fromUtf8(cli({"list", "light-set-ups"}, &code, &errors));
        QVERIFY2(code == 0 && errors.isEmpty() && lights.contains("two-coloured-sides\tTwo coloured sides\t"), errors);
        QVERIFY(lights.split('\n', Qt::SkipEmptyParts).size() >= 14);
        cli({"new", path("lit.openglow"), "--text", "O", "--font", "League Spartan Bold", "--sheet", "160x90", "--light", "candle"}, &code,
            &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY(support::run("unzip", {"-p", path("lit.openglow"), "work.json"}).contains("\"Flame\""));
        cli({"new", path("form.openglow"), "--text", "O", "--light", "porridge"}, &code, &errors);
        QVERIFY2(code == 2 && errors.contains("porridge") && errors.contains("list light-set-ups"), errors);
    }

    // Finishes by name, layers and what is behind by --set with files, who casts on whom; and the formats a still can have.
    void finishesAndFormats()
    {
        int code = -1;
        QByteArray errors;
        const QString list = QString::fromUtf8(cli({"list", "finishes"}, &code, &errors));
        QVERIFY2(code == 0 && errors.isEmpty() && list.contains("newsprint\tNewsprint\t"), errors);
        const QStringList made{"--text", "O", "--font", "League Spartan Bold", "--sheet", "160x90"};
        cli(QStringList{"new", path("plain.openglow")} + made, &code, &errors);
        cli(QStringList{"new", path("print.openglow")} + made + QStringList{"--finish", "newsprint"}, &code, &errors);
        QVERIFY2(code == 0, errors);
        cli(QStringList{"new", path("x.openglow")} + made + QStringList{"--finish", "porridge"}, &code, &errors);
        QVERIFY2(code == 2 && errors.contains("porridge") && errors.contains("list finishes"), errors);
        const auto render = [&](const char* work, const QString& out, const QStringList& more = {}) {
            cli(QStringList{"render", path(work), "-o", path(out), "--samples", "2", "--denoise", "off"} + more, &code, &errors);
            return QImage(path(out)).convertToFormat(QImage::Format_RGB888);
        };
        const auto spread = [](const QImage& image) {  // between the channels, on the mean
            double sum = 0;
            for (int y = 0; y < image.height(); ++y)
                for (int x = 0; x < image.width(); ++x) {
                    const QColor c = image.pixelColor(x, y);
                    sum += std::max({c.red(), c.green(), c.blue()}) - std::min({c.red(), c.green(), c.blue()});
                }
            return sum / (image.width() * image.height());
        };
        const QImage plain = render("plain.openglow", "plain.png"), print = render("print.openglow", "print.png");
        QVERIFY2(code == 0 && spread(print) > 8 && print != plain, qPrintable(QString::number(spread(print))));
        QImage blue(8, 8, QImage::Format_RGB888);
        blue.fill(QColor(0, 0, 255));
        blue.save(path("blue.png"));
        cli(QStringList{"new", path("one.openglow")} + made + QStringList{"--finish", "long-shadow"}, &code, &errors);
        const QString json = QString::fromUtf8(support::run("unzip", {"-p", path("one.openglow"), "work.json"}));
        const QString layer = "/finish/layers/" + QRegularExpression("\"layersOrder\": \\[\\s*\"(y\\d+)\"").match(json).captured(1);
        const QImage covered =
            render("one.openglow", "covered.png",
                   {"--set", layer + "={\"kind\": \"picture\", \"widthPt\": 5000}", "--set", layer + "/picture=" + path("blue.png")});
        QVERIFY2(code == 0, errors);
        QVERIFY(covered.pixelColor(80, 45).blue() > 250 && covered.pixelColor(80, 45).red() < 5);
        const QImage behind = render("plain.openglow", "behind.png",
                                     {"--set", "/ground/kind=none", "--set", "/ground/backdropKind=picture", "--set",
                                      "/ground/backdropPicture=" + path("blue.png")});
        QVERIFY2(code == 0, errors);
        QVERIFY(behind.pixelColor(2, 2).blue() > 250 && behind.pixelColor(2, 2).red() < 5);
        const QImage unlit = render("plain.openglow", "unlit.png", {"--set", "/lights/l2/casting/unlit=[\"ground\"]"});
        QVERIFY2(code == 0, errors);
        QVERIFY(unlit.pixelColor(4, 4).green() < plain.pixelColor(4, 4).green() - 20);

        for (const char* name : {"a.jpg", "a.jpeg", "a.webp", "a.tif", "a.tiff"}) {
            (void)render("plain.openglow", name);
            QVERIFY2(code == 0 && QFileInfo(path(name)).size() > 500, errors);
        }
        QVERIFY(QImage(path("a.jpg")).size() == QSize(160, 90));
        (void)render("plain.openglow", "low.jpg", {"--quality", "30"});
        QVERIFY(QFileInfo(path("low.jpg")).size() < QFileInfo(path("a.jpg")).size());
        (void)render("plain.openglow", "deep.tif", {"--bits", "16"});
        QVERIFY(support::run("tiffinfo", {path("deep.tif")}, &code).contains("Bits/Sample: 16"));
        (void)render("plain.openglow", "float.tif", {"--bits", "32"});
        QVERIFY(support::run("tiffinfo", {path("float.tif")}, &code).contains("IEEE floating point"));
        // The same colours by other numbers, and passes beside it.
        const QImage wide = render("plain.openglow", "wide.png", {"--colours", "p3", "--passes", "shadow,albedo"});
        QVERIFY2(code == 0 && wide.colorSpace() == QColorSpace(QColorSpace::DisplayP3), errors);
        QVERIFY(QImage(path("wide.shadow.png")).size() == QSize(160, 90) && QFileInfo::exists(path("wide.albedo.png")));
        const QColor back = wide.convertedToColorSpace(QColorSpace(QColorSpace::SRgb)).pixelColor(4, 4);
        QVERIFY(std::abs(back.red() - plain.pixelColor(4, 4).red()) <= 2 && std::abs(back.blue() - plain.pixelColor(4, 4).blue()) <= 2);
        (void)render("plain.openglow", "wide.exr", {"--colours", "p3"});
        QVERIFY2(code == 2 && errors.contains("sRGB"), errors);
        (void)render("plain.openglow", "own.png", {"--colours", path("deep.tif")});
        QVERIFY2(code == 1 && errors.contains("no colour profile"), errors);
        (void)render("plain.openglow", "own.png", {"--passes", "position"});
        QVERIFY2(code == 2 && errors.contains(".exr"), errors);
        (void)render("plain.openglow", "through.jpg", {"--transparent"});
        QVERIFY2(code == 2 && errors.contains("JPEG") && !QFileInfo::exists(path("through.jpg")), errors);
    }

    void newMakesAWholeWork()
    {
        const QJsonObject facts = info(path("kite.openglow"));
        QCOMPARE(facts["sheet"].toObject()["widthPx"].toInt(), 320);
        QCOMPARE(facts["letters"].toInt(), 4);
        QCOMPARE(facts["bodies"].toInt(), 4);
        QCOMPARE(facts["closed"].toBool(), true);
        QVERIFY(facts["volumePt3"].toDouble() > 0 && facts["triangles"].toInt() > 100);
        QVERIFY(facts["notices"].toArray().isEmpty());
        const QString list = support::run("unzip", {"-Z1", path("kite.openglow")});
        QVERIFY(QRegularExpression("assets/fonts/LeagueSpartan-Bold-[0-9a-f]{16}\\.otf").match(list).hasMatch() &&
                list.contains("preview.png"));
        const QByteArray json = support::run("unzip", {"-p", path("kite.openglow"), "work.json"});
        QVERIFY2(json.contains("\"licence\": \"") && json.contains("Open Font License"), "the font's licence travels with it");
    }

    void aFontFileAndASizeCanBeNamed()
    {
        int code = -1;
        cli({"new", path("file.openglow"), "--text", "K", "--font-file", support::fontPath("Lobster Two", "Bold"), "--size-pt", "99",
             "--ppi", "144"},
            &code);
        QCOMPARE(code, 0);
        const QByteArray json = support::run("unzip", {"-p", path("file.openglow"), "work.json"});
        QVERIFY(json.contains("\"sizePt\": 99") && json.contains("\"family\": \"Lobster Two\"") && json.contains("\"ppi\": 144"));
    }

    void renderMakesPicturesOfAllKinds_data()
    {
        QTest::addColumn<QStringList>("more");
        QTest::addColumn<QString>("out");
        QTest::addColumn<QSize>("size");
        QTest::newRow("png") << QStringList{"--samples", "2"} << "a.png" << QSize(320, 180);
        QTest::newRow("16 bits, larger") << QStringList{"--samples", "1", "--size", "640x360", "--bits", "16"} << "b.png"
                                         << QSize(640, 360);
        QTest::newRow("region") << QStringList{"--samples", "2", "--region", "10,20,100,50"} << "c.png" << QSize(100, 50);
        QTest::newRow("time") << QStringList{"--seconds", "0.3", "--threads", "1"} << "d.png" << QSize(320, 180);
        QTest::newRow("noise") << QStringList{"--noise", "12", "--seed", "4"} << "e.png" << QSize(320, 180);
        QTest::newRow("soft") << QStringList{"--samples", "1", "--view-transform", "soft"} << "f.png" << QSize(320, 180);
    }
    void renderMakesPicturesOfAllKinds()
    {
        QFETCH(QStringList, more);
        QFETCH(QString, out);
        QFETCH(QSize, size);
        int code = -1;
        QByteArray errors;
        cli(QStringList{"render", path("kite.openglow"), "-o", path(out)} + more, &code, &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY2(errors.isEmpty(), "progress is for terminals only");
        QCOMPARE(QImage(path(out)).size(), size);
    }

    // All outputs of a sheet by one command, by their patterns; nothing else is left in the folder. Same names do not meet.
    void outputsOfASheet()
    {
        int code = -1;
        QByteArray errors;
        work::Work w = *files::openWork(path("kite.openglow").toStdString());
        auto& outputs = w.shownSheet().outputs;
        outputs = {};
        const auto add = [&](const char* id, const char* name, int widthPx, work::FileFormat format, bool transparent = false) {
            work::Output output;
            output.name = name;
            output.widthPx = widthPx;
            output.format = format;
            output.transparent = transparent;
            outputs.add(id, output);
        };
        add("o1", "{work} {width}", 160, work::FileFormat::Png8);
        add("o2", "{work} {width}", 160, work::FileFormat::Jpeg);
        add("o3", "", 80, work::FileFormat::Png16, true);
        add("o4", "", 80, work::FileFormat::Png8);
        QVERIFY(QDir(path(".")).mkpath("of") && files::saveWork(w, path("of/kite.openglow").toStdString()));
        const QByteArray names = cli({"outputs", path("of/kite.openglow"), "-o", path("all of it"), "--samples", "4"}, &code, &errors);
        QVERIFY2(code == 0, errors);
        QStringList files = QDir(path("all of it")).entryList(QDir::Files | QDir::Hidden, QDir::Name);
        QCOMPARE(files, (QStringList{"kite 160.jpg", "kite 160.png", "kite 2.png", "kite.png"}));
        for (const QString& name : files)
            QVERIFY(names.contains(name.toUtf8()));
        QCOMPARE(QImage(path("all of it/kite 160.jpg")).size(), QSize(160, 90));
        QCOMPARE(QImage(path("all of it/kite.png")).depth(), 64);
        // Of one size they are of one film: the JPEG shows what the PNG shows.
        const QImage png(path("all of it/kite 160.png")), jpeg(path("all of it/kite 160.jpg"));
        double off = 0;
        for (int y = 0; y < 90; ++y)
            for (int x = 0; x < 160; ++x)
                off += std::abs(qGreen(png.pixel(x, y)) - qGreen(jpeg.pixel(x, y)));
        QVERIFY2(off / (90 * 160) < 2, qPrintable(QString::number(off / (90 * 160))));
        cli({"outputs", path("kite.openglow"), "-o", path("kite.openglow")}, &code, &errors);
        QVERIFY2(code == 1 && errors.contains("folder"), errors);
    }

    void exrHasEveryPass()
    {
        int code = -1;
        cli({"render", path("kite.openglow"), "-o", path("k.exr"), "--samples", "2"}, &code);
        QCOMPARE(code, 0);
        const QString header = support::run("exrheader", {path("k.exr")});
        for (const char* name :
             {"light.surroundings.R", "light.l2.G", "albedo.B", "normal.X", "depth.Z", "alpha.A", "ids.letter", "samples.n"})
            QVERIFY2(header.contains(name), name);
    }

    // Regions match the whole picture, threads do not matter, transparent corners are clear, --set shows.
    void picturesAgree()
    {
        int code = -1;
        const QStringList base{"render", path("kite.openglow"), "--samples", "3"};
        const auto picture = [&](const QString& name, const QStringList& more) {
            QByteArray errors;
            cli(base + QStringList{"-o", path(name)} + more, &code, &errors);
            if (code != 0)
                qWarning() << errors;
            return QImage(path(name)).convertToFormat(QImage::Format_RGBA8888);
        };
        const QImage whole = picture("w.png", {"--threads", "1"});
        QCOMPARE(picture("w2.png", {"--threads", "2"}), whole);
        QVERIFY(picture("other.png", {"--seed", "2"}) != whole);
        const QImage clear = picture("t.png", {"--transparent", "--set", "/ground/kind=none"});
        QCOMPARE(qAlpha(clear.pixel(2, 2)), 0);
        int covered = 0;
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 320; ++x)
                covered += qAlpha(clear.pixel(x, y)) == 255;
        QVERIFY(covered > 1000);
        const QImage green = picture("g.png", {"--set", "/pieces/p1/material/piece/baseColour=#00FF00", "--set", "/ground/kind=none"});
        int greens = 0;
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 320; ++x)
                greens += qGreen(green.pixel(x, y)) > 2 * qRed(green.pixel(x, y)) + 20;
        QVERIFY(greens > 1000);
    }

    // A render that is told to stop keeps what is there, says 130, and its film goes on where it stopped.
    void stoppedRendersGoOn()
    {
        const QStringList command{"render", path("kite.openglow"), "-o", path("s.png"), "--film", path("s.film")};
        QProcess process;
        process.start(m_cli, command + QStringList{"--samples", "100000"});
        QVERIFY(process.waitForStarted());
        QVERIFY(isExposed(path("s.film"), process));
        ::kill(static_cast<pid_t>(process.processId()), SIGINT);
        QVERIFY(process.waitForFinished(20000));
        QCOMPARE(process.exitCode(), 130);
        QCOMPARE(QImage(path("s.png")).size(), QSize(320, 180));
        int code = -1;
        QByteArray errors;
        cli(command + QStringList{"--samples", "2", "--view-transform", "soft"}, &code, &errors);  // already there
        QVERIFY2(code == 0, errors);
        cli({"render", path("kite.openglow"), "-o", path("s.png"), "--film", path("s.film"), "--samples", "2", "--set",
             "/pieces/p1/form/depthPt=3"},
            &code, &errors);
        QCOMPARE(code, 1);
        QVERIFY(errors.contains("s.film"));
    }

    // Killed twenty times at any moment, the render goes on from its film each time and ends in the same picture, although it chooses
    // by itself where samples go.
    void killedAndGoneOnWith()
    {
        const QStringList command{"render", path("kite.openglow"), "--size", "160x90", "--noise", "4", "--samples", "60"};
        int code = -1;
        cli(command + QStringList{"-o", path("whole.png"), "--film", path("whole.film")}, &code);
        QCOMPARE(code, 0);
        std::mt19937 random(7);
        int killed = 0;
        for (int i = 0; i < 20; ++i) {
            QProcess process;
            process.start(m_cli, command + QStringList{"-o", path("killed.png"), "--film", path("killed.film")});
            QVERIFY(process.waitForStarted());
            if (!process.waitForFinished(20 + static_cast<int>(random() % 180))) {
                process.kill();
                process.waitForFinished();
                ++killed;
            }
        }
        QVERIFY(killed > 3);
        cli(command + QStringList{"-o", path("killed.png"), "--film", path("killed.film")}, &code);
        QCOMPARE(code, 0);
        QCOMPARE(QImage(path("killed.png")), QImage(path("whole.png")));
        QFile a(path("killed.film")), b(path("whole.film"));
        QVERIFY(a.open(QIODevice::ReadOnly) && b.open(QIODevice::ReadOnly));
        QVERIFY(a.readAll() == b.readAll());
    }

    // The desk mixes a film anew: like a render at those settings, and half as bright at a stop less.
    void deskMixesAFilm()
    {
        int code = -1;
        QByteArray errors;
        const QString film = path("desk.film");
        cli({"render", path("kite.openglow"), "-o", path("desk0.png"), "--film", film, "--samples", "8"}, &code);
        QCOMPARE(code, 0);
        cli({"desk", path("kite.openglow"), film, "-o", path("desk1.png")}, &code, &errors);
        QVERIFY2(code == 0, errors);
        QCOMPARE(QImage(path("desk1.png")), QImage(path("desk0.png")));

        const QStringList warm{"--set", "/lights/l2/stops=0.3", "--set", "/lights/l2/colour=#FFE0C0", "--set", "/finish/exposure=0.5"};
        cli(QStringList{"desk", path("kite.openglow"), film, "-o", path("desk2.png")} + warm, &code, &errors);
        QVERIFY2(code == 0, errors);
        cli(QStringList{"render", path("kite.openglow"), "-o", path("desk3.png"), "--samples", "8"} + warm, &code);
        const QImage mixed = QImage(path("desk2.png")).convertToFormat(QImage::Format_RGB888),
                     rendered = QImage(path("desk3.png")).convertToFormat(QImage::Format_RGB888);
        int other = 0;
        for (int y = 0; y < mixed.height(); ++y)
            for (int x = 0; x < 3 * mixed.width(); ++x)
                other += std::abs(int(mixed.constScanLine(y)[x]) - int(rendered.constScanLine(y)[x])) > 1;  // dither
        QVERIFY2(other < mixed.width() * mixed.height() / 50, qPrintable(QString::number(other)));

        cli({"desk", path("kite.openglow"), film, "-o", path("solo.png"), "--solo", "l2"}, &code);
        QCOMPARE(code, 0);
        QVERIFY(QImage(path("solo.png")) != QImage(path("desk0.png")));
    }

    // A stop that is asked for twice is one at once; what a killed writer leaves goes with the next picture.
    void askedTwiceItEndsAtOnce()
    {
        QProcess process;
        process.start(m_cli,
                      {"render", path("kite.openglow"), "-o", path("twice.png"), "--film", path("twice.film"), "--samples", "100000"});
        QVERIFY(process.waitForStarted());
        QVERIFY(isExposed(path("twice.film"), process));
        ::kill(static_cast<pid_t>(process.processId()), SIGSTOP);  // so that both wait for it
        ::kill(static_cast<pid_t>(process.processId()), SIGINT);
        ::kill(static_cast<pid_t>(process.processId()), SIGTERM);
        ::kill(static_cast<pid_t>(process.processId()), SIGCONT);
        QVERIFY(process.waitForFinished(60000));
        QCOMPARE(process.exitStatus(), QProcess::NormalExit);
        QCOMPARE(process.exitCode(), 130);
        QVERIFY(!QFileInfo::exists(path("twice.png")));
    }

    // Two at one film: the second says why not, and the first is not disturbed. So it is with bands.
    void aFilmHasOneProcess()
    {
        QProcess first;
        first.start(m_cli, {"render", path("kite.openglow"), "-o", path("one.png"), "--film", path("shared.film"), "--samples", "100000"});
        QVERIFY(first.waitForStarted());
        QVERIFY(isExposed(path("shared.film"), first));
        int code = -1;
        QByteArray errors;
        cli({"render", path("kite.openglow"), "-o", path("two.png"), "--film", path("shared.film"), "--samples", "2"}, &code, &errors);
        QCOMPARE(code, 1);
        QVERIFY2(errors.contains("Another Open Glow"), errors);
        cli({"desk", path("kite.openglow"), path("shared.film"), "-o", path("two.png")}, &code, &errors);
        QCOMPARE(code, 1);
        ::kill(static_cast<pid_t>(first.processId()), SIGINT);
        QVERIFY(first.waitForFinished(60000));
        QCOMPARE(first.exitCode(), 130);
        cli({"desk", path("kite.openglow"), path("shared.film"), "-o", path("two.png")}, &code, &errors);
        QVERIFY2(code == 0, errors);
    }

    // Half the samples here, half there: merged they are the picture of one render.
    void filmsAreMerged()
    {
        int code = -1;
        QByteArray errors;
        const QStringList common{"render", path("kite.openglow"), "--size", "160x90", "--denoise", "off"};
        cli(common + QStringList{"-o", path("all.png"), "--samples", "8"}, &code);
        cli(common + QStringList{"-o", path("half.png"), "--samples", "4", "--film", path("a.film")}, &code);
        cli(common + QStringList{"-o", path("half.png"), "--samples", "4", "--film", path("b.film"), "--first-sample", "4"}, &code,
            &errors);
        QVERIFY2(code == 0, errors);
        cli({"film", "merge", path("b.film"), path("a.film"), "-o", path("m.film")}, &code, &errors);
        QVERIFY2(code == 0, errors);
        cli({"desk", path("kite.openglow"), path("m.film"), "-o", path("merged.png"), "--denoise", "off"}, &code, &errors);
        QVERIFY2(code == 0, errors);
        const QImage all = QImage(path("all.png")).convertToFormat(QImage::Format_RGB888),
                     merged = QImage(path("merged.png")).convertToFormat(QImage::Format_RGB888);
        for (int y = 0; y < all.height(); ++y)
            for (int i = 0; i < 3 * all.width(); ++i)
                QVERIFY(std::abs(all.constScanLine(y)[i] - merged.constScanLine(y)[i]) <= 1);
        cli({"film", "merge", path("a.film"), path("a.film"), "-o", path("n.film")}, &code, &errors);
        QCOMPARE(code, 1);
        QVERIFY2(errors.contains("twice"), errors);
        cli({"film", "merge", path("a.film"), "-o", path("n.film")}, &code, &errors);
        QCOMPARE(code, 2);
    }

    // A film of the landed version gives, at the desk, the picture that version made; its work the same light.
    void filmsOfEarlierVersionsAreMixed()
    {
        const QString kept = OPEN_GLOW_SOURCE "/tests/kept/0.1/";
        int code = -1;
        QByteArray errors;
        cli({"desk", kept + "kite.openglow", kept + "kite.film", "-o", path("old.png"), "--denoise", "off"}, &code, &errors);
        QVERIFY2(code == 0 && errors.contains("earlier version"), errors);
        QCOMPARE(QImage(path("old.png")), QImage(kept + "kite.png"));
        cli({"render", kept + "kite.openglow", "-o", path("new.png"), "--size", "32x18", "--samples", "8", "--denoise", "off"}, &code,
            &errors);
        QVERIFY2(code == 0, errors);
        // The same light, by other samples: 8 of them a pixel.
        const QImage now = QImage(path("new.png")).convertToFormat(QImage::Format_RGB888),
                     then = QImage(kept + "kite.png").convertToFormat(QImage::Format_RGB888);
        QCOMPARE(now.size(), then.size());
        double apart = 0, sum = 0;
        for (int y = 0; y < now.height(); ++y)
            for (int i = 0; i < 3 * now.width(); ++i) {
                const int d = now.constScanLine(y)[i] - then.constScanLine(y)[i];
                apart += std::abs(d) / (3.0 * now.width() * now.height());
                sum += d / (3.0 * now.width() * now.height());
            }
        QVERIFY2(apart < 6 && std::abs(sum) < 1, qPrintable(QString("%1, %2").arg(apart).arg(sum)));
    }

    // What stands beside a picture and is not ours stays: a folder of the same name, other things among the bands.
    void foreignFoldersStay()
    {
        int code = -1;
        QByteArray errors;
        const QStringList command{"render",  path("kite.openglow"), "-o", path("f.png"), "--memory", "0.05", "--size",
                                  "640x360", "--samples",           "1",  "--denoise",   "off"};
        QVERIFY(QDir().mkpath(path("f.png.light")));
        QFile letter(path("f.png.light/letter.txt"));
        QVERIFY(letter.open(QIODevice::WriteOnly) && letter.write("Dear kite flyers") > 0);
        letter.close();
        cli(command, &code, &errors);
        QCOMPARE(code, 1);
        QVERIFY2(errors.contains("something else"), errors);
        QVERIFY(letter.exists());
        QVERIFY(letter.remove());
        cli(command, &code, &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY(!QFileInfo::exists(path("f.png.light")));
        // Finished bands are not the picture of more samples.
        const QStringList bands = command + QStringList{"--film", path("f.bands")};
        cli(bands, &code, &errors);
        QVERIFY2(code == 0, errors);
        QStringList more = bands;
        more[more.indexOf("--samples") + 1] = "4";
        cli(more, &code, &errors);
        QCOMPARE(code, 1);
        QVERIFY2(errors.contains("fewer samples"), errors);
        cli(bands, &code, &errors);
        QVERIFY2(code == 0, errors);
    }

    // A full standard output is a fault, and no reason to abort.
    void aFullOutputIsSaid()
    {
        for (const QString& command : {QString("schema"), "info " + path("kite.openglow")}) {
            int code = -1;
            QByteArray errors;
            support::run("/bin/sh", {"-c", m_cli + " " + command + " > /dev/full"}, &code, &errors);
            QCOMPARE(code, 1);
            QVERIFY2(errors.contains("disk full"), errors);
        }
    }

    // With little memory a picture is made in bands: the same picture; its folder is a film for the desk.
    void littleMemoryMakesBands()
    {
        int code = -1;
        QByteArray errors;
        const QStringList size{"--size", "640x360", "--samples", "2", "--denoise", "off"};
        cli(QStringList{"render", path("kite.openglow"), "-o", path("one.png")} + size, &code);
        cli(QStringList{"render", path("kite.openglow"), "-o", path("bands.png"), "--memory", "0.05", "--film", path("bands")} + size,
            &code, &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY(QFileInfo(path("bands/light.json")).isFile() && QFileInfo(path("bands/band-0001.exr")).isFile());
        const QImage one = QImage(path("one.png")).convertToFormat(QImage::Format_RGB888),
                     bands = QImage(path("bands.png")).convertToFormat(QImage::Format_RGB888);
        QCOMPARE(bands.size(), one.size());
        for (int y = 0; y < one.height(); ++y)
            for (int i = 0; i < 3 * one.width(); ++i)
                QVERIFY(std::abs(one.constScanLine(y)[i] - bands.constScanLine(y)[i]) <= 2);
        cli({"desk", path("kite.openglow"), path("bands"), "-o", path("darker.png"), "--set", "/lights/l2/stops=-3"}, &code, &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY(QImage(path("darker.png")).pixelColor(10, 10).lightness() < one.pixelColor(10, 10).lightness());
        cli({"desk", path("kite.openglow"), path("bands"), "-o", path("passes.exr")}, &code, &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY(support::run("exrheader", {path("passes.exr")}).contains("light.l2.R"));
        // Without a film nothing stays beside the picture.
        cli(QStringList{"render", path("kite.openglow"), "-o", path("again.png"), "--memory", "0.05"} + size, &code, &errors);
        QVERIFY2(code == 0, errors);
        QVERIFY(!QFileInfo::exists(path("again.png.light")));
        QCOMPARE(QImage(path("again.png")), QImage(path("bands.png")));
        // Too little even for that.
        cli(QStringList{"render", path("kite.openglow"), "-o", path("no.png"), "--memory", "0.01"} + size, &code, &errors);
        QCOMPARE(code, 1);
        QVERIFY2(errors.contains("GB"), errors);
    }

    void deskSaysWhatItCannot_data()
    {
        QTest::addColumn<QStringList>("more");
        QTest::addColumn<int>("code");
        QTest::addColumn<QString>("says");
        QTest::newRow("another form") << QStringList{"--set", "/pieces/p1/form/depthPt=3"} << 1 << "render the work again";
        QTest::newRow("a light that was off") << QStringList{"--set", "/surroundings/on=true"} << 1 << "was not rendered";
        QTest::newRow("no such light") << QStringList{"--solo", "l77"} << 2 << "--solo";
        QTest::newRow("another film") << QStringList{"--seed", "5"} << 1 << "dark.film";
    }
    void deskSaysWhatItCannot()
    {
        QFETCH(QStringList, more);
        QFETCH(int, code);
        QFETCH(QString, says);
        int is = -1;
        QByteArray errors;
        if (!QFileInfo::exists(path("dark.openglow"))) {
            QVERIFY(QFile::copy(path("kite.openglow"), path("dark.openglow")));
            QFile json(path("work.json"));
            QVERIFY(json.open(QIODevice::WriteOnly));
            QByteArray text = support::run("unzip", {"-p", path("kite.openglow"), "work.json"});
            const auto around = text.indexOf("\"surroundings\"");
            text.replace(text.indexOf("true", around), 4, "false");
            json.write(text);
            json.close();
            support::run("python3", {"-c",
                                     "import sys,zipfile as z\na=z.ZipFile(sys.argv[1]); e={n:a.read(n) for n in a.namelist()}; "
                                     "a.close()\ne['work.json']=open(sys.argv[2],'rb').read()\nw=z.ZipFile(sys.argv[1],'w')\n[w.writestr(n,"
                                     "d) for n,d in e.items()]\nw.close()",
                                     path("dark.openglow"), path("work.json")});
            cli({"render", path("dark.openglow"), "-o", path("dark.png"), "--film", path("dark.film"), "--samples", "2", "--size", "80x45"},
                &is, &errors);
            QVERIFY2(is == 0, errors);
        }
        cli(QStringList{"desk", path("dark.openglow"), path("dark.film"), "-o", path("no.png")} + more, &is, &errors);
        QCOMPARE(is, code);
        QVERIFY2(errors.contains(says.toUtf8()), errors);
        QVERIFY(!QFileInfo::exists(path("no.png")));
    }

    // A film serves for other brightness, colour and exposure: nothing is rendered again, and the still is that of a new render.
    void aFilmIsMixedInAnotherLight()
    {
        int code = -1;
        QByteArray errors;
        const QStringList command{"render", path("kite.openglow"), "--film", path("mixed.film"), "--samples", "6"};
        cli(command + QStringList{"-o", path("day.png")}, &code, &errors);
        QVERIFY2(code == 0, errors);
        const QStringList evening{"--set", "/lights/l2/stops=1.5",   "--set", "/lights/l2/colour=#FFC080",
                                  "--set", "/surroundings/stops=-4", "--set", "/finish/exposure=-0.5"};
        cli(command + QStringList{"-o", path("evening.png")} + evening, &code, &errors);
        QVERIFY2(code == 0, errors);
        cli(QStringList{"render", path("kite.openglow"), "--samples", "6", "-o", path("evening2.png")} + evening, &code, &errors);
        QVERIFY2(code == 0, errors);
        QCOMPARE(QImage(path("evening.png")), QImage(path("evening2.png")));
        QVERIFY(QImage(path("evening.png")) != QImage(path("day.png")));
    }

    void meshAndSchema()
    {
        int code = -1;
        cli({"mesh", path("kite.openglow"), "-o", path("k.stl")}, &code);
        QCOMPARE(code, 0);
        cli({"mesh", path("kite.openglow"), "-o", path("k.glb")}, &code);
        QFile glb(path("k.glb"));
        QVERIFY(code == 0 && glb.open(QIODevice::ReadOnly) && glb.read(4) == "glTF");
        cli({"mesh", path("kite.openglow"), "-o", path("k.obj")}, &code);
        QCOMPARE(code, 2);
        QCOMPARE(QFileInfo(path("k.stl")).size(), 84 + 50 * qint64(info(path("kite.openglow"))["triangles"].toInt()));
        QVERIFY(QJsonDocument::fromJson(cli({"schema"}, &code)).object()["properties"].toObject().contains("pieces"));
    }

    void wrongCallsAndBadInput_data()
    {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<int>("status");
        QTest::addColumn<QString>("says");
        const QString k = "$kite.openglow", o = "$out.png";
        QTest::newRow("nothing") << QStringList{} << 2 << "--help";
        QTest::newRow("unknown command") << QStringList{"paint"} << 2 << "--help";
        QTest::newRow("no output") << QStringList{"render", k} << 2 << "output";
        QTest::newRow("ending") << QStringList{"render", k, "-o", "$x.gif"} << 2 << ".png";
        QTest::newRow("size") << QStringList{"render", k, "-o", o, "--size", "wide"} << 2 << "1920x1080";
        QTest::newRow("shape") << QStringList{"render", k, "-o", o, "--size", "100x100"} << 2 << "320 x 180";
        QTest::newRow("region outside") << QStringList{"render", k, "-o", o, "--region", "300,0,100,100"} << 1 << "320 x 180";
        QTest::newRow("bits") << QStringList{"render", k, "-o", o, "--bits", "12"} << 2 << "8 or 16";
        QTest::newRow("negative samples") << QStringList{"render", k, "-o", o, "--samples", "-4"} << 2 << "samples";
        QTest::newRow("set without value") << QStringList{"render", k, "-o", o, "--set", "/sheet/width"} << 2 << "pointer";
        QTest::newRow("set nowhere") << QStringList{"render", k, "-o", o, "--set", "/sheet/girth=3"} << 1 << "/sheet/girth";
        QTest::newRow("negative depth") << QStringList{"render", k, "-o", o, "--set", "/pieces/p1/form/depthPt=-1"} << 1
                                        << "/pieces/p1/form/depthPt";
        QTest::newRow("1e9 pt") << QStringList{"info", k, "--set", "/pieces/p1/form/depthPt=1e9"} << 1 << "100000";
        QTest::newRow("missing work") << QStringList{"info", "$none.openglow"} << 1 << "none.openglow";
        QTest::newRow("not a work") << QStringList{"info", "$letter.txt"} << 1 << "letter.txt";
        QTest::newRow("cut work") << QStringList{"info", "$cut.openglow"} << 1 << "cut.openglow";
        QTest::newRow("not a font") << QStringList{"new", "$n.openglow", "--text", "K", "--font-file", "$letter.txt"} << 1 << "letter.txt";
        QTest::newRow("output that cannot be written")
            << QStringList{"render", k, "-o", "/proc/o.png", "--samples", "1"} << 1 << "/proc/o.png";
        QTest::newRow("work that cannot be written") << QStringList{"new", "/proc/o.openglow", "--text", "K"} << 1 << "/proc/o.openglow";
        QTest::newRow("too large") << QStringList{"render", k, "-o", o, "--size", "96000x54000", "--memory", "1"} << 1 << "GB";
        QTest::newRow("two fonts") << QStringList{"new", "$n.openglow", "--text", "K", "--font", "Lato", "--font-file", "x"} << 2 << "font";
        QTest::newRow("no number: noise") << QStringList{"render", "$kite.openglow", "-o", "$out.png", "--noise", "nan"} << 2
                                          << "takes a number";
        QTest::newRow("no number: seconds") << QStringList{"render", "$kite.openglow", "-o", "$out.png", "--seconds", "nan"} << 2
                                            << "takes a number";
        QTest::newRow("no number: memory") << QStringList{"render", "$kite.openglow", "-o", "$out.png", "--memory", "-nan"} << 2
                                           << "takes a number";
        QTest::newRow("no number: size") << QStringList{"new", "$out.openglow", "--text", "A", "--size-pt", "nan"} << 2 << "takes a number";
        QTest::newRow("odd first sample") << QStringList{"render",    "$kite.openglow", "-o", "$out.png", "--film",
                                                         "$odd.film", "--first-sample", "3"}
                                          << 2 << "even";
        QTest::newRow("far beyond a list") << QStringList{"render",   "$kite.openglow", "-o",
                                                          "$out.png", "--set",          "/piecesOrder/2000000000=p1"}
                                           << 1 << "no such place";
        QTest::newRow("a picture is no work") << QStringList{"new", "$photo.jpg", "--text", "A"} << 2 << ".openglow";
        QTest::newRow("a device is no place") << QStringList{"new", "/dev/null", "--text", "A", "--force"} << 1 << "no plain file";
        QTest::newRow("a device is no film") << QStringList{"render", "$kite.openglow", "-o", "$out.png", "--film", "/dev/null"} << 1
                                             << "/dev/null";
        QTest::newRow("no folder") << QStringList{"render", "$kite.openglow", "-o", "$no/such/folder/out.png"} << 1 << "cannot be written";
        QTest::newRow("a device is no work") << QStringList{"info", "/dev/zero"} << 1 << "no plain file";
    }
    void wrongCallsAndBadInput()
    {
        QFETCH(QStringList, arguments);
        QFETCH(int, status);
        QFETCH(QString, says);
        QFile letter(path("letter.txt"));
        QVERIFY(letter.open(QIODevice::WriteOnly) && letter.write("Dear kite flyers") > 0);
        letter.close();
        QFile kite(path("kite.openglow")), cut(path("cut.openglow"));
        QVERIFY(kite.open(QIODevice::ReadOnly) && cut.open(QIODevice::WriteOnly) && cut.write(kite.read(4000)) == 4000);
        cut.close();
        for (QString& a : arguments)
            if (a.startsWith('$'))
                a = path(a.mid(1));
        int code = -1;
        QByteArray errors;
        cli(arguments, &code, &errors);
        QVERIFY2(code == status, errors);
        QCOMPARE(errors.count('\n'), 1);
        QVERIFY2(errors.startsWith("open-glow-cli: ") && errors.contains(says.toUtf8()), errors);
        QVERIFY(!QFileInfo::exists(path("out.png")));
    }

    // Odd but lawful texts: nothing fails, what is missing is said.
    void oddTexts_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("notice");
        QTest::newRow("empty") << ""
                               << "empty";
        QTest::newRow("emoji") << QString::fromUtf8("\U0001F6A9") << "missing-glyph";
        QTest::newRow("right to left") << QString::fromUtf8("שלום") << "lent-face";
        QTest::newRow("5,000 characters") << QString("KITE FAIR ").repeated(500) << "";
    }
    void oddTexts()
    {
        QFETCH(QString, text);
        QFETCH(QString, notice);
        int code = -1;
        QByteArray errors;
        cli({"new", path("odd.openglow"), "--text", text, "--font", "League Spartan Bold"}, &code, &errors);
        QVERIFY2(code == 0, errors);
        const QJsonObject facts = info(path("odd.openglow"));
        const QJsonArray notices = facts["notices"].toArray();
        QCOMPARE(notices.isEmpty() ? QString() : notices[0].toObject()["kind"].toString(), notice);
        if (notice.isEmpty())
            QCOMPARE(facts["bodies"].toInt(), 4000);
        cli({"render", path("odd.openglow"), "-o", path("odd.png"), "--size", "192x108", "--samples", "1"}, &code, &errors);
        QVERIFY2(code == 0, errors);
    }
};

OPEN_GLOW_TEST_WITH_EVENTS(TestCli)
#include "test_cli.moc"
