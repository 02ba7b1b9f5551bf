#include "work/typeset.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "base/file.h"
#include "outline/text.h"

namespace work {

namespace {

using FontResult = base::Result<std::shared_ptr<const outline::Font>>;

FontResult opened(outline::SharedBytes bytes, int index, const std::string& variations, const std::string& name, Cache& cache)
{
    if (auto font = cache.findFont(bytes, index, variations))
        return font;
    auto font = outline::Font::open(bytes, index, variations, name);
    if (font)
        cache.addFont(bytes, index, variations, *font);
    return font;
}

FontResult openFound(const outline::FoundFont& found, const std::string& variations, Cache& cache)
{
    outline::SharedBytes bytes = cache.findFile(found.path);
    if (!bytes) {
        auto read = base::readFile(found.path);
        if (!read)
            return tl::unexpected<base::Error>(read.error());
        bytes = std::make_shared<const outline::Bytes>(std::move(*read));
        cache.addFile(found.path, bytes);
    }
    return opened(std::move(bytes), found.index, variations.empty() ? found.variations : variations, found.path, cache);
}

// The characters of a letter that are seen.
std::vector<char32_t> seenIn(const std::string& letter)
{
    std::vector<char32_t> characters;
    for (const outline::CodePoint& c : outline::codePoints(letter))
        if (outline::needsGlyph(c.value))
            characters.push_back(c.value);
    return characters;
}

// A lettering's text, letter by letter.
std::vector<std::string> lettersOf(const Piece& piece)
{
    const std::string& text = piece.lettering()->text;
    std::vector<std::string> letters;
    for (const outline::Grapheme& g : outline::graphemes(text))
        letters.push_back(text.substr(g.begin, g.end - g.begin));
    return letters;
}

// The faces of a text as they are opened, each once.
class TextFaces {
public:
    TextFaces(const Work& work, Cache& cache, base::Notes& notes) : m_work(work), m_cache(cache), m_notes(notes) {}

    // Its number; errors are those of the face.
    base::Result<int> add(const FontChoice& choice)
    {
        const auto known = std::find_if(m_choices.begin(), m_choices.end(), [&](const auto& c) { return c.first == choice; });
        if (known != m_choices.end())
            return known->second;
        auto font = openFont(m_work, choice, m_cache, m_notes);
        if (!font)
            return tl::unexpected<base::Error>(font.error());
        m_choices.emplace_back(choice, static_cast<int>(m_fonts.size()));
        m_fonts.push_back(std::move(*font));
        return m_choices.back().second;
    }

    // One that has all these characters, most like the choice: what was lent before comes first. -1: there is none.
    int lend(const std::vector<char32_t>& characters, const FontChoice& like)
    {
        const auto hasAll = [&](const outline::Font& font) {
            return std::all_of(characters.begin(), characters.end(), [&](char32_t c) { return font.has(c); });
        };
        for (const auto& [from, number] : m_lent)
            if (from == like && hasAll(*m_fonts[static_cast<std::size_t>(number)]))
                return number;
        constexpr std::size_t kTried = 4;
        for (const outline::FoundFont& found : outline::findFontsWith(characters.front(), like.family, like.style, kTried)) {
            auto font = openFound(found, {}, m_cache);
            if (!font || !hasAll(**font))
                continue;
            m_lent.emplace_back(like, static_cast<int>(m_fonts.size()));
            m_fonts.push_back(std::move(*font));
            return m_lent.back().second;
        }
        return -1;
    }

    const std::vector<std::shared_ptr<const outline::Font>>& fonts() const { return m_fonts; }

private:
    const Work& m_work;
    Cache& m_cache;
    base::Notes& m_notes;
    std::vector<std::shared_ptr<const outline::Font>> m_fonts;
    std::vector<std::pair<FontChoice, int>> m_choices, m_lent;
};

// The letters that no face of the text had, from faces of this machine.
void lendFaces(const Piece& piece, const std::string& text, const std::vector<int>& missing, outline::LayoutSettings& settings,
               TextFaces& faces, base::Notes& notes)
{
    const std::vector<outline::Grapheme> letters = outline::graphemes(text);
    const std::vector<std::string>& ids = piece.letterIds();
    settings.styles.resize(letters.size());
    std::map<std::pair<int, int>, std::pair<std::string, int>> lent;  // by lender and face that lacks it: letters, and the first one
    for (const int number : missing) {
        const auto at = static_cast<std::size_t>(number);
        const std::string letter = text.substr(letters[at].begin, letters[at].end - letters[at].begin);
        const std::vector<char32_t> characters = seenIn(letter);
        const int own = settings.styles[at].face;
        const int lender =
            characters.empty() ? -1 : faces.lend(characters, at < ids.size() ? fontOf(piece, ids[at]) : piece.lettering()->font);
        if (lender < 0)
            continue;
        settings.styles[at].face = lender;
        auto& [words, first] = lent.try_emplace({lender, own}, std::string(), number + 1).first->second;
        if (words.find(letter) == std::string::npos)
            words += (words.empty() ? "" : " ") + letter;
    }
    for (const auto& [between, said] : lent)
        notes.push_back({"lent-face",
                         fmt::format("{} has no {}: {} stands in. Keep that face, or choose another one for these letters",
                                     faces.fonts()[static_cast<std::size_t>(between.second)]->name(), said.first,
                                     faces.fonts()[static_cast<std::size_t>(between.first)]->name()),
                         fmt::format("letter {}", said.second)});
}

}  // namespace

std::vector<outline::FoundFont> facesThatHave(const Work& work, const Address& letter, std::size_t most)
{
    const Piece& piece = work.pieces.items.at(letter.piece);
    const auto& ids = piece.letterIds();
    const auto at = static_cast<std::size_t>(std::find(ids.begin(), ids.end(), letter.letter) - ids.begin());
    const auto characters = piece.lettering() && at < ids.size() ? seenIn(lettersOf(piece)[at]) : std::vector<char32_t>();
    if (characters.empty())
        return {};
    const FontChoice& like = fontOf(piece, letter.letter);
    return outline::findFontsWith(characters.front(), like.family, like.style, most);
}

std::vector<std::string> lettersLike(const Work& work, const Address& letter, Cache& cache)
{
    const Piece& piece = work.pieces.items.at(letter.piece);
    std::vector<std::string> letters;
    base::Notes notes;
    const auto texts = lettersOf(piece);
    for (std::size_t i = 0; i < texts.size(); ++i) {
        const std::string& id = piece.letterIds()[i];
        const auto font = fontOf(piece, id) == fontOf(piece, letter.letter) ? openFont(work, fontOf(piece, id), cache, notes)
                                                                            : base::Result<std::shared_ptr<const outline::Font>>(nullptr);
        const auto characters = seenIn(texts[i]);
        if (font && *font && std::any_of(characters.begin(), characters.end(), [&](char32_t c) { return !(*font)->has(c); }))
            letters.push_back(id);
    }
    return letters;
}

FontResult openFont(const Work& work, const FontChoice& choice, Cache& cache, base::Notes& notes)
{
    if (const auto asset = work.assets.find(choice.asset); !choice.asset.empty() && asset != work.assets.end())
        return opened(asset->second.bytes, choice.index, choice.variations, choice.asset, cache);
    auto found = outline::findFont(choice.family, choice.style);
    if (!found)
        return tl::unexpected<base::Error>(found.error());
    if (!found->exact)
        notes.push_back({"missing-font",
                         fmt::format("The font \"{}{}{}\" is not on this machine; \"{}\" stands in. Install it or choose another.",
                                     choice.family, choice.style.empty() ? "" : " ", choice.style, found->family),
                         {}});
    return openFound(*found, choice.variations, cache);
}

base::Result<Typeset> typeset(const Work& work, const Piece& piece, Cache& cache, base::Notes& notes, const base::Progress& progress)
{
    return typeset(work, piece, piece.lettering()->text, piece.lettering()->layout.sizePt, cache, notes, progress);
}

base::Result<Typeset> typeset(const Work& work, const Piece& piece, const std::string& text, double sizePt, Cache& cache,
                              base::Notes& notes, const base::Progress& progress)
{
    const Lettering& lettering = *piece.lettering();
    outline::LayoutSettings settings = lettering.layout;
    settings.sizePt = sizePt;
    settings.stacked = settings.stacked && lettering.run.isStraight();
    TextFaces faces(work, cache, notes);
    if (const auto usual = faces.add(lettering.font); !usual)
        return tl::unexpected<base::Error>(usual.error());
    if (!piece.letters.empty())
        for (std::size_t i = 0; i < lettering.letterIds.size(); ++i) {
            const auto own = piece.letters.find(lettering.letterIds[i]);
            if (own == piece.letters.end())
                continue;
            outline::LetterStyle style{0, own->second.typeSize, own->second.space};
            if (own->second.font) {
                const auto face = faces.add(*own->second.font);
                if (!face)
                    return tl::unexpected<base::Error>(face.error());
                style.face = *face;
            }
            if (style == outline::LetterStyle())
                continue;
            settings.styles.resize(lettering.letterIds.size());
            settings.styles[i] = style;
        }
    Typeset result;
    const auto setNow = [&]() -> base::Result<void> {
        result.faces = outline::Faces(faces.fonts());
        auto layout = outline::layoutText(text, result.faces, settings, progress);
        if (!layout)
            return tl::unexpected<base::Error>(layout.error());
        result.layout = std::move(*layout);
        return {};
    };
    if (const auto set = setNow(); !set)
        return tl::unexpected<base::Error>(set.error());
    if (!result.layout.missing.empty()) {
        lendFaces(piece, text, result.layout.missing, settings, faces, notes);
        if (const auto set = setNow(); !set)
            return tl::unexpected<base::Error>(set.error());
    }
    notes.insert(notes.end(), result.layout.notes.begin(), result.layout.notes.end());
    result.layout.notes.clear();
    result.capHeightPt = result.faces.usual().capHeight() * sizePt;
    return result;
}

}  // namespace work
