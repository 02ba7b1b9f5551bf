#include "app/picture/paint.h"

#include <QCoreApplication>
#include <QPainterPath>
#include <cmath>

#include "app/style.h"
#include "work/work.h"

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

void twoTone(QPainter& painter, const QPainterPath& path, Qt::PenStyle style)
{
    painter.strokePath(path, QPen(kLightTone, 3));
    painter.strokePath(path, QPen(kDarkTone, 1.4, style));
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

void paintViewer(QPainter& painter, QPointF at, double degrees)
{
    painter.save();
    painter.translate(at);
    painter.rotate(-degrees);
    painter.setPen(QPen(colours().softInk, 1.3, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    painter.setBrush(colours().paper);
    QPainterPath eye(QPointF(-7, 0));
    eye.quadTo(QPointF(0, -7), QPointF(7, 0));
    eye.quadTo(QPointF(0, 7), QPointF(-7, 0));
    painter.drawPath(eye);
    painter.setBrush(colours().softInk);
    painter.drawEllipse(QPointF(0, -1), 2, 2);
    painter.restore();
}

QColor pieceColour(const work::Work& work, const std::string& piece)
{
    const auto found = work.pieces.items.find(piece);
    return found == work.pieces.items.end() ? colours().softInk : seenColour(found->second.material.piece.baseColour);
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
