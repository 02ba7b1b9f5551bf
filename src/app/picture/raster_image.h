// Rasters of the core and images of the window.
#pragma once

#include <QColorSpace>
#include <QImage>
#include <algorithm>
#include <memory>

#include "picture/raster.h"

namespace app {

using SharedRaster = std::shared_ptr<const picture::Raster<std::uint8_t>>;

// Of encoded sRGB, three channels. Keeps the raster for as long as the image or a copy of it is there.
inline QImage imageOf(const SharedRaster& raster)
{
    QImage image(
        raster->values.data(), raster->width, raster->height, raster->width * raster->channels, QImage::Format_RGB888,
        [](void* kept) { delete static_cast<SharedRaster*>(kept); }, new SharedRaster(raster));
    image.setColorSpace(QColorSpace(QColorSpace::SRgb));
    return image;
}

inline QImage imageOf(picture::Raster<std::uint8_t> raster)
{
    return imageOf(std::make_shared<const picture::Raster<std::uint8_t>>(std::move(raster)));
}

inline picture::Raster<std::uint8_t> rasterOf(const QImage& image)
{
    const QImage rgb = image.convertToFormat(QImage::Format_RGB888);
    picture::Raster<std::uint8_t> raster(rgb.width(), rgb.height(), 3);
    for (int y = 0; y < rgb.height(); ++y)
        std::copy_n(rgb.constScanLine(y), rgb.width() * 3, raster.at(0, y));
    return raster;
}

}  // namespace app
