// Light from all round that differs by its direction: a sky of three colours or a picture, with cards before it.
//
// It is worked out once, for 1024 x 512 directions even in longitude and latitude, or 2048 x 1024 of a picture that has as many, and looked
// up between them; directions are aimed at by their share in the whole, as luminance times solid angle: a row by the running sum over rows,
// then a place in it by its own (L. Devroye, Non-Uniform Random Variate Generation, 1986, II.2), so that what is even in u and v stays so.
//
// Directions are those of the world: x to the right, y up, z towards the viewer; longitude 0 is the viewer's, 90 degrees to the right.
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

#include "base/lanes.h"
#include "base/vec.h"
#include "light/panorama.h"

namespace light {

using namespace base;  // lanes are arithmetic, and used like it

// A flat card far away, square to the way it is seen; painted over what is behind. Black ones are flags.
struct SkyCard {
    Vec3f towards{0, 0, 1};                     // unit: where its middle is seen
    float halfWidth = 0.5f, halfHeight = 0.5f;  // tangents of half the angles it is seen under, up to 60
    float turn = 0;                             // radians, counter-clockwise as seen from inside
    float roundness = 0;                        // 0: a rectangle, 1: an ellipse
    float softness = 0;                         // 0 to 1: share of the way to its middle that its edge takes
    Rgb radiance{1, 1, 1};
    // Its light is told apart: as white of radiance 1, counted so much when directions are chosen. 0: it is part of the sky's.
    float own = 0;

    bool operator==(const SkyCard&) const = default;
};

struct Sky {
    Rgb above{1, 1, 1}, horizon{1, 1, 1}, below{1, 1, 1};
    float softness = 1;          // 0.01 to 1: share of the way from the horizon straight up or down that its colour takes to go over
    float turn = 0;              // radians: all of it, round the upright axis, to the right of the viewer
    std::vector<SkyCard> cards;  // the later over the earlier
    float tilt = 0;              // radians, after the turn: what is straight up comes towards the viewer
    SharedPanorama picture;      // instead of the three colours
    float blur = 0;              // radians: of the picture, see blurred()

    bool operator==(const Sky&) const = default;
    // By formula, exactly; of a picture as it is, without its blur. Without the light of its own cards, which hide what is behind them.
    Rgb radiance(Vec3f direction) const;
    int ownCards() const;
};

class SkyMap {
public:
    // Some 0.1 s with a few cards, and 10 MB; 40 MB of a large picture.
    explicit SkyMap(const Sky& sky);
    const Sky& sky() const { return m_sky; }
    const Panorama& map() const { return m_radiance; }
    // The light of its own cards, in their order, each in white: 6 MB more for each.
    const std::vector<Panorama>& ownCards() const { return m_own; }

    Rgb radiance(Vec3f direction) const;
    // Density with which sample() draws a direction, per steradian.
    float density(Vec3f direction) const;
    struct Sample {
        Vec3f direction;
        Rgb radiance;
        float pdf = 0;
    };
    Sample sample(float u, float v) const;
    // What a white card that faces a direction sends back: mean radiance weighted by the cosine.
    Rgb onCard(Vec3f facing) const;
    // Mean over all directions.
    Rgb mean() const { return m_mean; }

    // The same side by side, for the `active` lanes.
    struct SeenWide {
        V3<Wide> radiance;
        Wide density;
    };
    SeenWide look(const V3<Wide>& directions, const Mask& active) const;
    // Light of one of its own cards.
    V3<Wide> lookAt(int ownCard, const V3<Wide>& directions, const Mask& active) const;
    struct SamplesWide {
        V3<Wide> direction, radiance;
        Wide pdf;
    };
    // Radiance with that of its own cards: only whether it is there counts then.
    SamplesWide sampleAll(const Wide& u, const Wide& v) const;

private:
    template <class F>
    V3<F> directionOf(F upper, F lower, F down, F across) const;
    float densityOf(int column, int row) const;
    float densityAt(float x, float y) const;  // in texels from the middle of the first

    Sky m_sky;
    Panorama m_radiance;  // of the middle of each texel
    std::vector<Panorama> m_own;
    // Running shares: of the rows, and in each row of its texels; each ends with 1. Empty where all is black.
    std::vector<float> m_rows, m_columns;
    std::vector<float> m_rowDensity;  // of each row as a whole, over the solid angle of one of its texels
    // Where to begin to look for a place among them, one for each of as many even steps (H.-C. Chen and Y. Asau, On generating random
    // variates from an empirical distribution, 1974).
    std::vector<std::uint16_t> m_rowStarts, m_columnStarts;
    std::vector<float> m_cosines;  // of the colatitudes that rows begin at, and of the last one's end
    Rgb m_mean;
};

// The same one for the same sky as long as somebody keeps it, and the last one, unless it is large. From any thread.
std::shared_ptr<const SkyMap> skyMap(const Sky& sky);
// Its map, or that of one of its own cards, as a picture, blurred() by a radius; the same one as long as somebody keeps it.
SharedPanorama mapOf(const Sky& sky, float radius, int ownCard = -1);

}  // namespace light
