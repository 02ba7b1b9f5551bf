#include "app/window/kept_picture.h"

#include <QFileInfo>
#include <QPainter>

#include "app/style.h"
#include "files/still_file.h"
#include "files/work_json.h"

namespace app {

namespace {

constexpr int kDisplaySide = 960;  // px: what is mixed while a fader moves

}  // namespace

KeptPicture::KeptPicture(QWidget* parent) : QWidget(parent)
{
    setObjectName("kept");
    setAccessibleName(tr("Kept picture"));
    hide();
}

void KeptPicture::open(const session::Final& final)
{
    Q_EMIT say(tr("Opening the kept picture..."));
    const std::uint64_t number = ++m_number;
    m_background.run(
        [final]() -> base::Result<std::shared_ptr<work::Still>> {
            work::StillSettings settings;
            settings.filmPath = final.filmPath();
            settings.filmKey = files::filmKey(final.work, final.settings.seed);
            settings.transparent = final.settings.transparent;
            settings.denoise = final.settings.denoise;
            auto still = work::developFilm(final.work, settings, {});
            if (!still)
                return tl::unexpected<base::Error>(still.error());
            return std::make_shared<work::Still>(std::move(*still));
        },
        [this, final, number](const base::Result<std::shared_ptr<work::Still>>& still) {
            if (number != m_number)
                return;
            if (!still) {
                Q_EMIT say(QString::fromStdString(base::oneLine(still.error())));
                return;
            }
            m_final = final;
            m_still = *still;
            const int side = std::max(m_still->shares.shape.regionWidth, m_still->shares.shape.regionHeight);
            m_small = render::smaller(m_still->shares, (side + kDisplaySide - 1) / kDisplaySide);
            mix(work::deskOf(final.work));
            Q_EMIT say({});
            show();
            raise();
            Q_EMIT opened();
        });
}

void KeptPicture::close()
{
    ++m_number;
    m_still.reset();
    m_small = {};
    hide();
    Q_EMIT closed();
}

finish::DevelopSettings KeptPicture::developFor(const work::LightDesk& desk) const
{
    finish::DevelopSettings settings = work::developSettingsOf(m_final.work, m_final.settings.transparent);
    settings.desk = desk.factorsFor(m_still->shares.shape.entries);
    return settings;
}

void KeptPicture::mix(const work::LightDesk& desk)
{
    if (!m_still)
        return;
    finish::DevelopSettings settings = developFor(desk);
    settings.transparent = false;  // on screen over the backdrop
    const picture::Raster<std::uint8_t> raster = finish::to8Bits(finish::develop(m_small, settings));
    m_image = QImage(raster.values.data(), raster.width, raster.height, 3 * raster.width, QImage::Format_RGB888).copy();
    update();
}

void KeptPicture::save(const QString& path, const work::LightDesk& desk)
{
    Q_EMIT say(tr("Saving the picture..."));
    m_background.run(
        [still = m_still, settings = developFor(desk), final = m_final, path]() -> base::Result<void> {
            still->develop = settings;
            still->picture = finish::develop(still->shares, settings);
            return files::saveStill(*still, files::ppiFor(final.work.sheet, final.settings.widthPx), final.settings.bits, path.toStdString());
        },
        [this, path](const base::Result<void>& done) { Q_EMIT say(done ? tr("Saved %1").arg(path) : QString::fromStdString(base::oneLine(done.error()))); });
}

void KeptPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), colours().surround);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const QSizeF size = QSizeF(m_image.size()).scaled(this->size() - QSize(8 * kGrid, 8 * kGrid), Qt::KeepAspectRatio);
    painter.drawImage(QRectF(QPointF((width() - size.width()) / 2, (height() - size.height()) / 2), size), m_image);
}

}  // namespace app
