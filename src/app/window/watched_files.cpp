#include "app/window/watched_files.h"

#include <QFileInfo>
#include <QTimer>

namespace app {

namespace {

constexpr int kSettles = 300;  // ms

}  // namespace

WatchedFiles::WatchedFiles(QObject* parent) : QObject(parent)
{
    connect(&m_watcher, &QFileSystemWatcher::fileChanged, this, [this](const QString& path) {
        QTimer::singleShot(kSettles, this, [this, path] {
            watch(m_paths);  // a file that was written anew is another one
            if (m_paths.contains(path))
                Q_EMIT changed(path);
        });
    });
}

void WatchedFiles::watch(const QStringList& paths)
{
    m_paths = paths;
    const QStringList watched = m_watcher.files();
    for (const QString& path : watched)
        if (!paths.contains(path))
            m_watcher.removePath(path);
    for (const QString& path : paths)
        if (!watched.contains(path) && QFileInfo::exists(path))
            m_watcher.addPath(path);
}

}  // namespace app
