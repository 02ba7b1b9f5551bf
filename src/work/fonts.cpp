#include "work/fonts.h"

#include <filesystem>
#include <set>

#include "base/file.h"

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
    choice.asset = "fonts/" + std::filesystem::path(path).filename().string();
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
        used.insert(piece.lettering.font.asset);
    std::erase_if(work.assets, [&](const auto& asset) { return !used.contains(asset.first) && !isKeptPicture(asset.first); });
}

}  // namespace work
