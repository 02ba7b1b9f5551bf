// Works that the tests of this folder begin with.
#pragma once

#include "work/bodies.h"

namespace works {

inline work::Work kites(const std::string& text = "KITE")
{
    work::FontChoice font;
    font.style = "Bold";
    work::Work work = work::newWork(text, font, {800, 600, work::Unit::Px, 72});
    work.pieces.items.at("p1").lettering()->layout.sizePt = 150;
    return work;
}

inline work::Piece& piece(work::Work& work)
{
    return work.pieces.items.at("p1");
}

inline work::WorkBodies bodiesOf(const work::Work& work, double tolerance = 0.05)
{
    work::Cache cache;
    auto bodies = work::makeBodies(work, tolerance, cache, {});
    if (!bodies)
        qFatal("%s", bodies.error().message.c_str());
    return std::move(*bodies);
}

}  // namespace works
