#include "app/window/picture_files.h"

#include <QFileInfo>

#include "files/panorama_file.h"
#include "files/texture_file.h"
#include "light/surroundings.h"
#include "work/surroundings.h"

namespace app {

PictureFiles::PictureFiles(session::Session* session, QObject* parent) : QObject(parent), m_session(session)
{
    connect(&m_background, &Background::failed, this, &PictureFiles::say);
    connect(&m_watched, &WatchedFiles::changed, this, &PictureFiles::check);
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

QString PictureFiles::panoramaFilter()
{
    return tr("Pictures of all round (*.hdr *.exr *.png *.jpg *.jpeg *.tif *.tiff *.webp)");
}

bool PictureFiles::isPanorama(const QString& path)
{
    return QFileInfo(path).suffix().toLower() == "hdr";
}

template <class File>
void PictureFiles::read(const QString& path, base::Result<File> (*reading)(const std::string& path, const base::Progress& progress),
                        std::function<void(const File&)> use)
{
    Q_EMIT say(tr("Reading %1...").arg(QFileInfo(path).fileName()));
    m_background.run(
        [path, reading](const base::Progress& progress) {
            return std::make_shared<const base::Result<File>>(reading(path.toStdString(), progress));
        },
        [this, use = std::move(use)](const std::shared_ptr<const base::Result<File>>& file) {
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
    read<work::PictureFile>(path, files::readPictureFile, [this, path, label, use = std::move(use)](const work::PictureFile& file) {
        std::string asset;
        m_session->edit(label.toStdString(), [&](work::Work& w) {
            asset = work::addPicture(w, file);
            use(w, asset);
        });
        keep(path, asset);
    });
}

void PictureFiles::keep(const QString& path, const std::string& asset)
{
    m_read[path] = asset;
    QStringList paths;
    for (const auto& [file, _] : m_read)
        paths << file;
    m_watched.watch(paths);
}

// A file that cannot be read is on its way still, or gone: the work has what it had.
void PictureFiles::check(const QString& path)
{
    m_background.run(
        [path](const base::Progress& progress) {
            return std::make_shared<const base::Result<work::PictureFile>>(files::readPictureFile(path.toStdString(), progress));
        },
        [this, path](const std::shared_ptr<const base::Result<work::PictureFile>>& file) {
            const std::string asset = m_read[path];
            const auto known = m_session->work().assets.find(asset);
            if (!*file || known == m_session->work().assets.end() || !known->second.bytes || *known->second.bytes == *(*file)->bytes)
                return;
            work::Work as = m_session->work();
            if (work::replacePicture(as, asset, **file) > 0)  // it is in use
                Q_EMIT changedOnDisk(QString::fromStdString(asset), path);
        });
}

namespace {

// A picture of all round, and what there is to say of it.
struct Round {
    work::PanoramaFile file;
    base::Notes notes;
    std::shared_ptr<const light::SkyMap> map;  // worked out here, so that the window does not wait for it
};

base::Result<Round> readRound(const std::string& path, const base::Progress& progress)
{
    Round round;
    auto file = files::readPanoramaFile(path, &round.notes, progress);
    if (!file)
        return base::failed(file);
    round.file = std::move(*file);
    light::Sky sky;
    sky.picture = round.file.panorama;
    round.map = light::skyMap(sky);
    return round;
}

}  // namespace

void PictureFiles::surround(const QString& path, bool keepsExposure)
{
    read<Round>(path, readRound, [this, keepsExposure](const Round& round) {
        m_session->edit(tr("Surroundings").toStdString(), [&](work::Work& w) { work::usePanorama(w, round.file, keepsExposure); });
        if (!round.notes.empty())
            Q_EMIT say(QString::fromStdString(round.notes.front().message));
    });
}

void PictureFiles::replace(const std::string& asset, const QString& path)
{
    read<work::PictureFile>(path, files::readPictureFile, [this, path, asset](const work::PictureFile& file) {
        int count = 0;
        std::string by;
        m_session->edit(tr("Replace picture").toStdString(), [&](work::Work& w) {
            count = work::replacePicture(w, asset, file);
            by = work::addPicture(w, file);
        });
        keep(path, by);
        Q_EMIT say(tr("%n materials have the new picture", nullptr, count));
    });
}

}  // namespace app
