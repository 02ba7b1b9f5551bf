// open-glow: the desktop application.
#include <QApplication>
#include <QFileInfo>
#include <cstdio>

#include "app/main_window.h"
#include "files/work_file.h"

int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    QApplication::setApplicationName("Open Glow");
    QApplication::setApplicationVersion(OPEN_GLOW_VERSION);
    qRegisterMetaType<session::LiveFrame>();
    const QStringList arguments = QApplication::arguments();
    work::Work work = work::newWork("GALE POINT", {}, {});
    QString title = QObject::tr("Untitled");
    if (arguments.size() > 1) {
        auto opened = files::openWork(arguments[1].toStdString());
        if (!opened) {
            std::fprintf(stderr, "open-glow: %s\n", base::oneLine(opened.error()).c_str());
            return 1;
        }
        work = std::move(*opened);
        title = QFileInfo(arguments[1]).completeBaseName();
    }
    app::MainWindow window(std::move(work), title);
    window.show();
    return QApplication::exec();
}
