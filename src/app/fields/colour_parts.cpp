#include "app/fields/colour_parts.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <cmath>

#include "app/style.h"
#include "picture/colour.h"

namespace app {

namespace {

constexpr int kPlaneWidth = 224, kPlaneHeight = 168, kMargin = 4;  // px; the margin has the ring of the focus
constexpr int kChip = 20, kChipGap = 4;

void ring(QPainter& painter, const QRectF& around, bool focused)
{
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(focused ? colours().accent : colours().edge, focused ? 2 : 1));
    painter.drawRect(around);
}

// A mark that is seen on any colour.
void mark(QPainter& painter, QPointF at, double radius)
{
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(Qt::black, 3));
    painter.drawEllipse(at, radius, radius);
    painter.setPen(QPen(Qt::white, 1.4));
    painter.drawEllipse(at, radius, radius);
}

}  // namespace

// --- plane --------------------------------------------------------------------------------------------------------------------

ColourPlane::ColourPlane(QWidget* parent) : QWidget(parent)
{
    setFixedSize(kPlaneWidth + 2 * kMargin, kPlaneHeight + 2 * kMargin);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::CrossCursor);
    setAccessibleName(tr("Lightness and strength"));
    setToolTip(tr("Lighter upwards, stronger to the right; the line is where the screen's colours end. Arrows move it."));
}

void ColourPlane::showColour(const picture::Oklch& colour)
{
    m_colour = colour;
    setAccessibleDescription(
        tr("Lightness %1 %, strength %2 %").arg(qRound(100 * colour.lightness)).arg(qRound(100 * colour.chroma / kMostChroma)));
    update();
}

QRect ColourPlane::plane() const
{
    return rect().adjusted(kMargin, kMargin, -kMargin, -kMargin);
}

void ColourPlane::draw()
{
    if (m_drawnHue == m_colour.hue)
        return;
    m_drawnHue = m_colour.hue;
    m_image = QImage(kPlaneWidth, kPlaneHeight, QImage::Format_ARGB32);
    m_image.fill(Qt::transparent);
    for (int y = 0; y < kPlaneHeight; ++y) {
        const float lightness = 1 - (static_cast<float>(y) + 0.5f) / kPlaneHeight;
        auto* row = reinterpret_cast<QRgb*>(m_image.scanLine(y));
        for (int x = 0; x < kPlaneWidth; ++x) {
            const base::Rgb c = picture::fromOklch({lightness, kMostChroma * (static_cast<float>(x) + 0.5f) / kPlaneWidth, m_colour.hue});
            if (!picture::isScreenColour(c))
                break;
            row[x] = seenColour(c).rgb();
        }
    }
}

void ColourPlane::paintEvent(QPaintEvent*)
{
    draw();
    QPainter painter(this);
    const QRect area = plane();
    painter.fillRect(area, colours().field);
    painter.drawImage(area.topLeft(), m_image);
    QPainterPath edge;
    for (int y = 0; y <= kPlaneHeight; y += 2) {
        const float chroma = picture::strongestChroma(1 - static_cast<float>(y) / kPlaneHeight, m_colour.hue);
        const QPointF at(area.left() + chroma / kMostChroma * kPlaneWidth, area.top() + y);
        y == 0 ? edge.moveTo(at) : edge.lineTo(at);
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(colours().softInk, 1.2));
    painter.drawPath(edge);
    painter.setRenderHint(QPainter::Antialiasing, false);
    ring(painter, QRectF(area).adjusted(-1, -1, 0, 0), hasFocus());
    mark(painter,
         QPointF(area.left() + std::min(1.0f, m_colour.chroma / kMostChroma) * kPlaneWidth,
                 area.top() + (1 - m_colour.lightness) * kPlaneHeight),
         5);
}

void ColourPlane::take(QPointF at, bool going)
{
    const QRect area = plane();
    const auto lightness = static_cast<float>(std::clamp(1 - (at.y() - area.top()) / kPlaneHeight, 0.0, 1.0));
    const auto chroma = static_cast<float>(std::clamp((at.x() - area.left()) / kPlaneWidth, 0.0, 1.0)) * kMostChroma;
    Q_EMIT moved(lightness, chroma, going);
}

void ColourPlane::mousePressEvent(QMouseEvent* event)
{
    take(event->position(), true);
}
void ColourPlane::mouseMoveEvent(QMouseEvent* event)
{
    take(event->position(), true);
}
void ColourPlane::mouseReleaseEvent(QMouseEvent* event)
{
    take(event->position(), false);
}

void ColourPlane::keyPressEvent(QKeyEvent* event)
{
    const float step = event->modifiers() & Qt::ShiftModifier ? 0.05f : 0.01f;
    const float up = event->key() == Qt::Key_Up ? step : event->key() == Qt::Key_Down ? -step : 0;
    const float right = event->key() == Qt::Key_Right ? step : event->key() == Qt::Key_Left ? -step : 0;
    if (up == 0 && right == 0)
        return QWidget::keyPressEvent(event);
    Q_EMIT moved(std::clamp(m_colour.lightness + up, 0.0f, 1.0f), std::max(0.0f, m_colour.chroma + right * kMostChroma), false);
}

// --- hues ---------------------------------------------------------------------------------------------------------------------

HueStrip::HueStrip(QWidget* parent) : QWidget(parent)
{
    setFixedSize(20 + 2 * kMargin, kPlaneHeight + 2 * kMargin);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(tr("Hue"));
    setToolTip(tr("Hue. Arrows move it."));
}

void HueStrip::showColour(const picture::Oklch& colour)
{
    m_colour = colour;
    setAccessibleDescription(tr("%1 degrees").arg(qRound(colour.hue)));
    update();
}

void HueStrip::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    const QRect area = rect().adjusted(kMargin, kMargin, -kMargin, -kMargin);
    // Very dark, light or grey colours show no hue: the strip keeps to what can be told apart.
    const float lightness = std::clamp(m_colour.lightness, 0.55f, 0.8f), chroma = std::max(m_colour.chroma, 0.1f);
    for (int y = 0; y < area.height(); ++y) {
        painter.setPen(seenColour(picture::onScreen({lightness, chroma, 360 - 360 * (static_cast<float>(y) + 0.5f) / kPlaneHeight})));
        painter.drawLine(area.left(), area.top() + y, area.right(), area.top() + y);
    }
    ring(painter, QRectF(area).adjusted(-1, -1, 0, 0), hasFocus());
    const double y = area.top() + (1 - m_colour.hue / 360) * area.height();
    painter.setPen(QPen(Qt::black, 4));
    painter.drawLine(QPointF(area.left() - 2, y), QPointF(area.right() + 2, y));
    painter.setPen(QPen(Qt::white, 2));
    painter.drawLine(QPointF(area.left() - 2, y), QPointF(area.right() + 2, y));
}

void HueStrip::take(double y, bool going)
{
    Q_EMIT moved(static_cast<float>(std::clamp(360 * (1 - (y - kMargin) / kPlaneHeight), 0.0, 359.99)), going);
}

void HueStrip::mousePressEvent(QMouseEvent* event)
{
    take(event->position().y(), true);
}
void HueStrip::mouseMoveEvent(QMouseEvent* event)
{
    take(event->position().y(), true);
}
void HueStrip::mouseReleaseEvent(QMouseEvent* event)
{
    take(event->position().y(), false);
}

void HueStrip::keyPressEvent(QKeyEvent* event)
{
    const bool up = event->key() == Qt::Key_Up || event->key() == Qt::Key_Right;
    if (!up && event->key() != Qt::Key_Down && event->key() != Qt::Key_Left)
        return QWidget::keyPressEvent(event);
    const float step = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
    Q_EMIT moved(std::fmod(m_colour.hue + (up ? step : 360 - step), 360.0f), false);
}

// --- rows of colours ----------------------------------------------------------------------------------------------------------

ColourRow::ColourRow(const QString& name, QWidget* parent) : QWidget(parent)
{
    setAccessibleName(name);
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(kChip + 4);
}

void ColourRow::showColours(const std::vector<base::Rgb>& colours)
{
    m_colours = colours;
    m_current = std::clamp(m_current, 0, std::max(0, static_cast<int>(colours.size()) - 1));
    update();
}

QSize ColourRow::sizeHint() const
{
    return {kPlaneWidth, kChip + 4};
}

QRect ColourRow::chip(int index) const
{
    return {2 + index * (kChip + kChipGap), 2, kChip, kChip};
}

int ColourRow::chipAt(QPointF place) const
{
    for (int i = 0; i < static_cast<int>(m_colours.size()); ++i)
        if (chip(i).contains(place.toPoint()) && chip(i).right() < width())
            return i;
    return -1;
}

void ColourRow::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    for (int i = 0; i < static_cast<int>(m_colours.size()) && chip(i).right() < width(); ++i) {
        painter.setPen(QPen(colours().edge, 1));
        painter.setBrush(seenColour(m_colours[static_cast<std::size_t>(i)]));
        painter.drawRect(chip(i).adjusted(0, 0, -1, -1));
        if (hasFocus() && i == m_current)
            ring(painter, QRectF(chip(i)).adjusted(-1.5, -1.5, 0.5, 0.5), true);
    }
}

void ColourRow::mousePressEvent(QMouseEvent* event)
{
    if (const int at = chipAt(event->position()); at >= 0) {
        m_current = at;
        Q_EMIT taken(m_colours[static_cast<std::size_t>(at)]);
    }
}

void ColourRow::keyPressEvent(QKeyEvent* event)
{
    const int by = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    const bool takes = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_Space;
    if (m_colours.empty() || (by == 0 && !takes))
        return QWidget::keyPressEvent(event);
    const int last = std::min(static_cast<int>(m_colours.size()), (width() - 2) / (kChip + kChipGap)) - 1;
    m_current = std::clamp(m_current + by, 0, std::max(0, last));
    update();
    if (takes)
        Q_EMIT taken(m_colours[static_cast<std::size_t>(m_current)]);
}

bool ColourRow::event(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        const int at = chipAt(help->pos());
        QToolTip::showText(help->globalPos(), at < 0
                                                  ? accessibleName()
                                                  : QString::fromStdString(picture::hexFromRgb(m_colours[static_cast<std::size_t>(at)])));
        return true;
    }
    return QWidget::event(event);
}

}  // namespace app
