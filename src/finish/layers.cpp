#include "finish/layers.h"

#include "base/variant_compiled.h"

template class base::Variant<finish::Tone, finish::Levels, finish::Duotone, finish::Fill, finish::Halo, finish::Soften, finish::Sharpen,
                             finish::Grain, finish::Vignette, finish::PrintRaster, finish::FlatShadow, finish::Picture, finish::Lines,
                             finish::Curves, finish::Mixer, finish::Rays, finish::Particles, finish::Smoke, finish::Trail, finish::Stuff,
                             finish::Misprint, finish::Bands, finish::Print, finish::Code, finish::Lookup, finish::Flare, finish::Group,
                             finish::Beams>;
