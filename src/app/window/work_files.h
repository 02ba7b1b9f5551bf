// Works on disk, as the window knows them: new, open, save, recent ones, and what a program that ended badly left behind.
#pragma once

#include "picture/raster.h"
#include <QObject>

#include "app/window/background.h"
#include "session/recovery.h"
#include "session/session.h"

class QWidget;

namespace app {

class WorkFiles : public QObject {
    Q_OBJECT

public:
    // `preview` gives the picture that goes into a saved file.
    WorkFiles(session::Session* session, std::function<std::optional<picture::Raster<std::uint8_t>>()> preview, QWidget* window);

    // The name in the window's title.
    QString title() const;
    // For its file, when it has none.
    QString proposedName() const;

    // Opens what should stand in the window first: `path`; else what was left unsaved; else the last work; at the very first start
    // the demo.
    void start(const QString& path);
    void newWork(const work::SheetSize& sheet);
    void newFrom(work::Work work);  // a start
    void openDemo() { openDemo("main-poster"); }
    void openDemo(const QString& name);
    // Names of files and titles.
    static std::vector<std::pair<QString, QString>> demos();
    void open(const QString& path);
    void openByDialog();
    // False when it was called off; saving itself goes on behind.
    bool save();
    bool saveAs();
    void saveTo(const QString& path);
    QStringList recent() const;
    // Asks what becomes of unsaved changes; false: stay.
    bool mayLeave();
    // The work changed: keeps a copy that outlasts a crash.
    void keep();
    session::Recovery& recovery() { return m_recovery; }

Q_SIGNALS:
    void say(const QString& sentence);
    void titleChanged();
    void artworkWanted(const QString& path);  // what was chosen to be opened is artwork

private:
    void take(work::Work work, const QString& path, bool changed);
    void remember(const QString& path);
    bool openLeft();
    // Tells other windows that this work is open here.
    void markOpen(const QString& path);

    session::Session* m_session;
    std::function<std::optional<picture::Raster<std::uint8_t>>()> m_preview;
    QWidget* m_window;
    session::Recovery m_recovery;
    std::shared_ptr<base::FileLock> m_open;  // nothing while another window has the work
    QString m_name;                          // of a work without a file
    Background m_background;
};

}  // namespace app
