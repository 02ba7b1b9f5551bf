#include "render/tracer.h"

#include <embree3/rtcore.h>

#include <cmath>

#include "base/parallel.h"
#include "render/frame.h"

namespace render {

namespace {

RTCDevice device()
{
    static const RTCDevice s_device = rtcNewDevice("set_affinity=0");
    return s_device;
}

RTCRayHit firstOnBody(RTCScene scene, Vec3f o, Vec3f d)
{
    RTCRayHit query{};
    query.ray = {o.x, o.y, o.z, 0, d.x, d.y, d.z, 0, kInfinity, 0xffffffffu, 0, 0};
    query.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcIntersect1(scene, &context, &query);
    return query;
}

bool bodyWithin(RTCScene scene, Vec3f o, Vec3f d, float distance)
{
    RTCRay ray{o.x, o.y, o.z, 0, d.x, d.y, d.z, 0, distance, 0xffffffffu, 0, 0};
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcOccluded1(scene, &context, &ray);
    return ray.tfar < 0;
}

}  // namespace

struct BodyTree::Structure {
    RTCScene scene = nullptr;
    std::vector<std::pair<solid::SharedBody, base::Pose>> bodies;  // their indices are shared with Embree
    ~Structure() { rtcReleaseScene(scene); }
};

Vec3f offsetPoint(Vec3f p, Vec3f normal)
{
    const float size = std::max(std::abs(p.x), std::max(std::abs(p.y), std::abs(p.z)));
    return p + normal * (1e-4f + size * 2e-6f);
}

BodyTree::BodyTree(const std::vector<PlacedBody>& bodies) : m_structure(std::make_unique<Structure>())
{
    m_structure->scene = rtcNewScene(device());
    rtcSetSceneFlags(m_structure->scene, static_cast<RTCSceneFlags>(RTC_SCENE_FLAG_DYNAMIC | RTC_SCENE_FLAG_ROBUST));
    rtcSetSceneBuildQuality(m_structure->scene, RTC_BUILD_QUALITY_LOW);
    std::vector<RTCGeometry> geometries(bodies.size());
    base::parallelFor(bodies.size(), [&](std::size_t i) {
        const PlacedBody& placed = bodies[i];
        const solid::Body& body = *placed.body;
        RTCGeometry geometry = rtcNewGeometry(device(), RTC_GEOMETRY_TYPE_TRIANGLE);
        rtcSetGeometryBuildQuality(geometry, RTC_BUILD_QUALITY_MEDIUM);
        auto* vertices = static_cast<float*>(rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                                                                     3 * sizeof(float), body.positions.size()));
        for (const Vec3f& p : body.positions) {
            const Vec3f w = toFloat(placed.pose.apply(toDouble(p)));
            *vertices++ = w.x;
            *vertices++ = w.y;
            *vertices++ = w.z;
        }
        rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, body.triangles.data(), 0,
                                   3 * sizeof(std::uint32_t), body.triangles.size());
        rtcCommitGeometry(geometry);
        geometries[i] = geometry;
    });
    for (std::size_t i = 0; i < geometries.size(); ++i) {
        rtcAttachGeometryByID(m_structure->scene, geometries[i], static_cast<unsigned>(i));
        rtcReleaseGeometry(geometries[i]);
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

Tracer::Tracer(const Scene& scene, std::shared_ptr<const BodyTree> tree)
    : m_scene(scene), m_tree(tree ? std::move(tree) : std::make_shared<const BodyTree>(scene.bodies))
{
    for (const PlacedBody& placed : scene.bodies)
        m_triangles += placed.body->triangles.size();
}

Tracer::~Tracer() = default;

bool Tracer::intersect(Vec3f o, Vec3f d, Hit& hit, bool camera) const
{
    if (m_notes)
        m_notes->push_back({o, d, 0});
    const RTCRayHit query = firstOnBody(m_tree->m_structure->scene, o, d);
    const OnBody body{query.ray.tfar, query.hit.geomID, query.hit.primID, query.hit.u, query.hit.v};
    return nearer(o, d, query.hit.geomID == RTC_INVALID_GEOMETRY_ID ? nullptr : &body, hit, camera);
}

void Tracer::intersectCamera(const Vec3f (&origins)[kPacket], const Vec3f (&directions)[kPacket], Hit (&hits)[kPacket], bool (&met)[kPacket]) const
{
    RTCRayHit8 query{};
    alignas(32) int valid[kPacket];
    for (int i = 0; i < kPacket; ++i) {
        valid[i] = -1;
        query.ray.org_x[i] = origins[i].x;
        query.ray.org_y[i] = origins[i].y;
        query.ray.org_z[i] = origins[i].z;
        query.ray.dir_x[i] = directions[i].x;
        query.ray.dir_y[i] = directions[i].y;
        query.ray.dir_z[i] = directions[i].z;
        query.ray.tfar[i] = kInfinity;
        query.ray.mask[i] = 0xffffffffu;
        query.hit.geomID[i] = RTC_INVALID_GEOMETRY_ID;
    }
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
    rtcIntersect8(valid, m_tree->m_structure->scene, &context, &query);
    for (int i = 0; i < kPacket; ++i) {
        const OnBody body{query.ray.tfar[i], query.hit.geomID[i], query.hit.primID[i], query.hit.u[i], query.hit.v[i]};
        met[i] = nearer(origins[i], directions[i], query.hit.geomID[i] == RTC_INVALID_GEOMETRY_ID ? nullptr : &body, hits[i], true);
    }
}

bool Tracer::nearer(Vec3f o, Vec3f d, const OnBody* body, Hit& hit, bool camera) const
{
    GroundHit ground;
    const bool folded = camera && intersectFoldedFloor(m_scene.ground, m_scene.foldZ, o, d, ground);
    if (folded || intersectGround(m_scene.ground, o, d, body ? body->distance : kInfinity, ground)) {
        hit = {};
        hit.distance = ground.distance;
        hit.point = ground.point;
        hit.geometric = hit.shading = ground.normal;
        hit.origin = ground.point;
        hit.material = ground.material;
        hit.materialTo = ground.materialTo;
        hit.blend = ground.blend;
        hit.view = ground.view;
        return true;
    }
    if (!body)
        return false;
    hit.view = -d;
    fillBodyHit(*body, hit);
    return true;
}

void Tracer::fillBodyHit(const OnBody& met, Hit& hit) const
{
    const auto [distance, geometry, triangle, u, v] = met;
    hit.distance = distance;
    const PlacedBody& placed = m_scene.bodies[geometry];
    const solid::Body& body = *placed.body;
    const auto& t = body.triangles[triangle];
    const auto& corners = body.corners[triangle];
    const Vec3f p[3] = {body.positions[t[0]], body.positions[t[1]], body.positions[t[2]]};
    const float weights[3] = {1 - u - v, u, v};
    const Vec3f point = p[0] * weights[0] + p[1] * weights[1] + p[2] * weights[2];
    const Vec3f geometric = cross(p[1] - p[0], p[2] - p[0]);
    Vec3f shading, lifted = point;
    for (int i = 0; i < 3; ++i) {
        const Vec3f n = corners[i].normal;
        shading += n * weights[i];
        lifted = lifted - n * (weights[i] * std::min(0.0f, dot(point - p[i], n)));
    }
    const Vec3f right = toFloat(placed.pose.right), up = toFloat(placed.pose.up), out = toFloat(placed.pose.out);
    const auto turn = [&](Vec3f w) { return normalized(right * w.x + up * w.y + out * w.z); };
    hit.body = static_cast<int>(geometry);
    hit.triangle = triangle;
    hit.material = hit.materialTo = materialOf(placed, triangle);
    hit.blend = 0;
    hit.shading = turn(shading);
    hit.geometric = dot(geometric, geometric) > 0 ? turn(geometric) : hit.shading;
    hit.point = toFloat(placed.pose.apply(toDouble(point)));
    hit.origin = toFloat(placed.pose.apply(toDouble(lifted)));
}

bool Tracer::occluded(Vec3f o, Vec3f d, float distance) const
{
    if (m_notes)
        m_notes->push_back({o, d, distance});
    GroundHit ground;
    return intersectGround(m_scene.ground, o, d, distance, ground) || bodyWithin(m_tree->m_structure->scene, o, d, distance);
}

bool Tracer::meetsBody(const RayNote& ray) const
{
    if (ray.distance > 0)
        return bodyWithin(m_tree->m_structure->scene, ray.origin, ray.direction, ray.distance);
    return firstOnBody(m_tree->m_structure->scene, ray.origin, ray.direction).hit.geomID != RTC_INVALID_GEOMETRY_ID;
}

}  // namespace render
