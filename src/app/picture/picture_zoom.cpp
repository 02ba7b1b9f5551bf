// The picture's size in the widget: fitted or zoomed, slid, and the plan that shows where one is.
#include <QPainter>
#include <QScrollBar>
#include <cmath>

#include "app/picture/paint.h"
#include "app/picture/picture_view.h"
#include "app/style.h"

namespace app {

namespace {

constexpr int kMargin = 7 * kGrid;  // round the frame at least, to walk from
constexpr int kMostPx = 100000;     // as films are at most
constexpr double kLeastZoom = 0.1, kMostZoom = 16;
constexpr double kPlan = 128;  // px, longer side of the plan

// Px of the widget for each pt with which all of the sheet fits in.
double fittingScale(const QSize& room, const work::SheetSize& sheet)
{
    return std::min(std::max(16, room.width() - 2 * kMargin) / sheet.widthPt(),
                    std::max(16, room.height() - 2 * kMargin) / sheet.heightPt());
}

}  // namespace

QSize PictureView::wholeSize() const
{
    const work::SheetSize& sheet = m_context.session->work().sheet();
    if (m_zoom)
        return {std::clamp(qRound(sheet.widthPx() * *m_zoom), 1, kMostPx), std::clamp(qRound(sheet.heightPx() * *m_zoom), 1, kMostPx)};
    const double scale = fittingScale(size(), sheet) * devicePixelRatioF();
    return {std::max(1, qRound(sheet.widthPt() * scale)), std::max(1, qRound(sheet.heightPt() * scale))};
}

QRectF PictureView::frameRect() const
{
    const double ratio = devicePixelRatioF();
    const QSizeF size = QSizeF(wholeSize()) / ratio;
    // On whole device pixels, so that nothing is resampled.
    const auto middle = [&](double room, double needed) { return std::floor((room - needed) / 2 * ratio) / ratio; };
    const double x = m_across->isVisibleTo(this) ? -m_across->value() : middle(width(), size.width());
    const double y = m_down->isVisibleTo(this) ? -m_down->value() : middle(height(), size.height());
    return {QPointF(x, y), size};
}

std::optional<film::Film::Rect> PictureView::wantedPart() const
{
    const QSize whole = wholeSize();
    QRect wanted(QPoint(0, 0), whole);
    if (m_zoom) {
        const QRectF frame = frameRect();
        const double ratio = devicePixelRatioF();
        const QRectF seen = QRectF(rect()).translated(-frame.topLeft());
        wanted &= QRectF(seen.topLeft() * ratio, seen.size() * ratio).toAlignedRect();
    }
    if (hasPart()) {
        const QRect part = QRectF(m_partOnFrame.x() * whole.width(), m_partOnFrame.y() * whole.height(),
                                  m_partOnFrame.width() * whole.width(), m_partOnFrame.height() * whole.height())
                               .toAlignedRect();
        if (part.intersects(wanted))
            wanted &= part;
    }
    if (wanted == QRect(QPoint(0, 0), whole) || wanted.isEmpty())
        return std::nullopt;
    return film::Film::Rect{wanted.left(), wanted.top(), wanted.right() + 1, wanted.bottom() + 1};
}

double PictureView::zoom() const
{
    return static_cast<double>(wholeSize().width()) / m_context.session->work().sheet().widthPx();
}

void PictureView::setZoom(std::optional<double> zoom, QPointF around)
{
    if (zoom) {
        const work::SheetSize& sheet = m_context.session->work().sheet();
        const double most = std::min(kMostZoom, static_cast<double>(kMostPx) / std::max(sheet.widthPx(), sheet.heightPx()));
        zoom = std::clamp(*zoom, std::min(kLeastZoom, most), most);
    }
    if (m_zoom == zoom)
        return;
    const base::Vec2 place = toFrame(around);
    m_zoom = zoom;
    updateScrolls();
    slideBy(around - fromFrame(place));
    update();
    Q_EMIT zoomChanged();
    Q_EMIT wanted();
}

void PictureView::zoomBy(double factor, QPointF around)
{
    const work::SheetSize& sheet = m_context.session->work().sheet();
    const double fitting = fittingScale(size(), sheet) * devicePixelRatioF() * sheet.widthPt() / sheet.widthPx();
    double next = zoom() * factor;
    const auto near = [&](double goal) { return std::abs(std::log(next / goal)) < std::min(0.09, std::abs(std::log(factor)) / 2); };
    if (near(fitting))
        return setZoom({}, around);
    if (near(1))
        next = 1;
    setZoom(next, around);
}

void PictureView::setActualSize(bool actual)
{
    if (actual == isActualSize())
        return;
    setZoom(actual ? std::optional(1.0) : std::nullopt, frameRect().center());
}

QRectF PictureView::seenPart() const
{
    const QRectF frame = frameRect(), seen = QRectF(rect()) & frame;
    return {(seen.x() - frame.x()) / frame.width(), (seen.y() - frame.y()) / frame.height(), seen.width() / frame.width(),
            seen.height() / frame.height()};
}

// The paper moves under the window.
void PictureView::slideBy(QPointF by)
{
    m_across->setValue(qRound(m_across->value() - by.x()));
    m_down->setValue(qRound(m_down->value() - by.y()));
}

QRectF PictureView::planRect() const
{
    const QRectF part = seenPart();
    if (!m_zoom || (part.width() > 0.999 && part.height() > 0.999))
        return {};
    const QSizeF size = QSizeF(wholeSize()).scaled(kPlan, kPlan, Qt::KeepAspectRatio);
    return {QPointF(width() - size.width() - 6 * kGrid, height() - size.height() - 6 * kGrid), size};
}

// Where one is: the whole picture, and a frame round what is seen of it.
void PictureView::paintPlan(QPainter& painter)
{
    const QRectF plan = planRect();
    if (plan.isEmpty())
        return;
    if (m_smallOf != m_whole.cacheKey()) {
        m_small = m_whole.scaled((plan.size() * devicePixelRatioF()).toSize(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
        m_smallOf = m_whole.cacheKey();
    }
    painter.setPen(QPen(colours().edge, 1));
    painter.setBrush(colours().paper);
    painter.drawRoundedRect(plan.adjusted(-kGrid, -kGrid, kGrid, kGrid + textPx()), kRound, kRound);
    painter.drawImage(plan, m_small);
    const QRectF part = seenPart();
    twoToneFrame(painter,
                 QRectF(plan.x() + part.x() * plan.width(), plan.y() + part.y() * plan.height(), part.width() * plan.width(),
                        part.height() * plan.height()),
                 Qt::SolidLine);
    painter.setPen(colours().ink);
    QFont font = painter.font();
    font.setPixelSize(smallTextPx());
    painter.setFont(font);
    painter.drawText(QRectF(plan.left(), plan.bottom() + 2, plan.width(), textPx() + 2), Qt::AlignCenter,
                     tr("%1 %").arg(zoom() * 100, 0, 'f', 0));
}

void PictureView::updateScrolls()
{
    const QSizeF size = QSizeF(wholeSize()) / devicePixelRatioF();
    const int thick = 12;
    const auto set = [&](QScrollBar* bar, double needed, int room) {
        bar->setVisible(m_zoom && needed > room);
        bar->setRange(0, std::max(0, static_cast<int>(std::ceil(needed)) - room + thick));
        bar->setPageStep(room);
        bar->setSingleStep(32);
    };
    set(m_across, size.width(), width());
    set(m_down, size.height(), height());
    m_across->setGeometry(0, height() - thick, width() - thick, thick);
    m_down->setGeometry(width() - thick, 0, thick, height() - thick);
}

}  // namespace app
