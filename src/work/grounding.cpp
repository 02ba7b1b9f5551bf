#include "work/grounding.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

#include "work/piece_outlines.h"

namespace work {

namespace {

using render::GroundKind;

bool hasFloor(GroundKind kind)
{
    return kind == GroundKind::Floor || kind == GroundKind::Sweep;
}

// Where the last baseline of a piece is in the world, and the middle of its lines over it.
struct Standing {
    double baseline = 0, middle = 0;
};

std::optional<Standing> standingOf(const Work& work, const std::string& id, Cache& cache)
{
    constexpr double kTolerance = 1;  // pt: how it stands is not seen finer
    const auto outlines = outlinesOf(work, id, kTolerance, cache, {});
    if (!outlines || outlines->parts.empty())
        return std::nullopt;
    const Placement& placement = work.pieces.items.at(id).placement;
    const double middle = outlines->place.middle;
    return Standing{placement.stance == Stance::OnFloor ? -work.ground.floorBelow : placement.y - middle, middle};
}

// The wall as far behind as the deepest pieces reach, with a bend's room where there is one.
double depthBehind(const Work& work)
{
    double behind = 0;
    for (const auto& [id, piece] : work.pieces.items)
        if (piece.placement.stance != Stance::AgainstWall)
            behind = std::max(behind, -work.placementOf(id).z + piece.copies.count * piece.copies.back);
    return behind;
}

void standOnFloor(Work& work, Cache& cache)
{
    std::map<std::string, Standing> standing;
    double lowest = 1e300;
    for (const auto& [id, piece] : work.pieces.items)
        if (piece.placement.stance == Stance::AgainstWall && !piece.hidden && !isFlat(work, id))
            if (const auto at = standingOf(work, id, cache)) {
                standing[id] = *at;
                lowest = std::min(lowest, at->baseline);
            }
    // A floor that something stands on already stays.
    const bool stands = std::any_of(work.pieces.items.begin(), work.pieces.items.end(),
                                    [](const auto& item) { return item.second.placement.stance == Stance::OnFloor; });
    if (standing.empty())
        return;
    const double behind = work.ground.wallBehind;
    if (!stands)
        work.ground.floorBelow = -lowest;
    for (const auto& [id, at] : standing) {
        Placement& p = work.pieces.items.at(id).placement;
        const bool lowestLine = !stands && at.baseline - lowest < work.pieces.items.at(id).sizePt() / 10;
        p.stance = lowestLine ? Stance::OnFloor : Stance::Free;
        p.z = -behind;
        if (!lowestLine)
            p.turn = p.tilt = 0;
    }
}

void standAgainstWall(Work& work, Cache& cache)
{
    for (auto& [id, piece] : work.pieces.items)
        if (piece.placement.stance == Stance::OnFloor)
            if (const auto at = standingOf(work, id, cache)) {
                piece.placement.stance = Stance::AgainstWall;
                piece.placement.y = at->baseline + at->middle;
                piece.placement.roll = 0;
            }
    work.ground.wallBehind = depthBehind(work);
}

}  // namespace

bool chooseGround(Work& work, GroundKind kind, Cache& cache)
{
    if (work.ground.kind == kind)
        return false;
    work.ground.kind = kind;
    if (kind == GroundKind::Wall)
        standAgainstWall(work, cache);
    if (!hasFloor(kind))
        return false;
    standOnFloor(work, cache);
    if (kind == GroundKind::Sweep) {
        work.ground.sweep = 0.35 * work.sheet().heightPt();
        work.ground.wallBehind = std::max(work.ground.wallBehind, depthBehind(work) + 1.6 * work.ground.sweep);
    }
    return riseOverFloor(work);
}

bool riseOverFloor(Work& work)
{
    if (!hasFloor(work.ground.kind) || work.viewLocked || std::abs(work.view().rise) >= kLeastRise)
        return false;
    work.view().rise = kUsualRise;
    return true;
}

}  // namespace work
