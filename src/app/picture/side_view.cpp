#include "app/picture/side_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include "app/picture/paint.h"
#include "app/style.h"

namespace app {

namespace {

constexpr double kSnap = 7;  // px

QPolygonF polygon(const std::vector<base::Vec2>& points, const std::function<QPointF(base::Vec2)>& at)
{
    QPolygonF shape;
    for (const base::Vec2& p : points)
        shape << at(p);
    return shape;
}

}  // namespace

QPointF SideView::Panel::at(base::Vec2 p) const
{
    const base::Vec2 middle = (low + high) * 0.5;
    return place.center() + QPointF((p.x - middle.x) * scale, -(p.y - middle.y) * scale);
}

SideView::SideView(const Context& context, QWidget* parent) : QWidget(parent), m_context(context)
{
    setObjectName("drawer.side");
    setAccessibleName(tr("Side view"));
    setAccessibleDescription(tr("Arrow left and right move what is chosen in depth"));
    setToolTip(tr("Drag letters in depth; they hold at the ground and at their neighbours. Ctrl lets them pass."));
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(196);
}

void SideView::show(const std::shared_ptr<const session::ShownWork>& shownWork)
{
    m_shownWork = shownWork;
    m_stale = true;
    if (isVisible())
        rebuild();
}

void SideView::showEvent(QShowEvent*)
{
    rebuild();
}

void SideView::resizeEvent(QResizeEvent*)
{
    layOut();
}

void SideView::rebuild()
{
    if (m_shownWork && m_stale) {
        m_outlines = session::sideOutlines(m_shownWork->bodies);
        m_contacts = session::contactsOf(m_shownWork->work, m_shownWork->bodies);
        m_stale = false;
        if (!m_drag)
            layOut();
    }
    update();
}

void SideView::layOut()
{
    const double half = width() / 2.0, top = smallTextPx() + 3 * kGrid;
    m_side.place = QRectF(3 * kGrid, top, half - 4 * kGrid, height() - top - 3 * kGrid);
    m_above.place = QRectF(half + kGrid, top, half - 4 * kGrid, height() - top - 3 * kGrid);
    base::Box2 side, above;
    for (const session::SideOutline& o : m_outlines) {
        for (const base::Vec2& p : o.side)
            side.add(p);
        for (const base::Vec2& p : o.above)
            above.add(p);
    }
    if (m_shownWork && !side.empty()) {
        const work::Ground& g = m_shownWork->work.ground;
        const bool wall = g.kind == render::GroundKind::Wall || g.kind == render::GroundKind::Sweep;
        const bool floor = g.kind == render::GroundKind::Floor || g.kind == render::GroundKind::Sweep;
        if (wall) {
            side.add(base::Vec2{-g.wallBehind, side.low.y});
            above.add(base::Vec2{above.low.x, -g.wallBehind});
        }
        if (floor)
            side.add(base::Vec2{side.low.x, -g.floorBelow});
    }
    const auto fit = [](Panel& panel, base::Box2 box) {
        if (box.empty())
            box = {{-100, -100}, {100, 100}};
        // Room to drag to.
        const double spare = 0.12 * std::max(box.high.x - box.low.x, box.high.y - box.low.y) + 1;
        panel.low = box.low - base::Vec2{spare, spare};
        panel.high = box.high + base::Vec2{spare, spare};
        panel.scale = std::min(panel.place.width() / (panel.high.x - panel.low.x), panel.place.height() / (panel.high.y - panel.low.y));
    };
    if (!above.empty())  // room for the viewer
        above.high.y += 0.15 * std::max(above.high.x - above.low.x, above.high.y - above.low.y);
    fit(m_side, side);
    fit(m_above, above);
}

QPointF SideView::fromSide(base::Vec3 p) const
{
    return m_side.at({p.z, p.y});
}

// Seen from above the viewer stands below: towards you is down.
QPointF SideView::fromAbove(base::Vec3 p) const
{
    return m_above.at({p.x, m_above.low.y + m_above.high.y - p.z});
}

void SideView::paintPanel(QPainter& painter, const Panel& panel, bool side) const
{
    const Colours& c = colours();
    QFont title = font();
    title.setPixelSize(smallTextPx());
    title.setWeight(QFont::DemiBold);
    painter.setFont(title);
    painter.setPen(c.softInk);
    painter.drawText(QRectF(panel.place.left(), kGrid, panel.place.width(), panel.place.top() - kGrid), Qt::AlignVCenter,
                     side ? tr("From the side: you stand at the right") : tr("From above: you stand below"));
    QPainterPath frame;
    frame.addRoundedRect(panel.place, kRound, kRound);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillPath(frame, c.field);
    if (m_shownWork) {
        painter.save();
        painter.setClipPath(frame);
        paintPlan(painter, panel, side);
        painter.restore();
    }
    painter.setPen(QPen(c.line, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(frame);
    if (side)
        paintViewer(painter, QPointF(panel.place.right() - 4 * kGrid, panel.place.center().y()), 90);
    else
        paintViewer(painter, QPointF(panel.place.center().x(), panel.place.bottom() - 3 * kGrid), 0);
}

// The ground in its own colours, solid behind its line.
void SideView::paintGround(QPainter& painter, const Panel& panel, bool side) const
{
    const auto at = [&](base::Vec2 p) { return side ? panel.at(p) : panel.at({p.x, panel.low.y + panel.high.y - p.y}); };
    const work::Ground& g = m_shownWork->work.ground;
    const bool wall = g.kind == render::GroundKind::Wall || g.kind == render::GroundKind::Sweep;
    const bool floor = g.kind == render::GroundKind::Floor || g.kind == render::GroundKind::Sweep;
    const double far = 1e5;
    const auto half = [&](base::Vec2 a, base::Vec2 b, const work::Material& material) {
        painter.setBrush(seenColour(material.baseColour));
        painter.setPen(QPen(colours().edge, 1));
        painter.drawRect(QRectF(at(a), at(b)).normalized());
    };
    if (wall)
        side ? half({-far, -far}, {-g.wallBehind, far}, g.wall) : half({-far, -far}, {far, -g.wallBehind}, g.wall);
    if (floor && side)
        half({-far, -far}, {far, -g.floorBelow}, g.floor);
    if (g.kind == render::GroundKind::Sweep && side) {
        QPolygonF bend{at({-g.wallBehind, -g.floorBelow})};
        for (int i = 0; i <= 16; ++i) {
            const double a = i / 16.0 * std::numbers::pi / 2;
            bend << at({-g.wallBehind + g.sweep * (1 - std::cos(a)), -g.floorBelow + g.sweep * (1 - std::sin(a))});
        }
        painter.setPen(QPen(colours().edge, 1));
        painter.setBrush(seenColour(g.floor.baseColour));
        painter.drawPolygon(bend);
    }
}

void SideView::paintPlan(QPainter& painter, const Panel& panel, bool side) const
{
    const Colours& c = colours();
    paintGround(painter, panel, side);
    const auto at = [&](base::Vec2 p) { return side ? panel.at(p) : panel.at({p.x, panel.low.y + panel.high.y - p.y}); };
    const session::Choice& choice = m_context.session->choice();
    // Chosen ones are drawn last, over the others.
    for (const bool chosenOnes : {false, true})
        for (const session::SideOutline& o : m_outlines) {
            const bool chosen = choice.has({o.piece, {}}) || choice.has({o.piece, o.letter});
            if (chosen != chosenOnes)
                continue;
            QColor fill = pieceColour(m_shownWork->work, o.piece);
            fill.setAlpha(o.copy ? 70 : 200);
            painter.setBrush(fill);
            painter.setPen(QPen(chosen ? c.accent : c.softInk, chosen ? 2.2 : 1, o.copy ? Qt::DotLine : Qt::SolidLine));
            painter.drawPolygon(polygon(side ? o.side : o.above, at));
        }
    // What touches is a thick line, what cuts in a hatch.
    for (const session::Contact& contact : m_contacts) {
        const base::Vec3 low = contact.place.low, high = contact.place.high;
        const QPointF a = side ? at({low.z, low.y}) : at({low.x, low.z}), b = side ? at({high.z, high.y}) : at({high.x, high.z});
        if (std::abs(a.x() - b.x()) < 0.5 || std::abs(a.y() - b.y()) < 0.5) {
            painter.setPen(QPen(contact.cutsIn ? c.warning : c.ink, 4, Qt::SolidLine, Qt::FlatCap));
            painter.drawLine(a, b);
        } else if (contact.cutsIn) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(QBrush(c.warning, Qt::BDiagPattern));
            painter.drawRect(QRectF(a, b).normalized());
        }
    }
    if (m_drag && m_drag->side == side) {
        painter.setPen(QPen(c.accent, 1, Qt::DashLine));
        for (const session::SnapLine& line : m_drag->lines) {
            const QPointF a = side ? fromSide(line.from) : fromAbove(line.from), b = side ? fromSide(line.to) : fromAbove(line.to);
            const QPointF along = (b - a) * 100;
            painter.drawLine(a - along, b + along);
        }
    }
}

void SideView::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(colours().paper);
    painter.drawRoundedRect(rect(), 6, 6);
    paintPanel(painter, m_side, true);
    paintPanel(painter, m_above, false);
    if (hasFocus()) {
        painter.setPen(QPen(colours().accent, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(rect().adjusted(1, 1, -1, -1), 6, 6);
    }
}

std::vector<session::MoveDrag::Item> SideView::items() const
{
    std::vector<session::MoveDrag::Item> items;
    for (const session::Target& t : m_context.session->choice().targets)
        if (!m_context.session->work().pieces.items.at(t.piece).locked)
            items.push_back({t.piece, t.letter});
    return items;
}

void SideView::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton || !m_shownWork)
        return;
    const bool side = m_side.place.contains(event->position());
    if (!side && !m_above.place.contains(event->position()))
        return;
    const auto at = [&](base::Vec2 p) { return side ? m_side.at(p) : m_above.at({p.x, m_above.low.y + m_above.high.y - p.y}); };
    // The chosen one under the pointer is taken first, then the smallest.
    const session::SideOutline* found = nullptr;
    double least = 1e300;
    const session::Choice& choice = m_context.session->choice();
    for (const session::SideOutline& o : m_outlines) {
        const QPolygonF shape = polygon(side ? o.side : o.above, at);
        if (!shape.containsPoint(event->position(), Qt::OddEvenFill))
            continue;
        const bool chosen = choice.has({o.piece, {}}) || choice.has({o.piece, o.letter});
        const QRectF box = shape.boundingRect();
        const double size = box.width() * box.height() - (chosen ? 1e12 : 0);
        if (size < least) {
            least = size;
            found = &o;
        }
    }
    if (!found) {
        m_context.session->choose({});
        return;
    }
    if (!m_context.session->work().pieces.items.contains(found->piece))
        return;
    if (!choice.has({found->piece, {}}) && !choice.has({found->piece, found->letter})) {
        session::Choice chosen;
        chosen.set({found->piece, {}});
        m_context.session->choose(chosen);
    }
    m_drag =
        Drag{side, event->position(), session::Gesture(*m_context.session, tr("Move in depth").toStdString()), items(), m_shownWork, {}};
}

void SideView::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_drag)
        return;
    const QPointF d = event->position() - m_drag->from;
    const Panel& panel = m_drag->side ? m_side : m_above;
    base::Vec3 by =
        m_drag->side ? base::Vec3{0, -d.y() / panel.scale, d.x() / panel.scale} : base::Vec3{d.x() / panel.scale, 0, d.y() / panel.scale};
    // Mostly along one way means only along it.
    if (m_drag->side && std::abs(by.z) > 3 * std::abs(by.y))
        by.y = 0;
    moveBy(by, event->modifiers() & Qt::ControlModifier ? 0 : kSnap / panel.scale);
}

void SideView::moveBy(base::Vec3 by, double reach)
{
    if (m_drag->gesture.isCalledOff()) {
        m_drag.reset();
        return;
    }
    auto step = session::movedInDepth(m_drag->gesture.start(), m_drag->shownWork->bodies, m_drag->items, by, reach);
    m_drag->lines = std::move(step.lines);
    m_drag->gesture.move([&](work::Work& w) { w = std::move(step.work); });
    update();
}

void SideView::mouseReleaseEvent(QMouseEvent*)
{
    if (m_drag)
        m_drag->gesture.end();
    m_drag.reset();
    layOut();
    update();
}

void SideView::keyPressEvent(QKeyEvent* event)
{
    const int way = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (way == 0 || !m_shownWork || items().empty()) {
        QWidget::keyPressEvent(event);
        return;
    }
    const double step = m_context.unit().toPt(1) * way * (event->modifiers() & Qt::ShiftModifier ? 10 : 1);
    m_context.session->edit(tr("Move in depth").toStdString(), "depth key", [&](work::Work& w) {
        w = session::movedInDepth(m_context.session->work(), m_shownWork->bodies, items(), {0, 0, step}, 0).work;
    });
}

}  // namespace app
