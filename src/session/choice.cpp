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
        const auto& ids = piece->second.letterIds();
        return !t.letter.empty() && std::find(ids.begin(), ids.end(), t.letter) == ids.end();
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
            auto& own = piece.letters[t.letter].form;
            if (!own)
                own = piece.form;
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

std::vector<const solid::SlabForm*> slabsOf(const work::Work& work, const Choice& choice)
{
    std::vector<const solid::SlabForm*> slabs;
    for (const work::Form* form : formsOf(work, choice))
        if (const auto* slab = std::get_if<solid::SlabForm>(form))
            slabs.push_back(slab);
    return slabs;
}

std::vector<solid::SlabForm*> slabsIn(work::Work& work, const Choice& choice)
{
    std::vector<solid::SlabForm*> slabs;
    for (work::Form* form : formsIn(work, choice))
        if (auto* slab = std::get_if<solid::SlabForm>(form))
            slabs.push_back(slab);
    return slabs;
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
            auto& own = piece.letters[t.letter].material;
            if (!own)
                own = piece.material;
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
            if (own.form == piece.form)
                own.form.reset();
            if (own.material == piece.material)
                own.material.reset();
        }
        std::erase_if(piece.letters, [](const auto& entry) { return entry.second == work::LetterOwn{}; });
    }
}

std::string letterText(const work::Piece& piece, const std::string& letter)
{
    const auto& ids = piece.letterIds();
    const auto at = static_cast<std::size_t>(std::find(ids.begin(), ids.end(), letter) - ids.begin());
    if (at >= ids.size())
        return {};
    if (const work::Artwork* artwork = piece.artwork()) {
        const work::ArtShape& shape = artwork->shapes.items.at(letter);
        return shape.name.empty() ? fmt::format("Shape {}", at + 1) : shape.name;
    }
    const std::string& text = piece.lettering()->text;
    const auto letters = outline::graphemes(text);
    if (at >= letters.size())
        return {};
    return text.substr(letters[at].begin, letters[at].end - letters[at].begin);
}

}  // namespace session
