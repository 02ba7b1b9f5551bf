#include "app/fields/panel.h"

#include <QHash>
#include <QScreen>
#include <QWidget>

namespace app {

namespace {

constexpr int kGap = 2;                                   // px between field and panel
QHash<const QWidget*, std::function<QRect()>> s_inSight;  // by window

qint64 area(const QRect& r)
{
    return r.isEmpty() ? 0 : static_cast<qint64>(r.width()) * r.height();
}

}  // namespace

void keepInSight(QWidget* window, std::function<QRect()> what)
{
    s_inSight[window] = std::move(what);
    QObject::connect(window, &QObject::destroyed, [window] { s_inSight.remove(window); });
}

QRect roomFor(const QWidget* field)
{
    return field->screen()->availableGeometry().adjusted(kGap, kGap, -kGap, -kGap);
}

void openBeside(QWidget* panel, const QWidget* field)
{
    const QRect screen = roomFor(field);
    panel->setProperty("panel", true);
    panel->setAttribute(Qt::WA_StyledBackground);
    panel->ensurePolished();
    panel->adjustSize();
    const QSize size = panel->size().boundedTo(screen.size());
    const QRect from(field->mapToGlobal(QPoint(0, 0)), field->size());
    const auto asked = s_inSight.value(field->window());
    const QRect inSight = asked ? asked() : QRect();
    const QPoint right(from.right() + 1 - size.width(), 0);  // right edges together
    QRect best;
    for (const QPoint at : {QPoint(from.left(), from.bottom() + kGap), QPoint(right.x(), from.bottom() + kGap),
                            QPoint(from.left(), from.top() - kGap - size.height()), QPoint(right.x(), from.top() - kGap - size.height()),
                            QPoint(from.left() - kGap - size.width(), from.top()), QPoint(from.right() + kGap, from.top())}) {
        QRect place(at, size);
        place.moveRight(std::min(place.right(), screen.right()));
        place.moveBottom(std::min(place.bottom(), screen.bottom()));
        place.moveLeft(std::max(place.left(), screen.left()));
        place.moveTop(std::max(place.top(), screen.top()));
        if (best.isNull() || area(place & inSight) + area(place & from) < area(best & inSight) + area(best & from))
            best = place;
    }
    panel->setGeometry(best);
    panel->show();
}

}  // namespace app
