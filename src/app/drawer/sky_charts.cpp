#include "app/drawer/sky_charts.h"

#include <QContextMenuEvent>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "app/picture/paint.h"
#include "app/style.h"
#include "work/scene.h"

namespace app {

namespace {

using session::ChartPlace;

constexpr double kLug = 9;                          // px within which a lug is taken
constexpr int kSkyPixels = 160, kQuickPixels = 64;  // across a chart, of its sky, at rest and while a hand moves
constexpr int kBorder = 96;                         // points of a card's edge
constexpr float kShown = 0.5f;                      // how bright white is shown: cards are brighter
constexpr double kTurnStep = 1;                     // degrees an arrow key moves by

}  // namespace

SkyCharts::SkyCharts(const Context& context, QWidget* parent) : QWidget(parent), m_context(context)
{
    setObjectName("drawer.sky");
    setAccessibleName(tr("Sky charts"));
    setAccessibleDescription(tr("Arrow keys move the chosen card, with Shift further; Delete removes it"));
    setToolTip(
        tr("Drag cards; the square makes them larger, the ring turns them, the wheel makes them brighter. Double-click adds a card."));
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(236);
    m_close = new QToolButton(this);
    m_close->setObjectName("drawer.sky.close");
    m_close->setText(tr("Close"));
    m_close->setToolTip(tr("Puts the charts away (Esc)"));
    connect(m_close, &QToolButton::clicked, this, &SkyCharts::closeWanted);
}

void SkyCharts::refresh()
{
    if (isVisible())
        update();
}

void SkyCharts::resizeEvent(QResizeEvent*)
{
    m_close->adjustSize();
    m_close->move(width() - m_close->width() - kGrid, kGrid);
    m_sky[0] = m_sky[1] = {};
}

const work::SkyCard* SkyCharts::chosen() const
{
    const auto found = around().cards.items.find(*m_context.card);
    return found == around().cards.items.end() ? nullptr : &found->second;
}

QRectF SkyCharts::circle(bool behind) const
{
    const double top = smallTextPx() + 3 * kGrid, side = std::min(height() - top - 2.0 * kGrid, width() / 2.0 - 4.0 * kGrid);
    const double middle = width() * (behind ? 0.75 : 0.25);
    return {middle - side / 2, top, side, side};
}

QPointF SkyCharts::at(base::Vec3 direction) const
{
    const ChartPlace place = session::onChart(direction);
    const QRectF round = circle(place.behind);
    return round.center() + QPointF(place.at.x, -place.at.y) * (round.width() / 2);
}

base::Vec3 SkyCharts::directionAt(QPointF place) const
{
    const bool behind = place.x() > width() / 2.0;
    const QRectF round = circle(behind);
    const QPointF off = (place - round.center()) / (round.width() / 2);
    return session::fromChart({behind, {off.x(), -off.y()}});
}

std::optional<std::string> SkyCharts::cardAt(QPointF place) const
{
    const base::Vec3 direction = directionAt(place);
    const auto& cards = around().cards;
    for (auto id = cards.order.rbegin(); id != cards.order.rend(); ++id)
        if (session::covers(cards.items.at(*id), around(), direction) ||
            distance(at(session::directionOf(cards.items.at(*id), around())), place) < kLug)
            return *id;
    return {};
}

std::optional<SkyCharts::Grip> SkyCharts::gripAt(QPointF place) const
{
    const work::SkyCard* card = chosen();
    if (!card)
        return {};
    if (distance(at(session::cornerOf(*card, around())), place) < kLug)
        return Grip::Corner;
    if (distance(at(session::topOf(*card, around())), place) < kLug)
        return Grip::Top;
    return {};
}

void SkyCharts::choose(const std::string& card)
{
    *m_context.card = card;
    m_context.session->choose(m_context.session->choice());  // rows show it
    update();
}

void SkyCharts::change(const char* label, const std::function<void(work::SkyCard&)>& change)
{
    if (chosen())
        m_context.session->edit(tr(label).toStdString(), label,
                                [&](work::Work& w) { change(w.surroundings.cards.items.at(*m_context.card)); });
}

void SkyCharts::add(base::Vec3 direction, bool flag)
{
    m_context.session->edit((flag ? tr("Add flag") : tr("Add card")).toStdString(), [&](work::Work& w) {
        work::SkyCard card;
        if (flag)
            card.colour = {0, 0, 0};
        if (w.surroundings.kind == work::SurroundingsKind::Even)
            w.surroundings.kind = work::SurroundingsKind::Sky;
        *m_context.card = w.newId("k");
        w.surroundings.cards.add(*m_context.card, session::cardTowards(card, w.surroundings, direction));
    });
}

void SkyCharts::remove()
{
    if (chosen())
        m_context.session->edit(tr("Remove card").toStdString(), [&](work::Work& w) {
            w.surroundings.cards.items.erase(*m_context.card);
            std::erase(w.surroundings.cards.order, *m_context.card);
        });
}

void SkyCharts::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton || m_drag)
        return;
    const QPointF place = event->position();
    const auto grip = gripAt(place);
    const auto card = grip ? std::optional(*m_context.card) : cardAt(place);
    if (!card)
        return;
    if (!grip)
        choose(*card);
    const work::SkyCard& held = around().cards.items.at(*card);
    const base::Vec3 towards = !grip                  ? session::directionOf(held, around())
                               : grip == Grip::Corner ? session::cornerOf(held, around())
                                                      : session::topOf(held, around());
    m_drag.emplace(
        Drag{grip.value_or(Grip::Middle), *card, at(towards) - place, session::Gesture(*m_context.session, tr("Card").toStdString())});
}

void SkyCharts::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_drag)
        return;
    if (m_drag->gesture.isCalledOff() || !around().cards.items.contains(m_drag->card)) {
        m_drag.reset();
        return;
    }
    const base::Vec3 direction = directionAt(event->position() + m_drag->off);
    const work::Surroundings& start = m_drag->gesture.start().surroundings;
    const work::SkyCard& card = start.cards.items.at(m_drag->card);
    const work::SkyCard moved = m_drag->grip == Grip::Middle   ? session::cardTowards(card, start, direction)
                                : m_drag->grip == Grip::Corner ? session::withCornerAt(card, start, direction)
                                                               : session::withTopTowards(card, start, direction);
    m_drag->gesture.move([&](work::Work& w) { w.surroundings.cards.items.at(m_drag->card) = moved; });
}

void SkyCharts::mouseReleaseEvent(QMouseEvent*)
{
    if (!m_drag)
        return;
    m_drag->gesture.end();
    m_drag.reset();
    m_sky[0] = m_sky[1] = {};
    update();
}

void SkyCharts::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton && !cardAt(event->position()))
        add(directionAt(event->position()), false);
}

void SkyCharts::wheelEvent(QWheelEvent* event)
{
    const auto card = cardAt(event->position());
    if (!card)
        return;
    event->accept();
    if (*card != *m_context.card)
        choose(*card);
    const double by = event->angleDelta().y() / 480.0;  // a quarter stop a notch
    change("Brightness of a card", [&](work::SkyCard& c) { c.stops = std::clamp(c.stops + by, -20.0, 20.0); });
}

void SkyCharts::keyPressEvent(QKeyEvent* event)
{
    const double step = event->modifiers() & Qt::ShiftModifier ? 10 * kTurnStep : kTurnStep;
    const auto move = [&](double right, double up) {
        change("Card", [&](work::SkyCard& c) {
            c.direction = std::remainder(c.direction + right, 360);
            c.height = std::clamp(c.height + up, -90.0, 90.0);
        });
    };
    switch (event->key()) {
    case Qt::Key_Left:
        return move(-step, 0);
    case Qt::Key_Right:
        return move(step, 0);
    case Qt::Key_Up:
        return move(0, step);
    case Qt::Key_Down:
        return move(0, -step);
    case Qt::Key_Delete:
        return remove();
    case Qt::Key_Escape:
        if (m_drag) {
            m_drag->gesture.end(true);
            m_drag.reset();
            return;
        }
        Q_EMIT closeWanted();
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void SkyCharts::contextMenuEvent(QContextMenuEvent* event)
{
    const QPointF place = event->reason() == QContextMenuEvent::Mouse ? QPointF(event->pos()) : circle(false).center();
    const auto card = cardAt(place);
    if (card)
        choose(*card);
    QMenu menu;
    menu.setObjectName("drawer.sky.menu");
    menu.addAction(tr("Card here"), this, [=, this] { add(directionAt(place), false); });
    menu.addAction(tr("Flag here"), this, [=, this] { add(directionAt(place), true); });
    if (card) {
        menu.addSeparator();
        menu.addAction(tr("Remove"), this, [this] { remove(); });
    }
    menu.exec(event->globalPos());
}

void SkyCharts::paintChart(QPainter& painter, bool behind)
{
    const QRectF round = circle(behind);
    QImage& sky = m_sky[behind ? 1 : 0];
    const int pixels = m_drag ? kQuickPixels : kSkyPixels;
    if (sky.isNull()) {
        light::Sky shown;
        if (around().kind != work::SurroundingsKind::Even)
            shown = work::skyOf(m_context.session->work());
        sky = QImage(pixels, pixels, QImage::Format_RGB32);
        for (int y = 0; y < pixels; ++y)
            for (int x = 0; x < pixels; ++x) {
                const base::Vec2 place{2 * (x + 0.5) / pixels - 1, 1 - 2 * (y + 0.5) / pixels};
                const base::Rgb light = shown.radiance(toFloat(session::fromChart({behind, place}))) * kShown;
                const base::Rgb seen = picture::encodeSrgb(picture::applyViewTransform(light, picture::ViewTransform::SoftWhites));
                const auto byte = [](float v) { return static_cast<int>(std::lround(255 * std::clamp(v, 0.0f, 1.0f))); };
                sky.setPixel(x, y, qRgb(byte(seen.x), byte(seen.y), byte(seen.z)));
            }
    }
    QPainterPath clip;
    clip.addEllipse(round);
    painter.save();
    painter.setClipPath(clip);
    painter.drawImage(round, sky);
    painter.setClipping(false);
    painter.setPen(QPen(colours().ink, 1));
    painter.drawEllipse(round);
    // The horizon, and straight ahead.
    painter.setPen(QPen(QColor(128, 128, 128, 140), 1, Qt::DotLine));
    painter.drawLine(QPointF(round.left(), round.center().y()), QPointF(round.right(), round.center().y()));
    painter.drawLine(QPointF(round.center().x(), round.top()), QPointF(round.center().x(), round.bottom()));
    painter.restore();
    painter.setPen(colours().ink);
    painter.drawText(QRectF(round.left() - 4 * kGrid, 0, round.width() + 8 * kGrid, round.top()), Qt::AlignCenter,
                     behind ? tr("Behind the letters") : tr("Before the letters"));
}

void SkyCharts::paintCard(QPainter& painter, const work::SkyCard& card, bool isChosen) const
{
    const std::vector<base::Vec3> border = session::borderOf(card, around(), kBorder);
    for (std::size_t i = 0; i < border.size(); ++i) {
        const base::Vec3 next = border[(i + 1) % border.size()];
        if (session::onChart(border[i]).behind != session::onChart(next).behind)
            continue;  // over the rim, to the other chart
        const QPointF a = at(border[i]), b = at(next);
        painter.setPen(QPen(isChosen ? colours().accent : kDarkTone, isChosen ? 3 : 2));
        painter.drawLine(a, b);
        painter.setPen(QPen(kLightTone, 1));
        painter.drawLine(a, b);
    }
    if (!isChosen)
        return;
    painter.setPen(QPen(kDarkTone, 1.4));
    painter.setBrush(kLightTone);
    const QPointF corner = at(session::cornerOf(card, around())), top = at(session::topOf(card, around()));
    painter.drawRect(QRectF(corner.x() - 4, corner.y() - 4, 8, 8));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(kDarkTone, 4));
    painter.drawEllipse(top, 5, 5);
    painter.setPen(QPen(kLightTone, 2));
    painter.drawEllipse(top, 5, 5);
}

void SkyCharts::paintEvent(QPaintEvent*)
{
    if (!(m_of == around())) {
        m_of = around();
        m_sky[0] = m_sky[1] = {};
    }
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setPen(Qt::NoPen);
    painter.setBrush(colours().paper);
    painter.drawRoundedRect(rect(), 6, 6);
    painter.setBrush(Qt::NoBrush);
    paintChart(painter, false);
    paintChart(painter, true);
    for (const std::string& id : around().cards.order)
        if (const work::SkyCard& card = around().cards.items.at(id); card.on && id != *m_context.card)
            paintCard(painter, card, false);
    if (const work::SkyCard* card = chosen())
        paintCard(painter, *card, true);
    if (around().kind == work::SurroundingsKind::Even) {
        painter.setPen(colours().ink);
        painter.drawText(rect(), Qt::AlignCenter, tr("Light is the same\nfrom everywhere.\nDouble-click adds\na card."));
    }
    if (hasFocus()) {
        painter.setPen(QPen(colours().accent, 2));
        painter.drawRoundedRect(rect().adjusted(1, 1, -1, -1), 6, 6);
    }
}

}  // namespace app
