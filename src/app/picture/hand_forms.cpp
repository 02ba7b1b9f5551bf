// Lugs of single kinds of form: a tube's width, the twist and the taper along the depth, and the point a block runs to.
#include <cmath>
#include <numbers>

#include "app/picture/hands.h"
#include "app/picture/paint.h"
#include "app/picture/picture_view.h"
#include "app/style.h"
#include "base/units.h"
#include "render/camera.h"

namespace app {

using base::Vec2;
using base::Vec3;

namespace {

constexpr double kAside = 16;  // px a lug stands beside what it changes
constexpr double kLeastTaper = 0.0, kMostTaper = 10;

template <class F>
const F* lastOf(const session::Session& session)
{
    const auto forms = session::formsOf<F>(session.work(), session.choice());
    return forms.empty() ? nullptr : forms.back();
}

// What happens along the depth of the form that was chosen last; nullptr where it has no depth to go along.
const solid::Along* lastAlong(const session::Session& session)
{
    const auto forms = session::formsOf(session.work(), session.choice());
    return forms.empty() || work::depthOf(*forms.back()) <= 0 ? nullptr : work::alongOf(*forms.back());
}

}  // namespace

void Hands::addFormLugs(std::vector<Lug>& lugs, const Extent& s) const
{
    const session::Session& session = *m_context.session;
    const base::Pose& pose = s.pose;
    if (lastOf<solid::TubeForm>(session))
        lugs.push_back({Lug::Kind::TubeWidth, seen(s.top) + QPointF(0, -kAside), {}});
    if (const auto* block = lastOf<solid::BlockForm>(session))
        lugs.push_back({Lug::Kind::Point, seen(pose.origin + pose.right * block->x + pose.up * block->y + pose.out * s.box.high.z), {}});
    if (lastAlong(session)) {
        const Vec3 back = pose.origin + pose.out * s.box.low.z;
        lugs.push_back({Lug::Kind::Twist, seen(back + pose.right * s.box.low.x + pose.up * s.box.high.y) + QPointF(-kAside, -kAside), {}});
        lugs.push_back({Lug::Kind::Taper, seen(back + pose.right * s.box.low.x + pose.up * s.box.low.y) + QPointF(-kAside, kAside), {}});
    }
}

bool Hands::beginFormLug(const Lug& lug, const Extent& s, const QPointF& from)
{
    const session::Choice choice = m_context.session->choice();
    const render::Camera camera = shownWork()->camera;
    const Vec2 grabbed = m_view.toFrame(from);
    auto text = std::make_shared<QString>();
    Drag drag = labelled(text);
    // Everything that is chosen changes alike.
    const auto eachAlong = [=, this](const auto& set) {
        change([&](work::Work& w) {
            for (work::Form* form : session::formsIn(w, choice))
                if (solid::Along* along = work::alongOf(*form))
                    set(*along);
            session::tidyLetters(w);
        });
    };
    switch (lug.kind) {
    case Lug::Kind::TubeWidth: {
        const double was = lastOf<solid::TubeForm>(*m_context.session)->widthPt;
        drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers) {
            // It grows on both sides of its middle.
            const double tenth = m_context.unit().toPt(0.1);
            const double by = std::round(2 * session::alongAxis(camera, s.top, s.pose.up, grabbed, m_view.toFrame(to)) / tenth) * tenth;
            change([&](work::Work& w) {
                for (solid::TubeForm* tube : session::formsIn<solid::TubeForm>(w, choice))
                    tube->widthPt = std::max(tenth, tube->widthPt + by);
                session::tidyLetters(w);
            });
            *text = handText("width %1").arg(length(std::max(tenth, was + by)));
        };
        begin(std::move(drag), from, handText("Tube"));
        return true;
    }
    case Lug::Kind::Point: {
        base::Pose plane = s.pose;
        plane.origin = plane.origin + plane.out * s.box.high.z;
        drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
            const auto a = onPose(plane, from), b = onPose(plane, to);
            if (!a || !b)
                return;
            Vec2 by = *b - *a;
            if (modifiers & Qt::ShiftModifier)
                (std::abs(by.x) > std::abs(by.y) ? by.y : by.x) = 0;
            change([&](work::Work& w) {
                for (solid::BlockForm* block : session::formsIn<solid::BlockForm>(w, choice)) {
                    block->x += by.x;
                    block->y += by.y;
                    *text = handText("%1 across, %2 up").arg(length(block->x), length(block->y));
                }
                session::tidyLetters(w);
            });
        };
        begin(std::move(drag), from, handText("Point of a block"));
        return true;
    }
    case Lug::Kind::Twist: {
        Vec2 centre{0.5, 0.5};
        render::project(camera, s.pose.apply(s.box.centre()), centre);
        const double was = lastAlong(*m_context.session)->twist;
        drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
            double by = std::remainder(
                session::angleAround(camera, centre, m_view.toFrame(to)) - session::angleAround(camera, centre, m_view.toFrame(from)), 360);
            if (const double near = std::round((was + by) / 15) * 15; !(modifiers & Qt::ControlModifier) && std::abs(was + by - near) < 2)
                by = near - was;
            by = std::round(by * 10) / 10;
            eachAlong([&](solid::Along& along) { along.twist += by; });
            *text = handText("twisted %1°").arg(was + by, 0, 'f', 1);
        };
        begin(std::move(drag), from, handText("Twist"));
        return true;
    }
    case Lug::Kind::Taper: {
        const QPointF middle = seen(s.pose.apply({s.box.centre().x, s.box.centre().y, s.box.low.z}));
        const double reached = std::max(8.0, distance(from, middle)), was = lastAlong(*m_context.session)->taper;
        drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
            double now = was + distance(to, middle) / reached - 1;
            if (!(modifiers & Qt::ControlModifier))
                now = std::round(now * 20) / 20;
            now = std::clamp(now, kLeastTaper, kMostTaper);
            eachAlong([&](solid::Along& along) { along.taper = std::clamp(along.taper + now - was, kLeastTaper, kMostTaper); });
            *text = handText("back %1 %").arg(std::round(now * 100));
        };
        begin(std::move(drag), from, handText("Taper"));
        return true;
    }
    default:
        return false;
    }
}

QString Hands::paintFormLug(QPainter& painter, const Lug& lug) const
{
    const QPointF at = lug.at;
    switch (lug.kind) {
    case Lug::Kind::TubeWidth:
        painter.drawEllipse(at, 8, 8);
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, 4, 4);
        return handText("width of the tube");
    case Lug::Kind::Point: {
        // Rays that meet.
        painter.drawPolygon(QPolygonF{at + QPointF(0, -9), at + QPointF(9, 0), at + QPointF(0, 9), at + QPointF(-9, 0)});
        painter.drawLine(at + QPointF(-5, 0), at + QPointF(5, 0));
        painter.drawLine(at + QPointF(0, -5), at + QPointF(0, 5));
        return handText("where the sides run to");
    }
    case Lug::Kind::Twist: {
        // A piece of a screw's thread.
        QPolygonF thread;
        for (int i = 0; i <= 12; ++i)
            thread << at + QPointF(-9 + 1.5 * i, -5 * std::sin(i * std::numbers::pi / 6));
        for (int i = 12; i >= 0; --i)
            thread << at + QPointF(-9 + 1.5 * i, 6 - 5 * std::sin(i * std::numbers::pi / 6));
        painter.drawPolygon(thread);
        return handText("twist the back");
    }
    case Lug::Kind::Taper:
        painter.drawPolygon(QPolygonF{at + QPointF(-9, 6), at + QPointF(9, 6), at + QPointF(4, -6), at + QPointF(-4, -6)});
        return handText("size of the back");
    default:
        return {};
    }
}

}  // namespace app
