#include "work/piece_outlines.h"

#include <fmt/format.h>

#include <cmath>
#include <optional>

#include "base/parallel.h"
#include "base/units.h"
#include "outline/text.h"
#include "work/outline_steps.h"
#include "work/runs.h"
#include "work/shapes.h"
#include "work/typeset.h"

namespace work {

using base::Vec2;

// Right-handed turn about one axis.
base::Pose turned(int axis, double degrees)
{
    const double c = std::cos(base::radians(degrees)), s = std::sin(base::radians(degrees));
    if (axis == 0)
        return {{1, 0, 0}, {0, c, s}, {0, -s, c}, {}};
    if (axis == 1)
        return {{c, 0, -s}, {0, 1, 0}, {s, 0, c}, {}};
    return {{c, s, 0}, {-s, c, 0}, {0, 0, 1}, {}};
}

base::Pose after(const base::Pose& outer, const base::Pose& inner)
{
    return {outer.turn(inner.right), outer.turn(inner.up), outer.turn(inner.out), outer.apply(inner.origin)};
}

namespace {

// Letters that are drawn together: those without a form or place of their own, and each of the others.
struct Together {
    outline::Layout layout;
    std::string letter;  // id, or "" for the common group
};

std::vector<Together> groupsOf(const Piece& piece, const outline::Layout& layout)
{
    std::vector<Together> groups(1);
    std::map<std::string, std::size_t> own;
    for (const outline::PlacedGlyph& glyph : layout.glyphs) {
        const std::string& id = piece.letterIds()[static_cast<std::size_t>(glyph.letter)];
        const auto adjusted = piece.letters.find(id);
        std::size_t group = 0;
        if (adjusted != piece.letters.end() && (adjusted->second.form || adjusted->second.isPosed())) {
            const auto [at, isNew] = own.try_emplace(id, groups.size());
            if (isNew)
                groups.push_back({{}, id});
            group = at->second;
        }
        groups[group].layout.glyphs.push_back(glyph);
    }
    return groups;
}

// Where letters begin on the piece's plane, moved by hand as well.
std::map<std::string, LetterFrame> framesOf(const Piece& piece, const outline::Layout& layout, Vec2 shift)
{
    std::map<std::string, LetterFrame> frames;
    for (const outline::PlacedGlyph& g : layout.glyphs) {
        const std::string& id = piece.letterIds()[static_cast<std::size_t>(g.letter)];
        const auto own = piece.letters.find(id);
        const Vec2 by = own == piece.letters.end() ? Vec2{} : Vec2{own->second.x, own->second.y};
        frames.try_emplace(id, LetterFrame{g.origin + shift + by, g.turn});
    }
    return frames;
}

base::Result<PieceOutlines> letteringOutlines(const Work& work, const std::string& id, double tolerancePt, Cache& cache,
                                              const base::Progress& progress)
{
    const Piece& piece = work.pieces.items.at(id);
    const Lettering& lettering = *piece.lettering();
    PieceOutlines result;
    base::Notes& found = result.notes;
    PiecePlace& place = result.place;
    const auto set = typeset(work, piece, cache, found, progress);
    if (!set)
        return tl::unexpected<base::Error>(set.error());
    const outline::Layout& layout = set->layout;
    const double capHeight = set->capHeightPt;
    const Running running = setOnRun(work, lettering, layout, capHeight, cache);
    found.insert(found.end(), running.layout.notes.begin(), running.layout.notes.end());

    // The block of lines is centred across; upright it stands on its last baseline or is centred from there to the capitals.
    const bool isAlong = running.route.length() > 0;
    const bool isLevel = !isAlong && !lettering.layout.stacked;
    const double shiftX = isLevel && lettering.layout.align == outline::Align::Start ? -layout.widthPt / 2
                          : isLevel && lettering.layout.align == outline::Align::End ? layout.widthPt / 2
                                                                                     : 0;
    const double last = layout.baselines.back();
    place.middle = (capHeight - last) / 2;
    const bool stands = work.placementOf(id).stance == Stance::OnFloor;
    const std::vector<Together> groups = groupsOf(piece, running.layout);
    const auto copies = static_cast<std::size_t>(piece.copies.all());
    std::vector<base::Result<outline::Outlined>> outlined(groups.size() * copies);
    base::parallelFor(outlined.size(), [&](std::size_t i) {
        const int copy = static_cast<int>(i % copies);
        outlined[i] = outline::outlineLayout(groups[i / copies].layout, lettering.text, set->faces,
                                             {lettering.layout.sizePt, tolerancePt, growthsOf(piece, copy)}, progress,
                                             running.bend ? &*running.bend : nullptr);
    });
    const double freeY = running.hasOwnMiddle ? 0 : -last - place.middle;
    double lowest = last;
    if (isAlong || running.bend) {
        base::Box2 box;
        for (std::size_t i = 0; i < outlined.size(); i += copies)
            if (outlined[i] && !outlined[i]->outlines.empty()) {
                const base::Box2 own = outline::bounds(*outlined[i]);
                box.add(own.low);
                box.add(own.high);
            }
        if (!box.empty())
            lowest = box.low.y;
        place.middle = -(lowest + freeY);
    }
    result.shift = {shiftX, stands ? -lowest : freeY};
    place.baseline = lowest + result.shift.y;
    place.shift = result.shift;
    place.block = blockOf(layout, capHeight);
    if (isShaped(piece))
        place.frames = framesOf(piece, running.layout, result.shift);
    if (isAlong)
        place.route = std::make_shared<const outline::Route>(running.route);
    for (std::size_t i = 0; i < outlined.size(); ++i) {
        if (!outlined[i])
            return tl::unexpected<base::Error>(outlined[i].error());
        const int copy = static_cast<int>(i % copies);
        if (copy == 0)
            found.insert(found.end(), outlined[i]->notes.begin(), outlined[i]->notes.end());
        result.parts.push_back({groups[i / copies].letter, copy, std::make_shared<const outline::Outlined>(std::move(*outlined[i]))});
    }
    return result;
}

// The outlines of an artwork, one shape a part.
base::Result<PieceOutlines> artworkOutlines(const Work& work, const std::string& id, double tolerancePt, Cache& cache,
                                            const base::Progress& progress)
{
    const Piece& piece = work.pieces.items.at(id);
    const Artwork& artwork = *piece.artwork();
    const auto drawing = openDrawing(work, artwork, cache);
    if (!drawing)
        return tl::unexpected<base::Error>(drawing.error());
    std::map<std::string, std::string> letterOf;  // by the shape's id in the drawing
    for (const auto& [letter, shape] : artwork.shapes.items)
        letterOf[shape.shape] = letter;
    const outline::SharedBytes& bytes = work.assets.at(artwork.drawing).bytes;
    PieceOutlines result;
    PiecePlace& place = result.place;
    base::Box2 box;
    for (int copy = 0; copy < piece.copies.all(); ++copy) {
        const Cache::DrawnKey key{bytes, {artwork.heightPt, tolerancePt, growthsOf(piece, copy)}};
        auto drawn = cache.findDrawn(key);
        if (!drawn) {
            auto made = outline::outlineDrawing(**drawing, key.settings, progress);
            if (!made)
                return tl::unexpected<base::Error>(made.error());
            drawn = std::make_shared<const outline::Outlined>(std::move(*made));
            cache.addDrawn(key, drawn);
        }
        std::map<int, outline::Outlined> byShape;
        for (const outline::PlacedOutline& o : drawn->outlines) {
            byShape[o.letters.front()].outlines.push_back(o);
            if (copy == 0) {
                const base::Box2 own = outline::bounds(o);
                box.add(own.low);
                box.add(own.high);
            }
        }
        for (auto& [shape, outlined] : byShape)
            if (const auto letter = letterOf.find((*drawing)->shapes[static_cast<std::size_t>(shape)].id); letter != letterOf.end())
                result.parts.push_back({letter->second, copy, std::make_shared<const outline::Outlined>(std::move(outlined))});
    }
    if (!box.empty()) {
        const bool stands = work.placementOf(id).stance == Stance::OnFloor;
        result.shift.y = stands ? -box.low.y : 0;
        place.baseline = box.low.y + result.shift.y;
        place.middle = -box.low.y;
    }
    return result;
}

// The outlines of a shape of our own.
base::Result<PieceOutlines> shapeOutlines(const Work& work, const std::string& id, double tolerancePt, const base::Progress& progress)
{
    const Piece& piece = work.pieces.items.at(id);
    PieceOutlines result;
    base::Box2 box;
    const outline::Drawing drawing = drawingOf(*piece.shape());
    for (int copy = 0; copy < piece.copies.all(); ++copy) {
        auto outlined = outline::outlineDrawing(drawing, {drawing.heightPt, tolerancePt, growthsOf(piece, copy)}, progress);
        if (!outlined)
            return tl::unexpected<base::Error>(outlined.error());
        if (copy == 0)
            box = outline::bounds(*outlined);
        if (!outlined->outlines.empty())
            result.parts.push_back({kShapeLetter, copy, std::make_shared<const outline::Outlined>(std::move(*outlined))});
    }
    if (!box.empty()) {
        result.shift.y = work.placementOf(id).stance == Stance::OnFloor ? -box.low.y : 0;
        result.place.baseline = box.low.y + result.shift.y;
        result.place.middle = -box.low.y;
    }
    return result;
}

}  // namespace

std::shared_ptr<const outline::Outlined> scaled(std::shared_ptr<const outline::Outlined> outlined, const LetterOwn* own)
{
    if (!own || own->scale == 1)
        return outlined;
    const base::Box2 box = outline::bounds(*outlined);
    const base::Vec2 middle = (box.low + box.high) * 0.5;
    outline::Outlined result = *outlined;
    for (outline::PlacedOutline& o : result.outlines) {
        outline::Outline larger = *o.outline;
        larger.unitPt *= own->scale;
        o.outline = std::make_shared<const outline::Outline>(std::move(larger));
        o.originPt = middle + (o.originPt - middle) * own->scale;
    }
    return std::make_shared<const outline::Outlined>(std::move(result));
}

// The pose of a group on its piece, moved and turned about its own middle by what its letter has of its own.
base::Pose poseOn(const base::Pose& piece, base::Vec2 shift, const outline::Outlined& outlined, const LetterOwn* own)
{
    base::Pose inner;
    inner.origin = {shift.x, shift.y, 0};
    if (!own || !own->isPosed())
        return after(piece, inner);
    const base::Box2 box = outline::bounds(outlined);
    if (box.empty())
        return after(piece, inner);
    const base::Vec3 middle{(box.low.x + box.high.x) / 2, (box.low.y + box.high.y) / 2, 0};
    inner = after(turned(1, own->turn), after(turned(0, own->tilt), turned(2, own->roll)));
    inner.origin = base::Vec3{shift.x + own->x, shift.y + own->y, own->z} + middle - inner.turn(middle);
    return after(piece, inner);
}

namespace {

// The angle of a piece in its own plane, as it stands on the sheet.
double flatRoll(const Placement& placement)
{
    return placement.stance == Stance::OnFloor ? 0 : base::radians(placement.roll);
}

Vec2 flatPlace(const Work& work, const Placement& placement)
{
    return {placement.x, placement.stance == Stance::OnFloor ? -work.ground.floorBelow : placement.y};
}

base::Result<PieceOutlines> outlinesWithin(const Work& work, const std::string& id, double tolerancePt, Cache& cache,
                                           const base::Progress& progress, std::vector<std::string>& within);

// The outlines of another piece on its own plane, or those of some of its letters; nothing of itself and of what goes with it.
std::optional<outline::Outlined> onOwnPlane(const Work& work, const std::string& other, const std::vector<std::string>& letters,
                                            double tolerancePt, Cache& cache, const base::Progress& progress,
                                            std::vector<std::string>& within)
{
    if (!work.pieces.items.contains(other) || std::find(within.begin(), within.end(), other) != within.end())
        return std::nullopt;
    const auto outlines = outlinesWithin(work, other, tolerancePt, cache, progress, within);
    if (!outlines)
        return std::nullopt;
    const Piece& piece = work.pieces.items.at(other);
    const auto isMeant = [&](const std::string& letter) {
        return letters.empty() || std::find(letters.begin(), letters.end(), letterOf(letter)) != letters.end();
    };
    outline::Outlined all;
    for (const PieceOutlines::Part& part : outlines->parts) {
        if (part.copy != 0)
            continue;
        outline::Outlined own = moved(*part.outlined, 0, outlines->shift);
        if (const LetterOwn* pose = poseOwn(piece, part))
            own = placedFlat(own, *pose);
        std::erase_if(own.outlines, [&](const outline::PlacedOutline& o) {
            return !std::any_of(o.letters.begin(), o.letters.end(), [&](int number) {
                return isMeant(!part.letter.empty() ? part.letter : piece.letterIds()[static_cast<std::size_t>(number)]);
            });
        });
        all.outlines.insert(all.outlines.end(), own.outlines.begin(), own.outlines.end());
    }
    if (all.outlines.empty())
        return std::nullopt;
    return all;
}

// The outlines of a piece as it stands on the sheet, on another one's plane; nothing of itself and of what goes with it.
std::shared_ptr<const outline::Outlined> onPlaneOf(const Work& work, const std::string& id, const std::string& other, double tolerancePt,
                                                   Cache& cache, const base::Progress& progress, std::vector<std::string>& within)
{
    std::optional<outline::Outlined> taken = onOwnPlane(work, other, {}, tolerancePt, cache, progress, within);
    if (!taken)
        return nullptr;
    const Placement here = work.placementOf(id), there = work.placementOf(other);
    outline::Outlined all = std::move(*taken);
    all = moved(std::move(all), flatRoll(there), flatPlace(work, there) - flatPlace(work, here));
    return std::make_shared<const outline::Outlined>(moved(std::move(all), -flatRoll(here), {}));
}

// All of one letter; what a hole held is united with what filled it.
outline::Outlined filled(const outline::Outlined& outlined, double tolerancePt)
{
    auto full = std::make_shared<outline::Outlined>(outlined);
    for (outline::PlacedOutline& o : full->outlines) {
        outline::Outline outer = *o.outline;
        outer.contours.resize(1);
        o.outline = std::make_shared<const outline::Outline>(std::move(outer));
    }
    return outline::applied(*full, outline::CombineWith{outline::How::Unite, full}, tolerancePt);
}

// The outlines of a plate: those it goes round, grown.
base::Result<PieceOutlines> plateOutlines(const Work& work, const std::string& id, double tolerancePt, Cache& cache,
                                          const base::Progress& progress, std::vector<std::string>& within)
{
    const Piece& piece = work.pieces.items.at(id);
    const Shape& plate = *piece.shape();
    PieceOutlines result;
    within.push_back(id);
    std::optional<outline::Outlined> round = onOwnPlane(work, plate.piece, plate.letters, tolerancePt, cache, progress, within);
    within.pop_back();
    if (progress.stopRequested())
        return base::fail(base::ErrorCode::Stopped, "Stopped");
    if (!round) {
        result.notes.push_back(
            {"plate-alone", "What this plate went round is not there any more; choose another piece for it, or delete it", {}});
        return result;
    }
    const base::Box2 floor = outline::bounds(*round);
    for (outline::PlacedOutline& o : round->outlines) {
        outline::Outline one = *o.outline;
        for (outline::Contour& contour : one.contours)
            for (outline::Edge& edge : contour)
                edge.letter = 0;
        o.outline = std::make_shared<const outline::Outline>(std::move(one));
        o.letters = {0};
    }
    const auto grown = [&](double by) {
        outline::Outlined outlined = outline::applied(*round, outline::GrowBy{by}, tolerancePt);
        return plate.fillsHoles ? filled(outlined, tolerancePt) : outlined;
    };
    const Stance stance = work.placementOf(id).stance;
    for (int copy = 0; copy < piece.copies.all(); ++copy) {
        double more = 0;
        for (const double growth : growthsOf(piece, copy))
            more += growth;
        outline::Outlined outlined = grown(plate.margin + plate.rim + more);
        if (plate.rim > 0)
            outlined = outline::applied(
                outlined,
                outline::CombineWith{outline::How::Subtract, std::make_shared<const outline::Outlined>(grown(plate.margin - more))},
                tolerancePt);
        if (stance == Stance::OnFloor) {
            // It stands on the floor as the letters do.
            const base::Box2 box = outline::bounds(outlined);
            if (!box.empty() && box.low.y < floor.low.y)
                outlined = outline::cutAlong(outlined, {{box.low.x - 1, floor.low.y}, {box.high.x + 1, floor.low.y}}, 0).left;
        }
        if (!outlined.outlines.empty())
            result.parts.push_back({kShapeLetter, copy, std::make_shared<const outline::Outlined>(std::move(outlined))});
    }
    const base::Box2 box = result.parts.empty() ? base::Box2() : outline::bounds(*result.parts.front().outlined);
    if (!box.empty()) {
        result.place.baseline = box.low.y;
        result.place.middle = -box.low.y;
    }
    return result;
}

base::Result<PieceOutlines> outlinesWithin(const Work& work, const std::string& id, double tolerancePt, Cache& cache,
                                           const base::Progress& progress, std::vector<std::string>& within)
{
    const Piece& piece = work.pieces.items.at(id);
    if (std::holds_alternative<Newer>(piece.source))
        return PieceOutlines{};
    auto outlines = piece.lettering()          ? letteringOutlines(work, id, tolerancePt, cache, progress)
                    : piece.artwork()          ? artworkOutlines(work, id, tolerancePt, cache, progress)
                    : piece.shape()->isPlate() ? plateOutlines(work, id, tolerancePt, cache, progress, within)
                                               : shapeOutlines(work, id, tolerancePt, progress);
    if (outlines) {
        outlines->place.id = id;
        outlines->place.pose = poseOf(work.placementOf(id), work.ground);
    }
    if (!outlines || !isShaped(piece))
        return outlines;
    within.push_back(id);
    const auto other = [&](const std::string& with) { return onPlaneOf(work, id, with, tolerancePt, cache, progress, within); };
    takeSteps(piece, {outlines->place.frames, outlines->shift, other, tolerancePt}, outlines->parts, outlines->notes);
    within.pop_back();
    // What was shifted lies there now; lines and handles still speak of the shift.
    outlines->shift = {};
    return outlines;
}

}  // namespace

base::Result<PieceOutlines> outlinesOf(const Work& work, const std::string& id, double tolerancePt, Cache& cache,
                                       const base::Progress& progress)
{
    std::vector<std::string> within;
    return outlinesWithin(work, id, tolerancePt, cache, progress, within);
}

std::map<std::string, LetterFrame> letterFrames(const Work& work, const std::string& id, Cache& cache)
{
    const Piece& piece = work.pieces.items.at(id);
    base::Notes notes;
    if (!piece.lettering())
        return {};
    const Lettering& lettering = *piece.lettering();
    const auto set = typeset(work, piece, cache, notes);
    const auto outlines = outlinesOf(work, id, 1, cache, {});
    if (!set || !outlines)
        return {};
    const Running running = setOnRun(work, lettering, set->layout, set->capHeightPt, cache);
    return framesOf(piece, running.layout, outlines->place.shift);
}

const LetterOwn* poseOwn(const Piece& piece, const PieceOutlines::Part& part)
{
    // A segment lies where its letter does, and is moved by what it has itself.
    const auto own = piece.letters.find(part.letter);
    if (own == piece.letters.end())
        return nullptr;
    const bool isSegment = letterOf(part.letter) != part.letter;
    return part.isPlaced && !isSegment ? nullptr : &own->second;
}

namespace {

outline::CurveContour moved(outline::CurveContour contour, const base::Pose& pose)
{
    for (outline::Curve& curve : contour)
        for (int i = 0; i <= curve.degree; ++i) {
            const base::Vec3 p = pose.apply({curve.p[i].x, curve.p[i].y, 0});
            curve.p[i] = {p.x, p.y};
        }
    return contour;
}

std::vector<outline::CurveContour> straight(const outline::PlacedOutline& placed)
{
    std::vector<outline::CurveContour> contours;
    for (const outline::Contour& contour : placed.outline->contours) {
        outline::CurveContour lines;
        for (std::size_t i = 0; i < contour.size(); ++i) {
            const auto at = [&](std::size_t k) { return placed.at(contour[k % contour.size()].from); };
            lines.push_back({1, {at(i), at(i + 1)}});
        }
        contours.push_back(std::move(lines));
    }
    return contours;
}

}  // namespace

std::map<std::string, outline::DrawnShape> curvesOf(const Work& work, const Piece& piece, Cache& cache)
{
    std::map<std::string, outline::DrawnShape> curves;
    if (const Shape* shape = piece.shape()) {
        curves[kShapeLetter] = curvesOf(*shape);
        return curves;
    }
    if (const Artwork* artwork = piece.artwork()) {
        const auto drawing = openDrawing(work, *artwork, cache);
        if (!drawing)
            return curves;
        const double scale = artwork->heightPt / (*drawing)->heightPt;
        base::Pose toPlane;
        toPlane.right = {scale, 0, 0};
        toPlane.up = {0, scale, 0};
        toPlane.origin = {-(*drawing)->widthPt / 2 * scale, -(*drawing)->heightPt / 2 * scale, 0};
        std::map<std::string, const outline::DrawnShape*> byId;
        for (const outline::DrawnShape& shape : (*drawing)->shapes)
            byId[shape.id] = &shape;
        for (const auto& [letter, shape] : artwork->shapes.items)
            if (const auto drawn = byId.find(shape.shape); drawn != byId.end()) {
                outline::DrawnShape& out = curves[letter];
                out.evenOdd = drawn->second->evenOdd;
                for (const outline::CurveContour& contour : drawn->second->contours)
                    out.contours.push_back(moved(contour, toPlane));
            }
        return curves;
    }
    base::Notes notes;
    const Lettering& lettering = *piece.lettering();
    const auto set = typeset(work, piece, cache, notes);
    if (!set)
        return curves;
    const Running running = setOnRun(work, lettering, set->layout, set->capHeightPt, cache);
    for (const outline::PlacedGlyph& glyph : running.layout.glyphs) {
        const outline::Font& font = set->faces.of(glyph.face);
        const double em = lettering.layout.sizePt * glyph.scale / font.unitsPerEm();
        base::Pose toPlane = turned(2, base::degrees(glyph.turn));
        toPlane.right = toPlane.right * em;
        toPlane.up = toPlane.up * em;
        toPlane.origin = {glyph.origin.x, glyph.origin.y, 0};
        outline::DrawnShape& out = curves[piece.letterIds()[static_cast<std::size_t>(glyph.letter)]];
        for (const outline::CurveContour& contour : font.glyphOutline(glyph.glyph))
            out.contours.push_back(moved(contour, toPlane));
    }
    return curves;
}

namespace {

// Where a piece stands on the sheet, rolled, neither turned nor tilted.
base::Pose flatPose(const Work& work, const std::string& id)
{
    const Placement placement = work.placementOf(id);
    base::Pose flat = turned(2, placement.stance == Stance::OnFloor ? 0 : placement.roll);
    flat.origin = {placement.x, placement.stance == Stance::OnFloor ? -work.ground.floorBelow : placement.y, 0};
    return flat;
}

// The same of a part of it, moved, rolled and sized.
base::Pose flatPose(const Piece& piece, const PieceOutlines& outlines, const PieceOutlines::Part& part, const base::Pose& flat)
{
    const LetterOwn* own = poseOwn(piece, part);
    LetterOwn posed = own ? *own : LetterOwn();
    posed.turn = posed.tilt = 0;
    const base::Pose pose = poseOn(flat, outlines.shift, *part.outlined, &posed);
    const base::Box2 box = outline::bounds(*part.outlined);
    const base::Vec2 middle = box.empty() ? base::Vec2() : (box.low + box.high) * 0.5;
    base::Pose larger;
    larger.right.x = larger.up.y = posed.scale;
    larger.origin = {middle.x * (1 - posed.scale), middle.y * (1 - posed.scale), 0};
    return after(pose, larger);
}

}  // namespace

base::Result<finish::FlatShape> flatShapeOf(const Work& work, const std::string& id, double tolerancePt, Cache& cache)
{
    const Piece& piece = work.pieces.items.at(id);
    finish::FlatShape shape;
    if (std::holds_alternative<Newer>(piece.source))
        return shape;
    const auto outlines = outlinesOf(work, id, tolerancePt, cache, {});
    if (!outlines)
        return tl::unexpected<base::Error>(outlines.error());
    base::Pose flat = flatPose(work, id);
    flat.origin = flat.origin - base::Vec3{work.shownSheet().x, work.shownSheet().y, 0};
    for (const PieceOutlines::Part& part : outlines->parts) {
        if (part.copy != 0)
            continue;
        const base::Pose pose = flatPose(piece, *outlines, part, flat);
        for (const outline::PlacedOutline& placed : part.outlined->outlines)
            for (const outline::Contour& contour : placed.outline->contours) {
                std::vector<Vec2>& line = shape.emplace_back();
                for (const outline::Edge& edge : contour) {
                    const Vec2 at = placed.at(edge.from);
                    const base::Vec3 on = pose.apply({at.x, at.y, 0});
                    line.push_back({on.x, on.y});
                }
            }
    }
    return shape;
}

base::Result<std::vector<DrawnLetter>> drawnLetters(const Work& work, const std::string& id, double tolerancePt, Cache& cache)
{
    const Piece& piece = work.pieces.items.at(id);
    std::vector<DrawnLetter> drawn;
    if (std::holds_alternative<Newer>(piece.source))
        return drawn;
    const auto outlines = outlinesOf(work, id, tolerancePt, cache, {});
    if (!outlines)
        return tl::unexpected<base::Error>(outlines.error());
    const base::Pose flat = flatPose(work, id);
    const std::vector<double> growths = growthsOf(piece, 0);
    const bool isGrown = std::any_of(growths.begin(), growths.end(), [](double g) { return g != 0; }) || isShaped(piece) ||
                         (piece.shape() && piece.shape()->isPlate()) || (piece.lettering() && piece.lettering()->run.isBetween());
    const auto curves = isGrown ? std::map<std::string, outline::DrawnShape>() : curvesOf(work, piece, cache);
    for (const PieceOutlines::Part& part : outlines->parts) {
        if (part.copy != 0)
            continue;
        const base::Pose pose = flatPose(piece, *outlines, part, flat);
        std::map<std::string, outline::DrawnShape> letters;
        for (const outline::PlacedOutline& o : part.outlined->outlines)
            for (const int number : o.letters) {
                const std::string letter = !part.letter.empty() ? part.letter : piece.letterIds()[static_cast<std::size_t>(number)];
                if (const auto found = curves.find(letter); found != curves.end()) {
                    letters[letter] = found->second;
                } else if (isGrown) {
                    auto& contours = letters[letter].contours;
                    for (outline::CurveContour& contour : straight(o))
                        contours.push_back(std::move(contour));
                    break;  // those that are one are drawn once
                }
            }
        for (auto& [letter, shape] : letters) {
            for (outline::CurveContour& contour : shape.contours)
                contour = moved(std::move(contour), pose);
            const Rgb colour = piece.materialOf(letter).of("face").baseColour;
            shape.colour = static_cast<std::uint32_t>(std::stoul(picture::hexFromRgb(colour).substr(1), nullptr, 16));
            drawn.push_back({letter, std::move(shape)});
        }
    }
    const auto ids = piece.allLetters();
    std::map<std::string, std::size_t> rank;
    for (std::size_t i = 0; i < ids.size(); ++i)
        rank[ids[i]] = i;
    std::stable_sort(drawn.begin(), drawn.end(), [&](const auto& a, const auto& b) { return rank[a.letter] < rank[b.letter]; });
    return drawn;
}

base::Result<std::string> piecesAsSvg(const Work& work, const std::vector<std::string>& pieces, Cache& cache)
{
    const SheetSize& sheet = work.sheet();
    const double width = sheet.widthPt(), height = sheet.heightPt();
    const char* const unit = sheet.unit == Unit::Mm ? "mm" : sheet.unit == Unit::In ? "in" : "pt";
    const double perUnit = sheet.toPt(1);
    const bool inPt = sheet.unit == Unit::Px || sheet.unit == Unit::Pt;
    std::string text = fmt::format("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" version=\"1.1\" "
                                   "width=\"{:.10g}{}\" height=\"{:.10g}{}\" viewBox=\"0 0 {:.10g} {:.10g}\">\n",
                                   inPt ? width : width / perUnit, unit, inPt ? height : height / perUnit, unit, width, height);
    // Backwards: what is in front is painted last.
    for (auto id = pieces.rbegin(); id != pieces.rend(); ++id) {
        const Piece& piece = work.pieces.items.at(*id);
        if (piece.hidden)
            continue;
        const auto letters = drawnLetters(work, *id, toleranceFor(sheet, sheet.widthPx()), cache);
        if (!letters)
            return tl::unexpected<base::Error>(letters.error());
        text += fmt::format("<g id=\"{}\"><title>{}</title>\n", *id, outline::escapedXml(titleOf(piece)));
        for (const DrawnLetter& letter : *letters) {
            base::Pose toPage;
            toPage.origin = {width / 2 - work.shownSheet().x, height / 2 - work.shownSheet().y, 0};
            std::vector<outline::CurveContour> contours;
            for (const outline::CurveContour& contour : letter.shape.contours)
                contours.push_back(moved(contour, toPage));
            std::string data;
            outline::appendPathData(data, contours, height);
            text += fmt::format("<g id=\"{}-{}\"><path fill=\"#{:06X}\"{} d=\"{}\"/></g>\n", *id, letter.letter, letter.shape.colour,
                                letter.shape.evenOdd ? " fill-rule=\"evenodd\"" : "", data);
        }
        text += "</g>\n";
    }
    return text + "</svg>\n";
}

}  // namespace work
