#include "files/glb_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <functional>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string_view>
#include <unordered_map>

#include "base/file.h"
#include "base/hash.h"
#include "base/units.h"
#include "files/glb_atlas.h"
#include "render/tracer.h"
#include "work/scene.h"

namespace files {

namespace {

using Json = nlohmann::ordered_json;

constexpr double kMetres = 25.4 / 72 / 1000;  // of a pt
constexpr int kFloat = 5126, kUnsigned = 5125, kArrayBuffer = 34962, kElementBuffer = 34963;

Json rgbOf(base::Rgb c)
{
    return {c.x, c.y, c.z};
}

Json materialOf(const surface::Material& m, const surface::Layers& l)
{
    Json j = {{"pbrMetallicRoughness",
               {{"baseColorFactor", {m.baseColour.x, m.baseColour.y, m.baseColour.z, 1}},
                {"metallicFactor", m.metallic},
                {"roughnessFactor", m.roughness}}}};
    Json more = Json::object();
    if (m.emission > 0) {
        j["emissiveFactor"] = rgbOf(m.baseColour);
        more["KHR_materials_emissive_strength"] = {{"emissiveStrength", m.emission}};
    }
    if (m.specular != 1 || l.specularColour != base::Rgb{1, 1, 1})
        more["KHR_materials_specular"] = {{"specularFactor", m.specular}, {"specularColorFactor", rgbOf(l.specularColour)}};
    if (l.ior != surface::Layers().ior)
        more["KHR_materials_ior"] = {{"ior", l.ior}};
    if (l.clearcoat > 0)
        more["KHR_materials_clearcoat"] = {{"clearcoatFactor", l.clearcoat}, {"clearcoatRoughnessFactor", l.clearcoatRoughness}};
    if (l.anisotropy > 0)
        more["KHR_materials_anisotropy"] = {{"anisotropyStrength", l.anisotropy}, {"anisotropyRotation", l.anisotropyRotation}};
    if (l.iridescence > 0) {
        const surface::ThinFilm::Stack& film = l.film.film->stack();
        more["KHR_materials_iridescence"] = {{"iridescenceFactor", l.iridescence},
                                             {"iridescenceIor", film.index},
                                             {"iridescenceThicknessMinimum", std::min(100.0f, film.thicknessNm)},
                                             {"iridescenceThicknessMaximum", film.thicknessNm}};
    }
    if (l.sheenColour != base::Rgb{0, 0, 0})
        more["KHR_materials_sheen"] = {{"sheenColorFactor", rgbOf(l.sheenColour)}, {"sheenRoughnessFactor", l.sheenRoughness}};
    if (l.transmission > 0)
        more["KHR_materials_transmission"] = {{"transmissionFactor", l.transmission}};
    if (l.transmission > 0 && l.solid > 0) {
        // What programs that do not look for the other side take as its thickness: a quarter inch.
        Json volume = {{"thicknessFactor", 18 * kMetres}};
        if (const float most = std::max({l.absorption.x, l.absorption.y, l.absorption.z}); most > 0) {
            volume["attenuationDistance"] = kMetres / most;
            const auto left = [&](float a) { return std::exp(-a / most); };
            volume["attenuationColor"] = {left(l.absorption.x), left(l.absorption.y), left(l.absorption.z)};
        }
        more["KHR_materials_volume"] = std::move(volume);
    }
    if (!more.empty())
        j["extensions"] = std::move(more);
    return j;
}

// A corner as it is written: position, normal, texture coordinates; and where there is a normal map, the tangent with its handedness.
using Vertex = std::array<float, 12>;
constexpr std::size_t kWithoutTangent = 8;
struct VertexHash {
    std::size_t operator()(const Vertex& v) const
    {
        return std::hash<std::string_view>()({reinterpret_cast<const char*>(v.data()), sizeof v});
    }
};

class GlbWriter {
public:
    Json json = {{"asset", {{"version", "2.0"}, {"generator", "Open Glow"}}}, {"scene", 0}};

    // Its place among the materials; equal ones are written once.
    int material(const surface::Material& m, const surface::Layers& l, const GlbImages& images)
    {
        Json j = materialOf(m, l);
        addTextures(j, l, images);
        const auto [known, isNew] = m_materials.try_emplace(j.dump(), static_cast<int>(m_materials.size()));
        if (isNew) {
            const Json more = j.value("extensions", Json::object());
            for (const auto& [name, _] : more.items())
                if (std::find(m_extensions.begin(), m_extensions.end(), name) == m_extensions.end())
                    m_extensions.push_back(name);
            json["materials"].push_back(std::move(j));
        }
        return known->second;
    }

    // Of the triangles of a body: a primitive. `coordinates` are those of its textures, of a triangle's corners by its place in the list;
    // without any they are mm along its outline.
    using Coordinates = std::function<std::array<surface::Vec2f, 3>(std::size_t)>;
    Json primitive(const solid::Body& body, const std::vector<std::uint32_t>& triangles, int material, const Coordinates& coordinates,
                   bool hasNormals, bool brushed)
    {
        const bool hasTangents = brushed || hasNormals;
        std::unordered_map<Vertex, std::uint32_t, VertexHash> known;
        std::vector<Vertex> vertices;
        std::vector<std::uint32_t> indices;
        for (std::size_t place = 0; place < triangles.size(); ++place) {
            const std::uint32_t triangle = triangles[place];
            std::array<base::Vec3f, 3> p;
            std::array<surface::Vec2f, 3> t, grain;
            if (coordinates)
                t = coordinates(place);
            for (std::size_t i = 0; i < 3; ++i) {
                const solid::Corner& c = body.corners[triangle][i];
                const base::Vec3f at = body.positions[body.triangles[triangle][i]];
                const auto mm = [](float pt) { return static_cast<float>(base::mmFromPt(pt)); };
                p[i] = at * static_cast<float>(kMetres);
                if (!coordinates)
                    t[i] = {mm(c.u), mm(c.v)};
                // A normal map's directions go by its picture; t goes down.
                grain[i] = hasNormals ? t[i] : surface::Vec2f{mm(c.u), -mm(c.v)};
            }
            for (std::size_t i = 0; i < 3; ++i) {
                const base::Vec3f n = normalized(body.corners[triangle][i].normal);
                const auto tangent = hasTangents ? glbTangent(p, grain, n) : std::array<float, 4>{};
                const Vertex v{p[i].x, p[i].y, p[i].z, n.x, n.y, n.z, t[i].x, t[i].y, tangent[0], tangent[1], tangent[2], tangent[3]};
                const auto [vertex, isNew] = known.try_emplace(v, static_cast<std::uint32_t>(vertices.size()));
                if (isNew)
                    vertices.push_back(v);
                indices.push_back(vertex->second);
            }
        }
        Json low = Json::array(), high = Json::array();
        for (std::size_t k = 0; k < 3; ++k) {
            const auto [least, most] =
                std::minmax_element(vertices.begin(), vertices.end(), [&](const Vertex& a, const Vertex& b) { return a[k] < b[k]; });
            low.push_back((*least)[k]);
            high.push_back((*most)[k]);
        }
        const std::size_t width = hasTangents ? std::tuple_size_v<Vertex> : kWithoutTangent;
        std::vector<float> packed;
        packed.reserve(width * vertices.size());
        for (const Vertex& v : vertices)
            packed.insert(packed.end(), v.begin(), v.begin() + static_cast<std::ptrdiff_t>(width));
        const int vertexView = view(packed.data(), packed.size() * sizeof(float), kArrayBuffer, width * sizeof(float));
        const int indexView = view(indices.data(), indices.size() * sizeof(std::uint32_t), kElementBuffer, 0);
        const auto accessor = [&](int of, std::size_t offset, int component, std::size_t count, const char* type) {
            json["accessors"].push_back(
                {{"bufferView", of}, {"byteOffset", offset}, {"componentType", component}, {"count", count}, {"type", type}});
            return json["accessors"].size() - 1;
        };
        const auto position = accessor(vertexView, 0, kFloat, vertices.size(), "VEC3");
        json["accessors"].back()["min"] = low;
        json["accessors"].back()["max"] = high;
        const auto normal = accessor(vertexView, 12, kFloat, vertices.size(), "VEC3");
        const auto texture = accessor(vertexView, 24, kFloat, vertices.size(), "VEC2");
        Json attributes = {{"POSITION", position}, {"NORMAL", normal}, {"TEXCOORD_0", texture}};
        if (hasTangents)
            attributes["TANGENT"] = accessor(vertexView, 32, kFloat, vertices.size(), "VEC4");
        const auto index = accessor(indexView, 0, kUnsigned, indices.size(), "SCALAR");
        return {{"attributes", std::move(attributes)}, {"indices", index}, {"material", material}};
    }

    base::Result<void> save(const std::string& path)
    {
        if (!m_extensions.empty())
            json["extensionsUsed"] = m_extensions;
        json["buffers"] = Json::array({Json{{"byteLength", m_bytes.size()}}});
        std::string text = json.dump();
        text.resize((text.size() + 3) / 4 * 4, ' ');
        const std::uint64_t whole = 12 + 8 + text.size() + 8 + m_bytes.size();
        if (whole > 0xffffffffu)
            return base::fail(base::ErrorCode::TooLarge, "A glTF file holds at most 4 GiB; save fewer pieces", path);
        std::vector<std::uint8_t> file;
        file.reserve(whole);
        const auto put = [&](const void* data, std::size_t size) {
            const auto* from = static_cast<const std::uint8_t*>(data);
            file.insert(file.end(), from, from + size);
        };
        const auto number = [&](std::uint64_t value) {
            const auto v = static_cast<std::uint32_t>(value);
            put(&v, 4);
        };
        put("glTF", 4);
        number(2);
        number(whole);
        number(text.size());
        put("JSON", 4);
        put(text.data(), text.size());
        number(m_bytes.size());
        put("BIN\0", 4);
        put(m_bytes.data(), m_bytes.size());
        return base::replaceFile(path, file);
    }

private:
    // A texture's place, made of an image; equal ones are written once.
    Json texture(const GlbImage& image, surface::PictureEdges edges)
    {
        const int wrap = edges == surface::PictureEdges::Repeat ? 10497 : edges == surface::PictureEdges::Mirror ? 33648 : 33071;
        const std::string key = base::contentName(image.bytes) + fmt::format(" {}", wrap);
        const auto [known, isNew] = m_textures.try_emplace(key, static_cast<int>(m_textures.size()));
        if (isNew) {
            const int at = view(image.bytes.data(), image.bytes.size(), 0, 0);
            json["images"].push_back({{"bufferView", at}, {"mimeType", image.mime}});
            json["samplers"].push_back({{"magFilter", 9729}, {"minFilter", 9987}, {"wrapS", wrap}, {"wrapT", wrap}});
            json["textures"].push_back({{"sampler", json["samplers"].size() - 1}, {"source", json["images"].size() - 1}});
        }
        return {{"index", known->second}};
    }
    void addTextures(Json& j, const surface::Layers& l, const GlbImages& images)
    {
        Json& base = j["pbrMetallicRoughness"];
        if (images.colour) {
            base["baseColorTexture"] = texture(*images.colour, images.edges);
            base["baseColorFactor"] = {1, 1, 1, 1};
        }
        if (images.metalRoughness) {
            base["metallicRoughnessTexture"] = texture(*images.metalRoughness, images.edges);
            base["metallicFactor"] = base["roughnessFactor"] = 1;
        }
        if (images.normal) {
            j["normalTexture"] = texture(*images.normal, images.edges);
            if (l.clearcoat > 0 && l.clearcoatRelief > 0) {
                Json& coat = j["extensions"]["KHR_materials_clearcoat"]["clearcoatNormalTexture"] = j["normalTexture"];
                coat["scale"] = l.clearcoatRelief;
            }
        }
        if (images.coat && l.clearcoat > 0)
            j["extensions"]["KHR_materials_clearcoat"]["clearcoatNormalTexture"] = texture(*images.coat, images.edges);
        if (images.emissive) {
            j["emissiveTexture"] = texture(*images.emissive, images.edges);
            j["emissiveFactor"] = {1, 1, 1};
        }
        if (images.cutOut) {
            j["alphaMode"] = "MASK";
            j["doubleSided"] = true;
        }
    }
    int view(const void* data, std::size_t size, int target, std::size_t stride)
    {
        Json v = {{"buffer", 0}, {"byteOffset", m_bytes.size()}, {"byteLength", size}};
        if (target > 0)
            v["target"] = target;
        if (stride > 0)
            v["byteStride"] = stride;
        const auto* from = static_cast<const std::uint8_t*>(data);
        m_bytes.insert(m_bytes.end(), from, from + size);
        m_bytes.resize((m_bytes.size() + 3) / 4 * 4);  // what follows begins at a multiple of four bytes
        json["bufferViews"].push_back(std::move(v));
        return static_cast<int>(json["bufferViews"].size()) - 1;
    }

    std::vector<std::uint8_t> m_bytes;
    std::map<std::string, int> m_materials, m_textures;
    std::vector<std::string> m_extensions;
};

// Of each of the scene's materials, the first that is the same: parts have their own.
std::vector<int> firstEqual(const render::Scene& scene)
{
    std::vector<int> first;
    for (std::size_t i = 0; i < scene.materials.size(); ++i) {
        std::size_t k = 0;
        while (k < i && !(scene.materials[k] == scene.materials[i] && (scene.layers.empty() || scene.layers[k] == scene.layers[i]) &&
                          (scene.covers.empty() || scene.covers[k] == scene.covers[i])))
            ++k;
        first.push_back(static_cast<int>(k));
    }
    return first;
}

// By columns.
Json matrixOf(base::Vec3 x, base::Vec3 y, base::Vec3 z, base::Vec3 origin)
{
    return {x.x, x.y, x.z, 0, y.x, y.y, y.z, 0, z.x, z.y, z.z, 0, origin.x * kMetres, origin.y * kMetres, origin.z * kMetres, 1};
}

Json cameraOf(const render::Camera& c)
{
    const double reach = 100 * std::max({c.frameWidth, c.frameHeight, c.frameDistance}) * kMetres;
    if (c.perspective)
        return {{"type", "perspective"},
                {"perspective",
                 {{"aspectRatio", c.frameWidth / c.frameHeight},
                  {"yfov", 2 * std::atan(c.frameHeight / 2 / c.frameDistance)},
                  {"znear", reach * 1e-5},
                  {"zfar", reach}}}};
    return {{"type", "orthographic"},
            {"orthographic", {{"xmag", c.frameWidth / 2 * kMetres}, {"ymag", c.frameHeight / 2 * kMetres}, {"znear", 0}, {"zfar", reach}}}};
}

}  // namespace

base::Result<void> saveGlb(const work::Work& work, const work::WorkBodies& bodies, const std::string& path)
{
    const render::Scene scene = work::makeScene(work, bodies);
    GlbWriter writer;
    Json nodes = Json::array();
    std::map<std::string, int> count;             // of bodies of a piece
    std::map<int, std::pair<int, bool>> written;  // of materials of the scene: as the file counts them; whether they have normal maps
    const std::vector<int> firstLike = firstEqual(scene);
    for (std::size_t b = 0; b < scene.bodies.size(); ++b) {
        const render::PlacedBody& placed = scene.bodies[b];
        std::map<int, std::vector<std::uint32_t>> byMaterial;  // as the scene counts them
        for (std::uint32_t t = 0; t < placed.body->triangles.size(); ++t)
            byMaterial[firstLike[static_cast<std::size_t>(render::materialOf(placed, t))]].push_back(t);
        if (byMaterial.empty())
            continue;
        const render::PictureSheet sheet(placed);
        Json primitives = Json::array();
        for (const auto& [id, triangles] : byMaterial) {
            const auto at = static_cast<std::size_t>(id);
            const surface::Cover cover = scene.covers.empty() ? surface::Cover() : scene.covers[at];
            const surface::Layers layers = scene.layers.empty() ? surface::Layers() : scene.layers[at];
            const surface::Pictures& pictures = cover.pictures;
            GlbWriter::Coordinates coordinates;
            std::optional<GlbAtlas> atlas;
            if (cover.pattern.kind != surface::PatternKind::None) {  // lies in the body, each of which is painted for itself
                atlas.emplace(*placed.body, triangles, atlasDensity(cover));
                const auto images = atlas->paint(scene.materials[at], cover, sheet);
                if (!images)
                    return base::failed(images);
                written[id] = {writer.material(scene.materials[at], layers, *images), images->normal || images->coat};
                coordinates = [&](std::size_t place) { return atlas->at(place); };
            } else {
                if (!written.contains(id)) {
                    const auto images = glbImages(work, scene.materials[at], pictures);
                    if (!images)
                        return base::failed(images);
                    written[id] = {writer.material(scene.materials[at], layers, *images), images->normal || images->coat};
                }
                if (leadOf(pictures))
                    coordinates = [&](std::size_t place) {
                        const std::uint32_t triangle = triangles[place];
                        std::array<surface::Vec2f, 3> t;
                        for (std::size_t i = 0; i < 3; ++i) {
                            const solid::Corner& c = placed.body->corners[triangle][i];
                            const base::Vec3f point = placed.body->positions[placed.body->triangles[triangle][i]];
                            t[i] = glbCoordinates(pictures, sheet.at(*placed.body, triangle, {c.u, c.v, point}, pictures.lies));
                        }
                        return t;
                    };
            }
            const auto [material, hasNormals] = written.at(id);
            primitives.push_back(writer.primitive(*placed.body, triangles, material, coordinates, hasNormals, layers.anisotropy > 0));
        }
        writer.json["meshes"].push_back({{"primitives", std::move(primitives)}});
        const base::Pose& p = placed.pose;
        const std::string& piece = bodies.bodies[b].piece;
        nodes.push_back({{"name", fmt::format("{} {}", work::titleOf(work.pieces.items.at(piece)), ++count[piece])},
                         {"mesh", writer.json["meshes"].size() - 1},
                         {"matrix", matrixOf(p.right, p.up, p.out, p.origin)}});
    }
    if (nodes.empty())
        return base::fail(base::ErrorCode::BadInput, "There is no body to save: the work shows no lettering", path);
    const render::Camera& c = scene.camera;
    nodes.push_back({{"name", "View"}, {"camera", 0}, {"matrix", matrixOf(c.right, c.up, -c.forward, c.eye)}});
    Json all = Json::array();
    for (std::size_t i = 0; i < nodes.size(); ++i)
        all.push_back(i);
    writer.json["scenes"] = Json::array({Json{{"nodes", std::move(all)}}});
    writer.json["nodes"] = std::move(nodes);
    writer.json["cameras"] = Json::array({cameraOf(c)});
    return writer.save(path);
}

}  // namespace files
