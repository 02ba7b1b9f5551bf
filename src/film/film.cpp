#include <fmt/format.h>

#include <algorithm>

#include "film/layout.h"

namespace film {

namespace {

constexpr std::size_t kPage = 4096;
constexpr std::size_t kPlanes = 3;  // numbers of samples: after the last two rounds, and the goal

int tilesAcross(int pixels)
{
    return (pixels + Film::kTile - 1) / Film::kTile;
}

std::size_t halfBytesFor(const FilmShape& shape)
{
    return sizeof(PixelSums) + shape.entries.size() * sizeof(Rgb);
}

std::size_t pixelBytesFor(const FilmShape& shape)
{
    return 2 * halfBytesFor(shape) + shape.entries.size() * sizeof(float) + sizeof(EdgeSums) + sizeof(PixelIds);
}

std::uint64_t tilesFor(const FilmShape& shape)
{
    return static_cast<std::uint64_t>(tilesAcross(shape.regionWidth)) * tilesAcross(shape.regionHeight);
}

}  // namespace

std::size_t wholePages(std::size_t bytes)
{
    return (bytes + kPage - 1) / kPage * kPage;
}

std::string gigabytes(std::uint64_t bytes)
{
    return fmt::format("{:.1f} GB", static_cast<double>(bytes) / 1e9);
}

PixelId PixelIds::most() const
{
    const IdWeight* best = ids;
    for (const IdWeight& id : ids)
        if (id.samples() > best->samples())
            best = &id;
    return best->id();
}

void PixelIds::add(const PixelId& id, std::uint32_t samples)
{
    for (IdWeight& own : ids) {
        if (own.samples() == 0)
            own = IdWeight(id, samples);
        else if (own.id() == id)
            own.add(samples);
        else
            continue;
        return;
    }
}

namespace {

std::size_t namesBytesFor(const FilmShape& shape)
{
    std::size_t bytes = 0;
    for (const Entry& entry : shape.entries)
        bytes += 2 * sizeof(std::uint32_t) + entry.name.size();
    return bytes;
}

}  // namespace

std::uint64_t Film::bytesFor(const FilmShape& shape)
{
    const std::uint64_t tiles = tilesFor(shape);
    return wholePages(sizeof(Header) + namesBytesFor(shape)) + wholePages(tiles * sizeof(std::uint32_t)) +
           tiles * kTile * kTile * (pixelBytesFor(shape) + kPlanes * sizeof(std::uint32_t));
}

Film::Film(FilmShape shape, std::unique_ptr<base::MappedFile> memory)
    : m_shape(std::move(shape)),
      m_tilesX(tilesAcross(m_shape.regionWidth)),
      m_tilesY(tilesAcross(m_shape.regionHeight)),
      m_halfBytes(halfBytesFor(m_shape)),
      m_pixelBytes(pixelBytesFor(m_shape)),
      m_memory(std::move(memory)),
      m_data(m_memory->data()),
      m_tilesOffset(wholePages(sizeof(Header) + namesBytesFor(m_shape))),
      m_planesOffset(m_tilesOffset + wholePages(tilesFor(m_shape) * sizeof(std::uint32_t))),
      m_dataOffset(m_planesOffset + tilesFor(m_shape) * kTile * kTile * kPlanes * sizeof(std::uint32_t))
{
}

Film::~Film() = default;

base::Result<std::unique_ptr<Film>> Film::create(const FilmShape& shape)
{
    auto memory = base::MappedFile::inMemory(bytesFor(shape));
    if (!memory)
        return base::fail(base::ErrorCode::TooLarge,
                          fmt::format("The picture needs {} of memory, which is not there; render it smaller or give it a film file",
                                      gigabytes(bytesFor(shape))));
    return std::unique_ptr<Film>(new Film(shape, std::move(*memory)));
}

std::uint32_t Film::firstSample() const
{
    return header().firstSample;
}

Film::Header& Film::header() const
{
    return *reinterpret_cast<Header*>(m_data);
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

}  // namespace film
