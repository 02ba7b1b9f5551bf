#include "app/window/artwork_files.h"

#include <QFile>
#include <QFileInfo>

#include "files/artwork.h"

namespace app {

ArtworkFiles::ArtworkFiles(session::Session* session, QObject* parent) : QObject(parent), m_session(session)
{
    connect(&m_background, &Background::failed, this, &ArtworkFiles::say);
    connect(&m_watched, &WatchedFiles::changed, this, &ArtworkFiles::check);
}

QString ArtworkFiles::nameFilter()
{
    return tr("Artwork (*.svg *.svgz *.pdf *.png *.jpg *.jpeg *.tif *.tiff)");
}

bool ArtworkFiles::isArtwork(const QString& path)
{
    const QString ending = QFileInfo(path).suffix().toLower();
    static const QStringList s_endings{"svg", "svgz", "pdf", "png", "jpg", "jpeg", "tif", "tiff"};
    return s_endings.contains(ending);
}

void ArtworkFiles::read(const QString& name, Reading reading, std::function<void(const work::ArtworkFile&)> use)
{
    Q_EMIT say(tr("Reading %1...").arg(name));
    m_background.run(
        [reading = std::move(reading)](const base::Progress& progress) {
            return std::make_shared<const base::Result<work::ArtworkFile>>(reading(progress));
        },
        [this, use = std::move(use)](const std::shared_ptr<const base::Result<work::ArtworkFile>>& file) {
            if (!*file)
                Q_EMIT say(QString::fromStdString(base::oneLine(file->error())));
            else
                use(**file);
        });
}

void ArtworkFiles::add(const QString& path)
{
    read(
        QFileInfo(path).fileName(),
        [path](const base::Progress& progress) { return files::readArtworkFile(path.toStdString(), 1, progress); },
        [this](const work::ArtworkFile& file) { use({}, file); });
}

void ArtworkFiles::addBytes(const QByteArray& bytes, const QString& name)
{
    auto shared = std::make_shared<const outline::Bytes>(bytes.begin(), bytes.end());
    read(
        name, [shared, name](const base::Progress& progress) { return files::artworkFromBytes(shared, name.toStdString(), 1, progress); },
        [this](const work::ArtworkFile& file) { use({}, file); });
}

void ArtworkFiles::replace(const QString& piece, const QString& path)
{
    read(
        QFileInfo(path).fileName(),
        [path](const base::Progress& progress) { return files::readArtworkFile(path.toStdString(), 1, progress); },
        [this, piece](const work::ArtworkFile& file) { use(piece, file); });
}

void ArtworkFiles::readPage(const QString& piece, int page)
{
    const auto found = m_session->work().pieces.items.find(piece.toStdString());
    const work::Artwork* artwork = found == m_session->work().pieces.items.end() ? nullptr : found->second.artwork();
    const auto asset = artwork ? m_session->work().assets.find(artwork->original) : m_session->work().assets.end();
    if (asset == m_session->work().assets.end())
        return;
    read(
        QString::fromStdString(artwork->name),
        [bytes = asset->second.bytes, name = artwork->name, path = artwork->path, page](const base::Progress& progress) {
            auto file = files::artworkFromBytes(bytes, name, page, progress);
            if (file)
                file->path = path;
            return file;
        },
        [this, piece](const work::ArtworkFile& file) { use(piece, file); });
}

// A new piece, or another version of one.
void ArtworkFiles::use(const QString& piece, const work::ArtworkFile& file)
{
    QStringList sentences;
    if (piece.isEmpty()) {
        std::string id;
        m_session->edit(tr("Add artwork").toStdString(), [&](work::Work& w) { id = work::addArtwork(w, file); });
        Q_EMIT added(QString::fromStdString(id));
    } else if (const auto found = m_session->work().pieces.items.find(piece.toStdString());
               found != m_session->work().pieces.items.end() && found->second.artwork()) {
        work::Replaced replaced;
        m_session->edit(tr("Replace artwork").toStdString(),
                        [&](work::Work& w) { replaced = work::replaceArtwork(w, piece.toStdString(), file); });
        sentences
            << tr("%1 shapes keep what they have, %2 are new, %3 are gone").arg(replaced.kept).arg(replaced.added).arg(replaced.removed);
    }
    for (const base::Note& note : file.drawing.notes)
        sentences << QString::fromStdString(note.message);
    Q_EMIT say(sentences.join(". "));
    watch();
}

void ArtworkFiles::watch()
{
    QStringList paths;
    for (const auto& [_, piece] : m_session->work().pieces.items)
        if (const work::Artwork* artwork = piece.artwork(); artwork && !artwork->path.empty())
            paths << QString::fromStdString(artwork->path);
    m_watched.watch(paths);
}

void ArtworkFiles::check(const QString& path)
{
    m_background.run(
        [path](const base::Progress&) {
            QFile file(path);
            return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
        },
        [this, path](const QByteArray& bytes) {
            for (const auto& [id, piece] : m_session->work().pieces.items) {
                const work::Artwork* artwork = piece.artwork();
                if (bytes.isEmpty() || !artwork || artwork->path != path.toStdString())
                    continue;
                const auto asset = m_session->work().assets.find(artwork->original);
                const auto* known = asset == m_session->work().assets.end() ? nullptr : asset->second.bytes.get();
                if (!known ||
                    bytes != QByteArray::fromRawData(reinterpret_cast<const char*>(known->data()), static_cast<qsizetype>(known->size())))
                    Q_EMIT changedOnDisk(QString::fromStdString(id), path);
            }
        });
}

}  // namespace app
