// Lamps on stands round the lettering, on a plan laid over the picture.
#include "app/picture/hands.h"

#include <cmath>
#include <numbers>

#include "app/picture/paint.h"
#include "app/picture/picture_view.h"
#include "app/style.h"
#include "session/edits.h"

namespace app {

using base::Vec2;
using base::Vec3;

namespace {

constexpr double kPlanShare = 0.44;  // radius of the plan, of the frame's shorter side
constexpr double kNear = 48;         // px from a lamp's foot or head
constexpr double kFaint = 0.35;

}  // namespace

QPointF Hands::onPlan(Vec2 place) const
{
    const QRectF frame = m_view.frameRect();
    const double radius = kPlanShare * std::min(frame.width(), frame.height());
    return frame.center() + QPointF(place.x, -place.y) * radius;
}

Vec2 Hands::fromPlan(QPointF place) const
{
    const QRectF frame = m_view.frameRect();
    const double radius = kPlanShare * std::min(frame.width(), frame.height());
    const QPointF d = (place - frame.center()) / radius;
    return {d.x(), -d.y()};
}

void Hands::beginLamp(const Lug& lug, const QPointF& from)
{
    if (*m_context.light != lug.light) {
        *m_context.light = lug.light;
        m_context.lightChanged();
    }
    const work::Light start = m_context.session->work().lights.items.at(lug.light);
    const session::LampPlan plan(m_context.session->work());
    const Vec2 off = fromPlan(lug.at) - fromPlan(from);
    auto text = std::make_shared<QString>();
    Drag drag;
    drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers) {
        work::Light light = start;
        const Vec2 place = fromPlan(to) + off;
        if (lug.kind == Lug::Kind::LampFoot) {
            light = plan.withFoot(start, place);
            *text = light.kind == light::LightKind::Sun
                        ? handText("from %1°").arg(light.direction, 0, 'f', 0)
                        : handText("from %1°, %2 away").arg(light.direction, 0, 'f', 0).arg(length(light.distance));
        } else if (lug.kind == Lug::Kind::LampHead) {
            light = plan.withHead(start, place.y);
            *text = handText("%1° high").arg(light.height, 0, 'f', 0);
        } else {
            const double factor = std::exp2((to.x() - from.x()) / 60);
            light.width = std::clamp(start.width * factor, 0.1, 1e6);
            light.breadth = std::clamp(start.breadth * factor, 0.1, 1e6);
            light.size = std::clamp(start.size * factor, 0.1, 1e6);
            light.sunSize = std::clamp(start.sunSize * factor, 0.01, 90.0);
            *text = light.kind == light::LightKind::Softbox ? handText("%1 wide").arg(length(light.width))
                    : light.kind == light::LightKind::Sun   ? handText("%1° wide").arg(light.sunSize, 0, 'f', 2)
                                                            : handText("%1 wide").arg(length(light.size));
        }
        change([&](work::Work& w) { w.lights.items.at(lug.light) = light; });
    };
    drag.paint = [=, this](QPainter& painter) {
        if (!text->isEmpty())
            paintLabel(painter, m_pointer, *text);
    };
    begin(std::move(drag), from, lug.kind == Lug::Kind::LampSize ? handText("Size of a light") : handText("Place of a light"));
}

void Hands::paintLamps(QPainter& painter) const
{
    const work::Work& w = m_context.session->work();
    const session::LampPlan plan(w);
    // Faint over the letters until a hand comes near.
    const auto all = lugs();
    const bool near = m_drag || std::any_of(all.begin(), all.end(), [&](const Lug& lug) { return distance(lug.at, m_pointer) < kNear; });
    painter.setOpacity(near ? 1 : kFaint);
    for (const double radius : {0.5, 1.0}) {
        QPolygonF ring;
        for (int i = 0; i <= 72; ++i)
            ring << onPlan(plan.onPlan(i * 5.0, radius, 0));
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(QColor(255, 255, 255, 150), 3));
        painter.drawPolyline(ring);
        painter.setPen(QPen(kDarkTone, 1, radius == 1.0 ? Qt::SolidLine : Qt::DotLine));
        painter.drawPolyline(ring);
    }
    for (const std::string& id : w.lights.order) {
        const work::Light& light = w.lights.items.at(id);
        if (light.newer)
            continue;
        const session::Lamp lamp = plan.lamp(light);
        const QPointF foot = onPlan(lamp.foot), head = onPlan(lamp.head);
        const bool shown = id == *m_context.light;
        twoTone(painter, foot, head, lamp.behind ? Qt::DotLine : Qt::SolidLine);
        const QColor fill = light.on ? QColor(255, 250, 225) : QColor(120, 120, 120);
        painter.setPen(QPen(shown ? colours(Variant::Light).accent : kDarkTone, shown ? 3 : 1.5));
        painter.setBrush(fill);
        painter.drawEllipse(foot, 6, 3);
        switch (light.kind) {
        case light::LightKind::Softbox:
            painter.drawRect(QRectF(head.x() - 11, head.y() - 8, 22, 16));
            break;
        case light::LightKind::Sun:
            for (int i = 0; i < 8; ++i) {
                const QPointF ray(std::cos(i * std::numbers::pi / 4), std::sin(i * std::numbers::pi / 4));
                painter.drawLine(head + ray * 10, head + ray * 14);
            }
            painter.drawEllipse(head, 8, 8);
            break;
        case light::LightKind::Bulb:
            painter.drawEllipse(head, 8, 8);
            break;
        case light::LightKind::Spot: {
            const QPointF way = QPointF(m_view.frameRect().center() - head) / std::max(1.0, distance(head, m_view.frameRect().center())),
                          side(-way.y(), way.x());
            painter.drawPolygon(QPolygonF{head - way * 8, head + way * 9 + side * 10, head + way * 9 - side * 10});
            break;
        }
        }
        if (shown) {
            painter.setPen(QPen(kDarkTone, 1.4));
            painter.setBrush(kLightTone);
            painter.drawRect(QRectF(head.x() + 22, head.y() - 4, 8, 8));
            if (near)
                paintLabel(painter, head + QPointF(8, 6), QString::fromStdString(session::lightTitle(w, id)));
        }
    }
    painter.setOpacity(1);
}

}  // namespace app
