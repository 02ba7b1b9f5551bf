// From the start of the program to its first picture of the demo, as one JSON: run with QT_QPA_PLATFORM=offscreen or on a display.
#include <fmt/format.h>
#include <unistd.h>

#include <QApplication>
#include <QFile>
#include <QSettings>
#include <QTemporaryDir>
#include <QTimer>
#include <ctime>

#include "app/picture/picture_view.h"
#include "app/window/main_window.h"

namespace {

// Seconds since this process was made (proc(5), stat field 22, in ticks since boot).
double age()
{
    QFile stat("/proc/self/stat");
    if (!stat.open(QIODevice::ReadOnly))
        return -1;
    const QByteArray line = stat.readAll();
    const double started = line.mid(line.lastIndexOf(')') + 2).split(' ').at(19).toDouble() / static_cast<double>(sysconf(_SC_CLK_TCK));
    timespec now{};
    clock_gettime(CLOCK_BOOTTIME, &now);
    return static_cast<double>(now.tv_sec) + 1e-9 * static_cast<double>(now.tv_nsec) - started;
}

}  // namespace

int main(int argc, char** argv)
{
    QTemporaryDir home;
    for (const char* name : {"XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_CACHE_HOME", "XDG_DATA_HOME"})
        qputenv(name, home.path().toUtf8());
    QApplication application(argc, argv);
    QApplication::setApplicationName("open-glow");
    QApplication::setOrganizationName("open-glow");
    const double ready = age();
    app::MainWindow window;
    window.resize(1280, 800);
    window.show();
    window.files()->openDemo();
    auto* picture = window.findChild<app::PictureView*>();
    const double shown = age();
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, [&] {
        if (!picture->frame().picture)
            return;
        fmt::print("{{\"qtReady\": {:.2f}, \"windowShown\": {:.2f}, \"firstPicture\": {:.2f}}}\n", ready, shown, age());
        QApplication::quit();
    });
    look.start(2);
    return QApplication::exec();
}
