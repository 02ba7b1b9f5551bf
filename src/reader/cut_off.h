// Whether the end of a picture is missing.
#pragma once

#include <algorithm>
#include <cstdint>
#include <string_view>
#include <vector>

namespace reader {

// What a loader would show half of: a PNG ends with IEND (ISO 15948, 11.2.5), a JPEG with EOI (ITU T.81, B.1.1.3).
inline bool isCutOff(const std::vector<std::uint8_t>& bytes)
{
    constexpr std::size_t kTail = 1 << 16;  // what programs add behind the end
    using namespace std::string_view_literals;
    const std::string_view all(reinterpret_cast<const char*>(bytes.data()), bytes.size());
    const std::string_view tail = all.substr(all.size() - std::min(all.size(), kTail));
    return (all.starts_with("\x89PNG"sv) && tail.find("IEND"sv) == tail.npos) ||
           (all.starts_with("\xff\xd8"sv) && tail.find("\xff\xd9"sv) == tail.npos);
}

}  // namespace reader
