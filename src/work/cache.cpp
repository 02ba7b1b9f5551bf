#include "work/cache.h"

#include <bit>

namespace work {

namespace {

void mix(std::size_t& hash, std::uint64_t value)
{
    hash = (hash ^ value) * 0x9e3779b97f4a7c15u;
    hash ^= hash >> 29;
}

std::size_t sizeOf(const solid::Body& body)
{
    return body.positions.size() * sizeof(base::Vec3f) + body.triangles.size() * (12 + sizeof(body.corners[0]) + 3);
}

}  // namespace

std::size_t Cache::Hash::operator()(const BodyKey& key) const
{
    std::size_t hash = 0;
    for (const outline::Contour& contour : key.outline->contours) {
        mix(hash, contour.size());
        for (const outline::Edge& e : contour)
            mix(hash, static_cast<std::uint64_t>(static_cast<std::uint32_t>(e.from.x)) << 32 | static_cast<std::uint32_t>(e.from.y));
    }
    mix(hash, std::bit_cast<std::uint64_t>(key.form.depthPt));
    mix(hash, std::bit_cast<std::uint64_t>(key.form.front.widthPt));
    mix(hash, std::bit_cast<std::uint64_t>(key.form.front.heightPt));
    mix(hash, std::bit_cast<std::uint64_t>(key.tolerancePt));
    return hash;
}

solid::SharedBody Cache::findBody(const BodyKey& key)
{
    const std::lock_guard lock(m_mutex);
    const auto found = m_bodies.find(key);
    if (found == m_bodies.end())
        return nullptr;
    m_recent.splice(m_recent.begin(), m_recent, found->second);
    return found->second->body;
}

void Cache::addBody(const BodyKey& key, solid::SharedBody body)
{
    const std::lock_guard lock(m_mutex);
    if (m_bodies.contains(key))
        return;
    const std::size_t bytes = sizeOf(*body);
    m_recent.push_front({key, std::move(body), bytes});
    m_bodies[key] = m_recent.begin();
    m_bytes += bytes;
    while (m_bytes > m_mostBytes && m_recent.size() > 1) {
        m_bytes -= m_recent.back().bytes;
        m_bodies.erase(m_recent.back().key);
        m_recent.pop_back();
    }
}

std::shared_ptr<const outline::Font> Cache::findFont(const outline::SharedBytes& bytes, int index, const std::string& variations)
{
    const std::lock_guard lock(m_mutex);
    const auto found = m_fonts.find({bytes.get(), index, variations});
    return found == m_fonts.end() ? nullptr : found->second.second;
}

void Cache::addFont(const outline::SharedBytes& bytes, int index, const std::string& variations, std::shared_ptr<const outline::Font> font)
{
    const std::lock_guard lock(m_mutex);
    m_fonts[{bytes.get(), index, variations}] = {bytes, std::move(font)};
}

outline::SharedBytes Cache::findFile(const std::string& path)
{
    const std::lock_guard lock(m_mutex);
    const auto found = m_files.find(path);
    return found == m_files.end() ? nullptr : found->second;
}

void Cache::addFile(const std::string& path, outline::SharedBytes bytes)
{
    const std::lock_guard lock(m_mutex);
    m_files[path] = std::move(bytes);
}

}  // namespace work
