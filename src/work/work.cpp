#include "work/work.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <unordered_set>

#include "base/hash.h"
#include "base/units.h"
#include "base/variant_compiled.h"
#include "outline/text.h"
#include "work/bodies.h"
#include "work/values.h"

template class base::Variant<work::Lettering, work::Artwork, work::Shape, work::Newer>;
template class base::Variant<work::Grow, work::RoundCorners, work::Combine, work::Cut, work::Push, work::Mirror, work::Newer>;
template class base::Variant<solid::SlabForm, solid::DomedForm, solid::TubeForm, solid::BlockForm, work::Newer>;

namespace work {

double SheetSize::toPt(double length) const
{
    switch (unit) {
    case Unit::Px:
        return length / ppi * base::kPtPerInch;
    case Unit::Mm:
        return base::ptFromMm(length);
    case Unit::In:
        return length * base::kPtPerInch;
    case Unit::Pt:
        return length;
    }
    return length;
}

int SheetSize::toPx(double length) const
{
    return std::max(1, static_cast<int>(std::lround(toPt(length) / base::kPtPerInch * ppi)));
}

void Casting::forgetPieces()
{
    std::erase_if(unlit, [](const std::string& id) { return id != kGroundId; });
    shadowless.clear();
}

Piece::Piece() = default;
Piece::Piece(const Piece&) = default;
Piece::Piece(Piece&&) noexcept = default;
Piece& Piece::operator=(const Piece&) = default;
Piece& Piece::operator=(Piece&&) noexcept = default;
Piece::~Piece() = default;
bool Piece::operator==(const Piece&) const = default;

Work::Work(const Work&) = default;
Work::Work(Work&&) noexcept = default;
Work& Work::operator=(const Work&) = default;
Work& Work::operator=(Work&&) noexcept = default;
Work::~Work() = default;
bool Work::operator==(const Work&) const = default;

Rgb SkyCard::factor() const
{
    return colour * static_cast<float>(std::exp2(stops));
}

Rgb Light::factor() const
{
    return colour * picture::rgbOfTemperature(kelvin) * static_cast<float>(std::exp2(stops));
}

namespace {

// A drawn shape's from its lowest point to its highest, at least a stroke.
double heightOf(const Shape& shape)
{
    if (shape.kind != ShapeKind::Drawn)
        return shape.height;
    double low = 0, high = 0;
    bool first = true;
    for (const auto& [_, p] : shape.line.points.items) {
        low = first ? p.y : std::min(low, p.y);
        high = first ? p.y : std::max(high, p.y);
        first = false;
    }
    return std::max({high - low, shape.stroke, 0.1});
}

void scale(Shape& shape, double factor)
{
    for (double* value : {&shape.width, &shape.height, &shape.round, &shape.stroke, &shape.margin, &shape.rim})
        *value *= factor;
    for (auto& [_, p] : shape.line.points.items)
        for (double* value : {&p.x, &p.y, &p.inX, &p.inY, &p.outX, &p.outY})
            *value *= factor;
}

}  // namespace

double depthOf(const Form& form)
{
    return std::visit(
        [](const auto& f) {
            if constexpr (requires { f.depthPt; })
                return f.depthPt;
            else
                return 0.0;
        },
        form);
}

const solid::Along* alongOf(const Form& form)
{
    return std::visit(
        [](const auto& f) -> const solid::Along* {
            if constexpr (requires { f.along; })
                return &f.along;
            else
                return nullptr;
        },
        form);
}

solid::Along* alongOf(Form& form)
{
    return const_cast<solid::Along*>(alongOf(std::as_const(form)));
}

Form formOfKind(const Form& from, std::size_t kind, double sizePt)
{
    if (from.index() == kind)
        return from;
    solid::SlabForm slab;
    slab.depthPt = sizePt / 4;
    solid::TubeForm tube;
    tube.widthPt = sizePt / 20;
    tube.gapPt = sizePt / 60;
    tube.layPt = sizePt / 6;
    solid::BlockForm block;
    block.depthPt = sizePt / 2;
    block.y = -2 * sizePt;
    const Form usual[] = {slab, solid::DomedForm{}, tube, block};
    Form form = usual[std::min(kind, std::size(usual) - 1)];
    if (depthOf(from) > 0)
        setDepth(form, depthOf(from));
    if (const solid::Along* along = alongOf(from); along && alongOf(form))
        *alongOf(form) = *along;
    return form;
}

void setDepth(Form& form, double depthPt)
{
    std::visit(
        [&](auto& f) {
            if constexpr (requires { f.depthPt; })
                f.depthPt = std::max(0.0, depthPt);
        },
        form);
}

const std::vector<std::string>& Piece::letterIds() const
{
    static const std::vector<std::string> s_none, s_shape{kShapeLetter};
    return lettering() ? lettering()->letterIds : artwork() ? artwork()->shapes.order : shape() ? s_shape : s_none;
}

const FontChoice& fontOf(const Piece& piece, const std::string& letter)
{
    const auto own = piece.letters.find(letter);
    return own != piece.letters.end() && own->second.font ? *own->second.font : piece.lettering()->font;
}

double Piece::sizePt() const
{
    return lettering() ? lettering()->layout.sizePt
           : artwork() ? artwork()->heightPt
           : shape()   ? heightOf(*shape())
                       : outline::LayoutSettings{}.sizePt;
}

std::string segmentOf(const std::string& letter, const std::string& step, int number)
{
    return letter + "-" + step + (number > 1 ? "-" + std::to_string(std::min(number, kMostSegments)) : "");
}

std::string letterOf(const std::string& segment)
{
    const std::size_t at = segment.find("-g");
    return at == 0 ? segment : segment.substr(0, at);
}

const Form& Piece::formOf(const std::string& letter) const
{
    for (const std::string& id : {letter, letterOf(letter)})
        if (const auto own = letters.find(id); own != letters.end() && own->second.form)
            return *own->second.form;
    return form;
}

const MaterialSet& Piece::materialOf(const std::string& letter) const
{
    for (const std::string& id : {letter, letterOf(letter)})
        if (const auto own = letters.find(id); own != letters.end() && own->second.material)
            return *own->second.material;
    return material;
}

std::vector<std::string> Piece::allLetters() const
{
    std::vector<std::string> all = letterIds();
    const std::size_t count = all.size();
    for (const std::string& id : steps.order)
        if (std::holds_alternative<Cut>(steps.items.at(id).what))
            for (std::size_t i = 0; i < count; ++i)
                for (int number = 1; number <= kMostSegments; ++number)
                    all.push_back(segmentOf(all[i], id, number));
    return all;
}

bool Piece::hasLetter(const std::string& letter) const
{
    const auto& ids = letterIds();
    if (std::find(ids.begin(), ids.end(), letter) != ids.end())
        return true;
    if (letter.find('-') == std::string::npos)
        return false;
    const auto all = allLetters();
    return std::find(all.begin(), all.end(), letter) != all.end();
}

Rgb Emissive::factor() const
{
    return colour * static_cast<float>(std::exp2(stops));
}

Rgb Surroundings::factor() const
{
    return colour * picture::rgbOfTemperature(kelvin) * static_cast<float>(std::exp2(stops));
}

std::string Asset::contents() const
{
    return bytes ? base::contentName(*bytes) : std::string();
}

bool isKeptPicture(const std::string& asset)
{
    return asset.starts_with(kKeptFolder);
}

Work::Work()
{
    Sheet sheet;
    sheet.outputs.add("o1", {});
    sheets.add(shown, std::move(sheet));
}

namespace {

constexpr int kMostPlates = 16;  // one round the other

// How far plates behind a piece carry it towards the viewer.
double carriedBy(const Work& work, const std::string& id, int left)
{
    double most = 0;
    for (const auto& [plateId, other] : work.pieces.items)
        if (const Shape* under = other.shape();
            left > 0 && under && under->isPlate() && under->behind && under->piece == id && !other.hidden)
            most = std::max(most, depthOf(other.form) + carriedBy(work, plateId, left - 1));
    return most;
}

Placement placed(const Work& work, const std::string& id, int left)
{
    const Piece& piece = work.pieces.items.at(id);
    Placement placement = piece.placement;
    if (const auto shift = work.shownSheet().shifts.find(id); shift != work.shownSheet().shifts.end()) {
        placement.x += shift->second.x;
        placement.y += shift->second.y;
        placement.z += shift->second.z;
    }
    const Shape* plate = piece.shape();
    if (plate && plate->isPlate() && work.pieces.items.contains(plate->piece) && left > 0) {
        Placement there = placed(work, plate->piece, left - 1);
        const double back = plate->behind ? depthOf(piece.form) : 0;
        if (there.stance == Stance::AgainstWall && back > 0)
            return there;  // it is hidden, or else would have moved that one away
        const base::Vec3 out = poseOf(there, work.ground).out;
        there.x += placement.x - out.x * back;
        there.y += placement.y - out.y * back;
        there.z += placement.z - out.z * back;
        return there;
    }
    if (placement.stance != Stance::AgainstWall || left <= 0)
        return placement;
    if (const double carried = carriedBy(work, id, left); carried > 0) {
        placement.stance = Stance::Free;
        placement.z = carried - work.ground.wallBehind;
        placement.turn = placement.tilt = 0;
    }
    return placement;
}

}  // namespace

Placement Work::placementOf(const std::string& piece) const
{
    return placed(*this, piece, kMostPlates);
}

Work newWork(const std::string& text, const FontChoice& font, const SheetSize& sheet)
{
    Work work;
    work.sheet() = sheet;
    Piece piece;
    piece.lettering()->font = font;
    setText(piece, text);
    const double size = std::min(sheet.heightPt() / 4, sheet.widthPt() / 5);
    piece.lettering()->layout.sizePt = size;
    solid::SlabForm slab;
    slab.depthPt = size / 4;
    slab.front = {size / 40, size / 40, solid::Profile::Roundover, 8, false};
    piece.form = slab;
    piece.material.piece.baseColour = *picture::rgbFromHex("#E8664F");
    piece.material.piece.roughness = 0.35f;
    const std::string pieceId = work.newId("p");
    work.pieces.add(pieceId, std::move(piece));

    const double reach = std::max(sheet.widthPt(), sheet.heightPt());
    Light light;
    light.distance = 2 * reach;
    light.width = light.breadth = 0.85 * reach;
    light.height = 42;
    light.stops = -0.3;
    const std::string lightId = work.newId("l");
    work.lights.add(lightId, std::move(light));
    return work;
}

namespace {

// Colours that go together: lettering, and the ground it stands before.
struct Pair {
    const char *lettering, *ground;
};
constexpr Pair kPairs[kColourPairs] = {{"#E8664F", "#F2E3CC"}, {"#0F7C82", "#DDEBE4"}, {"#E5A52B", "#34506B"},
                                       {"#B5432E", "#F0D8D2"}, {"#3B4BA3", "#DDE3F0"}, {"#4E8B4A", "#F4EFD9"}};

}  // namespace

Work emptyWork(const SheetSize& sheet, int colours)
{
    Work work = newWork("x", {}, sheet);
    work.pieces = {};
    const Rgb ground = *picture::rgbFromHex(kPairs[colours % kColourPairs].ground);
    work.ground.wall.baseColour = work.ground.floor.baseColour = work.ground.backdrop = ground;
    // A wide sun: shadows are soft, and the ground is as bright on one side as on the other.
    Light& light = work.lights.items.begin()->second;
    light.kind = light::LightKind::Sun;
    light.sunSize = 14;
    light.stops = 0;
    return work;
}

Rgb colourOnGround(const Work& work)
{
    for (const Pair& pair : kPairs)
        if (*picture::rgbFromHex(pair.ground) == work.ground.wall.baseColour)
            return *picture::rgbFromHex(pair.lettering);
    return *picture::rgbFromHex(kPairs[0].lettering);
}

namespace {

// A long text's first letters, up to the end of a word where there is one.
std::string beginningOf(const std::string& text)
{
    constexpr std::size_t kMost = 48;  // bytes
    if (text.size() <= kMost)
        return text;
    std::size_t end = 0;
    for (const outline::Grapheme& g : outline::graphemes(text)) {
        if (g.end > kMost)
            break;
        end = g.end;
    }
    std::string beginning = text.substr(0, end);
    if (const auto word = beginning.find_last_of(" \n"); word != std::string::npos && word > kMost / 2)
        beginning.resize(word);
    return beginning + "\u2026";
}

}  // namespace

std::string titleOf(const Piece& piece)
{
    if (const auto* newer = std::get_if<Newer>(&piece.source); newer && piece.name.empty())
        return newer->kind;
    if (!piece.name.empty())
        return piece.name;
    if (const Artwork* artwork = piece.artwork(); artwork && piece.name.empty())
        return artwork->name.empty() ? "Artwork" : artwork->name.substr(0, artwork->name.find_last_of('.'));
    if (const Shape* shape = piece.shape())
        return labelOf(shape->kind, kShapes);
    std::string title = beginningOf(piece.lettering() ? piece.lettering()->text : std::string());
    std::replace(title.begin(), title.end(), '\n', ' ');
    return title.find_first_not_of(' ') == std::string::npos ? "Empty lettering" : title;
}

void scaleTo(Piece& piece, double sizePt)
{
    if (std::holds_alternative<Newer>(piece.source))
        return;
    const double factor = sizePt / piece.sizePt();
    grow(piece, factor);
    if (piece.shape())
        scale(*piece.shape(), factor);
    else
        (piece.lettering() ? piece.lettering()->layout.sizePt : piece.artwork()->heightPt) = sizePt;
}

namespace {

constexpr int kLastNumber = 2'000'000'000;  // of an id; then free ones are looked for from the start

// The number at the end of an id that newId() could have made, or 0.
int numberOf(const std::string& id)
{
    const std::size_t digits = id.find_last_not_of("0123456789") + 1;
    int number = 0;
    const auto [end, error] = std::from_chars(id.data() + digits, id.data() + id.size(), number);
    return error == std::errc{} && end == id.data() + id.size() && number < kLastNumber ? number : 0;
}

template <class IsUsed>
std::string freeId(const std::string& prefix, int& next, IsUsed isUsed)
{
    for (;;) {
        if (next >= kLastNumber)
            next = 1;
        std::string id = prefix + std::to_string(next++);
        if (!isUsed(id))
            return id;
    }
}

// Other letters in the place of those from `first` to before `last`. What goes loses what it had of its own.
void replaceLetters(Piece& piece, std::size_t first, std::size_t last, std::vector<std::string> addedIds)
{
    std::vector<std::string>& ids = piece.lettering()->letterIds;
    for (std::size_t i = first; i < last; ++i)
        if (addedIds.empty() || addedIds.front() != ids[i])
            std::erase_if(piece.letters, [&](const auto& own) { return own.first == ids[i] || letterOf(own.first) == ids[i]; });
    ids.erase(ids.begin() + static_cast<std::ptrdiff_t>(first), ids.begin() + static_cast<std::ptrdiff_t>(last));
    ids.insert(ids.begin() + static_cast<std::ptrdiff_t>(first), std::make_move_iterator(addedIds.begin()),
               std::make_move_iterator(addedIds.end()));
}

}  // namespace

std::vector<std::string> Lettering::newLetterIds(std::size_t count)
{
    const std::unordered_set<std::string> used(letterIds.begin(), letterIds.end());
    std::vector<std::string> ids;
    while (ids.size() < count)
        ids.push_back(freeId("a", nextLetter, [&](const std::string& id) { return used.contains(id); }));
    return ids;
}

std::string Work::newId(const std::string& prefix)
{
    return freeId(prefix, nextId, [&](const std::string& id) {
        return pieces.items.contains(id) || views.items.contains(id) || swatches.items.contains(id) || lights.items.contains(id) ||
               sheets.items.contains(id) || groups.items.contains(id) || surroundings.cards.items.contains(id) ||
               finish.layers.items.contains(id) || proofs.items.contains(id);
    });
}

int leastNextId(const Work& work)
{
    int least = 1;
    const auto heed = [&](const auto& things) {
        for (const auto& [id, _] : things.items)
            least = std::max(least, numberOf(id) + 1);
    };
    heed(work.pieces);
    for (const auto& [_, piece] : work.pieces.items)
        heed(piece.steps);
    heed(work.views);
    heed(work.swatches);
    heed(work.groups);
    heed(work.lights);
    heed(work.surroundings.cards);
    heed(work.finish.layers);
    for (const auto& [_, layer] : work.finish.layers.items)
        heed(layer.strokes);
    heed(work.proofs);
    for (const auto& [_, sheet] : work.sheets.items)
        heed(sheet.outputs);
    return least;
}

void editText(Piece& piece, std::size_t begin, std::size_t removed, const std::string& added)
{
    if (!piece.lettering())
        return;
    Lettering& lettering = *piece.lettering();
    const std::string before = lettering.text;
    begin = std::min(begin, before.size());
    removed = std::min(removed, before.size() - begin);
    std::string after = before.substr(0, begin) + added + before.substr(begin + removed);
    const auto was = outline::graphemes(before), is = outline::graphemes(after);
    // A work is read with one for each; this holds it for any other.
    lettering.letterIds.resize(std::min(lettering.letterIds.size(), was.size()));
    for (std::string& id : lettering.newLetterIds(was.size() - lettering.letterIds.size()))
        lettering.letterIds.push_back(std::move(id));
    // Letters before and after stay as long as they end before the edit, or begin after it, in both texts.
    const std::size_t endBefore = begin + removed, endAfter = begin + added.size();
    std::size_t head = 0, tail = 0;
    while (head < was.size() && head < is.size() && was[head] == is[head] && was[head].end <= begin)
        ++head;
    while (tail + head < was.size() && tail + head < is.size()) {
        const outline::Grapheme &a = was[was.size() - 1 - tail], &b = is[is.size() - 1 - tail];
        if (a.begin < endBefore || b.begin < endAfter || a.end - a.begin != b.end - b.begin)
            break;
        ++tail;
    }
    const std::size_t last = was.size() - tail, addedLast = is.size() - tail;
    // One letter that only got or lost an accent stays itself.
    const bool sameLetter = last - head == 1 && addedLast - head == 1 && (begin > was[head].begin || endBefore < was[head].end);
    replaceLetters(piece, head, last, sameLetter ? std::vector{lettering.letterIds[head]} : lettering.newLetterIds(addedLast - head));
    lettering.text = std::move(after);
}

void setText(Piece& piece, const std::string& text)
{
    if (!piece.lettering())
        return;
    // What differs, in whole letters.
    const std::string& before = piece.lettering()->text;
    const auto was = outline::graphemes(before), is = outline::graphemes(text);
    const auto same = [&](const outline::Grapheme& a, const outline::Grapheme& b) {
        return before.compare(a.begin, a.end - a.begin, text, b.begin, b.end - b.begin) == 0;
    };
    std::size_t head = 0, tail = 0;
    while (head < was.size() && head < is.size() && same(was[head], is[head]))
        ++head;
    while (tail + head < was.size() && tail + head < is.size() && same(was[was.size() - 1 - tail], is[is.size() - 1 - tail]))
        ++tail;
    const std::size_t begin = head < was.size() ? was[head].begin : before.size(),
                      end = tail > 0 ? was[was.size() - tail].begin : before.size();
    const std::size_t newBegin = head < is.size() ? is[head].begin : text.size(),
                      newEnd = tail > 0 ? is[is.size() - tail].begin : text.size();
    editText(piece, begin, std::max(begin, end) - begin, text.substr(newBegin, std::max(newBegin, newEnd) - newBegin));
}

bool Pictures::any() const
{
    return !(colour.empty() && roughness.empty() && metallic.empty() && relief.empty() && cutOut.empty() && light.empty() && coat.empty());
}

std::vector<Material*> materialsIn(Piece& piece)
{
    std::vector<Material*> all;
    const auto add = [&](MaterialSet& set) {
        all.push_back(&set.piece);
        for (auto& [_, material] : set.parts)
            all.push_back(&material);
    };
    add(piece.material);
    for (auto& [_, letter] : piece.letters)
        if (letter.material)
            add(*letter.material);
    return all;
}

std::vector<Material*> materialsIn(Work& work)
{
    std::vector<Material*> all{&work.ground.wall, &work.ground.floor};
    for (auto& [_, piece] : work.pieces.items) {
        const auto own = materialsIn(piece);
        all.insert(all.end(), own.begin(), own.end());
    }
    return all;
}

void setSwatch(Work& work, const std::string& id, Rgb colour)
{
    work.swatches.items.at(id).colour = colour;
    for (const ColourUse& use : colourUses(work))
        if (use.swatch == id)
            use.colour = colour;
}

std::string noticeKey(const base::Note& note)
{
    return note.kind + " " + note.place;
}

}  // namespace work
