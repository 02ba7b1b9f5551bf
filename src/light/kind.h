// The kinds of lights, and their forms.
#pragma once

namespace light {

enum class LightKind { Softbox, Sun, Bulb, Spot };

enum class SoftboxForm { Rectangle, Disc };

}  // namespace light
