// The film: what a render gathers.
//
// Every light has a film of its own, in white at brightness 1, in two halves (samples with even and odd numbers) so that the
// noise can be estimated; beside them coverage, what is seen first, and guides for noise reduction. Values are sums over samples.
// Pixels are exposed in rounds: first it is written down how many samples each pixel is to have, then tile by tile is exposed. A film can
// live in a file: then the file itself is the checkpoint, a render that was stopped or killed goes on from it and ends in the same bytes,
// and the system keeps in memory what fits. One process at a time has it.
//
// A film holds a range of samples, from the first one on. Films of one exposure and ranges that do not overlap can be merged
// (merge.h).
#pragma once

#include <algorithm>
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "base/file_lock.h"
#include "base/mapped_file.h"
#include "base/result.h"
#include "base/vec.h"

namespace film {

using base::Rgb;
using base::Vec3f;

// What an entry of the film holds the light of.
enum class EntryKind : std::uint32_t { Light, Surroundings, Emissive };

// One light's share: its name is the light's id.
struct Entry {
    std::string name;
    EntryKind kind = EntryKind::Light;

    bool operator==(const Entry&) const = default;
};
using Entries = std::vector<Entry>;
// Of names alone, as files of light hold them: "surroundings" and "emissive" are what they say, the others lights.
Entries entriesNamed(const std::vector<std::string>& names);

struct FilmShape {
    int width = 0, height = 0;     // of the whole picture, px
    int regionX = 0, regionY = 0;  // the part that is rendered, px from the upper left
    int regionWidth = 0, regionHeight = 0;
    Entries entries;     // found by name and kind, never by their order
    float reach = 1000;  // pt: how far is far, for the guides

    bool operator==(const FilmShape&) const = default;
};

// Sums of the samples of one pixel in one half; the entries' colours follow it in memory.
struct PixelSums {
    float alpha = 0;
    Vec3f albedo, normal;
    float depth = 0;  // pt from the viewer, summed over samples that hit something
    // The same of the first rough thing, seen through at most two mirrors; its distance d along the path as d / (d + reach).
    Vec3f mirrorAlbedo, mirrorNormal;
    float mirrorDepth = 0;
    float open = 0;  // share of the lights that nothing hides from the first hit

    void operator+=(const PixelSums& o)
    {
        alpha += o.alpha;
        albedo += o.albedo;
        normal += o.normal;
        depth += o.depth;
        mirrorAlbedo += o.mirrorAlbedo;
        mirrorNormal += o.mirrorNormal;
        mirrorDepth += o.mirrorDepth;
        open += o.open;
    }
};

// More first hits of a pixel that shows an edge: what is at an edge is known better than its light is.
struct EdgeSums {
    float rays = 0;
    float alpha = 0;
    Vec3f albedo, normal;
    float depth = 0;  // as in PixelSums
};

// What a sample shows first.
struct PixelId {
    std::uint16_t piece = 0;   // counted from 1; 0: ground or nothing
    std::uint16_t letter = 0;  // counted from 1
    std::uint16_t part = 0;    // solid::Part + 1; 254 wall, 255 floor, 0 nothing

    bool operator==(const PixelId&) const = default;
};

// How many samples of a pixel show this. Of the things a pixel shows the first kIds that were met are kept, in that order.
class IdWeight {
public:
    IdWeight() = default;
    IdWeight(const PixelId& id, std::uint32_t samples)
        : m_piece(id.piece), m_letter(id.letter), m_packed(static_cast<std::uint32_t>(id.part) << kBits)
    {
        add(samples);
    }
    PixelId id() const { return {m_piece, m_letter, static_cast<std::uint16_t>(m_packed >> kBits)}; }
    std::uint32_t samples() const { return m_packed & kMost; }
    void add(std::uint32_t samples) { m_packed += std::min(samples, kMost - this->samples()); }

private:
    static constexpr int kBits = 24;
    static constexpr std::uint32_t kMost = (1u << kBits) - 1;
    std::uint16_t m_piece = 0, m_letter = 0;
    std::uint32_t m_packed = 0;  // the part over the number of samples
};
inline constexpr int kIds = 4;
struct PixelIds {
    IdWeight ids[kIds];

    const IdWeight* begin() const { return ids; }
    const IdWeight* end() const { return ids + kIds; }
    PixelId first() const { return ids[0].id(); }  // of the first sample
    PixelId most() const;                          // of most samples
    void add(const PixelId& id, std::uint32_t samples);
};

// What a film in a file is of: anything that names scene and shape, the seed, and its first sample, which is even so that halves
// of films can be put together.
struct Exposed {
    std::string key;
    std::uint32_t seed = 0, firstSample = 0;

    Exposed(std::string exposureKey, std::uint32_t ownSeed = 0, std::uint32_t first = 0)
        : key(std::move(exposureKey)), seed(ownSeed), firstSample(first)
    {
    }
    Exposed(const char* exposureKey) : key(exposureKey) {}
};

// Raised when the same samples would give another picture: a film goes on with the version it began with.
inline constexpr std::uint32_t kRendererVersion = 2;

class Film {
public:
    static constexpr int kTile = 32;  // px

    // Bytes the film will take.
    static std::uint64_t bytesFor(const FilmShape& shape);

    // What a film file holds, without opening it as a film. Errors: BadInput, CannotRead.
    static base::Result<FilmShape> readShape(const std::string& path);

    // In memory. Errors: TooLarge.
    static base::Result<std::unique_ptr<Film>> create(const FilmShape& shape);
    // In a file. A file that was made for the same is gone on with; another file, a merged film, a device or a pipe is refused, never
    // overwritten or removed. A film of an earlier version is brought up to date; whether it is of this key it does not tell, see
    // isUnchecked(). Errors: BadInput, CannotWrite (no room), Busy when another process has it.
    static base::Result<std::unique_ptr<Film>> openFile(const FilmShape& shape, const std::string& path, const Exposed& exposed);
    // To be looked at: whatever it holds, merged or not. The file stays as it is. Errors: BadInput, CannotRead, Busy.
    static base::Result<std::unique_ptr<Film>> openToRead(const std::string& path, const std::string& key);
    ~Film();
    Film(const Film&) = delete;
    Film& operator=(const Film&) = delete;

    const FilmShape& shape() const { return m_shape; }
    std::uint32_t firstSample() const;
    // True when it came from an earlier version, whose films do not tell what they are of in a way that can be compared.
    bool isUnchecked() const { return m_unchecked; }
    // True when its file was cut off meanwhile: what it holds counts no more.
    bool isLost() const { return m_memory->isLost(); }
    int entryCount() const { return static_cast<int>(m_shape.entries.size()); }
    int tileCount() const { return m_tilesX * m_tilesY; }
    struct Rect {
        int x0, y0, x1, y1;  // px of the whole picture, end exclusive

        bool operator==(const Rect&) const = default;
    };
    Rect tileRect(int tile) const;
    std::uint32_t leastSamples() const;  // O(tiles), as the next
    double meanSamples() const;

    std::uint32_t samplesAt(int x, int y) const { return at(x, y).samples; }  // coordinates of the whole picture, inside the region
    // All of a pixel.
    struct Pixel {
        const PixelSums* halves[2];
        const Rgb* colours[2];  // sums, one for each entry
        const float* squares;   // sums of squared luminance over both halves, one for each entry
        const EdgeSums* edge;   // rays > 0: samples have shown different things
        const PixelIds* ids;
        std::uint32_t samples;
    };
    Pixel at(int x, int y) const;
    static std::uint32_t inHalf(std::uint32_t samples, int half) { return half == 0 ? (samples + 1) / 2 : samples / 2; }

    // For the renderer. A goal is how many samples each pixel shall have, row by row of the region, never fewer than it has; it is set
    // when the one before is reached. It is reached in rounds of at most `most` samples a pixel. A round begins when all tiles have
    // ended the one before. All three O(pixels).
    void setGoal(const std::vector<std::uint32_t>& goal);
    bool goalReached() const;
    void beginRound(std::uint32_t most);
    std::uint32_t goalAt(int x, int y) const { return goals()[indexOf(x, y)]; }
    bool roundEnded() const;
    bool tileEnded(int tile) const;  // the round that began last
    std::uint32_t wantedAt(int x, int y) const;
    // One thread a tile. Between begin and end the tile counts as broken: a process that is killed there leaves a tile that starts
    // anew.
    void beginTile(int tile);
    void endTile(int tile);
    // What is written of a pixel.
    struct Target {
        PixelSums* halves[2];
        Rgb* colours[2];
        float* squares;
        EdgeSums* edge;
        PixelIds* ids;
    };
    Target targetAt(int x, int y) { return targetOf(indexOf(x, y)); }

private:
    Film(FilmShape shape, std::unique_ptr<base::MappedFile> memory);
    friend struct FilmFile;  // film_file.cpp and merge.cpp
    struct Header;
    std::size_t indexOf(int x, int y) const;  // of a pixel in the order of tiles
    Target targetOf(std::size_t index) const;
    Header& header() const;
    std::uint32_t* tileRounds() const;                // rounds that each tile has ended
    std::uint32_t* plane(std::uint32_t round) const;  // samples after a round; the last two are kept
    std::uint32_t* goals() const;

    FilmShape m_shape;
    int m_tilesX = 0, m_tilesY = 0;
    std::size_t m_halfBytes = 0, m_pixelBytes = 0;
    std::unique_ptr<base::MappedFile> m_memory;
    std::shared_ptr<base::FileLock> m_lock;
    bool m_unchecked = false;
    std::uint8_t* m_data = nullptr;  // of m_memory
    std::size_t m_tilesOffset = 0, m_planesOffset = 0, m_dataOffset = 0;
    static constexpr std::uint32_t kBroken = 0xffffffffu;  // round of a tile that was being written
};

// Asked for every pixel: here, so that it is part of the loops.

inline std::size_t Film::indexOf(int x, int y) const
{
    const auto rx = static_cast<unsigned>(x - m_shape.regionX), ry = static_cast<unsigned>(y - m_shape.regionY);
    const unsigned tile = ry / kTile * static_cast<unsigned>(m_tilesX) + rx / kTile;
    return static_cast<std::size_t>(tile) * kTile * kTile + ry % kTile * kTile + rx % kTile;
}

inline Film::Target Film::targetOf(std::size_t index) const
{
    std::uint8_t *a = m_data + m_dataOffset + index * m_pixelBytes, *b = a + m_halfBytes, *end = a + m_pixelBytes - sizeof(PixelIds);
    auto *sumsA = reinterpret_cast<PixelSums*>(a), *sumsB = reinterpret_cast<PixelSums*>(b);
    return {{sumsA, sumsB},
            {reinterpret_cast<Rgb*>(sumsA + 1), reinterpret_cast<Rgb*>(sumsB + 1)},
            reinterpret_cast<float*>(b + m_halfBytes),
            reinterpret_cast<EdgeSums*>(end - sizeof(EdgeSums)),
            reinterpret_cast<PixelIds*>(end)};
}

inline std::uint32_t* Film::tileRounds() const
{
    return reinterpret_cast<std::uint32_t*>(m_data + m_tilesOffset);
}

inline std::uint32_t* Film::plane(std::uint32_t round) const
{
    const auto pixels = static_cast<std::size_t>(tileCount()) * kTile * kTile;
    return reinterpret_cast<std::uint32_t*>(m_data + m_planesOffset) + (round & 1) * pixels;
}

inline Film::Pixel Film::at(int x, int y) const
{
    const std::size_t index = indexOf(x, y);
    const Target t = targetOf(index);
    const std::uint32_t round = tileRounds()[index / (kTile * kTile)];
    return {{t.halves[0], t.halves[1]},
            {t.colours[0], t.colours[1]},
            t.squares,
            t.edge,
            t.ids,
            round == 0 || round == kBroken ? 0 : plane(round)[index]};
}

}  // namespace film
