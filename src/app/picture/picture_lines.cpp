// Every body as lines over the faint picture, to choose what is hidden.
#include <QPainter>
#include <cmath>

#include "app/picture/paint.h"
#include "app/picture/picture_view.h"

namespace app {

namespace {

constexpr double kLineReach = 6;  // px from a line that still meet it

}  // namespace

void PictureView::showLines(bool shown)
{
    m_showLines = shown;
    update();
    Q_EMIT wanted();
}

void PictureView::paintLines(QPainter& painter) const
{
    painter.fillRect(frameRect(), QColor(0x77, 0x77, 0x77, 175));
    painter.setRenderHint(QPainter::Antialiasing);
    const auto drawn = [&](bool chosen, const QPen& pen) {
        painter.setPen(pen);
        for (const session::BodyLines& body : m_frame.shownWork->lines) {
            const session::Choice& choice = m_context.session->choice();
            if ((choice.has(body.target) || choice.has({body.target.piece, {}})) != chosen)
                continue;
            QVector<QLineF> lines;
            for (const auto& [a, b] : body.lines)
                lines << QLineF(fromFrame(a), fromFrame(b));
            painter.drawLines(lines);
        }
    };
    // What is chosen is thicker as well as lighter: colour is not the only sign.
    drawn(false, QPen(kDarkTone, 1));
    drawn(true, QPen(kDarkTone, 3.5));
    drawn(true, QPen(kLightTone, 1.5));
    painter.setRenderHint(QPainter::Antialiasing, false);
}

std::optional<session::Target> PictureView::lineAt(QPointF place) const
{
    std::optional<session::Target> nearest;
    double best = kLineReach;
    if (m_showLines && m_frame.shownWork)
        for (const session::BodyLines& body : m_frame.shownWork->lines)
            for (const auto& [from, to] : body.lines) {
                const QPointF a = fromFrame(from), along = fromFrame(to) - a, off = place - a;
                const double size = QPointF::dotProduct(along, along);
                const double share = size > 0 ? std::clamp(QPointF::dotProduct(along, off) / size, 0.0, 1.0) : 0;
                if (const double apart = distance(a + along * share, place); apart < best) {
                    best = apart;
                    nearest = body.target;
                }
            }
    return nearest;
}

}  // namespace app
