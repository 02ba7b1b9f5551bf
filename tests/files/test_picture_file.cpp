#include <QColorSpace>
#include <QImage>
#include <QTemporaryDir>
#include <QtTest>
#include <csignal>
#include <random>
#include <sys/resource.h>

#include "files/credits.h"
#include "files/mesh_file.h"
#include "files/picture_file.h"
#include "support/support.h"

using picture::Raster;

class TestPictureFile : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QString path(const char* name) { return m_folder.filePath(name); }

private Q_SLOTS:
    // pngcheck reads size, depth, sRGB and pHYs back: 300 ppi is 11811 px per metre.
    void pngChunks_data()
    {
        QTest::addColumn<int>("channels");
        QTest::addColumn<bool>("deep");
        QTest::addColumn<QString>("kind");
        QTest::newRow("8 bits") << 3 << false << "24-bit RGB";
        QTest::newRow("8 bits, alpha") << 4 << false << "32-bit RGB+alpha";
        QTest::newRow("16 bits") << 3 << true << "48-bit RGB";
        QTest::newRow("16 bits, alpha") << 4 << true << "64-bit RGB+alpha";
    }
    void pngChunks()
    {
        QFETCH(int, channels);
        QFETCH(bool, deep);
        QFETCH(QString, kind);
        const std::string file = path("p.png").toStdString();
        QVERIFY(deep ? files::savePng(Raster<std::uint16_t>(30, 20, channels), 300, file).has_value()
                     : files::savePng(Raster<std::uint8_t>(30, 20, channels), 300, file).has_value());
        int code = -1;
        const QString out = support::run("pngcheck", {"-v", path("p.png")}, &code);
        QCOMPARE(code, 0);
        QVERIFY2(out.contains("30 x 20 image, " + kind), qPrintable(out));
        QVERIFY2(out.contains("11811x11811 pixels/meter"), qPrintable(out));
        QVERIFY2(out.contains("chunk sRGB"), qPrintable(out));
    }

    // The formats for other uses, read back by the tools of their own libraries: size, resolution, depth, and the picture itself.
    void otherFormats()
    {
        Raster<std::uint8_t> picture(64, 40, 3);
        for (int y = 0; y < 40; ++y)
            for (int x = 0; x < 64; ++x) {
                picture.at(x, y)[0] = std::uint8_t(4 * x);
                picture.at(x, y)[1] = std::uint8_t(6 * y);
                picture.at(x, y)[2] = 90;
            }
        const auto save = [&](const char* format, const char* name, int quality) {
            return files::savePicture(format, {64, 40, 3}, 300, {quality}, path(name).toStdString(),
                                      files::FillRows<std::uint8_t>([&](const auto& add) { return add(picture); }))
                .has_value();
        };
        const auto worst = [&](const QImage& read) {
            int off = read.size() == QSize(64, 40) ? 0 : 999;
            for (int y = 0; y < 40 && off < 999; ++y)
                for (int x = 0; x < 64; ++x)
                    for (int c = 0; c < 3; ++c)
                        off = std::max(off, std::abs(read.constScanLine(y)[3 * x + c] - picture.at(x, y)[c]));
            return off;
        };
        const auto rgb = [](const QImage& image) { return image.convertToFormat(QImage::Format_RGB888); };
        int code = -1;
        QVERIFY(save("jpeg", "a.jpg", 95) && save("jpeg", "small.jpg", 40));
        const QImage jpeg = rgb(QImage::fromData(support::run("djpeg", {path("a.jpg")}, &code)));
        QCOMPARE(code, 0);
        QVERIFY2(worst(jpeg) <= 8, qPrintable(QString::number(worst(jpeg))));
        QVERIFY(QFileInfo(path("small.jpg")).size() < QFileInfo(path("a.jpg")).size());
        QCOMPARE(QImage(path("a.jpg")).dotsPerMeterX(), 11811);

        QVERIFY(save("tiff", "a.tif", 0));
        const QString tiff = support::run("tiffinfo", {path("a.tif")}, &code);
        QVERIFY2(code == 0 && tiff.contains("Image Width: 64 Image Length: 40") && tiff.contains("Resolution: 300, 300 pixels/inch") &&
                     tiff.contains("Bits/Sample: 8"),
                 qPrintable(tiff));
        QCOMPARE(support::run("tiff2rgba", {path("a.tif"), path("b.tif")}, &code).size(), 0);
        QCOMPARE(code, 0);
        QVERIFY(support::run("oiiotool", {path("a.tif"), "-o", path("t.png")}, &code).isEmpty());
        QCOMPARE(worst(rgb(QImage(path("t.png")))), 0);
        const Raster<std::uint16_t> deep(8, 6, 4);
        QVERIFY(files::savePicture("tiff", {8, 6, 4}, 150, {}, path("deep.tif").toStdString(),
                                   files::FillRows<std::uint16_t>([&](const auto& add) { return add(deep); })));
        const QString info = support::run("tiffinfo", {path("deep.tif")}, &code);
        QVERIFY2(code == 0 && info.contains("Bits/Sample: 16") && info.contains("Extra Samples: 1<unassoc-alpha>"), qPrintable(info));

        // They carry a profile, and Qt reads it as sRGB.
        const auto profile = [&](const char* name) { return QImage(path(name)).colorSpace().iccProfile(); };
        QVERIFY(QImage(path("a.jpg")).colorSpace() == QColorSpace(QColorSpace::SRgb));
        QVERIFY(support::run("oiiotool", {"--info", "-v", path("a.tif")}, &code).contains("ICCProfile"));
        QCOMPARE(profile("a.jpg"), profile("small.jpg"));

        QVERIFY(save("webp", "a.webp", 95));
        const QString webp = support::run("webpinfo", {path("a.webp")}, &code);
        QVERIFY2(code == 0 && webp.contains("Width: 64") && webp.contains("Height: 40") && webp.contains("No error detected"),
                 qPrintable(webp));
        QVERIFY(support::run("dwebp", {path("a.webp"), "-o", path("w.png")}, &code).isEmpty());
        QCOMPARE(code, 0);
        QVERIFY2(worst(rgb(QImage(path("w.png")))) <= 24, qPrintable(QString::number(worst(rgb(QImage(path("w.png")))))));
        // libavif's own program reads AVIF.
        QVERIFY(save("avif", "a.avif", 95) && save("avif", "small.avif", 40));
        support::run("avifdec", {path("a.avif"), path("av.png")}, &code);
        QCOMPARE(code, 0);
        QVERIFY2(worst(rgb(QImage(path("av.png")))) <= 24, qPrintable(QString::number(worst(rgb(QImage(path("av.png")))))));
        QVERIFY(QFileInfo(path("small.avif")).size() < QFileInfo(path("a.avif")).size());
        QVERIFY(!save("avif", "no/a.avif", 90));
        const auto large = files::savePicture("webp", {20000, 2, 3}, 72, {90}, path("large.webp").toStdString(),
                                              files::FillRows<std::uint8_t>([](const auto&) { return base::Result<void>(); }));
        QVERIFY(!large && QString::fromStdString(large.error().message).contains("16383"));
    }

    // Author, licence and description are in the files, as another library's program reads XMP; the picture is the same to the bit, and a
    // file without any of them is not touched.
    void creditsInTheFile()
    {
        Raster<std::uint8_t> picture(20, 10, 3);
        for (std::size_t i = 0; i < picture.values.size(); ++i)
            picture.values[i] = std::uint8_t(i * 7);
        const work::Credits credits{"Mara Lind", "CC BY 4.0", "Golden letters on a dune \u2013 \u51e7"};
        for (const auto& [format, name] : {std::pair("png", "c.png"), {"jpeg", "c.jpg"}, {"webp", "c.webp"}, {"tiff", "c.tif"}}) {
            QVERIFY(files::savePicture(format, {20, 10, 3}, 72, {100}, path(name).toStdString(),
                                       files::FillRows<std::uint8_t>([&](const auto& add) { return add(picture); })));
            QFile file(path(name));
            QVERIFY(file.open(QIODevice::ReadOnly));
            const QByteArray before = file.readAll();
            file.close();
            QVERIFY(files::writeCredits({}, path(name).toStdString()));
            QVERIFY(file.open(QIODevice::ReadOnly) && file.readAll() == before);
            file.close();
            const QImage was(path(name));
            QVERIFY(files::writeCredits(credits, path(name).toStdString()));
            int code = -1;
            const QString read = QString::fromUtf8(support::run("exiv2", {"-PXkv", path(name)}, &code));
            QVERIFY2(code == 0 && read.contains("Mara Lind") && read.contains("CC BY 4.0") && read.contains("AltTextAccessibility"),
                     qPrintable(read));
            QCOMPARE(read.count(QString::fromUtf8("Golden letters on a dune \u2013 \u51e7")), 2);
            if (!was.isNull())
                QVERIFY(QImage(path(name)) == was);
            QVERIFY(QImage(path(name)).colorSpace() == was.colorSpace());
        }
        const auto none = files::writeCredits(credits, path("nothing.png").toStdString());
        QVERIFY(!none && none.error().code == base::ErrorCode::CannotWrite && none.error().place == path("nothing.png").toStdString());
    }

    // Straight alpha comes back as it was, read by Qt: no matte colour, nothing multiplied.
    void straightAlphaIsKept()
    {
        Raster<std::uint8_t> picture(3, 1, 4);
        picture.values = {200, 100, 50, 255, 200, 100, 50, 3, 10, 20, 30, 0};
        QVERIFY(files::savePng(picture, 72, path("a.png").toStdString()).has_value());
        const QImage image = QImage(path("a.png")).convertToFormat(QImage::Format_RGBA8888);
        for (int x = 0; x < 3; ++x)
            for (int c = 0; c < 4; ++c)
                QCOMPARE(int(image.constScanLine(0)[4 * x + c]), int(picture.at(x, 0)[c]));
    }

    // exrheader and oiiotool read names, windows and values back.
    void exrHoldsAllPasses()
    {
        Raster<float> picture(4, 2, 4);
        picture.at(3, 1)[0] = 17.5f;
        picture::Passes passes{{"light.l2", {"R", "G", "B"}, Raster<float>(4, 2, 3)}, {"depth", {"Z"}, Raster<float>(4, 2, 1)}};
        *passes[1].raster.at(2, 0) = 1234.5f;
        QVERIFY(files::saveExr(picture, passes, {5, 6, 40, 30}, 300, path("p.exr").toStdString()).has_value());
        const QString header = support::run("exrheader", {path("p.exr")});
        for (const char* part : {"A, 32-bit floating-point", "depth.Z, 32-bit", "light.l2.B, 32-bit",
                                 "dataWindow (type box2i): (5 6) - (8 7)", "displayWindow (type box2i): (0 0) - (39 29)"})
            QVERIFY2(header.contains(part), qPrintable(header));
        const QString dump = support::run("oiiotool", {"--dumpdata", path("p.exr")});
        QVERIFY(dump.contains("17.5") && dump.contains("1234.5"));
    }

    void whatCannotBeWrittenIsSaid()
    {
        const Raster<std::uint8_t> picture(4, 4, 3);
        for (const QString& file : {path("no/folder/p.png"), QString("/proc/p.png")}) {
            const auto saved = files::savePng(picture, 72, file.toStdString());
            QVERIFY(!saved.has_value());
            QCOMPARE(saved.error().code, base::ErrorCode::CannotWrite);
            QCOMPARE(saved.error().place, file.toStdString());
        }
        QVERIFY(!files::saveExr(Raster<float>(4, 4, 4), {}, {0, 0, 4, 4}, 72, path("no/p.exr").toStdString()).has_value());
    }

    // The picture library does not ask whether its bytes arrived: the writer does. The old file stays.
    void aFullDiskIsNoticed()
    {
        std::mt19937 random(1);
        Raster<std::uint8_t> noise(200, 200, 3);
        Raster<std::uint16_t> deep(200, 200, 3);
        Raster<float> light(200, 200, 4);
        for (std::uint8_t& v : noise.values)
            v = std::uint8_t(random());
        for (std::uint16_t& v : deep.values)
            v = std::uint16_t(random());
        for (float& v : light.values)
            v = float(random()) / 4e9f;
        const auto save = [&](int kind) {
            return kind == 0   ? files::savePng(noise, 72, path("full.png").toStdString())
                   : kind == 1 ? files::savePng(deep, 72, path("full.png").toStdString())
                               : files::saveExr(light, {}, {0, 0, 200, 200}, 72, path("full.exr").toStdString());
        };
        for (const char* name : {"full.png", "full.exr"}) {
            QFile file(path(name));
            QVERIFY(file.open(QIODevice::WriteOnly) && file.write("before") == 6);
        }
        rlimit old{};
        getrlimit(RLIMIT_FSIZE, &old);
        signal(SIGXFSZ, SIG_IGN);
        for (int kind = 0; kind < 3; ++kind)
            for (const rlim_t bytes : {rlim_t{1}, rlim_t{1000}, rlim_t{50000}}) {
                const rlimit tight{bytes, old.rlim_max};
                setrlimit(RLIMIT_FSIZE, &tight);
                const auto saved = save(kind);
                setrlimit(RLIMIT_FSIZE, &old);
                QVERIFY(!saved.has_value());
                QCOMPARE(saved.error().code, base::ErrorCode::CannotWrite);
                QVERIFY2(saved.error().message.find("libpng") == std::string::npos, saved.error().message.c_str());
                QCOMPARE(QFileInfo(path(kind == 2 ? "full.exr" : "full.png")).size(), qint64{6});
            }
        QVERIFY(save(0).has_value() && save(1).has_value() && save(2).has_value());
        int code = -1;
        support::run("pngcheck", {path("full.png")}, &code);
        QCOMPARE(code, 0);
        QVERIFY(QDir(m_folder.path()).entryList({"*.part"}, QDir::Files | QDir::Hidden).isEmpty());
    }

    // admesh on a real word: every facet connected, none backwards, one shell for each body, the volume in mm3.
    void stlPrints()
    {
        work::FontChoice font;
        font.style = "Bold";
        const work::Work work = work::newWork("KITE", font, {});
        work::Cache cache;
        const auto bodies = work::makeBodies(work, 0.05, cache, {});
        QVERIFY(files::saveStl(*bodies, path("k.stl").toStdString()).has_value());
        const QString out = support::run("admesh", {path("k.stl")});
        const auto number = [&](const char* label) {
            const QRegularExpressionMatch m = QRegularExpression(QString(label) + "\\s*:\\s*(-?[0-9.]+)").match(out);
            return m.hasMatch() ? m.captured(1).toDouble() : -1;
        };
        QVERIFY2(number("Number of parts") == 4, qPrintable(out));
        QVERIFY2(number("Total disconnected facets") == 0, qPrintable(out));
        QVERIFY2(number("Backwards edges") == 0, qPrintable(out));
        double volume = 0;
        for (const auto& b : bodies->bodies)
            for (const auto& t : b.body->triangles)
                volume +=
                    dot(toDouble(b.body->positions[t[0]]), cross(toDouble(b.body->positions[t[1]]), toDouble(b.body->positions[t[2]]))) / 6;
        const double mm = 25.4 / 72;
        QVERIFY2(std::abs(number("Volume") / (volume * mm * mm * mm) - 1) < 1e-3, qPrintable(out));
        QVERIFY(!files::saveStl({}, path("none.stl").toStdString()).has_value());
    }

    // And on every form, in four unlike faces.
    void everyFormPrints()
    {
        solid::SlabForm grown{24, {4, 4, solid::Profile::Drawn, 0}, {2, 2}, solid::Corners::Mitred};
        grown.grownOut = true;
        solid::SlabForm fluted{24, {1, 1}, {}, solid::Corners::Flat};
        fluted.draft = 4;
        fluted.flutes = {3, 0.7, {}};
        solid::SlabForm twisted{24, {2, 2, solid::Profile::Roundover, 4}, {}, solid::Corners::Round, {40, 0.7}};
        const std::pair<const char*, work::Form> forms[] = {
            {"grown out", grown},
            {"fluted", fluted},
            {"twisted", twisted},
            {"terraces, inlay",
             solid::SlabForm{
                 24, {4, 6, solid::Profile::Terraces, 3}, {}, solid::Corners::Mitred, {}, {1, 3, 0.5, solid::Profile::Ogee, 4}}},
            {"domed", solid::DomedForm{4, 1, 0.5}},
            {"rope", solid::TubeForm{4, 0, solid::TubePath::Outline, solid::TubeSection::Rope}},
            {"block", solid::BlockForm{30, true, 40, -90, 0.6}}};
        for (const auto& [family, style] : {std::pair{"League Spartan", "Black"},
                                            {"Lobster Two", "Bold Italic"},
                                            {"Junicode Two Beta", "Regular"},
                                            {"Blankenburg_UNZ1A", "Regular"}}) {
            work::FontChoice font;
            font.family = family;
            font.style = style;
            for (const auto& [name, form] : forms) {
                work::Work work = work::newWork("Kg", font, {});
                work.pieces.items.begin()->second.form = form;
                work::Cache cache;
                const auto bodies = work::makeBodies(work, 0.1, cache, {});
                QVERIFY(bodies.has_value());
                QVERIFY(files::saveStl(*bodies, path("form.stl").toStdString()).has_value());
                const QString out = support::run("admesh", {path("form.stl")});
                for (const char* label : {"Total disconnected facets", "Backwards edges", "Facets added", "Facets reversed"}) {
                    const QRegularExpressionMatch m = QRegularExpression(QString(label) + "\\s*:\\s*(-?[0-9.]+)").match(out);
                    QVERIFY2(m.hasMatch() && m.captured(1).toDouble() == 0, qPrintable(QString("%1 in %2: ").arg(name, family) + out));
                }
            }
        }
    }
};

OPEN_GLOW_TEST_WITH_EVENTS(TestPictureFile)
#include "test_picture_file.moc"
