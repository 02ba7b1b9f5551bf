// Shows the picture in a neutral grey margin.
#pragma once

#include <QImage>
#include <QWidget>
#include <memory>

#include "picture/raster.h"

namespace app {

class PictureView : public QWidget {
    Q_OBJECT

public:
    explicit PictureView(QWidget* parent = nullptr);

    // Wraps the picture without a copy and keeps it alive.
    void show(std::shared_ptr<const picture::Raster<std::uint8_t>> picture);
    const QImage& image() const { return m_image; }

    // Where a sheet of that shape goes, in device pixels.
    QSize frameSize(double sheetWidth, double sheetHeight) const;

Q_SIGNALS:
    void resized();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    std::shared_ptr<const picture::Raster<std::uint8_t>> m_picture;
    QImage m_image;
};

}  // namespace app
