// The files that a sheet becomes: added, taken away, named.
#pragma once

#include <string>

#include "work/work.h"

namespace session {

// Like the one that is shown, which it becomes. Returns its id.
std::string addOutput(work::Work& work);
// The one that is shown; one stays.
void removeOutput(work::Work& work);
void showOutput(work::Work& work, const std::string& output);

// "JPEG, 1080 px".
std::string outputTitle(const work::Work& work, const std::string& output);

// Pixels of the shown sheet as this output.
int widthOf(const work::Work& work, const work::Output& output);
int heightOf(const work::Work& work, const work::Output& output);

// Name of its file without folder and ending: its pattern filled in, without what no file name may have. `workName` is that of the work's
// file, or "" (then the work is named after its first piece); `date` as 2026-05-30.
std::string fileNameOf(const work::Work& work, const work::Output& output, const std::string& workName, const std::string& date);

}  // namespace session
