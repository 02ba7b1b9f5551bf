// Pictures for materials on their way into the work: read in the background.
#pragma once

#include <map>

#include "app/window/background.h"
#include "app/window/watched_files.h"
#include "session/session.h"
#include "work/pictures.h"

namespace app {

class PictureFiles : public QObject {
    Q_OBJECT

public:
    explicit PictureFiles(session::Session* session, QObject* parent = nullptr);

    // What file dialogs offer; and whether a file's name is that of a picture that can be laid on something.
    static QString nameFilter();
    static bool isPicture(const QString& path);

    // Reads it, then makes it part of the work and does `use` with its name there; one step of the history.
    using Use = std::function<void(work::Work&, const std::string& asset)>;
    void lay(const QString& path, const QString& label, Use use);
    // What is all round, of a file that isPanorama() or any picture; one step of the history.
    static QString panoramaFilter();
    static bool isPanorama(const QString& path);
    void surround(const QString& path, bool keepsExposure);
    // In the place of a picture of the work, wherever that is used.
    void replace(const std::string& asset, const QString& path);

Q_SIGNALS:
    void say(const QString& sentence);
    // A file that was laid in this window shows something else now; `asset`: what the work has of it.
    void changedOnDisk(const QString& asset, const QString& path);

private:
    // Reads a file behind, and tells when it cannot be read.
    template <class File>
    void read(const QString& path, base::Result<File> (*reading)(const std::string& path, const base::Progress& progress),
              std::function<void(const File&)> use);

    void keep(const QString& path, const std::string& asset);
    void check(const QString& path);

    session::Session* m_session;
    std::map<QString, std::string> m_read;  // files, and what became of them in works
    WatchedFiles m_watched;
    Background m_background;
};

}  // namespace app
