// Proofs: versions of a work that are kept with their pictures, to compare, to take from and to go back to. They are kept in the work
// and travel with its file; undo does not concern them (Session::editAll()).
#pragma once

#include "base/result.h"
#include "picture/raster.h"
#include "work/work.h"

namespace session {

inline constexpr std::size_t kMostProofs = 200;

// A proof of `version`, ready to be added to any step of its work: the id it gets, what it says, and the files it needs. `picture` is
// 8-bit RGB; `made` is the time as Proof says. Errors: TooLarge for a work that has kMostProofs, those of pngBytes().
struct NewProof {
    std::string id;
    work::Proof proof;
    std::map<std::string, work::Asset> assets;

    void addTo(work::Work& work) const;
};
base::Result<NewProof> newProof(const work::Work& version, const std::string& note, const std::string& made,
                                const picture::Raster<std::uint8_t>& picture);

// The version a proof keeps, with its assets, without proofs. Errors: BadInput when something of it is missing or cannot be read.
base::Result<work::Work> versionOf(const work::Work& work, const std::string& id);

// The whole work becomes the version; its proofs and the finished pictures it keeps stay.
void goBackTo(work::Work& work, const work::Work& version);

// Takes over one side of a version: the camera of the sheet that is shown; lamps, surroundings and what glows; materials of the pieces
// and letters that are in both, and of wall and floor; exposure and layers, where captions, pictures and codes stay the work's own.
enum class ProofSide { View, Light, Materials, Finish };
void takeOver(work::Work& work, const work::Work& version, ProofSide side);

}  // namespace session
