#include "files/panorama_file.h"

#include <fmt/format.h>

#include <cmath>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <map>
#include <mutex>

#include "base/file.h"
#include "base/hash.h"

namespace files {

namespace {

constexpr std::size_t kMostOutput = std::size_t{128} << 20;
constexpr int kMostRound = 60000;

// Of what reader/panorama_input.h says; nothing for anything else.
light::SharedPanorama panoramaOf(const std::string& pfm)
{
    int width = 0, height = 0, head = 0;
    if (std::sscanf(pfm.substr(0, 64).c_str(), "PF\n%5d %5d\n-1.0%n", &width, &height, &head) != 2 || head == 0 || width < 1 ||
        height < 1 || width > kMostRound || height > kMostRound)
        return nullptr;
    const std::size_t begin = static_cast<std::size_t>(head) + 1, row = static_cast<std::size_t>(width) * 3 * sizeof(float);
    if (pfm.size() != begin + row * static_cast<std::size_t>(height))
        return nullptr;
    auto panorama = std::make_shared<light::Panorama>(width, height);
    static_assert(sizeof(base::Rgb) == 3 * sizeof(float));
    for (int y = 0; y < height; ++y)
        std::memcpy(static_cast<void*>(&panorama->pixel(0, y)), pfm.data() + begin + row * static_cast<std::size_t>(height - 1 - y), row);
    for (base::Rgb& p : panorama->pixels)
        for (float* v : {&p.x, &p.y, &p.z})
            if (!(*v >= 0 && *v < 1e7f))
                return nullptr;
    return panorama;
}

}  // namespace

base::Result<light::SharedPanorama> readPanorama(const outline::SharedBytes& bytes, const std::string& name, const base::Progress& progress)
{
    static std::mutex s_mutex;
    static std::map<std::string, std::weak_ptr<const light::Panorama>> s_open;  // by contents
    const std::string contents = base::contentName(*bytes);
    {
        const std::lock_guard lock(s_mutex);
        if (auto known = s_open[contents].lock())
            return known;
    }
    const auto pfm = readByProcess(kPictureReader, {"surroundings"}, *bytes, {"picture", 30, 20, kMostOutput}, name, progress);
    if (!pfm)
        return base::failed(pfm);
    auto panorama = panoramaOf(*pfm);
    if (!panorama)
        return base::fail(base::ErrorCode::BadInput, "The picture cannot be read; save it anew in the program it comes from", name);
    const std::lock_guard lock(s_mutex);
    std::erase_if(s_open, [](const auto& item) { return item.second.expired(); });
    s_open[contents] = panorama;
    return panorama;
}

base::Result<work::PanoramaFile> readPanoramaFile(const std::string& path, base::Notes* notes, const base::Progress& progress)
{
    auto bytes = base::readFile(path, kMostReadBytes);
    if (!bytes)
        return base::failed(bytes);
    work::PanoramaFile file{std::filesystem::path(path).filename().string(), std::make_shared<const outline::Bytes>(std::move(*bytes)), {}};
    auto panorama = readPanorama(file.bytes, path, progress);
    if (!panorama)
        return base::failed(panorama);
    file.panorama = std::move(*panorama);
    const double aspect = static_cast<double>(file.panorama->width) / file.panorama->height;
    if (notes && std::abs(aspect - 2) > 0.02)
        notes->push_back(
            {"surroundings",
             fmt::format("{} is {:.2f} times as wide as high and is stretched to go all round; pictures made for that are twice "
                         "as wide as high",
                         file.name, aspect),
             path});
    return file;
}

}  // namespace files
