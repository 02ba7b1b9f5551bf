#include "app/window/comparison.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/style.h"

namespace app {

Comparison::Comparison(QWidget* parent) : QWidget(parent)
{
    setObjectName("proofs.comparison");
    setAccessibleName(tr("Compared pictures"));
    setFocusPolicy(Qt::StrongFocus);
}

void Comparison::setPictures(std::vector<Shown> pictures)
{
    m_shown = std::move(pictures);
    m_divider = 0.5;
    m_secondAlone = false;
    setToolTip(m_shown.size() == 2
                   ? tr("Drag the divider, or move it with the arrow keys; while Space is held the second one is seen whole")
                   : QString());
    setCursor(m_shown.size() == 2 ? Qt::SplitHCursor : Qt::ArrowCursor);
    update();
}

QRectF Comparison::cell(std::size_t place) const
{
    if (m_shown.size() <= 2)
        return rect();
    const double w = width() / 2.0, h = height() / 2.0;
    return {place % 2 == 0 ? 0 : w, place < 2 ? 0 : h, w, h};
}

QRectF Comparison::pictureRect(std::size_t place) const
{
    const QRectF in = cell(place).adjusted(2 * kGrid, 2 * kGrid, -2 * kGrid, -2 * kGrid);
    const QSizeF size = QSizeF(m_shown[place].picture.size()).scaled(in.size(), Qt::KeepAspectRatio);
    return {in.center() - QPointF(size.width(), size.height()) / 2, size};
}

void Comparison::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), colours().surround);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const auto label = [&](const QString& name, const QRectF& in, Qt::Alignment side) {
        const QFontMetricsF metrics(painter.font());
        const QString text = metrics.elidedText(name, Qt::ElideRight, in.width() - 6 * kGrid);
        QRectF slip(0, 0, metrics.horizontalAdvance(text) + 4 * kGrid, metrics.height() + kGrid);
        slip.moveTop(in.top() + kGrid);
        side == Qt::AlignRight ? slip.moveRight(in.right() - kGrid) : slip.moveLeft(in.left() + kGrid);
        painter.setPen(Qt::NoPen);
        painter.setBrush(colours().paper);
        painter.drawRoundedRect(slip, kRound, kRound);
        painter.setPen(colours().ink);
        painter.drawText(slip, Qt::AlignCenter, text);
    };
    if (m_shown.size() == 2) {
        const QRectF first = pictureRect(0), second = pictureRect(1);
        const double x = m_secondAlone ? 0 : first.left() + m_divider * first.width();
        painter.save();
        painter.setClipRect(QRectF(0, 0, x, height()));
        painter.drawImage(first, m_shown[0].picture);
        painter.setClipRect(QRectF(x, 0, width() - x, height()));
        painter.drawImage(second, m_shown[1].picture);
        painter.restore();
        if (!m_secondAlone) {
            painter.fillRect(QRectF(x - 2, 0, 4, height()), colours().paper);
            painter.fillRect(QRectF(x - 1, 0, 2, height()), colours().accent);
            label(m_shown[0].name, QRectF(first.left(), first.top(), x - first.left(), first.height()), Qt::AlignLeft);
        }
        label(m_shown[1].name, QRectF(x, second.top(), second.right() - x, second.height()), Qt::AlignRight);
        return;
    }
    for (std::size_t i = 0; i < m_shown.size(); ++i) {
        painter.drawImage(pictureRect(i), m_shown[i].picture);
        label(m_shown[i].name, pictureRect(i), Qt::AlignLeft);
    }
}

void Comparison::setDivider(double to)
{
    m_divider = std::clamp(to, 0.0, 1.0);
    update();
}

void Comparison::mousePressEvent(QMouseEvent* event)
{
    mouseMoveEvent(event);
}

void Comparison::mouseMoveEvent(QMouseEvent* event)
{
    if (m_shown.size() != 2 || !(event->buttons() & Qt::LeftButton))
        return;
    const QRectF picture = pictureRect(0);
    setDivider((event->position().x() - picture.left()) / std::max(1.0, picture.width()));
}

void Comparison::keyPressEvent(QKeyEvent* event)
{
    constexpr double kStep = 0.01, kLarge = 0.1;
    const double step = event->modifiers() & Qt::ShiftModifier ? kLarge : kStep;
    if (m_shown.size() == 2 && event->key() == Qt::Key_Left) {
        setDivider(m_divider - step);
    } else if (m_shown.size() == 2 && event->key() == Qt::Key_Right) {
        setDivider(m_divider + step);
    } else if (m_shown.size() == 2 && event->key() == Qt::Key_Space) {
        m_secondAlone = true;
        update();
    } else {
        QWidget::keyPressEvent(event);
    }
}

void Comparison::keyReleaseEvent(QKeyEvent* event)
{
    if (event->key() != Qt::Key_Space || event->isAutoRepeat())
        return QWidget::keyReleaseEvent(event);
    m_secondAlone = false;
    update();
}

}  // namespace app
