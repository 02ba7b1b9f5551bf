// How hands draw over the picture: readable on any colour.
#pragma once

#include <QPainter>
#include <QPainterPath>
#include <string>

namespace work {
struct Work;
}

namespace app {

inline const QColor kDarkTone(16, 19, 20), kLightTone(255, 255, 255);

// A line in two tones, dark on light. Across is solid, up dashed, towards the viewer dotted.
void twoTone(QPainter& painter, QPointF a, QPointF b, Qt::PenStyle style = Qt::SolidLine);
// A frame that is being drawn.
void twoToneFrame(QPainter& painter, const QRectF& box, Qt::PenStyle style);
// The same of any line that nothing fills.
void twoTone(QPainter& painter, const QPainterPath& path, Qt::PenStyle style = Qt::SolidLine);
// Words beside the pointer, kept inside the widget.
void paintLabel(QPainter& painter, QPointF at, const QString& text);

// An eye that looks along the angle: 0 upwards, 90 to the left. Where the viewer stands in a plan.
void paintViewer(QPainter& painter, QPointF at, double degrees);
// The colour a piece is drawn with in a plan: its own.
QColor pieceColour(const work::Work& work, const std::string& piece);

double distance(QPointF a, QPointF b);
// A sentence of the hands, translated.
QString handText(const char* text);

}  // namespace app
