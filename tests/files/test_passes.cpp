// What a still's files hold beside the picture: the passes of an EXR, and the page of a PDF.
#include <QImage>
#include <QTemporaryDir>
#include <QtTest>

#include "files/light_file.h"
#include "files/pdf_file.h"
#include "files/render_still.h"
#include "files/work_json.h"
#include "picture/colour.h"
#include "render/camera.h"
#include "session/layers.h"
#include "support/support.h"
#include "work/finish_properties.h"

namespace {

constexpr int kWidth = 160, kHeight = 90;

// A letter on a gradient, a fill over the letter alone, a caption, a colour change.
work::Work kites()
{
    work::FontChoice font;
    font.family = "League Spartan";
    font.style = "Bold";
    work::Work w = work::newWork("K", font, {kWidth, kHeight, work::Unit::Px, 72});
    work::scaleTo(w.pieces.items.begin()->second, 90);
    const auto kindOf = [](const char* name) {
        const auto& all = work::Kinds<work::LayerWhat>::names;
        return static_cast<std::size_t>(std::ranges::find_if(all, [&](const auto& k) { return std::string_view(k.name) == name; }) -
                                        std::begin(all));
    };
    const std::string fill = session::addLayer(w, kindOf("fill"), {});
    work::Layer& layer = w.finish.layers.items.at(fill);
    layer.acts = finish::Acts::Lettering;
    layer.strength = 0.5;
    layer.blend = finish::Blend::Multiply;
    std::get<finish::Fill>(layer.what).colour = {1, 0, 0};
    const std::string tone = session::addLayer(w, kindOf("tone"), fill);
    std::get<finish::Tone>(w.finish.layers.items.at(tone).what).exposure = 0.5;
    const std::string caption = session::addCaption(w, "on the dunes", tone);
    auto& print = std::get<finish::Print>(w.finish.layers.items.at(caption).what);
    print.colour = {0, 0, 1};
    w.pieces.items.at(print.piece).lettering()->layout.sizePt = 12;
    w.pieces.items.at(print.piece).placement.y = -36;
    return w;
}

// As another program reads it: name of each channel, and their values row by row.
struct Read {
    QStringList channels;
    std::vector<float> values;
    int width = 0;
    float at(const QString& channel, int x, int y) const
    {
        const auto c = channels.indexOf(channel);
        return c < 0 ? NAN : values[static_cast<std::size_t>((y * width + x) * channels.size() + c)];
    }
};

}  // namespace

class TestPasses : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QString path(const QString& name) { return m_folder.filePath(name); }

    base::Result<files::RenderedStill> render(const work::Work& w, const QString& name, work::FileFormat format, const std::string& passes,
                                              bool transparent = false, std::uint64_t memory = 0)
    {
        work::StillSettings settings;
        settings.stop = {8, 0, 0};
        settings.transparent = transparent;
        settings.memoryBudget = memory;
        settings.filmKey = files::filmKey(w, 0);
        work::Cache cache;
        const std::string file = path(name).toStdString();
        return files::renderStill(w, settings, {file, format, false, file + ".light", {92, {}, *files::passesNamed(passes, format)}}, cache,
                                  {});
    }

    Read read(const QString& name)
    {
        Read result;
        result.width = kWidth;
        for (const QString& line : QString(support::run("oiiotool", {"--info", "-v", path(name)})).split('\n'))
            if (const auto at = line.indexOf("channel list:"); at >= 0)
                for (const QString& channel : line.mid(at + 13).split(','))
                    result.channels << channel.trimmed().section(' ', 0, 0);
        for (const QByteArray& line : support::run("oiiotool", {"--dumpdata", path(name)}).split('\n'))
            if (line.contains("Pixel"))
                for (const QByteArray& value : line.mid(line.indexOf(':') + 1).split(' '))
                    if (!value.isEmpty())
                        result.values.push_back(value.toFloat());
        result.values.resize(static_cast<std::size_t>(kWidth * kHeight) * static_cast<std::size_t>(result.channels.size()));
        return result;
    }

private Q_SLOTS:
    // Beside a PNG: the lights' pictures, decoded, are those of the EXR and so is the shadow; the finished one is the picture itself; a
    // layer lets through; what a picture cannot hold is refused by name, and left out of all.
    void besideAPng()
    {
        work::Work w = kites();
        w.lights.items.begin()->second.kind = light::LightKind::Sun;
        const auto png = render(w, "k.png", work::FileFormat::Png16, "lights,shadow,normal,depth,ids,finish,layers,lines");
        QVERIFY2(png, png ? "" : png.error().message.c_str());
        QVERIFY(render(w, "k.exr", work::FileFormat::Exr, "lights,shadow,normal,depth"));
        const Read exr = read("k.exr");
        const QImage shadow(path("k.shadow.png")), finish(path("k.finish.png")), picture(path("k.png")), layer(path("k.layer.1.fill.png")),
            normal(path("k.normal.png")), depth(path("k.depth.png")), ids(path("k.ids.png"));
        const std::string lamp = "light." + w.lights.items.begin()->first;
        const QImage lit(path(QString("k.%1.png").arg(QString::fromStdString(lamp))));
        QVERIFY(!lit.isNull() && !shadow.isNull() && !finish.isNull() && !layer.isNull() && !depth.isNull());
        QVERIFY(layer.hasAlphaChannel() && !lit.hasAlphaChannel());
        const QString channel = QString::fromStdString(lamp) + ".R";
        int shaded = 0, open = 0, letters = 0;
        double inShadow = 0, inLight = 0;
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const float light = std::clamp(exr.at(channel, x, y), 0.0f, 1.0f);
                QVERIFY(std::abs(picture::decodeSrgb(float(lit.pixelColor(x, y).redF())) - light) < 3e-3f);
                QVERIFY(std::abs(float(qGray(shadow.pixel(x, y))) / 255 - exr.at("shadow.Y", x, y)) < 5e-3f);
                QVERIFY(std::abs(float(normal.pixelColor(x, y).redF()) * 2 - 1 - exr.at("normal.X", x, y)) < 1e-3f);
                const float hidden = exr.at("shadow.Y", x, y);
                shaded += hidden > 0.999f;
                (hidden > 0.999f ? inShadow : inLight) += hidden > 0.999f || hidden < 0.001f ? double(light) : 0;
                open += hidden < 0.001f;
                const QColor is = finish.pixelColor(x, y), whole = picture.pixelColor(x, y);
                QVERIFY(std::abs(is.redF() - whole.redF()) < 2e-3 && std::abs(is.blueF() - whole.blueF()) < 2e-3);
                letters += layer.pixelColor(x, y).alphaF() > 0.49;
            }
        // Where all of the sun is hidden it comes by way of other things alone.
        QVERIFY2(inShadow / shaded < 0.35 * inLight / open, qPrintable(QString("%1 %2").arg(inShadow / shaded).arg(inLight / open)));
        QVERIFY2(shaded > 100 && letters > 500, qPrintable(QString("%1 %2").arg(shaded).arg(letters)));
        QVERIFY(ids.pixel(1, 1) != ids.pixel(kWidth / 2, kHeight / 2));
        // Lines as shapes: drawn by another program they cover what the finish's lines cover, in their colour.
        w.finish.layers = {};
        work::Layer lined;
        lined.what = finish::Lines{3, {1, 0, 0}, {}, true, true};
        w.finish.layers.add("y1", lined);
        QVERIFY(render(w, "l.png", work::FileFormat::Png8, "layers,lines"));
        support::run("rsvg-convert", {"-w", QString::number(4 * kWidth), path("l.lines.svg"), "-o", path("drawn.png")});
        const QImage drawn = QImage(path("drawn.png")).scaled(kWidth, kHeight, Qt::IgnoreAspectRatio, Qt::SmoothTransformation),
                     seen(path("l.layer.1.lines.png"));
        QCOMPARE(drawn.size(), seen.size());
        double off = 0, all = 0;
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                all += seen.pixelColor(x, y).alphaF();
                off += std::abs(seen.pixelColor(x, y).alphaF() - drawn.pixelColor(x, y).alphaF());
                if (drawn.pixelColor(x, y).alphaF() > 0.9)
                    QVERIFY(drawn.pixelColor(x, y).red() > 250 && drawn.pixelColor(x, y).green() < 5);
            }
        QVERIFY2(all > 300 && off < 0.25 * all, qPrintable(QString("%1 of %2").arg(off).arg(all)));
        QVERIFY(files::passesNamed("position", work::FileFormat::Png8).error().message.find(".exr") != std::string::npos);
        QCOMPARE(files::passesNamed("all", work::FileFormat::Png8)->size(),
                 std::size(files::kPassNames) - std::size(files::kPassesOfExrAlone));
    }

    // Every pass is there by its name, as OpenEXR's own program lists them, and says what it says: shares sum to 1, the most of them is
    // what `ids` says, places lie where the camera sees them, layers are by themselves.
    void allOfThem()
    {
        const work::Work w = kites();
        const auto made = render(w, "all.exr", work::FileFormat::Exr, "all");
        QVERIFY2(made, made ? "" : made.error().message.c_str());
        const Read exr = read("all.exr");
        for (const char* channel : {"R", "A", "albedo.R", "normal.X", "depth.Z", "position.X", "position.Y", "position.Z", "ids.piece",
                                    "coverage1.share", "coverage4.part", "samples.n", "finish.R", "finish.A", "layer.1.fill.A",
                                    "layer.3.print.B", "lines.A", "light.surroundings.G"})
            QVERIFY2(exr.channels.contains(channel), qPrintable(QString(channel) + " of " + exr.channels.join(" ")));
        QVERIFY(exr.channels.filter("layer.2").isEmpty());  // tone covers nothing
        work::StillSettings settings;
        work::Cache cache;
        const auto prepared = work::prepare(w, settings, cache, {});
        QVERIFY(prepared);
        int letter = 0, edge = 0, caption = 0;
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                float sum = 0, ofLetter = 0;
                for (int i = 1; i <= 4; ++i) {
                    const QString pass = QString("coverage%1.").arg(i);
                    const float share = exr.at(pass + "share", x, y);
                    sum += share;
                    ofLetter += exr.at(pass + "piece", x, y) > 0 ? share : 0;
                }
                QVERIFY(std::abs(sum - 1) < 1e-3f);
                QCOMPARE(exr.at("ids.piece", x, y), exr.at("coverage1.piece", x, y));
                if (exr.at("coverage1.share", x, y) > 0.99f) {
                    const base::Vec3 at{exr.at("position.X", x, y), exr.at("position.Y", x, y), exr.at("position.Z", x, y)};
                    base::Vec2 uv;
                    QVERIFY(render::project(prepared->scene.camera, at, uv));
                    QVERIFY(std::abs(uv.x * kWidth - x - 0.5) < 0.02 && std::abs(uv.y * kHeight - y - 0.5) < 0.02);
                    letter += exr.at("ids.piece", x, y) > 0;
                }
                // The fill by itself is half of red wherever the letter is, to the share of a pixel; nothing of what is below is in it.
                QVERIFY(std::abs(exr.at("layer.1.fill.A", x, y) - 0.5f * ofLetter) < 2e-3f);
                QVERIFY(std::abs(exr.at("layer.1.fill.R", x, y) - 0.5f * ofLetter) < 2e-3f && exr.at("layer.1.fill.G", x, y) < 1e-3f);
                caption += exr.at("layer.3.print.B", x, y) > 0.9f;
                // Edge lines lie where two things meet, and only there.
                if (exr.at("lines.A", x, y) > 0.5f)
                    ++edge;
            }
        QVERIFY2(letter > 500 && caption > 20 && edge > 60 && edge < 1500,
                 qPrintable(QString("%1 %2 %3").arg(letter).arg(caption).arg(edge)));
        // The finish is what the PNG shows.
        QVERIFY(render(w, "all.png", work::FileFormat::Png8, "all"));
        const QImage png(path("all.png"));
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const base::Rgb seen = picture::encodeSrgb({exr.at("finish.R", x, y), exr.at("finish.G", x, y), exr.at("finish.B", x, y)});
                const QColor c = png.pixelColor(x, y);
                QVERIFY(std::abs(seen.x * 255 - float(c.red())) <= 1.01f && std::abs(seen.z * 255 - float(c.blue())) <= 1.01f);
            }
    }

    // A fill from halfway to the wall on covers the wall and no letter, straight on and in perspective; also of a film that is there, of a
    // kept picture, and in bands.
    void deepLayers()
    {
        for (const bool perspective : {false, true}) {
            work::Work w = kites();
            w.finish.layers = {};
            const std::string letter = w.pieces.items.begin()->first;
            std::erase_if(w.pieces.items, [&](const auto& piece) { return piece.first != letter; });
            w.pieces.order = {letter};
            w.view().perspective = perspective;
            w.view().walk = 10;
            w.ground.wallBehind = 60;
            w.pieces.items.at(letter).material.piece.baseColour = {0.8f, 0.1f, 0.1f};
            w.pieces.items.at(letter).placement.stance = work::Stance::Free;
            w.pieces.items.at(letter).slab()->depthPt = 10;
            const std::string fill = session::addLayer(w, 3, {});
            work::Layer& layer = w.finish.layers.items.at(fill);
            std::get<finish::Fill>(layer.what).colour = {0, 0, 1};
            layer.strength = 1;
            layer.farFrom = 25;
            layer.farTo = 26;
            work::StillSettings settings;
            settings.stop = {8, 0, 0};
            settings.filmPath = path(QString("deep%1.film").arg(perspective)).toStdString();
            settings.filmKey = files::filmKey(w, 0);
            work::Cache cache;
            const auto still = work::makeStill(w, settings, cache, {});
            QVERIFY(still);
            int letters = 0, wall = 0;
            for (int y = 0; y < kHeight; ++y)
                for (int x = 0; x < kWidth; ++x) {
                    const film::RankedIds& ids = still->shares.idsAt(x, y);
                    const float* seen = still->picture.at(x, y);
                    if (ids.shares[0] < 0.999f)
                        continue;
                    const bool isLetter = ids.ids[0].piece > 0;
                    // Sides of the letter go back as far as it is deep, no further.
                    QVERIFY2(isLetter ? seen[2] < 0.9f : seen[2] > 0.999f && seen[0] < 0.01f,
                             qPrintable(QString("%1 %2: %3 %4, %5 deep, letter %6")
                                            .arg(x)
                                            .arg(y)
                                            .arg(double(seen[0]))
                                            .arg(double(seen[2]))
                                            .arg(double(ids.depth))
                                            .arg(isLetter)));
                    ++(isLetter ? letters : wall);
                }
            QVERIFY(letters > 300 && wall > 3000);
            const auto again = work::developFilm(w, settings, {});
            QVERIFY(again && again->picture == still->picture);
            const auto kept = files::lightFromBytes(*files::lightBytes({still->shares, "key", 8, {}}), "kept");
            QVERIFY(kept);
            for (std::size_t i = 0; i < kept->shares.ids.size(); ++i)
                QVERIFY(std::abs(kept->shares.ids[i].depth - still->shares.ids[i].depth) <= std::abs(still->shares.ids[i].depth) / 1024);
        }
    }

    // Only what is asked for; other names are refused with those there are.
    void someOfThem()
    {
        QVERIFY(render(kites(), "some.exr", work::FileFormat::Exr, "depth,lines", true));
        const Read exr = read("some.exr");
        QStringList names = exr.channels;
        names.sort();
        QCOMPARE(names, (QStringList{"A", "B", "G", "R", "depth.Z", "lines.A", "lines.B", "lines.G", "lines.R"}));
        const auto wrong = files::passesNamed("depth,shade", work::FileFormat::Exr);
        QVERIFY(!wrong && QString::fromStdString(wrong.error().message).contains("position"));
        QVERIFY(files::passesNamed("", work::FileFormat::Exr)->empty() && !files::passesNamed("depth,", work::FileFormat::Exr));
        QCOMPARE(files::passesNamed("all", work::FileFormat::Exr)->size(), std::size(files::kPassNames));
    }

    // In bands there is no film of the whole: lights alone, and it is said.
    void inBands()
    {
        work::Work w = kites();
        w.sheet().height = 400;
        const auto made =
            render(w, "bands.exr", work::FileFormat::Exr, "all", false, support::bytesForRows(w, kWidth, 96 + 2 * files::kBandMargin));
        QVERIFY2(made, made ? "" : made.error().message.c_str());
        QVERIFY(std::ranges::any_of(made->notes, [](const base::Note& note) { return note.kind == "passes-left-out"; }));
    }

    // The page has the sheet's real size, and drawn by another library (MuPDF) looks like the PNG. The caption is a path on it, not pixels.
    void aPage()
    {
        work::Work w = kites();
        w.sheet().ppi = 36;  // twice as large on paper
        work::Piece& caption =
            w.pieces.items.at(std::get<finish::Print>(w.finish.layers.items.at(w.finish.layers.order.back()).what).piece);
        caption.lettering()->layout.sizePt = 30;
        caption.placement.y = -60;
        w.credits = {"Galepoint Kite Fair", "CC BY 4.0", "A letter on a wall"};
        QVERIFY(render(w, "page.pdf", work::FileFormat::Pdf, "all"));
        QVERIFY(render(w, "page.png", work::FileFormat::Png8, "all"));
        const QString pages = support::run("mutool", {"pages", path("page.pdf")});
        QVERIFY2(pages.contains("r=\"320\"") && pages.contains("t=\"180\""), qPrintable(pages));
        const QString trace = support::run("mutool", {"trace", path("page.pdf")});
        QVERIFY2(trace.contains("<fill_image") && trace.contains("<fill_path") && !trace.contains("<fill_text"),
                 qPrintable(trace.left(400)));
        const QString info = support::run("mutool", {"show", path("page.pdf"), "trailer/Info"});
        QVERIFY2(info.contains("Galepoint Kite Fair") && info.contains("CC BY 4.0") && info.contains("A letter on a wall"),
                 qPrintable(info));
        int code = -1;
        support::run("mutool", {"draw", "-q", "-r", "36", "-o", path("drawn.png"), path("page.pdf")}, &code);
        QCOMPARE(code, 0);
        const QImage drawn(path("drawn.png")), png(path("page.png"));
        QCOMPARE(drawn.size(), png.size());
        int other = 0, blue = 0;
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const QColor a = drawn.pixelColor(x, y), b = png.pixelColor(x, y);
                // Edges of the caption are smoothed by each in its own way.
                other += std::abs(a.red() - b.red()) > 2 || std::abs(a.green() - b.green()) > 2 || std::abs(a.blue() - b.blue()) > 2;
                blue += a.blue() > 240 && a.red() < 10;
            }
        QVERIFY2(other < 400 && blue > 20, qPrintable(QString("%1 %2").arg(other).arg(blue)));
        // Larger, the caption is as sharp as that size can be: far more of its pixels are all of its colour.
        support::run("mutool", {"draw", "-q", "-r", "144", "-o", path("large.png"), path("page.pdf")}, &code);
        const QImage large(path("large.png"));
        int sharp = 0;
        for (int y = 0; y < large.height(); ++y)
            for (int x = 0; x < large.width(); ++x)
                sharp += large.pixelColor(x, y).blue() > 240 && large.pixelColor(x, y).red() < 10;
        QVERIFY2(sharp > 18 * blue, qPrintable(QString("%1 %2").arg(sharp).arg(blue)));
    }

    // A layer over the caption, or one that blends, makes pixels of it; what lets through does so on the page.
    void whatIsNoPath()
    {
        work::Work w = kites();
        w.finish.layers.items.at(w.finish.layers.order.back()).blend = finish::Blend::Multiply;
        QVERIFY(render(w, "pixels.pdf", work::FileFormat::Pdf, "all", true));
        const QString trace = support::run("mutool", {"trace", path("pixels.pdf")});
        QVERIFY(!trace.contains("<fill_path"));
        int code = -1;
        support::run("mutool", {"draw", "-q", "-r", "72", "-c", "rgba", "-o", path("through.png"), path("pixels.pdf")}, &code);
        QImage through(path("through.png"));
        QVERIFY(through.hasAlphaChannel());
        w.ground.kind = render::GroundKind::None;
        QVERIFY(render(w, "open.pdf", work::FileFormat::Pdf, "all", true));
        support::run("mutool", {"draw", "-q", "-r", "72", "-c", "rgba", "-o", path("through.png"), path("open.pdf")}, &code);
        through.load(path("through.png"));
        QCOMPARE(through.pixelColor(2, 2).alpha(), 0);
        const auto large = files::savePdf({files::kMostPdfPx + 1, 10, 3}, 72, {}, {}, path("wide.pdf").toStdString(), {});
        QVERIFY(!large && large.error().code == base::ErrorCode::TooLarge && !QFileInfo::exists(path("wide.pdf")));
    }
};

OPEN_GLOW_TEST(TestPasses)
#include "test_passes.moc"
