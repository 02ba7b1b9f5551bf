// How much memory a process may still take.
#pragma once

#include <cstdint>
#include <new>

#include "base/result.h"

namespace base {

// Bytes, as far as the machine, the group of processes this one runs in (cgroup, version 2 or 1) and its own limit (RLIMIT_AS) allow;
// the largest number when none of them tells.
std::uint64_t memoryAvailable();

// Runs a job; when memory runs out in it, that is an error with a sentence and not the program's end. Errors: TooLarge, and what the
// job says.
template <class Job>
auto withinMemory(const Job& job) -> decltype(job())
{
    try {
        return job();
    } catch (const std::bad_alloc&) {
        return fail(ErrorCode::TooLarge, "There is not enough memory for this; close other programs or make the picture smaller");
    }
}

}  // namespace base
