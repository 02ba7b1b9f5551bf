// Cards of the surroundings on two round charts, and moved there: one of what is before the letters, one of what is behind them. Right is
// right and up is up on both, as in the picture. Equal areas of the sky are equal on the chart (J. Lambert's azimuthal projection, 1772).
#pragma once

#include <vector>

#include "work/work.h"

namespace session {

using base::Vec2;
using base::Vec3;

// In units of the chart's radius from its middle, y up.
struct ChartPlace {
    bool behind = false;
    Vec2 at;
};
ChartPlace onChart(Vec3 direction);
// A direction of the world; places outside count as on the rim.
Vec3 fromChart(const ChartPlace& place);

// Where a card's middle is seen in the world, as all surroundings are turned and tilted; and the card moved so that it is seen there.
Vec3 directionOf(const work::SkyCard& card, const work::Surroundings& surroundings);
work::SkyCard cardTowards(const work::SkyCard& card, const work::Surroundings& surroundings, Vec3 direction);
// So many directions round its edge, counter-clockwise on the charts.
std::vector<Vec3> borderOf(const work::SkyCard& card, const work::Surroundings& surroundings, int count);
// Its upper right corner as it is turned; and the middle of its upper edge.
Vec3 cornerOf(const work::SkyCard& card, const work::Surroundings& surroundings);
Vec3 topOf(const work::SkyCard& card, const work::Surroundings& surroundings);
// Whether a direction lies within its edges, the corners of round ones too.
bool covers(const work::SkyCard& card, const work::Surroundings& surroundings, Vec3 direction);
// As large as its corner being there asks for, about its middle; as turned as its top being there does.
work::SkyCard withCornerAt(const work::SkyCard& card, const work::Surroundings& surroundings, Vec3 direction);
work::SkyCard withTopTowards(const work::SkyCard& card, const work::Surroundings& surroundings, Vec3 direction);

}  // namespace session
