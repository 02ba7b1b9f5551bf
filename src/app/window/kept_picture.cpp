#include "app/window/kept_picture.h"

#include <QFileInfo>
#include <QPainter>

#include "app/picture/raster_image.h"
#include "app/style.h"
#include "work/scene.h"

namespace app {

namespace {

constexpr int kDisplaySide = 960;  // px: what is mixed while a fader moves

}  // namespace

KeptPicture::KeptPicture(QWidget* parent) : QWidget(parent)
{
    setObjectName("kept");
    setAccessibleName(tr("Kept picture"));
    connect(&m_background, &Background::failed, this, &KeptPicture::say);
    hide();
}

void KeptPicture::open(const session::Final& final)
{
    openBy([final](const base::Progress& progress) { return session::KeptLight::open(final, progress); });
}

void KeptPicture::open(std::shared_ptr<const std::vector<std::uint8_t>> asset, const QString& name)
{
    openBy([asset = std::move(asset), name](const base::Progress&) { return session::KeptLight::fromBytes(*asset, name.toStdString()); });
}

void KeptPicture::openBy(Opening opening)
{
    Q_EMIT say(tr("Opening the kept picture..."));
    const std::uint64_t number = ++m_number;
    m_background.run(
        [opening = std::move(opening)](const base::Progress& progress) -> base::Result<Opened> {
            auto light = opening(progress);
            if (!light)
                return tl::unexpected<base::Error>(light.error());
            auto small = (*light)->small(kDisplaySide);
            if (!small)
                return tl::unexpected<base::Error>(small.error());
            return Opened(*light, std::move(*small));
        },
        [this, number](base::Result<Opened> opened) {
            if (number != m_number)
                return;
            if (!opened) {
                Q_EMIT say(QString::fromStdString(base::oneLine(opened.error())));
                return;
            }
            m_light = std::move(opened->first);
            m_small = std::move(opened->second);
            mix(work::deskOf(m_light->work()));
            Q_EMIT say({});
            show();
            raise();
            Q_EMIT this->opened();
        });
}

void KeptPicture::close()
{
    ++m_number;
    m_light.reset();
    m_small = {};
    hide();
    Q_EMIT closed();
}

finish::DevelopSettings KeptPicture::developFor(const work::LightDesk& desk) const
{
    finish::DevelopSettings settings = work::developSettingsOf(m_light->work(), m_light->settings().output.letsThrough());
    settings.desk = desk.factorsFor(m_light->shape().entries);
    return settings;
}

void KeptPicture::mix(const work::LightDesk& desk)
{
    if (!m_light)
        return;
    finish::DevelopSettings settings = developFor(desk);
    settings.transparent = false;  // on screen over the backdrop
    m_image = imageOf(finish::to8Bits(finish::develop(m_small, settings)));
    update();
}

void KeptPicture::save(const QString& path, const work::LightDesk& desk)
{
    Q_EMIT say(tr("Saving the picture..."));
    m_background.run(
        [light = m_light, settings = developFor(desk), path](const base::Progress&) { return light->save(settings, path.toStdString()); },
        [this, path](const base::Result<void>& done) {
            Q_EMIT say(done ? tr("Saved %1").arg(path) : QString::fromStdString(base::oneLine(done.error())));
        });
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
