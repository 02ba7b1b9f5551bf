#include "outline/layout.h"

#include <fmt/format.h>
#include <hb.h>
#include <unicode/ubidi.h>
#include <unicode/uchar.h>
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
    int face = 0;
    double scale = 1;
};

struct Line {
    std::vector<hb_codepoint_t> characters;
    std::vector<int> letters;  // grapheme index of each character
};

std::vector<Line> splitLines(const std::string& text, bool capitals)
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
            const auto shown = capitals ? static_cast<hb_codepoint_t>(u_toupper(static_cast<UChar32>(c.value))) : c.value;
            lines.back().characters.push_back(shown == U'\t' ? U' ' : shown);
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

LetterStyle styleOf(const LayoutSettings& settings, int letter)
{
    const auto at = static_cast<std::size_t>(letter);
    return at < settings.styles.size() ? settings.styles[at] : LetterStyle();
}

std::vector<Run> splitRuns(const Line& line, const std::vector<UBiDiLevel>& levels, const LayoutSettings& settings)
{
    const std::vector<hb_script_t> scripts = resolvedScripts(line);
    std::vector<Run> runs;
    for (std::size_t i = 0; i < line.characters.size(); ++i) {
        const LetterStyle style = styleOf(settings, line.letters[i]);
        if (runs.empty() || runs.back().script != scripts[i] || runs.back().level != levels[i] || runs.back().face != style.face ||
            runs.back().scale != style.scale)
            runs.push_back({i, i, scripts[i], levels[i], style.face, style.scale});
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

// Whose columns stand from right to left.
bool isSetFromTheRight(hb_script_t script)
{
    return script == HB_SCRIPT_HAN || script == HB_SCRIPT_HIRAGANA || script == HB_SCRIPT_KATAKANA || script == HB_SCRIPT_HANGUL ||
           script == HB_SCRIPT_BOPOMOFO;
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
    LineShaper(const Faces& faces, const LayoutSettings& settings, Layout& layout)
        : m_faces(faces), m_settings(settings), m_features(featuresIn(settings.features)), m_layout(layout), m_buffer(hb_buffer_create())
    {
    }
    ~LineShaper() { hb_buffer_destroy(m_buffer); }
    LineShaper(const LineShaper&) = delete;
    LineShaper& operator=(const LineShaper&) = delete;

    void addLine(const Line& line, double baseline)
    {
        std::vector<UBiDiLevel> levels;
        const bool rightToLeft = !line.characters.empty() && bidiLevels(line, levels);
        std::vector<Run> runs = splitRuns(line, levels, m_settings);
        orderVisually(runs);
        const std::size_t first = m_layout.glyphs.size();
        m_pen = {0, baseline};
        m_lastTracking = 0;
        for (const Run& run : runs)
            addRun(line, run, run.level % 2 ? HB_DIRECTION_RTL : HB_DIRECTION_LTR);
        const double width = m_pen.x - m_lastTracking;
        const bool centred = m_settings.align == Align::Centre || m_settings.align == Align::Justified;
        double shift = centred ? -width / 2 : 0;
        if ((m_settings.align == Align::End) != rightToLeft && !centred)
            shift = -width;
        m_widths.push_back(width);
        for (std::size_t i = first; i < m_layout.glyphs.size(); ++i) {
            m_layout.glyphs[i].origin.x += shift;
            m_layout.glyphs[i].middle += shift;
            m_layout.glyphs[i].line = static_cast<int>(m_layout.baselines.size());
        }
        m_layout.baselines.push_back(baseline);
        m_layout.widthPt = std::max(m_layout.widthPt, width);
    }

    // The next column, hanging from 0.
    void addColumn(const Line& line)
    {
        const std::vector<Run> runs = splitRuns(line, std::vector<UBiDiLevel>(line.characters.size(), 0), m_settings);
        const std::size_t first = m_layout.glyphs.size();
        m_pen = {};
        m_lastTracking = 0;
        for (const Run& run : runs)
            addRun(line, run, HB_DIRECTION_TTB);
        for (std::size_t i = first; i < m_layout.glyphs.size(); ++i)
            m_layout.glyphs[i].line = static_cast<int>(m_widths.size());
        m_widths.push_back(-m_pen.y - m_lastTracking);
        if (m_widths.size() == 1)
            m_fromTheRight = !runs.empty() && isSetFromTheRight(runs.front().script);
    }

    // Columns side by side, aligned as it is asked for; their first letter comes to stand at 0.
    void setColumns(const std::string& text)
    {
        const double apart = m_settings.lineSpacing * m_settings.sizePt, longest = *std::max_element(m_widths.begin(), m_widths.end());
        const double middle = (static_cast<double>(m_widths.size()) - 1) / 2;
        if (m_settings.align == Align::Justified)
            spread(text, longest, [](PlacedGlyph& glyph, double by) { glyph.origin.y -= by; });
        double highest = -1e30, lowest = 1e30;
        for (PlacedGlyph& g : m_layout.glyphs) {
            const double missing = longest - m_widths[static_cast<std::size_t>(g.line)];
            g.middle = (g.line - middle) * (m_fromTheRight ? -apart : apart);
            g.origin.x += g.middle;
            g.origin.y -= m_settings.align == Align::End ? missing : m_settings.align == Align::Start ? 0 : missing / 2;
            highest = std::max(highest, g.origin.y);
            lowest = std::min(lowest, g.origin.y);
        }
        if (m_layout.glyphs.empty())
            highest = lowest = 0;
        for (PlacedGlyph& g : m_layout.glyphs)
            g.origin.y -= highest;
        m_layout.baselines = {0, lowest - highest};
        m_layout.widthPt = m_layout.glyphs.empty() ? 0 : 2 * middle * std::abs(apart) + m_settings.sizePt;
    }

    // Every line as wide as the widest.
    void justify(const std::string& text)
    {
        spread(text, m_layout.widthPt, [](PlacedGlyph& glyph, double by) {
            glyph.origin.x += by;
            glyph.middle += by;
        });
    }

private:
    // Gives every line the length, about its middle.
    template <class Shift>
    void spread(const std::string& text, double length, Shift shifted)
    {
        const std::vector<Grapheme> letters = graphemes(text);
        const auto isSpace = [&](int letter) {
            const Grapheme& g = letters[static_cast<std::size_t>(letter)];
            return g.end == g.begin + 1 && (text[g.begin] == ' ' || text[g.begin] == '\t');
        };
        std::size_t first = 0;
        for (std::size_t line = 0; line < m_widths.size(); ++line) {
            std::size_t last = first;
            std::vector<double> gaps;  // 1 where room is put before a glyph
            bool words = false;
            for (; last < m_layout.glyphs.size() && m_layout.glyphs[last].line == static_cast<int>(line); ++last) {
                const bool begins = last > first && m_layout.glyphs[last].letter != m_layout.glyphs[last - 1].letter;
                const bool space = begins && isSpace(m_layout.glyphs[last - 1].letter);
                words |= space;
                gaps.push_back(space ? 2 : begins);
            }
            double count = 0;
            for (double& gap : gaps)
                count += gap = words ? gap == 2 : gap > 0;
            const double missing = length - m_widths[line];
            double shift = count > 0 ? -missing / 2 : 0;
            for (std::size_t i = first; i < last; ++i) {
                shift += count > 0 ? gaps[i - first] * missing / count : 0;
                shifted(m_layout.glyphs[i], shift);
            }
            first = last;
        }
    }

    double spaceAfter(int letter) const
    {
        const LetterStyle style = styleOf(m_settings, letter);
        return style.space / 1000 * m_settings.sizePt * style.scale;
    }

    void addRun(const Line& line, const Run& run, hb_direction_t direction)
    {
        const Font& font = m_faces.of(run.face);
        const double scale = m_settings.sizePt * run.scale / font.unitsPerEm();
        const bool stacked = direction == HB_DIRECTION_TTB;
        double Vec2::*along = stacked ? &Vec2::y : &Vec2::x;
        const double forward = stacked ? -1 : 1;
        hb_buffer_reset(m_buffer);
        hb_buffer_add_codepoints(m_buffer, line.characters.data(), static_cast<int>(line.characters.size()),
                                 static_cast<unsigned>(run.begin), static_cast<int>(run.end - run.begin));
        hb_buffer_set_direction(m_buffer, direction);
        hb_buffer_set_script(m_buffer, run.script);
        hb_buffer_set_language(m_buffer, hb_language_from_string("und", -1));
        const bool tracked = m_settings.tracking != 0 && !isJoinedScript(run.script);
        std::vector<hb_feature_t> features;
        if (tracked)
            features = {{HB_TAG('l', 'i', 'g', 'a'), 0, 0, HB_FEATURE_GLOBAL_END},
                        {HB_TAG('c', 'l', 'i', 'g'), 0, 0, HB_FEATURE_GLOBAL_END}};
        features.insert(features.end(), m_features.begin(), m_features.end());  // later ones win
        hb_shape(font.handle(), m_buffer, features.data(), static_cast<unsigned>(features.size()));

        unsigned count = 0;
        std::size_t cluster = m_layout.glyphs.size();  // its first glyph
        double begin = m_pen.x;
        const hb_glyph_info_t* infos = hb_buffer_get_glyph_infos(m_buffer, &count);
        const hb_glyph_position_t* positions = hb_buffer_get_glyph_positions(m_buffer, &count);
        for (unsigned i = 0; i < count; ++i) {
            const std::size_t character = infos[i].cluster;
            const bool beginsCluster = i == 0 || infos[i - 1].cluster != character;
            // What follows a letter stands left of it where text runs from right to left.
            if (run.level % 2 && beginsCluster) {
                m_pen.*along += forward * spaceAfter(line.letters[character]);
                begin = m_pen.x;
            }
            if (infos[i].codepoint == 0)
                noteMissing(font, line.characters[character], line.letters[character]);
            else
                m_layout.glyphs.push_back({infos[i].codepoint, line.letters[character],
                                           m_pen + Vec2{positions[i].x_offset * scale, positions[i].y_offset * scale}, 0, 0, 0, 0, run.face,
                                           run.scale});
            m_pen = m_pen + Vec2{positions[i].x_advance * scale, positions[i].y_advance * scale};
            if (i + 1 < count && infos[i + 1].cluster == character)
                continue;
            for (; cluster < m_layout.glyphs.size(); ++cluster) {
                m_layout.glyphs[cluster].middle = (begin + m_pen.x) / 2;
                m_layout.glyphs[cluster].advance = stacked ? m_settings.sizePt * run.scale : m_pen.x - begin;
            }
            const double own = run.level % 2 ? 0 : spaceAfter(line.letters[character]);
            m_lastTracking = (tracked ? m_settings.tracking / 1000 * m_settings.sizePt * run.scale : 0) + own;
            m_pen.*along += forward * m_lastTracking;
            begin = m_pen.x;
        }
    }

    void noteMissing(const Font& font, hb_codepoint_t c, int letter)
    {
        if (!needsGlyph(c))
            return;
        m_layout.missing.push_back(letter);
        base::Note note{"missing-glyph",
                        fmt::format("{} has no glyph for \"{}\" (U+{:04X}); it is left out. Choose a face that has it.", font.name(),
                                    utf8(c), static_cast<unsigned>(c)),
                        fmt::format("letter {}", letter + 1)};
        m_layout.notes.push_back(std::move(note));
    }

    const Faces& m_faces;
    const LayoutSettings& m_settings;
    std::vector<hb_feature_t> m_features;
    Layout& m_layout;
    hb_buffer_t* m_buffer;
    Vec2 m_pen;
    double m_lastTracking = 0;
    std::vector<double> m_widths;  // of lines; heights of columns
    bool m_fromTheRight = false;
};

}  // namespace

base::Result<Layout> layoutText(const std::string& text, const Faces& faces, const LayoutSettings& settings, const base::Progress& progress)
{
    if (const std::size_t count = codePoints(text).size(); count > kMostCharacters)
        return base::fail(
            base::ErrorCode::BadInput,
            fmt::format("The text has {} characters, a piece takes at most {}; split it into several pieces", count, kMostCharacters));
    Layout layout;
    LineShaper shaper(faces, settings, layout);
    double baseline = 0;
    for (const Line& line : splitLines(text, settings.capitals)) {
        if (progress.stopRequested())
            return base::fail(base::ErrorCode::Stopped, "Stopped");
        if (settings.stacked)
            shaper.addColumn(line);
        else
            shaper.addLine(line, baseline);
        baseline -= settings.lineSpacing * settings.sizePt;
    }
    if (settings.stacked)
        shaper.setColumns(text);
    else if (settings.align == Align::Justified)
        shaper.justify(text);
    return layout;
}

}  // namespace outline
