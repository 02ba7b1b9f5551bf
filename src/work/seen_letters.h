// Letters as the camera sees them, by their outlines: known without bodies, at any size of the picture.
#pragma once

#include <mutex>
#include <optional>

#include "base/vec.h"
#include "finish/layers.h"
#include "light/light.h"
#include "work/cache.h"
#include "work/piece_outlines.h"
#include "work/work.h"

namespace work {

// Of the last work that was asked for; what depends on its letters, sheet and view is kept. From any thread.
class SeenLetters {
public:
    // Where the faces of all letters are seen, pt from the sheet's middle; copies are left out. O(edges) once.
    std::vector<finish::LetterBox> boxes(const Work& work);
    // The share of a lamp that neither letters nor ground hide from the camera, whether the frame shows it or not. Letters are taken for
    // slabs with straight sides; tubes hide nothing. O(edges) with some dozens of lines of sight.
    double openTo(const Work& work, const light::Light& lamp);

private:
    struct Part {
        std::uint16_t piece = 0;
        std::vector<std::vector<std::uint16_t>> letters;  // of each outline
        bool isCopy = false, isSolid = true;
        std::shared_ptr<const outline::Outlined> outlined;
        base::Pose pose;
        double depth = 0;
        base::Box2 box;  // on its plane
    };
    const std::vector<Part>& partsOf(const Work& work);
    std::vector<Part> made(const Work& work);

    std::mutex m_mutex;
    Cache m_cache{std::size_t{64} << 20};
    std::optional<Work> m_of;
    std::vector<Part> m_parts;
};

// The same of one of its lamps by id, and where the faces of all letters are; what they need is kept for all who ask. 0: there is no such
// lamp.
double openToLamp(const Work& work, const std::string& lamp);
std::vector<finish::LetterBox> letterBoxes(const Work& work);

}  // namespace work
