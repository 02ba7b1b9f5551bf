#include "app/picture_view.h"

#include <QColorSpace>
#include <QPainter>

namespace app {

namespace {

constexpr QRgb kSurround = 0xff777777;  // neutral mid grey: colour is judged against it
constexpr int kMargin = 24;

}  // namespace

PictureView::PictureView(QWidget* parent) : QWidget(parent)
{
    setMinimumSize(320, 240);
    setAccessibleName(tr("Picture"));
}

void PictureView::show(std::shared_ptr<const picture::Raster<std::uint8_t>> picture)
{
    m_picture = std::move(picture);
    m_image = QImage(m_picture->values.data(), m_picture->width, m_picture->height, m_picture->width * 3, QImage::Format_RGB888);
    m_image.setColorSpace(QColorSpace(QColorSpace::SRgb));
    m_image.setDevicePixelRatio(devicePixelRatioF());
    update();
}

QSize PictureView::frameSize(double sheetWidth, double sheetHeight) const
{
    const double roomX = std::max(16, width() - 2 * kMargin), roomY = std::max(16, height() - 2 * kMargin);
    const double scale = std::min(roomX / sheetWidth, roomY / sheetHeight) * devicePixelRatioF();
    return {std::max(1, qRound(sheetWidth * scale)), std::max(1, qRound(sheetHeight * scale))};
}

void PictureView::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), QColor(kSurround));
    if (m_image.isNull())
        return;
    const QSizeF size = QSizeF(m_image.size()) / m_image.devicePixelRatio();
    painter.drawImage(QPointF((width() - size.width()) / 2, (height() - size.height()) / 2), m_image);
}

void PictureView::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    Q_EMIT resized();
}

}  // namespace app
