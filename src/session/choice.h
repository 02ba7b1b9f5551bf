// What is chosen: whole pieces and single letters, and the values they share.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "work/work.h"

namespace session {

using Target = work::Address;
using work::titleOf;

// In order of choosing; the last one leads where only one can. A piece that is chosen whole has no letters beside it.
struct Choice {
    std::vector<Target> targets;

    bool operator==(const Choice&) const = default;
    bool empty() const { return targets.empty(); }
    bool has(const Target& target) const;
    std::vector<std::string> pieces() const;  // each once

    void set(const Target& target) { targets = {target}; }
    void add(const Target& target);
    void remove(const Target& target);
    void toggle(const Target& target) { has(target) ? remove(target) : add(target); }
};

// The choice without what is no longer there.
Choice valid(const work::Work& work, const Choice& choice);

// Every form or material set the choice acts on: of a piece with all that its letters have of their own, or of single letters.
// Reading gives what a letter shows; writing gives it one of its own first.
std::vector<const work::Form*> formsOf(const work::Work& work, const Choice& choice);
std::vector<work::Form*> formsIn(work::Work& work, const Choice& choice);
std::vector<const work::MaterialSet*> materialsOf(const work::Work& work, const Choice& choice);
std::vector<work::MaterialSet*> materialsIn(work::Work& work, const Choice& choice);
// Those of one kind among them.
template <class F>
std::vector<const F*> formsOf(const work::Work& work, const Choice& choice)
{
    std::vector<const F*> some;
    for (const work::Form* form : formsOf(work, choice))
        if (const auto* one = std::get_if<F>(form))
            some.push_back(one);
    return some;
}
template <class F>
std::vector<F*> formsIn(work::Work& work, const Choice& choice)
{
    std::vector<F*> some;
    for (work::Form* form : formsIn(work, choice))
        if (auto* one = std::get_if<F>(form))
            some.push_back(one);
    return some;
}

// The faces of all that is chosen: of letterings, or of single letters; and changing them. A whole lettering's letters keep faces of
// their own.
std::vector<const work::FontChoice*> facesOf(const work::Work& work, const Choice& choice);
void changeFaces(work::Work& work, const Choice& choice, const std::function<void(work::FontChoice&)>& change);

// Letters that are again like their piece lose what they had of their own.
void tidyLetters(work::Work& work);

// The value that all have, or nothing when they differ (or there are none).
template <class T, class Items, class Get>
std::optional<T> common(const Items& items, Get get)
{
    std::optional<T> value;
    for (const auto* item : items) {
        const T own = get(*item);
        if (value && !(*value == own))
            return std::nullopt;
        value = own;
    }
    return value;
}

// A letter as it is read.
std::string letterText(const work::Piece& piece, const std::string& letter);

}  // namespace session
