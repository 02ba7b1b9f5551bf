// Final renders on disk: each a folder with its own snapshot of the work, its settings and its film, so that it goes on later,
// also after the program was killed.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "denoise/clean.h"
#include "work/work.h"

namespace session {

struct FinalSettings {
    work::Output output;
    int widthPx = 0, heightPx = 0;
    std::uint32_t seed = 0;
    std::string out;     // path of the file
    std::string origin;  // of which work: its path, or a name of an unsaved one

    bool operator==(const FinalSettings&) const = default;
};

denoise::Mode denoiseOf(const work::Output& output);

struct Final {
    std::string folder;  // its own; also its id
    work::Work work;
    FinalSettings settings;
    double samples = 0;     // exposed so far
    double seconds = 0;     // spent so far
    bool finished = false;  // its stop rule was met and its picture written

    std::string filmPath() const { return folder + "/film"; }
};

class FinalStore {
public:
    // `folder` is made when missing.
    explicit FinalStore(std::string folder);

    // A new final, kept at once. It takes over the film of a finished one that differs in desk and finish alone, or went to the same file;
    // that one goes. Errors: CannotWrite.
    base::Result<Final> create(const work::Work& work, const FinalSettings& settings) const;
    // A final without a film gets a copy of that of a finished one of the same size that differs in desk and finish alone: outputs of one
    // sheet are rendered once.
    void borrowFilm(const Final& final) const;
    // Keeps what changed but the work. Errors: CannotWrite.
    base::Result<void> update(const Final& final) const;
    // All finals that can be read and that no other process is at work on, newest first.
    std::vector<Final> all() const;
    void remove(const std::string& folder) const;
    // Finished ones are kept, newest first, as far as all together take kMostBytes; but always `newest`.
    static constexpr std::uint64_t kMostBytes = 8ull << 30;
    void makeRoom(const std::string& newest) const;
    // Bytes that a final takes on disk.
    static std::uint64_t bytesOf(const Final& final);

private:
    std::string m_folder;
};

}  // namespace session
