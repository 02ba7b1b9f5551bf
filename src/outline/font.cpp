#include "outline/font.h"

#include <fmt/format.h>
#include <hb-ot.h>
#include <hb.h>

#include <set>

namespace outline {

namespace {

std::string nameEntry(hb_face_t* face, hb_ot_name_id_t id)
{
    unsigned size = hb_ot_name_get_utf8(face, id, HB_LANGUAGE_INVALID, nullptr, nullptr);
    if (size == 0)
        return {};
    std::string text(size + 1, '\0');
    unsigned room = size + 1;
    hb_ot_name_get_utf8(face, id, HB_LANGUAGE_INVALID, &room, text.data());
    text.resize(room);
    return text;
}

base::Result<std::vector<hb_variation_t>> parseVariations(const std::string& text, const std::string& name)
{
    std::vector<hb_variation_t> list;
    std::size_t at = 0;
    while (at < text.size()) {
        const std::size_t end = std::min(text.find(',', at), text.size());
        hb_variation_t variation;
        if (!hb_variation_from_string(text.data() + at, static_cast<int>(end - at), &variation))
            return base::fail(base::ErrorCode::BadInput,
                              fmt::format("\"{}\" is no font variation; write one like wght=800", text.substr(at, end - at)), name);
        list.push_back(variation);
        at = end + 1;
    }
    return list;
}

// Gathers the calls of the shaper's outline walk.
struct Pen {
    std::vector<CurveContour> contours;
    Vec2 at, start;

    void add(Curve curve)
    {
        if (contours.empty())
            contours.emplace_back();
        contours.back().push_back(curve);
        at = curve.p[curve.degree];
    }
};

void penMove(hb_draw_funcs_t*, void* data, hb_draw_state_t*, float x, float y, void*)
{
    Pen& pen = *static_cast<Pen*>(data);
    pen.contours.emplace_back();
    pen.at = pen.start = {x, y};
}
void penLine(hb_draw_funcs_t*, void* data, hb_draw_state_t*, float x, float y, void*)
{
    Pen& pen = *static_cast<Pen*>(data);
    if (const Vec2 to{x, y}; !(to == pen.at))
        pen.add({1, {pen.at, to}});
}
void penQuadratic(hb_draw_funcs_t*, void* data, hb_draw_state_t*, float cx, float cy, float x, float y, void*)
{
    Pen& pen = *static_cast<Pen*>(data);
    pen.add({2, {pen.at, {cx, cy}, {x, y}}});
}
void penCubic(hb_draw_funcs_t*, void* data, hb_draw_state_t*, float ax, float ay, float bx, float by, float x, float y, void*)
{
    Pen& pen = *static_cast<Pen*>(data);
    pen.add({3, {pen.at, {ax, ay}, {bx, by}, {x, y}}});
}
void penClose(hb_draw_funcs_t*, void* data, hb_draw_state_t*, void*)
{
    Pen& pen = *static_cast<Pen*>(data);
    if (!(pen.at == pen.start))
        pen.add({1, {pen.at, pen.start}});
}

hb_draw_funcs_t* penFunctions()
{
    static hb_draw_funcs_t* const functions = [] {
        hb_draw_funcs_t* f = hb_draw_funcs_create();
        hb_draw_funcs_set_move_to_func(f, penMove, nullptr, nullptr);
        hb_draw_funcs_set_line_to_func(f, penLine, nullptr, nullptr);
        hb_draw_funcs_set_quadratic_to_func(f, penQuadratic, nullptr, nullptr);
        hb_draw_funcs_set_cubic_to_func(f, penCubic, nullptr, nullptr);
        hb_draw_funcs_set_close_path_func(f, penClose, nullptr, nullptr);
        hb_draw_funcs_make_immutable(f);
        return f;
    }();
    return functions;
}

// Features that people switch, with the names of the registry (OpenType 1.9.1, feature tags) and whether they are on by themselves.
constexpr struct {
    const char* tag;
    const char* name;
    bool usual;
} kFeatures[] = {{"liga", "Ligatures", true},
                 {"clig", "Contextual ligatures", true},
                 {"calt", "Contextual alternates", true},
                 {"kern", "Kerning", true},
                 {"dlig", "Discretionary ligatures", false},
                 {"hlig", "Historical ligatures", false},
                 {"smcp", "Small capitals", false},
                 {"c2sc", "Small capitals from capitals", false},
                 {"pcap", "Petite capitals", false},
                 {"unic", "Unicase", false},
                 {"titl", "Titling", false},
                 {"case", "Case-sensitive forms", false},
                 {"swsh", "Swash", false},
                 {"cswh", "Contextual swash", false},
                 {"salt", "Stylistic alternates", false},
                 {"hist", "Historical forms", false},
                 {"onum", "Oldstyle figures", false},
                 {"lnum", "Lining figures", false},
                 {"pnum", "Proportional figures", false},
                 {"tnum", "Tabular figures", false},
                 {"frac", "Fractions", false},
                 {"afrc", "Alternative fractions", false},
                 {"zero", "Slashed zero", false},
                 {"ordn", "Ordinals", false},
                 {"sups", "Superscript", false},
                 {"subs", "Subscript", false},
                 {"sinf", "Scientific inferiors", false}};

std::set<hb_tag_t> tagsIn(hb_face_t* face, hb_tag_t table)
{
    std::set<hb_tag_t> tags;
    hb_tag_t part[64];
    for (unsigned at = 0;;) {
        unsigned count = 64;
        const unsigned all = hb_ot_layout_table_get_feature_tags(face, table, at, &count, part);
        tags.insert(part, part + count);
        at += count;
        if (count == 0 || at >= all)
            return tags;
    }
}

// The name that a stylistic set has in its font, or "".
std::string nameInFont(hb_face_t* face, hb_tag_t tag)
{
    unsigned count = hb_ot_layout_table_get_feature_tags(face, HB_OT_TAG_GSUB, 0, nullptr, nullptr);
    std::vector<hb_tag_t> all(count);
    hb_ot_layout_table_get_feature_tags(face, HB_OT_TAG_GSUB, 0, &count, all.data());
    for (unsigned i = 0; i < count; ++i) {
        hb_ot_name_id_t label = HB_OT_NAME_ID_INVALID;
        if (all[i] == tag && hb_ot_layout_feature_get_name_ids(face, HB_OT_TAG_GSUB, i, &label, nullptr, nullptr, nullptr, nullptr) &&
            label != HB_OT_NAME_ID_INVALID)
            return nameEntry(face, label);
    }
    return {};
}

std::vector<FontFeature> featuresOf(hb_face_t* face)
{
    std::set<hb_tag_t> tags = tagsIn(face, HB_OT_TAG_GSUB);
    if (tagsIn(face, HB_OT_TAG_GPOS).contains(HB_TAG('k', 'e', 'r', 'n')))
        tags.insert(HB_TAG('k', 'e', 'r', 'n'));
    std::vector<FontFeature> features;
    for (const auto& known : kFeatures)
        if (tags.contains(hb_tag_from_string(known.tag, 4)))
            features.push_back({known.tag, known.name, known.usual});
    for (const auto& [kind, most, name] : {std::tuple("ss", 20, "Stylistic set"), std::tuple("cv", 99, "Character variant")})
        for (int i = 1; i <= most; ++i) {
            const std::string tag = fmt::format("{}{:02}", kind, i);
            const hb_tag_t number = hb_tag_from_string(tag.c_str(), 4);
            if (!tags.contains(number))
                continue;
            const std::string own = nameInFont(face, number);
            features.push_back({tag, own.empty() ? fmt::format("{} {}", name, i) : own, false});
        }
    return features;
}

std::vector<FontAxis> axesOf(hb_face_t* face, const std::vector<hb_variation_t>& settings)
{
    std::vector<hb_ot_var_axis_info_t> infos(hb_ot_var_get_axis_count(face));
    auto count = static_cast<unsigned>(infos.size());
    hb_ot_var_get_axis_infos(face, 0, &count, infos.data());
    std::vector<FontAxis> axes;
    for (const hb_ot_var_axis_info_t& info : infos) {
        if (info.flags & HB_OT_VAR_AXIS_FLAG_HIDDEN)
            continue;
        char tag[5] = {};
        hb_tag_to_string(info.tag, tag);
        FontAxis axis{tag, nameEntry(face, info.name_id), info.min_value, info.default_value, info.max_value, info.default_value};
        if (axis.name.empty())
            axis.name = axis.tag;
        for (const hb_variation_t& s : settings)
            if (s.tag == info.tag)
                axis.value = std::clamp<double>(s.value, info.min_value, info.max_value);
        axes.push_back(std::move(axis));
    }
    return axes;
}

}  // namespace

bool isOn(const std::string& features, const FontFeature& feature)
{
    bool on = feature.usual;
    for (std::size_t at = 0; at < features.size();) {
        const std::size_t end = std::min(features.find(',', at), features.size());
        const std::string one = features.substr(at, end - at);
        if (one.starts_with(feature.tag + "="))
            on = one.substr(feature.tag.size() + 1) != "0";
        at = end + 1;
    }
    return on;
}

std::string withFeature(const std::string& features, const FontFeature& feature, bool on)
{
    std::string result;
    for (std::size_t at = 0; at < features.size();) {
        const std::size_t end = std::min(features.find(',', at), features.size());
        if (const std::string one = features.substr(at, end - at); !one.starts_with(feature.tag + "="))
            result += (result.empty() ? "" : ",") + one;
        at = end + 1;
    }
    if (on != feature.usual)
        result += fmt::format("{}{}={}", result.empty() ? "" : ",", feature.tag, on ? 1 : 0);
    return result;
}

std::string withVariation(const std::string& variations, const FontAxis& axis, double value)
{
    std::string result;
    std::size_t at = 0;
    while (at < variations.size()) {
        const std::size_t end = std::min(variations.find(',', at), variations.size());
        const std::string part = variations.substr(at, end - at);
        if (!part.starts_with(axis.tag + "="))
            result += (result.empty() ? "" : ",") + part;
        at = end + 1;
    }
    if (value != axis.usual)
        result += fmt::format("{}{}={}", result.empty() ? "" : ",", axis.tag, value);
    return result;
}

base::Result<std::shared_ptr<const Font>> Font::open(SharedBytes bytes, int index, const std::string& variations, const std::string& name)
{
    const auto noFont = [&](const std::string& why) {
        return base::fail(base::ErrorCode::BadInput, why + "; choose a TrueType or OpenType font file", name);
    };
    if (!bytes || bytes->empty())
        return noFont("The font file is empty");
    hb_blob_t* blob = hb_blob_create(reinterpret_cast<const char*>(bytes->data()), static_cast<unsigned>(bytes->size()),
                                     HB_MEMORY_MODE_READONLY, nullptr, nullptr);
    const unsigned faces = hb_face_count(blob);
    hb_face_t* face = hb_face_create(blob, static_cast<unsigned>(index));
    hb_blob_destroy(blob);
    const auto dropFace = [&](auto error) {
        hb_face_destroy(face);
        return error;
    };
    if (faces == 0 || hb_face_get_glyph_count(face) == 0)
        return dropFace(noFont("This is not a font that can be read"));
    if (index < 0 || static_cast<unsigned>(index) >= faces)
        return dropFace(noFont(fmt::format("The font file has {} faces, there is no face {}", faces, index)));
    auto settings = parseVariations(variations, name);
    if (!settings)
        return dropFace(tl::unexpected<base::Error>(settings.error()));

    std::shared_ptr<Font> font(new Font);
    font->m_bytes = std::move(bytes);
    font->m_unitsPerEm = hb_face_get_upem(face);
    font->m_glyphCount = static_cast<int>(hb_face_get_glyph_count(face));
    font->m_name = nameEntry(face, HB_OT_NAME_ID_FULL_NAME);
    if (font->m_name.empty())
        font->m_name = name;
    font->m_family = nameEntry(face, HB_OT_NAME_ID_TYPOGRAPHIC_FAMILY);
    if (font->m_family.empty())
        font->m_family = nameEntry(face, HB_OT_NAME_ID_FONT_FAMILY);
    font->m_licence = nameEntry(face, HB_OT_NAME_ID_LICENSE);
    font->m_font = hb_font_create(face);
    font->m_axes = axesOf(face, *settings);
    font->m_features = featuresOf(face);
    hb_face_destroy(face);
    const int scale = static_cast<int>(font->m_unitsPerEm);
    hb_font_set_scale(font->m_font, scale, scale);
    if (!settings->empty())
        hb_font_set_variations(font->m_font, settings->data(), static_cast<unsigned>(settings->size()));
    hb_font_extents_t extents;
    if (hb_font_get_h_extents(font->m_font, &extents)) {
        font->m_ascent = extents.ascender / font->m_unitsPerEm;
        font->m_descent = extents.descender / font->m_unitsPerEm;
    }
    hb_position_t capHeight = 0;
    if (hb_ot_metrics_get_position(font->m_font, HB_OT_METRICS_TAG_CAP_HEIGHT, &capHeight) && capHeight > 0)
        font->m_capHeight = capHeight / font->m_unitsPerEm;
    hb_font_make_immutable(font->m_font);
    return std::shared_ptr<const Font>(std::move(font));
}

bool Font::has(char32_t character) const
{
    hb_codepoint_t glyph = 0;
    return hb_font_get_nominal_glyph(m_font, character, &glyph) && glyph != 0;
}

Faces::Faces(std::vector<std::shared_ptr<const Font>> all) : m_held(std::move(all))
{
    for (const auto& font : m_held)
        m_all.push_back(font.get());
}

Font::~Font()
{
    hb_font_destroy(m_font);
}

std::vector<CurveContour> Font::glyphOutline(std::uint32_t glyph) const
{
    Pen pen;
    hb_font_get_glyph_shape(m_font, glyph, penFunctions(), &pen);
    std::erase_if(pen.contours, [](const CurveContour& c) { return c.empty(); });
    return std::move(pen.contours);
}

}  // namespace outline
