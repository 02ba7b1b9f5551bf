// Pictures for materials as files: of every kind, broken and hostile ones, and as works carry them.
#include <QBuffer>
#include <QColorSpace>
#include <QImage>
#include <QImageReader>
#include <QImageWriter>
#include <QTemporaryDir>
#include <QtEndian>
#include <QtTest>

#include "base/file.h"
#include "files/texture_file.h"
#include "files/work_file.h"
#include "files/work_json.h"
#include "session/clip.h"
#include "support/support.h"
#include "work/fonts.h"
#include "work/pictures.h"
#include "work/scene.h"

namespace {

QTemporaryDir& folder()
{
    static QTemporaryDir s_folder;
    return s_folder;
}
QString path(const QString& name)
{
    return folder().filePath(name);
}

// Made up: a few fields of colour, not even in any direction.
QImage kite(int width = 48, int height = 32)
{
    QImage image(width, height, QImage::Format_RGB888);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            image.setPixelColor(x, y, QColor((37 * (x / 8)) % 256, (90 + 50 * (y / 8)) % 256, x < width / 2 ? 200 : 40));
    return image;
}

outline::SharedBytes bytesOf(const QByteArray& data)
{
    return std::make_shared<const outline::Bytes>(data.begin(), data.end());
}
QByteArray encoded(const QImage& image, const char* format)
{
    QByteArray data;
    QBuffer buffer(&data);
    buffer.open(QIODevice::WriteOnly);
    QImageWriter writer(&buffer, format);
    writer.setQuality(100);
    writer.write(image);
    return data;
}

base::Result<surface::SharedTexture> read(const QByteArray& data)
{
    return files::readTexture(bytesOf(data), "it", {});
}

// How far a pixel of a texture is from a colour, in 1/255 of the largest channel.
double apart(const surface::Texture& texture, int x, int y, QColor colour)
{
    const base::Rgb seen = texture
                               .valueAt((float(x) + 0.5f) / float(texture.width()), 1 - (float(y) + 0.5f) / float(texture.height()), 0,
                                        surface::PictureEdges::Once)
                               .colour;
    return 255 * std::max({std::abs(double(seen.x) - colour.redF()), std::abs(double(seen.y) - colour.greenF()),
                           std::abs(double(seen.z) - colour.blueF())});
}
double mostApart(const surface::Texture& texture, const QImage& image)
{
    double most = 0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            most = std::max(most, apart(texture, x, y, image.pixelColor(x, y)));
    return most;
}

// A piece of a PNG: ISO 15948, 5.3.
QByteArray chunk(const QByteArray& kind, const QByteArray& data)
{
    std::uint32_t crc = 0xffffffffu;
    const QByteArray all = kind + data;
    for (const char c : all) {
        crc ^= std::uint8_t(c);
        for (int i = 0; i < 8; ++i)
            crc = crc & 1 ? 0xedb88320u ^ (crc >> 1) : crc >> 1;
    }
    const auto big = [](std::uint32_t v) {
        QByteArray b(4, 0);
        qToBigEndian(v, b.data());
        return b;
    };
    return big(std::uint32_t(data.size())) + all + big(~crc);
}
QByteArray pngOf(std::uint32_t width, std::uint32_t height, const QByteArray& packed)
{
    QByteArray head(13, 0);
    qToBigEndian(width, head.data());
    qToBigEndian(height, head.data() + 4);
    head[8] = 8;  // bits, grey
    return QByteArray("\x89PNG\r\n\x1a\n") + chunk("IHDR", head) + chunk("IDAT", packed.mid(4)) + chunk("IEND", {});
}

work::Work withPicture(const work::PictureFile& file, std::string* name = nullptr)
{
    work::Work w = work::newWork("KITE", *work::fontNamed("League Spartan Bold").map([](auto f) { return f.choice; }), {});
    auto font = work::fontNamed("League Spartan Bold");
    w.assets[font->choice.asset] = font->asset;
    const std::string asset = work::addPicture(w, file);
    work::layPicture(w.pieces.items.begin()->second.material.piece, asset, 120);
    if (name)
        *name = asset;
    return w;
}

work::PictureFile fileOf(const QImage& image, const QString& name)
{
    const QString at = path(name);
    image.save(at);
    return *files::readPictureFile(at.toStdString(), {});
}

}  // namespace

class TestTextures : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // What other programs have written: Qt (libpng, libjpeg), and OpenImageIO's tool for the kinds Qt does not write.
    void everyKind()
    {
        const QImage image = kite();
        auto png = read(encoded(image, "png"));
        QVERIFY2(png.has_value(), png ? "" : png.error().message.c_str());
        QVERIFY((*png)->width() == 48 && (*png)->height() == 32 && !(*png)->hasAlpha());
        QVERIFY(mostApart(**png, image) < 1e-3);
        auto jpeg = read(encoded(image, "jpg"));
        QVERIFY(jpeg.has_value());
        double sum = 0;
        for (int y = 4; y < 32; y += 8)
            for (int x = 4; x < 48; x += 8)
                sum += apart(**jpeg, x, y, image.pixelColor(x, y)) / 24;
        QVERIFY2(sum < 4, qPrintable(QString::number(sum)));

        image.save(path("kite.png"));
        const auto converted = [&](const QString& name, const QStringList& options) {
            int code = -1;
            support::run("oiiotool", QStringList{path("kite.png")} + options + QStringList{"-o", path(name)}, &code);
            return code == 0 ? files::readPictureFile(path(name).toStdString(), {})
                             : base::fail(base::ErrorCode::Internal, "oiiotool failed");
        };
        const auto tiff = converted("kite.tif", {}), deep = converted("deep.tif", {"-d", "uint16"}),
                   exr = converted("kite.exr", {"--colorconvert", "sRGB", "linear", "-d", "float"}),
                   webp = converted("kite.webp", {"--compression", "lossless"});
        QVERIFY(tiff && deep && exr && webp);
        QVERIFY(mostApart(*tiff->texture, image) < 1e-3 && mostApart(*deep->texture, image) < 0.01);
        QVERIFY2(mostApart(*webp->texture, image) < 60, "WebP of its usual quality");
        // An EXR is linear: it shows the same colours, by other numbers.
        exr->texture->makeColours();
        (*png)->makeColours();
        const auto light = [](const surface::Texture& t) { return t.colourAt(0.4f, 0.3f, 0, surface::PictureEdges::Once).colour; };
        QVERIFY2(length(light(*exr->texture) - light(**png)) < 2e-3f, qPrintable(QString::number(double(light(*exr->texture).x))));
    }

    // Transparent ones keep what they are, grey ones are grey, those with few colours have them.
    void otherPixels()
    {
        QImage clear(4, 4, QImage::Format_ARGB32);
        clear.fill(QColor(200, 100, 50, 64));
        const auto t = read(encoded(clear, "png"));
        QVERIFY(t && (*t)->hasAlpha() && apart(**t, 1, 1, QColor(200, 100, 50)) < 1e-3);
        QVERIFY(std::abs((*t)->valueAt(0.5f, 0.5f, 0, surface::PictureEdges::Once).alpha - 64 / 255.0f) < 1e-3f);
        const QImage grey = kite().convertToFormat(QImage::Format_Grayscale8);
        const auto g = read(encoded(grey, "png"));
        QVERIFY(g && mostApart(**g, grey) < 1e-3);
        const QImage few = kite().convertToFormat(QImage::Format_Indexed8);
        const auto f = read(encoded(few, "png"));
        QVERIFY(f && mostApart(**f, few) < 1e-3);
    }

    // Display P3 becomes sRGB as Qt's own colour management makes it, to 2/255.
    void otherColours()
    {
        QImage wide = kite();
        for (int y = 0; y < wide.height(); ++y)
            for (int x = 0; x < wide.width(); ++x) {  // what sRGB has too
                const QColor c = wide.pixelColor(x, y);
                wide.setPixelColor(x, y, QColor(90 + c.red() / 4, 90 + c.green() / 4, 90 + c.blue() / 4));
            }
        wide.setColorSpace(QColorSpace(QColorSpace::DisplayP3));
        const QImage srgb = wide.convertedToColorSpace(QColorSpace(QColorSpace::SRgb));
        const auto t = read(encoded(wide, "png"));
        QVERIFY(t.has_value());
        QVERIFY2(mostApart(**t, srgb) <= 2.01, qPrintable(QString::number(mostApart(**t, srgb))));
        QVERIFY(mostApart(**t, wide) > 3);
    }

    // Held upright as Exif says (2.32, 4.6.4, tag 274): against Qt's reader.
    void asItIsHeld()
    {
#ifdef OPEN_GLOW_CHECKED
        constexpr int kStep = 3;  // sanitizers are slow
#else
        constexpr int kStep = 1;
#endif
        for (int orientation = 1; orientation <= 8; orientation += kStep) {
            QByteArray jpeg = encoded(kite(), "jpg");
            QByteArray exif = QByteArray("Exif\0\0MM\0*\0\0\0\x08\0\x01\x01\x12\0\x03\0\0\0\x01\0", 26) + char(orientation) +
                              QByteArray("\0\0\0\0\0\0", 6);
            QByteArray part("\xff\xe1\0\0", 4);
            part[3] = char(exif.size() + 2);
            jpeg.insert(2, part + exif);
            QBuffer buffer(&jpeg);
            QImageReader reader(&buffer);
            reader.setAutoTransform(true);
            const QImage upright = reader.read();
            const auto t = read(jpeg);
            QVERIFY2(t.has_value(), t ? "" : t.error().message.c_str());
            QVERIFY((*t)->width() == upright.width() && (*t)->height() == upright.height());
            QVERIFY2(mostApart(**t, upright) < 3, qPrintable(QString("%1: %2").arg(orientation).arg(mostApart(**t, upright))));
        }
    }

    // Files that are none, cut off or meant to harm: each a sentence, none of them an open work's end.
    void wrongOnes_data()
    {
        QTest::addColumn<QByteArray>("data");
        QTest::addColumn<QString>("says");
        const QByteArray good = encoded(kite(), "png"), jpeg = encoded(kite(400, 300), "jpg");
        QTest::newRow("text") << QByteArray("kites fly") << "no PNG, JPEG";
        QTest::newRow("empty") << QByteArray() << "no PNG, JPEG";
        QTest::newRow("cut off PNG") << good.left(good.size() / 2) << "cut off";
        QTest::newRow("cut off JPEG") << jpeg.left(jpeg.size() / 2) << "cut off";
        QTest::newRow("PNG without pixels") << pngOf(64, 64, qCompress(QByteArray())) << "read";
        QTest::newRow("1e5 x 1e5") << pngOf(100000, 100000, qCompress(QByteArray(1000, 0))) << "million";
        QTest::newRow("a bomb") << pngOf(59000, 59000, qCompress(QByteArray(50 << 20, 0))) << "million";
        QTest::newRow("a head alone") << QByteArray("\x76\x2f\x31\x01garbage and more of it", 25) << "read";
        QTest::newRow("a broken TIFF") << QByteArray("II*\0\x08\0\0\0\xff\xff", 10) + QByteArray(300, '\xff') << "read";
        QTest::newRow("a broken WebP") << QByteArray("RIFF\xff\xff\xff\x7fWEBPVP8 \xff\xff\xff\x7f", 20) + QByteArray(64, 'x') << "read";
    }
    void wrongOnes()
    {
        QFETCH(QByteArray, data);
        QFETCH(QString, says);
        const auto t = read(data);
        QVERIFY(!t.has_value());
        QVERIFY2(QString::fromStdString(t.error().message).contains(says), t.error().message.c_str());
        QVERIFY(t.error().place == "it");
    }

    // 100 million pixels are read in the time and memory there is, made smaller.
    void aHugeOneIsMadeSmaller()
    {
#if defined(OPEN_GLOW_CHECKED) && !defined(OPEN_GLOW_WHOLE)
        QSKIP("too long under sanitizers");
#endif
        const auto t = read(pngOf(10000, 10000, qCompress(QByteArray(10001 * 10000, 0), 1)));
        QVERIFY2(t.has_value(), t ? "" : t.error().message.c_str());
        QCOMPARE((*t)->width(), 5000);
        QVERIFY((*t)->bytes() <= std::size_t{256} << 20);
    }

    // A work carries the file as it was, once for all that use it; opened again it is the same work and shows the same.
    void aWorkCarriesIt()
    {
        const work::PictureFile file = fileOf(kite(), "bow kite.png");
        std::string name;
        work::Work w = withPicture(file, &name);
        QVERIFY2(name.starts_with("pictures/bow-kite-") && name.ends_with(".png"), name.c_str());
        QCOMPARE(work::pictureTitle(name), std::string("bow-kite.png"));
        QCOMPARE(work::addPicture(w, file), name);
        w.ground.wall.pictures.roughness = name;
        const QString at = path("kite.openglow");
        QVERIFY(files::saveWork(w, at.toStdString(), {}).has_value());
        base::Notes notes;
        const auto opened = files::openWork(at.toStdString(), &notes);
        QVERIFY(opened && *opened == w && notes.empty());
        QVERIFY(*opened->assets.at(name).bytes == *file.bytes);
        // What is open already is not held a second time.
        QVERIFY(opened->assets.at(name).texture == file.texture);
        QCOMPARE(int(std::count_if(opened->assets.begin(), opened->assets.end(), [](const auto& a) { return work::isPicture(a.first); })),
                 1);
    }

    // One that nothing uses any more is left out; one that is used by wall, part or letter alone is not.
    void whatIsNotUsedIsLeftOut()
    {
        std::string name;
        const work::Work start = withPicture(fileOf(kite(), "a.png"), &name);
        const auto keeps = [&](const std::function<void(work::Work&, work::Piece&)>& change) {
            work::Work w = start;
            work::Piece& piece = w.pieces.items.begin()->second;
            piece.material.piece.pictures = {};
            change(w, piece);
            work::dropUnusedAssets(w);
            return w.assets.contains(name);
        };
        QVERIFY(!keeps([](work::Work&, work::Piece&) {}));
        QVERIFY(keeps([&](work::Work& w, work::Piece&) { w.ground.floor.pictures.relief = name; }));
        QVERIFY(keeps([&](work::Work&, work::Piece& p) { p.material.parts["side"].pictures.light = name; }));
        QVERIFY(keeps([&](work::Work&, work::Piece& p) {
            p.letters["a2"].material.emplace();
            p.letters["a2"].material->piece.pictures.cutOut = name;
        }));
    }

    // A broken picture in a work is told, and stays in it.
    void aBrokenOneIsTold()
    {
        std::string name;
        work::Work w = withPicture(fileOf(kite(), "b.png"), &name);
        const QByteArray good = encoded(kite(), "png");
        w.assets[name].bytes = bytesOf(good.left(good.size() / 2));
        w.assets[name].texture = nullptr;
        const QString at = path("broken.openglow");
        QVERIFY(files::saveWork(w, at.toStdString(), {}).has_value());
        base::Notes notes;
        const auto opened = files::openWork(at.toStdString(), &notes);
        QVERIFY(opened && *opened == w);
        QVERIFY(notes.size() == 1 && notes[0].message.find("b.png is not shown: The picture is cut off") == 0 &&
                notes[0].place == "assets/" + name);
        work::Cache cache;
        const auto bodies = work::makeBodies(*opened, 0.2, cache, {});
        QVERIFY(bodies && work::makeScene(*opened, *bodies).covers.empty());
    }

    // In its place everywhere; and along with what is copied.
    void replacedAndCopied()
    {
        std::string name;
        work::Work w = withPicture(fileOf(kite(), "c.png"), &name);
        w.ground.wall.pictures.colour = name;
        const work::Work before = w;
        QCOMPARE(work::replacePicture(w, name, fileOf(kite(20, 20), "d.png")), 2);
        QVERIFY(work::reworkBetween(before, w) == work::Rework::Expose && files::filmKey(before, 0) != files::filmKey(w, 0));
        const std::string now = w.ground.wall.pictures.colour;
        QVERIFY(now != name && w.pieces.items.begin()->second.material.piece.pictures.colour == now);

        const work::Work clip = session::clipOf(w, {w.pieces.order.front()});
        work::Work other = withPicture(fileOf(kite(), "c.png"));
        session::Choice choice;
        choice.set({other.pieces.order.front(), {}});
        QVERIFY(!other.assets.contains(now));
        QVERIFY(session::pasteMaterial(other, choice, clip));
        QVERIFY(other.assets.contains(now) && other.assets.at(now).texture);
    }

    // By --set a file is laid on a material from the command line.
    void onTheCommandLine()
    {
        kite().save(path("set.png"));
        int code = -1;
        QByteArray errors;
        const QString work = path("cli.openglow"), cli = qEnvironmentVariable("OPEN_GLOW_CLI");
        support::run(cli, {"new", work, "--text", "K", "--sheet", "200x200", "--picture", path("set.png")}, &code, &errors);
        QVERIFY2(code == 0, errors.constData());
        const auto opened = files::openWork(work.toStdString(), nullptr);
        QVERIFY(opened && !opened->pieces.items.begin()->second.material.piece.pictures.colour.empty());
        const auto render = [&](const QStringList& set) {
            QStringList arguments{"render", work, "-o", path("cli.png"), "--samples", "2", "--size", "64x64", "--denoise", "off"};
            for (const QString& s : set)
                arguments << "--set" << s;
            support::run(cli, arguments, &code, &errors);
            return code == 0 ? QImage(path("cli.png")) : QImage();
        };
        const QString piece = "/pieces/" + QString::fromStdString(opened->pieces.order.front()) + "/material/piece/pictures/";
        const QImage plain = render({piece + "colour="}), coloured = render({}),
                     again = render({piece + "colour=", piece + "colour=" + path("set.png")});
        QVERIFY(!plain.isNull() && plain != coloured && coloured == again);
        QVERIFY(render({piece + "relief=" + path("not-there.png")}).isNull());
        QVERIFY2(code == 1 && errors.contains("not-there.png"), errors.constData());
    }
};

OPEN_GLOW_TEST(TestTextures)
#include "test_textures.moc"
