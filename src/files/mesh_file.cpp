#include "files/mesh_file.h"

#include <cstring>

#include "base/file.h"
#include "base/units.h"
#include "files/glb_file.h"
#include "files/still_file.h"

namespace files {

namespace {

void append(std::vector<std::uint8_t>& bytes, const void* data, std::size_t size)
{
    const auto* from = static_cast<const std::uint8_t*>(data);
    bytes.insert(bytes.end(), from, from + size);
}

}  // namespace

base::Result<void> saveStl(const work::WorkBodies& bodies, const std::string& path)
{
    base::Box3 box;
    std::uint64_t count = 0;
    for (const work::WorkBody& b : bodies.bodies) {
        for (const base::Vec3f& p : b.body->positions)
            box.add(b.pose.apply(toDouble(p)));
        count += b.body->triangles.size();
    }
    if (count == 0)
        return base::fail(base::ErrorCode::BadInput, "There is no body to save: the work shows no lettering", path);
    if (count > 0xffffffffu)
        return base::fail(base::ErrorCode::TooLarge, "STL holds at most 4,294,967,295 triangles; save fewer pieces", path);
    const base::Vec3 origin{box.centre().x, box.centre().y, box.low.z};

    std::vector<std::uint8_t> bytes;
    bytes.reserve(84 + count * 50);
    char header[80] = "Open Glow, millimetres";
    append(bytes, header, sizeof header);
    const auto count32 = static_cast<std::uint32_t>(count);
    append(bytes, &count32, 4);
    for (const work::WorkBody& b : bodies.bodies)
        for (const auto& t : b.body->triangles) {
            base::Vec3f p[3];
            for (int i = 0; i < 3; ++i) {
                const base::Vec3 w = b.pose.apply(toDouble(b.body->positions[t[static_cast<std::size_t>(i)]])) - origin;
                p[i] = base::toFloat({base::mmFromPt(w.x), base::mmFromPt(w.y), base::mmFromPt(w.z)});
            }
            const base::Vec3f normal = normalized(cross(p[1] - p[0], p[2] - p[0]));
            append(bytes, &normal, 12);
            append(bytes, p, 36);
            append(bytes, "\0", 2);
        }
    return base::replaceFile(path, bytes);
}

base::Result<void> saveMesh(const work::Work& work, const work::WorkBodies& bodies, const std::string& path)
{
    if (!isMeshName(path))
        return base::fail(base::ErrorCode::BadInput, "Meshes are saved as .stl for printing or as .glb with their materials", path);
    return endingOf(path) == ".glb" ? saveGlb(work, bodies, path) : saveStl(bodies, path);
}

bool isMeshName(const std::string& path)
{
    return endingOf(path) == ".stl" || endingOf(path) == ".glb";
}

}  // namespace files
