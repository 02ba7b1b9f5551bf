// Where the points of a body lie on the plane of the pictures that are laid on it.
#pragma once

#include <cmath>

#include "render/scene.h"
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

private:
    Vec2f m_home, m_turn{1, 0}, m_middle;
};

}  // namespace render
