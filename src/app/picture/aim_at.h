// What is set by a place in the picture.
#pragma once

namespace app {

enum class AimAt {
    Glint,      // where a light's reflection is seen
    CardGlint,  // the same of a card of the surroundings
    Shadow,     // where a shadow falls, and how soft it is
    Sharp,      // what the lens is sharp at
    Brush,      // where a layer of the finish acts, drawn
};

}  // namespace app
