// The film: what a render gathers.
//
// Every light has a film of its own, in white at brightness 1, in two halves (samples with even and odd numbers) so that the
// noise can be estimated; beside them coverage, albedo, normal, depth and what is seen first. Values are sums over samples;
// each tile knows how many. A film can live in a file: then the file itself is the checkpoint, a render that was stopped or
// killed goes on from it, and the system keeps in memory what fits.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "base/result.h"
#include "base/vec.h"

namespace render {

using base::Rgb;
using base::Vec3f;

struct FilmShape {
    int width = 0, height = 0;                       // of the whole picture, px
    int regionX = 0, regionY = 0;                    // the part that is rendered, px from the upper left
    int regionWidth = 0, regionHeight = 0;
    std::vector<std::string> entries;                // names of the lights

    bool operator==(const FilmShape&) const = default;
};

// Sums of the samples of one pixel in one half; the entries' colours follow it in memory.
struct PixelSums {
    float alpha = 0;
    Vec3f albedo, normal;
    float depth = 0;  // pt from the viewer, summed over samples that hit something
};

// What a pixel shows first, by its first sample. Packed for the ids pass.
struct PixelId {
    std::uint16_t piece = 0;   // counted from 1; 0: ground or nothing
    std::uint16_t letter = 0;  // counted from 1
    std::uint16_t part = 0;    // solid::Part + 1; 254 wall, 255 floor, 0 nothing
    std::uint16_t unused = 0;
};

class Film {
public:
    static constexpr int kTile = 32;  // px

    // Bytes the film will take.
    static std::uint64_t bytesFor(const FilmShape& shape);

    // In memory. Errors: TooLarge.
    static base::Result<std::unique_ptr<Film>> create(const FilmShape& shape);
    // On disk, in a nameless file of the folder TMPDIR or /var/tmp, for films that memory cannot hold. Errors: TooLarge with the
    // number of bytes when there is no room either.
    static base::Result<std::unique_ptr<Film>> createOnDisk(const FilmShape& shape);
    // In a file. A file that was made for the same `key` (anything that names scene, shape and seed) is gone on with;
    // another file is refused, never overwritten. Errors: BadInput, CannotWrite (no room).
    static base::Result<std::unique_ptr<Film>> openFile(const FilmShape& shape, const std::string& path, const std::string& key);
    ~Film();
    Film(const Film&) = delete;
    Film& operator=(const Film&) = delete;

    const FilmShape& shape() const { return m_shape; }
    int entryCount() const { return static_cast<int>(m_shape.entries.size()); }
    int tileCount() const { return m_tilesX * m_tilesY; }
    struct Rect {
        int x0, y0, x1, y1;  // px of the whole picture, end exclusive
    };
    Rect tileRect(int tile) const;
    std::uint32_t samples(int tile) const;
    std::uint32_t leastSamples() const;
    double meanSamples() const;

    // Sums of a pixel (coordinates of the whole picture, inside the region).
    const PixelSums& sums(int x, int y, int half) const;
    const Rgb* colours(int x, int y, int half) const;  // one for each entry
    const PixelId& id(int x, int y) const;
    std::uint32_t samplesAt(int x, int y) const { return samples(tileOf(x, y)); }

    // For the renderer: one thread a tile. Between begin and end the tile counts as broken: a process that is killed there
    // leaves a tile that starts anew.
    void beginTile(int tile);
    void endTile(int tile, std::uint32_t samples);
    PixelSums& sums(int x, int y, int half);
    Rgb* colours(int x, int y, int half);
    PixelId& id(int x, int y);

private:
    Film(FilmShape shape, void* memory, std::uint64_t bytes);
    int tileOf(int x, int y) const;
    std::size_t pixelOffset(int x, int y) const;
    std::uint32_t* counts() const;

    FilmShape m_shape;
    int m_tilesX = 0, m_tilesY = 0;
    std::size_t m_pixelBytes = 0;
    std::uint8_t* m_memory = nullptr;
    std::uint64_t m_bytes = 0;
    std::size_t m_dataOffset = 0;
};

}  // namespace render
