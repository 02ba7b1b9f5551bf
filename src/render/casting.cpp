// Who casts on whom.
//
// What is mirrored sharply is hidden by what is mirrored before it; elsewhere light is kept off by what casts shadows. Where the two
// differ, that is: a glossy floor shows a letter that throws no shadow, not the light behind it. Which of them holds depends on point and
// direction alone, so that light aimed at and light met by chance agree.
#include "render/integrator.h"

namespace render {

namespace {

constexpr float kMirrored = 1;  // per steradian: density of a direction from which on it is mirrored sharply

}  // namespace

void Integrator::findApart()
{
    for (std::size_t e = 0; e < m_scene.entries.size(); ++e)
        // Bodies that give off light are met themselves: where one of them may be unseen, aimed light and met light are two things.
        m_isApart.push_back(m_scene.entries[e].kind == film::EntryKind::Emissive ? m_tracer.hidesAny(0) || m_tracer.hidesAny(e + 1)
                                                                                 : m_tracer.isApart(e));
}

bool Integrator::isUnlit(int entry, int body) const
{
    return static_cast<std::size_t>(entry) < m_scene.castings.size() &&
           isIn(m_scene.castings[static_cast<std::size_t>(entry)].unlit,
                body < 0 ? 0 : m_scene.bodies[static_cast<std::size_t>(body)].piece + 1);
}

void Integrator::aimCasting(const WideInt& entries, const WideInt& bodies, const Wide& pdf, Sight& sight, Mask& tried, Wide& part) const
{
    sight.from = bodies;
    for (int lane = 0; lane < kLanes; ++lane) {
        if (!tried[lane])
            continue;
        const auto entry = static_cast<std::size_t>(entries[lane]);
        const bool apart = m_isApart[entry], shadowed = apart && pdf[lane] <= kMirrored;
        sight.view.v[lane] = shadowed ? static_cast<int>(entry) + 1 : 0;
        if (apart && m_scene.entries[entry].kind == film::EntryKind::Emissive)
            part.v[lane] = shadowed ? 1 : 0;
        if (isUnlit(entries[lane], bodies[lane]))
            tried.v[lane] = 0;
    }
}

void Integrator::seeEntry(const Packet& packet, int entry, const Wide& distance, const Wide& met, const Mask& active, Mask& seen) const
{
    Mask asked, result;
    for (int lane = 0; lane < kLanes; ++lane) {
        if (!active[lane] || isUnlit(entry, packet.leaves[lane]))
            continue;
        if (m_isApart[static_cast<std::size_t>(entry)] && packet.surfacePdf[lane] <= kMirrored)
            asked.v[lane] = -1;
        else
            result.v[lane] = distance[lane] < met[lane] || met[lane] == kInfinity ? -1 : 0;
    }
    if (any(asked)) {
        const Sight sight{entry + 1, packet.leaves};
        Mask blocked;
        m_tracer.occluded(packet.origin, packet.direction, distance * (1 - 1e-4f), asked, blocked, &sight);
        result = result | (asked & !blocked);
    }
    seen = result;
}

void Integrator::weighEmission(const Packet& packet, Wide& weight) const
{
    for (int lane = 0; lane < kLanes; ++lane)
        if (isUnlit(m_emissiveEntry, packet.leaves[lane]))
            weight.v[lane] = 0;
        else if (m_isApart[static_cast<std::size_t>(m_emissiveEntry)])
            weight.v[lane] = packet.surfacePdf[lane] > kMirrored ? 1 : 0;
}

}  // namespace render
