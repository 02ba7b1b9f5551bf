// One tile of the full noise reduction: its pixels and guides as planes, and the filters on them. See denoise.h for the method.
#pragma once

#include <vector>

#include "base/progress.h"
#include "denoise/regression.h"
#include "film/film.h"

namespace denoise {

using namespace film;

// Coordinates are those of the tile: its first pixel lies at kHalo, kHalo. Beyond the picture the planes repeat its edge.
class Tile {
public:
    static constexpr int kCore = 192;  // px that are cleaned, each way
    static constexpr int kHalo = 32;   // px round them that the filters look at
    static constexpr int kSide = kCore + 2 * kHalo;
    static constexpr int kPitch = kSide + 24;
    static constexpr int kSharpGuides = 7;  // the first guides, which the first hits of edges tell better
    static constexpr int kGuides = 15;      // albedo, normal, distance; the same seen through mirrors; share of lights that are not hidden
    static constexpr int kGuideGroups = 7;

    // For films with so many entries; memory is used again from tile to tile.
    explicit Tile(int entries);

    // `x`, `y`: where the core begins, in the region; it ends at the region's end or after kCore. `weighing` mixes the entries into
    // what weights are found from, `desk` into what is seen. False when stopped.
    bool clean(const Film& film, const std::vector<Rgb>& weighing, const std::vector<Rgb>& desk, int x, int y,
               const base::Progress& progress);

    int coreWidth() const { return m_x1 - kHalo; }
    int coreHeight() const { return m_y1 - kHalo; }
    // Results for a pixel of the core, counted from its corner: a light's share and half A of what is seen; means as in the
    // film.
    Rgb share(int entry, int x, int y) const;
    Rgb halfA(int x, int y) const;
    // What the filters took away from a light's share.
    Rgb takenAway(int entry, int x, int y) const;

private:
    using Plane = std::vector<float>;
    using LanesPlane = std::vector<PixelLanes>;
    // Light of a pixel after a filter: m_groups lanes for each pixel. Channels: luminance of half A of the mix, then by three half A of
    // what is seen and the entries. All divided by albedo.
    struct Filtered {
        LanesPlane light;
        Plane weight;
        Plane mix;  // of the entries: luminance
    };

    void load(const Film& film, const std::vector<Rgb>& weighing, const std::vector<Rgb>& desk, int x, int y);
    void putSharp(std::size_t index, const PixelSums& a, const PixelSums& b, const EdgeSums& edge, std::uint32_t samples, float reach,
                  Rgb divisor);
    void estimateVariance();
    bool average(const std::vector<Rgb>& weighing, const base::Progress& progress);
    void findPilot(std::size_t index, const std::vector<Rgb>& weighing);
    bool regress(const base::Progress& progress);
    void regress(int x, int y);
    void scale(Filtered& filtered, std::size_t index, float factor) const;
    Rgb mixed(Filtered& filtered, std::size_t index, const std::vector<Rgb>& weighing) const;
    void mix(const std::vector<Rgb>& weighing);
    const float* channels(const LanesPlane& of, std::size_t index) const { return of[index * m_groups].v; }

    int m_entries;
    std::size_t m_groups;                                        // of sixteen channels
    int m_x1 = 0, m_y1 = 0;                                      // end of the core
    int m_seenX0 = 0, m_seenX1 = 0, m_seenY0 = 0, m_seenY1 = 0;  // what lies in the picture
    Plane m_mean[3], m_halfA[3], m_halfB[3], m_variance[3];      // of the mix, divided by albedo
    Plane m_edge;                                                // 1 where samples show different things
    Plane m_divisor[3];                                          // as it is in the result: with what is known better of edges
    Plane m_guides[kGuides], m_guideVariance[kGuides];
    Plane m_groupVariance[kGuideGroups], m_groupWidth[kGuideGroups];
    LanesPlane m_regressors, m_regressorNoise;  // the guides again, from lane 1
    LanesPlane m_predictors;                    // with the first hits of edges
    LanesPlane m_light;                         // as gathered, divided: channels as in Filtered
    Filtered m_average, m_regression;
    Plane m_pilot[3], m_pilotVariance;  // the mix of the averages
    LanesPlane m_result;
};

}  // namespace denoise
