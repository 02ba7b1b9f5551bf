#include "render/tracer.h"

#include <embree3/rtcore.h>

#include <algorithm>
#include <cmath>

#include "base/frame.h"
#include "base/parallel.h"

namespace render {

namespace {

constexpr int kMostInside = 16;  // walls that a ray goes out through from where it was cut off

RTCDevice device()
{
    static const RTCDevice s_device = rtcNewDevice("set_affinity=0");
    return s_device;
}

RTCRayHit firstOnBody(RTCScene scene, RTCIntersectContext* context, Vec3f o, Vec3f d)
{
    RTCRayHit query{};
    query.ray = {o.x, o.y, o.z, 0, d.x, d.y, d.z, 0, kInfinity, 0xffffffffu, 0, 0};
    query.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    rtcIntersect1(scene, context, &query);
    return query;
}

bool bodyWithin(RTCScene scene, RTCIntersectContext* context, Vec3f o, Vec3f d, float distance)
{
    RTCRay ray{o.x, o.y, o.z, 0, d.x, d.y, d.z, 0, distance, 0xffffffffu, 0, 0};
    rtcOccluded1(scene, context, &ray);
    return ray.tfar < 0;
}

// A body in the world as Embree takes it, or nothing when float makes a point of it.
//
// Far from the origin triangles may become points. Embree ends the program when it finds nothing but points side by side, so the body's
// first real triangle stands in for them; where that happens nobody sees a difference.
RTCGeometry geometryOf(const PlacedBody& placed)
{
    const solid::Body& body = *placed.body;
    RTCGeometry geometry = rtcNewGeometry(device(), RTC_GEOMETRY_TYPE_TRIANGLE);
    rtcSetGeometryBuildQuality(geometry, RTC_BUILD_QUALITY_MEDIUM);
    auto* vertices = static_cast<Vec3f*>(
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, sizeof(Vec3f), body.positions.size()));
    for (std::size_t v = 0; v < body.positions.size(); ++v)
        vertices[v] = toFloat(placed.pose.apply(toDouble(body.positions[v])));
    const auto isPoint = [&](const auto& t) { return vertices[t[0]] == vertices[t[1]] && vertices[t[0]] == vertices[t[2]]; };
    const auto real = std::find_if_not(body.triangles.begin(), body.triangles.end(), isPoint);
    if (real == body.triangles.end()) {
        rtcReleaseGeometry(geometry);
        return nullptr;
    }
    if (std::none_of(body.triangles.begin(), body.triangles.end(), isPoint)) {
        rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, body.triangles.data(), 0,
                                   3 * sizeof(std::uint32_t), body.triangles.size());
    } else {
        auto* triangles = static_cast<std::array<std::uint32_t, 3>*>(rtcSetNewGeometryBuffer(
            geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 3 * sizeof(std::uint32_t), body.triangles.size()));
        for (std::size_t t = 0; t < body.triangles.size(); ++t)
            triangles[t] = isPoint(body.triangles[t]) ? *real : body.triangles[t];
    }
    rtcCommitGeometry(geometry);
    return geometry;
}

}  // namespace

struct BodyTree::Structure {
    RTCScene scene = nullptr;
    std::vector<std::pair<solid::SharedBody, base::Pose>> bodies;  // their indices are shared with Embree
    ~Structure() { rtcReleaseScene(scene); }
};

BodyTree::BodyTree(const std::vector<PlacedBody>& bodies) : m_structure(std::make_unique<Structure>())
{
    m_structure->scene = rtcNewScene(device());
    rtcSetSceneFlags(m_structure->scene,
                     static_cast<RTCSceneFlags>(RTC_SCENE_FLAG_DYNAMIC | RTC_SCENE_FLAG_ROBUST | RTC_SCENE_FLAG_CONTEXT_FILTER_FUNCTION));
    rtcSetSceneBuildQuality(m_structure->scene, RTC_BUILD_QUALITY_LOW);
    std::vector<RTCGeometry> geometries(bodies.size(), nullptr);
    base::parallelFor(bodies.size(), [&](std::size_t i) { geometries[i] = geometryOf(bodies[i]); });
    for (std::size_t i = 0; i < geometries.size(); ++i) {
        if (geometries[i]) {
            rtcAttachGeometryByID(m_structure->scene, geometries[i], static_cast<unsigned>(i));
            rtcReleaseGeometry(geometries[i]);
        }
        m_structure->bodies.emplace_back(bodies[i].body, bodies[i].pose);
    }
    rtcCommitScene(m_structure->scene);
}

BodyTree::~BodyTree() = default;

bool BodyTree::isFor(const std::vector<PlacedBody>& bodies) const
{
    return std::equal(bodies.begin(), bodies.end(), m_structure->bodies.begin(), m_structure->bodies.end(),
                      [](const PlacedBody& b, const auto& own) { return b.body == own.first && b.pose == own.second; });
}

// A body as hits need it; its pose in float, as the tree has its corners.
struct Tracer::Placed {
    const solid::Body* body;
    const PlacedBody* placed;
    Vec3f axes[3], origin;
    PictureSheet sheet;  // where there are pictures
};

// What rays bring along, so that they go through holes and what they do not see: Embree asks it about every triangle they meet.
struct Tracer::Query {
    RTCIntersectContext context;
    const Tracer* tracer;
    const std::vector<bool>* hidden = nullptr;
    int piece = -1;  // that they leave

    explicit Query(const Tracer& t) : tracer(&t)
    {
        rtcInitIntersectContext(&context);
        if (!t.m_cutsOut && t.m_hidden.empty())
            return;
        context.filter = [](const RTCFilterFunctionNArguments* asked) {
            const Query& own = *reinterpret_cast<const Query*>(asked->context);
            for (unsigned i = 0; i < asked->N; ++i)
                if (asked->valid[i] == -1 && own.passes(RTCHitN_geomID(asked->hit, asked->N, i), RTCHitN_primID(asked->hit, asked->N, i),
                                                        RTCHitN_u(asked->hit, asked->N, i), RTCHitN_v(asked->hit, asked->N, i)))
                    asked->valid[i] = 0;
        };
    }
    void look(const Sight& sight, int lane)
    {
        const std::size_t view = static_cast<std::size_t>(sight.view[lane]);
        hidden = view < tracer->m_hidden.size() ? &tracer->m_hidden[view] : nullptr;
        piece = sight.from[lane] < 0 ? -1 : tracer->m_scene.bodies[static_cast<std::size_t>(sight.from[lane])].piece;
    }
    bool passes(unsigned body, unsigned triangle, float second, float third) const
    {
        return (hidden && (*hidden)[body] && tracer->m_scene.bodies[body].piece != piece) ||
               (tracer->m_cutsOut && tracer->isCutOut(static_cast<int>(body), triangle, second, third));
    }
};

// Where the rays meet bodies.
struct Tracer::OnBodies {
    Wide distance = kInfinity, u, v;
    WideInt geometry, triangle;
    Mask met;
};

Tracer::Tracer(const Scene& scene, std::shared_ptr<const BodyTree> tree)
    : m_scene(scene), m_tree(tree ? std::move(tree) : std::make_shared<const BodyTree>(scene.bodies))
{
    m_glued = std::any_of(scene.layers.begin(), scene.layers.end(), [](const surface::Layers& l) { return l.letsThrough(); });
    m_cutsOut = std::any_of(scene.covers.begin(), scene.covers.end(), [](const surface::Cover& c) { return c.pictures.cutOut != nullptr; });
    const bool hasPictures =
        std::any_of(scene.covers.begin(), scene.covers.end(), [](const surface::Cover& c) { return c.pictures.any(); });
    for (const PlacedBody& placed : scene.bodies) {
        m_triangles += placed.body->triangles.size();
        const base::Pose& pose = placed.pose;
        m_placed.push_back({placed.body.get(),
                            &placed,
                            {toFloat(pose.right), toFloat(pose.up), toFloat(pose.out)},
                            toFloat(pose.origin),
                            hasPictures ? PictureSheet(placed) : PictureSheet()});
    }
    const auto hide = [&](const std::vector<bool>& pieces) {
        std::vector<bool>& bodies = m_hidden.emplace_back();
        for (const PlacedBody& placed : scene.bodies)
            bodies.push_back(isIn(pieces, placed.piece + 1));
    };
    if (scene.casts()) {
        hide(scene.unmirrored);
        for (std::size_t e = 0; e < scene.entries.size(); ++e)
            hide(e < scene.castings.size() ? scene.castings[e].shadowless : std::vector<bool>());
    }
}

Tracer::~Tracer() = default;

[[gnu::noinline]] void Tracer::meetBodies(const V3<Wide>& o, const V3<Wide>& d, const Mask& active, bool camera, const Sight* sight,
                                          OnBodies& met) const
{
    if (camera) {
        const Camera& c = m_scene.camera;
        const auto cut = static_cast<float>(c.cutDistance);
        const Wide first = cut > 0 ? cut / dot(d, spread<Wide>(toFloat(c.forward))) : Wide(0);
        RTCRayHit8 query{};
        alignas(32) int valid[8];
        for (int i = 0; i < kLanes; ++i) {
            valid[i] = active.v[i];
            query.ray.tnear[i] = first[i];
            query.ray.org_x[i] = o.x[i];
            query.ray.org_y[i] = o.y[i];
            query.ray.org_z[i] = o.z[i];
            query.ray.dir_x[i] = d.x[i];
            query.ray.dir_y[i] = d.y[i];
            query.ray.dir_z[i] = d.z[i];
            query.ray.tfar[i] = kInfinity;
            query.ray.mask[i] = 0xffffffffu;
            query.hit.geomID[i] = RTC_INVALID_GEOMETRY_ID;
        }
        Query along(*this);
        along.context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
        rtcIntersect8(valid, m_tree->m_structure->scene, &along.context, &query);
        const auto isInside = [&](int i) {
            return active[i] && query.hit.geomID[i] != RTC_INVALID_GEOMETRY_ID &&
                   query.hit.Ng_x[i] * d.x[i] + query.hit.Ng_y[i] * d.y[i] + query.hit.Ng_z[i] * d.z[i] > 0;
        };
        for (int left = cut > 0 ? kMostInside : 0; left > 0; --left) {
            for (int i = 0; i < kLanes; ++i) {
                valid[i] = isInside(i) ? -1 : 0;
                if (valid[i] == 0)
                    continue;
                query.ray.tnear[i] = query.ray.tfar[i] * (1 + 1e-5f) + 1e-4f;
                query.ray.tfar[i] = kInfinity;
                query.hit.geomID[i] = RTC_INVALID_GEOMETRY_ID;
            }
            if (std::none_of(valid, valid + kLanes, [](int v) { return v != 0; }))
                break;
            rtcIntersect8(valid, m_tree->m_structure->scene, &along.context, &query);
        }
        for (int i = 0; i < kLanes; ++i)
            if (active[i] && query.hit.geomID[i] != RTC_INVALID_GEOMETRY_ID) {
                met.met.v[i] = -1;
                met.distance.v[i] = query.ray.tfar[i];
                met.u.v[i] = query.hit.u[i];
                met.v.v[i] = query.hit.v[i];
                met.geometry.v[i] = static_cast<int>(query.hit.geomID[i]);
                met.triangle.v[i] = static_cast<int>(query.hit.primID[i]);
            }
        return;
    }
    Query along(*this);
    for (int i = 0; i < kLanes; ++i) {
        if (!active[i])
            continue;
        if (sight)
            along.look(*sight, i);
        const RTCRayHit query = firstOnBody(m_tree->m_structure->scene, &along.context, laneOf(o, i), laneOf(d, i));
        if (query.hit.geomID == RTC_INVALID_GEOMETRY_ID)
            continue;
        met.met.v[i] = -1;
        met.distance.v[i] = query.ray.tfar;
        met.u.v[i] = query.hit.u;
        met.v.v[i] = query.hit.v;
        met.geometry.v[i] = static_cast<int>(query.hit.geomID);
        met.triangle.v[i] = static_cast<int>(query.hit.primID);
    }
}

[[gnu::always_inline]] inline void Tracer::fillBodyHits(const OnBodies& met, const Mask& which, Hits& hits) const
{
    V3<Wide> p[3], n[3], axes[3], place;
    for (int lane = 0; lane < kLanes; ++lane) {
        if (!which[lane])
            continue;
        const Placed& placed = m_placed[static_cast<std::size_t>(met.geometry[lane])];
        const auto triangle = static_cast<std::uint32_t>(met.triangle[lane]);
        for (std::size_t i = 0; i < 3; ++i) {
            setLane(p[i], lane, placed.body->positions[placed.body->triangles[triangle][i]]);
            setLane(n[i], lane, placed.body->corners[triangle][i].normal);
            setLane(axes[i], lane, placed.axes[i]);
        }
        setLane(place, lane, placed.origin);
        hits.material.v[lane] = hits.materialTo.v[lane] = materialOf(*placed.placed, triangle);
    }
    const Wide weights[3] = {1 - met.u - met.v, met.u, met.v};
    const V3<Wide> point = p[0] * weights[0] + p[1] * weights[1] + p[2] * weights[2];
    const V3<Wide> geometric = cross(p[1] - p[0], p[2] - p[0]);
    V3<Wide> shading, lifted = point;
    for (int i = 0; i < 3; ++i) {
        shading += n[i] * weights[i];
        lifted = lifted - n[i] * (weights[i] * min(Wide(0), dot(point - p[i], n[i])));
    }
    const auto turn = [&](const V3<Wide>& w) { return axes[0] * w.x + axes[1] * w.y + axes[2] * w.z; };
    const V3<Wide> unit = normalized(turn(shading));
    hits.shading = select(which, unit, hits.shading);
    hits.geometric = select(which, select(dot(geometric, geometric) > 0, normalized(turn(geometric)), unit), hits.geometric);
    hits.point = select(which, turn(point) + place, hits.point);
    hits.origin = select(which, turn(lifted) + place, hits.origin);
    hits.distance = select(which, met.distance, hits.distance);
    hits.second = select(which, met.u, hits.second);
    hits.third = select(which, met.v, hits.third);
    hits.body = select(which, met.geometry, hits.body);
    hits.triangle = select(which, met.triangle, hits.triangle);
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
Tracer::intersect(const V3<Wide>& o, const V3<Wide>& d, const Mask& active, bool camera, Hits& hits, Mask& found, const Sight* sight) const
{
    if (m_notes)
        note(o, d, nullptr, active);
    OnBodies bodies;
    meetBodies(o, d, active, camera, sight, bodies);
    const Ground& ground = m_scene.ground;
    // A solid that stands against wall or floor and lets light through is as if glued on: what it touches is met first.
    GroundHits met = intersectGround(ground, o, d, m_glued ? bodies.distance * (1 + 1e-5f) + 1e-3f : bodies.distance);
    hits.view = -d;
    if (camera) {
        const Mask folded = intersectFoldedFloor(ground, m_scene.foldZ, o, d, met);
        hits.view = select(folded, V3<Wide>{0, 1, 0}, hits.view);
    }
    hits.distance = met.distance;
    hits.point = hits.origin = met.point;
    hits.geometric = hits.shading = met.normal;
    hits.body = -1;
    hits.triangle = 0;
    hits.material = select(met.rise >= 1, WideInt(ground.wallMaterial), WideInt(ground.floorMaterial));
    hits.materialTo = select(met.rise > 0, WideInt(ground.wallMaterial), WideInt(ground.floorMaterial));
    hits.blend = select(met.rise < 1, met.rise, Wide(0));
    const Mask onBody = bodies.met & !met.met;
    if (any(onBody))
        fillBodyHits(bodies, onBody, hits);
    found = active & (met.met | bodies.met);
}

surface::Place Tracer::placeAt(const Hits& hits, int lane) const
{
    const Vec3f point = laneOf(hits.point, lane);
    if (hits.body[lane] < 0)
        return {point.x, point.y - point.z, point};  // in one over the bend of a sweep
    surface::Place at = placeOn(*m_placed[static_cast<std::size_t>(hits.body[lane])].body, static_cast<std::uint32_t>(hits.triangle[lane]),
                                hits.second[lane], hits.third[lane]);
    at.point = point;
    return at;
}

surface::SheetPlace Tracer::sheetAt(const Hits& hits, int lane, const Cloth& cloth, surface::PictureLies lies) const
{
    if (hits.body[lane] < 0) {
        const auto along = [&](std::size_t i) { return Vec2f{cloth.du[i], cloth.dv[i]}; };
        return {{cloth.place.u, cloth.place.v}, {along(0), along(1)}, cloth.place.footprint};
    }
    const Placed& placed = m_placed[static_cast<std::size_t>(hits.body[lane])];
    return placed.sheet.at(*placed.body, static_cast<std::uint32_t>(hits.triangle[lane]), cloth, lies);
}

bool Tracer::isCutOut(int body, std::uint32_t triangle, float second, float third) const
{
    const Placed& placed = m_placed[static_cast<std::size_t>(body)];
    const surface::Pictures& pictures = m_scene.covers[static_cast<std::size_t>(materialOf(*placed.placed, triangle))].pictures;
    return pictures.cutOut && surface::isCutOut(pictures, placed.sheet.at(*placed.body, triangle,
                                                                          placeOn(*placed.body, triangle, second, third), pictures.lies));
}

Rgb Tracer::lightOf(int body, std::uint32_t triangle, float second, float third) const
{
    const Placed& placed = m_placed[static_cast<std::size_t>(body)];
    const auto id = static_cast<std::size_t>(materialOf(*placed.placed, triangle));
    const surface::Material& material = m_scene.materials[id];
    if (m_scene.covers.empty() || !m_scene.covers[id].pictures.any())
        return surface::emissionOf(material);
    const surface::Pictures& pictures = m_scene.covers[id].pictures;
    const Vec2f at = placed.sheet.at(*placed.body, triangle, placeOn(*placed.body, triangle, second, third), pictures.lies);
    return surface::lightAt(pictures, {at, {}, 0}, material.baseColour, material.emission);
}

[[gnu::noinline]] Cloth Tracer::clothAt(const Hits& hits, int lane, Vec3f shading, float footprint) const
{
    const surface::Place at = placeAt(hits, lane);
    if (hits.body[lane] < 0)
        return clothOf({at.point, shading, at.u, at.v, footprint}, {1, 0, 0}, {0, 1, -1});  // as placeAt() has them
    const Placed& placed = m_placed[static_cast<std::size_t>(hits.body[lane])];
    const auto inBody = [&](Vec3f w) { return Vec3f{dot(placed.axes[0], w), dot(placed.axes[1], w), dot(placed.axes[2], w)}; };
    return clothOn(*placed.body, static_cast<std::uint32_t>(hits.triangle[lane]),
                   {inBody(at.point - placed.origin), inBody(shading), at.u, at.v, footprint});
}

float Tracer::bendAt(const Hits& hits, int lane) const
{
    const solid::Body& body = *m_scene.bodies[static_cast<std::size_t>(hits.body[lane])].body;
    const auto& triangle = body.triangles[static_cast<std::size_t>(hits.triangle[lane])];
    const auto& corners = body.corners[static_cast<std::size_t>(hits.triangle[lane])];
    float most = 0;
    for (std::size_t i = 0; i < 3; ++i) {
        const std::size_t k = (i + 1) % 3;
        const Vec3f turned = corners[i].normal - corners[k].normal, along = body.positions[triangle[i]] - body.positions[triangle[k]];
        most = std::max(most, dot(turned, turned) / std::max(dot(along, along), 1e-12f));
    }
    return std::sqrt(most);
}

Vec3f Tracer::grainAt(const Hits& hits, int lane, Vec3f shading) const
{
    const Cloth cloth = clothAt(hits, lane, shading, 0);
    return inWorld(hits, lane, cloth.along[0] * cloth.du[0] + cloth.along[1] * cloth.du[1]);
}

Vec3f Tracer::inWorld(const Hits& hits, int lane, Vec3f direction) const
{
    if (hits.body[lane] < 0)
        return direction;
    const Placed& placed = m_placed[static_cast<std::size_t>(hits.body[lane])];
    return placed.axes[0] * direction.x + placed.axes[1] * direction.y + placed.axes[2] * direction.z;
}

[[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default"), gnu::flatten]] void
Tracer::occluded(const V3<Wide>& o, const V3<Wide>& d, const Wide& distances, const Mask& active, Mask& blocked, const Sight* sight) const
{
    if (m_notes)
        note(o, d, &distances, active);
    blocked = active & intersectGround(m_scene.ground, o, d, distances).met;
    hideBehindBodies(o, d, distances, active & !blocked, sight, blocked);
}

[[gnu::noinline]] void Tracer::hideBehindBodies(const V3<Wide>& o, const V3<Wide>& d, const Wide& distances, const Mask& which,
                                                const Sight* sight, Mask& blocked) const
{
    Query along(*this);
    for (int i = 0; i < kLanes; ++i) {
        if (!which[i])
            continue;
        if (sight)
            along.look(*sight, i);
        if (bodyWithin(m_tree->m_structure->scene, &along.context, laneOf(o, i), laneOf(d, i), distances[i]))
            blocked.v[i] = -1;
    }
}

[[gnu::noinline]] void Tracer::note(const V3<Wide>& o, const V3<Wide>& d, const Wide* distances, const Mask& active) const
{
    for (int i = 0; i < kLanes; ++i)
        if (active[i])
            m_notes->push_back({laneOf(o, i), laneOf(d, i), distances ? (*distances)[i] : 0});
}

bool Tracer::meetsBody(const RayNote& ray) const
{
    Query along(*this);
    if (ray.distance > 0)
        return bodyWithin(m_tree->m_structure->scene, &along.context, ray.origin, ray.direction, ray.distance);
    return firstOnBody(m_tree->m_structure->scene, &along.context, ray.origin, ray.direction).hit.geomID != RTC_INVALID_GEOMETRY_ID;
}

std::vector<light::EmissiveTriangle> emissiveTriangles(const Scene& scene)
{
    std::vector<light::EmissiveTriangle> triangles;
    if (!scene.emissive)
        return triangles;
    for (std::size_t b = 0; b < scene.bodies.size(); ++b) {
        const PlacedBody& placed = scene.bodies[b];
        const solid::Body& body = *placed.body;
        for (std::size_t t = 0; t < body.triangles.size(); ++t) {
            const auto id = static_cast<std::size_t>(materialOf(placed, static_cast<std::uint32_t>(t)));
            const surface::Material& material = scene.materials[id];
            const Rgb radiance = scene.covers.empty()
                                     ? surface::emissionOf(material)
                                     : surface::mostLight(scene.covers[id].pictures, material.baseColour, material.emission);
            if (luminance(radiance) <= 0)
                continue;
            const auto corner = [&](std::size_t i) { return placed.pose.apply(toDouble(body.positions[body.triangles[t][i]])); };
            triangles.push_back({{corner(0), corner(1), corner(2)}, radiance, static_cast<int>(b), static_cast<std::uint32_t>(t)});
        }
    }
    return triangles;
}

}  // namespace render
