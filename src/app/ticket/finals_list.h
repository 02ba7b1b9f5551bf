// The finals and kept pictures of the Export section, with what can be done with each.
#pragma once

#include <QWidget>
#include <functional>

namespace app {

class Finals;

// The list, and what shows it anew when the work has changed; when finals change it does so itself.
struct FinalsListParts {
    QWidget* widget;
    std::function<void()> refresh;
};
FinalsListParts finalsList(Finals* finals, bool own);

}  // namespace app
