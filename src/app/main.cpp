// open-glow: the desktop application.
#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <QSettings>

#include "app/window/main_window.h"

int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    QApplication::setApplicationName("open-glow");
    QApplication::setOrganizationName("open-glow");
    QApplication::setApplicationVersion(OPEN_GLOW_VERSION);
    QApplication::setDesktopFileName("open-glow");
    QApplication::setWindowIcon(QIcon(":/open-glow.svg"));
    QCommandLineParser parser;
    parser.setApplicationDescription(QObject::tr("Turns vector lettering into bodies and renders stills of them."));
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption demo("demo", QObject::tr("Open the demo"));
    parser.addOption(demo);
    parser.addPositionalArgument("work", QObject::tr("A work to open, *.openglow"), "[work]");
    parser.process(application);

    app::MainWindow window;
    window.restoreGeometry(QSettings().value("geometry").toByteArray());
    window.show();
    if (parser.isSet(demo))
        window.files()->openDemo();
    else
        window.files()->start(parser.positionalArguments().value(0));
    return QApplication::exec();
}
