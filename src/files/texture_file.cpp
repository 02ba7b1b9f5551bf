#include "files/texture_file.h"

#include <fmt/format.h>

#include <array>
#include <charconv>
#include <cstring>
#include <filesystem>
#include <map>
#include <mutex>

#include "base/file.h"
#include "base/hash.h"
#include "base/parallel.h"
#include "files/panorama_file.h"

namespace files {

namespace {

constexpr std::size_t kMostOutput = (std::size_t{256} << 20) + 1024;

// What is open, by its contents.
struct Open {
    std::mutex mutex;
    std::map<std::string, std::weak_ptr<const surface::Texture>> textures;
};
Open& open()
{
    static Open s_open;
    return s_open;
}

// The number after a word of a PAM's head, or 0.
int numberOf(std::string_view head, std::string_view word)
{
    const std::size_t at = head.find(word);
    int number = 0;
    if (at != std::string_view::npos)
        std::from_chars(head.data() + at + word.size(), head.data() + head.size(), number);
    return number;
}

// Of what reader/inputs.h says; nothing for anything else.
surface::SharedTexture textureOf(const std::string& pam)
{
    constexpr std::string_view kEnd = "ENDHDR\n";
    const std::size_t end = std::string_view(pam).substr(0, 1024).find(kEnd);
    if (!pam.starts_with("P7\n") || end == std::string::npos)
        return nullptr;
    const std::string_view head(pam.data(), end);
    const int width = numberOf(head, "WIDTH "), height = numberOf(head, "HEIGHT "), most = numberOf(head, "MAXVAL ");
    const std::string_view pixels = std::string_view(pam).substr(end + kEnd.size());
    const std::size_t each = most == 255 ? 4 : 8;
    if (width < 1 || height < 1 || (most != 255 && most != 65535) ||
        pixels.size() != each * static_cast<std::size_t>(width) * static_cast<std::size_t>(height))
        return nullptr;
    if (most == 255) {
        std::vector<std::uint8_t> rgba(pixels.size());
        std::memcpy(rgba.data(), pixels.data(), pixels.size());
        return std::make_shared<const surface::Texture>(width, height, std::move(rgba));
    }
    std::vector<std::uint16_t> rgba(pixels.size() / 2);
    for (std::size_t i = 0; i < rgba.size(); ++i)
        rgba[i] = static_cast<std::uint16_t>(static_cast<std::uint8_t>(pixels[2 * i]) << 8 | static_cast<std::uint8_t>(pixels[2 * i + 1]));
    return std::make_shared<const surface::Texture>(width, height, std::move(rgba), head.find("# linear") != std::string_view::npos);
}

}  // namespace

bool isTexture(const outline::Bytes& bytes)
{
    const std::string_view begin(reinterpret_cast<const char*>(bytes.data()), std::min<std::size_t>(bytes.size(), 16));
    using namespace std::string_view_literals;
    for (const std::string_view magic : {"\x89PNG\r\n"sv, "\xff\xd8\xff"sv, "II*\0"sv, "MM\0*"sv, "\x76\x2f\x31\x01"sv})
        if (begin.starts_with(magic))
            return true;
    return begin.starts_with("RIFF") && begin.size() > 11 && begin.substr(8, 4) == "WEBP";
}

base::Result<surface::SharedTexture> readTexture(const outline::SharedBytes& bytes, const std::string& name, const base::Progress& progress)
{
    if (!isTexture(*bytes))
        return base::fail(base::ErrorCode::BadInput, "This is no PNG, JPEG, TIFF, WebP or EXR", name);
    const std::string contents = base::contentName(*bytes);
    {
        const std::lock_guard lock(open().mutex);
        if (auto known = open().textures[contents].lock())
            return known;
    }
    const auto pam = readByProcess(kPictureReader, {}, *bytes, {"picture", 30, 20, kMostOutput}, name, progress);
    if (!pam)
        return base::failed(pam);
    auto texture = textureOf(*pam);
    if (!texture)
        return base::fail(base::ErrorCode::BadInput, "The picture cannot be read; save it anew in the program it comes from", name);
    const std::lock_guard lock(open().mutex);
    std::erase_if(open().textures, [](const auto& item) { return item.second.expired(); });
    open().textures[contents] = texture;
    return texture;
}

base::Result<work::PictureFile> readPictureFile(const std::string& path, const base::Progress& progress)
{
    auto bytes = base::readFile(path, kMostReadBytes);
    if (!bytes)
        return base::failed(bytes);
    work::PictureFile file{std::filesystem::path(path).filename().string(), std::make_shared<const outline::Bytes>(std::move(*bytes)), {}};
    auto texture = readTexture(file.bytes, path, progress);
    if (!texture)
        return base::failed(texture);
    file.texture = std::move(*texture);
    return file;
}

void readPictures(work::Work& work, base::Notes* notes)
{
    std::vector<std::pair<const std::string*, work::Asset*>> pictures;
    for (auto& [name, asset] : work.assets)
        if ((work::isPicture(name) || work::isPanorama(name)) && asset.bytes)
            pictures.emplace_back(&name, &asset);
    std::vector<std::string> reasons(pictures.size());
    base::parallelFor(pictures.size(), [&](std::size_t i) {
        const auto& [name, asset] = pictures[i];
        const auto take = [&](auto read, auto& shown) {
            if (auto is = read(asset->bytes, work::pictureTitle(*name), base::Progress()))
                shown = std::move(*is);
            else
                reasons[i] = is.error().message;
        };
        work::isPanorama(*name) ? take(readPanorama, asset->panorama) : take(readTexture, asset->texture);
    });
    for (std::size_t i = 0; notes && i < pictures.size(); ++i)
        if (!reasons[i].empty())
            notes->push_back({"picture", fmt::format("{} is not shown: {}", work::pictureTitle(*pictures[i].first), reasons[i]),
                              "assets/" + *pictures[i].first});
}

}  // namespace files
