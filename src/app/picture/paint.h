// How hands draw over the picture: readable on any colour.
#pragma once

#include <QPainter>

namespace app {

inline const QColor kDarkTone(16, 19, 20), kLightTone(255, 255, 255);

// A line in two tones, dark on light. Across is solid, up dashed, towards the viewer dotted.
void twoTone(QPainter& painter, QPointF a, QPointF b, Qt::PenStyle style = Qt::SolidLine);
// A frame that is being drawn.
void twoToneFrame(QPainter& painter, const QRectF& box, Qt::PenStyle style);
// Words beside the pointer, kept inside the widget.
void paintLabel(QPainter& painter, QPointF at, const QString& text);

double distance(QPointF a, QPointF b);
// A sentence of the hands, translated.
QString handText(const char* text);

}  // namespace app
