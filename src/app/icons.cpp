#include "app/icons.h"

#include <QIconEngine>
#include <QPainter>
#include <QPainterPath>

#include "app/style.h"

namespace app {

namespace {

// All are drawn on a field of 16 x 16.
void drawPause(QPainter& p)
{
    p.fillRect(QRectF(4, 3, 3, 10), p.pen().color());
    p.fillRect(QRectF(9, 3, 3, 10), p.pen().color());
}

// The corners of a frame round a filled part.
void drawPart(QPainter& p)
{
    for (const auto& [x, y, right, down] : {std::tuple(2.0, 2.5, 1, 1), {14.0, 2.5, -1, 1}, {2.0, 13.5, 1, -1}, {14.0, 13.5, -1, -1}})
        p.drawPolyline(QPolygonF{QPointF(x + 3.5 * right, y), QPointF(x, y), QPointF(x, y + 3.5 * down)});
    p.fillRect(QRectF(5, 5.5, 6, 5), p.pen().color());
}

// A hatched disc.
void drawTooBright(QPainter& p)
{
    QPainterPath disc;
    disc.addEllipse(QRectF(2.5, 2.5, 11, 11));
    p.drawPath(disc);
    p.setClipPath(disc);
    for (double x = -4; x < 14; x += 3.5)
        p.drawLine(QPointF(x, 14), QPointF(x + 12, 2));
}

void drawGrain(QPainter& p)
{
    for (const QPointF at : {QPointF(3, 4), {7, 2.5}, {11.5, 4}, {5, 7.5}, {9, 6.5}, {13, 8}, {3, 11}, {7.5, 10.5}, {11, 12}, {6, 13.5}})
        p.fillRect(QRectF(at, QSizeF(1.8, 1.8)), p.pen().color());
}

// A slab on the floor before the wall.
void drawSideView(QPainter& p)
{
    p.drawPolyline(QPolygonF{QPointF(2.5, 2), QPointF(2.5, 13.5), QPointF(14.5, 13.5)});
    p.fillRect(QRectF(6.5, 4.5, 3.5, 8), p.pen().color());
}

void drawDesk(QPainter& p)
{
    for (const auto& [x, y] : {std::pair(3.5, 9.0), {8.0, 4.5}, {12.5, 7.0}}) {
        p.drawLine(QPointF(x, 2), QPointF(x, 14));
        p.fillRect(QRectF(x - 2, y, 4, 3), p.pen().color());
    }
}

class SymbolEngine : public QIconEngine {
public:
    explicit SymbolEngine(Symbol symbol) : m_symbol(symbol) {}

    QIconEngine* clone() const override { return new SymbolEngine(*this); }
    void paint(QPainter* painter, const QRect& rect, QIcon::Mode mode, QIcon::State state) override
    {
        const Colours& c = colours();
        const QColor ink = mode == QIcon::Disabled ? c.softInk : state == QIcon::On ? c.onAccent : c.ink;
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        painter->translate(rect.topLeft());
        painter->scale(rect.height() / 16.0, rect.height() / 16.0);  // what is wider is room beside it
        painter->setPen(QPen(ink, 1.4, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
        painter->setBrush(Qt::NoBrush);
        switch (m_symbol) {
        case Symbol::Pause:
            drawPause(*painter);
            break;
        case Symbol::Part:
            drawPart(*painter);
            break;
        case Symbol::TooBright:
            drawTooBright(*painter);
            break;
        case Symbol::Grain:
            drawGrain(*painter);
            break;
        case Symbol::SideView:
            drawSideView(*painter);
            break;
        case Symbol::Desk:
            drawDesk(*painter);
            break;
        }
        painter->restore();
    }
    // Drawn anew each time: the look may be another.
    QPixmap pixmap(const QSize& size, QIcon::Mode mode, QIcon::State state) override
    {
        QPixmap pixmap(size);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        paint(&painter, QRect(QPoint(), size), mode, state);
        return pixmap;
    }

private:
    Symbol m_symbol;
};

}  // namespace

QIcon iconOf(Symbol symbol)
{
    return QIcon(new SymbolEngine(symbol));
}

}  // namespace app
