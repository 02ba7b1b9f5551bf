// The forms of the ground.
#pragma once

namespace render {

enum class GroundKind { None, Wall, Floor, Sweep };

}  // namespace render
