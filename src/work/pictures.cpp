#include "work/pictures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/hash.h"
#include "base/units.h"
#include "work/asset_name.h"

namespace work {

namespace {

constexpr const char *kFolder = "pictures/", *kRound = "surroundings/";
constexpr std::size_t kContents = 17;  // "-" and the digits of the contents

Asset& assetFor(Work& work, const char* folder, const std::string& name, const outline::SharedBytes& bytes, std::string& key)
{
    key = fmt::format("{}{}-{:.16}{}", folder, safeStem(name, "picture"), base::contentName(*bytes), endingOf(name, ".png"));
    Asset& asset = work.assets[key];
    asset.bytes = bytes;
    return asset;
}

}  // namespace

bool isPicture(const std::string& asset)
{
    return asset.starts_with(kFolder);
}

std::string pictureTitle(const std::string& asset)
{
    const std::string name = asset.substr(asset.find('/') + 1);
    const std::size_t dot = name.find_last_of('.');
    const std::size_t end = dot == std::string::npos ? name.size() : dot;
    return end > kContents ? name.substr(0, end - kContents) + name.substr(end) : name;
}

std::string addPicture(Work& work, const PictureFile& file)
{
    std::string key;
    assetFor(work, kFolder, file.name, file.bytes, key).texture = file.texture;
    return key;
}

bool isPanorama(const std::string& asset)
{
    return asset.starts_with(kRound);
}

std::string addPanorama(Work& work, const PanoramaFile& file)
{
    std::string key;
    assetFor(work, kRound, file.name, file.bytes, key).panorama = file.panorama;
    return key;
}

light::SharedPanorama panoramaOf(const Work& work, const std::string& asset)
{
    const auto found = work.assets.find(asset);
    return found == work.assets.end() ? nullptr : found->second.panorama;
}

int replacePicture(Work& work, const std::string& asset, const PictureFile& by)
{
    const std::string key = addPicture(work, by);
    int count = 0;
    for (Material* m : materialsIn(work)) {
        bool uses = false;
        for (const auto role : kPictureRoles)
            if (m->pictures.*role == asset) {
                m->pictures.*role = key;
                uses = true;
            }
        count += uses;
    }
    std::vector<std::string*> others = layerPicturesIn(work);
    others.push_back(&work.ground.backdropPicture);
    for (std::string* other : others)
        if (*other == asset) {
            *other = key;
            ++count;
        }
    return count;
}

void layPicture(Material& material, const std::string& asset, double widthPt)
{
    if (!material.pictures.any())
        material.pictures.widthPt = widthPt;
    material.pictures.colour = asset;
}

surface::Pictures picturesOf(const Work& work, const Pictures& pictures)
{
    if (!pictures.any())
        return {};
    const auto texture = [&](const std::string& key, bool isColour) -> surface::SharedTexture {
        const auto found = key.empty() ? work.assets.end() : work.assets.find(key);
        if (found == work.assets.end() || !found->second.texture)
            return nullptr;
        isColour ? found->second.texture->makeColours() : found->second.texture->makeValues();
        return found->second.texture;
    };
    const double turn = base::radians(pictures.turn);
    return {texture(pictures.colour, true),
            texture(pictures.roughness, false),
            texture(pictures.metallic, false),
            texture(pictures.relief, false),
            texture(pictures.cutOut, false),
            texture(pictures.light, true),
            static_cast<float>(pictures.widthPt),
            {static_cast<float>(std::cos(turn)), static_cast<float>(std::sin(turn))},
            {static_cast<float>(pictures.x), static_cast<float>(pictures.y)},
            pictures.edges,
            pictures.lies,
            static_cast<float>(pictures.reliefPt),
            pictures.normals,
            texture(pictures.coat, false)};
}

double usualPictureWidth(const Work& work, const std::string& piece)
{
    const auto found = work.pieces.items.find(piece);
    return found == work.pieces.items.end() ? work.sheet().widthPt() : std::max(1.0, 2 * found->second.sizePt());
}

}  // namespace work
