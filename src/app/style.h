// How the window looks: two variants of one set of colours, the interface's face and its measures.
#pragma once

#include <QColor>
#include <QString>
#include <vector>

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

// The variant the desktop asks for, as far as it says.
Variant desktopVariant();
void applyStyle(QApplication& application, Variant variant);
// The one in use.
Variant currentVariant();
inline const Colours& colours()
{
    return colours(currentVariant());
}

}  // namespace app
