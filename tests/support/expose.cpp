#include "support/expose.h"

#include <QtGlobal>

#include "render/render.h"

namespace support {

using base::Rgb;
using base::Vec3;
using film::Film;
using light::Light;
using render::Scene;

std::unique_ptr<Film> expose(const Scene& scene, int width, int height, std::uint32_t samples, std::uint32_t seed)
{
    auto film = Film::create({width, height, 0, 0, width, height, scene.entries});
    render::RenderSettings settings;
    settings.stop = {samples, 0, 0};
    settings.seed = seed;
    if (!film || !render::render(scene, settings, **film, {}))
        qFatal("render failed");
    return std::move(*film);
}

Rgb meanOf(const Film& film, int x, int y, std::size_t entry)
{
    return (film.at(x, y).colours[0][entry] + film.at(x, y).colours[1][entry]) * (1.0f / float(film.samplesAt(x, y)));
}

double alphaOf(const Film& film, int x, int y)
{
    return double(film.at(x, y).halves[0]->alpha + film.at(x, y).halves[1]->alpha) / film.samplesAt(x, y);
}

double meanOver(const Film& film, std::size_t entry)
{
    double sum = 0;
    for (int y = 0; y < film.shape().height; ++y)
        for (int x = 0; x < film.shape().width; ++x)
            sum += double(meanOf(film, x, y, entry).y);
    return sum / film.shape().width / film.shape().height;
}

void addLight(Scene& scene, const Light& light)
{
    scene.lights.push_back(light);
    scene.entries.push_back({"l" + std::to_string(scene.lights.size())});
}

Light square(Vec3 centre, Vec3 towards, Vec3 right, double half, double distance)
{
    Light light;
    light.position = centre;
    light.towardsAim = towards;
    light.right = right;
    light.up = cross(-towards, right);
    light.halfWidth = light.halfHeight = half;
    light.aimDistance = distance;
    return light;
}

}  // namespace support
