#include "files/light_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "files/exr_file.h"

namespace files {

namespace {

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
    std::string entries;
    for (const film::Entry& entry : s.entries)
        entries += entry.name + "\n";
    ExrHead head{s.regionX, s.regionY, s.regionWidth, s.regionHeight, s.width, s.height, std::move(channels)};
    head.half = true;
    head.texts = {{kKey, light.key}, {kEntries, entries}, {kAbout, light.about}};
    head.numbers = {{kSamples, static_cast<float>(light.samples)}};
    const auto cannot = [](const base::Error& why) {
        return base::fail(base::ErrorCode::CannotWrite, fmt::format("The light of this picture cannot be kept ({})", why.message));
    };
    MemorySink memory;
    auto out = ExrWriter::begin(memory, head);
    if (!out)
        return cannot(out.error());
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
        if (auto added = out->add(rows.data(), end - y); !added)
            return cannot(added.error());
    }
    out->end();
    return std::move(memory.bytes);
}

base::Result<LightFile> lightFromBytes(const std::vector<std::uint8_t>& bytes, const std::string& name)
{
    const auto broken = [&](const std::string& why) {
        return base::fail(base::ErrorCode::BadInput,
                          fmt::format("This is no kept light of a picture, or it is damaged ({}); render it again", why), name);
    };
    auto in = ExrReader::open(bytes);
    if (!in)
        return broken(in.error().message);
    const ExrHead& head = in->head();
    // Deflate packs 1,032 bytes into one at the best (RFC 1951): what claims to be larger than that is damaged.
    const double claimed = static_cast<double>(head.width) * head.height * static_cast<double>(head.channels.size()) * 2;
    if (head.width < 1 || head.height < 1 || head.x < 0 || head.y < 0 || head.fullWidth > kMostKept || head.fullHeight > kMostKept ||
        head.x > head.fullWidth - head.width || head.y > head.fullHeight - head.height ||
        claimed > 1040.0 * static_cast<double>(bytes.size()))
        return broken("its size is no picture's");
    if (!head.texts.contains(kKey) || !head.texts.contains(kEntries))
        return broken("its lights are not named");
    LightFile light;
    film::FilmShape shape{
        head.fullWidth, head.fullHeight, head.x, head.y, head.width, head.height, film::entriesNamed(lines(head.texts.at(kEntries))), 0};
    const std::vector<std::string> wanted = channelsOf(shape.entries);
    std::vector<std::size_t> places;  // in the file, of our channels
    for (const std::string& channel : wanted) {
        const auto at = std::find(head.channels.begin(), head.channels.end(), channel);
        if (at == head.channels.end())
            return broken("it lacks " + channel);
        places.push_back(static_cast<std::size_t>(at - head.channels.begin()));
    }
    std::vector<std::size_t> idPlaces;  // none in files of earlier versions
    for (const std::string& channel : idChannels())
        if (const auto at = std::ranges::find(head.channels, channel); at != head.channels.end())
            idPlaces.push_back(static_cast<std::size_t>(at - head.channels.begin()));
    const bool hasIds = idPlaces.size() == film::kIds * std::size(kIdChannels);
    const auto placeOf = [&](const char* channel) {
        return static_cast<std::size_t>(std::ranges::find(head.channels, channel) - head.channels.begin());
    };
    const std::size_t depthPlace = placeOf(kDepthChannel), openPlace = placeOf(kOpenChannel);
    light.key = head.texts.at(kKey);
    if (const auto samples = head.numbers.find(kSamples); samples != head.numbers.end())
        light.samples = static_cast<double>(samples->second);
    if (const auto about = head.texts.find(kAbout); about != head.texts.end())
        light.about = about->second;
    light.shares = film::LightShares(shape);
    const std::size_t channels = head.channels.size();
    std::vector<float> idValues(idPlaces.size());
    if (hasIds)
        light.shares.ids.reserve(static_cast<std::size_t>(head.width) * static_cast<std::size_t>(head.height));
    const bool whole = in->eachRow([&](int y, const float* from) {
        for (int x = 0; x < head.width; ++x, from += channels) {
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
    });
    if (!whole)
        return broken("it ends early");
    return light;
}

}  // namespace files
