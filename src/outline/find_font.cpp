#include <fontconfig/fontconfig.h>

#include <algorithm>
#include <cctype>
#include <mutex>

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

}  // namespace

base::Result<FoundFont> findFont(const std::string& family, const std::string& style)
{
    static std::mutex s_mutex;  // fontconfig's first use fills shared tables
    const std::lock_guard lock(s_mutex);
    FcPattern* wanted = FcPatternCreate();
    FcPatternAddString(wanted, FC_FAMILY, reinterpret_cast<const FcChar8*>(family.c_str()));
    if (!style.empty())
        FcPatternAddString(wanted, FC_STYLE, reinterpret_cast<const FcChar8*>(style.c_str()));
    FcPatternAddBool(wanted, FC_OUTLINE, FcTrue);
    FcConfigSubstitute(nullptr, wanted, FcMatchPattern);
    FcDefaultSubstitute(wanted);
    FcResult result = FcResultNoMatch;
    FcPattern* match = FcFontMatch(nullptr, wanted, &result);
    FcPatternDestroy(wanted);
    if (!match)
        return base::fail(base::ErrorCode::CannotRead, "No font is installed on this machine; name a font file instead", family);

    FoundFont found;
    found.path = stringOf(match, FC_FILE);
    int index = 0;
    FcPatternGetInteger(match, FC_INDEX, 0, &index);
    found.index = index & 0xffff;  // the upper half is the named instance, which `variations` carries
    found.variations = stringOf(match, FC_FONT_VARIATIONS);
    found.family = stringOf(match, FC_FAMILY);
    found.style = stringOf(match, FC_STYLE);
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
