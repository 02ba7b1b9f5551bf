#include "files/light_folder.h"

#include <fmt/format.h>

#include <filesystem>
#include <nlohmann/json.hpp>

#include "base/file.h"

namespace files {

namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

constexpr const char* kDescription = "light.json";

std::vector<std::string> namesOf(const film::Entries& entries)
{
    std::vector<std::string> names;
    for (const film::Entry& entry : entries)
        names.push_back(entry.name);
    return names;
}

}  // namespace

bool LightFolder::isOne(const std::string& path)
{
    std::error_code error;
    return fs::is_regular_file(fs::path(path) / kDescription, error);
}

void LightFolder::remove(const std::string& folder)
{
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(folder, error)) {
        const std::string name = entry.path().filename().string();
        if (name == kDescription || (name.starts_with("band-") && (name.ends_with(".exr") || name.ends_with(".film"))))
            fs::remove(entry.path(), error);
    }
    fs::remove(folder, error);  // stays when anything else is in it
}

base::Result<LightFolder> LightFolder::create(const std::string& folder, const std::string& key, const film::FilmShape& shape,
                                              int rowsInBand, const render::StopRule& stop)
{
    if (isOne(folder)) {
        auto there = open(folder, key);
        if (!there)
            return there;
        film::FilmShape wanted = shape;
        wanted.reach = there->m_shape.reach;
        std::vector<std::string> names;  // kinds are not kept
        for (const film::Entry& entry : shape.entries)
            names.push_back(entry.name);
        wanted.entries = film::entriesNamed(names);
        if (there->m_shape != wanted)
            return base::fail(base::ErrorCode::BadInput,
                              "This folder holds the light of this work at another size; name another folder or delete it", folder);
        const render::StopRule& was = there->m_stop;
        const auto stricter = [](double now, double before) { return now > 0 && (before == 0 || now < before); };
        const bool more =
            (stop.samples > 0 ? stop.samples : ~0u) > (was.samples > 0 ? was.samples : ~0u) || stricter(stop.noise, was.noise);
        if (more && there->isWhole())
            return base::fail(base::ErrorCode::BadInput,
                              "This folder holds the picture as it was finished before, with fewer samples; delete it or name another "
                              "folder to render it with more",
                              folder);
        return there;
    }
    std::error_code error;
    if (fs::exists(fs::symlink_status(folder, error)) && (!fs::is_directory(folder, error) || !fs::is_empty(folder, error)))
        return base::fail(base::ErrorCode::BadInput,
                          "There is something else of this name; name another folder for the light of the picture with --film", folder);
    fs::create_directories(folder, error);
    const Json j = {{"format", "open-glow-light"},
                    {"version", 1},
                    {"key", key},
                    {"width", shape.width},
                    {"height", shape.height},
                    {"regionX", shape.regionX},
                    {"regionY", shape.regionY},
                    {"regionWidth", shape.regionWidth},
                    {"regionHeight", shape.regionHeight},
                    {"entries", namesOf(shape.entries)},
                    {"rowsInBand", rowsInBand},
                    {"stopSamples", stop.samples},
                    {"stopNoise", stop.noise}};
    if (auto written = base::replaceFile((fs::path(folder) / kDescription).string(), j.dump(1) + "\n"); !written)
        return base::failed(written);
    return open(folder, key);
}

base::Result<LightFolder> LightFolder::open(const std::string& folder, const std::string& key)
{
    const std::string path = (fs::path(folder) / kDescription).string();
    const auto bytes = base::readFile(path, 1 << 26);
    if (!bytes)
        return base::failed(bytes);
    try {
        const Json j = Json::parse(bytes->begin(), bytes->end());
        film::FilmShape shape;
        shape.width = j.at("width");
        shape.height = j.at("height");
        shape.regionX = j.at("regionX");
        shape.regionY = j.at("regionY");
        shape.regionWidth = j.at("regionWidth");
        shape.regionHeight = j.at("regionHeight");
        shape.entries = film::entriesNamed(j.at("entries").get<std::vector<std::string>>());
        const int rows = j.at("rowsInBand");
        if (j.at("version") != 1 || rows < 1 || shape.regionWidth < 1 || shape.regionHeight < 1)
            return base::fail(base::ErrorCode::BadInput, "This is no kept light of this version; render it again", path);
        if (j.at("key") != key)
            return base::fail(base::ErrorCode::BadInput,
                              "This folder holds the light of another work or seed; name another folder or delete it", folder);
        auto lock = base::FileLock::take(folder);
        if (!lock)
            return base::failed(lock);
        LightFolder light(folder, key, shape, rows);
        light.m_lock = std::move(*lock);
        light.m_stop = {j.value("stopSamples", 0u), 0, j.value("stopNoise", 0.0)};
        return light;
    } catch (const Json::exception&) {
        return base::fail(base::ErrorCode::BadInput, "The description of this light is broken; delete its folder and render it again",
                          path);
    }
}

film::Film::Rect LightFolder::bandRect(int band) const
{
    const int y = m_shape.regionY + band * m_rows, end = m_shape.regionY + m_shape.regionHeight;
    return {m_shape.regionX, y, m_shape.regionX + m_shape.regionWidth, std::min(y + m_rows, end)};
}

std::string LightFolder::pathOf(int band) const
{
    return (fs::path(m_folder) / fmt::format("band-{:04}.exr", band)).string();
}

std::string LightFolder::filmPath(int band) const
{
    return (fs::path(m_folder) / fmt::format("band-{:04}.film", band)).string();
}

bool LightFolder::has(int band) const
{
    std::error_code error;
    return fs::is_regular_file(pathOf(band), error);
}

bool LightFolder::isWhole() const
{
    for (int band = 0; band < bandCount(); ++band)
        if (!has(band))
            return false;
    return true;
}

base::Result<void> LightFolder::put(int band, const film::LightShares& shares, double samples) const
{
    const film::Film::Rect r = bandRect(band);
    const auto bytes = lightBytes({rowsOf(shares, r.y0, r.y1), m_key, samples, {}});
    if (!bytes)
        return base::failed(bytes);
    return base::replaceFile(pathOf(band), *bytes);
}

base::Result<LightFile> LightFolder::get(int band) const
{
    const auto bytes = base::readFile(pathOf(band));
    if (!bytes)
        return base::failed(bytes);
    auto light = lightFromBytes(*bytes, pathOf(band));
    const film::Film::Rect r = bandRect(band);
    if (light && (light->key != m_key || light->shares.shape.regionY != r.y0 || light->shares.shape.regionHeight != r.y1 - r.y0 ||
                  light->shares.shape.regionWidth != m_shape.regionWidth || light->shares.shape.entries != m_shape.entries))
        return base::fail(base::ErrorCode::BadInput, "This band is of another picture; delete it and render again", pathOf(band));
    return light;
}

base::Result<void> LightFolder::adopt(const LightFolder& other) const
{
    for (int band = 0; band < bandCount(); ++band)
        if (other.has(band)) {
            std::error_code error;
            fs::remove(pathOf(band), error);
            fs::create_hard_link(other.pathOf(band), pathOf(band), error);
            if (error && !fs::copy_file(other.pathOf(band), pathOf(band), error))
                return base::fail(base::ErrorCode::CannotWrite, "A band of the picture cannot be kept: " + error.message(), pathOf(band));
        }
    return {};
}

LightSource sourceOf(const LightFolder& folder)
{
    return {folder.shape(), folder.bandCount(), [folder](int band) -> base::Result<film::LightShares> {
                auto light = folder.get(band);
                if (!light)
                    return base::failed(light);
                return std::move(light->shares);
            }};
}

}  // namespace files
