#include <QtTest>

#include "base/parallel.h"
#include "denoise/noise.h"
#include "render/sampler.h"
#include "support/noise_scenes.h"
#include "support/registered.h"

using base::Rgb;
using denoise::Mode;
using film::Film;

namespace {

std::unique_ptr<Film> exposed(const support::NoiseScene& scene, unsigned samples, std::uint32_t seed = 0)
{
    auto film = Film::create(support::shapeOf(scene));
    render::RenderSettings settings;
    settings.stop = {samples, 0, 0};
    settings.seed = seed;
    (void)render::render(scene.scene, settings, **film, {});
    return std::move(*film);
}

const std::vector<support::NoiseScene>& scenes()
{
    static const std::vector<support::NoiseScene> s_scenes = support::noiseScenes();
    return s_scenes;
}

const support::NoiseScene& sceneNamed(const std::string& name)
{
    return *std::find_if(scenes().begin(), scenes().end(), [&](const auto& s) { return s.name == name; });
}

// A film whose entries are given by a function of place, half and sample, eight samples a pixel, on a grey wall.
std::unique_ptr<Film> filmOf(int width, int height, const std::vector<std::string>& entries,
                             const std::function<Rgb(int x, int y, int sample, std::size_t entry)>& light)
{
    auto film = Film::create({width, height, 0, 0, width, height, film::entriesNamed(entries)});
    (*film)->setGoal(std::vector<std::uint32_t>(static_cast<std::size_t>(width * height), 8));
    (*film)->beginRound(8);
    for (int tile = 0; tile < (*film)->tileCount(); ++tile) {
        (*film)->beginTile(tile);
        const Film::Rect r = (*film)->tileRect(tile);
        for (int y = r.y0; y < r.y1; ++y)
            for (int x = r.x0; x < r.x1; ++x)
                for (int sample = 0; sample < 8; ++sample) {
                    const Film::Target target = (*film)->targetAt(x, y);
                    film::PixelSums& sums = *target.halves[sample % 2];
                    sums.alpha += 1;
                    sums.albedo += {0.5f, 0.5f, 0.5f};
                    sums.mirrorAlbedo += {0.5f, 0.5f, 0.5f};
                    sums.normal += {0, 0, 1};
                    sums.mirrorNormal += {0, 0, 1};
                    sums.depth += 500;
                    sums.mirrorDepth += 0.3f;
                    for (std::size_t e = 0; e < (*film)->shape().entries.size(); ++e) {
                        const Rgb c = light(x, y, sample, e);
                        target.colours[sample % 2][e] += c;
                        target.squares[e] += luminance(c) * luminance(c);
                    }
                }
        (*film)->endTile(tile);
    }
    return std::move(*film);
}

float noiseAt(int x, int y, int sample, std::size_t entry)
{
    render::Sampler sampler(x, y, static_cast<std::uint32_t>(sample), static_cast<std::uint32_t>(entry) + 11);
    return sampler.next1();
}

}  // namespace

class TestDenoise : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Against references of 1,536 samples: four times lower error on each scene, ten times on the whole, brightness within 0.5 %.
    void eightScenes()
    {
        double product = 1;
        QCOMPARE(scenes().size(), std::size_t(8));
        for (const support::NoiseScene& scene : scenes()) {
            const support::References references = support::referencesOf(scene.name);
            QVERIFY2(references.isThere(), scene.name.c_str());
#ifdef OPEN_GLOW_CHECKED
            if (scene.name != "transparent-edges" && scene.name != "emissive")
                continue;  // sanitizers are slow
#endif
            // Four seeds: the mean of one film of 24 samples is not that exact by itself.
            constexpr int kSeeds = 4;
            double gain = 0, brightness = 0;
            for (int seed = 0; seed < kSeeds; ++seed) {
                const auto film = exposed(scene, 24, static_cast<std::uint32_t>(seed));
                const auto cleaned = denoise::clean(*film, {Mode::Full, finish::viewingOf(scene.develop).desk}, {});
                const auto light = support::mixedLight(cleaned->shares, scene.develop);
                const double before = support::relativeSquaredError(support::mixedLight(film::sharesOf(*film), scene.develop), references);
                gain += before / support::relativeSquaredError(light, references) / kSeeds;
                brightness += support::brightnessError(light, references) / kSeeds;
            }
            QVERIFY2(gain >= 4, qPrintable(QString("%1: %2").arg(scene.name.c_str()).arg(gain)));
            QVERIFY2(std::abs(brightness) < 0.005, qPrintable(QString("%1: %2").arg(scene.name.c_str()).arg(brightness)));
            product *= gain;
        }
#ifndef OPEN_GLOW_CHECKED
        // Of the samples that renderer version 1 took it is 10.9: those of now bring less noise themselves (decision 023).
        QVERIFY2(std::pow(product, 1.0 / 8) >= 9, qPrintable(QString::number(std::pow(product, 1.0 / 8))));
#endif
    }

    // What is asked for in full is fast for the first samples, which helps from the second on, and full from the fourth.
    void firstSamples()
    {
        for (const auto& [samples, form, least] : {std::tuple{2u, Mode::Fast, 5.0}, {denoise::kFullFrom, Mode::Full, 9.0}}) {
            double product = 1;
            for (const support::NoiseScene& scene : scenes()) {
                const support::References references = support::referencesOf(scene.name);
                const auto film = exposed(scene, samples);
                const auto cleaned = denoise::clean(*film, {Mode::Full, finish::viewingOf(scene.develop).desk}, {});
                QVERIFY(cleaned->form == form);
                product *= support::relativeSquaredError(support::mixedLight(film::sharesOf(*film), scene.develop), references) /
                           support::relativeSquaredError(support::mixedLight(cleaned->shares, scene.develop), references);
            }
            const double gain = std::pow(product, 1.0 / 8);
            QVERIFY2(gain >= least, qPrintable(QString("%1 samples: %2").arg(samples).arg(gain)));
        }
    }

    // Weights are the same for every light: what is the sum of two lights stays their sum.
    void partsAddUp()
    {
        const auto light = [](int x, int y, int sample, std::size_t entry) {
            const auto one = [&](std::size_t e) {
                const float level = e == 0 ? 0.5f : x > 40 ? 1.5f : 0.1f;
                return Rgb{1, 0.5f, 0.2f} * (level * 2 * noiseAt(x, y, sample, e));
            };
            return entry < 2 ? one(entry) : one(0) + one(1);
        };
        const auto film = filmOf(100, 60, {"a", "b", "both"}, light);
        const auto cleaned = denoise::clean(*film, {Mode::Full, {}}, {});
        double worst = 0;
        for (int y = 0; y < 60; ++y)
            for (int x = 0; x < 100; ++x) {
                const Rgb* e = cleaned->shares.entries(x, y);
                worst = std::max(worst, double(std::abs(e[0].x + e[1].x - e[2].x)));
            }
        QVERIFY2(worst < 2e-5, qPrintable(QString::number(worst)));
    }

    // Brightness within a step of four and colour change no weight, so the desk needs no filtering again.
    void theDeskChangesNoWeight()
    {
        const auto film = exposed(sceneNamed("coloured-softboxes"), 8);
        const std::vector<Rgb> one{{0.06f, 0.06f, 0.06f}, {1, 0.1f, 0.3f}, {0.1f, 0.4f, 1}, {0.5f, 0.4f, 0.1f}};
        std::vector<Rgb> other = one;
        other[1] = {0.3f, 0.3f, 0.2f};
        other[3] = {0.1f, 0.5f, 0.3f};
        QCOMPARE(denoise::clean(*film, {Mode::Full, one}, {})->shares.values,
                 denoise::clean(*film, {Mode::Full, other}, {})->shares.values);
    }

    void anyNumberOfThreads()
    {
        const auto film = exposed(sceneNamed("chrome-bevels"), 8);
        const auto clean = [&](Mode form, int threads) {
            const base::ThreadLimit limit(threads);
            return denoise::clean(*film, {form, {}}, {})->shares.values;
        };
        for (const Mode form : {Mode::Fast, Mode::Full})
            QCOMPARE(clean(form, 1), clean(form, 2));
    }

    void stopsWhenAsked()
    {
        const auto film = exposed(sceneNamed("tiny-type"), 8);
        std::stop_source source;
        int calls = 0;
        const base::Progress progress(source.get_token(), [&](double) { ++calls; });
        QVERIFY(denoise::clean(*film, {Mode::Full, {}}, progress).has_value());
        QVERIFY(calls > 0);
        // On the way as well: after the first of four tiles.
        const auto large = filmOf(300, 300, {"a"}, [](int, int, int, std::size_t) { return Rgb{0.5f, 0.5f, 0.5f}; });
        const base::ThreadLimit limit(1);
        std::stop_source midway;
        QCOMPARE(denoise::clean(*large, {Mode::Full, {}}, base::Progress(midway.get_token(), [&](double) { midway.request_stop(); }))
                     .error()
                     .code,
                 base::ErrorCode::Stopped);
        source.request_stop();
        for (const Mode form : {Mode::Fast, Mode::Full})
            QCOMPARE(denoise::clean(*film, {form, {}}, progress).error().code, base::ErrorCode::Stopped);
    }

    // About a fifth, spread over the picture, as it will be in the whole.
    void glimpseIsPartOfTheWhole()
    {
        const auto film = filmOf(900, 800, {"a"}, [](int x, int y, int sample, std::size_t entry) {
            const float v = noiseAt(x, y, sample, entry);
            return Rgb{v, v, v};
        });
        const auto whole = denoise::clean(*film, {Mode::Full, {}}, {}), part = denoise::clean(*film, {Mode::Full, {}, true}, {});
        QCOMPARE(whole->parts.size(), std::size_t(1));
        double area = 0;
        for (const Film::Rect& r : part->parts) {
            area += double(r.x1 - r.x0) * (r.y1 - r.y0);
            for (int y = r.y0; y < r.y1; ++y)
                QVERIFY(std::equal(part->halves.at(r.x0, y), part->halves.at(r.x1 - 1, y) + 6, whole->halves.at(r.x0, y)));
        }
        QVERIFY(area > 900 * 800 / 7.0 && area < 900 * 800 / 3.0);
        const film::Viewing viewing{{{1, 1, 1}}, [](Rgb light, float) { return light; }};
        const double all = denoise::noiseFrom(denoise::squaredErrors(*whole, viewing)),
                     glimpsed = denoise::noiseFrom(denoise::squaredErrors(*part, viewing));
        QVERIFY2(std::abs(glimpsed / all - 1) < 0.2, qPrintable(QString("%1, %2").arg(glimpsed).arg(all)));
    }

    // What has no noise is not touched, however fine it is; off is what was gathered.
    void cleanStaysAsItIs()
    {
        const auto film = filmOf(64, 64, {"a"}, [](int x, int y, int, std::size_t) {
            return (x / 2 + y / 2) % 2 ? Rgb{0.8f, 0.4f, 0.2f} : Rgb{0.1f, 0.2f, 0.4f};
        });
        const auto gathered = film::sharesOf(*film);
        QCOMPARE(denoise::clean(*film, {Mode::Off, {}}, {})->shares.values, gathered.values);
        const auto cleaned = denoise::clean(*film, {Mode::Full, {}}, {});
        double worst = 0;
        for (std::size_t i = 0; i < gathered.values.size(); ++i)
            worst = std::max(worst, double(std::abs(cleaned->shares.values[i] - gathered.values[i])));
        QVERIFY2(worst < 0.004, qPrintable(QString::number(worst)));  // a step of 1/255
    }

    // Nothing is where nothing was hit, so that transparent edges take no colour from their surroundings.
    // One path as bright as two hundred of its neighbours is a speck: it goes, and its light stays in the picture. A star that every sample
    // has seen stays where it is.
    void specksGoAndStarsStay()
    {
        const auto picture = [](bool speck, bool star) {
            const auto film = filmOf(64, 64, {"l1"}, [&](int x, int y, int sample, std::size_t entry) {
                const float v = 0.1f * (0.5f + noiseAt(x, y, sample, entry)) + (speck && x == 20 && y == 30 && sample == 3 ? 40.0f : 0.0f) +
                                (star && x == 41 && y == 30 ? 5.0f : 0.0f);
                return Rgb{v, v, v};
            });
            return denoise::clean(*film, {Mode::Full, {}}, {})->shares;
        };
        const auto even = picture(false, false), both = picture(true, true);
        const auto at = [](const film::LightShares& s, int x, int y) { return s.entries(x, y)[0].y; };
        QVERIFY2(at(both, 20, 30) < 2 * at(even, 20, 30), qPrintable(QString::number(double(at(both, 20, 30)))));
        QVERIFY2(at(both, 41, 30) > 4.5f, qPrintable(QString::number(double(at(both, 41, 30)))));
        double sum = 0, plain = 0;
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 64; ++x) {
                sum += double(at(both, x, y));
                plain += double(at(even, x, y));
            }
        QVERIFY2(std::abs(sum - plain - 5 - 40.0 / 8) < 0.5, qPrintable(QString("%1 more").arg(sum - plain)));
    }

    void transparentStaysEmpty()
    {
        const auto film = exposed(sceneNamed("transparent-edges"), 16);
        const auto cleaned = denoise::clean(*film, {Mode::Full, {}}, {});
        int empty = 0;
        for (int y = 0; y < support::kNoiseHeight; ++y)
            for (int x = 0; x < support::kNoiseWidth; ++x)
                if (cleaned->shares.alpha(x, y) == 0) {
                    ++empty;
                    for (std::size_t e = 0; e < cleaned->shares.shape.entries.size(); ++e)
                        QCOMPARE(cleaned->shares.entries(x, y)[e], (Rgb{}));
                }
        QVERIFY(empty > 2000);
    }

    // The noise number against the true error, which references know: within a third in the middle of the scenes, and a factor of two in
    // each.
    void noiseNumberAfterReduction()
    {
        std::vector<double> ratios;
        for (const support::NoiseScene& scene : scenes()) {
            const support::References r = support::referencesOf(scene.name);
            const film::Viewing viewing = finish::viewingOf(scene.develop);
            const auto film = exposed(scene, 24, 3);
            const auto cleaned = denoise::clean(*film, {Mode::Full, viewing.desk}, {});
            const auto light = support::mixedLight(cleaned->shares, scene.develop);
            std::vector<float> errors;
            for (int y = 0; y < light.height; ++y)
                for (int x = 0; x < light.width; ++x) {
                    const auto seen = [&](const picture::Raster<float>& of) {
                        return viewing.shown({of.at(x, y)[0], of.at(x, y)[1], of.at(x, y)[2]}, cleaned->shares.alpha(x, y));
                    };
                    const Rgb own = seen(light);
                    errors.push_back(dot(own - seen(r.a), own - seen(r.b)) / 3);
                }
            denoise::boxMean(errors, light.width, light.height, 3);
            ratios.push_back(denoise::estimateNoise(*film, *cleaned, viewing) / denoise::noiseFrom(errors));
        }
        std::sort(ratios.begin(), ratios.end());
        const double middle = (ratios[3] + ratios[4]) / 2;
        QVERIFY2(middle > 0.75 && middle < 1.33, qPrintable(QString::number(middle)));
        QVERIFY2(ratios.front() > 0.5 && ratios.back() < 2, qPrintable(QString("%1 to %2").arg(ratios.front()).arg(ratios.back())));
    }

    // Samples go where noise is; neighbours get about as many; none loses any.
    void goalsFollowTheNoise()
    {
        constexpr int kSide = 64;
        std::vector<std::uint32_t> samples(kSide * kSide, 16);
        std::vector<float> errors(samples.size(), 1e-7f);
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide / 4; ++x)
                errors[std::size_t(y * kSide + x)] = 7.7e-5f;
        const auto goal = denoise::goalFor(1.5, samples, 1000, errors, kSide, kSide);
        QVERIFY(goal[std::size_t(30 * kSide + 3)] > 32);
        QCOMPARE(goal[std::size_t(30 * kSide + 60)], 16u);
        for (std::size_t i = 0; i + 1 < goal.size(); ++i) {
            QVERIFY(goal[i] >= samples[i] && goal[i] <= 64);
            if (i % kSide + 1 < kSide)
                QVERIFY(std::abs(double(goal[i]) - double(goal[i + 1])) <= 12);
        }
        // At the limit there is nothing to gain.
        QCOMPARE(denoise::goalFor(1.5, samples, 16, errors, kSide, kSide), samples);
    }
};

OPEN_GLOW_TEST(TestDenoise)
#include "test_denoise.moc"
