#include "work/outline_steps.h"

#include <fmt/format.h>

#include <cmath>

#include "base/units.h"
#include "work/properties.h"
#include "work/shapes.h"

namespace work {

namespace {

using base::Vec2;
using outline::Outlined;
using Part = PieceOutlines::Part;

Vec2 turnedBy(Vec2 v, double radians)
{
    const double c = std::cos(radians), s = std::sin(radians);
    return {c * v.x - s * v.y, s * v.x + c * v.y};
}

bool isFlat(const LetterOwn& own)
{
    return own.turn == 0 && own.tilt == 0 && own.z == 0;
}

std::shared_ptr<const Outlined> keep(Outlined outlined)
{
    return std::make_shared<const Outlined>(std::move(outlined));
}

// It is in the outlines from the start, where nothing comes before it.
bool isGrowthOfAll(const OutlineStep& step)
{
    return std::holds_alternative<Grow>(step.what) && step.letters.empty();
}

// Letters that are flat and have no form of their own join those that are drawn together; the others lie where they were moved.
std::vector<Part> gathered(const Piece& piece, const std::vector<Part>& parts, Vec2 shift)
{
    std::vector<Part> result;
    std::map<int, Outlined> together;  // by copy
    for (const Part& part : parts) {
        const auto own = piece.letters.find(part.letter);
        const bool hasOwn = !part.letter.empty() && own != piece.letters.end();
        Outlined on = moved(*part.outlined, 0, shift);
        const bool flat = !hasOwn || isFlat(own->second);
        if (hasOwn && flat)
            on = placedFlat(on, own->second);
        if (!piece.lettering() || (hasOwn && (own->second.form || !flat))) {
            result.push_back({part.letter, part.copy, keep(std::move(on)), flat});
            continue;
        }
        Outlined& all = together[part.copy];
        all.outlines.insert(all.outlines.end(), on.outlines.begin(), on.outlines.end());
        all.notes.insert(all.notes.end(), on.notes.begin(), on.notes.end());
    }
    for (auto& [copy, all] : together)
        result.push_back({"", copy, keep(std::move(all)), true});
    return result;
}

std::vector<Vec2> cutLine(const Cut& cut, const LetterFrame& frame)
{
    constexpr int kSteps = 32;  // of a curve
    std::vector<Vec2> line;
    for (const outline::Curve& c : outline::curvesThrough(pointsOf(cut.line), cut.line.closed)) {
        const int steps = c.degree == 1 ? 1 : kSteps;
        for (int i = line.empty() ? 0 : 1; i <= steps; ++i)
            line.push_back(frame.at(outline::pointAt(c, double(i) / steps)));
    }
    return line;
}

// Of what lies right of the line every letter becomes a segment.
void cutParts(const Piece& piece, const std::string& step, const std::vector<Vec2>& line, double gap, std::vector<Part>& parts)
{
    std::vector<Part> result;
    std::map<std::pair<std::string, int>, int> made;  // segments by letter and copy
    for (const Part& part : parts) {
        outline::Halves halves = outline::cutAlong(*part.outlined, line, gap);
        if (!halves.touched) {
            result.push_back(part);
            continue;
        }
        if (!halves.left.outlines.empty())
            result.push_back({part.letter, part.copy, keep(std::move(halves.left)), part.isPlaced});
        for (outline::PlacedOutline& o : halves.right.outlines) {
            const std::string letter =
                !part.letter.empty() ? letterOf(part.letter) : piece.letterIds()[static_cast<std::size_t>(o.letters.front())];
            const std::string id = segmentOf(letter, step, ++made[{letter, part.copy}]);
            result.push_back({id, part.copy, keep({{std::move(o)}, {}}), part.isPlaced});
        }
    }
    parts = std::move(result);
}

base::Box2 boxOf(const std::vector<Part>& parts)
{
    base::Box2 box;
    for (const Part& part : parts)
        if (part.copy == 0)
            if (const base::Box2 own = outline::bounds(*part.outlined); !own.empty()) {
                box.add(own.low);
                box.add(own.high);
            }
    return box;
}

double areaOf(const Outlined& outlined)
{
    double sum = 0;
    for (const outline::PlacedOutline& o : outlined.outlines)
        sum += outline::area(*o.outline);
    return sum;
}

// What is one of these letters, a segment of one, or drawn as one with one.
bool isOf(const Piece& piece, const std::vector<std::string>& letters, const Part& part, const outline::PlacedOutline& o)
{
    const auto has = [&](const std::string& id) { return std::find(letters.begin(), letters.end(), id) != letters.end(); };
    if (!part.letter.empty())
        return has(part.letter) || has(letterOf(part.letter));
    return std::any_of(o.letters.begin(), o.letters.end(),
                       [&](int number) { return has(piece.letterIds()[static_cast<std::size_t>(number)]); });
}

// Parts a step goes for, and the others; they come together again by gather().
std::pair<std::vector<Part>, std::vector<Part>> parted(const Piece& piece, const std::vector<std::string>& letters, std::vector<Part> parts)
{
    if (letters.empty())
        return {std::move(parts), {}};
    std::pair<std::vector<Part>, std::vector<Part>> result;
    for (const Part& part : parts) {
        Outlined in, out;
        for (const outline::PlacedOutline& o : part.outlined->outlines)
            (isOf(piece, letters, part, o) ? in : out).outlines.push_back(o);
        (in.outlines.empty() ? out : in).notes = part.outlined->notes;
        for (auto [into, outlined] : {std::pair(&result.first, &in), std::pair(&result.second, &out)})
            if (!outlined->outlines.empty() || !outlined->notes.empty())
                into->push_back({part.letter, part.copy, keep(std::move(*outlined)), part.isPlaced});
    }
    return result;
}

// Letters drawn together are one part of each copy again.
void gather(std::vector<Part>& parts, std::vector<Part> others)
{
    for (Part& other : others) {
        const auto same = std::find_if(parts.begin(), parts.end(), [&](const Part& part) {
            return other.letter.empty() && part.letter.empty() && part.copy == other.copy && part.isPlaced == other.isPlaced;
        });
        if (same == parts.end()) {
            parts.push_back(std::move(other));
            continue;
        }
        Outlined both = *same->outlined;
        both.outlines.insert(both.outlines.end(), other.outlined->outlines.begin(), other.outlined->outlines.end());
        both.notes.insert(both.notes.end(), other.outlined->notes.begin(), other.outlined->notes.end());
        same->outlined = keep(std::move(both));
    }
}

// All outlines of each copy that lie flat become one part, and those that touch one outline.
void uniteParts(double tolerance, std::vector<Part>& parts)
{
    std::map<int, Part> united;  // by copy
    std::vector<Part> result;
    for (Part& part : parts) {
        if (!part.isPlaced) {
            result.push_back(std::move(part));
            continue;
        }
        const auto [first, isNew] = united.try_emplace(part.copy, part);
        if (isNew)
            continue;
        Outlined both = *first->second.outlined;
        both.outlines.insert(both.outlines.end(), part.outlined->outlines.begin(), part.outlined->outlines.end());
        first->second.outlined = keep(std::move(both));
        if (part.letter.empty())
            first->second.letter.clear();
    }
    for (auto& [_, part] : united) {
        part.outlined = keep(outline::applied(*part.outlined, outline::CombineWith{outline::How::Unite, nullptr}, tolerance));
        result.push_back(std::move(part));
    }
    parts = std::move(result);
}

// Unites with the first part of each copy that it touches, else with the first one, so that it is there once; cuts out of all.
void combineParts(const Combine& combine, const std::shared_ptr<const Outlined>& other, double tolerance, std::vector<Part>& parts)
{
    const outline::Operation operation = outline::CombineWith{combine.how, other};
    if (combine.how != outline::How::Unite) {
        for (Part& part : parts)
            part.outlined = keep(outline::applied(*part.outlined, operation, tolerance));
        std::erase_if(parts, [](const Part& part) { return part.outlined->outlines.empty(); });
        return;
    }
    std::map<int, bool> united;  // by copy
    for (const bool mustTouch : {true, false})
        for (Part& part : parts) {
            if (united[part.copy])
                continue;
            Outlined whole = outline::applied(*part.outlined, operation, tolerance);
            const double apart = areaOf(*part.outlined) + areaOf(*other);
            if (mustTouch && areaOf(whole) > apart * (1 - 1e-6))
                continue;
            part.outlined = keep(std::move(whole));
            united[part.copy] = true;
        }
}

}  // namespace

Vec2 LetterFrame::at(Vec2 own) const
{
    return origin + turnedBy(own, turn);
}

Vec2 LetterFrame::from(Vec2 onPlane) const
{
    return turnedBy(onPlane - origin, -turn);
}

Outlined moved(Outlined outlined, double radians, Vec2 by)
{
    for (outline::PlacedOutline& o : outlined.outlines) {
        o.originPt = (radians == 0 ? o.originPt : turnedBy(o.originPt, radians)) + by;
        o.turn += radians;
    }
    return outlined;
}

Outlined placedFlat(const Outlined& outlined, const LetterOwn& own)
{
    const base::Box2 box = outline::bounds(outlined);
    if (box.empty())
        return outlined;
    const Vec2 middle = (box.low + box.high) * 0.5;
    Outlined result = moved(outlined, 0, middle * -1.0);
    if (own.scale != 1)
        for (outline::PlacedOutline& o : result.outlines) {
            outline::Outline larger = *o.outline;
            larger.unitPt *= own.scale;
            o.outline = std::make_shared<const outline::Outline>(std::move(larger));
            o.originPt = o.originPt * own.scale;
        }
    return moved(std::move(result), base::radians(own.roll), middle + Vec2{own.x, own.y});
}

bool isShaped(const Piece& piece)
{
    return std::any_of(piece.steps.items.begin(), piece.steps.items.end(), [](const auto& item) {
        const auto& what = item.second.what;
        return item.second.on && !isGrowthOfAll(item.second) && !std::holds_alternative<Newer>(what);
    });
}

std::vector<double> growthsOf(const Piece& piece, int copy)
{
    std::vector<double> growths;
    for (const std::string& id : piece.steps.order) {
        const OutlineStep& step = piece.steps.items.at(id);
        if (!step.on || std::holds_alternative<Newer>(step.what))
            continue;
        if (!isGrowthOfAll(step))
            return growths;
        growths.push_back(std::get<Grow>(step.what).by);
    }
    growths.push_back(piece.copies.growth * piece.copies.stepOf(copy));
    return growths;
}

namespace {

constexpr const char* kLetterGone = "went with a letter that is no longer there; draw it anew, or take it away";

// One step on the parts it goes for. Why it cannot be taken, or nothing.
std::string take(const Piece& piece, const std::string& id, const OutlineStep& step, const StepsOn& on, std::vector<Part>& parts)
{
    const auto frameOf = [&](const std::string& letter) -> std::optional<LetterFrame> {
        if (letter.empty())
            return LetterFrame{};
        const auto found = on.frames.find(letter);
        return found == on.frames.end() ? std::nullopt : std::optional(found->second);
    };
    const auto each = [&](const outline::Operation& operation) {
        for (Part& part : parts)
            part.outlined = keep(outline::applied(*part.outlined, operation, on.tolerancePt));
        std::erase_if(parts, [](const Part& part) { return part.outlined->outlines.empty(); });
    };
    if (const auto* grow = std::get_if<Grow>(&step.what)) {
        each(outline::GrowBy{grow->by});
    } else if (const auto* round = std::get_if<RoundCorners>(&step.what)) {
        each(outline::RoundBy{round->radius});
    } else if (const auto* combine = std::get_if<Combine>(&step.what)) {
        const auto other = combine->piece.empty() ? nullptr : on.other(combine->piece);
        if (other)
            combineParts(*combine, other, on.tolerancePt, parts);
        else if (combine->piece.empty() && combine->how == outline::How::Unite)
            uniteParts(on.tolerancePt, parts);
        else
            return "has no piece to go with: choose one, or take the step away";
    } else if (const auto* cut = std::get_if<Cut>(&step.what)) {
        const auto frame = frameOf(cut->letter);
        const std::vector<Vec2> line = frame ? cutLine(*cut, *frame) : std::vector<Vec2>();
        if (line.size() <= 1)
            return frame ? "has no line yet; draw it in the picture" : kLetterGone;
        cutParts(piece, id, line, cut->gap, parts);
    } else if (const auto* push = std::get_if<Push>(&step.what)) {
        const auto frame = frameOf(push->letter);
        if (!frame)
            return kLetterGone;
        each(outline::PushBy{frame->at({push->x, push->y}), turnedBy({push->byX, push->byY}, frame->turn), push->radius});
    } else if (const auto* mirror = std::get_if<Mirror>(&step.what)) {
        if (const base::Box2 box = boxOf(parts); !box.empty())
            each(outline::MirrorAt{mirror->across, mirror->across ? (box.low.x + box.high.x) / 2 : (box.low.y + box.high.y) / 2});
    }
    return {};
}

}  // namespace

void takeSteps(const Piece& piece, const StepsOn& on, std::vector<Part>& parts, base::Notes& notes)
{
    parts = gathered(piece, parts, on.shift);
    bool first = true;  // growths at the beginning are in the outlines
    for (const std::string& id : piece.steps.order) {
        const OutlineStep& step = piece.steps.items.at(id);
        if (!step.on || std::holds_alternative<Newer>(step.what) || (first && isGrowthOfAll(step)))
            continue;
        first = false;
        auto [chosen, others] = parted(piece, step.letters, std::move(parts));
        const std::string why = chosen.empty() && !step.letters.empty() ? kLetterGone : take(piece, id, step, on, chosen);
        if (!why.empty())
            notes.push_back({"step-unused", fmt::format("The step \"{}\" {}", Kinds<StepWhat>::names[step.what.index()].label, why), {}});
        parts = std::move(chosen);
        gather(parts, std::move(others));
    }
    for (Part& part : parts)
        if (const double growth = piece.copies.growth * piece.copies.stepOf(part.copy); growth != 0)
            part.outlined = keep(outline::applied(*part.outlined, outline::GrowBy{growth}, on.tolerancePt));
}

}  // namespace work
