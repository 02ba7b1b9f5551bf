// Pictures of all round from files: what other programs wrote, by hand, and what is meant to harm.
#include <QTemporaryDir>
#include <QtTest>
#include <cmath>
#include <limits>

#include "files/panorama_file.h"
#include "files/work_file.h"
#include "files/work_json.h"
#include "picture/colour.h"
#include "support/support.h"
#include "work/scene.h"
#include "work/surroundings.h"

namespace {

QTemporaryDir s_folder;

QString path(const QString& name)
{
    return s_folder.filePath(name);
}

base::Result<light::SharedPanorama> read(const QByteArray& data)
{
    return files::readPanorama(std::make_shared<const outline::Bytes>(data.begin(), data.end()), "it", {});
}

// Made by OpenImageIO's tool.
base::Result<work::PanoramaFile> made(const QString& name, const QStringList& options, base::Notes* notes = nullptr)
{
    int code = -1;
    support::run("oiiotool", options + QStringList{"-o", path(name)}, &code);
    return code == 0 ? files::readPanoramaFile(path(name).toStdString(), notes, {})
                     : base::fail(base::ErrorCode::Internal, "oiiotool failed");
}

// A TIFF 6.0 of floats in one strip, little-endian.
QByteArray floatTiff(int width, int height, const std::vector<float>& rgb)
{
    QByteArray tiff("II*\0\x08\0\0\0", 8);
    const auto put16 = [&](int v) { tiff.append(char(v & 255)).append(char(v >> 8)); };
    const auto put32 = [&](quint32 v) {
        for (int i = 0; i < 4; ++i)
            tiff.append(char(v >> 8 * i & 255));
    };
    const int tags = 11, after = 8 + 2 + 12 * tags + 4;
    put16(tags);
    const auto tag = [&](int id, int type, quint32 count, quint32 value) {
        put16(id);
        put16(type);
        put32(count);
        put32(value);
    };
    tag(256, 4, 1, quint32(width));
    tag(257, 4, 1, quint32(height));
    tag(258, 3, 3, quint32(after));  // 32 bits each
    tag(259, 3, 1, 1);
    tag(262, 3, 1, 2);
    tag(273, 4, 1, quint32(after + 12));
    tag(277, 3, 1, 3);
    tag(278, 4, 1, quint32(height));
    tag(279, 4, 1, quint32(rgb.size() * 4));
    tag(284, 3, 1, 1);
    tag(339, 3, 3, quint32(after + 6));  // floats
    put32(0);
    for (const int v : {32, 32, 32, 3, 3, 3})
        put16(v);
    tiff.append(reinterpret_cast<const char*>(rgb.data()), qsizetype(rgb.size() * 4));
    return tiff;
}

// Radiance's picture without runs (G. Ward, Real pixels, 1991): 2^(e - 136) for each of the mantissas.
QByteArray flatHdr(int width, int height, const QByteArray& rgbe)
{
    QByteArray hdr = "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y " + QByteArray::number(height) + " +X " + QByteArray::number(width) + "\n";
    for (int i = 0; i < width * height; ++i)
        hdr += rgbe;
    return hdr;
}

}  // namespace

class TestPanoramas : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Light is as it was written, whatever wrote it.
    void light()
    {
        const QStringList colour{"--pattern", "constant:color=12.5,0.25,3", "64x32", "3"};
        for (const char* name : {"round.hdr", "round.exr"}) {
            const auto file = made(name, colour);
            QVERIFY2(file.has_value(), file ? "" : file.error().message.c_str());
            QVERIFY(file->panorama->width == 64 && file->panorama->height == 32);
            QVERIFY(length(file->panorama->pixel(9, 30) - base::Rgb{12.5f, 0.25f, 3}) < 0.06f);  // RGBE has 8 bits of the largest
        }
        const auto hand = read(flatHdr(16, 8, QByteArray("\x80\x40\x20\x82", 4)));
        QVERIFY2(hand.has_value(), hand ? "" : hand.error().message.c_str());
        // 2^(130 - 136) each; readers take the middle of a step or its lower end.
        QVERIFY(length((*hand)->pixel(3, 3) - base::Rgb{128 / 64.0f, 64 / 64.0f, 32 / 64.0f}) < 0.02f);
    }

    // Rows are from the top, columns from the left, and a picture of another shape is told.
    void theRightWayUp()
    {
        base::Notes notes;
        const auto file = made(
            "corners.exr",
            {"--pattern", "fill:topleft=1,0,0:topright=0,1,0:bottomleft=0,0,1:bottomright=1,1,1", "64x64", "3", "-d", "float"}, &notes);
        QVERIFY(file.has_value());
        const light::Panorama& p = *file->panorama;
        QVERIFY(p.pixel(0, 0).x > 0.9f && p.pixel(63, 0).y > 0.9f && p.pixel(0, 63).z > 0.9f && p.pixel(63, 63).x > 0.9f);
        QVERIFY(notes.size() == 1 && notes.front().message.find("stretched") != std::string::npos);
    }

    // White of an ordinary picture is light of 16, black is none, and between them v / (1 - 15/16 v) of the linear value.
    void ordinaryOnesAreBrightened()
    {
        QImage image(32, 16, QImage::Format_RGB888);
        image.fill(QColor(255, 128, 0));
        image.save(path("day.png"));
        const auto file = files::readPanoramaFile(path("day.png").toStdString(), nullptr, {});
        QVERIFY(file.has_value());
        const base::Rgb c = file->panorama->pixel(5, 5);
        const float half = picture::decodeSrgb(128 / 255.0f);
        QVERIFY2(std::abs(c.x - 16) < 1e-3f && std::abs(c.y - half / (1 - 15.0f / 16 * half)) < 1e-4f && c.z == 0,
                 qPrintable(QString("%1 %2 %3").arg(double(c.x)).arg(double(c.y)).arg(double(c.z))));
    }

    // Large ones are made smaller, their light stays: one pixel of 4096 x 2048 that shines.
    void lightOfLargeOnesStays()
    {
        std::vector<float> rgb(std::size_t(4096) * 2048 * 3, 0.5f);
        for (int c = 0; c < 3; ++c)
            rgb[(std::size_t(700) * 4096 + 900) * 3 + std::size_t(c)] = 40000.5f;
        const auto p = read(floatTiff(4096, 2048, rgb));
        if (!p)  // 100 MB
            QVERIFY2(p.error().message.find("64 MB") != std::string::npos, p.error().message.c_str());
        std::vector<float> less(std::size_t(2200) * 1100 * 3, 0.5f);
        for (int c = 0; c < 3; ++c)
            less[(std::size_t(700) * 2200 + 900) * 3 + std::size_t(c)] = 40000.5f;
        const auto small = read(floatTiff(2200, 1100, less));
        QVERIFY2(small.has_value(), small ? "" : small.error().message.c_str());
        QVERIFY((*small)->width == 1100 && (*small)->height == 550);
        QVERIFY(std::abs((*small)->pixel(450, 350).x - 10000.5f) < 1);
    }

    // What is no light does no harm: each of them, and in a work that is rendered.
    void hostileValues()
    {
        std::vector<float> rgb(std::size_t(32) * 16 * 3, 0.5f);
        const float bad[] = {std::numeric_limits<float>::quiet_NaN(), std::numeric_limits<float>::infinity(), -3, 1e38f, -1e38f, 1e-42f};
        for (std::size_t i = 0; i < std::size(bad); ++i)
            rgb[3 * (100 + i)] = bad[i];
        const auto p = read(floatTiff(32, 16, rgb));
        QVERIFY2(p.has_value(), p ? "" : p.error().message.c_str());
        for (const base::Rgb& c : (*p)->pixels)
            QVERIFY(std::isfinite(c.x) && c.x >= 0 && c.x <= 1e6f);
        QVERIFY((*p)->pixels[100].x == 0 && (*p)->pixels[101].x == 1e6f && (*p)->pixels[102].x == 0 && (*p)->pixels[103].x == 1e6f);
        light::Sky sky;
        sky.picture = *p;
        const light::SkyMap map(sky);
        QVERIFY(std::isfinite(map.onCard({0, 0, 1}).x));
    }

    void wrongOnes_data()
    {
        QTest::addColumn<QByteArray>("data");
        QTest::addColumn<QString>("says");
        QTest::newRow("text") << QByteArray("kites fly") << "no HDR, EXR";
        QTest::newRow("empty") << QByteArray() << "no HDR, EXR";
        QTest::newRow("HDR 100,000 px wide") << QByteArray("#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 50000 +X 100000\n") << "million";
        QTest::newRow("HDR without pixels") << QByteArray("#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 512 +X 1024\n") << "read";
        QTest::newRow("HDR that is cut off") << flatHdr(64, 32, QByteArray("\x80\x40\x20\x82", 4)).left(3000) << "read";
        QTest::newRow("HDR without a size") << QByteArray("#?RADIANCE\n\n") + QByteArray(400, 'x') << "read";
        QTest::newRow("EXR, a head alone") << QByteArray("\x76\x2f\x31\x01garbage and more of it", 25) << "read";
        QTest::newRow("a single pixel") << flatHdr(1, 1, QByteArray("\x80\x40\x20\x82", 4)) << "too few";
    }
    void wrongOnes()
    {
        QFETCH(QByteArray, data);
        QFETCH(QString, says);
        const auto p = read(data);
        QVERIFY(!p.has_value());
        QVERIFY2(QString::fromStdString(p.error().message).contains(says), p.error().message.c_str());
        QCOMPARE(p.error().place, std::string("it"));
    }

    // An EXR or a TIFF cut off at any place is refused or read as what is there, never more.
    void cutOffAnywhere()
    {
        QVERIFY(made("whole.exr", {"--pattern", "noise:type=uniform", "64x32", "3", "-d", "half"}).has_value());
        QFile file(path("whole.exr"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        for (const QByteArray& all : {file.readAll(), floatTiff(64, 32, std::vector<float>(64 * 32 * 3, 1.0f))})
            for (const double share : {0.02, 0.1, 0.5, 0.9, 0.999}) {
                const auto p = read(all.left(int(share * double(all.size()))));
                if (p)
                    for (const base::Rgb& c : (*p)->pixels)
                        QVERIFY(std::isfinite(c.x) && c.x >= 0 && c.x <= 1);
                else
                    QVERIFY(!p.error().message.empty());
            }
    }

    // In a work it travels as its file: saved, opened, the same surroundings; taken away it is not saved again. Exposure is kept.
    void inAWork()
    {
        const auto file = made("yard.hdr", {"--pattern", "fill:top=4,5,8:bottom=0.2,0.3,0.1", "128x64", "3"});
        QVERIFY(file.has_value());
        work::Work w = work::newWork("KITE", {}, {});
        const double before = work::surroundingsOnCard(w);
        work::usePanorama(w, *file);
        QVERIFY(std::abs(std::log2(work::surroundingsOnCard(w) / before)) < 0.02);
        // Cards of other surroundings do not stay before it; those of a picture do.
        work::Work painted = w;
        work::useSurroundings(painted, *work::readySurroundings("two-strips"));
        work::usePanorama(painted, *file);
        QVERIFY(painted.surroundings.cards.order.empty());
        painted.surroundings.turn = 12;
        painted.surroundings.cards.add("k50", {});
        work::usePanorama(painted, *file);
        QVERIFY(painted.surroundings.turn == 12 && painted.surroundings.cards.order.size() == 1);
        w.surroundings.turn = 40;
        w.surroundings.tilt = 5;
        w.surroundings.blur = 0.3f;
        w.surroundings.kelvin = 4200;
        QVERIFY(files::saveWork(w, path("yard.openglow").toStdString(), {}).has_value());
        base::Notes notes;
        const auto opened = files::openWork(path("yard.openglow").toStdString(), &notes);
        QVERIFY2(opened.has_value() && notes.empty(), opened ? "" : opened.error().message.c_str());
        QVERIFY(opened->surroundings == w.surroundings);
        QVERIFY(work::skyOf(*opened) == work::skyOf(w));
        QVERIFY(work::skyOf(*opened).picture != nullptr);
        work::Work changed = *opened;
        work::useSurroundings(changed, *work::readySurroundings("snow"));
        QVERIFY(files::saveWork(changed, path("snow.openglow").toStdString(), {}).has_value());
        QVERIFY(files::openWork(path("snow.openglow").toStdString(), &notes)->assets.empty());
        // A work whose picture is broken says so, and is lit evenly.
        work::Work broken = w;
        broken.assets.begin()->second.bytes = std::make_shared<const outline::Bytes>(outline::Bytes{1, 2, 3});
        broken.assets.begin()->second.panorama = nullptr;
        QVERIFY(files::saveWork(broken, path("broken.openglow").toStdString(), {}).has_value());
        const auto left = files::openWork(path("broken.openglow").toStdString(), &notes);
        QVERIFY(left.has_value() && notes.size() == 1);
        QVERIFY2(notes.front().message.find("is not shown") != std::string::npos, notes.front().message.c_str());
        QVERIFY(work::surroundingsOnCard(*left) > 0);
    }
};

OPEN_GLOW_TEST(TestPanoramas)
#include "test_panoramas.moc"
