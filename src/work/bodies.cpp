#include "work/bodies.h"

#include <fmt/format.h>

#include <atomic>
#include <cmath>

#include "base/file.h"
#include "base/parallel.h"
#include "base/units.h"
#include "outline/outline.h"
#include "solid/block.h"
#include "solid/check.h"
#include "solid/domed.h"
#include "solid/slab.h"
#include "solid/tube.h"
#include "work/coplanar.h"
#include "work/piece_outlines.h"

namespace work {

namespace {

constexpr double kTolerancePx = 0.15;

struct Job {
    std::string piece;
    int copy = 0;
    std::vector<std::string> letters;
    std::shared_ptr<const outline::Outline> outline;
    Form form;
    base::Pose pose;
    base::Vec2 home;
    double homeTurn = 0;
};

// A slab that is closed, or an error. Outlines beyond anything that type has can defeat the bevel: then it is left out, with a note.
base::Result<solid::Body> closedSlab(const outline::Outline& outline, const solid::SlabForm& form, double tolerancePt,
                                     const base::Progress& progress)
{
    auto made = solid::makeSlab(outline, form, tolerancePt, progress);
    if (!made || solid::isClosed(*made))
        return made;
    solid::SlabForm plain = form;
    plain.front = plain.back = {};
    made = solid::makeSlab(outline, plain, tolerancePt, progress);
    if (made && !solid::isClosed(*made))
        return base::fail(base::ErrorCode::BadInput, "The outline of this letter is too tangled to become a closed body");
    if (made)
        made->notes.push_back({"no-bevel", "The outline of this letter is too tangled for its bevel, which is left out", {}});
    return made;
}

// The same for a dome, which becomes flat where it cannot be.
base::Result<solid::Body> closedDomed(const outline::Outline& outline, const solid::DomedForm& form, double tolerancePt,
                                      const base::Progress& progress)
{
    auto made = solid::makeDomed(outline, form, tolerancePt, progress);
    if (made ? solid::isClosed(*made) : made.error().code == base::ErrorCode::Stopped)
        return made;
    made = closedSlab(outline, {form.depthPt, {}, {}}, tolerancePt, progress);
    if (made)
        made->notes.push_back({"no-dome", "The outline of this letter is too tangled to be domed; it is flat", {}});
    return made;
}

base::Result<solid::Body> makeBody(const outline::Outline& outline, const Form& form, double tolerancePt, const base::Progress& progress)
{
    if (const auto* slab = std::get_if<solid::SlabForm>(&form))
        return closedSlab(outline, *slab, tolerancePt, progress);
    if (const auto* domed = std::get_if<solid::DomedForm>(&form))
        return closedDomed(outline, *domed, tolerancePt, progress);
    if (const auto* block = std::get_if<solid::BlockForm>(&form))
        return solid::makeBlock(outline, *block, tolerancePt, progress);
    if (const auto* tube = std::get_if<solid::TubeForm>(&form))
        return solid::makeTube(outline, *tube, tolerancePt, progress);
    return base::fail(base::ErrorCode::BadInput, "The form of this letter was made by a newer version of Open Glow");
}

Form formOfCopy(Form form, const Copies& copies, int copy)
{
    if (copy > 0)
        setDepth(form, depthOf(form) + copies.stepOf(copy) * copies.depthStep);
    return form;
}

// Forms that go along their depth about the piece's middle learn where that is on each outline: the middle of all outlines of the same
// copy, on the plane of each. Blocks learn where the point lies that they run to, which is one for the whole piece.
void turnTogether(std::vector<Job>& jobs, std::size_t first, const base::Pose& plane)
{
    std::map<int, base::Box3> boxes;  // of each copy, in the world
    for (std::size_t i = first; i < jobs.size(); ++i) {
        const base::Box2 own = outline::bounds(*jobs[i].outline);
        for (const base::Vec2 p : {own.low, own.high, base::Vec2{own.low.x, own.high.y}, base::Vec2{own.high.x, own.low.y}})
            boxes[jobs[i].copy].add(jobs[i].pose.apply({p.x, p.y, 0}));
    }
    for (std::size_t i = first; i < jobs.size(); ++i)
        if (auto* block = std::get_if<solid::BlockForm>(&jobs[i].form)) {
            const base::Pose& own = jobs[i].pose;
            const base::Vec3 way = block->toPoint ? plane.apply({block->x, block->y, 0}) - own.origin : plane.turn({block->x, block->y, 0});
            block->resolved = base::Vec2{dot(way, own.right), dot(way, own.up)};
        }
    for (std::size_t i = first; i < jobs.size(); ++i)
        if (solid::Along* along = alongOf(jobs[i].form); along && along->together && !along->none()) {
            const base::Vec3 from = boxes.at(jobs[i].copy).centre() - jobs[i].pose.origin;
            along->about = base::Vec2{dot(from, jobs[i].pose.right), dot(from, jobs[i].pose.up)};
        }
}

// The outline stage counts letters; a note is placed by their ids.
std::string placeIn(const std::string& pieceId, const Piece& piece, const std::string& place)
{
    std::size_t number = 0;
    if (std::sscanf(place.c_str(), "letter %zu", &number) == 1 && number >= 1 && number <= piece.letterIds().size())
        return placeOf({pieceId, piece.letterIds()[number - 1]});
    return placeOf({pieceId}) + (place.empty() ? "" : ", " + place);
}

// Adds the jobs of one piece; what is missing goes into notes.
base::Result<void> addJobs(const Work& work, const std::string& id, double tolerancePt, Cache& cache, std::vector<Job>& jobs,
                           WorkBodies& result, const base::Progress& progress)
{
    const Piece& piece = work.pieces.items.at(id);
    if (std::holds_alternative<Newer>(piece.source))
        return {};
    const auto outlines = outlinesOf(work, id, tolerancePt, cache, progress);
    if (!outlines) {
        base::Error error = outlines.error();
        error.place = placeIn(id, piece, error.place);
        if (!piece.lettering() && error.code != base::ErrorCode::Stopped) {
            result.notes.push_back({"left-out", error.message, placeOf({id})});
            return {};
        }
        return tl::unexpected<base::Error>(std::move(error));
    }
    base::Notes found = outlines->notes;
    result.places.push_back(outlines->place);
    bool shows = false;
    const std::size_t firstJob = jobs.size();
    for (const PieceOutlines::Part& part : outlines->parts) {
        const LetterOwn* adjusted = poseOwn(piece, part);
        const bool isSegment = letterOf(part.letter) != part.letter;
        const Copies& copies = piece.copies;
        const int steps = copies.stepOf(part.copy), row = copies.rowOf(part.copy);
        base::Pose step = turned(2, copies.turn * steps);
        step.origin = {copies.across * steps + copies.rowAcross * row, copies.up * steps + copies.rowUp * row, -copies.back * steps};
        const auto outlined = scaled(part.outlined, adjusted);
        const base::Pose pose = poseOn(after(outlines->place.pose, step), outlines->shift, *outlined, adjusted);
        for (const outline::PlacedOutline& o : outlined->outlines) {
            std::vector<std::string> letters;
            for (const int letter : o.letters)
                letters.push_back(!piece.lettering() || isSegment ? part.letter : piece.letterIds()[static_cast<std::size_t>(letter)]);
            base::Pose placed = o.turn == 0 ? pose : after(pose, turned(2, base::degrees(o.turn)));
            placed.origin = pose.apply({o.originPt.x, o.originPt.y, 0});
            const base::Vec2 home = outlines->shift + o.originPt - base::Vec2{0, outlines->place.baseline + outlines->place.middle};
            jobs.push_back({id, part.copy, std::move(letters), o.outline, formOfCopy(piece.formOf(part.letter), piece.copies, part.copy),
                            placed, home, o.turn});
            shows = true;
        }
    }
    turnTogether(jobs, firstJob, outlines->place.pose);
    const bool isToldWhy = std::any_of(found.begin(), found.end(), [](const base::Note& n) { return n.kind == "plate-alone"; });
    if (!shows && !isToldWhy)
        found.push_back({"empty",
                         piece.lettering()                           ? "This piece shows nothing: type a text that the font can draw"
                         : piece.artwork()                           ? "This piece shows nothing: its artwork has no shapes"
                         : piece.shape() && piece.shape()->isPlate() ? "This plate shows nothing: give it a larger margin"
                                                                     : "This piece shows nothing: its line needs two points at least",
                         {}});
    for (base::Note& note : found) {
        note.place = placeIn(id, piece, note.place);
        result.notes.push_back(std::move(note));
    }
    return {};
}

}  // namespace

base::Pose poseOf(const Placement& p, const Ground& ground)
{
    switch (p.stance) {
    case Stance::AgainstWall: {
        base::Pose pose = turned(2, p.roll);
        pose.origin = {p.x, p.y, -ground.wallBehind};
        return pose;
    }
    case Stance::OnFloor: {
        base::Pose pose = turned(1, p.turn);
        pose.origin = {p.x, -ground.floorBelow, p.z};
        return pose;
    }
    case Stance::Free:
        break;
    }
    base::Pose pose = after(turned(1, p.turn), after(turned(0, p.tilt), turned(2, p.roll)));
    pose.origin = {p.x, p.y, p.z};
    return pose;
}

base::Result<std::shared_ptr<const outline::Drawing>> openDrawing(const Work& work, const Artwork& artwork, Cache& cache)
{
    const auto asset = work.assets.find(artwork.drawing);
    if (asset == work.assets.end() || !asset->second.bytes)
        return base::fail(base::ErrorCode::BadInput,
                          fmt::format("The shapes of \"{}\" are not in this work; replace the artwork", artwork.name));
    const outline::SharedBytes& bytes = asset->second.bytes;
    if (auto drawing = cache.findDrawing(bytes))
        return drawing;
    auto read = outline::drawingFromSvg({reinterpret_cast<const char*>(bytes->data()), bytes->size()}, artwork.name);
    if (!read)
        return tl::unexpected<base::Error>(read.error());
    auto drawing = std::make_shared<const outline::Drawing>(std::move(*read));
    cache.addDrawing(bytes, drawing);
    return drawing;
}

base::Box3 worldBox(const WorkBody& b)
{
    const base::Box3 own = solid::bounds(*b.body);
    base::Box3 box;
    for (int i = 0; i < 8; ++i)
        box.add(b.pose.apply({i & 1 ? own.high.x : own.low.x, i & 2 ? own.high.y : own.low.y, i & 4 ? own.high.z : own.low.z}));
    return box;
}

base::Result<WorkBodies> makeBodies(const Work& work, double tolerancePt, Cache& cache, const base::Progress& progress)
{
    WorkBodies result;
    std::vector<Job> jobs;
    for (const std::string& id : work.pieces.order) {
        if (work.pieces.items.at(id).hidden)
            continue;
        // A flat piece is no body; what its text lacks is said all the same.
        const bool flat = isFlat(work, id);
        std::vector<Job> none;
        WorkBodies said;
        if (auto added = addJobs(work, id, tolerancePt, cache, flat ? none : jobs, flat ? said : result, progress); !added)
            return tl::unexpected<base::Error>(added.error());
        result.notes.insert(result.notes.end(), said.notes.begin(), said.notes.end());
    }

    // Equal outlines are made once.
    struct Task {
        Cache::BodyKey key;
        solid::SharedBody body;
        base::Error error;
    };
    std::vector<Task> tasks;
    std::vector<std::size_t> taskOf(jobs.size());
    std::map<const outline::Outline*, std::vector<std::size_t>> known;  // with one form each
    for (std::size_t i = 0; i < jobs.size(); ++i) {
        std::vector<std::size_t>& same = known[jobs[i].outline.get()];
        const auto at = std::find_if(same.begin(), same.end(), [&](std::size_t t) { return tasks[t].key.form == jobs[i].form; });
        taskOf[i] = at == same.end() ? tasks.size() : *at;
        if (at == same.end()) {
            same.push_back(tasks.size());
            tasks.push_back({{jobs[i].outline, jobs[i].form, tolerancePt}, nullptr, {}});
        }
    }
    std::atomic<std::size_t> done{0};
    base::parallelFor(tasks.size(), [&](std::size_t i) {
        Task& task = tasks[i];
        task.body = cache.findBody(task.key);
        if (!task.body && !progress.stopRequested()) {
            auto made = makeBody(*task.key.outline, task.key.form, tolerancePt, progress);
            if (made) {
                task.body = std::make_shared<const solid::Body>(std::move(*made));
                cache.addBody(task.key, task.body);
            } else {
                task.error = made.error();
            }
        }
        progress.set(static_cast<double>(++done) / static_cast<double>(tasks.size()));
    });
    if (progress.stopRequested())
        return base::fail(base::ErrorCode::Stopped, "Stopped");

    for (std::size_t i = 0; i < jobs.size(); ++i) {
        const Task& task = tasks[taskOf[i]];
        const std::string place = placeOf({jobs[i].piece, jobs[i].letters.front()});
        if (!task.body) {
            result.notes.push_back({"left-out", task.error.message + "; it is left out", place});
            continue;
        }
        for (base::Note note : task.body->notes) {
            note.place = place;
            result.notes.push_back(std::move(note));
        }
        result.bodies.push_back({jobs[i].piece, jobs[i].copy, jobs[i].letters, task.body, jobs[i].pose, jobs[i].home, jobs[i].homeTurn});
        if (jobs[i].copy == 0)
            for (PiecePlace& p : result.places)
                if (p.id == jobs[i].piece)
                    p.box.add(worldBox(result.bodies.back()));
    }
    orderCoplanar(work, result);
    return result;
}

std::string placeOf(const Address& address)
{
    return "pieces/" + address.piece + (address.letter.empty() ? "" : "/letters/" + address.letter);
}

Address addressAt(const std::string& place)
{
    constexpr std::string_view kPieces = "pieces/", kLetters = "/letters/";
    if (!place.starts_with(kPieces))
        return {};
    const std::string rest = place.substr(kPieces.size(), place.find(',') - kPieces.size());
    const auto at = rest.find(kLetters);
    return {rest.substr(0, at), at == std::string::npos ? std::string() : rest.substr(at + kLetters.size())};
}

double toleranceFor(const SheetSize& sheet, int widthPx)
{
    return std::exp2(std::floor(std::log2(kTolerancePx * sheet.widthPt() / std::max(1, widthPx))));
}

}  // namespace work
