#include "render/film.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstdlib>
#include <cstring>

namespace render {

namespace {

constexpr char kMagic[8] = {'O', 'G', 'F', 'I', 'L', 'M', '0', '2'};
constexpr std::size_t kPage = 4096;
constexpr std::size_t kPlanes = 3;              // numbers of samples: after the last two rounds, and the goal
constexpr std::uint32_t kMostEntries = 4096, kLongestName = 256;

int tilesAcross(int pixels)
{
    return (pixels + Film::kTile - 1) / Film::kTile;
}

std::size_t wholePages(std::size_t bytes)
{
    return (bytes + kPage - 1) / kPage * kPage;
}

std::size_t halfBytesFor(const FilmShape& shape)
{
    return sizeof(PixelSums) + shape.entries.size() * sizeof(Rgb);
}

std::size_t pixelBytesFor(const FilmShape& shape)
{
    return 2 * halfBytesFor(shape) + shape.entries.size() * sizeof(float) + sizeof(EdgeSums) + sizeof(PixelId);
}

std::uint64_t tilesFor(const FilmShape& shape)
{
    return static_cast<std::uint64_t>(tilesAcross(shape.regionWidth)) * tilesAcross(shape.regionHeight);
}

// FNV-1a with two offsets: names a key, does not guard it.
void hashKey(const std::string& key, std::uint64_t (&hash)[2])
{
    hash[0] = 0xcbf29ce484222325u;
    hash[1] = 0x84222325cbf29ce4u;
    for (const unsigned char c : key) {
        hash[0] = (hash[0] ^ c) * 0x100000001b3u;
        hash[1] = (hash[1] ^ (c + 0x9du)) * 0x100000001b3u;
    }
}

std::string gigabytes(std::uint64_t bytes)
{
    return fmt::format("{:.1f} GB", static_cast<double>(bytes) / 1e9);
}

}  // namespace

// In front of the file, followed by the entries' names, each with its length before it.
struct Film::Header {
    char magic[8];
    std::uint64_t bytes;
    std::uint64_t keyHash[2];
    std::int32_t width, height, regionX, regionY, regionWidth, regionHeight;
    float reach;
    std::uint32_t entryCount;
    // Up to here the header is the same for the film's whole life.
    std::uint32_t round;      // that began last; 0: none
    std::uint32_t least[2];   // samples of a pixel after the rounds in the two planes
    std::uint32_t hasGoal;
    double mean[2];
};

namespace {

std::size_t namesBytesFor(const FilmShape& shape)
{
    std::size_t bytes = 0;
    for (const std::string& entry : shape.entries)
        bytes += sizeof(std::uint32_t) + entry.size();
    return bytes;
}

void writeNames(const FilmShape& shape, std::uint8_t* to)
{
    for (const std::string& entry : shape.entries) {
        const auto size = static_cast<std::uint32_t>(entry.size());
        std::memcpy(to, &size, sizeof size);
        std::memcpy(to + sizeof size, entry.data(), size);
        to += sizeof size + size;
    }
}

}  // namespace

std::uint64_t Film::bytesFor(const FilmShape& shape)
{
    const std::uint64_t tiles = tilesFor(shape);
    return wholePages(sizeof(Header) + namesBytesFor(shape)) + wholePages(tiles * sizeof(std::uint32_t)) +
           tiles * kTile * kTile * (pixelBytesFor(shape) + kPlanes * sizeof(std::uint32_t));
}

Film::Film(FilmShape shape, void* memory, std::uint64_t bytes)
    : m_shape(std::move(shape)), m_tilesX(tilesAcross(m_shape.regionWidth)), m_tilesY(tilesAcross(m_shape.regionHeight)),
      m_halfBytes(halfBytesFor(m_shape)), m_pixelBytes(pixelBytesFor(m_shape)), m_memory(static_cast<std::uint8_t*>(memory)), m_bytes(bytes),
      m_tilesOffset(wholePages(sizeof(Header) + namesBytesFor(m_shape))),
      m_planesOffset(m_tilesOffset + wholePages(tilesFor(m_shape) * sizeof(std::uint32_t))),
      m_dataOffset(m_planesOffset + tilesFor(m_shape) * kTile * kTile * kPlanes * sizeof(std::uint32_t))
{
}

base::Result<FilmShape> Film::readShape(const std::string& path)
{
    const auto broken = [&] { return base::fail(base::ErrorCode::BadInput, "This is no film of this version; render it again", path); };
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (file < 0)
        return base::fail(base::ErrorCode::CannotRead, fmt::format("The film cannot be read: {}", std::strerror(errno)), path);
    Header h{};
    std::vector<std::uint8_t> names;
    struct stat status {};
    fstat(file, &status);
    const bool isFilm = pread(file, &h, sizeof h, 0) == sizeof h && std::memcmp(h.magic, kMagic, sizeof kMagic) == 0 &&
                        static_cast<std::uint64_t>(status.st_size) == h.bytes && h.entryCount <= kMostEntries;
    if (isFilm) {
        names.resize(std::min<std::size_t>(h.bytes - sizeof h, h.entryCount * (sizeof(std::uint32_t) + kLongestName)));
        names.resize(static_cast<std::size_t>(std::max<ssize_t>(0, pread(file, names.data(), names.size(), sizeof h))));
    }
    ::close(file);
    if (!isFilm)
        return broken();
    FilmShape shape{h.width, h.height, h.regionX, h.regionY, h.regionWidth, h.regionHeight, {}, h.reach};
    std::size_t at = 0;
    for (std::uint32_t i = 0; i < h.entryCount; ++i) {
        std::uint32_t size = 0;
        if (at + sizeof size > names.size())
            return broken();
        std::memcpy(&size, names.data() + at, sizeof size);
        at += sizeof size;
        if (size > kLongestName || at + size > names.size())
            return broken();
        shape.entries.emplace_back(reinterpret_cast<const char*>(names.data() + at), size);
        at += size;
    }
    if (shape.regionWidth <= 0 || shape.regionHeight <= 0 || bytesFor(shape) != h.bytes)
        return broken();
    return shape;
}

base::Result<std::unique_ptr<Film>> Film::create(const FilmShape& shape)
{
    const std::uint64_t bytes = bytesFor(shape);
    void* memory = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
    if (memory == MAP_FAILED)
        return base::fail(base::ErrorCode::TooLarge,
                          fmt::format("The picture needs {} of memory, which is not there; render it smaller or give it a film file",
                                      gigabytes(bytes)));
    return std::unique_ptr<Film>(new Film(shape, memory, bytes));
}

base::Result<std::unique_ptr<Film>> Film::openFile(const FilmShape& shape, const std::string& path, const std::string& key)
{
    const auto cannot = [&](const char* what) {
        return base::fail(base::ErrorCode::CannotWrite, fmt::format("{}: {}; choose another place for the film", what, std::strerror(errno)), path);
    };
    const std::uint64_t bytes = bytesFor(shape);
    Header wanted{};
    std::memcpy(wanted.magic, kMagic, sizeof kMagic);
    wanted.bytes = bytes;
    hashKey(key, wanted.keyHash);
    wanted.width = shape.width;
    wanted.height = shape.height;
    wanted.regionX = shape.regionX;
    wanted.regionY = shape.regionY;
    wanted.regionWidth = shape.regionWidth;
    wanted.regionHeight = shape.regionHeight;
    wanted.reach = shape.reach;
    wanted.entryCount = static_cast<std::uint32_t>(shape.entries.size());

    const int file = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
    if (file < 0)
        return cannot("The film file cannot be opened");
    struct stat status {};
    fstat(file, &status);
    // Also a film whose process was killed while it was laid out.
    char start[sizeof kMagic] = {};
    const bool isNew = pread(file, start, sizeof start, 0) < static_cast<ssize_t>(sizeof start) ? status.st_size == 0
                                                                                                 : std::string_view(start, sizeof start) == std::string_view("\0\0\0\0\0\0\0\0", 8);
    if (!isNew) {
        Header found{};
        if (pread(file, &found, sizeof found, 0) != sizeof found || std::memcmp(&found, &wanted, offsetof(Header, round)) != 0 ||
            static_cast<std::uint64_t>(status.st_size) != bytes) {
            ::close(file);
            return base::fail(base::ErrorCode::BadInput,
                              "This file is not the film of this work at this size and seed; name another file or delete it", path);
        }
    } else if (const int error = posix_fallocate(file, 0, static_cast<off_t>(bytes))) {
        ::close(file);
        ::unlink(path.c_str());
        errno = error;
        return cannot(fmt::format("The film needs {} on disk", gigabytes(bytes)).c_str());
    }
    void* memory = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_SHARED, file, 0);
    ::close(file);
    if (memory == MAP_FAILED)
        return cannot("The film file cannot be mapped");
    std::unique_ptr<Film> film(new Film(shape, memory, bytes));
    if (isNew) {
        writeNames(shape, film->m_memory + sizeof(Header));
        std::memcpy(memory, &wanted, sizeof wanted);
    }
    for (int tile = 0; tile < film->tileCount(); ++tile)
        if (film->tileRounds()[tile] == kBroken) {
            const std::size_t tileBytes = film->m_pixelBytes * kTile * kTile;
            std::memset(film->m_memory + film->m_dataOffset + static_cast<std::size_t>(tile) * tileBytes, 0, tileBytes);
            film->tileRounds()[tile] = 0;
        }
    return film;
}

Film::~Film()
{
    munmap(m_memory, m_bytes);
}

Film::Header& Film::header() const
{
    return *reinterpret_cast<Header*>(m_memory);
}

Film::Rect Film::tileRect(int tile) const
{
    const int x = m_shape.regionX + tile % m_tilesX * kTile, y = m_shape.regionY + tile / m_tilesX * kTile;
    return {x, y, std::min(x + kTile, m_shape.regionX + m_shape.regionWidth), std::min(y + kTile, m_shape.regionY + m_shape.regionHeight)};
}

std::uint32_t Film::leastSamples() const
{
    std::uint32_t least = tileCount() > 0 ? kBroken : 0;
    for (int tile = 0; tile < tileCount(); ++tile) {
        const std::uint32_t round = tileRounds()[tile];
        least = std::min(least, round == 0 || round == kBroken ? 0 : header().least[round & 1]);
    }
    return least;
}

double Film::meanSamples() const
{
    double sum = 0;
    for (int tile = 0; tile < tileCount(); ++tile) {
        const std::uint32_t round = tileRounds()[tile];
        sum += round == 0 || round == kBroken ? 0 : header().mean[round & 1];
    }
    return sum / std::max(1, tileCount());
}

std::uint32_t Film::wantedAt(int x, int y) const
{
    return plane(header().round)[indexOf(x, y)];
}

std::uint32_t* Film::goals() const
{
    return plane(0) + 2 * static_cast<std::size_t>(tileCount()) * kTile * kTile;
}

void Film::setGoal(const std::vector<std::uint32_t>& goal)
{
    header().hasGoal = 0;
    __atomic_signal_fence(__ATOMIC_SEQ_CST);  // a goal that was half written when its process was killed does not count
    auto wanted = goal.begin();
    for (int row = 0; row < m_shape.regionHeight; ++row)
        for (int column = 0; column < m_shape.regionWidth; ++column)
            goals()[indexOf(m_shape.regionX + column, m_shape.regionY + row)] = *wanted++;
    __atomic_signal_fence(__ATOMIC_SEQ_CST);
    header().hasGoal = 1;
}

bool Film::goalReached() const
{
    if (!header().hasGoal)
        return true;
    if (header().round == 0)
        return false;
    const std::uint32_t* now = plane(header().round);
    for (int y = m_shape.regionY; y < m_shape.regionY + m_shape.regionHeight; ++y)
        for (int x = m_shape.regionX; x < m_shape.regionX + m_shape.regionWidth; ++x)
            if (now[indexOf(x, y)] < goalAt(x, y))
                return false;
    return true;
}

void Film::beginRound(std::uint32_t most)
{
    const std::uint32_t round = header().round + 1;
    std::uint32_t* const next = plane(round);
    std::uint32_t least = kBroken;
    double sum = 0;
    for (int y = m_shape.regionY; y < m_shape.regionY + m_shape.regionHeight; ++y)
        for (int x = m_shape.regionX; x < m_shape.regionX + m_shape.regionWidth; ++x) {
            const std::size_t i = indexOf(x, y);
            const std::uint32_t now = round > 1 ? plane(round - 1)[i] : 0;
            next[i] = std::max(now, std::min(now + most, goals()[i]));
            least = std::min(least, next[i]);
            sum += next[i];
        }
    header().least[round & 1] = least;
    header().mean[round & 1] = sum / (static_cast<double>(m_shape.regionWidth) * m_shape.regionHeight);
    __atomic_signal_fence(__ATOMIC_SEQ_CST);  // the plane is whole before its round counts
    header().round = round;
}

bool Film::tileEnded(int tile) const
{
    return tileRounds()[tile] == header().round;
}

bool Film::roundEnded() const
{
    for (int tile = 0; tile < tileCount(); ++tile)
        if (!tileEnded(tile))
            return false;
    return true;
}

void Film::beginTile(int tile)
{
    tileRounds()[tile] = kBroken;
    __atomic_signal_fence(__ATOMIC_SEQ_CST);
}

void Film::endTile(int tile)
{
    __atomic_signal_fence(__ATOMIC_SEQ_CST);
    tileRounds()[tile] = header().round;
}

}  // namespace render
