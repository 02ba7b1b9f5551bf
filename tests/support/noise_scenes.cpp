#include "support/noise_scenes.h"

#include <algorithm>
#include <functional>

#include "files/exr_file.h"
#include "support/support.h"
#include "work/make_still.h"

namespace support {

namespace {

work::Light softbox(double direction, double height, double stops, base::Rgb colour = {1, 1, 1}, double size = 300, double distance = 700)
{
    work::Light light;
    light.direction = direction;
    light.height = height;
    light.stops = stops;
    light.colour = colour;
    light.width = light.breadth = size;
    light.distance = distance;
    return light;
}

void setLights(work::Work& work, const std::vector<work::Light>& lights)
{
    work.lights = {};
    for (const work::Light& light : lights) {
        const std::string id = work.newId("l");
        work.lights.items[id] = light;
        work.lights.order.push_back(id);
    }
}

// A word in the demo's heavy face on a wall, to be changed.
work::Work word(const std::string& text, double sizePt)
{
    work::FontChoice font;
    font.style = "Bold";
    work::Work work = work::newWork(text, font, {kNoiseSheetWidth, kNoiseSheetHeight, work::Unit::Px, 72});
    work::Piece& piece = work.pieces.items.begin()->second;
    piece.lettering()->layout.sizePt = sizePt;
    piece.slab()->depthPt = 40;
    piece.slab()->front = {6, 6, solid::Profile::Roundover, 8};
    return work;
}

work::Material& materialOf(work::Work& work)
{
    return work.pieces.items.begin()->second.material.piece;
}

work::Work whiteOnWhite()
{
    work::Work work = word("KITE", 150);
    for (work::Material* m : {&materialOf(work), &work.ground.wall})
        *m = {{0.93f, 0.93f, 0.93f}, 0, 0.9f, 0, 0, {}};
    setLights(work, {softbox(-35, 50, 0)});
    work.surroundings.stops = -2;
    return work;
}

work::Work chromeBevels()
{
    work::Work work = word("FAIR", 150);
    materialOf(work) = {{0.85f, 0.86f, 0.88f}, 1, 0.06f, 1, 0, {}};
    work.pieces.items.begin()->second.slab()->front = {10, 10, solid::Profile::Roundover, 12};
    work.ground.wall = {{0.35f, 0.37f, 0.42f}, 0, 0.9f, 0, 0, {}};
    work.view().walk = 14;
    work.view().perspective = true;
    setLights(work, {softbox(-50, 45, 0), softbox(60, 20, -0.5, {1, 0.85f, 0.7f}, 200)});
    return work;
}

work::Work colouredSoftboxes()
{
    work::Work work = word("GALE", 150);
    materialOf(work) = {{0.55f, 0.55f, 0.6f}, 0, 0.2f, 1, 0, {}};
    work.ground.kind = render::GroundKind::Sweep;
    work.ground.floorBelow = 70;
    work.ground.wallBehind = 200;
    work.ground.sweep = 150;
    work.pieces.items.begin()->second.placement.stance = work::Stance::OnFloor;
    work.ground.floor = work.ground.wall = {{0.25f, 0.25f, 0.27f}, 0, 0.25f, 1, 0, {}};
    work.view() = {true, 40, 10, 12, 0, 0, 0, 0, 1};
    setLights(work, {softbox(-70, 30, 0, {1, 0.1f, 0.3f}), softbox(75, 25, 0, {0.1f, 0.4f, 1}), softbox(0, 70, -1, {1, 0.8f, 0.2f})});
    work.surroundings.stops = -4;
    return work;
}

work::Work sunOnFloor()
{
    work::Work work = word("DUNE", 150);
    materialOf(work) = {{0.8f, 0.3f, 0.15f}, 0, 0.35f, 1, 0, {}};
    work.ground.kind = render::GroundKind::Floor;
    work.ground.floorBelow = 60;
    work.pieces.items.begin()->second.placement.stance = work::Stance::OnFloor;
    work.ground.floor = {{0.7f, 0.6f, 0.45f}, 0, 0.9f, 0, 0, {}};
    work.view() = {true, 45, -12, 18, 0, 0, 0, 0, 1.1};
    work::Light sun;
    sun.kind = light::LightKind::Sun;
    sun.direction = -60;
    sun.height = 25;
    setLights(work, {sun});
    return work;
}

work::Work transparentEdges()
{
    work::Work work = word("Wind", 170);
    materialOf(work) = {{0.1f, 0.55f, 0.6f}, 0, 0.3f, 1, 0, {}};
    work.ground.kind = render::GroundKind::None;
    work.view().walk = 20;
    work.view().roll = 7;
    setLights(work, {softbox(-40, 40, 0), softbox(70, 10, -1)});
    return work;
}

work::Work tinyType()
{
    work::Work work = word("Kite fair on\nthe dunes, all\nday long, free", 21);
    work::Piece& piece = work.pieces.items.begin()->second;
    piece.slab()->depthPt = 0;  // as captions are
    piece.slab()->front = {};
    piece.lettering()->layout.lineSpacing = 1.3;
    materialOf(work) = {{0.08f, 0.1f, 0.25f}, 0, 0.4f, 1, 0, {}};
    setLights(work, {softbox(-30, 40, 0)});
    return work;
}

work::Work emissiveLetters()
{
    work::Work work = word("GLOW", 140);
    materialOf(work) = {{1, 0.25f, 0.08f}, 0, 0.4f, 1, 3, {}};
    work.pieces.items.begin()->second.placement.stance = work::Stance::Free;
    work.pieces.items.begin()->second.placement.z = 25;
    work.ground.wall = {{0.4f, 0.42f, 0.5f}, 0, 0.5f, 1, 0, {}};
    work.view().walk = -18;
    work.view().perspective = true;
    setLights(work, {softbox(40, 50, -2)});
    work.surroundings.stops = -5;
    return work;
}

// Bricks of many colours in front of the wall, flush with each other.
void addBricks(render::Scene& scene)
{
    constexpr double kWide = 46, kHigh = 18, kGap = 4;
    std::uint32_t random = 7;
    for (int row = -12; row <= 12; ++row)
        for (int column = -7; column <= 7; ++column) {
            const double x = (column + (row % 2 ? 0.5 : 0)) * (kWide + kGap), y = row * (kHigh + kGap);
            random = random * 1664525u + 1013904223u;
            const float tone = 0.25f + 0.5f * static_cast<float>(random >> 8) * 0x1p-24f;
            render::PlacedBody placed;
            placed.body = box({x - kWide / 2, y - kHigh / 2, -1}, {x + kWide / 2, y + kHigh / 2, 1.5});
            placed.materials.fill(static_cast<int>(scene.materials.size()));
            placed.piece = 1;
            placed.letters = {0};
            scene.materials.push_back({{tone, 0.45f * tone, 0.3f * tone}, 0, 0.9f, 0});
            scene.bodies.push_back(placed);
        }
}

work::Work texturedWall()
{
    work::Work work = word("SAIL", 130);
    materialOf(work) = {{0.9f, 0.85f, 0.3f}, 0, 0.3f, 1, 0, {}};
    work.pieces.items.begin()->second.placement.stance = work::Stance::Free;
    work.pieces.items.begin()->second.placement.z = 20;
    work.ground.wall = {{0.6f, 0.6f, 0.58f}, 0, 0.9f, 0, 0, {}};
    setLights(work, {softbox(-45, 35, 0, {1, 1, 1}, 150)});
    return work;
}

}  // namespace

std::vector<NoiseScene> noiseScenes()
{
    const struct {
        const char* name;
        work::Work (*make)();
        int x, y;
    } works[] = {{"white-on-white", whiteOnWhite, 60, 160},
                 {"chrome-bevels", chromeBevels, 190, 110},
                 {"coloured-softboxes", colouredSoftboxes, 70, 120},
                 {"sun-on-floor", sunOnFloor, 320, 140},
                 {"textured-wall", texturedWall, 110, 150},
                 {"transparent-edges", transparentEdges, 200, 110},
                 {"tiny-type", tinyType, 168, 126},
                 {"emissive", emissiveLetters, 60, 100}};
    std::vector<NoiseScene> scenes;
    work::Cache cache;
    for (const auto& [name, make, x, y] : works) {
        const work::Work work = make();
        const auto bodies = work::makeBodies(work, work::toleranceFor(work.sheet(), kNoiseSheetWidth), cache, {});
        if (!bodies)
            continue;
        NoiseScene scene{name, work::makeScene(work, *bodies), work::developSettingsOf(work, work.ground.kind == render::GroundKind::None),
                         x, y};
        if (scene.name == "textured-wall")
            addBricks(scene.scene);
        scenes.push_back(std::move(scene));
    }
    return scenes;
}

film::FilmShape shapeOf(const NoiseScene& scene)
{
    return {kNoiseSheetWidth,
            kNoiseSheetHeight,
            scene.x,
            scene.y,
            kNoiseWidth,
            kNoiseHeight,
            scene.scene.entries,
            static_cast<float>(scene.scene.camera.frameWidth)};
}

film::FilmShape wholeShapeOf(const NoiseScene& scene, int scale)
{
    const int width = scale * kNoiseSheetWidth, height = scale * kNoiseSheetHeight;
    return {width, height, 0, 0, width, height, scene.scene.entries, static_cast<float>(scene.scene.camera.frameWidth)};
}

picture::Raster<float> mixedLight(const film::LightShares& shares, const finish::DevelopSettings& develop)
{
    picture::Raster<float> light(shares.shape.regionWidth, shares.shape.regionHeight, 3);
    for (int y = 0; y < light.height; ++y)
        for (int x = 0; x < light.width; ++x) {
            const base::Rgb mix = finish::mixed(shares.entries(x, y), develop);
            for (int c = 0; c < 3; ++c)
                light.at(x, y)[c] = mix[c];
        }
    return light;
}

std::string referencePath(const std::string& name, char which)
{
    return std::string(OPEN_GLOW_SOURCE) + "/tests/denoise/references/" + name + "-" + which + ".exr";
}

bool saveReference(const picture::Raster<float>& light, const std::string& path)
{
    files::ExrHead head{0, 0, light.width, light.height, light.width, light.height, {"R", "G", "B"}};
    head.half = true;
    files::MemorySink memory;
    auto out = files::ExrWriter::begin(memory, head);
    if (!out || !out->add(light.values.data(), light.height))
        return false;
    out->end();
    return base::replaceFile(path, memory.bytes).has_value();
}

References referencesOf(const std::string& name)
{
    const auto read = [&](char which) {
        picture::Raster<float> light;
        const auto bytes = base::readFile(referencePath(name, which));
        if (!bytes)
            return light;
        auto in = files::ExrReader::open(*bytes);
        if (!in)
            return light;
        const std::vector<std::string>& channels = in->head().channels;
        std::size_t place[3];
        for (int c = 0; c < 3; ++c)
            place[c] = std::size_t(std::ranges::find(channels, std::string(1, "RGB"[c])) - channels.begin());
        if (*std::ranges::max_element(place) >= channels.size())
            return light;
        light = picture::Raster<float>(in->head().width, in->head().height, 3);
        const bool whole = in->eachRow([&](int y, const float* from) {
            for (int x = 0; x < light.width; ++x, from += channels.size())
                for (int c = 0; c < 3; ++c)
                    light.at(x, y)[c] = from[place[c]];
        });
        return whole ? light : picture::Raster<float>();
    };
    return {read('a'), read('b')};
}

double relativeSquaredError(const picture::Raster<float>& light, const References& r)
{
    double sum = 0;
    for (std::size_t i = 0; i < light.values.size(); ++i) {
        const double a = r.a.values[i], b = r.b.values[i], mean = (a + b) / 2;
        sum += (light.values[i] - a) * (light.values[i] - b) / (mean * mean + 0.01);
    }
    return sum / static_cast<double>(light.values.size());
}

double brightnessError(const picture::Raster<float>& light, const References& r)
{
    double own = 0, wanted = 0;
    for (std::size_t i = 0; i < light.values.size(); ++i) {
        own += light.values[i];
        wanted += (r.a.values[i] + r.b.values[i]) / 2;
    }
    return own / wanted - 1;
}

}  // namespace support
