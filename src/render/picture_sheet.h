// Where the points of a body lie in its patterns and on the plane of the pictures that are laid on it.
#pragma once

#include <cmath>

#include "base/frame.h"
#include "render/scene.h"
#include "surface/cover.h"
#include "surface/lookup.h"

namespace render {

using surface::Vec2f;

// Of a point on a body's triangle, by the shares of its second and third corner: u and v as solid::Corner says, and the point in the body.
inline surface::Place placeOn(const solid::Body& body, std::uint32_t triangle, float second, float third)
{
    const auto& c = body.corners[triangle];
    const float first = 1 - second - third;
    const auto corner = [&](std::size_t i) { return body.positions[body.triangles[triangle][i]]; };
    return {c[0].u * first + c[1].u * second + c[2].u * third, c[0].v * first + c[1].v * second + c[2].v * third,
            corner(0) * first + corner(1) * second + corner(2) * third};
}

// A point on a surface as patterns need it, in its body; wall and floor are in the world.
struct Cloth {
    surface::PatternPlace place;
    Vec3f along[2];      // unit tangents
    float du[2], dv[2];  // what u and v change by along them
};

// By what u and v grow by.
inline Cloth clothOf(const surface::PatternPlace& place, Vec3f gradU, Vec3f gradV)
{
    Cloth cloth;
    cloth.place = place;
    const base::FrameOf<float> frame(place.normal);
    for (int i = 0; i < 2; ++i) {
        cloth.along[i] = frame.toWorld(i == 0 ? Vec3f{1, 0, 0} : Vec3f{0, 1, 0});
        cloth.du[i] = dot(gradU, cloth.along[i]);
        cloth.dv[i] = dot(gradV, cloth.along[i]);
    }
    return cloth;
}

inline Cloth clothOn(const solid::Body& body, std::uint32_t triangle, const surface::PatternPlace& place)
{
    const auto& at = body.triangles[triangle];
    const auto& corners = body.corners[triangle];
    const Vec3f first = body.positions[at[0]], a = body.positions[at[1]] - first, b = body.positions[at[2]] - first, n = cross(a, b);
    const float area2 = dot(n, n);
    const auto gradient = [&](float of0, float of1, float of2) {
        return area2 > 0 ? (cross(b, n) * (of1 - of0) + cross(n, a) * (of2 - of0)) * (1 / area2) : Vec3f{};
    };
    return clothOf(place, gradient(corners[0].u, corners[1].u, corners[2].u), gradient(corners[0].v, corners[1].v, corners[2].v));
}

class PictureSheet {
public:
    PictureSheet() = default;
    explicit PictureSheet(const PlacedBody& placed)  // O(vertices)
        : m_home{static_cast<float>(placed.home.x), static_cast<float>(placed.home.y)},
          m_turn{static_cast<float>(std::cos(placed.homeTurn)), static_cast<float>(std::sin(placed.homeTurn))}
    {
        base::Box3 box;
        for (const Vec3f& p : placed.body->positions)
            box.add(toDouble(p));
        if (!box.empty())
            m_middle = {static_cast<float>(box.centre().x), static_cast<float>(box.centre().y)};
    }

    // Whether pictures lie across the body there, as seen from its front; else along its outline.
    static bool isAcross(const solid::Body& body, std::uint32_t triangle, surface::PictureLies lies)
    {
        using solid::Part;
        const Part part = body.parts[triangle];
        const bool isFace = part == Part::Face || part == Part::Inlay || part == Part::Back;
        if (lies == surface::PictureLies::Wrapped)
            return isFace || part == Part::FrontBevel || part == Part::Rim;
        return isFace || lies != surface::PictureLies::Outline;  // on a face u and v are the place
    }
    Vec2f across(Vec3f point, surface::PictureLies lies) const
    {
        if (lies == surface::PictureLies::Letter || lies == surface::PictureLies::Outline)
            return Vec2f{point.x, point.y} - m_middle;
        return m_home + Vec2f{m_turn.x * point.x - m_turn.y * point.y, m_turn.y * point.x + m_turn.x * point.y};
    }
    Vec2f at(const solid::Body& body, std::uint32_t triangle, const surface::Place& place, surface::PictureLies lies) const
    {
        return isAcross(body, triangle, lies) ? across(place.point, lies) : Vec2f{place.u, place.v};
    }
    surface::SheetPlace at(const solid::Body& body, std::uint32_t triangle, const Cloth& cloth, surface::PictureLies lies) const
    {
        surface::SheetPlace sheet{{cloth.place.u, cloth.place.v}, {}, cloth.place.footprint};
        for (std::size_t i = 0; i < 2; ++i)
            sheet.along[i] = {cloth.du[i], cloth.dv[i]};
        if (!isAcross(body, triangle, lies))
            return sheet;
        sheet.at = across(cloth.place.point, lies);
        for (std::size_t i = 0; i < 2; ++i)
            sheet.along[i] = across(cloth.place.point + cloth.along[i], lies) - sheet.at;
        return sheet;
    }

private:
    Vec2f m_home, m_turn{1, 0}, m_middle;
};

}  // namespace render
