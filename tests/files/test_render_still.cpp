// Pictures in bands, and the light that is kept of them.
#include <QDir>
#include <QImage>
#include <QTemporaryDir>
#include <QtTest>

#include "files/render_still.h"
#include "files/work_json.h"
#include "support/support.h"
#include "work/fonts.h"

namespace {

constexpr int kWidth = 120, kHeight = 400;

work::Work tall()
{
    work::FontChoice font;
    font.family = "League Spartan";
    font.style = "Bold";
    return work::newWork("K\nI\nT\nE", font, {kWidth, kHeight, work::Unit::Px, 72});
}

work::StillSettings settingsFor(unsigned samples, denoise::Mode denoise)
{
    work::StillSettings settings;
    settings.stop = {samples, 0, 0};
    settings.denoise = denoise;
    settings.filmKey = files::filmKey(tall(), 0);
    return settings;
}

// A budget that holds bands of about so many rows.
std::uint64_t budgetFor(int rows)
{
    return support::bytesForRows(tall(), kWidth, rows + 2 * files::kBandMargin);
}

base::Result<int> bandRows(const work::StillSettings& settings, work::Cache& cache)
{
    return files::bandRowsFor(*work::prepare(tall(), settings, cache, {}), settings);
}

base::Result<files::RenderedStill> exposeBands(const work::StillSettings& settings, const std::string& folder, work::Cache& cache,
                                               const base::Progress& progress = {})
{
    const auto prepared = work::prepare(tall(), settings, cache, {});
    return files::exposeBands(*prepared, *files::bandRowsFor(*prepared, settings), settings, folder, progress);
}

film::LightShares shares()
{
    film::LightShares made({40, 30, 4, 6, 20, 10, film::entriesNamed({"surroundings", "l2"})});
    float v = 0;
    for (float& value : made.values)
        value = std::fmod(v += 0.37f, 3.0f);
    return made;
}

}  // namespace

class TestRenderStill : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    QString path(const QString& name) { return m_folder.filePath(name); }

private Q_SLOTS:
    // What comes back is what half floats hold (11 bits, IEEE 754): within 1 / 2048. Other programs find the layers by name.
    void lightComesBack()
    {
        files::LightFile light{shares(), "key", 24, "about it"};
        light.shares.values[1] = 1e6f;  // more than half floats hold
        const auto bytes = files::lightBytes(light);
        QVERIFY(bytes.has_value());
        const auto back = files::lightFromBytes(*bytes, "x");
        QVERIFY2(back.has_value(), back ? "" : back.error().message.c_str());
        film::FilmShape shape = light.shares.shape;
        shape.reach = 0;
        QCOMPARE(back->shares.shape, shape);
        QCOMPARE(back->key, light.key);
        QCOMPARE(back->about, light.about);
        QCOMPARE(back->samples, 24.0);
        QCOMPARE(back->shares.values[1], 65504.0f);
        for (std::size_t i = 2; i < light.shares.values.size(); ++i)
            QVERIFY(std::abs(back->shares.values[i] - light.shares.values[i]) <= light.shares.values[i] / 2048);
        QFile file(path("light.exr"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(reinterpret_cast<const char*>(bytes->data()), static_cast<qint64>(bytes->size()));
        file.close();
        const QString header = support::run("exrheader", {path("light.exr")});
        QVERIFY2(header.contains("light.l2.R, 16-bit floating-point") && header.contains("A, 16-bit floating-point"), qPrintable(header));
        QVERIFY2(header.contains("(4 6) - (23 15)") && header.contains("(0 0) - (39 29)"), qPrintable(header));
    }
    void damagedLightIsRefused()
    {
        auto bytes = *files::lightBytes({shares(), "key", 24, {}});
        QVERIFY(!files::lightFromBytes({}, "x").has_value());
        bytes.resize(bytes.size() / 2);
        const auto cut = files::lightFromBytes(bytes, "x");
        QVERIFY(!cut.has_value());
        QCOMPARE(cut.error().code, base::ErrorCode::BadInput);
        QCOMPARE(cut.error().place, "x");
    }

    // In bands a picture is the same as in one: as gathered to what half floats hold; cleaned without a seam.
    void bandsMakeTheSamePicture_data()
    {
        QTest::addColumn<int>("denoise");
        QTest::addColumn<int>("samples");
        QTest::newRow("as gathered") << int(denoise::Mode::Off) << 2;
        QTest::newRow("cleaned") << int(denoise::Mode::Full) << 8;
    }
    void bandsMakeTheSamePicture()
    {
        QFETCH(int, denoise);
        QFETCH(int, samples);
        work::StillSettings settings = settingsFor(static_cast<unsigned>(samples), static_cast<denoise::Mode>(denoise));
        work::Cache cache;
        QCOMPARE(*bandRows(settings, cache), 0);
        auto whole = work::makeStill(tall(), settings, cache, {});
        QVERIFY(whole.has_value());
        settings.memoryBudget = budgetFor(96);
        QVERIFY(*bandRows(settings, cache) > 0);
        const std::string folder = path(QString("bands%1").arg(denoise)).toStdString();
        std::vector<double> left;
        settings.sink.onRound = [&](const render::RoundStatus& status) { left.push_back(status.secondsLeft); };
        const auto made = exposeBands(settings, folder, cache);
        QVERIFY2(made.has_value(), made ? "" : made.error().message.c_str());
        QCOMPARE(made->report.samples, double(samples));
        QVERIFY(left.size() >= 4);
        const auto light = files::LightFolder::open(folder, settings.filmKey);
        QVERIFY(light.has_value());
        QVERIFY(light->bandCount() >= 4 && light->isWhole());
        int row = 0;
        float worst = 0;
        for (int band = 0; band < light->bandCount(); ++band) {
            const auto part = light->get(band);
            QVERIFY(part.has_value());
            for (int y = 0; y < part->shares.shape.regionHeight; ++y, ++row)
                for (int x = 0; x < kWidth; ++x)
                    for (std::size_t c = 0; c < part->shares.stride(); ++c) {
                        const float is = part->shares.at(x, y)[c], should = whole->shares.at(x, row)[c];
                        worst = std::max(worst, std::abs(is - should) / (should + 0.05f));
                    }
        }
        QCOMPARE(row, kHeight);
        QVERIFY2(worst < (denoise == int(denoise::Mode::Off) ? 1e-3f : 1e-2f), qPrintable(QString::number(double(worst))));

        // The file is the same to the step that dither takes.
        const auto save = [&](const files::StillSource& still, const QString& name) {
            return files::saveStill(still, whole->develop, 72, work::FileFormat::Png8, path(name).toStdString(), {}).has_value();
        };
        QVERIFY(save({files::sourceOf(*light), nullptr}, "b.png"));
        QVERIFY(save({files::sourceOf(std::make_shared<const film::LightShares>(whole->shares)), whole->film.get()}, "w.png"));
        const QImage b = QImage(path("b.png")).convertToFormat(QImage::Format_RGB888),
                     w = QImage(path("w.png")).convertToFormat(QImage::Format_RGB888);
        QCOMPARE(b.size(), w.size());
        int differ = 0;
        for (int y = 0; y < b.height(); ++y)
            for (int i = 0; i < 3 * b.width(); ++i) {
                QVERIFY(std::abs(b.constScanLine(y)[i] - w.constScanLine(y)[i]) <= 2);
                differ += b.constScanLine(y)[i] != w.constScanLine(y)[i];
            }
        QVERIFY(differ < b.height() * b.width() * 3 / 5);
        // For the screen: blocks of pixels, also over the ends of bands.
        const auto small = files::smallerLight(files::sourceOf(*light), 7);
        const film::LightShares expected = film::smaller(whole->shares, 7);
        QVERIFY(small.has_value());
        QCOMPARE(small->shape.regionHeight, expected.shape.regionHeight);
        QCOMPARE(small->values.size(), expected.values.size());
        for (std::size_t i = 0; i < expected.values.size(); ++i)
            QVERIFY(std::abs(small->values[i] - expected.values[i]) <= 0.01f * (expected.values[i] + 0.05f));
    }

    // Stopped, it goes on from its bands and from the film of the one that was exposed, and ends in the same bytes.
    void stoppedBandsGoOn()
    {
        work::StillSettings settings = settingsFor(8, denoise::Mode::Off);
        settings.memoryBudget = budgetFor(96);
        work::Cache cache;
        const std::string whole = path("whole").toStdString(), broken = path("broken").toStdString();
        QVERIFY(exposeBands(settings, whole, cache).has_value());
        std::stop_source stop;
        int rounds = 0;
        settings.sink.onRound = [&](const render::RoundStatus&) {
            if (++rounds == 3)
                stop.request_stop();
        };
        const auto stopped = exposeBands(settings, broken, cache, base::Progress(stop.get_token()));
        QVERIFY(!stopped.has_value());
        QCOMPARE(stopped.error().code, base::ErrorCode::Stopped);
        QVERIFY(!files::LightFolder::open(broken, settings.filmKey)->isWhole());
        settings.sink.onRound = {};
        QVERIFY(exposeBands(settings, broken, cache).has_value());
        const QStringList names = QDir(path("whole")).entryList(QDir::Files);
        QCOMPARE(QDir(path("broken")).entryList(QDir::Files), names);
        for (const QString& name : names) {
            QFile a(path("whole/" + name)), b(path("broken/" + name));
            QVERIFY(a.open(QIODevice::ReadOnly) && b.open(QIODevice::ReadOnly));
            if (name.endsWith(".json")) {
                QCOMPARE(a.readAll(), b.readAll());
                continue;
            }
            const auto bytes = [](const QByteArray& all) { return std::vector<std::uint8_t>(all.begin(), all.end()); };
            QCOMPARE(files::lightFromBytes(bytes(a.readAll()), "a")->shares.values,
                     files::lightFromBytes(bytes(b.readAll()), "b")->shares.values);
        }
        // Another work's light, and a broken description, are refused and left alone.
        work::StillSettings other = settings;
        other.filmKey = "another";
        QCOMPARE(exposeBands(other, whole, cache).error().code, base::ErrorCode::BadInput);
        QFile json(path("broken/light.json"));
        QVERIFY(json.open(QIODevice::WriteOnly));
        json.write("{");
        json.close();
        QCOMPARE(files::LightFolder::open(broken, settings.filmKey).error().code, base::ErrorCode::BadInput);
    }

    // With too little memory for even a narrow band it says how much that needs.
    void tooNarrowIsSaid()
    {
        work::StillSettings settings = settingsFor(1, denoise::Mode::Off);
        settings.memoryBudget = budgetFor(0) / 2;
        work::Cache cache;
        const auto refused = bandRows(settings, cache);
        QVERIFY(!refused.has_value());
        QCOMPARE(refused.error().code, base::ErrorCode::TooLarge);
        QVERIFY(refused.error().message.find("GB") != std::string::npos);
    }
};

OPEN_GLOW_TEST(TestRenderStill)
#include "test_render_still.moc"
