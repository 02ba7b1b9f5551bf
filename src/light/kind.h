// The kinds of lights.
#pragma once

namespace light {

enum class LightKind { Softbox, Sun, Bulb, Spot };

}  // namespace light
