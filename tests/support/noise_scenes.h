// Eight small stills, each hard for noise reduction in its own way, with references of many samples: what clean is measured by.
//
// The references are two independent renders of kReferenceSamples samples, without any setting that is not exact, made by
// `open-glow-bench --references` and kept in tests/denoise/references. The measure takes their own noise out:
// relSE = mean of (x - rA)(x - rB) / (r^2 + 0.01), F. Rousselle and others 2012, over pixels and channels of the mixed light.
#pragma once

#include <string>
#include <vector>

#include "film/shares.h"
#include "finish/develop.h"
#include "picture/raster.h"
#include "render/scene.h"

namespace support {

struct NoiseScene {
    std::string name;
    render::Scene scene;
    finish::DevelopSettings develop;
    int x = 0, y = 0;  // of the part that is measured
};

inline constexpr int kNoiseWidth = 144, kNoiseHeight = 108;            // px of the part that is measured
inline constexpr int kNoiseSheetWidth = 480, kNoiseSheetHeight = 360;  // px of the picture it is a part of
inline constexpr unsigned kReferenceSamples = 1536;

std::vector<NoiseScene> noiseScenes();

film::FilmShape shapeOf(const NoiseScene& scene);  // of the part
film::FilmShape wholeShapeOf(const NoiseScene& scene, int scale = 1);

// Mixed light, premultiplied, three channels.
picture::Raster<float> mixedLight(const film::LightShares& shares, const finish::DevelopSettings& develop);

// The two references of a scene; empty rasters when their files are missing.
struct References {
    picture::Raster<float> a, b;
    bool isThere() const { return !a.values.empty() && a.values.size() == b.values.size(); }
};
std::string referencePath(const std::string& name, char which);
References referencesOf(const std::string& name);
bool saveReference(const picture::Raster<float>& light, const std::string& path);

double relativeSquaredError(const picture::Raster<float>& light, const References& references);
// Mean of all channels over that of the references, less 1.
double brightnessError(const picture::Raster<float>& light, const References& references);

}  // namespace support
