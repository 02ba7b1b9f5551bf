#include "files/still_file.h"

#include <fmt/format.h>

#include <filesystem>

#include "files/picture_file.h"

namespace files {

namespace {

base::Result<void> saveWithPasses(const work::Still& still, double ppi, const std::string& path)
{
    const render::FilmShape& shape = still.film->shape();
    picture::Raster<float> linear(shape.regionWidth, shape.regionHeight, 4);
    const picture::Passes passes = render::passesFrom(*still.film, still.shares);
    for (int y = 0; y < linear.height; ++y)
        for (int x = 0; x < linear.width; ++x) {
            const base::Rgb light = finish::mixed(still.shares.entries(x, y), still.develop);
            float* out = linear.at(x, y);
            out[0] = light.x;
            out[1] = light.y;
            out[2] = light.z;
            out[3] = still.shares.alpha(x, y);
        }
    return saveExr(linear, passes, {shape.regionX, shape.regionY, shape.width, shape.height}, ppi, path);
}

}  // namespace

std::string endingOf(const std::string& path)
{
    std::string ending = std::filesystem::path(path).extension().string();
    for (char& c : ending)
        c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return ending;
}

double ppiFor(const work::Sheet& sheet, int widthPx)
{
    return sheet.ppi * widthPx / sheet.widthPx();
}

base::Result<void> saveStill(const work::Still& still, double ppi, int bits, const std::string& path)
{
    const std::string ending = endingOf(path);
    if (ending == ".exr")
        return saveWithPasses(still, ppi, path);
    if (ending != ".png")
        return base::fail(base::ErrorCode::BadInput, fmt::format("A still is saved as .png or .exr, not \"{}\"", ending), path);
    if (bits == 16)
        return savePng(finish::to16Bits(still.picture), ppi, path);
    if (bits == 8)
        return savePng(finish::to8Bits(still.picture), ppi, path);
    return base::fail(base::ErrorCode::BadInput, fmt::format("A PNG has 8 or 16 bits, not {}", bits), path);
}

}  // namespace files
