#include "app/motion.h"

#include <QGraphicsOpacityEffect>
#include <QPropertyAnimation>

#include "app/style.h"

namespace app {

void fadeIn(QWidget* widget)
{
    if (!currentLook().motion || !widget->isVisible())
        return;
    auto* effect = new QGraphicsOpacityEffect(widget);
    widget->setGraphicsEffect(effect);  // takes an earlier one away
    auto* fade = new QPropertyAnimation(effect, "opacity", effect);
    fade->setDuration(kMotionMs);
    fade->setStartValue(0.15);
    fade->setEndValue(1.0);
    QObject::connect(fade, &QPropertyAnimation::finished, widget, [widget, effect] {
        if (widget->graphicsEffect() == effect)
            widget->setGraphicsEffect(nullptr);
    });
    fade->start();
}

}  // namespace app
