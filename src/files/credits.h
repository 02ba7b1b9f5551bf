// Who made a picture and what is seen in it, inside its file.
#pragma once

#include <string>

#include "base/result.h"
#include "work/work.h"

namespace files {

// The packet that says them; nothing without any. Errors: CannotWrite.
base::Result<std::string> xmpOf(const work::Credits& credits);
// Writes them into a PNG, JPEG, WebP or TIFF as XMP (ISO 16684-1): dc:creator, dc:rights, dc:description, and the alternative text of IPTC
// Photo Metadata 2021.1. The file is written anew beside itself and then takes its own place. Without any nothing is done.
// Errors: CannotWrite.
base::Result<void> writeCredits(const work::Credits& credits, const std::string& path);

}  // namespace files
