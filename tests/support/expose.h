// Scenes rendered as tests need them: every pixel the same number of samples, and means of what they hold.
#pragma once

#include <memory>

#include "film/film.h"
#include "render/scene.h"

namespace support {

// Ends the program when it cannot.
std::unique_ptr<film::Film> expose(const render::Scene& scene, int width, int height, std::uint32_t samples, std::uint32_t seed = 0);

base::Rgb meanOf(const film::Film& film, int x, int y, std::size_t entry = 0);
double alphaOf(const film::Film& film, int x, int y);
// Mean of an entry's green over all pixels.
double meanOver(const film::Film& film, std::size_t entry = 0);

// With an entry of the film.
void addLight(render::Scene& scene, const light::Light& light);
light::Light square(base::Vec3 centre, base::Vec3 towards, base::Vec3 right, double half, double distance);

}  // namespace support
