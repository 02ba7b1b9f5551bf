#include "session/proofs.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/hash.h"
#include "files/picture_file.h"
#include "files/work_json.h"
#include "session/clip.h"
#include "work/fonts.h"

namespace session {

namespace {

work::Asset assetOf(std::vector<std::uint8_t> bytes)
{
    work::Asset asset;
    asset.bytes = std::make_shared<const outline::Bytes>(std::move(bytes));
    return asset;
}

// What is kept of a work: all but finished pictures and older proofs.
work::Work bare(work::Work version)
{
    version.proofs = {};
    std::erase_if(version.assets, [](const auto& asset) { return work::isKeptPicture(asset.first); });
    work::dropUnusedAssets(version);
    return version;
}

template <class Thing>
void follow(work::Work& work, const work::Work& version, Thing& thing)
{
    thing.swatch = swatchFor(work, version, thing.swatch);
}

void takeMaterials(work::Work& work, const work::Work& version)
{
    const auto taken = [&](work::MaterialSet set) {
        follow(work, version, set.piece);
        for (auto& [_, material] : set.parts)
            follow(work, version, material);
        return set;
    };
    for (auto& [id, piece] : work.pieces.items) {
        const auto from = version.pieces.items.find(id);
        if (from == version.pieces.items.end())
            continue;
        piece.material = taken(from->second.material);
        for (auto& [_, letter] : piece.letters)
            letter.material.reset();
        for (const auto& [letter, own] : from->second.letters)
            if (own.material && piece.hasLetter(letter))
                piece.letters[letter].material = taken(*own.material);
    }
    work.ground.wall = version.ground.wall;
    work.ground.floor = version.ground.floor;
    follow(work, version, work.ground.wall);
    follow(work, version, work.ground.floor);
}

void takeLight(work::Work& work, const work::Work& version)
{
    work.lights = version.lights;
    for (auto& [_, light] : work.lights.items)
        follow(work, version, light);
    work.surroundings = version.surroundings;
    follow(work, version, work.surroundings);
    work.emissive = version.emissive;
}

void takeFinish(work::Work& work, const work::Work& version)
{
    work::Ordered<work::Layer> own;
    for (const std::string& id : work.finish.layers.order)
        if (const work::Layer& layer = work.finish.layers.items.at(id); isContent(layer))
            own.add(id, layer);
    work.finish = version.finish;
    auto& layers = work.finish.layers;
    std::erase_if(layers.items, [&](const auto& item) { return isContent(item.second) || own.items.contains(item.first); });
    std::erase_if(layers.order, [&](const std::string& id) { return !layers.items.contains(id); });
    for (auto& [_, layer] : layers.items)
        std::visit(
            [&](auto& what) {
                if constexpr (requires { what.swatch; })
                    follow(work, version, what);
            },
            layer.what);
    for (const std::string& id : own.order)
        layers.add(id, own.items.at(id));
}

}  // namespace

void NewProof::addTo(work::Work& work) const
{
    for (const auto& [name, asset] : assets)
        work.assets.try_emplace(name, asset);
    work.proofs.add(id, proof);
}

base::Result<NewProof> newProof(const work::Work& version, const std::string& note, const std::string& made,
                                const picture::Raster<std::uint8_t>& picture)
{
    if (version.proofs.order.size() >= kMostProofs)
        return base::fail(base::ErrorCode::TooLarge, fmt::format("A work keeps {} proofs at most; remove one first", kMostProofs));
    auto png = files::pngBytes(picture, 72);
    if (!png)
        return tl::unexpected<base::Error>(png.error());
    const work::Work kept = bare(version);
    const std::string json = files::toJson(kept);
    NewProof fresh;
    for (int number = 1; fresh.id.empty() || version.proofs.items.contains(fresh.id); ++number)
        fresh.id = fmt::format("pf{}", number);
    fresh.proof.note = note;
    fresh.proof.made = made;
    const auto add = [&](std::vector<std::uint8_t> bytes, const char* ending) {
        const std::string name = fmt::format("{}{:.16}{}", work::kProofFolder, base::contentName(bytes), ending);
        fresh.assets[name] = assetOf(std::move(bytes));
        return name;
    };
    fresh.proof.picture = add(std::move(*png), ".png");
    fresh.proof.version = add({json.begin(), json.end()}, ".json");
    for (const auto& [name, asset] : kept.assets) {
        fresh.proof.uses.push_back(name);
        fresh.assets[name] = asset;
    }
    return fresh;
}

base::Result<work::Work> versionOf(const work::Work& work, const std::string& id)
{
    const auto gone = [&](const std::string& what) {
        return base::fail(base::ErrorCode::BadInput,
                          "This proof cannot be gone back to: " + what + "; its picture is still there to be looked at", "/proofs/" + id);
    };
    const auto proof = work.proofs.items.find(id);
    if (proof == work.proofs.items.end())
        return gone("it is not in the work");
    const auto json = work.assets.find(proof->second.version);
    if (json == work.assets.end() || !json->second.bytes)
        return gone("the version it keeps is missing");
    auto version = files::fromJson(std::string(json->second.bytes->begin(), json->second.bytes->end()));
    if (!version)
        return gone(version.error().message);
    version->proofs = {};
    for (auto& [name, asset] : version->assets) {
        const auto there = work.assets.find(name);
        if (there == work.assets.end() || !there->second.bytes)
            return gone(name + " is missing");
        asset = there->second;
    }
    return version;
}

void goBackTo(work::Work& work, const work::Work& version)
{
    work::Work back = version;
    back.proofs = work.proofs;
    for (const auto& [name, asset] : work.assets)
        back.assets.try_emplace(name, asset);
    back.nextId = std::max(back.nextId, work.nextId);
    work = std::move(back);
}

void takeOver(work::Work& work, const work::Work& version, ProofSide side)
{
    for (const auto& [name, asset] : version.assets)
        work.assets.try_emplace(name, asset);
    switch (side) {
    case ProofSide::View: {
        const auto sheet = version.sheets.items.find(work.shown);
        work.view() = sheet == version.sheets.items.end() ? version.view() : sheet->second.view;
        break;
    }
    case ProofSide::Light:
        takeLight(work, version);
        break;
    case ProofSide::Materials:
        takeMaterials(work, version);
        break;
    case ProofSide::Finish:
        takeFinish(work, version);
        break;
    }
}

}  // namespace session
