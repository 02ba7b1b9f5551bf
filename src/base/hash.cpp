#include "base/hash.h"

#include <fmt/format.h>
#include <xxhash.h>

namespace base {

std::string contentName(std::string_view text)
{
    const XXH128_hash_t hash = XXH3_128bits(text.data(), text.size());
    return fmt::format("{:016x}{:016x}", hash.high64, hash.low64);
}

std::string contentName(std::span<const std::uint8_t> bytes)
{
    return contentName(std::string_view(reinterpret_cast<const char*>(bytes.data()), bytes.size()));
}

}  // namespace base
