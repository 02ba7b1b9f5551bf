// Short movements that show where something came from. There are none where Look::motion is off.
#pragma once

class QWidget;

namespace app {

inline constexpr int kMotionMs = 110;

// What has just been shown comes up from faint. It can be used at once.
void fadeIn(QWidget* widget);

}  // namespace app
