#include "surface/pattern.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/lanes.h"

namespace surface {

using namespace base;  // lanes are arithmetic, and used like it

namespace {

// --- hashes, noise, cells

std::uint32_t mixed(std::uint32_t h)
{
    h ^= h >> 16;
    h *= 0x7feb352du;
    h ^= h >> 15;
    h *= 0x846ca68bu;
    return h ^ (h >> 16);
}
std::uint32_t hashOf(int x, int y, int z, std::uint32_t seed)
{
    return mixed(static_cast<std::uint32_t>(x) * 0x8da6b343u ^ static_cast<std::uint32_t>(y) * 0xd8163841u ^
                 static_cast<std::uint32_t>(z) * 0xcb1ab31fu ^ seed * 0x9e3779b9u);
}
// The k-th number of a hash, 0 to 1.
float unitOf(std::uint32_t hash, std::uint32_t k = 0)
{
    return static_cast<float>((k ? mixed(hash + k * 0x9e3779b9u) : hash) >> 8) * 0x1p-24f;
}

float clamp01(float x)
{
    return std::clamp(x, 0.0f, 1.0f);
}
float smooth(float from, float to, float x)
{
    const float t = clamp01((x - from) / (to - from));
    return t * t * (3 - 2 * t);
}
float mix(float a, float b, float t)
{
    return a + (b - a) * t;
}
float floorOf(float x)
{
    return std::floor(x);
}
// Numbers that no int holds are of no account: they lie beyond any sheet.
int wholeOf(float floored)
{
    return static_cast<int>(std::clamp(floored, -1e9f, 1e9f));
}
// What is left of features of a size at a footprint.
float resolved(float size, float footprint)
{
    return 1 - smooth(0.3f, 0.9f, footprint / size);
}

BitLanes mixed(BitLanes h)
{
    h ^= h >> 16;
    h *= 0x7feb352du;
    h ^= h >> 15;
    h *= 0x846ca68bu;
    return h ^ (h >> 16);
}
BitLanes hashOf(BitLanes x, BitLanes y, BitLanes z, std::uint32_t seed)
{
    return mixed(x * 0x8da6b343u ^ y * 0xd8163841u ^ z * 0xcb1ab31fu ^ (BitLanes{} + seed * 0x9e3779b9u));
}

// -1 to 1, of wavelength 1: the eight corners of its cube side by side.
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::noinline]] float noise(Vec3f p, std::uint32_t seed)
{
    constexpr BitLanes right{0, 1, 0, 1, 0, 1, 0, 1}, up{0, 0, 1, 1, 0, 0, 1, 1}, out{0, 0, 0, 0, 1, 1, 1, 1};
    const float fx = floorOf(p.x), fy = floorOf(p.y), fz = floorOf(p.z);
    const BitLanes h = hashOf(right + static_cast<std::uint32_t>(wholeOf(fx)), up + static_cast<std::uint32_t>(wholeOf(fy)),
                              out + static_cast<std::uint32_t>(wholeOf(fz)), seed) &
                       15u;
    const float a = p.x - fx, b = p.y - fy, c = p.z - fz;
    const FloatLanes x = a - __builtin_convertvector(right, FloatLanes), y = b - __builtin_convertvector(up, FloatLanes),
                     z = c - __builtin_convertvector(out, FloatLanes);
    const FloatLanes u = h < 8u ? x : y, v = h < 4u ? y : ((h == 12u) | (h == 14u) ? x : z);
    const FloatLanes gradient = ((h & 1u) != 0u ? -u : u) + ((h & 2u) != 0u ? -v : v);
    const auto fade = [](float t) { return t * t * t * (t * (t * 6 - 15) + 10); };
    const float i = fade(a), j = fade(b), k = fade(c), l = 1 - i, m = 1 - j, n = 1 - k;
    const FloatLanes weighted =
        gradient * FloatLanes{l * m * n, i * m * n, l * j * n, i * j * n, l * m * k, i * m * k, l * j * k, i * j * k};
    return ((weighted[0] + weighted[4]) + (weighted[1] + weighted[5])) + ((weighted[2] + weighted[6]) + (weighted[3] + weighted[7]));
}

// Octaves of noise, the longest of wavelength `size`; about -1 to 1.
float clouds(Vec3f p, float size, int octaves, std::uint32_t seed, float footprint)
{
    float sum = 0, strength = 1;
    for (int i = 0; i < octaves; ++i, size *= 0.5f, strength *= 0.5f) {
        const float left = resolved(size, 2 * footprint);
        if (left <= 0)
            break;
        sum += left * strength * noise(p * (1 / size), seed + static_cast<std::uint32_t>(i) * 101);
    }
    return sum;
}

// The nearest of points strewn one in each cube of size 1, and how far the second is.
struct Cell {
    float first = 9, second = 9;  // distances
    std::uint32_t id = 0;
    Vec3f to;  // from the place to the nearest
};
[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::noinline]] Cell cellAt(Vec3f p, std::uint32_t seed)
{
    const float fx = floorOf(p.x), fy = floorOf(p.y), fz = floorOf(p.z);
    const int x = wholeOf(fx), y = wholeOf(fy), z = wholeOf(fz);
    const float a = p.x - fx, b = p.y - fy, c = p.z - fz;
    constexpr int kCubes = 27, kRounds = (kCubes + kLanes - 1) / kLanes;
    alignas(32) float distance[kRounds * kLanes], toX[kRounds * kLanes], toY[kRounds * kLanes], toZ[kRounds * kLanes];
    alignas(32) std::uint32_t ids[kRounds * kLanes];
    for (int round = 0; round < kRounds; ++round) {
        const IntLanes n = IntLanes{0, 1, 2, 3, 4, 5, 6, 7} + round * kLanes, i = n % 3 - 1, j = n / 3 % 3 - 1, k = n / 9 - 1;
        const auto bits = [](IntLanes v) { return reinterpret_cast<BitLanes>(v); };
        const BitLanes h = hashOf(bits(i + x), bits(j + y), bits(k + z), seed);
        // Three numbers of ten bits.
        const auto part = [](BitLanes v) { return __builtin_convertvector(v & 1023u, FloatLanes) * (1.0f / 1024); };
        const FloatLanes dx = __builtin_convertvector(i, FloatLanes) + part(h) - a,
                         dy = __builtin_convertvector(j, FloatLanes) + part(h >> 10) - b,
                         dz = __builtin_convertvector(k, FloatLanes) + part(h >> 20) - c;
        const FloatLanes d = n < kCubes ? dx * dx + dy * dy + dz * dz : FloatLanes{} + 99;
        for (int lane = 0; lane < kLanes; ++lane) {
            const int at = round * kLanes + lane;
            distance[at] = d[lane];
            toX[at] = dx[lane];
            toY[at] = dy[lane];
            toZ[at] = dz[lane];
            ids[at] = h[lane];
        }
    }
    float first = 99, second = 99;
    int nearest = 0;
    for (int i = 0; i < kCubes; ++i) {
        const float d = distance[i];
        second = d < first ? first : std::min(second, d);
        nearest = d < first ? i : nearest;
        first = std::min(first, d);
    }
    return {std::sqrt(first), std::sqrt(second), ids[nearest], {toX[nearest], toY[nearest], toZ[nearest]}};
}

// Share of an interval round x, `width` long, in which the fraction is below `part`.
float pulse(float x, float part, float width)
{
    const auto sum = [&](float at) {
        const float f = floorOf(at);
        return f * part + std::min(at - f, part);
    };
    width = std::max(width, 1e-4f);
    return clamp01((sum(x + 0.5f * width) - sum(x - 0.5f * width)) / width);
}
float fraction(float x)
{
    return x - floorOf(x);
}

Vec3f turned(Vec3f p, Vec2f turn)
{
    return {turn.x * p.x + turn.y * p.y, turn.x * p.y - turn.y * p.x, p.z};
}
// By an angle in radians.
Vec3f turned(Vec3f p, float angle)
{
    return turned(p, Vec2f{std::cos(angle), std::sin(angle)});
}

// --- what the kinds share

struct Here {
    const Pattern& pattern;
    const Look& base;
    Vec3f p, n;  // pt, turned
    float u, v;  // pt, turned
    float size;  // pt
    float foot;  // pt
    std::uint32_t seed;

    Rgb towards(float share) const { return lerp(base.colour, pattern.second, clamp01(share * pattern.strength)); }
    // The colour, so much lighter or darker.
    Rgb toned(Rgb colour, float by) const
    {
        const float t = 1 + by * pattern.strength;
        return {clamp01(colour.x * t), clamp01(colour.y * t), clamp01(colour.z * t)};
    }
    float rougher(float by) const { return clamp01(base.roughness + by * pattern.strength); }
    Look with(Rgb colour, float height = 0) const { return {colour, base.roughness, base.metallic, height, {}}; }
};

// --- stone and earth

Look granite(const Here& h)
{
    const float left = resolved(h.size, h.foot);
    const Rgb mean = h.toned(h.towards(0.31f), -0.13f);
    if (left <= 0)
        return h.with(mean);
    const Cell coarse = cellAt(h.p * (1 / h.size), h.seed), fine = cellAt(h.p * (2.6f / h.size), h.seed + 7);
    const float kind = unitOf(coarse.id, 4), tone = unitOf(coarse.id, 5) - 0.5f, mica = unitOf(fine.id, 4);
    // Feldspar, quartz of the second colour, and dark mica in small grains.
    Rgb colour = h.toned(kind < 0.55f ? h.base.colour : h.towards(kind < 0.85f ? 0.55f : 1), 0.3f * tone);
    if (mica < 0.16f)
        colour = h.toned(colour, -0.85f);
    return h.with(lerp(mean, colour, left));
}

constexpr float kMarbleMean = 0.27f;
Look marble(const Here& h)
{
    // Veins follow where a slow noise, bent by others, goes through zero.
    const float left = resolved(1.3f * h.size, h.foot);
    if (left <= 0)
        return h.with(h.towards(kMarbleMean));
    const float l = h.size * 2.5f;
    const Vec3f bend{clouds(h.p, l, 3, h.seed + 1, h.foot), clouds(h.p, l, 3, h.seed + 2, h.foot), clouds(h.p, l, 3, h.seed + 3, h.foot)};
    const Vec3f q = h.p + bend * (0.8f * h.size);
    const auto vein = [&](float wave, float thin, std::uint32_t seed) {
        return std::pow(clamp01(1 - std::abs(clouds(q, wave, 3, seed, h.foot)) * thin), 3.0f);
    };
    const float wide = vein(3 * h.size, 2.2f, h.seed + 4), fine = vein(1.3f * h.size, 5, h.seed + 5),
                cloud = clouds(q, 2 * h.size, 3, h.seed + 6, h.foot);
    return h.with(h.towards(mix(kMarbleMean, 0.55f * wide * (0.6f + 0.4f * cloud) + 0.45f * fine + 0.12f * (cloud + 0.4f), left)));
}

Look sandstone(const Here& h)
{
    const float warp = clouds(h.p, 6 * h.size, 3, h.seed, h.foot);
    const float bed = noise({0, (h.p.y + 1.6f * h.size * warp) / h.size, 0.5f}, h.seed + 3) * resolved(h.size, h.foot);
    const float thin = noise({0.3f, (h.p.y + h.size * warp) * 4 / h.size, 0.5f}, h.seed + 4) * resolved(h.size / 4, h.foot);
    const float grain = clouds(h.p, h.size / 12, 2, h.seed + 5, h.foot);
    Look look = h.with(h.toned(h.towards(0.45f + 0.6f * bed + 0.3f * thin), 0.16f * grain), h.size * (0.02f * grain + 0.03f * thin));
    look.roughness = h.rougher(0.1f);
    return look;
}

Look concrete(const Here& h)
{
    const float stain = clouds(h.p, 4 * h.size, 4, h.seed, h.foot), grit = clouds(h.p, h.size / 8, 2, h.seed + 2, h.foot);
    const Cell cell = resolved(h.size / 3, h.foot) > 0 ? cellAt(h.p * (1 / h.size), h.seed + 3) : Cell();
    const float radius = unitOf(cell.id, 4) < 0.4f ? 0.04f + 0.12f * unitOf(cell.id, 5) * unitOf(cell.id, 5) : 0;
    const float hole = radius > 0 ? smooth(radius, 0.55f * radius, cell.first) * resolved(h.size * radius * 2, h.foot) : 0;
    return h.with(h.toned(h.towards(0.25f * (stain + 0.5f) + 0.5f * hole), 0.14f * grit + 0.12f * stain),
                  h.size * (0.01f * grit + 0.02f * stain - 0.12f * hole));
}

Look terrazzo(const Here& h)
{
    // Chips of the second colour, of light and of dark stone.
    const Rgb light = lerp(h.pattern.second, {0.9f, 0.9f, 0.86f}, 0.7f), dark = h.pattern.second * 0.25f;
    const float left = resolved(h.size, h.foot);
    const Rgb cement = h.toned(h.base.colour, 0.1f * clouds(h.p, h.size / 4, 2, h.seed + 2, h.foot));
    const Rgb mean = lerp(cement, h.pattern.second * 0.45f + light * 0.3f + dark * 0.25f, 0.41f * h.pattern.strength);
    if (left <= 0)
        return h.with(mean);
    const Cell cell = cellAt(h.p * (1 / h.size), h.seed);
    const float big = 0.06f + 0.3f * unitOf(cell.id, 4), chip = smooth(big, big + 0.05f + h.foot / h.size, cell.second - cell.first);
    const float kind = unitOf(cell.id, 5);
    const Rgb stone = kind < 0.45f ? h.pattern.second : kind < 0.75f ? light : dark;
    return h.with(lerp(mean, lerp(cement, stone, chip * h.pattern.strength), left));
}

Look brick(const Here& h)
{
    // Stretcher bond: bricks of 240 x 71 x 115 mm with joints of 10 (DIN 105 normal format), half a brick further in each course.
    const float length = h.size, high = h.size * 0.324f, deep = h.size * 0.5f, joint = h.size * 0.04f;
    const float course = floorOf(h.p.y / high), shift = fraction(course * 0.5f);
    const float x = h.p.x / length + shift, z = h.p.z / deep + 0.37f + shift;
    const float wobble = 0.25f * joint * clouds(h.p, h.size / 5, 2, h.seed + 9, h.foot);
    // Distance to the nearest joint, of those that the surface cuts and does not lie in.
    const auto edge = [&](float at, float step) { return (0.5f - std::abs(fraction(at) - 0.5f)) * step; };
    float d = edge(h.p.y / high, high) + (std::abs(h.n.y) > 0.8f ? high : 0);
    d = std::min(d, edge(x, length) + (std::abs(h.n.x) > 0.8f ? length : 0));
    if (std::abs(h.n.z) < 0.8f)
        d = std::min(d, edge(z, deep));
    d += wobble;
    const float soft = 0.3f * joint + h.foot, half = 0.5f * joint;
    const float body = mix(0.842f, smooth(half - 0.3f * soft, half + soft, d), resolved(high, h.foot));
    const std::uint32_t id = hashOf(wholeOf(floorOf(x)), wholeOf(course), std::abs(h.n.z) < 0.8f ? wholeOf(floorOf(z)) : 0, h.seed);
    const float grit = clouds(h.p, h.size / 16, 3, h.seed + 2, h.foot), fire = clouds(h.p, h.size, 2, h.seed + 4, h.foot);
    const Rgb clay = h.toned(h.base.colour, 0.5f * (resolved(high, h.foot) * (unitOf(id, 1) - 0.5f) - 0.1f) + 0.3f * fire + 0.16f * grit);
    const Rgb mortar = h.toned(h.pattern.second, 0.2f * grit);
    Look look = h.with(lerp(mortar, clay, body), h.size * (0.035f * body + 0.006f * grit + 0.012f * body * (unitOf(id, 2) - 0.5f)));
    look.roughness = std::max(h.base.roughness, mix(0.95f, h.base.roughness, body));
    return look;
}

// --- wood and card

Look wood(const Here& h)
{
    // A trunk that lies along x, its heart below and behind: rings are cut by the ends, lie open on the face.
    const Vec3f far{h.p.x * 0.06f, h.p.y, h.p.z};
    const float waver = clouds(far, 7 * h.size, 3, h.seed, h.foot);
    const float y = h.p.y + 9 * h.size, z = h.p.z + 4 * h.size, radius = std::sqrt(y * y + z * z) + 1.3f * h.size * waver;
    const float ring =
        fraction(radius / h.size + 0.1f * unitOf(mixed(static_cast<std::uint32_t>(wholeOf(floorOf(radius / h.size))) ^ h.seed)));
    // Early wood goes over into late wood slowly, and stops at once.
    const float late = mix(0.32f, smooth(0.35f, 0.9f, ring) * (1 - smooth(0.95f, 1, ring)), resolved(h.size, h.foot));
    const Vec3f along{h.p.x * 0.03f, h.p.y, h.p.z};
    const float fibre = clouds(along, h.size / 5, 3, h.seed + 5, h.foot);
    const float pore = smooth(0.45f, 0.75f, clouds({h.p.x * 0.08f, h.p.y, h.p.z}, h.size / 9, 1, h.seed + 6, h.foot));
    Look look =
        h.with(h.toned(h.towards(0.75f * late + 0.25f * pore), 0.18f * fibre), h.size * (-0.02f * late - 0.03f * pore + 0.008f * fibre));
    look.roughness = h.rougher(0.12f * (1 - late) - 0.05f);
    return look;
}

Look plywood(const Here& h)
{
    const float layer = floorOf(h.p.z / h.size + 0.5f), in = fraction(h.p.z / h.size + 0.5f);
    const bool across = wholeOf(layer) % 2 != 0;
    const Vec3f along = across ? Vec3f{h.p.x, h.p.y * 0.04f, h.p.z} : Vec3f{h.p.x * 0.04f, h.p.y, h.p.z};
    const float edge = 1 - std::abs(h.n.z);
    const float grain = clouds(along + Vec3f{0, 0, 31 * layer}, h.size * 1.6f, 3, h.seed, h.foot),
                fibre = clouds(along, h.size / 4, 2, h.seed + 2, h.foot);
    const float glue = edge * resolved(h.size * 0.2f, h.foot) * (1 - smooth(0.02f, 0.09f, std::min(in, 1 - in)));
    const float end = edge * (across ? 0.55f : 0.1f);
    Look look = h.with(h.toned(h.towards(0.25f * (grain + 0.5f) + end + 0.6f * glue), 0.15f * fibre),
                       h.size * (0.02f * fibre - 0.05f * glue - (across ? 0.03f * edge : 0)));
    look.roughness = h.rougher(0.2f * edge);
    return look;
}

Look card(const Here& h)
{
    // Two liners and a wave between them, seen at the edges; the face shows the wave faintly.
    const float edge = smooth(0.3f, 0.6f, 1 - std::abs(h.n.z));
    const float across = std::abs(h.n.y) > std::abs(h.n.x) ? h.p.x : h.p.y;
    const float z = fraction(h.p.z / h.size), wave = 0.5f + 0.36f * std::sin(2 * kPiFloat * across / (1.6f * h.size));
    const float liner = 1 - smooth(0.06f, 0.1f, std::min(z, 1 - z)), flute = 1 - smooth(0.05f, 0.09f, std::abs(z - wave));
    const float paper = mix(0.35f, std::max(liner, flute), resolved(h.size * 0.3f, h.foot));
    const float fleck = clouds(h.p, h.size / 3, 3, h.seed, h.foot),
                ribs = std::cos(2 * kPiFloat * h.p.x / (1.6f * h.size)) * resolved(h.size, h.foot);
    const Rgb face = h.toned(h.towards(0.15f * (fleck + 0.5f)), 0.08f * fleck + 0.03f * ribs);
    Look look = h.with(lerp(face, lerp(h.pattern.second * 0.35f, face, paper), edge),
                       mix(0.015f * h.size * ribs, 0.35f * h.size * (paper - 1), edge));
    look.roughness = h.rougher(0.2f);
    return look;
}

// --- metal and paint

Look rust(const Here& h)
{
    const float spread = clouds(h.p, 3 * h.size, 5, h.seed, h.foot), grit = clouds(h.p, h.size / 6, 3, h.seed + 2, h.foot);
    const float share = smooth(-0.15f, 0.25f, spread + 0.9f * (h.pattern.strength - 0.5f)) * smooth(0, 0.1f, h.pattern.strength);
    Look look =
        h.with(lerp(h.base.colour, h.toned(h.pattern.second, 0.5f * grit + 0.3f * spread), share), h.size * share * (0.04f + 0.04f * grit));
    look.roughness = mix(h.base.roughness, 0.95f, share);
    look.metallic = h.base.metallic * (1 - share);
    return look;
}

Look hammered(const Here& h)
{
    const float left = resolved(h.size, h.foot);
    const Cell cell = left > 0 ? cellAt(h.p * (1 / h.size), h.seed) : Cell();
    const float dent = std::min(cell.first * cell.first, 0.6f);
    Look look = h.with(h.toned(h.base.colour, -0.12f * left * smooth(0.25f, 0, cell.second - cell.first)), 0.16f * h.size * left * dent);
    look.roughness = mix(h.rougher(0.2f), h.base.roughness, left);
    return look;
}

Look crinkled(const Here& h)
{
    // Flat facets that meet in sharp folds.
    float height = 0, size = h.size;
    for (std::uint32_t i = 0; i < 3; ++i, size *= 0.47f) {
        const float left = resolved(size, h.foot);
        if (left <= 0)
            break;
        const Cell cell = cellAt(h.p * (1 / size), h.seed + 11 * i);
        const Vec3f slope{unitOf(cell.id, 4) - 0.5f, unitOf(cell.id, 5) - 0.5f, unitOf(cell.id, 6) - 0.5f};
        height += size * left * (0.55f * dot(cell.to, slope) + 0.12f * cell.first);
    }
    return h.with(h.base.colour, height);
}

// The place, bent by noise.
Vec3f bent(const Here& h, float by)
{
    return h.p + Vec3f{clouds(h.p, h.size, 2, h.seed + 1, h.foot), clouds(h.p, h.size, 2, h.seed + 2, h.foot),
                       clouds(h.p, h.size, 2, h.seed + 3, h.foot)} *
                     (by * h.size);
}

Look cracked(const Here& h)
{
    const float left = resolved(h.size, h.foot);
    constexpr float kMean = 0.72f;  // share of what is painted
    float paint = kMean, curl = 0, tone = 0;
    if (left > 0) {
        const Cell cell = cellAt(bent(h, 0.25f) * (1 / h.size), h.seed);
        const float wide = 0.05f + 0.1f * clamp01(0.5f + clouds(h.p, 5 * h.size, 2, h.seed + 4, h.foot));
        paint = mix(kMean, smooth(wide * 0.6f, wide + h.foot / h.size, cell.second - cell.first), left);
        curl = left * smooth(0.5f, wide, cell.second - cell.first);
        tone = left * (unitOf(cell.id, 4) - 0.5f);
    }
    Look look = h.with(h.toned(h.towards(1 - paint), 0.12f * paint * tone), h.size * (0.06f * paint + 0.05f * paint * curl));
    look.roughness = mix(h.rougher(0.4f), h.base.roughness, paint);
    return look;
}

Look brushed(const Here& h)
{
    // Scratches along u, many times as long as wide.
    const Vec3f q{h.u * 0.02f, h.v, 0.37f};
    const float coarse = clouds(q, h.size, 2, h.seed, h.foot), fine = clouds({h.u * 0.05f, h.v, 0.7f}, h.size / 3, 3, h.seed + 4, h.foot);
    Look look = h.with(h.toned(h.base.colour, 0.07f * (coarse + fine)), h.size * (0.012f * fine + 0.01f * coarse));
    // What is too fine to be seen makes it rough.
    const float blurred = 1 - resolved(h.size / 3, 2 * h.foot);
    look.roughness = h.rougher(0.1f * (coarse + fine) + 0.12f * blurred);
    return look;
}

Look glitter(const Here& h)
{
    const float left = resolved(h.size, 0.7f * h.foot);
    const Cell cell = left > 0 ? cellAt(h.p * (1 / h.size), h.seed) : Cell();
    const float gap = smooth(0.02f, 0.08f, cell.second - cell.first);
    const auto part = [&](std::uint32_t k) { return unitOf(cell.id, k) + unitOf(cell.id, k + 10) - 1; };
    // Flakes of foil in clear lacquer: most lie flat, a third is of the second colour.
    const Rgb flake = unitOf(cell.id, 4) < 0.33f ? h.towards(1) : h.base.colour;
    Look look = h.with(lerp(h.towards(0.33f), h.toned(flake, 0.3f * (unitOf(cell.id, 5) - 0.5f) - 0.6f * (1 - gap)), left));
    look.tilt = Vec3f{part(6), part(7), part(8)} * (0.75f * left * h.pattern.relief);
    look.metallic = mix(h.base.metallic, 1, 0.9f * gap);
    look.roughness = mix(std::max(h.base.roughness, 0.55f), std::max(0.12f, 0.5f * h.base.roughness), left);
    return look;
}

// --- dust, cloth, skin

Look chalk(const Here& h)
{
    // Dust that stays on the board's grain, in strokes one way.
    const float tooth = clouds(h.p, h.size / 5, 3, h.seed, h.foot);
    const Vec3f q = turned(h.p, 0.5f);
    const float stroke = clouds({q.x * 0.12f, q.y, q.z}, h.size, 3, h.seed + 3, h.foot);
    const float bare = mix(0.3f, 0.12f + 0.88f * smooth(0.1f, 0.75f, tooth - stroke), resolved(h.size / 3, h.foot));
    Look look = h.with(h.toned(h.towards(bare), 0.06f * tooth), 0.02f * h.size * (tooth - bare));
    look.roughness = std::max(h.base.roughness, 0.9f);
    return look;
}

Look sand(const Here& h)
{
    const float left = resolved(h.size, h.foot);
    const Cell cell = left > 0 ? cellAt(h.p * (1 / h.size), h.seed) : Cell();
    const float heap = clouds(h.p, 14 * h.size, 3, h.seed + 2, h.foot);
    const float kind = unitOf(cell.id, 4);
    const Rgb grain = h.toned(h.towards(kind < 0.7f ? 0 : kind < 0.93f ? 0.6f : 1), 0.5f * (unitOf(cell.id, 5) - 0.5f));
    return h.with(lerp(h.towards(0.21f), grain, left), h.size * (left * (0.5f - 0.9f * cell.first * cell.first) * 0.6f + 0.4f * heap));
}

Look frost(const Here& h)
{
    const float fern = std::abs(clouds(h.p, h.size, 4, h.seed, h.foot)), fine = clouds(h.p, h.size / 8, 2, h.seed + 2, h.foot);
    const float ice = mix(0.4f, smooth(0.32f, 0.05f, fern), resolved(h.size / 2, 2 * h.foot));
    Look look = h.with(h.towards(0.4f * ice + 0.06f * fine + 0.06f), h.size * 0.02f * (ice + fine));
    look.roughness = clamp01(mix(h.base.roughness, 0.55f + 0.25f * ice + 0.1f * fine, h.pattern.strength));
    return look;
}

Look leather(const Here& h)
{
    const float left = resolved(h.size, h.foot);
    float crease = 0.35f;
    if (left > 0) {
        const Cell cell = cellAt(bent(h, 0.3f) * (1 / h.size), h.seed);
        crease = mix(crease, smooth(0.3f, 0.02f, cell.second - cell.first), left);
    }
    const float fold = clouds(h.p, 7 * h.size, 2, h.seed + 5, h.foot);
    Look look = h.with(h.toned(h.towards(0.7f * crease), 0.1f * fold), h.size * (0.14f * left * (1 - crease) + 0.12f * fold));
    look.roughness = h.rougher(0.25f * (crease - 0.3f));
    return look;
}

Look felt(const Here& h)
{
    // Fibres in all directions: long thin noise, three times turned.
    float hair = 0, sum = 0;
    for (std::uint32_t i = 0; i < 3; ++i) {
        const Vec3f q = turned(h.p + Vec3f{h.p.z, -0.6f * h.p.z, 0}, 1.05f * static_cast<float>(i) + 0.4f);
        const float one = clouds({q.x * 0.12f, q.y, q.z}, h.size, 2, h.seed + 5 * i, h.foot);
        hair = std::max(hair, one);
        sum += one;
    }
    const float lump = clouds(h.p, 8 * h.size, 3, h.seed + 3, h.foot);
    Look look = h.with(h.toned(h.towards(0.25f * clamp01(hair)), 0.22f * sum + 0.1f * lump), h.size * (0.25f * hair + 0.35f * lump));
    look.roughness = std::max(h.base.roughness, 0.85f);
    return look;
}

Look paper(const Here& h)
{
    const float tooth = clouds(h.p, h.size, 4, h.seed, h.foot);
    const Vec3f q = turned(h.p, 6 * noise(h.p * (0.15f / h.size), h.seed + 8));
    const float fleck = smooth(0.62f, 0.75f, clouds({q.x * 0.2f, q.y, h.p.z}, h.size / 2, 1, h.seed + 4, h.foot));
    return h.with(h.toned(h.towards(0.4f * fleck), 0.05f * tooth), 0.04f * h.size * tooth);
}

Look woven(const Here& h)
{
    // Plain weave: warp of the base colour, weft of the second.
    const float x = h.u / h.size, y = h.v / h.size, left = resolved(h.size, h.foot);
    const int i = wholeOf(floorOf(x)), j = wholeOf(floorOf(y));
    const float a = fraction(x) - 0.5f, b = fraction(y) - 0.5f;
    const bool warp = ((i + j) & 1) == 0;
    const float across = warp ? a : b, along = warp ? b : a;
    const float round = std::sqrt(std::max(0.0f, 1 - 3.6f * across * across)), rise = std::cos(kPiFloat * along);
    const std::uint32_t thread = hashOf(warp ? i : 0, warp ? 0 : j, warp ? 1 : 2, h.seed);
    const float twist = std::sin(2 * kPiFloat * (3 * along + 1.2f * across)) * resolved(h.size / 4, h.foot);
    const float tone = 0.25f * (unitOf(thread, 1) - 0.5f) + 0.07f * twist - 0.5f * (1 - round) - 0.2f * (1 - rise);
    Look look = h.with(lerp(h.toned(h.towards(0.5f), -0.22f), h.toned(warp ? h.base.colour : h.towards(1), tone), left),
                       0.24f * h.size * left * round * (0.5f + rise) + 0.02f * h.size * twist * left);
    look.roughness = std::max(h.base.roughness, 0.75f);
    return look;
}

Look knit(const Here& h)
{
    // Stitches stand in columns as a V, each over the one below.
    const float x = h.u / h.size, y = h.v / (0.8f * h.size), left = resolved(h.size * 0.5f, h.foot);
    const float a = std::abs(fraction(x) - 0.5f) * 2;  // 0 in the middle of a column, 1 between two
    const float rise = y - 0.55f * a, b = fraction(rise) - 0.5f;
    const float leg = clamp01(1 - std::pow(std::abs(a - 0.5f) * 2.05f, 2.4f)) * clamp01(1 - 3.4f * b * b);
    const float strand = std::sin(2 * kPiFloat * (2 * b + 1.5f * a)) * resolved(h.size / 5, h.foot);
    const std::uint32_t id = hashOf(wholeOf(floorOf(x)), wholeOf(floorOf(rise)), 0, h.seed);
    const float tone = -0.55f * (1 - leg) + 0.1f * (unitOf(id, 1) - 0.5f) + 0.06f * strand;
    Look look = h.with(lerp(h.toned(h.towards(0.2f), -0.2f), h.toned(h.towards(0.5f * (1 - leg)), tone), left),
                       h.size * left * (0.3f * std::sqrt(leg) + 0.02f * strand));
    look.roughness = std::max(h.base.roughness, 0.8f);
    return look;
}

// --- drawn

Look dots(const Here& h)
{
    const float x = h.u / h.size, y = h.v / h.size, radius = 0.34f;
    const float a = fraction(x) - 0.5f, b = fraction(y) - 0.5f, wide = std::max(h.foot / h.size, 1e-3f);
    const float dot = clamp01((radius - std::sqrt(a * a + b * b)) / wide + 0.5f);
    return h.with(h.towards(mix(kPiFloat * radius * radius, dot, resolved(h.size, h.foot))));
}

Look stripes(const Here& h)
{
    return h.with(h.towards(1 - pulse(h.u / h.size, 0.5f, h.foot / h.size)));
}

Look checks(const Here& h)
{
    const float a = 2 * pulse(0.5f * h.u / h.size, 0.5f, 0.5f * h.foot / h.size) - 1;
    const float b = 2 * pulse(0.5f * h.v / h.size, 0.5f, 0.5f * h.foot / h.size) - 1;
    return h.with(h.towards(0.5f - 0.5f * a * b));
}

using Kind = Look (*)(const Here&);
constexpr std::array<Kind, kPatternKinds> kKinds{nullptr, granite, marble,   sandstone, concrete, terrazzo, brick, wood,    plywood,
                                                 card,    rust,    hammered, leather,   cracked,  crinkled, chalk, sand,    frost,
                                                 glitter, felt,    paper,    brushed,   woven,    knit,     dots,  stripes, checks};

}  // namespace

[[gnu::noinline]] Look patterned(const Pattern& pattern, const Look& base, const PatternPlace& place)
{
    const Kind kind = kKinds[static_cast<std::size_t>(pattern.kind)];
    if (!kind)
        return base;
    const float size = std::max(pattern.sizePt, 1e-3f);
    const Vec3f sheet = turned({place.u, place.v, 0}, pattern.turn);
    const auto seed = static_cast<std::uint32_t>(pattern.seed);
    return kind({pattern, base, turned(place.point, pattern.turn), turned(place.normal, pattern.turn), sheet.x, sheet.y, size,
                 place.footprint, seed});
}

[[gnu::noinline]] Vec3f relievedNormal(const Pattern& pattern, const Look& base, const PatternPlace& place, const Vec3f (&along)[2],
                                       const float (&du)[2], const float (&dv)[2], const Look& here)
{
    Vec3f normal = place.normal + here.tilt;
    // Steps as long as what is seen: finer slopes are none.
    const float step = std::max(0.02f * pattern.sizePt, 0.7f * place.footprint);
    if (pattern.relief > 0 && place.footprint < 0.3f * pattern.sizePt)
        for (int i = 0; i < 2; ++i) {
            PatternPlace beside = place;
            beside.point += along[i] * step;
            beside.u += du[i] * step;
            beside.v += dv[i] * step;
            const float slope = (patterned(pattern, base, beside).height - here.height) * pattern.relief / step;
            normal = normal - along[i] * std::clamp(slope, -3.0f, 3.0f);
        }
    const float l = length(normal);
    return l > 1e-6f ? normal * (1 / l) : place.normal;
}

}  // namespace surface
