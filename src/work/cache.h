// What the stages made before, found again by exact contents. Safe from several threads.
#pragma once

#include <list>
#include <memory>
#include <mutex>
#include <string>
#include <unordered_map>

#include "outline/outline.h"
#include "solid/body.h"
#include "work/work.h"

namespace work {

class Cache {
public:
    explicit Cache(std::size_t mostBytes = std::size_t{1} << 30) : m_mostBytes(mostBytes) {}

    struct BodyKey {
        std::shared_ptr<const outline::Outline> outline;
        Form form;
        double tolerancePt = 0;

        bool operator==(const BodyKey& o) const
        {
            return form == o.form && tolerancePt == o.tolerancePt && (outline == o.outline || *outline == *o.outline);
        }
    };
    solid::SharedBody findBody(const BodyKey& key);
    void addBody(const BodyKey& key, solid::SharedBody body);

    // An opened font by its bytes, face and variations.
    std::shared_ptr<const outline::Font> findFont(const outline::SharedBytes& bytes, int index, const std::string& variations);
    void addFont(const outline::SharedBytes& bytes, int index, const std::string& variations, std::shared_ptr<const outline::Font> font);
    // The outlines of a drawing by its bytes and how they were made; nothing while they are not known.
    struct DrawnKey {
        outline::SharedBytes bytes;
        outline::OutlineSettings settings;

        bool operator==(const DrawnKey&) const = default;
    };
    std::shared_ptr<const outline::Outlined> findDrawn(const DrawnKey& key);
    void addDrawn(const DrawnKey& key, std::shared_ptr<const outline::Outlined> outlined);
    // A drawing that was read from these bytes.
    std::shared_ptr<const outline::Drawing> findDrawing(const outline::SharedBytes& bytes);
    void addDrawing(const outline::SharedBytes& bytes, std::shared_ptr<const outline::Drawing> drawing);
    // The bytes of a font file on this machine, read once.
    outline::SharedBytes findFile(const std::string& path);
    void addFile(const std::string& path, outline::SharedBytes bytes);

private:
    struct Hash {
        std::size_t operator()(const BodyKey& key) const;
    };
    struct Kept {
        BodyKey key;
        solid::SharedBody body;
        std::size_t bytes = 0;
    };
    std::mutex m_mutex;
    std::list<Kept> m_recent;  // latest use first
    std::unordered_map<BodyKey, std::list<Kept>::iterator, Hash> m_bodies;
    std::size_t m_bytes = 0, m_mostBytes;
    // Few and found by looking through them; the latest use is first.
    struct KeptFont {
        outline::SharedBytes bytes;
        int index = 0;
        std::string variations;
        std::shared_ptr<const outline::Font> font;
    };
    static constexpr std::size_t kMostFonts = 64;
    std::list<KeptFont> m_fonts;
    static constexpr std::size_t kMostDrawings = 16, kMostDrawn = 64;
    std::list<std::pair<outline::SharedBytes, std::shared_ptr<const outline::Drawing>>> m_drawings;
    std::list<std::pair<DrawnKey, std::shared_ptr<const outline::Outlined>>> m_drawn;
    std::list<std::pair<std::string, outline::SharedBytes>> m_files;
    static constexpr std::size_t kMostFileBytes = std::size_t{256} << 20;
};

}  // namespace work
