#include "work/values.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <set>

#include "picture/colour.h"

namespace work {

namespace {

// Goes through structs in structs; what a visitor does not care for it leaves out.
template <class Visitor>
struct Walk {
    Visitor& self() { return static_cast<Visitor&>(*this); }
    template <class N>
    void number(const Number&, N&)
    {
    }
    template <class I>
    void whole(const Number&, I&)
    {
    }
    void flag(const About&, bool&) {}
    void text(const Text&, std::string&) {}
    void list(const About&, std::vector<std::string>&) {}
    template <class E, std::size_t N>
    void oneOf(const About&, E&, const Named<E> (&)[N])
    {
    }
    void colour(const About&, Rgb&, std::string*) {}
    template <class T>
    void object(const About&, T& v)
    {
        describe(self(), v);
    }
    template <class T>
    void own(const About&, std::optional<T>& v)
    {
        if (v)
            describe(self(), *v);
    }
    template <class T, class Less>
    void byId(const About&, std::map<std::string, T, Less>& v)
    {
        for (auto& [_, item] : v)
            describe(self(), item);
    }
    template <class T>
    void map(const About&, const char*, Ordered<T>& v)
    {
        for (auto& [_, item] : v.items)
            describe(self(), item);
    }
    template <class Variant, std::size_t N>
    void kinds(Variant& v, const KindName (&)[N])
    {
        std::visit([this](auto& what) { describe(self(), what); }, v);
    }
    template <class E, std::size_t N>
    bool kind(const About& about, E& v, const Named<E> (&names)[N], std::optional<Newer>& newer)
    {
        if (!newer)
            self().oneOf(about, v, names);
        return !newer;
    }
};

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

struct Clamp : Walk<Clamp> {
    template <class N>
    void number(const Number& line, N& v)
    {
        v = static_cast<N>(inRange(line, v));
    }
    template <class I>
    void whole(const Number& line, I& v)
    {
        v = static_cast<I>(inRange(line, static_cast<double>(v)));
    }
    void text(const Text& about, std::string& v)
    {
        shorten(v, about.mostBytes);
        if (about.wrong && !about.wrong(v).empty())
            v.clear();
    }
    void colour(const About&, Rgb& v, std::string*)
    {
        for (float* c : {&v.x, &v.y, &v.z})
            *c = std::isnan(*c) ? 0 : std::clamp(*c, 0.0f, 1.0f);
    }
};

struct Growing : Walk<Growing> {
    double factor;
    explicit Growing(double by) : factor(by) {}
    template <class N>
    void number(const Number& line, N& v)
    {
        if (line.grows)
            v = static_cast<N>(v * factor);
    }
};

struct DropLater : Walk<DropLater> {
    static bool later(const About& about) { return about.counts != Counts::Exposure; }
    template <class N>
    void number(const Number& line, N& v)
    {
        if (later(line))
            v = static_cast<N>(inRange(line, 0));
    }
    template <class I>
    void whole(const Number& line, I& v)
    {
        number(line, v);
    }
    void flag(const About& about, bool& v) { v = v && !later(about); }
    void text(const Text& about, std::string& v)
    {
        if (later(about))
            v.clear();
    }
    void list(const About& about, std::vector<std::string>& v)
    {
        if (later(about))
            v.clear();
    }
    template <class E, std::size_t N>
    void oneOf(const About& about, E& v, const Named<E> (&names)[N])
    {
        if (later(about))
            v = names[0].value;
    }
    void colour(const About& about, Rgb& v, std::string* swatch)
    {
        if (later(about))
            v = {1, 1, 1};
        if (swatch)
            swatch->clear();
    }
    template <class T>
    void object(const About& about, T& v)
    {
        if (later(about))
            v = T{};
        else
            describe(*this, v);
    }
    template <class T>
    void map(const About& about, const char* prefix, Ordered<T>& v)
    {
        if (later(about))
            v = {};
        else
            Walk::map(about, prefix, v);
    }
};

struct Colours : Walk<Colours> {
    std::vector<ColourUse> uses;
    void colour(const About&, Rgb& v, std::string* swatch)
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
    if (work.shown == from.shown && from.shown == to.shown && !(from.view() == to.view()))
        takeValues(work.view(), from.view(), to.view());
}

namespace {

struct HashNumbers : Walk<HashNumbers> {
    std::uint64_t hash = 0;
    template <class N>
    void number(const Number&, N& v)
    {
        hash = (hash ^ std::bit_cast<std::uint64_t>(static_cast<double>(v))) * 0x9e3779b97f4a7c15u;
        hash ^= hash >> 29;
    }
    template <class I>
    void whole(const Number& line, I& v)
    {
        number(line, v);
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

double Value::asNumber() const
{
    return std::visit(
        [](const auto& v) -> double {
            if constexpr (requires { static_cast<double>(*v); })
                return static_cast<double>(*v);
            else
                return 0;
        },
        at);
}

void Value::setNumber(double value) const
{
    const double in = inRange(number, value);
    if (const auto* v = std::get_if<double*>(&at))
        **v = in;
    else if (const auto* f = std::get_if<float*>(&at))
        **f = static_cast<float>(in);
    else if (const auto* i = std::get_if<int*>(&at))
        **i = static_cast<int>(std::lround(in));
    else if (const auto* u = std::get_if<std::uint32_t*>(&at))
        **u = static_cast<std::uint32_t>(std::lround(in));
}

}  // namespace work
