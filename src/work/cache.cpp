#include "work/cache.h"

#include <algorithm>
#include <bit>

#include "work/values.h"

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
    mix(hash, hashOf(key.form));
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

namespace {

// Brings what is found to the front.
template <class List, class Is>
typename List::value_type* recent(List& list, Is is)
{
    const auto found = std::find_if(list.begin(), list.end(), is);
    if (found == list.end())
        return nullptr;
    list.splice(list.begin(), list, found);
    return &list.front();
}

}  // namespace

std::shared_ptr<const outline::Font> Cache::findFont(const outline::SharedBytes& bytes, int index, const std::string& variations)
{
    const std::lock_guard lock(m_mutex);
    const KeptFont* kept =
        recent(m_fonts, [&](const KeptFont& f) { return f.bytes == bytes && f.index == index && f.variations == variations; });
    return kept ? kept->font : nullptr;
}

void Cache::addFont(const outline::SharedBytes& bytes, int index, const std::string& variations, std::shared_ptr<const outline::Font> font)
{
    const std::lock_guard lock(m_mutex);
    m_fonts.push_front({bytes, index, variations, std::move(font)});
    while (m_fonts.size() > kMostFonts)
        m_fonts.pop_back();
}

std::shared_ptr<const outline::Outlined> Cache::findDrawn(const DrawnKey& key)
{
    const std::lock_guard lock(m_mutex);
    const auto* kept = recent(m_drawn, [&](const auto& d) { return d.first == key; });
    return kept ? kept->second : nullptr;
}

void Cache::addDrawn(const DrawnKey& key, std::shared_ptr<const outline::Outlined> outlined)
{
    const std::lock_guard lock(m_mutex);
    m_drawn.emplace_front(key, std::move(outlined));
    while (m_drawn.size() > kMostDrawn)
        m_drawn.pop_back();
}

std::shared_ptr<const outline::Drawing> Cache::findDrawing(const outline::SharedBytes& bytes)
{
    const std::lock_guard lock(m_mutex);
    const auto* kept = recent(m_drawings, [&](const auto& d) { return d.first == bytes; });
    return kept ? kept->second : nullptr;
}

void Cache::addDrawing(const outline::SharedBytes& bytes, std::shared_ptr<const outline::Drawing> drawing)
{
    const std::lock_guard lock(m_mutex);
    m_drawings.emplace_front(bytes, std::move(drawing));
    while (m_drawings.size() > kMostDrawings)
        m_drawings.pop_back();
}

outline::SharedBytes Cache::findFile(const std::string& path)
{
    const std::lock_guard lock(m_mutex);
    const auto* kept = recent(m_files, [&](const auto& f) { return f.first == path; });
    return kept ? kept->second : nullptr;
}

void Cache::addFile(const std::string& path, outline::SharedBytes bytes)
{
    const std::lock_guard lock(m_mutex);
    m_files.emplace_front(path, std::move(bytes));
    std::size_t total = 0;
    for (const auto& file : m_files)
        total += file.second->size();
    while (total > kMostFileBytes && m_files.size() > 1) {
        total -= m_files.back().second->size();
        m_files.pop_back();
    }
}

}  // namespace work
