// Lettering: text and a font become glyphs on lines.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/progress.h"
#include "base/result.h"
#include "base/vec.h"
#include "outline/font.h"

namespace outline {

enum class Align { Start, Centre, End };  // start is left for left-to-right lines, right for right-to-left ones

struct LayoutSettings {
    double sizePt = 120;       // em, > 0
    double tracking = 0;       // added after every letter, in thousandths of an em
    double lineSpacing = 1.2;  // distance of baselines, in em
    Align align = Align::Centre;
    std::string features;  // OpenType features switched by name, such as "ss01=1,liga=0"; those of the face's own are on

    bool operator==(const LayoutSettings&) const = default;
};

struct PlacedGlyph {
    std::uint32_t glyph = 0;
    int letter = 0;     // index of the grapheme it belongs to (first one of its cluster)
    base::Vec2 origin;  // pt, y up

    bool operator==(const PlacedGlyph&) const = default;
};

// x is 0 at the anchor of the alignment, y is 0 on the first baseline and falls from line to line.
struct Layout {
    std::vector<PlacedGlyph> glyphs;  // in visual order, line by line
    std::vector<double> baselines;    // y of each line, pt
    double widthPt = 0;               // advance width of the longest line
    base::Notes notes;                // "missing-glyph": the text is drawn without that letter
};

// Shapes each line with HarfBuzz, split at bidirectional levels (UAX 9, ICU) and scripts. Lines end at line feeds.
// Tracking switches optional ligatures off (common practice), unless they are asked for, and leaves joined scripts alone.
// `text` is valid UTF-8 of at most kMostCharacters code points. Errors: BadInput, Stopped. O(n) for n characters.
inline constexpr std::size_t kMostCharacters = 10000;
base::Result<Layout> layoutText(const std::string& text, const Font& font, const LayoutSettings& settings, const base::Progress& progress);

}  // namespace outline
