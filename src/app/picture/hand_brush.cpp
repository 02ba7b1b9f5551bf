// Where a layer of the finish acts, drawn with a round brush.
#include "app/picture/hands.h"
#include "app/picture/paint.h"
#include "app/picture/picture_view.h"
#include "app/style.h"
#include "session/layers.h"

namespace app {

using base::Vec2;

namespace {

constexpr double kStepOfBrush = 1.0 / 8;  // between two points of a stroke, of the brush's size

}  // namespace

Vec2 Hands::onSheet(const QPointF& place) const
{
    const Vec2 uv = m_view.toFrame(place);
    const work::SheetSize& sheet = m_context.session->work().sheet();
    return {(uv.x - 0.5) * sheet.widthPt(), (0.5 - uv.y) * sheet.heightPt()};
}

void Hands::beginStroke(const QPointF& from, Qt::KeyboardModifiers modifiers)
{
    const std::string layer = m_aim->id;
    if (!m_context.session->work().finish.layers.items.contains(layer)) {
        m_context.say(handText("There is no layer to draw for: choose one"));
        return;
    }
    session::Brush brush = *m_context.brush;
    brush.erases = brush.erases != bool(modifiers & Qt::ShiftModifier);
    const double step = brush.sizeOn(m_context.session->work().sheet()) * kStepOfBrush;
    const auto points = std::make_shared<std::vector<Vec2>>(1, onSheet(from));
    const auto show = [=, this] { change([&](work::Work& w) { session::addStroke(w, layer, *points, brush); }); };
    Drag drag;
    drag.move = [=, this](const QPointF& place, Qt::KeyboardModifiers) {
        const Vec2 at = onSheet(place);
        if (base::length(at - points->back()) < step)
            return;
        points->push_back(at);
        show();
    };
    drag.done = [=, this](bool, const QPointF&, Qt::KeyboardModifiers) {
        if (points->size() == 1)  // a dot, also of a hand that was not quite still
            m_context.session->edit(handText("Draw where a layer acts").toStdString(),
                                    [&](work::Work& w) { session::addStroke(w, layer, *points, brush); });
    };
    begin(std::move(drag), from, handText("Draw where a layer acts"));
}

// The brush where the pointer is, and the lines of what was drawn.
void Hands::paintBrush(QPainter& painter) const
{
    const work::Work& w = m_context.session->work();
    const QRectF frame = m_view.frameRect();
    const double perPt = frame.width() / w.sheet().widthPt();
    const auto shown = [&](const Vec2& p) { return m_view.fromFrame({0.5 + p.x / w.sheet().widthPt(), 0.5 - p.y / w.sheet().heightPt()}); };
    if (const auto layer = w.finish.layers.items.find(m_aim->id); layer != w.finish.layers.items.end())
        for (const auto& [_, stroke] : layer->second.strokes.items) {
            const std::vector<Vec2> points = work::pointsOf(stroke.points);
            if (points.empty())
                continue;
            QPainterPath line(shown(points.front()));
            for (const Vec2& p : points)
                line.lineTo(shown(p));
            twoTone(painter, line, stroke.erases ? Qt::DotLine : Qt::SolidLine);
        }
    const double radius = m_context.brush->sizeOn(w.sheet()) / 2 * perPt, core = radius * (1 - m_context.brush->softness);
    QPainterPath round, inner;
    round.addEllipse(m_pointer, radius, radius);
    inner.addEllipse(m_pointer, core, core);
    twoTone(painter, round);
    if (core < radius)
        twoTone(painter, inner, Qt::DotLine);
}

}  // namespace app
