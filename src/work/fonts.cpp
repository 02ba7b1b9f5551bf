#include "work/fonts.h"

#include <fmt/format.h>

#include <filesystem>
#include <set>

#include "base/file.h"
#include "base/hash.h"
#include "work/pictures.h"
#include "work/typeset.h"

namespace work {

namespace {

constexpr std::uint64_t kLargestFont = 1u << 28;  // bytes

base::Result<FontWithFile> fromFile(const std::string& path, FontChoice choice)
{
    auto bytes = base::readFile(path, kLargestFont);
    if (!bytes)
        return tl::unexpected<base::Error>(bytes.error());
    FontWithFile font;
    font.asset.bytes = std::make_shared<const outline::Bytes>(std::move(*bytes));
    const auto opened = outline::Font::open(font.asset.bytes, choice.index, choice.variations, path);
    if (!opened)
        return tl::unexpected<base::Error>(opened.error());
    font.asset.licence = (*opened)->licence();
    if (choice.family.empty())
        choice.family = (*opened)->familyName();
    const std::filesystem::path file(path);
    choice.asset = fmt::format("fonts/{}-{}{}", file.stem().string().substr(0, 60), base::contentName(*font.asset.bytes).substr(0, 16),
                               file.extension().string());
    font.choice = std::move(choice);
    return font;
}

base::Result<FontWithFile> fromFound(const base::Result<outline::FoundFont>& found)
{
    if (!found)
        return tl::unexpected<base::Error>(found.error());
    FontChoice choice;
    choice.family = found->family;
    choice.style = found->style;
    choice.index = found->index;
    choice.variations = found->variations;
    auto font = fromFile(found->path, choice);
    if (font)
        font->exact = found->exact;
    return font;
}

}  // namespace

base::Result<FontWithFile> fontOnMachine(const std::string& family, const std::string& style)
{
    return fromFound(outline::findFont(family, style));
}

base::Result<FontWithFile> fontNamed(const std::string& name)
{
    return fromFound(outline::findFontNamed(name));
}

base::Result<FontWithFile> fontFromFile(const std::string& path)
{
    FontChoice choice;
    choice.family.clear();
    return fromFile(path, choice);
}

void dropUnusedAssets(Work& work)
{
    std::set<std::string> used;
    for (const auto& [_, piece] : work.pieces.items)
        if (const Lettering* lettering = piece.lettering()) {
            used.insert(lettering->font.asset);
            for (const auto& [letter, own] : piece.letters)
                if (own.font)
                    used.insert(own.font->asset);
        } else if (const Artwork* artwork = piece.artwork()) {
            used.insert({artwork->original, artwork->drawing, artwork->greys});
        }
    for (const Material* m : materialsIn(work))
        for (const auto role : kPictureRoles)
            used.insert(m->pictures.*role);
    if (work.surroundings.kind == SurroundingsKind::Picture)
        used.insert(work.surroundings.picture);
    if (work.ground.backdropKind == BackdropKind::Picture)
        used.insert(work.ground.backdropPicture);
    for (const auto names : {layerPicturesIn, colourTablesIn})
        for (const std::string* asset : names(work))
            used.insert(*asset);
    for (const auto& [_, sheet] : work.sheets.items)
        for (const auto& [id, output] : sheet.outputs.items)
            used.insert(output.profile);
    for (const auto& [_, proof] : work.proofs.items) {
        used.insert({proof.picture, proof.version});
        used.insert(proof.uses.begin(), proof.uses.end());
    }
    // What a newer version made may use anything.
    const bool isNewer = std::any_of(work.pieces.items.begin(), work.pieces.items.end(),
                                     [](const auto& item) { return std::holds_alternative<Newer>(item.second.source); });
    std::erase_if(work.assets, [&](const auto& asset) { return !isNewer && !used.contains(asset.first) && !isKeptPicture(asset.first); });
}

std::string fontContents(const Work& work)
{
    Cache cache;
    std::set<std::string> contents;
    for (const auto& [_, piece] : work.pieces.items) {
        if (piece.hidden || !piece.lettering())
            continue;
        base::Notes notes;
        if (const auto set = typeset(work, piece, cache, notes))
            for (std::size_t i = 0; i < set->faces.count(); ++i)
                contents.insert(base::contentName(*set->faces.of(static_cast<int>(i)).bytes()));
    }
    std::string all;
    for (const std::string& name : contents)
        all += name + "\n";
    return all;
}

}  // namespace work
