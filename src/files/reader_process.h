// Files of others are read in a process of its own, with limits on time, memory and output (decision 014): open-glow-reader for artwork,
// open-glow-picture-reader for pictures on materials.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/progress.h"
#include "base/result.h"
#include "outline/font.h"

namespace files {

inline constexpr std::uint64_t kMostReadBytes = 64u << 20;  // of a file that is read so

struct ReaderLimits {
    const char* what;     // it is called so in errors: "artwork"
    int seconds, cpu;     // by the clock here; the processor's, which the reader sets itself and errors tell
    std::size_t mostOut;  // bytes
};

// What the reader makes of the bytes. `name` is said in errors. Errors: BadInput with its reason, TooLarge for what exceeds a limit,
// CannotRead where the reader is missing, Stopped.
base::Result<std::string> readByProcess(const std::string& program, const std::vector<std::string>& arguments, const outline::Bytes& bytes,
                                        const ReaderLimits& limits, const std::string& name, const base::Progress& progress);

inline constexpr const char* kArtworkReader = "open-glow-reader";
inline constexpr const char* kPictureReader = "open-glow-picture-reader";
// Where such a program is: beside OPEN_GLOW_READER, or beside this program, or in ../libexec of it; "": nowhere.
std::string readerPath(const std::string& program);

}  // namespace files
