// A font: one face of a font file, ready to shape with and to give glyph outlines.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "base/result.h"
#include "outline/curve.h"

struct hb_font_t;

namespace outline {

using Bytes = std::vector<std::uint8_t>;
using SharedBytes = std::shared_ptr<const Bytes>;

// A design axis of a variable font (OpenType fvar), in the font's own units.
struct FontAxis {
    std::string tag;   // "wght"
    std::string name;  // "Weight", as the font calls it
    double least = 0, usual = 0, most = 0;
    double value = 0;  // as the face was opened

    bool operator==(const FontAxis&) const = default;
};

// A feature that a face offers to be switched (OpenType 1.9, registered features).
struct FontFeature {
    std::string tag;     // "ss01"
    std::string name;    // as the font calls it, else as the registry does
    bool usual = false;  // on where nobody says otherwise

    bool operator==(const FontFeature&) const = default;
};

// `features` with this one on or off, or without it where that is its usual state.
std::string withFeature(const std::string& features, const FontFeature& feature, bool on);
bool isOn(const std::string& features, const FontFeature& feature);

// `variations` with this axis at `value`, or without it where `value` is the axis's usual one.
std::string withVariation(const std::string& variations, const FontAxis& axis, double value);

// Immutable and safe to use from several threads at once.
class Font {
public:
    // Opens face `index` of a TrueType, OpenType or collection file. `variations` is empty or as in CSS
    // font-variation-settings without quotes ("wght=800,wdth=90"). `name` is what errors call the file.
    // Errors: BadInput when the bytes are no font, have no such face or no glyphs.
    static base::Result<std::shared_ptr<const Font>> open(SharedBytes bytes, int index, const std::string& variations,
                                                          const std::string& name);
    ~Font();
    Font(const Font&) = delete;
    Font& operator=(const Font&) = delete;

    const std::string& name() const { return m_name; }  // full name, such as "League Spartan Bold"
    const std::string& familyName() const { return m_family; }
    const std::string& licence() const { return m_licence; }  // as the font tells it, may be empty
    double unitsPerEm() const { return m_unitsPerEm; }
    double ascent() const { return m_ascent; }            // of the line, in em, positive
    double descent() const { return m_descent; }          // in em, negative
    double capHeight() const { return m_capHeight; }      // of capitals, in em
    const SharedBytes& bytes() const { return m_bytes; }  // of the file
    int glyphCount() const { return m_glyphCount; }
    bool has(char32_t character) const;
    const std::vector<FontAxis>& axes() const { return m_axes; }  // without those the font hides; empty when it does not vary

    const std::vector<FontFeature>& features() const { return m_features; }  // that people switch, in the registry's kinds

    // Outline of a glyph in font units, y up, as the font has it: contours may overlap. Empty for a space.
    std::vector<CurveContour> glyphOutline(std::uint32_t glyph) const;

    // The shaper's own handle, for layout.cpp.
    hb_font_t* handle() const { return m_font; }

private:
    Font() = default;

    SharedBytes m_bytes;
    hb_font_t* m_font = nullptr;
    std::string m_name;
    std::string m_family;
    std::string m_licence;
    double m_unitsPerEm = 1000;
    double m_ascent = 0.8;
    double m_descent = -0.2;
    double m_capHeight = 0.7;
    int m_glyphCount = 0;
    std::vector<FontAxis> m_axes;
    std::vector<FontFeature> m_features;
};

// The faces of a text: the first one is that of letters without one of their own.
class Faces {
public:
    Faces() = default;
    Faces(const Font& one) : m_all{&one} {}  // NOLINT: one face is the usual case. It is held by others
    explicit Faces(std::vector<std::shared_ptr<const Font>> all);

    const Font& of(int face) const { return *m_all[static_cast<std::size_t>(face)]; }
    const Font& usual() const { return *m_all.front(); }
    std::size_t count() const { return m_all.size(); }

private:
    std::vector<std::shared_ptr<const Font>> m_held;
    std::vector<const Font*> m_all;
};

// Where a font was found on this machine.
struct FoundFont {
    std::string path;
    int index = 0;
    std::string variations;
    std::string family;
    std::string style;
    bool exact = true;  // false: no such family here, this is a stand-in
};

// Looks for a family with fontconfig; a style may be named ("Bold", "Black Italic") or be empty for the regular one.
// Always finds something where any font is installed. Errors: CannotRead without any font.
// Cost: the first call reads the font list (some 10 ms). Safe from several threads.
base::Result<FoundFont> findFont(const std::string& family, const std::string& style);

// Faces on this machine that have a character, the ones most like a family and style first, each family once. Cost: about 10 ms.
std::vector<FoundFont> findFontsWith(char32_t character, const std::string& family, const std::string& style, std::size_t most);

// The same for a family and style in one text, such as "Bebas Neue Bold": the last words are the style where that finds more.
base::Result<FoundFont> findFontNamed(const std::string& name);

}  // namespace outline
