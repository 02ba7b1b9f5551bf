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

// Start is left for left-to-right lines, right for right-to-left ones. Justified lines are all as wide as the widest: by the spaces between
// words, a single word by those between its letters; they are centred.
enum class Align { Start, Centre, End, Justified };

// What a letter has of its own.
struct LetterStyle {
    int face = 0;      // of the text's faces
    double scale = 1;  // of its type, of the text's size
    double space = 0;  // after it, in thousandths of an em

    bool operator==(const LetterStyle&) const = default;
};

struct LayoutSettings {
    double sizePt = 120;       // em, > 0
    double tracking = 0;       // added after every letter, in thousandths of an em
    double lineSpacing = 1.2;  // distance of baselines, in em
    Align align = Align::Centre;
    bool capitals = false;  // letters that have one are shown as their capital (Unicode simple case mapping)
    std::string features;   // OpenType features switched by name, such as "ss01=1,liga=0"; those of the face's own are on
    // Letters stand one under the other, lines are columns: from the left, from the right where they begin with Chinese, Japanese or
    // Korean.
    bool stacked = false;

    std::vector<LetterStyle> styles = {};  // of letters by their place in the text; what lacks has none of its own

    bool operator==(const LayoutSettings&) const = default;
};

struct PlacedGlyph {
    std::uint32_t glyph = 0;
    int letter = 0;     // index of the grapheme it belongs to (first one of its cluster)
    base::Vec2 origin;  // pt, y up
    int line = 0;
    double middle = 0, advance = 0;  // of its cluster on the line, pt
    double turn = 0;                 // about the origin, radians counter-clockwise: of lettering along a route
    int face = 0;
    double scale = 1;  // of its type

    bool operator==(const PlacedGlyph&) const = default;
};

// x is 0 at the anchor of the alignment, y is 0 on the first baseline and falls from line to line. Stacked: x is 0 in the middle of the
// columns; they have two baselines, under their first letter and at their lowest end, and are widthPt wide from side to side.
struct Layout {
    std::vector<PlacedGlyph> glyphs;  // in visual order, line by line
    std::vector<double> baselines;    // y of each line, pt
    double widthPt = 0;               // advance width of the longest line
    base::Notes notes;                // "missing-glyph": the text is drawn without that letter
    std::vector<int> missing;         // those letters
};

// Shapes each line with HarfBuzz, split at bidirectional levels (UAX 9, ICU) and scripts. Lines end at line feeds.
// Letters of one line whose faces or sizes differ are shaped apart.
// Tracking switches optional ligatures off (common practice), unless they are asked for, and leaves joined scripts alone.
// `text` is valid UTF-8 of at most kMostCharacters code points. Errors: BadInput, Stopped. O(n) for n characters.
inline constexpr std::size_t kMostCharacters = 10000;
base::Result<Layout> layoutText(const std::string& text, const Faces& faces, const LayoutSettings& settings,
                                const base::Progress& progress);

}  // namespace outline
