// JSON as text, under limits: nothing that somebody sends takes more memory or time than its size warrants.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

#include "base/result.h"

namespace files::json {

inline constexpr std::size_t kMostBytes = 64u << 20;  // of a text
inline constexpr std::size_t kMostValues = 2'000'000;
inline constexpr int kDeepest = 100;  // brackets in brackets

// Parses a text that is UTF-8. An object's key that comes twice gets another name the second time (p1, p1-2) and is told in `notes`,
// so that nothing is lost. Errors: BadInput, with line and column; TooLarge. O(n log n).
base::Result<nlohmann::json> parse(const std::string& text, base::Notes* notes = nullptr);

}  // namespace files::json
