// Works as commands take them.
#pragma once

#include <string>
#include <vector>

#include "base/result.h"
#include "work/work.h"

namespace cli {

// Changed by --set options: /json/pointer=value. Errors name the option.
base::Result<work::Work> changedBy(base::Result<work::Work> work, const std::vector<std::string>& settings);

// Opened and changed; what was mended at opening is told.
base::Result<work::Work> openWith(const std::string& path, const std::vector<std::string>& settings);

}  // namespace cli
