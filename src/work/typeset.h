// A piece's text in its faces: what its letters have of their own, and stand-ins for what a face lacks.
#pragma once

#include "outline/layout.h"
#include "work/cache.h"
#include "work/work.h"

namespace work {

struct Typeset {
    outline::Faces faces;
    outline::Layout layout;  // before it is set on what it runs along
    double capHeightPt = 0;  // of the piece's own face
};

// The font of a choice: its asset, or the file found on this machine. A missing font becomes a stand-in and a note.
// Errors: BadInput for an asset that is no font, CannotRead without any font.
base::Result<std::shared_ptr<const outline::Font>> openFont(const Work& work, const FontChoice& choice, Cache& cache, base::Notes& notes);

// Sets a lettering's text, or another one in its place that has as many letters, at its own size or another. Letters that their face has
// not are set in one of this machine's that has them. Notes: "missing-font", "lent-face" and "missing-glyph" by "letter N". Errors as
// openFont() and layoutText(). O(letters); a character nobody has seen yet takes fontconfig some 10 ms.
base::Result<Typeset> typeset(const Work& work, const Piece& piece, Cache& cache, base::Notes& notes, const base::Progress& progress = {});
base::Result<Typeset> typeset(const Work& work, const Piece& piece, const std::string& text, double sizePt, Cache& cache,
                              base::Notes& notes, const base::Progress& progress = {});

// What a notice "lent-face" is about: faces of this machine that have what the letter's own face lacks, the most alike first; and all
// letters of its piece that their own face lacks likewise.
std::vector<outline::FoundFont> facesThatHave(const Work& work, const Address& letter, std::size_t most);
std::vector<std::string> lettersLike(const Work& work, const Address& letter, Cache& cache);

}  // namespace work
