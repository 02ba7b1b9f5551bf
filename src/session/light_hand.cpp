#include "session/light_hand.h"

#include <algorithm>
#include <cmath>

#include "base/units.h"
#include "session/sky_chart.h"

namespace session {

namespace {

constexpr double kBefore = 0.02;  // of its distance: how far from wall and floor a lamp is kept

struct Ray {
    Vec3 origin, direction;
};

struct Met {
    Vec3 point, normal;
    bool onGround = false;
};

std::optional<Met> firstHit(const render::Tracer& tracer, const Ray& ray, bool camera)
{
    using namespace base;
    render::Hits hits;
    Mask found;
    const V3<Wide> o = spread<Wide>(toFloat(ray.origin)), d = spread<Wide>(toFloat(ray.direction));
    tracer.intersect(o, d, Mask::firstOf(1), camera, hits, found);
    if (!found[0])
        return {};
    return Met{toDouble(laneOf(hits.point, 0)), toDouble(laneOf(hits.shading, 0)), hits.body[0] < 0};
}

bool hasWall(const work::Ground& g)
{
    return g.kind == render::GroundKind::Wall || g.kind == render::GroundKind::Sweep;
}

bool hasFloor(const work::Ground& g)
{
    return g.kind == render::GroundKind::Floor || g.kind == render::GroundKind::Sweep;
}

// Turns `way`, of this length, so that it ends on the visible side of a plane: `up` square to it, `least` over it.
bool keepOver(Vec3& way, Vec3 up, double least)
{
    const double distance = length(way), over = dot(way, up);
    if (over >= least)
        return false;
    const Vec3 level = way - up * over;
    const double wanted = std::min(least, distance), flat = std::sqrt(std::max(0.0, distance * distance - wanted * wanted));
    way = (length(level) > 1e-9 * distance ? normalized(level) * flat : Vec3{}) + up * wanted;
    return true;
}

// The light where a line from `point` along `direction` meets the sphere of its distance.
AimedLight placedOn(work::Light light, const work::Ground& ground, Vec3 point, Vec3 direction)
{
    AimedLight aimed{light, {}};
    const bool sun = light.kind == light::LightKind::Sun;
    Vec3 way = direction;
    if (!sun) {
        const double along = dot(point, direction), off = light.distance * light.distance - dot(point, point) + along * along;
        if (off < 0 || -along + std::sqrt(off) <= 0) {
            aimed.why = "The lamp is too near for that: it is as close as it gets";
            way = normalized(point + direction * std::max(0.0, -along)) * light.distance;
        } else {
            way = point + direction * (-along + std::sqrt(off));
        }
    }
    const double least = kBefore * length(way);
    if (hasWall(ground) && keepOver(way, {0, 0, 1}, (sun ? 0 : -ground.wallBehind) + least))
        aimed.why = "The lamp would be behind the wall: it is as close as it gets";
    if (hasFloor(ground) && keepOver(way, {0, 1, 0}, (sun ? 0 : -ground.floorBelow) + least))
        aimed.why = "The lamp would be below the floor: it is as close as it gets";
    const Vec3 from = normalized(way);
    aimed.light.height = base::degrees(std::asin(std::clamp(from.y, -1.0, 1.0)));
    if (std::abs(from.x) + std::abs(from.z) > 1e-9)
        aimed.light.direction = base::degrees(std::atan2(from.x, from.z));
    return aimed;
}

Vec3 mirrored(const Touched& at)
{
    return normalized(at.normal * (2 * dot(at.normal, at.view)) - at.view);
}

}  // namespace

LightHand::LightHand(const work::Work& work, const work::WorkBodies& bodies) : m_scene(work::makeScene(work, bodies))
{
    m_tracer = std::make_unique<render::Tracer>(m_scene);
}

std::optional<Touched> LightHand::touch(Vec2 place) const
{
    const render::Ray ray = render::cameraRay(m_scene.camera, place.x, place.y);
    const Vec3 direction = toDouble(ray.direction);
    const auto met = firstHit(*m_tracer, {toDouble(ray.origin), direction}, true);
    if (!met)
        return {};
    const Vec3 normal = dot(met->normal, direction) > 0 ? -met->normal : met->normal;
    return Touched{met->point, normal, -direction, met->onGround};
}

std::optional<Vec3> LightHand::casterOf(Vec3 onGround, const work::Light& light) const
{
    const light::Light lamp = work::lightOf(light);
    const Vec3 way = light.kind == light::LightKind::Sun ? -lamp.towardsAim : normalized(lamp.position - onGround);
    const double far = light.kind == light::LightKind::Sun ? 1e300 : length(lamp.position - onGround);
    const Vec3 start = onGround + way * (1e-4 * (1 + length(onGround)));
    const auto met = firstHit(*m_tracer, {start, way}, false);
    if (!met || met->onGround || length(met->point - onGround) > far)
        return {};
    return met->point;
}

AimedLight withGlintAt(const work::Light& light, const work::Ground& ground, const Touched& at)
{
    return placedOn(light, ground, at.point, mirrored(at));
}

AimedLight withShadowAt(const work::Light& light, const work::Ground& ground, Vec3 caster, Vec3 onGround)
{
    return placedOn(light, ground, caster, normalized(caster - onGround));
}

work::Light withPenumbra(const work::Light& light, Vec3 caster, Vec3 onGround, double width)
{
    work::Light result = light;
    const double behind = std::max(1e-6, length(caster - onGround));
    if (light.kind == light::LightKind::Sun) {
        result.sunSize = std::clamp(2 * base::degrees(std::atan(width / (2 * behind))), 0.01, 90.0);
        return result;
    }
    const double size = width * length(work::lightOf(light).position - caster) / behind;
    const double factor = size / std::max(1e-6, light.kind == light::LightKind::Softbox ? light.width : light.size);
    result.width = std::clamp(light.width * factor, 0.1, 1e6);
    result.breadth = std::clamp(light.breadth * factor, 0.1, 1e6);
    result.size = std::clamp(light.size * factor, 0.1, 1e6);
    return result;
}

work::SkyCard withGlintAt(const work::SkyCard& card, const work::Surroundings& surroundings, const Touched& at)
{
    return cardTowards(card, surroundings, mirrored(at));
}

}  // namespace session
