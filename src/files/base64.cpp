#include "files/base64.h"

#include <algorithm>

namespace files {

namespace {

constexpr std::string_view kDigits = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

}  // namespace

std::string base64Of(std::span<const std::uint8_t> bytes)
{
    std::string text;
    text.reserve((bytes.size() + 2) / 3 * 4);
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        const std::size_t count = std::min<std::size_t>(3, bytes.size() - i);
        std::uint32_t three = 0;
        for (std::size_t k = 0; k < 3; ++k)
            three = three << 8 | (k < count ? bytes[i + k] : 0u);
        for (std::size_t k = 0; k < 4; ++k)
            text += k <= count ? kDigits[three >> (18 - 6 * k) & 63] : '=';
    }
    return text;
}

std::optional<std::vector<std::uint8_t>> bytesFromBase64(std::string_view text)
{
    if (text.size() % 4 != 0)
        return std::nullopt;
    std::vector<std::uint8_t> bytes;
    bytes.reserve(text.size() / 4 * 3);
    for (std::size_t i = 0; i < text.size(); i += 4) {
        const bool last = i + 4 == text.size();
        const std::size_t count = last && text[i + 3] == '=' ? (text[i + 2] == '=' ? 1 : 2) : 3;
        std::uint32_t three = 0;
        for (std::size_t k = 0; k < 4; ++k) {
            const std::size_t digit = k <= count ? kDigits.find(text[i + k]) : 0;
            if (digit == std::string_view::npos)
                return std::nullopt;
            three = three << 6 | static_cast<std::uint32_t>(digit);
        }
        for (std::size_t k = 0; k < count; ++k)
            bytes.push_back(static_cast<std::uint8_t>(three >> (16 - 8 * k)));
    }
    return bytes;
}

}  // namespace files
