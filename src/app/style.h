// How the window looks: two variants of one set of colours, the interface's face and its measures.
#pragma once

#include <QColor>
#include <QString>
#include <vector>

#include "base/vec.h"

class QApplication;
class QWidget;

namespace app {

enum class Variant { Light, Dark };

struct Colours {
    QColor paper;     // the ticket
    QColor band;      // heads, bars
    QColor field;     // where something is typed
    QColor ink;       // text
    QColor softInk;   // summaries, units, hints
    QColor line;      // borders that separate
    QColor edge;      // borders that belong to a control
    QColor accent;    // choice and action
    QColor onAccent;  // text on it
    QColor hover;     // ground of what the pointer is over
    QColor press;     // ground of what is pressed
    QColor chosen;    // ground of what is open or chosen
    QColor warning;   // text of notices and errors
    QColor surround;  // round the picture: neutral mid grey, colour is judged against it
};

const Colours& colours(Variant variant);

// Text styles as they are used, for computing their contrast.
struct TextStyle {
    QString name;
    QColor ink, ground;
    bool large = false;
};
std::vector<TextStyle> textStyles(Variant variant);

// Everything is a multiple of this, px.
inline constexpr int kGrid = 4;
// Corners of slips and buttons, px.
inline constexpr int kRound = 4;

struct Look {
    Variant variant = Variant::Light;
    int textPercent = 100;  // of the interface's usual size, 100 to 200
    bool motion = true;     // short movements that show where something went

    bool operator==(const Look&) const = default;
};

void applyStyle(QApplication& application, const Look& look);
inline void applyStyle(QApplication& application, Variant variant)
{
    applyStyle(application, Look{variant});
}
// What is in use.
const Look& currentLook();
inline Variant currentVariant()
{
    return currentLook().variant;
}
// How a linear colour is seen on the screen; beyond its range the nearest.
QColor seenColour(base::Rgb linear);
// Size of the interface's text, px: body, and what stands beside it.
int textPx();
int smallTextPx();
inline const Colours& colours()
{
    return colours(currentVariant());
}

}  // namespace app
