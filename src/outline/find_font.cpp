#include <fmt/format.h>
#include <fontconfig/fontconfig.h>
#include <hb-ot.h>

#include <algorithm>
#include <cctype>
#include <map>
#include <mutex>
#include <tuple>

#include "outline/font.h"

namespace outline {

namespace {

std::string lower(std::string text)
{
    std::transform(text.begin(), text.end(), text.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

std::string stringOf(FcPattern* pattern, const char* object, int n = 0)
{
    FcChar8* value = nullptr;
    return FcPatternGetString(pattern, object, n, &value) == FcResultMatch ? reinterpret_cast<const char*>(value) : "";
}

bool hasValue(FcPattern* pattern, const char* object, const std::string& wanted)
{
    for (int n = 0;; ++n) {
        const std::string value = stringOf(pattern, object, n);
        if (value.empty())
            return false;
        if (lower(value) == lower(wanted))
            return true;
    }
}

// "wght=900,opsz=14": where a named instance lies on the axes.
std::string instanceVariations(const std::string& path, int face, int instance)
{
    hb_blob_t* blob = hb_blob_create_from_file(path.c_str());
    hb_face_t* opened = hb_face_create(blob, static_cast<unsigned>(face));
    hb_blob_destroy(blob);
    std::vector<hb_ot_var_axis_info_t> axes(hb_ot_var_get_axis_count(opened));
    auto count = static_cast<unsigned>(axes.size());
    hb_ot_var_get_axis_infos(opened, 0, &count, axes.data());
    std::vector<float> place(axes.size());
    hb_ot_var_named_instance_get_design_coords(opened, static_cast<unsigned>(instance), &count, place.data());
    hb_face_destroy(opened);
    std::string variations;
    for (std::size_t i = 0; i < std::min<std::size_t>(count, axes.size()); ++i) {
        char tag[5] = {};
        hb_tag_to_string(axes[i].tag, tag);
        if (place[i] != axes[i].default_value)
            variations += fmt::format("{}{}={}", variations.empty() ? "" : ",", tag, place[i]);
    }
    return variations;
}

}  // namespace

namespace {

FoundFont foundFont(FcPattern* match)
{
    FoundFont found;
    found.path = stringOf(match, FC_FILE);
    int index = 0;
    FcPatternGetInteger(match, FC_INDEX, 0, &index);
    found.index = index & 0xffff;
    found.variations = stringOf(match, FC_FONT_VARIATIONS);
    // The upper half counts the file's named instances from 1; 0x8000 is the variable face itself.
    if (const int instance = index >> 16; found.variations.empty() && instance > 0 && instance < 0x8000)
        found.variations = instanceVariations(found.path, found.index, instance - 1);
    found.family = stringOf(match, FC_FAMILY);
    found.style = stringOf(match, FC_STYLE);
    return found;
}

FcPattern* wantedPattern(const std::string& family, const std::string& style)
{
    FcPattern* wanted = FcPatternCreate();
    FcPatternAddString(wanted, FC_FAMILY, reinterpret_cast<const FcChar8*>(family.c_str()));
    // Of faces as heavy as the regular one, the one of that name is meant.
    FcPatternAddString(wanted, FC_STYLE, reinterpret_cast<const FcChar8*>(style.empty() ? "Regular" : style.c_str()));
    FcPatternAddBool(wanted, FC_OUTLINE, FcTrue);
    return wanted;
}

std::mutex s_mutex;  // fontconfig's first use fills shared tables

}  // namespace

std::vector<FoundFont> findFontsWith(char32_t character, const std::string& family, const std::string& style, std::size_t most)
{
    const std::lock_guard lock(s_mutex);
    // A text that lacks a letter asks again with every key stroke.
    constexpr std::size_t kMostKnown = 4096;
    static std::map<std::tuple<char32_t, std::string, std::string, std::size_t>, std::vector<FoundFont>> s_known;
    const auto key = std::tuple(character, family, style, most);
    if (const auto known = s_known.find(key); known != s_known.end())
        return known->second;
    FcPattern* wanted = wantedPattern(family, style);
    FcCharSet* characters = FcCharSetCreate();
    FcCharSetAddChar(characters, character);
    FcPatternAddCharSet(wanted, FC_CHARSET, characters);
    FcConfigSubstitute(nullptr, wanted, FcMatchPattern);
    FcDefaultSubstitute(wanted);
    FcResult result = FcResultNoMatch;
    FcFontSet* sorted = FcFontSort(nullptr, wanted, FcFalse, nullptr, &result);
    std::vector<FoundFont> found;
    for (int i = 0; sorted && i < sorted->nfont && found.size() < most; ++i) {
        FcCharSet* has = nullptr;
        FcBool outline = FcFalse, colour = FcFalse;
        FcPatternGetBool(sorted->fonts[i], FC_OUTLINE, 0, &outline);
        FcPatternGetBool(sorted->fonts[i], FC_COLOR, 0, &colour);
        if (!outline || colour || FcPatternGetCharSet(sorted->fonts[i], FC_CHARSET, 0, &has) != FcResultMatch ||
            !FcCharSetHasChar(has, character))
            continue;
        FcPattern* prepared = FcFontRenderPrepare(nullptr, wanted, sorted->fonts[i]);
        FoundFont font = foundFont(prepared);
        FcPatternDestroy(prepared);
        if (std::none_of(found.begin(), found.end(), [&](const FoundFont& f) { return f.family == font.family; }))
            found.push_back(std::move(font));
    }
    if (sorted)
        FcFontSetDestroy(sorted);
    FcCharSetDestroy(characters);
    FcPatternDestroy(wanted);
    if (s_known.size() >= kMostKnown)
        s_known.clear();
    s_known[key] = found;
    return found;
}

base::Result<FoundFont> findFont(const std::string& family, const std::string& style)
{
    const std::lock_guard lock(s_mutex);
    FcPattern* wanted = wantedPattern(family, style);
    FcConfigSubstitute(nullptr, wanted, FcMatchPattern);
    FcDefaultSubstitute(wanted);
    FcResult result = FcResultNoMatch;
    FcPattern* match = FcFontMatch(nullptr, wanted, &result);
    FcPatternDestroy(wanted);
    if (!match)
        return base::fail(base::ErrorCode::CannotRead, "No font is installed on this machine; name a font file instead", family);

    FoundFont found = foundFont(match);
    found.exact = hasValue(match, FC_FAMILY, family) && (style.empty() || hasValue(match, FC_STYLE, style));
    FcPatternDestroy(match);
    return found;
}

base::Result<FoundFont> findFontNamed(const std::string& name)
{
    auto whole = findFont(name, "");
    std::size_t space = name.size();
    while (whole && !whole->exact && (space = name.rfind(' ', space - 1)) != std::string::npos && space > 0)
        if (auto split = findFont(name.substr(0, space), name.substr(space + 1)); split && split->exact)
            return split;
    return whole;
}

}  // namespace outline
