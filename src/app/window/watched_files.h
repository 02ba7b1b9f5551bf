// Files that a work was made from, watched on disk.
#pragma once

#include <QFileSystemWatcher>

namespace app {

class WatchedFiles : public QObject {
    Q_OBJECT

public:
    explicit WatchedFiles(QObject* parent = nullptr);

    // Hears of these from now on, as far as they are there, and of no others.
    void watch(const QStringList& paths);

Q_SIGNALS:
    void changed(const QString& path);  // once it has settled: programs write a file in several steps, or a new one in its place

private:
    QFileSystemWatcher m_watcher;
    QStringList m_paths;
};

}  // namespace app
