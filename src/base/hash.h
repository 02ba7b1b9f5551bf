// Names for contents.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>

namespace base {

// 32 hex digits (XXH3, 128 bits): equal contents have equal names, and others do not by accident. It guards nothing. O(n), some GB/s.
std::string contentName(std::span<const std::uint8_t> bytes);
std::string contentName(std::string_view text);

}  // namespace base
