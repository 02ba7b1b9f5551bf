#include "outline/layout.h"

#include <fmt/format.h>
#include <hb.h>
#include <unicode/ubidi.h>
#include <unicode/utf16.h>
#include <unicode/utf8.h>

#include <algorithm>
#include <memory>

#include "outline/text.h"

namespace outline {

namespace {

struct Run {
    std::size_t begin = 0, end = 0;  // code points of the line
    hb_script_t script = HB_SCRIPT_COMMON;
    UBiDiLevel level = 0;
};

struct Line {
    std::vector<hb_codepoint_t> characters;
    std::vector<int> letters;  // grapheme index of each character
};

std::vector<Line> splitLines(const std::string& text)
{
    const std::vector<Grapheme> letters = graphemes(text);
    std::vector<Line> lines(1);
    std::size_t letter = 0;
    for (const CodePoint& c : codePoints(text)) {
        while (letter + 1 < letters.size() && c.at >= letters[letter].end)
            ++letter;
        if (c.value == U'\n') {
            lines.emplace_back();
        } else if (c.value != U'\r') {
            lines.back().characters.push_back(c.value == U'\t' ? U' ' : c.value);
            lines.back().letters.push_back(static_cast<int>(letter));
        }
    }
    return lines;
}

// Levels of each character (UAX 9) and whether the line reads from right to left.
bool bidiLevels(const Line& line, std::vector<UBiDiLevel>& levels)
{
    levels.assign(line.characters.size(), 0);
    std::u16string text;
    std::vector<std::size_t> places;  // of each character
    for (const hb_codepoint_t c : line.characters) {
        places.push_back(text.size());
        if (U_IS_SUPPLEMENTARY(c))
            text.append({static_cast<char16_t>(U16_LEAD(c)), static_cast<char16_t>(U16_TRAIL(c))});
        else
            text.push_back(static_cast<char16_t>(c));
    }
    UErrorCode error = U_ZERO_ERROR;
    const std::unique_ptr<UBiDi, decltype(&ubidi_close)> bidi(ubidi_open(), ubidi_close);
    ubidi_setPara(bidi.get(), text.data(), static_cast<std::int32_t>(text.size()), UBIDI_DEFAULT_LTR, nullptr, &error);
    const UBiDiLevel* all = ubidi_getLevels(bidi.get(), &error);
    if (U_FAILURE(error) || !all)
        return false;  // out of memory: left to right
    for (std::size_t i = 0; i < places.size(); ++i)
        levels[i] = all[places[i]];
    return ubidi_getParaLevel(bidi.get()) & 1;
}

// Characters of no script of their own (spaces, marks, digits) take the script before them, else the one after.
std::vector<hb_script_t> resolvedScripts(const Line& line)
{
    hb_unicode_funcs_t* unicode = hb_unicode_funcs_get_default();
    const auto isOwn = [](hb_script_t s) { return s != HB_SCRIPT_COMMON && s != HB_SCRIPT_INHERITED && s != HB_SCRIPT_UNKNOWN; };
    std::vector<hb_script_t> scripts;
    hb_script_t current = HB_SCRIPT_COMMON;
    for (const hb_codepoint_t c : line.characters) {
        if (const hb_script_t script = hb_unicode_script(unicode, c); isOwn(script))
            current = script;
        scripts.push_back(current);
    }
    const auto first = std::find_if(scripts.begin(), scripts.end(), isOwn);
    std::fill(scripts.begin(), first, first == scripts.end() ? HB_SCRIPT_LATIN : *first);
    return scripts;
}

std::vector<Run> splitRuns(const Line& line, const std::vector<UBiDiLevel>& levels)
{
    const std::vector<hb_script_t> scripts = resolvedScripts(line);
    std::vector<Run> runs;
    for (std::size_t i = 0; i < line.characters.size(); ++i) {
        if (runs.empty() || runs.back().script != scripts[i] || runs.back().level != levels[i])
            runs.push_back({i, i, scripts[i], levels[i]});
        runs.back().end = i + 1;
    }
    return runs;
}

// UAX 9, rule L2: from the highest level down to 1, reverse every stretch of runs at that level or above.
void orderVisually(std::vector<Run>& runs)
{
    int highest = 0;
    for (const Run& run : runs)
        highest = std::max<int>(highest, run.level);
    for (int level = highest; level > 0; --level)
        for (auto begin = runs.begin(); begin != runs.end();) {
            begin = std::find_if(begin, runs.end(), [&](const Run& r) { return r.level >= level; });
            const auto end = std::find_if(begin, runs.end(), [&](const Run& r) { return r.level < level; });
            std::reverse(begin, end);
            begin = end;
        }
}

bool isJoinedScript(hb_script_t script)
{
    return script == HB_SCRIPT_ARABIC || script == HB_SCRIPT_SYRIAC || script == HB_SCRIPT_MONGOLIAN || script == HB_SCRIPT_NKO;
}

bool needsNoInk(hb_codepoint_t c)
{
    const hb_unicode_general_category_t category = hb_unicode_general_category(hb_unicode_funcs_get_default(), c);
    return category == HB_UNICODE_GENERAL_CATEGORY_SPACE_SEPARATOR || category == HB_UNICODE_GENERAL_CATEGORY_FORMAT ||
           category == HB_UNICODE_GENERAL_CATEGORY_CONTROL || category == HB_UNICODE_GENERAL_CATEGORY_LINE_SEPARATOR ||
           category == HB_UNICODE_GENERAL_CATEGORY_NON_SPACING_MARK;
}

std::string utf8(hb_codepoint_t c)
{
    char bytes[U8_MAX_LENGTH];
    int size = 0;
    U8_APPEND_UNSAFE(bytes, size, c);
    return {bytes, bytes + size};
}

// What is no feature is left out.
std::vector<hb_feature_t> featuresIn(const std::string& text)
{
    std::vector<hb_feature_t> features;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find(',', at), text.size());
        hb_feature_t feature;
        if (hb_feature_from_string(text.data() + at, static_cast<int>(end - at), &feature))
            features.push_back(feature);
        at = end + 1;
    }
    return features;
}

class LineShaper {
public:
    LineShaper(const Font& font, const LayoutSettings& settings, Layout& layout)
        : m_font(font),
          m_settings(settings),
          m_features(featuresIn(settings.features)),
          m_layout(layout),
          m_scale(settings.sizePt / font.unitsPerEm()),
          m_buffer(hb_buffer_create())
    {
    }
    ~LineShaper() { hb_buffer_destroy(m_buffer); }
    LineShaper(const LineShaper&) = delete;
    LineShaper& operator=(const LineShaper&) = delete;

    void addLine(const Line& line, double baseline)
    {
        std::vector<UBiDiLevel> levels;
        const bool rightToLeft = !line.characters.empty() && bidiLevels(line, levels);
        std::vector<Run> runs = splitRuns(line, levels);
        orderVisually(runs);
        const std::size_t first = m_layout.glyphs.size();
        m_pen = {0, baseline};
        m_lastTracking = 0;
        for (const Run& run : runs)
            addRun(line, run);
        const double width = m_pen.x - m_lastTracking;
        double shift = m_settings.align == Align::Centre ? -width / 2 : 0;
        if ((m_settings.align == Align::End) != rightToLeft && m_settings.align != Align::Centre)
            shift = -width;
        for (std::size_t i = first; i < m_layout.glyphs.size(); ++i)
            m_layout.glyphs[i].origin.x += shift;
        m_layout.baselines.push_back(baseline);
        m_layout.widthPt = std::max(m_layout.widthPt, width);
    }

private:
    void addRun(const Line& line, const Run& run)
    {
        hb_buffer_reset(m_buffer);
        hb_buffer_add_codepoints(m_buffer, line.characters.data(), static_cast<int>(line.characters.size()),
                                 static_cast<unsigned>(run.begin), static_cast<int>(run.end - run.begin));
        hb_buffer_set_direction(m_buffer, run.level % 2 ? HB_DIRECTION_RTL : HB_DIRECTION_LTR);
        hb_buffer_set_script(m_buffer, run.script);
        hb_buffer_set_language(m_buffer, hb_language_from_string("und", -1));
        const bool tracked = m_settings.tracking != 0 && !isJoinedScript(run.script);
        std::vector<hb_feature_t> features;
        if (tracked)
            features = {{HB_TAG('l', 'i', 'g', 'a'), 0, 0, HB_FEATURE_GLOBAL_END},
                        {HB_TAG('c', 'l', 'i', 'g'), 0, 0, HB_FEATURE_GLOBAL_END}};
        features.insert(features.end(), m_features.begin(), m_features.end());  // later ones win
        hb_shape(m_font.handle(), m_buffer, features.data(), static_cast<unsigned>(features.size()));

        unsigned count = 0;
        const hb_glyph_info_t* infos = hb_buffer_get_glyph_infos(m_buffer, &count);
        const hb_glyph_position_t* positions = hb_buffer_get_glyph_positions(m_buffer, &count);
        for (unsigned i = 0; i < count; ++i) {
            const std::size_t character = infos[i].cluster;
            if (infos[i].codepoint == 0)
                noteMissing(line.characters[character], line.letters[character]);
            else
                m_layout.glyphs.push_back({infos[i].codepoint, line.letters[character],
                                           m_pen + Vec2{positions[i].x_offset * m_scale, positions[i].y_offset * m_scale}});
            m_pen = m_pen + Vec2{positions[i].x_advance * m_scale, positions[i].y_advance * m_scale};
            const bool endsCluster = i + 1 == count || infos[i + 1].cluster != infos[i].cluster;
            if (tracked && endsCluster) {
                m_lastTracking = m_settings.tracking / 1000 * m_settings.sizePt;
                m_pen.x += m_lastTracking;
            }
        }
    }

    void noteMissing(hb_codepoint_t c, int letter)
    {
        if (needsNoInk(c))
            return;
        base::Note note{"missing-glyph",
                        fmt::format("{} has no glyph for \"{}\" (U+{:04X}); it is left out. Choose a face that has it.", m_font.name(),
                                    utf8(c), static_cast<unsigned>(c)),
                        fmt::format("letter {}", letter + 1)};
        m_layout.notes.push_back(std::move(note));
    }

    const Font& m_font;
    const LayoutSettings& m_settings;
    std::vector<hb_feature_t> m_features;
    Layout& m_layout;
    double m_scale;
    hb_buffer_t* m_buffer;
    Vec2 m_pen;
    double m_lastTracking = 0;
};

}  // namespace

base::Result<Layout> layoutText(const std::string& text, const Font& font, const LayoutSettings& settings, const base::Progress& progress)
{
    if (const std::size_t count = codePoints(text).size(); count > kMostCharacters)
        return base::fail(
            base::ErrorCode::BadInput,
            fmt::format("The text has {} characters, a piece takes at most {}; split it into several pieces", count, kMostCharacters));
    Layout layout;
    LineShaper shaper(font, settings, layout);
    double baseline = 0;
    for (const Line& line : splitLines(text)) {
        if (progress.stopRequested())
            return base::fail(base::ErrorCode::Stopped, "Stopped");
        shaper.addLine(line, baseline);
        baseline -= settings.lineSpacing * settings.sizePt;
    }
    return layout;
}

}  // namespace outline
