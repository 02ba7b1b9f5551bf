#include "session/choice.h"

#include <fmt/format.h>

#include <algorithm>

#include "outline/text.h"

namespace session {

bool Choice::has(const Target& target) const
{
    return std::find(targets.begin(), targets.end(), target) != targets.end();
}

std::vector<std::string> Choice::pieces() const
{
    std::vector<std::string> list;
    for (const Target& t : targets)
        if (std::find(list.begin(), list.end(), t.piece) == list.end())
            list.push_back(t.piece);
    return list;
}

void Choice::add(const Target& target)
{
    std::erase_if(targets,
                  [&](const Target& t) { return t.piece == target.piece && (target.letter.empty() || t.letter.empty() || t == target); });
    targets.push_back(target);
}

void Choice::remove(const Target& target)
{
    std::erase(targets, target);
}

Choice valid(const work::Work& work, const Choice& choice)
{
    Choice result = choice;
    std::erase_if(result.targets, [&](const Target& t) {
        const auto piece = work.pieces.items.find(t.piece);
        if (piece == work.pieces.items.end())
            return true;
        return !t.letter.empty() && !piece->second.hasLetter(t.letter);
    });
    return result;
}

std::vector<const work::Form*> formsOf(const work::Work& work, const Choice& choice)
{
    std::vector<const work::Form*> forms;
    for (const Target& t : choice.targets) {
        const work::Piece& piece = work.pieces.items.at(t.piece);
        forms.push_back(&piece.formOf(t.letter));
        if (t.letter.empty())
            for (const auto& [_, own] : piece.letters)
                if (own.form)
                    forms.push_back(&*own.form);
    }
    return forms;
}

std::vector<work::Form*> formsIn(work::Work& work, const Choice& choice)
{
    std::vector<work::Form*> forms;
    for (const Target& t : choice.targets) {
        work::Piece& piece = work.pieces.items.at(t.piece);
        if (!t.letter.empty()) {
            const work::Form now = piece.formOf(t.letter);
            auto& own = piece.letters[t.letter].form;
            if (!own)
                own = now;
            forms.push_back(&*own);
            continue;
        }
        forms.push_back(&piece.form);
        for (auto& [_, own] : piece.letters)
            if (own.form)
                forms.push_back(&*own.form);
    }
    return forms;
}

std::vector<const work::FontChoice*> facesOf(const work::Work& work, const Choice& choice)
{
    std::vector<const work::FontChoice*> faces;
    for (const Target& t : choice.targets) {
        const work::Piece& piece = work.pieces.items.at(t.piece);
        if (piece.lettering())
            faces.push_back(&work::fontOf(piece, work::letterOf(t.letter)));
    }
    return faces;
}

void changeFaces(work::Work& work, const Choice& choice, const std::function<void(work::FontChoice&)>& change)
{
    for (const Target& t : choice.targets) {
        work::Piece& piece = work.pieces.items.at(t.piece);
        if (!piece.lettering())
            continue;
        if (t.letter.empty()) {
            change(piece.lettering()->font);
            continue;
        }
        work::FontChoice own = work::fontOf(piece, work::letterOf(t.letter));
        change(own);
        piece.letters[work::letterOf(t.letter)].font = std::move(own);
    }
}

std::vector<const work::MaterialSet*> materialsOf(const work::Work& work, const Choice& choice)
{
    std::vector<const work::MaterialSet*> sets;
    for (const Target& t : choice.targets) {
        const work::Piece& piece = work.pieces.items.at(t.piece);
        sets.push_back(&piece.materialOf(t.letter));
        if (t.letter.empty())
            for (const auto& [_, own] : piece.letters)
                if (own.material)
                    sets.push_back(&*own.material);
    }
    return sets;
}

std::vector<work::MaterialSet*> materialsIn(work::Work& work, const Choice& choice)
{
    std::vector<work::MaterialSet*> sets;
    for (const Target& t : choice.targets) {
        work::Piece& piece = work.pieces.items.at(t.piece);
        if (!t.letter.empty()) {
            const work::MaterialSet now = piece.materialOf(t.letter);
            auto& own = piece.letters[t.letter].material;
            if (!own)
                own = now;
            sets.push_back(&*own);
            continue;
        }
        sets.push_back(&piece.material);
        for (auto& [_, own] : piece.letters)
            if (own.material)
                sets.push_back(&*own.material);
    }
    return sets;
}

void tidyLetters(work::Work& work)
{
    for (auto& [_, piece] : work.pieces.items) {
        for (auto& [letter, own] : piece.letters) {
            // A segment is like its letter, which may differ from the piece.
            const auto whole = piece.letters.find(work::letterOf(letter));
            const bool isSegment = whole != piece.letters.end() && whole->first != letter;
            if (own.form == (isSegment && whole->second.form ? *whole->second.form : piece.form))
                own.form.reset();
            if (own.material == (isSegment && whole->second.material ? *whole->second.material : piece.material))
                own.material.reset();
            if (own.font && piece.lettering() && *own.font == piece.lettering()->font)
                own.font.reset();
        }
        std::erase_if(piece.letters, [](const auto& entry) { return entry.second == work::LetterOwn{}; });
    }
}

std::string letterText(const work::Piece& piece, const std::string& letter)
{
    if (const auto own = piece.letters.find(letter); own != piece.letters.end() && !own->second.name.empty())
        return own->second.name;
    const auto& ids = piece.letterIds();
    const auto at = static_cast<std::size_t>(std::find(ids.begin(), ids.end(), letter) - ids.begin());
    if (at >= ids.size()) {
        const std::string whole = work::letterOf(letter);
        const std::string of = whole == letter ? std::string() : letterText(piece, whole);
        return of.empty() ? of : of + ", segment";
    }
    if (const work::Artwork* artwork = piece.artwork()) {
        const work::ArtShape& shape = artwork->shapes.items.at(letter);
        return shape.name.empty() ? fmt::format("Shape {}", at + 1) : shape.name;
    }
    if (piece.shape())
        return titleOf(piece);
    const std::string& text = piece.lettering()->text;
    const auto letters = outline::graphemes(text);
    if (at >= letters.size())
        return {};
    return text.substr(letters[at].begin, letters[at].end - letters[at].begin);
}

}  // namespace session
