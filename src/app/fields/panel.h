// Panels that fields open.
#pragma once

#include <QRect>
#include <functional>

class QWidget;

namespace app {

// What the panels of a window shall leave in sight, on the screen: its letters. Asked for whenever one opens.
void keepInSight(QWidget* window, std::function<QRect()> what);

// What a panel of this field may take, on the screen.
QRect roomFor(const QWidget* field);

// Shows a panel (a top level window) beside its field: below, above, left or right of it, within the screen, where it hides least of
// what shall be seen.
void openBeside(QWidget* panel, const QWidget* field);

}  // namespace app
