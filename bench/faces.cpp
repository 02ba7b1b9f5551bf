// The face list: opened for the first and the second time, scrolled from end to end, narrowed to a kind; one JSON. See bench/many-faces.
#include <fmt/format.h>

#include <QApplication>
#include <QComboBox>
#include <QElapsedTimer>
#include <QListView>
#include <QScrollBar>
#include <QTemporaryDir>
#include <QToolButton>
#include <algorithm>

#include "app/fields/font_field.h"

namespace {

// Until everything is painted, ms.
double painted(const std::function<void()>& act)
{
    QElapsedTimer timer;
    timer.start();
    act();
    QApplication::sendPostedEvents();
    QApplication::processEvents();
    return static_cast<double>(timer.nsecsElapsed()) / 1e6;
}

}  // namespace

int main(int argc, char** argv)
{
    QTemporaryDir home;
    qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
    QApplication application(argc, argv);
    app::FontField field;
    field.setObjectNames("face");
    work::FontChoice font;
    font.family = "Face 0700";
    field.showValue(font, "KITE FAIR");
    field.show();
    QApplication::processEvents();
    auto* button = field.findChild<QToolButton*>();
    const double first = painted([&] { button->click(); });
    auto* list = field.findChild<QListView*>("face.list");
    list->window()->hide();
    const double second = painted([&] { button->click(); });
    std::vector<double> pages;
    QScrollBar* bar = list->verticalScrollBar();
    for (int at = 0; at <= bar->maximum(); at += bar->pageStep())
        pages.push_back(painted([&] { bar->setValue(at); }));
    std::sort(pages.begin(), pages.end());
    const int faces = list->model()->rowCount();
    auto* kind = field.findChild<QComboBox*>("face.kind");
    const double narrowed = painted([&] { kind->setCurrentIndex(3); });
    fmt::print("{{\"faces\": {}, \"openFirstMs\": {:.0f}, \"openAgainMs\": {:.0f}, \"pageMedianMs\": {:.1f}, \"pageWorstMs\": {:.1f}, "
               "\"firstKindMs\": {:.0f}}}\n",
               faces, first, second, pages[pages.size() / 2], pages.back(), narrowed);
    return 0;
}
