#include "files/exr_file.h"

#include <ImfChannelList.h>
#include <ImfFloatAttribute.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfIO.h>
#include <ImfInputFile.h>
#include <ImfOutputFile.h>
#include <ImfStandardAttributes.h>
#include <ImfStringAttribute.h>
#include <ImfThreading.h>
#include <half.h>

#include <cstring>
#include <optional>
#include <stdexcept>
#include <thread>

namespace files {

namespace {

class ToSink : public Imf::OStream {
public:
    explicit ToSink(Sink& sink) : OStream("picture.exr"), m_sink(sink) {}
    void write(const char data[], int size) override
    {
        if (!m_sink.write(data, static_cast<std::size_t>(size)))
            throw std::runtime_error("it cannot be written");
    }
    std::uint64_t tellp() override { return static_cast<std::uint64_t>(m_sink.tell()); }
    void seekp(std::uint64_t at) override
    {
        if (!m_sink.seek(static_cast<std::int64_t>(at)))
            throw std::runtime_error("it cannot be written");
    }

private:
    Sink& m_sink;
};

class FromBytes : public Imf::IStream {
public:
    explicit FromBytes(std::span<const std::uint8_t> bytes) : IStream("picture.exr"), m_bytes(bytes) {}
    bool read(char to[], int count) override
    {
        const auto size = static_cast<std::size_t>(count);
        if (m_at > m_bytes.size() || size > m_bytes.size() - m_at)
            throw std::runtime_error("it is cut off");
        std::memcpy(to, m_bytes.data() + m_at, size);
        m_at += size;
        return m_at < m_bytes.size();
    }
    std::uint64_t tellg() override { return m_at; }
    void seekg(std::uint64_t at) override { m_at = at; }

private:
    std::span<const std::uint8_t> m_bytes;
    std::size_t m_at = 0;
};

// The libraries' threads pack many channels; once for all files.
void startThreads()
{
    [[maybe_unused]] static const bool once = [] {
        Imf::setGlobalThreadCount(static_cast<int>(std::max(1u, std::thread::hardware_concurrency())));
        return true;
    }();
}

// The place of pixel (0, 0) of the whole, for values that begin at (x, y).
char* origin(void* values, std::size_t pixel, std::size_t row, int x, int y)
{
    return static_cast<char*>(values) - static_cast<std::ptrdiff_t>(pixel) * x - static_cast<std::ptrdiff_t>(row) * y;
}

Imf::FrameBuffer frameOf(const std::vector<std::string>& channels, Imf::PixelType type, void* values, int width, int x, int y)
{
    const std::size_t value = type == Imf::HALF ? sizeof(half) : sizeof(float), pixel = value * channels.size(),
                      row = pixel * static_cast<std::size_t>(width);
    Imf::FrameBuffer frame;
    for (std::size_t c = 0; c < channels.size(); ++c)
        frame.insert(channels[c], Imf::Slice(type, origin(static_cast<char*>(values) + c * value, pixel, row, x, y), pixel, row));
    return frame;
}

tl::unexpected<base::Error> cannotWrite(const std::exception& why)
{
    return base::fail(base::ErrorCode::CannotWrite, why.what());
}

// Whether the header's attributes lie within the file and are as long as they say: the library takes as much memory as a text claims
// before it reads it, and reads what has a size of its own by that. Magic number, version with flags, then name, type, size and value of
// each attribute, and an empty name. Files of several parts and types that are not written here are none of ours.
bool headerFits(std::span<const std::uint8_t> bytes)
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

struct ExrWriter::Open {
    ExrHead head;
    ToSink to;
    std::optional<Imf::OutputFile> file;
    int rows = 0;
    std::vector<half> halves;
};

ExrWriter::ExrWriter(std::unique_ptr<Open> open) : m_open(std::move(open)) {}
ExrWriter::ExrWriter(ExrWriter&&) noexcept = default;
ExrWriter::~ExrWriter() = default;

base::Result<ExrWriter> ExrWriter::begin(Sink& sink, const ExrHead& head)
{
    startThreads();
    std::unique_ptr<Open> open(new Open{head, ToSink(sink), {}, 0, {}});
    try {
        const auto window = [](int x, int y, int width, int height) { return Imath::Box2i({x, y}, {x + width - 1, y + height - 1}); };
        Imf::Header header(window(0, 0, head.fullWidth, head.fullHeight), window(head.x, head.y, head.width, head.height));
        header.compression() = Imf::ZIP_COMPRESSION;
        for (const std::string& channel : head.channels)
            header.channels().insert(channel, Imf::Channel(head.half ? Imf::HALF : Imf::FLOAT));
        if (head.ppi > 0)
            Imf::addXDensity(header, static_cast<float>(head.ppi));
        Imf::addChromaticities(header, {});  // ITU-R BT.709's, which are sRGB's
        for (const auto& [name, text] : head.texts)
            header.insert(name, Imf::StringAttribute(text));
        for (const auto& [name, number] : head.numbers)
            header.insert(name, Imf::FloatAttribute(number));
        open->file.emplace(open->to, header);
    } catch (const std::exception& why) {
        return cannotWrite(why);
    }
    return ExrWriter(std::move(open));
}

base::Result<void> ExrWriter::add(const float* rows, int count)
{
    const ExrHead& head = m_open->head;
    const std::size_t values = static_cast<std::size_t>(count) * static_cast<std::size_t>(head.width) * head.channels.size();
    void* from = const_cast<float*>(rows);  // only read
    if (head.half) {
        m_open->halves.assign(rows, rows + values);
        from = m_open->halves.data();
    }
    try {
        m_open->file->setFrameBuffer(
            frameOf(head.channels, head.half ? Imf::HALF : Imf::FLOAT, from, head.width, head.x, head.y + m_open->rows));
        m_open->file->writePixels(count);
    } catch (const std::exception& why) {
        return cannotWrite(why);
    }
    m_open->rows += count;
    return {};
}

void ExrWriter::end()
{
    m_open->file.reset();  // writes where each row stands
}

struct ExrReader::Open {
    FromBytes from;
    std::optional<Imf::InputFile> file;
    ExrHead head;
};

ExrReader::ExrReader(std::unique_ptr<Open> open) : m_open(std::move(open)) {}
ExrReader::ExrReader(ExrReader&&) noexcept = default;
ExrReader::~ExrReader() = default;

const ExrHead& ExrReader::head() const
{
    return m_open->head;
}

base::Result<ExrReader> ExrReader::open(std::span<const std::uint8_t> bytes)
{
    const auto bad = [](const std::string& why) { return base::fail(base::ErrorCode::BadInput, why); };
    if (!headerFits(bytes))
        return bad("its header is cut off");
    startThreads();
    std::unique_ptr<Open> open(new Open{FromBytes(bytes), {}, {}});
    try {
        open->file.emplace(open->from);
    } catch (const std::exception&) {
        return bad("it is no OpenEXR picture");
    }
    const Imf::Header& header = open->file->header();
    const Imath::Box2i &data = header.dataWindow(), &full = header.displayWindow();
    ExrHead& head = open->head;
    const auto sizes = [](const Imath::Box2i& box, int& width, int& height) {
        const std::int64_t w = std::int64_t{box.max.x} - box.min.x + 1, h = std::int64_t{box.max.y} - box.min.y + 1;
        constexpr std::int64_t kMost = 1 << 24;
        width = static_cast<int>(std::clamp<std::int64_t>(w, 0, kMost));
        height = static_cast<int>(std::clamp<std::int64_t>(h, 0, kMost));
    };
    sizes(data, head.width, head.height);
    sizes(full, head.fullWidth, head.fullHeight);
    head.x = data.min.x;
    head.y = data.min.y;
    for (auto channel = header.channels().begin(); channel != header.channels().end(); ++channel) {
        if (channel.channel().xSampling != 1 || channel.channel().ySampling != 1)
            return bad("its channels differ in size");
        head.channels.emplace_back(channel.name());
        head.half = channel.channel().type == Imf::HALF;
    }
    for (auto attribute = header.begin(); attribute != header.end(); ++attribute) {
        if (const auto* text = dynamic_cast<const Imf::StringAttribute*>(&attribute.attribute()))
            head.texts[attribute.name()] = text->value();
        if (const auto* number = dynamic_cast<const Imf::FloatAttribute*>(&attribute.attribute()))
            head.numbers[attribute.name()] = number->value();
    }
    return ExrReader(std::move(open));
}

bool ExrReader::read(int from, int end, float* to)
{
    const ExrHead& head = m_open->head;
    try {
        m_open->file->setFrameBuffer(frameOf(head.channels, Imf::FLOAT, to, head.width, head.x, head.y + from));
        m_open->file->readPixels(head.y + from, head.y + end - 1);
    } catch (const std::exception&) {
        return false;
    }
    return true;
}

}  // namespace files
