// Artwork on its way into the work: read in the background, replaced, and watched on disk.
#pragma once

#include "app/window/background.h"
#include "app/window/watched_files.h"
#include "session/session.h"
#include "work/artwork.h"

namespace app {

class ArtworkFiles : public QObject {
    Q_OBJECT

public:
    explicit ArtworkFiles(session::Session* session, QObject* parent = nullptr);

    // What file dialogs offer; and whether a file's name is that of artwork.
    static QString nameFilter();
    static bool isArtwork(const QString& path);

    // A piece of it in front.
    void add(const QString& path);
    void addBytes(const QByteArray& bytes, const QString& name);
    // Another version of a piece's artwork; from where it was read before, or another page of it.
    void replace(const QString& piece, const QString& path);
    void readPage(const QString& piece, int page);
    // Hears of the files that the work's artwork was read from.
    void watch();

Q_SIGNALS:
    void say(const QString& sentence);
    void added(const QString& piece);
    void changedOnDisk(const QString& piece, const QString& path);  // and is another than what the work has

private:
    using Reading = std::function<base::Result<work::ArtworkFile>(const base::Progress&)>;
    void read(const QString& name, Reading reading, std::function<void(const work::ArtworkFile&)> use);
    void use(const QString& piece, const work::ArtworkFile& file);
    void check(const QString& path);

    session::Session* m_session;
    WatchedFiles m_watched;
    Background m_background;
};

}  // namespace app
