#include "work/values.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <set>

#include "picture/colour.h"

namespace work {

namespace {

double inRange(const Number& line, double v)
{
    return std::clamp(std::isnan(v) ? 0.0 : v, line.least, line.most);
}

// Text cut to so many bytes, not inside a character.
void shorten(std::string& text, std::size_t bytes)
{
    if (text.size() <= bytes)
        return;
    while (bytes > 0 && (static_cast<unsigned char>(text[bytes]) & 0xc0) == 0x80)
        --bytes;
    text.resize(bytes);
}

struct Clamp : Visitor {
    void number(const Number& line, const NumberAt& v) override { v.set(inRange(line, v.get())); }
    void text(const Text& about, std::string& v) override
    {
        shorten(v, about.mostBytes);
        if (about.wrong && !about.wrong(v).empty())
            v.clear();
    }
    void colour(const About&, Rgb& v, std::string*) override
    {
        for (float* c : {&v.x, &v.y, &v.z})
            *c = std::isnan(*c) ? 0 : std::clamp(*c, 0.0f, 1.0f);
    }
};

struct Growing : Visitor {
    double factor;
    explicit Growing(double by) : factor(by) {}
    void number(const Number& line, const NumberAt& v) override
    {
        if (line.grows)
            v.set(v.get() * factor);
    }
};

struct DropLater : Visitor {
    static bool later(const About& about) { return about.counts != Counts::Exposure; }
    void number(const Number& line, const NumberAt& v) override
    {
        if (later(line))
            v.set(inRange(line, 0));
    }
    void flag(const About& about, bool& v) override { v = v && !later(about); }
    void text(const Text& about, std::string& v) override
    {
        if (later(about))
            v.clear();
    }
    void list(const About& about, std::vector<std::string>& v) override
    {
        if (later(about))
            v.clear();
    }
    void oneOf(const About& about, const OneOfAt& v) override
    {
        if (later(about))
            v.set(0);
    }
    void colour(const About& about, Rgb& v, std::string* swatch) override
    {
        if (later(about))
            v = {1, 1, 1};
        if (swatch)
            swatch->clear();
    }
    void object(const About& about, const Thing& v) override
    {
        if (later(about))
            v.reset();
        else
            v.visit(*this);
    }
    void things(const About& about, const ThingsAt& v) override
    {
        if (later(about))
            v.clear();
        else
            Visitor::things(about, v);
    }
};

struct Colours : Visitor {
    std::vector<ColourUse> uses;
    void colour(const About&, Rgb& v, std::string* swatch) override
    {
        if (swatch)
            uses.push_back({v, *swatch});
    }
};

}  // namespace

void clamp(Work& work)
{
    Clamp visitor;
    describe(visitor, work);
}

void grow(Work& work, double factor)
{
    Growing visitor(factor);
    describe(visitor, work);
    for (auto& [_, layer] : work.finish.layers.items)
        for (auto& [id, stroke] : layer.strokes.items) {
            std::vector<base::Vec2> points = pointsOf(stroke.points);
            for (base::Vec2& p : points)
                p = p * factor;
            stroke.points = textOf(points);
        }
}

void grow(Piece& piece, double factor)
{
    Growing visitor(factor);
    for (auto& [_, step] : piece.steps.items)
        describe(visitor, step);
    describe(visitor, piece.form);
    describe(visitor, piece.material);
    for (auto& [_, own] : piece.letters)
        describe(visitor, own);
}

namespace {

// Values of a struct that differ, and of the structs in it.
template <class T>
void takeValues(T& work, T from, T to)
{
    const auto target = valuesIn(work), was = valuesIn(from), is = valuesIn(to);
    for (std::size_t i = 0; i < target.size(); ++i) {
        if (target[i].isNumber()) {
            if (was[i].asNumber() != is[i].asNumber())
                target[i].setNumber(is[i].asNumber());
        } else if (const auto* flag = std::get_if<bool*>(&target[i].at)) {
            if (*std::get<bool*>(was[i].at) != *std::get<bool*>(is[i].at))
                **flag = *std::get<bool*>(is[i].at);
        } else if (const auto* choice = std::get_if<OneOfAt>(&target[i].at)) {
            if (std::get<OneOfAt>(was[i].at).get() != std::get<OneOfAt>(is[i].at).get())
                choice->set(std::get<OneOfAt>(is[i].at).get());
        } else if (const auto* text = std::get_if<std::string*>(&target[i].at)) {
            if (*std::get<std::string*>(was[i].at) != *std::get<std::string*>(is[i].at))
                **text = *std::get<std::string*>(is[i].at);
        }
    }
}

void takeForm(Form& work, const Form& from, const Form& to)
{
    if (from == to)
        return;
    if (work.index() != from.index() || from.index() != to.index() || std::holds_alternative<Newer>(to)) {
        work = to;
        return;
    }
    std::visit(
        [&]<class F>(F& form) {
            if constexpr (!std::is_same_v<F, Newer>)
                takeValues(form, std::get<F>(from), std::get<F>(to));
            if constexpr (requires { form.along; })
                takeValues(form.along, std::get<F>(from).along, std::get<F>(to).along);
            if constexpr (std::is_same_v<F, solid::SlabForm>) {
                takeValues(form.front, std::get<F>(from).front, std::get<F>(to).front);
                takeValues(form.back, std::get<F>(from).back, std::get<F>(to).back);
                takeValues(form.inlay, std::get<F>(from).inlay, std::get<F>(to).inlay);
                takeValues(form.flutes, std::get<F>(from).flutes, std::get<F>(to).flutes);
            }
        },
        work);
}

// What hands change of a material: how its pictures lie.
void takePictures(MaterialSet& work, const MaterialSet& from, const MaterialSet& to)
{
    takeValues(work.piece.pictures, from.piece.pictures, to.piece.pictures);
    for (auto& [name, part] : work.parts)
        if (const auto was = from.parts.find(name), is = to.parts.find(name); was != from.parts.end() && is != to.parts.end())
            takeValues(part.pictures, was->second.pictures, is->second.pictures);
}

void takeLetter(Piece& work, const Piece& from, const Piece& to, const std::string& id)
{
    const auto own = [&](const Piece& piece) {
        const auto at = piece.letters.find(id);
        return at == piece.letters.end() ? LetterOwn{} : at->second;
    };
    const LetterOwn was = own(from), is = own(to);
    if (was == is)
        return;
    LetterOwn& target = work.letters[id];
    takeValues(target, was, is);
    if (is.form && !target.form)
        target.form = work.form;
    if (is.form && target.form)
        takeForm(*target.form, was.form ? *was.form : from.form, *is.form);
    else if (was.form && !is.form)
        target.form.reset();
    if (is.material && !target.material)
        target.material = work.material;
    if (is.material && target.material)
        takePictures(*target.material, was.material ? *was.material : from.material, *is.material);
}

// Points that came or went come with all others.
template <class T>
void takePoints(Ordered<T>& work, const Ordered<T>& from, const Ordered<T>& to)
{
    if (from == to)
        return;
    if (from.order != to.order || work.order != from.order) {
        work = to;
        return;
    }
    for (auto& [id, point] : work.items)
        takeValues(point, from.items.at(id), to.items.at(id));
}

void takeLine(DrawnLine& work, const DrawnLine& from, const DrawnLine& to)
{
    takeValues(work, from, to);
    takePoints(work.points, from.points, to.points);
}

void takeSource(Piece& work, const Piece& from, const Piece& to)
{
    if (work.lettering() && from.lettering() && to.lettering()) {
        takeValues(*work.lettering(), *from.lettering(), *to.lettering());
        Run& run = work.lettering()->run;
        const Run &was = from.lettering()->run, &is = to.lettering()->run;
        takeValues(run, was, is);
        takeLine(run.line, was.line, is.line);
        takePoints(run.top, was.top, is.top);
        takePoints(run.bottom, was.bottom, is.bottom);
    } else if (work.shape() && from.shape() && to.shape()) {
        takeValues(*work.shape(), *from.shape(), *to.shape());
        takeLine(work.shape()->line, from.shape()->line, to.shape()->line);
    } else if (work.artwork() && from.artwork() && to.artwork()) {
        takeValues(*work.artwork(), *from.artwork(), *to.artwork());
    }
}

void takeSteps(Piece& work, const Piece& from, const Piece& to)
{
    for (auto& [id, step] : work.steps.items) {
        const auto was = from.steps.items.find(id), is = to.steps.items.find(id);
        if (was == from.steps.items.end() || is == to.steps.items.end())
            continue;
        if (step.what.index() != was->second.what.index() || step.what.index() != is->second.what.index())
            continue;
        auto* cut = std::get_if<Cut>(&step.what);
        const auto *cutWas = std::get_if<Cut>(&was->second.what), *cutIs = std::get_if<Cut>(&is->second.what);
        if (cut && cutWas && cutIs)
            takeLine(cut->line, cutWas->line, cutIs->line);
        takeValues(step, was->second, is->second);
    }
}

void takePiece(Piece& work, const Piece& from, const Piece& to)
{
    takeSource(work, from, to);
    takeSteps(work, from, to);
    takeValues(work.placement, from.placement, to.placement);
    takeValues(work.copies, from.copies, to.copies);
    takeForm(work.form, from.form, to.form);
    takePictures(work.material, from.material, to.material);
    std::set<std::string> letters;
    for (const Piece* piece : {&from, &to})
        for (const auto& [id, _] : piece->letters)
            letters.insert(id);
    if (letters.empty())
        return;
    const std::vector<std::string> all = work.allLetters();
    const std::set<std::string> there(all.begin(), all.end());
    for (const std::string& id : letters)
        if (there.contains(id))
            takeLetter(work, from, to, id);
}

}  // namespace

namespace {

// Strokes that came or were drawn on.
void takeStrokes(Layer& layer, const Layer& from, const Layer& to)
{
    for (const std::string& id : to.strokes.order) {
        const Stroke& is = to.strokes.items.at(id);
        const auto was = from.strokes.items.find(id);
        if (was != from.strokes.items.end() && was->second == is)
            continue;
        if (layer.strokes.items.contains(id))
            layer.strokes.items.at(id) = is;
        else
            layer.strokes.add(id, is);
    }
}

}  // namespace

void applyDifference(Work& work, const Work& from, const Work& to)
{
    const auto each = [](auto& things, const auto& was, const auto& is, auto take) {
        for (auto& [id, thing] : things.items) {
            const auto a = was.items.find(id), b = is.items.find(id);
            if (a != was.items.end() && b != is.items.end() && !(a->second == b->second))
                take(thing, a->second, b->second);
        }
    };
    each(work.pieces, from.pieces, to.pieces, takePiece);
    each(work.lights, from.lights, to.lights, takeValues<Light>);
    each(work.surroundings.cards, from.surroundings.cards, to.surroundings.cards, takeValues<SkyCard>);
    each(work.finish.layers, from.finish.layers, to.finish.layers, takeStrokes);
    work.nextId = std::max(work.nextId, to.nextId);
    if (work.shown == from.shown && from.shown == to.shown && !(from.view() == to.view()))
        takeValues(work.view(), from.view(), to.view());
}

namespace {

struct HashNumbers : Visitor {
    std::uint64_t hash = 0;
    void number(const Number&, const NumberAt& v) override
    {
        hash = (hash ^ std::bit_cast<std::uint64_t>(v.get())) * 0x9e3779b97f4a7c15u;
        hash ^= hash >> 29;
    }
};

}  // namespace

std::uint64_t hashOf(const Form& form)
{
    HashNumbers visitor;
    describe(visitor, const_cast<Form&>(form));  // read only
    return visitor.hash;
}

void dropLaterThanExposure(Work& work)
{
    DropLater visitor;
    describe(visitor, work);
}

std::vector<ColourUse> colourUses(Work& work)
{
    Colours visitor;
    describe(visitor, work);
    return std::move(visitor.uses);
}

std::vector<Rgb> coloursOf(const Work& work)
{
    std::vector<Rgb> colours;
    std::vector<std::string> seen;
    for (const ColourUse& use : colourUses(const_cast<Work&>(work)))  // read only
        if (const std::string hex = picture::hexFromRgb(use.colour); std::find(seen.begin(), seen.end(), hex) == seen.end()) {
            seen.push_back(hex);
            colours.push_back(use.colour);
        }
    return colours;
}

void Value::setNumber(double value) const
{
    if (isNumber())
        std::get<NumberAt>(at).set(inRange(number, value));
}

namespace {

struct Find : Visitor {
    std::vector<Value> found;
    bool isKnown = true;

    void add(const About& about, decltype(Value::at) at)
    {
        Value value;
        static_cast<About&>(value.number) = about;
        value.number.applies = about.applies && isKnown;
        value.at = std::move(at);
        found.push_back(std::move(value));
    }
    void number(const Number& line, const NumberAt& v) override { found.push_back({line.when(line.applies && isKnown), v}); }
    void flag(const About& about, bool& v) override { add(about, &v); }
    void text(const Text& about, std::string& v) override { add(about, &v); }
    void oneOf(const About& about, const OneOfAt& v) override { add(about, v); }
    void colour(const About& about, Rgb& v, std::string* swatch) override { add(about, ColourAt{&v, swatch}); }
    void object(const About&, const Thing&) override {}
    void own(const About&, const OwnAt&) override {}
    void things(const About&, const ThingsAt&) override {}
    bool kind(const About& about, const OneOfAt& v, std::optional<Newer>& newer) override
    {
        isKnown = !newer;
        oneOf(about, v);
        return true;
    }
};

}  // namespace

std::vector<Value> valuesIn(const Thing& thing)
{
    Find find;
    thing.visit(find);
    return std::move(find.found);
}

}  // namespace work
