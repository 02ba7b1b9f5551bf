#include "files/still_file.h"

#include <fmt/format.h>

#include <filesystem>

#include "files/picture_file.h"
#include "film/passes.h"

namespace files {

base::Result<void> savePasses(const film::Film& film, const film::LightShares& shares, const finish::DevelopSettings& develop, double ppi,
                              const std::string& path)
{
    const film::FilmShape& shape = film.shape();
    picture::Raster<float> linear(shape.regionWidth, shape.regionHeight, 4);
    const picture::Passes passes = film::passesFrom(film, shares);
    for (int y = 0; y < linear.height; ++y)
        for (int x = 0; x < linear.width; ++x) {
            const base::Rgb light = finish::mixed(shares.entries(x, y), develop);
            float* out = linear.at(x, y);
            out[0] = light.x;
            out[1] = light.y;
            out[2] = light.z;
            out[3] = shares.alpha(x, y);
        }
    return saveExr(linear, passes, {shape.regionX, shape.regionY, shape.width, shape.height}, ppi, path);
}

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

base::Result<void> checkStillName(const std::string& path, int bits)
{
    const std::string ending = endingOf(path);
    if (ending != ".exr" && ending != ".png")
        return base::fail(base::ErrorCode::BadInput, fmt::format("A still is saved as .png or .exr, not \"{}\"; change the ending", ending),
                          path);
    if (ending == ".png" && bits != 8 && bits != 16)
        return base::fail(base::ErrorCode::BadInput, fmt::format("A PNG has 8 or 16 bits, not {}", bits), path);
    return {};
}

base::Result<void> saveStill(const work::Still& still, double ppi, int bits, const std::string& path)
{
    if (auto can = checkStillName(path, bits); !can)
        return can;
    if (endingOf(path) == ".exr")
        return savePasses(*still.film, still.shares, still.develop, ppi, path);
    return bits == 16 ? savePng(finish::to16Bits(still.picture), ppi, path) : savePng(finish::to8Bits(still.picture), ppi, path);
}

}  // namespace files
