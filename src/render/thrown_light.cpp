#include "render/thrown_light.h"

#include <algorithm>
#include <bit>
#include <cmath>

namespace render {

namespace {

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

// Which ring of `rings` and which spoke of `spokes` a point of the unit disc lies in: its number.
template <class F>
auto binOf(F x, F y, int rings, int spokes)
{
    const F r2 = x * x + y * y, quarter = asinOf(absolute(y) / root(max(r2, F(1e-20f))));  // 0 to a quarter of a turn
    const F half = select(x < 0, kPiFloat - quarter, quarter), turn = select(y < 0, 2 * kPiFloat - half, half) * (0.5f / kPiFloat);
    const auto ring = whole(min(r2, F(0.9999f)) * static_cast<float>(rings));
    const auto spoke = whole(min(turn, F(0.9999f)) * static_cast<float>(spokes));
    return ring * spokes + spoke;
}

}  // namespace

// The axis, how deep, up and across, 20 bits each: cells so far apart that they share a key are not in one picture.
std::uint64_t ThrownLight::keyOf(Vec3f point, int axis, float u, float v) const
{
    const Vec3f l = along(axis % 3, point) * m_perCell;
    const auto bits = [](float of) { return static_cast<std::uint64_t>(static_cast<std::int64_t>(std::floor(of))) & 0xfffffu; };
    return static_cast<std::uint64_t>(axis) << 60 | bits(l.z * kCellsPerDepth + 0.5f) << 40 | bits(l.y + v) << 20 | bits(l.x + u);
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
    struct Counted {
        std::uint64_t key;
        int axis, bin;
        float power;
    };
    std::vector<Counted> counted;
    counted.reserve(photons.size());
    for (const Photon& p : photons) {
        const int axis = axisOf(p.normal);
        const Vec3f from = along(axis, p.from);
        if (from.z > 0)
            counted.push_back({keyOf(p.point, axis, 0.5f, 0.5f), axis, binOf(from.x, from.y, kRings, kSpokes), p.power});
    }
    std::stable_sort(counted.begin(), counted.end(), [](const Counted& a, const Counted& b) { return a.key < b.key; });

    std::vector<std::uint64_t> keys;
    for (auto first = counted.begin(); first != counted.end();) {
        const auto end = std::find_if(first, counted.end(), [&](const Counted& c) { return c.key != first->key; });
        float power = 0;
        for (auto c = first; c != end; ++c)
            power += c->power;
        const float irradiance = power * m_perCell * m_perCell / kPiFloat, share = kMostShare * irradiance / (irradiance + kWorthHalf);
        if (share >= kLeastShare) {
            keys.push_back(first->key);
            m_cells.push_back({first->axis, share});
            m_upTo.resize(m_upTo.size() + kBins);
            float* bins = &m_upTo[m_upTo.size() - kBins];
            // What few photons say of a bin, its neighbours say as well.
            for (auto c = first; c != end; ++c)
                for (int across = -1; across <= 1; ++across)
                    for (int round = -1; round <= 1; ++round) {
                        const int ring = std::clamp(c->bin / kSpokes + across, 0, kRings - 1);
                        bins[ring * kSpokes + (c->bin + round + kSpokes) % kSpokes] +=
                            c->power / power * (across == 0 ? 0.5f : 0.25f) * (round == 0 ? 0.5f : 0.25f);
                    }
            for (int bin = 1; bin < kBins; ++bin)
                bins[bin] += bins[bin - 1];
            for (int bin = 0; bin < kBins; ++bin)
                bins[bin] /= bins[kBins - 1];
        }
        first = end;
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
    const WideInt bins = binOf(from.x, from.y, kRings, kSpokes);
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
