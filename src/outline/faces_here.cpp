#include "outline/faces_here.h"

#include <fontconfig/fontconfig.h>
#include <hb-ot.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <memory>
#include <set>

#include "base/vec.h"

namespace outline {

namespace {

using base::Vec2;

std::string stringOf(FcPattern* pattern, const char* object)
{
    FcChar8* value = nullptr;
    return FcPatternGetString(pattern, object, 0, &value) == FcResultMatch ? reinterpret_cast<const char*>(value) : "";
}

int numberOf(FcPattern* pattern, const char* object, int usual)
{
    int value = usual;
    double exact = 0;
    if (FcPatternGetInteger(pattern, object, 0, &value) == FcResultMatch)
        return value;
    return FcPatternGetDouble(pattern, object, 0, &exact) == FcResultMatch ? static_cast<int>(std::lround(exact)) : usual;
}

bool isTrue(FcPattern* pattern, const char* object)
{
    FcBool value = FcFalse;
    return FcPatternGetBool(pattern, object, 0, &value) == FcResultMatch && value;
}

bool hasWord(const std::string& name, std::initializer_list<const char*> words)
{
    std::string lower;
    for (const char c : name)
        lower += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return std::any_of(words.begin(), words.end(), [&](const char* word) { return lower.find(word) != std::string::npos; });
}

template <class T>
std::unique_ptr<T, void (*)(T*)> owned(T* thing, void (*destroy)(T*))
{
    return {thing, destroy};
}

// Directions at a glyph's points: how many turn sharply.
struct Corners {
    Vec2 at, first, last;  // directions
    bool hasFirst = false;
    int sharp = 0, curves = 0;
    double longestLevel = 0, least = 1e30, most = -1e30;  // level line; from left to right

    void meet(Vec2 direction)
    {
        constexpr double kSharp = 0.6;  // cosine: turns by more than 53 degrees
        if (length(direction) < 1e-6)
            return;
        direction = normalized(direction);
        if (!hasFirst)
            first = direction;
        else if (dot(last, direction) < kSharp)
            ++sharp;
        hasFirst = true;
        last = direction;
    }
    void close()
    {
        if (hasFirst && dot(last, first) < 0.6)
            ++sharp;
        hasFirst = false;
    }
};

Corners cornersOf(hb_font_t* font, hb_codepoint_t glyph)
{
    const auto functions = owned(hb_draw_funcs_create(), hb_draw_funcs_destroy);
    const auto to = [](void* data, float x, float y) {
        auto& c = *static_cast<Corners*>(data);
        c.least = std::min(c.least, double(x));
        c.most = std::max(c.most, double(x));
        if (std::abs(y - c.at.y) < 0.02 * std::abs(x - c.at.x))
            c.longestLevel = std::max(c.longestLevel, std::abs(x - c.at.x));
        c.meet(Vec2{x, y} - c.at);
        c.at = {x, y};
    };
    hb_draw_funcs_set_move_to_func(
        functions.get(),
        [](hb_draw_funcs_t*, void* data, hb_draw_state_t*, float x, float y, void*) {
            static_cast<Corners*>(data)->at = {x, y};
        },
        nullptr, nullptr);
    static const auto s_to = to;
    hb_draw_funcs_set_line_to_func(
        functions.get(), [](hb_draw_funcs_t*, void* data, hb_draw_state_t*, float x, float y, void*) { s_to(data, x, y); }, nullptr,
        nullptr);
    hb_draw_funcs_set_quadratic_to_func(
        functions.get(),
        [](hb_draw_funcs_t*, void* data, hb_draw_state_t*, float cx, float cy, float x, float y, void*) {
            ++static_cast<Corners*>(data)->curves;
            s_to(data, cx, cy);
            s_to(data, x, y);
        },
        nullptr, nullptr);
    hb_draw_funcs_set_cubic_to_func(
        functions.get(),
        [](hb_draw_funcs_t*, void* data, hb_draw_state_t*, float ax, float ay, float bx, float by, float x, float y, void*) {
            ++static_cast<Corners*>(data)->curves;
            s_to(data, ax, ay);
            s_to(data, bx, by);
            s_to(data, x, y);
        },
        nullptr, nullptr);
    hb_draw_funcs_set_close_path_func(
        functions.get(), [](hb_draw_funcs_t*, void* data, hb_draw_state_t*, void*) { static_cast<Corners*>(data)->close(); }, nullptr,
        nullptr);
    Corners corners;
    hb_font_get_glyph_shape(font, glyph, functions.get(), &corners);
    return corners;
}

}  // namespace

std::vector<FaceHere> facesHere()
{
    const auto wanted = owned(FcPatternBuild(nullptr, FC_OUTLINE, FcTypeBool, FcTrue, nullptr), FcPatternDestroy);
    const auto objects = owned(FcObjectSetBuild(FC_FAMILY, FC_STYLE, FC_FILE, FC_INDEX, FC_WEIGHT, FC_WIDTH, FC_SLANT, FC_VARIABLE,
                                                FC_COLOR, static_cast<char*>(nullptr)),
                               FcObjectSetDestroy);
    const auto list = owned(FcFontList(nullptr, wanted.get(), objects.get()), FcFontSetDestroy);
    std::vector<FaceHere> faces;
    for (int i = 0; list && i < list->nfont; ++i) {
        FcPattern* p = list->fonts[i];
        if (isTrue(p, FC_VARIABLE) || isTrue(p, FC_COLOR))
            continue;
        FaceHere face{
            stringOf(p, FC_FAMILY),     stringOf(p, FC_STYLE),      stringOf(p, FC_FILE),        numberOf(p, FC_INDEX, 0) & 0xffff,
            numberOf(p, FC_WEIGHT, 80), numberOf(p, FC_WIDTH, 100), numberOf(p, FC_SLANT, 0) > 0};
        if (!face.family.empty() && face.family.front() != '.')
            faces.push_back(std::move(face));
    }
    std::stable_sort(faces.begin(), faces.end(), [](const FaceHere& a, const FaceHere& b) {
        if (a.family != b.family)
            return a.family < b.family;
        return a.italic != b.italic ? b.italic : a.weight < b.weight;
    });
    std::set<std::pair<std::string, std::string>> seen;
    std::erase_if(faces, [&](const FaceHere& f) { return !seen.emplace(f.family, f.style).second; });
    return faces;
}

unsigned kindsOf(const FaceHere& here)
{
    constexpr int kExtraBold = 205, kSemiCondensed = 87;
    const std::string name = here.family + " " + here.style;
    unsigned kinds = 0;
    const auto add = [&](FaceKind kind, bool is) { kinds |= is ? unsigned{kind} : 0; };
    add(Heavy, here.weight >= kExtraBold || hasWord(name, {"black", "heavy", "ultra"}));
    add(Narrow, here.width <= kSemiCondensed || hasWord(name, {"condensed", "narrow", "compressed"}));
    add(Script, hasWord(name, {"script", "handwrit", "brush", "cursive", "calligra"}));
    add(Slab, hasWord(name, {"slab"}));
    add(Rounded, hasWord(name, {"rounded"}));
    add(Blackletter, hasWord(name, {"fraktur", "blackletter", "textura", "schwabacher", "old english", "rotunda", "blankenburg"}));
    if (kinds & Blackletter)
        kinds &= ~unsigned{Heavy};  // "black" is a part of its name

    const auto blob = owned(hb_blob_create_from_file(here.path.c_str()), hb_blob_destroy);
    const auto face = owned(hb_face_create(blob.get(), static_cast<unsigned>(here.index)), hb_face_destroy);
    const auto os2 = owned(hb_face_reference_table(face.get(), HB_TAG('O', 'S', '/', '2')), hb_blob_destroy);
    unsigned size = 0;
    const auto* bytes = reinterpret_cast<const unsigned char*>(hb_blob_get_data(os2.get(), &size));
    constexpr unsigned kFamilyClass = 30, kPanose = 32;  // offsets in the table
    if (size >= kPanose + 10) {
        const int family = bytes[kFamilyClass], kind = bytes[kPanose], serifs = bytes[kPanose + 1], proportion = bytes[kPanose + 3];
        add(Script, family == 10 || kind == 3);
        add(Slab, family == 5 || (kind == 2 && serifs == 6));
        add(Narrow, kind == 2 && (proportion == 6 || proportion == 8));
    }
    const auto font = owned(hb_font_create(face.get()), hb_font_destroy);
    hb_codepoint_t h = 0, i = 0;
    hb_glyph_extents_t extents;
    if (hb_font_get_nominal_glyph(font.get(), 'H', &h) && hb_font_get_glyph_extents(font.get(), h, &extents) && extents.y_bearing > 0 &&
        hb_font_get_glyph_h_advance(font.get(), h) < 0.8 * extents.y_bearing)
        add(Narrow, true);
    // A stroke with round ends has neither corners nor level edges.
    if (!(kinds & (Script | Blackletter)) && hb_font_get_nominal_glyph(font.get(), 'I', &i)) {
        const Corners corners = cornersOf(font.get(), i);
        add(Rounded, corners.curves >= 4 && corners.sharp == 0 && corners.longestLevel < 0.3 * (corners.most - corners.least));
    }
    return kinds;
}

}  // namespace outline
