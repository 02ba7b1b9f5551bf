#include "app/window/picture_files.h"

#include <QFileInfo>

#include "files/texture_file.h"

namespace app {

PictureFiles::PictureFiles(session::Session* session, QObject* parent) : QObject(parent), m_session(session)
{
    connect(&m_background, &Background::failed, this, &PictureFiles::say);
}

QString PictureFiles::nameFilter()
{
    return tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.webp *.exr)");
}

bool PictureFiles::isPicture(const QString& path)
{
    static const QStringList s_endings{"png", "jpg", "jpeg", "tif", "tiff", "webp", "exr"};
    return s_endings.contains(QFileInfo(path).suffix().toLower());
}

void PictureFiles::read(const QString& path, std::function<void(const work::PictureFile&)> use)
{
    Q_EMIT say(tr("Reading %1...").arg(QFileInfo(path).fileName()));
    m_background.run(
        [path](const base::Progress& progress) {
            return std::make_shared<const base::Result<work::PictureFile>>(files::readPictureFile(path.toStdString(), progress));
        },
        [this, use = std::move(use)](const std::shared_ptr<const base::Result<work::PictureFile>>& file) {
            if (!*file) {
                Q_EMIT say(QString::fromStdString(base::oneLine(file->error())));
                return;
            }
            Q_EMIT say({});
            use(**file);
        });
}

void PictureFiles::lay(const QString& path, const QString& label, Use use)
{
    read(path, [this, label, use = std::move(use)](const work::PictureFile& file) {
        m_session->edit(label.toStdString(), [&](work::Work& w) { use(w, work::addPicture(w, file)); });
    });
}

void PictureFiles::replace(const std::string& asset, const QString& path)
{
    read(path, [this, asset](const work::PictureFile& file) {
        int count = 0;
        m_session->edit(tr("Replace picture").toStdString(), [&](work::Work& w) { count = work::replacePicture(w, asset, file); });
        Q_EMIT say(tr("%n materials have the new picture", nullptr, count));
    });
}

}  // namespace app
