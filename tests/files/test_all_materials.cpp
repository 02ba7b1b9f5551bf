// Every ready material, rendered: no pixel that is no number, none that glares.
#include <QtTest>
#include <algorithm>

#include "files/material_sample.h"
#include "finish/develop.h"
#include "work/fonts.h"
#include "work/make_still.h"

namespace {

#ifdef OPEN_GLOW_WHOLE
constexpr bool kWhole = true;
#else
constexpr bool kWhole = false;
#endif
constexpr int kSide = 64;
constexpr float kMostTimes = 20;  // brighter than what is round it

// Even surroundings; a small bright bulb alone; two strong softboxes at the sides. Each on a wall.
constexpr int kSurroundings = 3;
void lightUp(work::Work& work, int surroundings)
{
    work.surroundings.on = surroundings == 0;
    work.surroundings.stops = 0;
    work.lights = {};
    work::Light lamp;
    if (surroundings == 1) {
        lamp.kind = light::LightKind::Bulb;
        lamp.size = 20;
        lamp.stops = 1;
        work.lights.add("l1", lamp);
    } else if (surroundings == 2) {
        for (const double direction : {-70.0, 70.0}) {
            lamp.direction = direction;
            lamp.height = 20;
            lamp.stops = 1.5;
            work.lights.add(direction < 0 ? "l1" : "l2", lamp);
        }
    }
}

// What is wrong with a still's light, or nothing. A facet of a relief that mirrors a lamp is a glint and no noise: it is taken as it is
// seen, no brighter than white.
QString faultsOf(const work::Still& still, bool glints)
{
    const film::LightShares& shares = still.shares;
    for (const float v : shares.values)
        if (!std::isfinite(v))
            return "a pixel is no number";
    const auto lightOf = [&](int x, int y) {
        const base::Rgb light = finish::mixed(shares.entries(x, y), still.develop);
        const float most = std::max({light.x, light.y, light.z});
        return glints ? std::min(most, 1.0f) : most;
    };
    for (int y = 1; y + 1 < shares.shape.regionHeight; ++y)
        for (int x = 1; x + 1 < shares.shape.regionWidth; ++x) {
            std::array<float, 8> round{};
            std::size_t count = 0;
            for (int j = -1; j <= 1; ++j)
                for (int i = -1; i <= 1; ++i)
                    if (i != 0 || j != 0)
                        round[count++] = lightOf(x + i, y + j);
            std::nth_element(round.begin(), round.begin() + 4, round.end());
            if (lightOf(x, y) > kMostTimes * std::max(round[4], 0.01f))
                return QString("%1 at %2, %3 among %4").arg(double(lightOf(x, y))).arg(x).arg(y).arg(double(round[4]));
        }
    return {};
}

}  // namespace

class TestAllMaterials : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // With 64 samples, after noise reduction. Every one in one of three kinds of light; in all three when nothing is left out.
    void noneGlares()
    {
        const auto samples = files::materialSamples(files::materialFolders());
        QVERIFY(samples.size() >= 60);
        const auto font = work::fontNamed("League Spartan ExtraBold");
        QVERIFY(font.has_value());
        work::SheetSize sheet;
        sheet.width = sheet.height = kSide;
        work::Work work = work::newWork("R", font->choice, sheet);
        work.assets[font->choice.asset] = font->asset;
        work.view().perspective = true;
        work.view().walk = -24;
        work.view().rise = 14;
        work::Piece& piece = work.pieces.items.begin()->second;
        work::scaleTo(piece, 60);
        work::Cache cache;
        int number = 0;
        for (const files::MaterialSample& sample : samples) {
            piece.material = {sample.material, {}};
            for (int surroundings = 0; surroundings < kSurroundings; ++surroundings) {
                if (!kWhole && surroundings != number % kSurroundings)
                    continue;
                lightUp(work, surroundings);
                work::StillSettings settings;
                settings.stop = {64, 0, 0};
                const auto still = work::makeStill(work, settings, cache, {});
                QVERIFY2(still.has_value(), sample.id.c_str());
                const QString faults = faultsOf(*still, sample.material.pattern != surface::PatternKind::None);
                QVERIFY2(faults.isEmpty(), qPrintable(QString("%1 in light %2: %3").arg(sample.id.c_str()).arg(surroundings).arg(faults)));
            }
            ++number;
        }
    }
};

QTEST_APPLESS_MAIN(TestAllMaterials)
#include "test_all_materials.moc"
