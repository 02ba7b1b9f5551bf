// Words in a face as a path to paint.
#pragma once

#include <QPainterPath>

#include "outline/layout.h"

namespace app {

// Appends a curve to a path that stands at its start; y turned down.
void addCurve(QPainterPath& path, const outline::Curve& curve);

// One line or more, y down, in em; the first baseline is y = 0. Empty where the face cannot draw it.
QPainterPath pathOf(const std::string& text, const outline::Font& font, const std::string& features = {});

}  // namespace app
