// How clean pictures are, and after how long: the eight scenes of tests/support/noise_scenes.h.
//
//   open-glow-bench-noise --references [SCENE]  makes tests/denoise/references anew (a quarter of an hour on two cores)
//   open-glow-bench-noise --pictures DIR   the scenes with and without noise reduction, and a reference, to look at
//   open-glow-bench-noise [--samples N [--fast]]  one JSON: error before and after, brightness, noise number against the true
//                                          one (half of the pixels, 95 of a hundred, root of the mean square), seconds;
//                                          under four samples, or where it is asked for, by the fast form
//   open-glow-bench-noise --time           the seconds alone
#include <fmt/format.h>

#include <array>
#include <chrono>
#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "denoise/noise.h"
#include "files/picture_file.h"
#include "support/noise_scenes.h"

namespace {

using Json = nlohmann::ordered_json;
using Clock = std::chrono::steady_clock;

double since(Clock::time_point start)
{
    return std::chrono::duration<double>(Clock::now() - start).count();
}

std::unique_ptr<film::Film> exposed(const support::NoiseScene& scene, const film::FilmShape& shape, unsigned samples, std::uint32_t seed)
{
    auto film = film::Film::create(shape);
    render::RenderSettings settings;
    settings.stop = {samples, 0, 0};
    settings.seed = seed;
    (void)render::render(scene.scene, settings, **film, {});
    return std::move(*film);
}

int makeReferences(const std::string& only)
{
    for (const support::NoiseScene& scene : support::noiseScenes()) {
        if (!only.empty() && scene.name != only)
            continue;
        for (const char which : {'a', 'b'}) {
            const auto film = exposed(scene, support::shapeOf(scene), support::kReferenceSamples, which == 'a' ? 1001 : 2002);
            if (!support::saveReference(support::mixedLight(film::sharesOf(*film), scene.develop),
                                        support::referencePath(scene.name, which)))
                return 1;
        }
        fmt::print(stderr, "{}\n", scene.name);
    }
    return 0;
}

double rounded(double v)
{
    return v == 0 ? 0 : std::stod(fmt::format("{:.3g}", v));
}

// True squared error of what is shown, against two references: 95th percentile of 7 x 7 means as the noise number has it.
std::vector<float> trueErrors(const picture::Raster<float>& light, const film::LightShares& shares, const support::References& r,
                              const finish::DevelopSettings& develop)
{
    std::vector<float> errors;
    const auto at = [](const picture::Raster<float>& of, int x, int y) {
        return base::Rgb{of.at(x, y)[0], of.at(x, y)[1], of.at(x, y)[2]};
    };
    for (int y = 0; y < light.height; ++y)
        for (int x = 0; x < light.width; ++x) {
            const float alpha = shares.alpha(x, y);
            const base::Rgb own = finish::shown(at(light, x, y), alpha, develop);
            const base::Rgb a = own - finish::shown(at(r.a, x, y), alpha, develop), b = own - finish::shown(at(r.b, x, y), alpha, develop);
            errors.push_back(dot(a, b) / 3);
        }
    denoise::boxMean(errors, light.width, light.height, 3);
    return errors;
}

// The estimated noise against the true one: half of the pixels, 95 of a hundred, and all.
std::array<double, 3> ratios(std::vector<float> estimated, std::vector<float> real)
{
    std::array<double, 3> result{};
    double sums[2] = {0, 0};
    int of = 0;
    for (std::vector<float>* errors : {&estimated, &real}) {
        std::sort(errors->begin(), errors->end());
        for (const float e : *errors)
            sums[of] += e;
        ++of;
    }
    const auto at = [](const std::vector<float>& v, double share) {
        return std::max(1e-12, static_cast<double>(v[static_cast<std::size_t>(share * static_cast<double>(v.size() - 1))]));
    };
    for (const auto& [i, share] : {std::pair{0, 0.5}, {1, 0.95}})
        result[static_cast<std::size_t>(i)] = std::sqrt(at(estimated, share) / at(real, share));
    result[2] = std::sqrt(sums[0] / sums[1]);
    return result;
}

Json measure(const support::NoiseScene& scene, unsigned samples, denoise::Mode form, int runs)
{
    const support::References references = support::referencesOf(scene.name);
    if (!references.isThere())
        return "no references; run open-glow-bench-noise --references";
    const film::Viewing viewing = finish::viewingOf(scene.develop);
    std::vector<double> plain, plainBrightness, gains, brightness, shown, estimated;
    std::vector<std::array<double, 3>> told;
    for (int run = 0; run < runs; ++run) {
        const auto film = exposed(scene, support::shapeOf(scene), samples, static_cast<std::uint32_t>(run));
        const auto before = support::mixedLight(film::sharesOf(*film), scene.develop);
        const auto cleaned = denoise::clean(*film, {form, viewing.desk}, {});
        const auto after = support::mixedLight(cleaned->shares, scene.develop);
        plain.push_back(support::relativeSquaredError(before, references));
        plainBrightness.push_back(100 * support::brightnessError(before, references));
        gains.push_back(plain.back() / support::relativeSquaredError(after, references));
        brightness.push_back(100 * support::brightnessError(after, references));
        const std::vector<float> real = trueErrors(after, cleaned->shares, references, scene.develop);
        shown.push_back(denoise::noiseFrom(real));
        if (cleaned->halves.values.empty())
            continue;
        const std::vector<float> errors = denoise::squaredErrors(*cleaned, viewing);
        estimated.push_back(denoise::noiseFrom(errors));
        told.push_back(ratios(errors, real));
    }
    const auto middle = [](std::vector<double> v) {
        std::sort(v.begin(), v.end());
        return v[v.size() / 2];
    };
    Json result{{"relSE", rounded(middle(plain))},
                {"gain", rounded(middle(gains))},
                {"brightnessPercent", rounded(middle(brightness))},
                {"plainBrightnessPercent", rounded(middle(plainBrightness))},
                {"trueNoise", rounded(middle(shown))}};
    if (told.empty())
        return result;
    std::sort(told.begin(), told.end(), [](const auto& a, const auto& b) { return a[1] < b[1]; });
    const auto& ratio = told[told.size() / 2];
    result["noise"] = rounded(middle(estimated));
    result["noiseTold"] = {rounded(ratio[0]), rounded(ratio[1]), rounded(ratio[2])};
    return result;
}

// Whole, and the measured part: off, fast, full; of the part also the reference and ten times what is wrong with full.
int savePictures(const std::string& folder)
{
    std::filesystem::create_directories(folder);
    const auto save = [&](const picture::Raster<float>& encoded, const std::string& name) {
        return files::savePng(finish::to8Bits(encoded), 72, folder + "/" + name + ".png").has_value();
    };
    for (support::NoiseScene scene : support::noiseScenes()) {
        scene.develop.transparent = false;
        scene.develop.backdrop = {0.2f, 0.2f, 0.2f};
        for (const bool whole : {true, false}) {
            const auto film = exposed(scene, whole ? support::wholeShapeOf(scene) : support::shapeOf(scene), 24, 0);
            const std::string name = scene.name + (whole ? "-whole" : "");
            for (const auto& [form, what] :
                 {std::pair{denoise::Mode::Off, "off"}, {denoise::Mode::Fast, "fast"}, {denoise::Mode::Full, "full"}}) {
                const auto cleaned = denoise::clean(*film, {form, finish::viewingOf(scene.develop).desk}, {});
                if (!save(finish::develop(cleaned->shares, scene.develop), name + "-" + what))
                    return 1;
                const support::References r = support::referencesOf(scene.name);
                if (whole || form != denoise::Mode::Full || !r.isThere())
                    continue;
                picture::Raster<float> wrong = support::mixedLight(cleaned->shares, scene.develop), reference = wrong;
                for (std::size_t i = 0; i < wrong.values.size(); ++i) {
                    reference.values[i] = (r.a.values[i] + r.b.values[i]) / 2;
                    wrong.values[i] = 0.5f + 10 * (wrong.values[i] - reference.values[i]) / (reference.values[i] + 0.1f) / 2;
                }
                for (int y = 0; y < wrong.height; ++y)
                    for (int x = 0; x < wrong.width; ++x) {
                        float* p = reference.at(x, y);
                        const base::Rgb seen = finish::shown({p[0], p[1], p[2]}, cleaned->shares.alpha(x, y), scene.develop);
                        p[0] = seen.x;
                        p[1] = seen.y;
                        p[2] = seen.z;
                    }
                if (!save(reference, name + "-reference") || !save(wrong, name + "-wrong"))
                    return 1;
            }
        }
    }
    return 0;
}

}  // namespace

int main(int argc, char** argv)
{
    const std::string what = argc > 1 ? argv[1] : "";
    if (what == "--references")
        return makeReferences(argc > 2 ? argv[2] : "");
    if (what == "--pictures" && argc == 3)
        return savePictures(argv[2]);
    Json result;
    std::vector<unsigned> counts{2, 24};
    if (what == "--time")
        counts.clear();
    else if (argc > 2 && what == "--samples")
        counts = {static_cast<unsigned>(std::stoul(argv[2]))};
    const denoise::Mode form = argc > 3 && std::string(argv[3]) == "--fast" ? denoise::Mode::Fast : denoise::Mode::Full;
    for (const unsigned samples : counts) {
        double product = 1;
        int count = 0;
        Json& at = result[std::to_string(samples) + " samples"];
        for (const support::NoiseScene& scene : support::noiseScenes()) {
            at[scene.name] = measure(scene, samples, form, 5);
            if (at[scene.name].is_object()) {
                product *= at[scene.name]["gain"].get<double>();
                ++count;
            }
        }
        at["geometricMeanGain"] = rounded(std::pow(product, 1.0 / std::max(1, count)));
    }
    // Time of the full form against that of the samples.
    const support::NoiseScene scene = support::noiseScenes()[2];
    const auto begin = Clock::now();
    const auto film = exposed(scene, support::wholeShapeOf(scene, 2), 24, 0);
    const double exposing = since(begin);
    const auto middleOfThree = [&](denoise::Mode timed) {
        std::vector<double> seconds;
        for (int i = 0; i < 3; ++i) {
            const auto start = Clock::now();
            (void)denoise::clean(*film, {timed, finish::viewingOf(scene.develop).desk}, {});
            seconds.push_back(since(start));
        }
        std::sort(seconds.begin(), seconds.end());
        return seconds[1];
    };
    result["time"] = {{"megapixels", rounded(4e-6 * support::kNoiseSheetWidth * support::kNoiseSheetHeight)},
                      {"entries", film->entryCount()},
                      {"samplesSeconds", rounded(exposing)},
                      {"fullSeconds", rounded(middleOfThree(denoise::Mode::Full))},
                      {"fastSeconds", rounded(middleOfThree(denoise::Mode::Fast))}};
    fmt::print("{}\n", result.dump(2));
    return 0;
}
