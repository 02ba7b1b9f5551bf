// Colours of files: other primaries by their published numbers, and files that are read back by the profile in them.
#include <OpenImageIO/imageio.h>
#include <lcms2.h>

#include <QImage>
#include <QTemporaryDir>
#include <QtTest>
#include <random>

#include "files/credits.h"
#include "files/picture_file.h"
#include "files/still_file.h"
#include "picture/colour.h"
#include "support/support.h"
#include "work/fonts.h"

namespace {

using Matrix = std::array<std::array<double, 3>, 3>;
using Triple = std::array<double, 3>;

Triple times(const Matrix& m, const Triple& v)
{
    Triple r{};
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t k = 0; k < 3; ++k)
            r[i] += m[i][k] * v[k];
    return r;
}

Matrix inverse(const Matrix& m)
{
    Matrix r;
    double det = 0;
    for (std::size_t i = 0; i < 3; ++i)
        det += m[0][i] * (m[1][(i + 1) % 3] * m[2][(i + 2) % 3] - m[1][(i + 2) % 3] * m[2][(i + 1) % 3]);
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t k = 0; k < 3; ++k)
            r[k][i] =
                (m[(i + 1) % 3][(k + 1) % 3] * m[(i + 2) % 3][(k + 2) % 3] - m[(i + 1) % 3][(k + 2) % 3] * m[(i + 2) % 3][(k + 1) % 3]) /
                det;
    return r;
}

// From linear light of these primaries to XYZ, white D65: SMPTE RP 177-1993.
Matrix toXyz(const std::array<std::pair<double, double>, 3>& primaries)
{
    Matrix m;
    for (std::size_t c = 0; c < 3; ++c) {
        const auto [x, y] = primaries[c];
        m[0][c] = x / y;
        m[1][c] = 1;
        m[2][c] = (1 - x - y) / y;
    }
    const Triple white{0.3127 / 0.3290, 1, (1 - 0.3127 - 0.3290) / 0.3290}, scale = times(inverse(m), white);
    for (auto& row : m)
        for (std::size_t c = 0; c < 3; ++c)
            row[c] *= scale[c];
    return m;
}

// ITU-R BT.709-6 (whose primaries are sRGB's), SMPTE EG 432-1, ITU-R BT.2020-2.
const std::array<std::pair<double, double>, 3> k709{{{0.64, 0.33}, {0.30, 0.60}, {0.15, 0.06}}},
    kP3{{{0.680, 0.320}, {0.265, 0.690}, {0.150, 0.060}}}, k2020{{{0.708, 0.292}, {0.170, 0.797}, {0.131, 0.046}}};

double encode2020(double v)
{
    constexpr double kAlpha = 1.0993, kBeta = 0.0181;  // BT.2020-2, table 4, 12 bits
    return v < kBeta ? 4.5 * v : kAlpha * std::pow(v, 0.45) - (kAlpha - 1);
}

picture::Raster<float> colours(int channels)
{
    picture::Raster<float> raster(40, 25, channels);
    std::mt19937 random(3);
    std::uniform_real_distribution<float> uniform;
    for (float& v : raster.values)
        v = uniform(random);
    std::copy_n(std::array{1.0f, 0.0f, 0.0f}.begin(), 3, raster.at(0, 0));
    std::copy_n(std::array{1.0f, 1.0f, 1.0f}.begin(), 3, raster.at(1, 0));
    std::copy_n(std::array{0.0f, 0.0f, 0.0f}.begin(), 3, raster.at(2, 0));
    return raster;
}

std::vector<std::uint8_t> bytesOf(cmsHPROFILE profile)
{
    cmsUInt32Number size = 0;
    cmsSaveProfileToMem(profile, nullptr, &size);
    std::vector<std::uint8_t> bytes(size);
    cmsSaveProfileToMem(profile, bytes.data(), &size);
    cmsCloseProfile(profile);
    return bytes;
}

// A printer's idea of red, green and blue, as somebody would bring it along.
std::vector<std::uint8_t> ownProfile()
{
    const cmsCIExyY white{0.3457, 0.3585, 1};
    const cmsCIExyYTRIPLE primaries{{0.7347, 0.2653, 1}, {0.1596, 0.8404, 1}, {0.0366, 0.0001, 1}};
    cmsToneCurve* curve = cmsBuildGamma(nullptr, 1.8);
    cmsToneCurve* curves[] = {curve, curve, curve};
    const cmsHPROFILE profile = cmsCreateRGBProfile(&white, &primaries, curves);
    cmsFreeToneCurve(curve);
    return bytesOf(profile);
}

}  // namespace

class TestColourProfile : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QString path(const QString& name) { return m_folder.filePath(name); }

private Q_SLOTS:
    // Values are those of the primaries' matrices and the published curves; alpha stays, and white is white.
    void byTheirNumbers()
    {
        for (const bool wide : {false, true})
            for (const int channels : {3, 4}) {
                const picture::Raster<float> was = colours(channels);
                picture::Raster<float> is = was;
                (wide ? files::ColourProfile::rec2020() : files::ColourProfile::displayP3()).encode(is);
                const Matrix from = toXyz(k709), to = inverse(toXyz(wide ? k2020 : kP3));
                for (int y = 0; y < was.height; ++y)
                    for (int x = 0; x < was.width; ++x) {
                        Triple linear;
                        for (std::size_t c = 0; c < 3; ++c)
                            linear[c] = double(picture::decodeSrgb(was.at(x, y)[c]));
                        const Triple light = times(to, times(from, linear));
                        for (std::size_t c = 0; c < 3; ++c) {
                            const double v = std::clamp(light[c], 0.0, 1.0),
                                         expected = wide ? encode2020(v) : double(picture::encodeSrgb(float(v)));
                            QVERIFY2(std::abs(double(is.at(x, y)[c]) - expected) < 1.2e-3,
                                     qPrintable(QString("%1 %2 %3: %4, not %5").arg(wide).arg(x).arg(y).arg(is.at(x, y)[c]).arg(expected)));
                        }
                        if (channels == 4)
                            QCOMPARE(is.at(x, y)[3], was.at(x, y)[3]);
                    }
            }
    }

    // Files of each format say the profile to the byte and no other; read back through it they are the sRGB colours again within a step.
    void namedInTheFile()
    {
        const picture::Raster<float> was = colours(3);
        const auto own = files::ColourProfile::read(ownProfile());
        QVERIFY(own);
        const std::vector<std::uint8_t> bytes = ownProfile();
        QVERIFY((*own)->bytes() == bytes);
        for (const auto& [format, ending] : {std::pair("png", "png"), {"tiff", "tif"}, {"jpeg", "jpg"}})
            for (const files::ColourProfile* profile : {&files::ColourProfile::displayP3(), own->get()}) {
                picture::Raster<float> rows = was;
                profile->encode(rows);
                const std::string file = path(QString("c.%1").arg(ending)).toStdString();
                const bool deep = std::string(format) == "png" || std::string(format) == "tiff";
                const files::PictureShape shape{40, 25, 3};
                const files::Encoding encoding{100, &profile->bytes()};
                QVERIFY(deep ? files::savePicture<std::uint16_t>(format, shape, 72, encoding, file,
                                                                 [&](const auto& add) { return add(finish::to16Bits(rows)); })
                             : files::savePicture<std::uint8_t>(format, shape, 72, encoding, file,
                                                                [&](const auto& add) { return add(finish::to8Bits(rows)); }));
                const auto in = OIIO::ImageInput::open(file);
                QVERIFY(in);
                const OIIO::ParamValue* said = in->spec().find_attribute("ICCProfile");
                QVERIFY2(said && std::size_t(said->datasize()) == profile->bytes().size() &&
                             std::equal(profile->bytes().begin(), profile->bytes().end(), static_cast<const std::uint8_t*>(said->data())),
                         format);
                if (!deep)
                    continue;  // random pixels are not what those formats are for
                std::vector<float> pixels(std::size_t(40 * 25 * 3)), seen(pixels.size());
                QVERIFY(in->read_image(0, 0, 0, 3, OIIO::TypeDesc::FLOAT, pixels.data()));
                const cmsHPROFILE from = cmsOpenProfileFromMem(said->data(), cmsUInt32Number(said->datasize())),
                                  to = cmsCreate_sRGBProfile();
                const cmsHTRANSFORM back = cmsCreateTransform(from, TYPE_RGB_FLT, to, TYPE_RGB_FLT, INTENT_RELATIVE_COLORIMETRIC, 0);
                cmsDoTransform(back, pixels.data(), seen.data(), 40 * 25);
                cmsDeleteTransform(back);
                cmsCloseProfile(from);
                cmsCloseProfile(to);
                for (std::size_t i = 0; i < seen.size(); ++i)
                    QVERIFY2(std::abs(seen[i] - was.values[i]) < 0.004f,
                             qPrintable(QString("%1 %2: %3 %4").arg(format).arg(i).arg(seen[i]).arg(was.values[i])));
            }
        const QString checked = support::run("pngcheck", {"-v", path("c.png")});
        QVERIFY2(checked.contains("iCCP") && !checked.contains("sRGB"), qPrintable(checked));
    }

    // A WebP names it in a chunk before the picture, with and without what lets through and credits: libwebp's own program finds no fault,
    // reads the picture, what lets through and the profile come back to the byte.
    void inAWebP()
    {
        const auto& profile = files::ColourProfile::rec2020().bytes();
        const std::string packet = *files::xmpOf({"Mara Lind", {}, {}});
        for (const int channels : {3, 4})
            for (const bool credits : {false, true}) {
                const auto picture = finish::to8Bits(colours(channels));
                QVERIFY(files::savePicture<std::uint8_t>("webp", {40, 25, channels}, 72, {100, &profile, credits ? packet : ""},
                                                         path("w.webp").toStdString(), [&](const auto& add) { return add(picture); }));
                int code = -1;
                const QString info = support::run("webpinfo", {path("w.webp")}, &code);
                QVERIFY2(code == 0 && info.contains("ICCP: 1") && info.contains("No error detected"), qPrintable(info));
                QVERIFY(info.contains(channels == 4 ? "Alpha: 1" : "Alpha: 0") && info.contains(credits ? "XMP: 1" : "XMP: 0"));
                support::run("dwebp", {path("w.webp"), "-o", path("w.png")});
                const QImage read = QImage(path("w.png")).convertToFormat(QImage::Format_RGBA8888);
                QCOMPARE(read.size(), QSize(40, 25));
                for (int y = 0; y < 25; ++y)
                    for (int x = 0; x < 40; ++x)
                        QCOMPARE(int(read.constScanLine(y)[4 * x + 3]), channels == 4 ? int(picture.at(x, y)[3]) : 255);
                // An even picture keeps its colour: red is red.
                auto even = picture;
                for (int i = 0; i < 40 * 25; ++i)
                    std::copy_n(std::array<std::uint8_t, 4>{200, 120, 40, 255}.begin(), channels, &even.values[std::size_t(channels * i)]);
                QVERIFY(files::savePicture<std::uint8_t>("webp", {40, 25, channels}, 72, {100, &profile, {}}, path("e.webp").toStdString(),
                                                         [&](const auto& add) { return add(even); }));
                support::run("dwebp", {path("e.webp"), "-o", path("e.png")});
                const QColor seen = QImage(path("e.png")).pixelColor(20, 12);
                QVERIFY2(std::abs(seen.red() - 200) < 4 && std::abs(seen.green() - 120) < 4 && std::abs(seen.blue() - 40) < 4,
                         qPrintable(seen.name()));
                support::run("webpmux", {"-get", "icc", path("w.webp"), "-o", path("w.icc")});
                QFile got(path("w.icc"));
                QVERIFY(got.open(QIODevice::ReadOnly));
                QCOMPARE(got.readAll(), QByteArray(reinterpret_cast<const char*>(profile.data()), qsizetype(profile.size())));
                const QString said = support::run("exiv2", {"-PXkv", path("w.webp")});
                QCOMPARE(said.contains("Mara Lind"), credits);
            }
    }

    // AVIF and JPEG XL: their own programs read profile and pixels, to the byte what was given where nothing is to be lost; who made them
    // is in the file.
    void inPackedPictures()
    {
        const auto& profile = files::ColourProfile::rec2020().bytes();
        const std::string credits = *files::xmpOf({"Mara Lind", "CC BY 4.0", {}});
        QVERIFY(credits.find("Mara Lind") != std::string::npos && files::xmpOf({})->empty());
        const auto profileIn = [&](const QString& png) {
            const auto in = OIIO::ImageInput::open(path(png).toStdString());
            const OIIO::ParamValue* said = in ? in->spec().find_attribute("ICCProfile") : nullptr;
            if (!said)
                return std::vector<std::uint8_t>();
            const auto* data = static_cast<const std::uint8_t*>(said->data());
            return std::vector<std::uint8_t>(data, data + said->datasize());
        };
        for (const int channels : {3, 4}) {
            const auto smooth = finish::to8Bits([&] {
                picture::Raster<float> made(96, 64, channels);
                for (int y = 0; y < 64; ++y)
                    for (int x = 0; x < 96; ++x)
                        for (int c = 0; c < channels; ++c)
                            made.at(x, y)[c] = 0.2f + 0.6f * float(c == 0 ? x : c == 1 ? y : 95 - x) / 96;
                return made;
            }());
            const files::FillRows<std::uint8_t> fill = [&](const auto& add) { return add(smooth); };
            for (const auto& [format, ending] : {std::pair("avif", "avif"), {"jxl", "jxl"}}) {
                const QString name = QString("p.%1").arg(ending);
                QVERIFY(files::savePicture<std::uint8_t>(format, {96, 64, channels}, 72, {100, &profile, credits}, path(name).toStdString(),
                                                         fill));
                int code = -1;
                support::run(std::string(format) == "avif" ? "avifdec" : "djxl", {path(name), path("p.png")}, &code);
                QCOMPARE(code, 0);
                QVERIFY2(profileIn("p.png") == profile, format);
                const QImage read = QImage(path("p.png"));
                QCOMPARE(read.size(), QSize(96, 64));
                QCOMPARE(read.hasAlphaChannel(), channels == 4);
                int off = 0;
                for (int y = 0; y < 64; ++y)
                    for (int x = 0; x < 96; ++x) {
                        const QColor c = read.pixelColor(x, y);
                        const int is[] = {c.red(), c.green(), c.blue(), c.alpha()};
                        for (int k = 0; k < channels; ++k)
                            off = std::max(off, std::abs(is[k] - int(smooth.at(x, y)[k])));
                    }
                QVERIFY2(off <= (std::string(format) == "jxl" ? 0 : 3), qPrintable(QString("%1: %2").arg(format).arg(off)));
                QFile file(path(name));
                QVERIFY(file.open(QIODevice::ReadOnly) && file.readAll().contains("Mara Lind"));
                const qint64 size = QFileInfo(path(name)).size();
                QVERIFY(files::savePicture<std::uint8_t>(format, {96, 64, channels}, 72, {60, &profile}, path(name).toStdString(), fill));
                QVERIFY(QFileInfo(path(name)).size() < size);
                // Where something is lost, what is seen is still the same: by whatever profile the reader gives.
                QVERIFY(files::savePicture<std::uint8_t>(format, {96, 64, channels}, 72, {95, &profile}, path(name).toStdString(), fill));
                support::run(std::string(format) == "avif" ? "avifdec" : "djxl", {path(name), path("p.png")}, &code);
                QCOMPARE(code, 0);
                const std::vector<std::uint8_t> said = profileIn("p.png");
                OIIO::ImageSpec straight;
                straight.attribute("oiio:UnassociatedAlpha", 1);
                const auto in = OIIO::ImageInput::open(path("p.png").toStdString(), &straight);
                std::vector<float> lossy(std::size_t(96 * 64 * 3)), was(lossy.size()), a(lossy.size()), b(lossy.size());
                QVERIFY(in && in->read_image(0, 0, 0, 3, OIIO::TypeDesc::FLOAT, lossy.data()));
                for (std::size_t i = 0; i < std::size_t(96 * 64); ++i)
                    for (std::size_t c = 0; c < 3; ++c)
                        was[3 * i + c] = float(smooth.values[std::size_t(channels) * i + c]) / 255;
                const auto toSrgb = [](const std::vector<std::uint8_t>& icc, const std::vector<float>& from, std::vector<float>& to) {
                    const cmsHPROFILE is = icc.empty() ? cmsCreate_sRGBProfile()
                                                       : cmsOpenProfileFromMem(icc.data(), cmsUInt32Number(icc.size())),
                                      wanted = cmsCreate_sRGBProfile();
                    const cmsHTRANSFORM way = cmsCreateTransform(is, TYPE_RGB_FLT, wanted, TYPE_RGB_FLT, INTENT_RELATIVE_COLORIMETRIC, 0);
                    cmsDoTransform(way, from.data(), to.data(), cmsUInt32Number(from.size() / 3));
                    cmsDeleteTransform(way);
                    cmsCloseProfile(is);
                    cmsCloseProfile(wanted);
                };
                toSrgb(said, lossy, a);
                toSrgb(profile, was, b);
                double worst = 0, mean = 0;
                for (std::size_t i = 0; i < a.size(); ++i) {
                    const double d = std::abs(std::clamp(double(a[i]), 0.0, 1.0) - std::clamp(double(b[i]), 0.0, 1.0));
                    worst = std::max(worst, d);
                    mean += d / double(a.size());
                }
                QVERIFY2(mean < 0.01, qPrintable(QString("%1 %2: %3, %4").arg(format).arg(channels).arg(mean).arg(worst)));
            }
        }
        // 16 bits, and what is lost at a usual quality.
        const picture::Raster<std::uint16_t> deep = finish::to16Bits(colours(3));
        const files::FillRows<std::uint16_t> fill = [&](const auto& add) { return add(deep); };
        QVERIFY(files::savePicture<std::uint16_t>("jxl", {40, 25, 3}, 72, {100}, path("d.jxl").toStdString(), fill));
        const QString info = support::run("jxlinfo", {path("d.jxl")});
        QVERIFY2(info.contains("40x25") && info.contains("16-bit"), qPrintable(info));
        support::run("djxl", {path("d.jxl"), path("d.png")});
        const auto in = OIIO::ImageInput::open(path("d.png").toStdString());
        QVERIFY(in);
        std::vector<std::uint16_t> pixels(deep.values.size());
        QVERIFY(in->read_image(0, 0, 0, 3, OIIO::TypeDesc::UINT16, pixels.data()));
        QVERIFY(pixels == deep.values);
        const auto broken = files::savePicture<std::uint8_t>("jxl", {40, 25, 3}, 72, {90}, path("no/d.jxl").toStdString(),
                                                             [](const auto&) { return base::Result<void>(); });
        QVERIFY(!broken);
    }

    // 32 bits are the values themselves.
    void floatingPoint()
    {
        const picture::Raster<float> was = colours(4);
        const std::string file = path("f.tif").toStdString();
        QVERIFY(files::savePicture<float>("tiff", {40, 25, 4}, 300, {}, file, [&](const auto& add) { return add(was); }));
        const QString info = support::run("tiffinfo", {path("f.tif")});
        QVERIFY2(info.contains("Bits/Sample: 32") && info.contains("IEEE floating point") && info.contains("Resolution: 300"),
                 qPrintable(info));
        const auto in = OIIO::ImageInput::open(file);
        std::vector<float> pixels(was.values.size());
        OIIO::ImageSpec straight;
        straight.attribute("oiio:UnassociatedAlpha", 1);
        const auto as = OIIO::ImageInput::open(file, &straight);
        QVERIFY(in && as && as->read_image(0, 0, 0, 4, OIIO::TypeDesc::FLOAT, pixels.data()));
        QVERIFY(pixels == was.values);
    }

    // What is no profile, one of inks or of grey, and one cut off are refused with what to do; one that is gone from the work as well.
    void wrongOnes()
    {
        cmsToneCurve* curve = cmsBuildGamma(nullptr, 2.2);
        const cmsCIExyY white{0.3127, 0.3290, 1};
        const auto grey = bytesOf(cmsCreateGrayProfile(&white, curve)), ink = bytesOf(cmsCreateInkLimitingDeviceLink(cmsSigCmykData, 300));
        cmsFreeToneCurve(curve);
        std::vector<std::uint8_t> cut = ownProfile();
        cut.resize(200);
        for (const auto& [bytes, words] : {std::pair(std::vector<std::uint8_t>(300, 7), "no colour profile"),
                                           {{}, "no colour profile"},
                                           {grey, "RGB profile"},
                                           {ink, "RGB profile"}}) {
            const auto read = files::ColourProfile::read(bytes);
            QVERIFY2(!read && read.error().message.find(words) != std::string::npos, read ? "read" : read.error().message.c_str());
        }
        QVERIFY(!files::ColourProfile::read(cut));
        work::Work w = work::newWork("K", {}, {});
        w.output().colours = work::FileColours::Profile;
        QVERIFY(files::optionsOf(w, w.output()).error().message.find("choose one") != std::string::npos);
        const auto added = files::addProfile(w, "my paper.icc", ownProfile());
        QVERIFY(added && added->starts_with("profiles/my"));
        w.output().profile = *added;
        QVERIFY(files::optionsOf(w, w.output())->profile->bytes() == ownProfile());
        work::dropUnusedAssets(w);
        QVERIFY(w.assets.contains(*added));
    }
};

OPEN_GLOW_TEST(TestColourProfile)
#include "test_colour_profile.moc"
