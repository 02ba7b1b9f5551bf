#include "render/thrown_light.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numeric>

namespace render {

namespace {

// Directions lie in the disc that the half ball over a cell's axis is seen as from above, in bins of the same area: rings by spokes.
constexpr int kRings = 16, kSpokes = 32, kBins = kRings * kSpokes;
constexpr float kEnough = 150;           // photons of a cell that need none of those round it
constexpr float kWorthHalf = 0.02f;      // of a white card in full light: thrown light that half of the most is chosen by
constexpr float kLeastShare = 0.1f;      // below, asking costs more than it brings
constexpr float kCellsPerDepth = 0.25f;  // along the normal surfaces lie side by side only as stairs

// The axis that a normal is nearest to.
int axisOf(const Vec3f& n)
{
    const float x = std::abs(n.x), y = std::abs(n.y), z = std::abs(n.z);
    if (x > y && x > z)
        return n.x < 0 ? 3 : 0;
    if (y > z)
        return n.y < 0 ? 4 : 1;
    return n.z < 0 ? 5 : 2;
}

// A direction with the axis as its z, and back.
Vec3f along(int axis, const Vec3f& d)
{
    const Vec3f turned = axis % 3 == 0 ? Vec3f{d.y, d.z, d.x} : axis % 3 == 1 ? Vec3f{d.z, d.x, d.y} : d;
    return axis < 3 ? turned : Vec3f{turned.x, turned.y, -turned.z};
}
Vec3f inWorld(int axis, const Vec3f& l)
{
    const float z = axis < 3 ? l.z : -l.z;
    return axis % 3 == 0 ? Vec3f{z, l.x, l.y} : axis % 3 == 1 ? Vec3f{l.y, z, l.x} : Vec3f{l.x, l.y, z};
}

// Of a point of the unit disc.
template <class F>
auto binOf(F x, F y)
{
    const F r2 = x * x + y * y, quarter = asinOf(absolute(y) / root(max(r2, F(1e-20f))));  // 0 to a quarter of a turn
    const F half = select(x < 0, kPiFloat - quarter, quarter), turn = select(y < 0, 2 * kPiFloat - half, half) * (0.5f / kPiFloat);
    const auto ring = whole(min(r2, F(0.9999f)) * static_cast<float>(kRings));
    const auto spoke = whole(min(turn, F(0.9999f)) * static_cast<float>(kSpokes));
    return ring * kSpokes + spoke;
}

// A photon in its cell.
struct Counted {
    std::uint64_t key;
    int axis, bin;
    float power;
};
struct Run {  // those of one cell
    std::uint64_t key;
    std::span<const Counted> photons;
};

constexpr std::uint64_t kFieldBits = 20, kField = (1u << kFieldBits) - 1;

std::uint64_t keyBeside(std::uint64_t key, int right, int up)
{
    const std::uint64_t x = (key + static_cast<std::uint64_t>(right)) & kField,
                        y = ((key >> kFieldBits) + static_cast<std::uint64_t>(up)) & kField;
    return key >> 2 * kFieldBits << 2 * kFieldBits | y << kFieldBits | x;
}

// Photons to bins; what few say of one, its neighbours say as well.
void addTo(float* bins, std::span<const Counted> photons, float scale)
{
    for (const Counted& c : photons)
        for (int across = -1; across <= 1; ++across)
            for (int round = -1; round <= 1; ++round) {
                const int ring = std::clamp(c.bin / kSpokes + across, 0, kRings - 1);
                bins[ring * kSpokes + (c.bin + round + kSpokes) % kSpokes] +=
                    scale * c.power * (across == 0 ? 0.5f : 0.25f) * (round == 0 ? 0.5f : 0.25f);
            }
}

}  // namespace

// The axis, how deep, up and across, 20 bits each: cells so far apart that they share a key are not in one picture.
std::uint64_t ThrownLight::keyOf(Vec3f point, int axis, float u, float v) const
{
    const Vec3f l = along(axis % 3, point) * m_perCell;
    const auto bits = [](float of) { return static_cast<std::uint64_t>(static_cast<std::int64_t>(std::floor(of))) & kField; };
    return static_cast<std::uint64_t>(axis) << 3 * kFieldBits | bits(l.z * kCellsPerDepth + 0.5f) << 2 * kFieldBits |
           bits(l.y + v) << kFieldBits | bits(l.x + u);
}

std::size_t ThrownLight::slotOf(std::uint64_t key) const
{
    const std::size_t last = m_slots.size() - 1;
    std::size_t at = (key * 0x9e3779b97f4a7c15u >> 20) & last;
    while (m_slots[at].cell >= 0 && m_slots[at].key != key)
        at = (at + 1) & last;
    return at;
}

ThrownLight::ThrownLight(std::span<const Photon> photons, float cell) : m_perCell(1 / cell)
{
    std::vector<Counted> counted;
    counted.reserve(photons.size());
    for (const Photon& p : photons) {
        const int axis = axisOf(p.normal);
        const Vec3f from = along(axis, p.from);
        if (from.z > 0)
            counted.push_back({keyOf(p.point, axis, 0.5f, 0.5f), axis, binOf(from.x, from.y), p.power});
    }
    std::stable_sort(counted.begin(), counted.end(), [](const Counted& a, const Counted& b) { return a.key < b.key; });

    std::vector<Run> runs;
    for (auto first = counted.begin(); first != counted.end();) {
        const auto end = std::find_if(first, counted.end(), [&](const Counted& c) { return c.key != first->key; });
        runs.push_back({first->key, {first, end}});
        first = end;
    }
    std::vector<std::uint64_t> keys;
    for (const Run& run : runs) {
        float power = 0;
        for (const Counted& c : run.photons)
            power += c.power;
        const float irradiance = power * m_perCell * m_perCell / kPiFloat, share = kMostShare * irradiance / (irradiance + kWorthHalf);
        if (share < kLeastShare)
            continue;
        keys.push_back(run.key);
        m_cells.push_back({run.photons[0].axis, share});
        m_upTo.resize(m_upTo.size() + kBins);
        float* bins = &m_upTo[m_upTo.size() - kBins];
        addTo(bins, run.photons, 1 / power);
        // What few photons say of a place, those round it say as well.
        const float few = 1 - static_cast<float>(run.photons.size()) / kEnough;
        for (int up = -1; up <= 1 && few > 0; ++up)
            for (int right = -1; right <= 1; ++right) {
                const std::uint64_t key = keyBeside(run.key, right, up);
                const auto beside =
                    std::lower_bound(runs.begin(), runs.end(), key, [](const Run& r, std::uint64_t k) { return r.key < k; });
                if (key != run.key && beside != runs.end() && beside->key == key)
                    addTo(bins, beside->photons, few / power);
            }
        std::partial_sum(bins, bins + kBins, bins);
        for (int bin = 0; bin < kBins; ++bin)
            bins[bin] /= bins[kBins - 1];
    }
    m_slots.resize(std::bit_ceil(2 * keys.size() + 1));
    for (std::size_t i = 0; i < keys.size(); ++i)
        m_slots[slotOf(keys[i])] = {keys[i], static_cast<int>(i)};
}

ThrownLight::Places ThrownLight::at(const V3<Wide>& points, const V3<Wide>& normals, const Wide& u, const Wide& v, const Mask& where) const
{
    Places places;
    for (int lane = 0; lane < kLanes; ++lane) {
        if (!where[lane])
            continue;
        const int cell = m_slots[slotOf(keyOf(laneOf(points, lane), axisOf(laneOf(normals, lane)), u[lane], v[lane]))].cell;
        if (cell < 0)
            continue;
        places.cell.v[lane] = cell;
        places.share.v[lane] = m_cells[static_cast<std::size_t>(cell)].share;
    }
    return places;
}

V3<Wide> ThrownLight::directions(const WideInt& cells, const Wide& u, const Wide& v, const Mask& where) const
{
    V3<Wide> directions{0, 0, 1};
    for (int lane = 0; lane < kLanes; ++lane) {
        if (!where[lane])
            continue;
        const float *upTo = &m_upTo[static_cast<std::size_t>(cells[lane]) * kBins], *found = std::upper_bound(upTo, upTo + kBins, u[lane]);
        const int bin = std::min(kBins - 1, static_cast<int>(found - upTo));
        // What chose the bin is spread over 0 to 1 again and chooses the place in it.
        const float before = bin > 0 ? upTo[bin - 1] : 0, width = upTo[bin] - before;
        const float rest = width > 0 ? std::clamp((u[lane] - before) / width, 0.0f, 0.9999f) : 0.5f;
        const float r2 = (static_cast<float>(bin / kSpokes) + rest) / kRings, r = std::sqrt(r2);
        const SinCos<float> turn = sinCosOf((static_cast<float>(bin % kSpokes) + v[lane]) / kSpokes);
        setLane(directions, lane,
                inWorld(m_cells[static_cast<std::size_t>(cells[lane])].axis, {r * turn.cosine, r * turn.sine, std::sqrt(1 - r2)}));
    }
    return directions;
}

void ThrownLight::densities(const WideInt& cells, const V3<Wide>& directions, Wide& densities) const
{
    V3<Wide> from;
    for (int lane = 0; lane < kLanes; ++lane)
        if (cells[lane] >= 0)
            setLane(from, lane, along(m_cells[static_cast<std::size_t>(cells[lane])].axis, laneOf(directions, lane)));
    const WideInt bins = binOf(from.x, from.y);
    for (int lane = 0; lane < kLanes; ++lane) {
        densities.v[lane] = 0;
        if (cells[lane] < 0 || !(from.z[lane] > 0))
            continue;
        const float* upTo = &m_upTo[static_cast<std::size_t>(cells[lane]) * kBins];
        const int bin = bins[lane];
        densities.v[lane] = (upTo[bin] - (bin > 0 ? upTo[bin - 1] : 0)) * (kBins / kPiFloat) * from.z[lane];
    }
}

}  // namespace render
