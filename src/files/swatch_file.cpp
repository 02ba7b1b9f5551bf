#include "files/swatch_file.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <optional>
#include <string_view>

#include "base/file.h"
#include "picture/colour.h"

namespace files {

namespace {

constexpr std::size_t kMostSwatchBytes = 4u << 20, kMostSwatches = 256, kMostName = 100;

bool isHex(char c)
{
    return std::isxdigit(static_cast<unsigned char>(c)) != 0;
}
bool isSpace(char c)
{
    return std::isspace(static_cast<unsigned char>(c)) != 0;
}
bool isDigit(char c)
{
    return c >= '0' && c <= '9';
}

std::string_view trimmed(std::string_view text)
{
    while (!text.empty() && isSpace(text.front()))
        text.remove_prefix(1);
    while (!text.empty() && isSpace(text.back()))
        text.remove_suffix(1);
    return text;
}

// A whole number from 0 to 255 that the text begins with, which is taken off it.
std::optional<int> takeByte(std::string_view& text)
{
    text = trimmed(text);
    int value = 0;
    std::size_t digits = 0;
    for (; digits < text.size() && digits < 4 && isDigit(text[digits]); ++digits)
        value = 10 * value + (text[digits] - '0');
    if (digits == 0 || value > 255)
        return std::nullopt;
    text.remove_prefix(digits);
    return value;
}

base::Rgb rgbOf(const std::array<int, 3>& bytes)
{
    char hex[8];
    std::snprintf(hex, sizeof hex, "#%02X%02X%02X", bytes[0] & 255, bytes[1] & 255, bytes[2] & 255);
    return *picture::rgbFromHex(hex);
}

// "243 217 177 Sand", as palette lists have it.
std::optional<work::Swatch> listed(std::string_view line)
{
    std::array<int, 3> bytes{};
    for (int& byte : bytes) {
        const auto value = takeByte(line);
        if (!value || (!line.empty() && !isSpace(line.front())))
            return std::nullopt;
        byte = *value;
    }
    return work::Swatch{std::string(trimmed(line)), rgbOf(bytes)};
}

// A word of a variable ("--sand", "$sand") or a name before a colour; what else may stand there names nothing.
std::string nameBefore(std::string_view text)
{
    text = trimmed(text);
    if (text.empty() || (text.back() != ':' && text.back() != '='))
        return {};
    text = trimmed(text.substr(0, text.size() - 1));
    std::size_t begin = text.size();
    while (begin > 0 && (std::isalnum(static_cast<unsigned char>(text[begin - 1])) || text[begin - 1] == '-' || text[begin - 1] == '_'))
        --begin;
    const bool isVariable = text.substr(begin).starts_with("--") || (begin > 0 && (text[begin - 1] == '$' || text[begin - 1] == '@'));
    if (!isVariable)
        return {};  // "fill", "color": a property's name says nothing of the colour
    std::string_view word = text.substr(begin);
    while (word.starts_with('-'))
        word.remove_prefix(1);
    return std::string(word);
}

class SwatchReader {
public:
    std::vector<work::Swatch> swatches;

    void readLine(std::string_view line)
    {
        if (const auto swatch = listed(trimmed(line))) {
            add(swatch->colour, swatch->name);
            return;
        }
        const std::string_view bare = trimmed(line);
        if (bare.size() == 6 && std::all_of(bare.begin(), bare.end(), isHex)) {
            add(*picture::rgbFromHex(bare), {});
            return;
        }
        for (std::size_t i = 0; i < line.size(); ++i) {
            if (line[i] == '#') {
                std::size_t end = i + 1;
                while (end < line.size() && isHex(line[end]))
                    ++end;
                const bool goesOn = end < line.size() && (std::isalnum(static_cast<unsigned char>(line[end])) || line[end] == '_');
                if (const auto colour = goesOn ? std::nullopt : picture::rgbFromHex(line.substr(i, end - i))) {
                    std::string name = nameBefore(line.substr(0, i));
                    const std::string_view behind = trimmed(line.substr(end));
                    if (name.empty() && trimmed(line.substr(0, i)).empty() && behind.find_first_of("#;:{}<>\"=") == std::string_view::npos)
                        name = behind;  // "#F3D9B1 Sand"
                    add(*colour, std::move(name));
                }
                i = end - 1;
            } else if (line.substr(i).starts_with("rgb(") || line.substr(i).starts_with("rgba(")) {
                std::string_view rest = line.substr(line.find('(', i) + 1);
                std::array<int, 3> bytes{};
                bool good = true;
                for (int& byte : bytes) {
                    const auto value = takeByte(rest);
                    good = good && value;
                    byte = value.value_or(0);
                    rest = trimmed(rest);
                    if (rest.starts_with(','))
                        rest.remove_prefix(1);
                }
                if (good)
                    add(rgbOf(bytes), nameBefore(line.substr(0, i)));
            }
        }
    }

private:
    void add(base::Rgb colour, std::string name)
    {
        const std::string hex = picture::hexFromRgb(colour);
        if (swatches.size() >= kMostSwatches ||
            std::any_of(swatches.begin(), swatches.end(), [&](const work::Swatch& s) { return picture::hexFromRgb(s.colour) == hex; }))
            return;
        swatches.push_back({name.empty() ? hex : name.substr(0, kMostName), colour});
    }
};

}  // namespace

base::Result<std::vector<work::Swatch>> readSwatches(const std::string& path)
{
    const auto bytes = base::readFile(path, kMostSwatchBytes);
    if (!bytes)
        return base::failed(bytes);
    const std::string_view text(reinterpret_cast<const char*>(bytes->data()), bytes->size());
    SwatchReader reader;
    for (std::size_t begin = 0; begin < text.size();) {
        const std::size_t end = std::min(text.find_first_of("\r\n", begin), text.size());
        reader.readLine(text.substr(begin, end - begin));
        begin = end + 1;
    }
    if (reader.swatches.empty())
        return base::fail(base::ErrorCode::BadInput,
                          "There is no colour in it: it may be a palette list (.gpl), CSS, SVG or a list of hex values such as #E8664F",
                          path);
    return std::move(reader.swatches);
}

}  // namespace files
