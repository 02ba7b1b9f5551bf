#include "app/picture/paint.h"

#include <QCoreApplication>
#include <cmath>

#include "app/style.h"

namespace app {

void twoTone(QPainter& painter, QPointF a, QPointF b, Qt::PenStyle style)
{
    painter.setPen(QPen(kLightTone, 3));
    painter.drawLine(a, b);
    painter.setPen(QPen(kDarkTone, 1.4, style));
    painter.drawLine(a, b);
}

void twoToneFrame(QPainter& painter, const QRectF& box, Qt::PenStyle style)
{
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(kLightTone, 3));
    painter.drawRect(box);
    painter.setPen(QPen(kDarkTone, 1, style));
    painter.drawRect(box);
}

void paintLabel(QPainter& painter, QPointF at, const QString& text)
{
    QRectF box = QFontMetrics(painter.font()).boundingRect(text).adjusted(-5, -3, 5, 3);
    box.moveTopLeft(at + QPointF(12, 8));
    const QRectF room = painter.window();
    box.moveLeft(std::clamp(box.left(), 2.0, std::max(2.0, room.width() - box.width() - 2)));
    box.moveTop(std::clamp(box.top(), 2.0, std::max(2.0, room.height() - box.height() - 2)));
    painter.setPen(QPen(colours().edge, 1));
    painter.setBrush(colours().field);
    painter.drawRect(box);
    painter.setPen(colours().ink);
    painter.drawText(box, Qt::AlignCenter, text);
}

double distance(QPointF a, QPointF b)
{
    return std::hypot(a.x() - b.x(), a.y() - b.y());
}

QString handText(const char* text)
{
    return QCoreApplication::translate("app::Hands", text);
}

}  // namespace app
