#include "files/light_file.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include <algorithm>
#include <cstring>
#include <map>

namespace files {

namespace {

namespace oiio = OIIO;

constexpr const char* kKey = "openGlow:key";
constexpr const char* kSamples = "openGlow:samples";
constexpr const char* kAbout = "openGlow:about";
constexpr const char* kEntries = "openGlow:entries";  // their names, a line each, in their order
constexpr float kMostHalf = 65504;
constexpr int kMostKept = 100000;  // px

std::vector<std::string> channelsOf(const film::Entries& entries)
{
    std::vector<std::string> names{"A"};
    for (const film::Entry& entry : entries)
        for (const char* const channel : {"R", "G", "B"})
            names.push_back("light." + entry.name + "." + channel);
    return names;
}

constexpr const char* kIdChannels[] = {"piece", "pieceHigh", "letter", "letterHigh", "part", "share"};
constexpr const char* kDepthChannel = "depth.Z";  // behind the aim; not in files of earlier versions
constexpr const char* kOpenChannel = "open.Y";    // share of the lights that nothing hides; not in files of earlier versions
constexpr int kHighId = 1024;                     // half floats hold numbers up to twice that

std::vector<std::string> idChannels()
{
    std::vector<std::string> names;
    for (int i = 0; i < film::kIds; ++i)
        for (const char* const channel : kIdChannels)
            names.push_back(fmt::format("ids{}.{}", i, channel));
    return names;
}

void putIds(const film::RankedIds& ids, float* to)
{
    for (int i = 0; i < film::kIds; ++i) {
        const film::PixelId& id = ids.ids[i];
        for (const int value : {id.piece % kHighId, id.piece / kHighId, id.letter % kHighId, id.letter / kHighId, int{id.part}})
            *to++ = static_cast<float>(value);
        *to++ = ids.shares[i];
    }
    *to++ = std::clamp(ids.depth, -kMostHalf, kMostHalf);
    *to = ids.open;
}

film::RankedIds idsFrom(const float* from)
{
    film::RankedIds ids;
    for (int i = 0; i < film::kIds; ++i, from += std::size(kIdChannels)) {
        // What is no number of a thing is 0, which nothing has.
        const auto number = [](float v, float most) { return v >= 0 && v <= most ? static_cast<int>(v) : 0; };
        const auto whole = [&](float low, float high) {
            return static_cast<std::uint16_t>(number(low, kHighId - 1) + kHighId * number(high, 63));
        };
        ids.ids[i] = {whole(from[0], from[1]), whole(from[2], from[3]), static_cast<std::uint16_t>(number(from[4], 255))};
        ids.shares[i] = from[5] >= 0 && from[5] <= 1 ? from[5] : 0;
    }
    return ids;
}

std::vector<std::string> lines(const std::string& text)
{
    std::vector<std::string> result;
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t end = std::min(text.find('\n', from), text.size());
        result.push_back(text.substr(from, end - from));
        from = end + 1;
    }
    return result;
}

// The library's own reader runs over the end of the bytes when a file sends it there.
class Bytes : public oiio::Filesystem::IOMemReader {
public:
    using IOMemReader::IOMemReader;

    std::size_t read(void* to, std::size_t count) override
    {
        const std::size_t done = pread(to, count, tell());
        seek(tell() + static_cast<std::int64_t>(done));
        return done;
    }
    std::size_t pread(void* to, std::size_t count, std::int64_t from) override
    {
        if (from < 0 || static_cast<std::size_t>(from) >= size())
            return 0;
        const std::size_t there = std::min(count, size() - static_cast<std::size_t>(from));
        std::memcpy(to, m_buf.data() + from, there);
        return there;
    }
};

// Whether the header's attributes lie within the file and are as long as they say: the library takes as much memory as a text claims
// before it reads it, and reads what has a size of its own by that. Magic number, version with flags, then name, type, size and value of
// each attribute, and an empty name (OpenEXR File Layout, openexr.com). Files of several parts and types that are not written here are
// none of ours.
bool headerFits(const std::vector<std::uint8_t>& bytes)
{
    std::size_t at = 4;
    const auto whole = [&]() -> std::uint32_t {
        if (at > bytes.size() || bytes.size() - at < 4)
            return 0;
        const std::uint32_t value =
            bytes[at] | bytes[at + 1] << 8u | bytes[at + 2] << 16u | static_cast<std::uint32_t>(bytes[at + 3]) << 24u;
        at += 4;
        return value;
    };
    const auto name = [&] {
        const std::size_t from = std::min(at, bytes.size());
        while (at < bytes.size() && bytes[at] != 0)
            ++at;
        const std::string text(bytes.begin() + static_cast<std::ptrdiff_t>(from),
                               bytes.begin() + static_cast<std::ptrdiff_t>(std::min(at, bytes.size())));
        ++at;
        return text;
    };
    // Names of channels, each with 16 bytes, and an empty one.
    const auto channelsEndAt = [&](std::size_t end) {
        while (at < end) {
            if (name().empty())
                return at == end;
            at += 16;
        }
        return false;
    };
    static const std::map<std::string, std::uint32_t> kSizes{{"box2i", 16}, {"compression", 1}, {"lineOrder", 1}, {"float", 4},
                                                             {"int", 4},    {"v2f", 8},         {"v2i", 8},       {"chromaticities", 32}};
    constexpr std::uint32_t kVersion = 2, kLongNames = 0x400;
    if (bytes.size() < 8 || (whole() & ~kLongNames) != kVersion)
        return false;
    while (at < bytes.size() && !name().empty()) {
        const std::string type = name();
        const std::size_t size = whole();
        if (at > bytes.size() || size > bytes.size() - at)
            return false;
        const std::size_t end = at + size;
        const auto fixed = kSizes.find(type);
        if (fixed != kSizes.end() ? size != fixed->second : type == "chlist" ? !channelsEndAt(end) : type != "string")
            return false;
        at = end;
    }
    return at <= bytes.size();
}

}  // namespace

base::Result<std::vector<std::uint8_t>> lightBytes(const LightFile& light)
{
    const film::FilmShape& s = light.shares.shape;
    std::vector<std::string> channels = channelsOf(s.entries);
    const bool hasIds = !light.shares.ids.empty();
    if (hasIds)
        for (std::string& channel : idChannels())
            channels.push_back(std::move(channel));
    if (hasIds)
        channels.insert(channels.end(), {kDepthChannel, kOpenChannel});
    const std::size_t stride = light.shares.stride(), count = channels.size();
    oiio::ImageSpec spec(s.regionWidth, s.regionHeight, static_cast<int>(count), oiio::TypeDesc::HALF);
    spec.channelnames = std::move(channels);
    spec.alpha_channel = 0;
    spec.x = s.regionX;
    spec.y = s.regionY;
    spec.full_x = spec.full_y = 0;
    spec.full_width = s.width;
    spec.full_height = s.height;
    std::string entries;
    for (const film::Entry& entry : s.entries)
        entries += entry.name + "\n";
    spec.attribute("compression", "zip");
    spec.attribute("oiio:ColorSpace", "Linear");
    spec.attribute(kKey, light.key);
    spec.attribute(kSamples, static_cast<float>(light.samples));
    spec.attribute(kEntries, entries);
    spec.attribute(kAbout, light.about);

    std::vector<unsigned char> bytes;
    oiio::Filesystem::IOVecOutput memory(bytes);
    oiio::Filesystem::IOProxy* proxy = &memory;
    spec.attribute("oiio:ioproxy", oiio::TypeDesc::PTR, &proxy);
    const auto cannot = [](const std::string& why) {
        return base::fail(base::ErrorCode::CannotWrite, fmt::format("The light of this picture cannot be kept ({})", why));
    };
    const auto out = oiio::ImageOutput::create("openexr");
    if (!out || !out->open("light.exr", spec))
        return cannot(out ? out->geterror() : "no EXR writer");
    constexpr int kTogether = 64;  // rows
    std::vector<float> rows;
    for (int y = 0; y < s.regionHeight; y += kTogether) {
        const int end = std::min(y + kTogether, s.regionHeight);
        rows.resize(static_cast<std::size_t>(end - y) * static_cast<std::size_t>(s.regionWidth) * count);
        float* to = rows.data();
        for (int row = y; row < end; ++row)
            for (int x = 0; x < s.regionWidth; ++x, to += count) {
                const float* from = light.shares.at(x, row);
                std::transform(from, from + stride, to, [](float v) { return std::clamp(v, -kMostHalf, kMostHalf); });
                if (hasIds)
                    putIds(light.shares.idsAt(x, row), to + stride);
            }
        if (!out->write_scanlines(s.regionY + y, s.regionY + end, 0, oiio::TypeDesc::FLOAT, rows.data()))
            return cannot(out->geterror());
    }
    if (!out->close())
        return cannot(out->geterror());
    return bytes;
}

base::Result<LightFile> lightFromBytes(const std::vector<std::uint8_t>& bytes, const std::string& name)
{
    const auto broken = [&](const std::string& why) {
        return base::fail(base::ErrorCode::BadInput,
                          fmt::format("This is no kept light of a picture, or it is damaged ({}); render it again", why), name);
    };
    if (!headerFits(bytes))
        return broken("its header is cut off");
    Bytes memory(bytes.data(), bytes.size());
    oiio::Filesystem::IOProxy* proxy = &memory;
    oiio::ImageSpec config;
    config.attribute("oiio:ioproxy", oiio::TypeDesc::PTR, &proxy);
    const auto in = oiio::ImageInput::create("openexr", false);
    oiio::ImageSpec spec;
    if (!in || !in->open("light.exr", spec, config))
        return broken("it is no OpenEXR picture");
    // Deflate packs 1,032 bytes into one at the best (RFC 1951): what claims to be larger than that is damaged.
    const double claimed = static_cast<double>(spec.width) * spec.height * spec.nchannels * 2;
    if (spec.width < 1 || spec.height < 1 || spec.x < 0 || spec.y < 0 || spec.full_width > kMostKept || spec.full_height > kMostKept ||
        spec.x + spec.width > spec.full_width || spec.y + spec.height > spec.full_height ||
        claimed > 1040.0 * static_cast<double>(bytes.size()))
        return broken("its size is no picture's");
    if (!spec.find_attribute(kKey) || !spec.find_attribute(kEntries))
        return broken("its lights are not named");
    LightFile light;
    film::FilmShape shape{spec.full_width,
                          spec.full_height,
                          spec.x,
                          spec.y,
                          spec.width,
                          spec.height,
                          film::entriesNamed(lines(spec.get_string_attribute(kEntries))),
                          0};
    const std::vector<std::string> wanted = channelsOf(shape.entries);
    std::vector<std::size_t> places;  // in the file, of our channels
    for (const std::string& channel : wanted) {
        const auto at = std::find(spec.channelnames.begin(), spec.channelnames.end(), channel);
        if (at == spec.channelnames.end())
            return broken("it lacks " + channel);
        places.push_back(static_cast<std::size_t>(at - spec.channelnames.begin()));
    }
    std::vector<std::size_t> idPlaces;  // none in files of earlier versions
    for (const std::string& channel : idChannels())
        if (const auto at = std::ranges::find(spec.channelnames, channel); at != spec.channelnames.end())
            idPlaces.push_back(static_cast<std::size_t>(at - spec.channelnames.begin()));
    const bool hasIds = idPlaces.size() == film::kIds * std::size(kIdChannels);
    const auto placeOf = [&](const char* channel) {
        return static_cast<std::size_t>(std::ranges::find(spec.channelnames, channel) - spec.channelnames.begin());
    };
    const std::size_t depthPlace = placeOf(kDepthChannel), openPlace = placeOf(kOpenChannel);
    light.key = spec.get_string_attribute(kKey);
    light.samples = static_cast<double>(spec.get_float_attribute(kSamples));
    light.about = spec.get_string_attribute(kAbout);
    light.shares = film::LightShares(shape);
    const auto channels = static_cast<std::size_t>(spec.nchannels);
    std::vector<float> row(static_cast<std::size_t>(spec.width) * channels), idValues(idPlaces.size());
    if (hasIds)
        light.shares.ids.reserve(static_cast<std::size_t>(spec.width) * static_cast<std::size_t>(spec.height));
    for (int y = 0; y < spec.height; ++y) {
        if (!in->read_scanline(spec.y + y, 0, oiio::TypeDesc::FLOAT, row.data()))
            return broken("it ends early");
        for (int x = 0; x < spec.width; ++x) {
            const float* from = &row[static_cast<std::size_t>(x) * channels];
            for (std::size_t c = 0; c < places.size(); ++c)
                light.shares.at(x, y)[c] = from[places[c]];
            if (!hasIds)
                continue;
            for (std::size_t c = 0; c < idPlaces.size(); ++c)
                idValues[c] = from[idPlaces[c]];
            light.shares.ids.push_back(idsFrom(idValues.data()));
            if (depthPlace < channels && std::isfinite(from[depthPlace]))
                light.shares.ids.back().depth = from[depthPlace];
            if (openPlace < channels && from[openPlace] >= 0 && from[openPlace] <= 1)
                light.shares.ids.back().open = from[openPlace];
        }
    }
    return light;
}

}  // namespace files
