// Where the program keeps things of its own (XDG Base Directory Specification).
#pragma once

#include <string>

namespace session {

// Folders of Open Glow's own; made when missing. Without a home they are under /tmp.
std::string cacheFolder();   // can be made again
std::string stateFolder();   // must outlast a crash

// A name that no other has: time and process, in hex.
std::string freshName();

}  // namespace session
