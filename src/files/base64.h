// Bytes as text: RFC 4648, 4, with padding.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace files {

std::string base64Of(std::span<const std::uint8_t> bytes);
// Nothing for what is none.
std::optional<std::vector<std::uint8_t>> bytesFromBase64(std::string_view text);

}  // namespace files
