// Help in the application: how a still is made, and all shortcuts on one sheet.
#pragma once

#include <QString>
#include <utility>
#include <vector>

class QWidget;

namespace app {

struct GuideStep {
    QString title, text, picture;  // picture: a resource
};
std::vector<GuideStep> guideSteps();
// What a key does, by group; "" as keys begins a group.
std::vector<std::pair<QString, QString>> shortcutSheet();

void showGuide(QWidget* parent);
void showShortcuts(QWidget* parent);
void showAbout(QWidget* parent);

}  // namespace app
