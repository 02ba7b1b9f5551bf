// Where the program keeps things of its own (XDG Base Directory Specification).
#pragma once

#include <string>

#include "base/file_lock.h"

namespace session {

// Folders of Open Glow's own; made when missing. Without a home they are under /tmp.
std::string cacheFolder();  // can be made again
std::string stateFolder();  // must outlast a crash

// A lock that stands for a file which may be replaced: other windows see that it is open here. Errors: Busy, CannotWrite.
base::Result<std::shared_ptr<base::FileLock>> lockOf(const std::string& path);

// A name that no other has: time and process, in hex.
std::string freshName();

}  // namespace session
