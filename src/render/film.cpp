#include "render/film.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/statvfs.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstdlib>
#include <cstring>

namespace render {

namespace {

constexpr char kMagic[8] = {'O', 'G', 'F', 'I', 'L', 'M', '0', '1'};
constexpr std::uint32_t kBroken = 0xffffffffu;  // sample count of a tile that was being written
constexpr std::size_t kPage = 4096;

struct Header {
    char magic[8];
    std::uint64_t bytes;
    std::uint64_t keyHash[2];
};

int tilesAcross(int pixels)
{
    return (pixels + Film::kTile - 1) / Film::kTile;
}

std::size_t pixelBytesFor(const FilmShape& shape)
{
    return 2 * (sizeof(PixelSums) + shape.entries.size() * sizeof(Rgb)) + sizeof(PixelId);
}

std::size_t dataOffsetFor(const FilmShape& shape)
{
    const std::size_t tiles = static_cast<std::size_t>(tilesAcross(shape.regionWidth)) * tilesAcross(shape.regionHeight);
    return (sizeof(Header) + tiles * sizeof(std::uint32_t) + kPage - 1) / kPage * kPage;
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

std::uint64_t Film::bytesFor(const FilmShape& shape)
{
    const std::uint64_t tiles = static_cast<std::uint64_t>(tilesAcross(shape.regionWidth)) * tilesAcross(shape.regionHeight);
    return dataOffsetFor(shape) + tiles * kTile * kTile * pixelBytesFor(shape);
}

Film::Film(FilmShape shape, void* memory, std::uint64_t bytes)
    : m_shape(std::move(shape)), m_tilesX(tilesAcross(m_shape.regionWidth)), m_tilesY(tilesAcross(m_shape.regionHeight)),
      m_pixelBytes(pixelBytesFor(m_shape)), m_memory(static_cast<std::uint8_t*>(memory)), m_bytes(bytes),
      m_dataOffset(dataOffsetFor(m_shape))
{
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

base::Result<std::unique_ptr<Film>> Film::createOnDisk(const FilmShape& shape)
{
    const std::uint64_t bytes = bytesFor(shape);
    const char* chosen = std::getenv("TMPDIR");
    const std::string folder = chosen && *chosen ? chosen : "/var/tmp";
    const auto noRoom = [&](std::uint64_t there) {
        return base::fail(base::ErrorCode::TooLarge,
                          fmt::format("The film needs {}, more than memory holds, and {} has {}; render smaller, in regions, or make room",
                                      gigabytes(bytes), folder, gigabytes(there)));
    };
    struct statvfs room {};
    if (statvfs(folder.c_str(), &room) != 0 || static_cast<std::uint64_t>(room.f_bavail) * room.f_frsize < bytes)
        return noRoom(static_cast<std::uint64_t>(room.f_bavail) * room.f_frsize);
    const int file = ::open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0600);
    const bool hasRoom = file >= 0 && posix_fallocate(file, 0, static_cast<off_t>(bytes)) == 0;
    void* memory = hasRoom ? mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_SHARED, file, 0) : MAP_FAILED;
    if (file >= 0)
        ::close(file);
    if (memory == MAP_FAILED)
        return noRoom(0);
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

    const int file = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
    if (file < 0)
        return cannot("The film file cannot be opened");
    struct stat status {};
    fstat(file, &status);
    const bool isNew = status.st_size == 0;
    if (!isNew) {
        Header found{};
        if (pread(file, &found, sizeof found, 0) != sizeof found || std::memcmp(&found, &wanted, sizeof found) != 0 ||
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
    if (isNew)
        std::memcpy(memory, &wanted, sizeof wanted);
    for (int tile = 0; tile < film->tileCount(); ++tile)
        if (film->counts()[tile] == kBroken) {
            const Rect r = film->tileRect(tile);
            std::memset(film->m_memory + film->pixelOffset(r.x0, r.y0), 0, film->m_pixelBytes * kTile * kTile);
            film->counts()[tile] = 0;
        }
    return film;
}

Film::~Film()
{
    munmap(m_memory, m_bytes);
}

std::uint32_t* Film::counts() const
{
    return reinterpret_cast<std::uint32_t*>(m_memory + sizeof(Header));
}

Film::Rect Film::tileRect(int tile) const
{
    const int x = m_shape.regionX + tile % m_tilesX * kTile, y = m_shape.regionY + tile / m_tilesX * kTile;
    return {x, y, std::min(x + kTile, m_shape.regionX + m_shape.regionWidth), std::min(y + kTile, m_shape.regionY + m_shape.regionHeight)};
}

std::uint32_t Film::samples(int tile) const
{
    const std::uint32_t count = counts()[tile];
    return count == kBroken ? 0 : count;
}

std::uint32_t Film::leastSamples() const
{
    std::uint32_t least = kBroken;
    for (int tile = 0; tile < tileCount(); ++tile)
        least = std::min(least, samples(tile));
    return least;
}

double Film::meanSamples() const
{
    double sum = 0;
    for (int tile = 0; tile < tileCount(); ++tile)
        sum += samples(tile);
    return sum / std::max(1, tileCount());
}

int Film::tileOf(int x, int y) const
{
    return (y - m_shape.regionY) / kTile * m_tilesX + (x - m_shape.regionX) / kTile;
}

std::size_t Film::pixelOffset(int x, int y) const
{
    const int rx = x - m_shape.regionX, ry = y - m_shape.regionY;
    const auto inTile = static_cast<std::size_t>(ry) % kTile * kTile + static_cast<std::size_t>(rx) % kTile;
    return m_dataOffset + (static_cast<std::size_t>(tileOf(x, y)) * kTile * kTile + inTile) * m_pixelBytes;
}

PixelSums& Film::sums(int x, int y, int half)
{
    const std::size_t halfBytes = sizeof(PixelSums) + m_shape.entries.size() * sizeof(Rgb);
    return *reinterpret_cast<PixelSums*>(m_memory + pixelOffset(x, y) + static_cast<std::size_t>(half) * halfBytes);
}
const PixelSums& Film::sums(int x, int y, int half) const
{
    return const_cast<Film*>(this)->sums(x, y, half);
}

Rgb* Film::colours(int x, int y, int half)
{
    return reinterpret_cast<Rgb*>(&sums(x, y, half) + 1);
}
const Rgb* Film::colours(int x, int y, int half) const
{
    return const_cast<Film*>(this)->colours(x, y, half);
}

PixelId& Film::id(int x, int y)
{
    return *reinterpret_cast<PixelId*>(m_memory + pixelOffset(x, y) + m_pixelBytes - sizeof(PixelId));
}
const PixelId& Film::id(int x, int y) const
{
    return const_cast<Film*>(this)->id(x, y);
}

void Film::beginTile(int tile)
{
    counts()[tile] = kBroken;
    __atomic_signal_fence(__ATOMIC_SEQ_CST);
}

void Film::endTile(int tile, std::uint32_t samples)
{
    __atomic_signal_fence(__ATOMIC_SEQ_CST);
    counts()[tile] = samples;
}

}  // namespace render
