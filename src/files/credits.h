// Who made a picture, what is seen in it and in which colours, inside its file.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "base/result.h"
#include "work/work.h"

namespace files {

// The packet that says them; nothing without any. Errors: CannotWrite.
base::Result<std::string> xmpOf(const work::Credits& credits);
// Writes them into a PNG, JPEG, WebP or TIFF as XMP (ISO 16684-1): dc:creator, dc:rights, dc:description, and the alternative text of IPTC
// Photo Metadata 2021.1. The file is written anew beside itself and then takes its own place. Without any nothing is done.
// Errors: CannotWrite.
base::Result<void> writeCredits(const work::Credits& credits, const std::string& path);
// Names the colours of a WebP, whose writer does not, in a chunk of its own (RFC 9649, 2.7 and 2.7.1.4); after the credits. Errors:
// CannotWrite.
base::Result<void> writeWebPProfile(const std::vector<std::uint8_t>& profile, int width, int height, bool hasAlpha,
                                    const std::string& path);

}  // namespace files
