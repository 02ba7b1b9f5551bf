// Lights, cards and the lens, set by a place in the picture.
#include <cmath>

#include "app/picture/hands.h"
#include "app/picture/paint.h"
#include "app/picture/picture_view.h"
#include "session/light_hand.h"

namespace app {

using base::Vec3;
using session::Touched;

void Hands::aimAt(AimAt what, const std::string& id)
{
    callOff();
    if (!shownWork()) {
        m_context.say(handText("Wait until the picture is there"));
        return;
    }
    m_aim = Aim{what, id};
    switch (what) {
    case AimAt::Glint:
        m_context.say(handText("Drag over a letter: the light goes where its reflection is seen there. Esc ends"));
        break;
    case AimAt::CardGlint:
        m_context.say(handText("Drag over a letter: the card goes where its reflection is seen there. Esc ends"));
        break;
    case AimAt::Shadow:
        m_context.say(handText("Drag a shadow on wall or floor: it follows; with Shift across its edge it gets softer. Esc ends"));
        break;
    case AimAt::Sharp:
        m_context.say(handText("Click on what is to be sharp"));
        break;
    case AimAt::Brush:
        m_context.say(handText("Draw where the layer acts; with Shift it takes away. Esc ends"));
        break;
    }
}

void Hands::beginAim(const QPointF& from, Qt::KeyboardModifiers modifiers)
{
    const Aim aim = *m_aim;
    if (aim.what == AimAt::Brush) {
        beginStroke(from, modifiers);
        return;
    }
    const work::Work& now = m_context.session->work();
    const bool isLight = aim.what == AimAt::Glint || aim.what == AimAt::Shadow;
    if ((isLight && (!now.lights.items.contains(aim.id) || now.lights.items.at(aim.id).newer)) ||
        (aim.what == AimAt::CardGlint && !now.surroundings.cards.items.contains(aim.id))) {
        m_context.say(handText("There is nothing to aim: choose a light or a card"));
        return;
    }
    const auto hand = std::make_shared<const session::LightHand>(shownWork()->work, shownWork()->bodies);
    const auto touch = [this, hand](const QPointF& place) { return hand->touch(m_view.toFrame(place)); };
    if (aim.what == AimAt::Sharp)
        beginSharp(from, touch);
    else if (aim.what == AimAt::Shadow)
        beginShadow(from, *hand, touch);
    else
        beginGlint(from, touch);
}

void Hands::beginSharp(const QPointF& from, const Touch& touch)
{
    const auto at = touch(from);
    if (!at) {
        m_context.say(handText("There is nothing there to be sharp"));
        return;
    }
    const render::Camera camera = shownWork()->camera;
    const double sharp = camera.frameDistance - dot(at->point - camera.eye, camera.forward);
    m_context.session->edit(handText("Sharp at").toStdString(), [&](work::Work& w) {
        w.view().sharp = std::round(10 * sharp) / 10;
        if (!(w.view().fNumber > 0))
            w.view().fNumber = 2.8;
    });
    m_view.callOff();
}

void Hands::beginGlint(const QPointF& from, const Touch& touch)
{
    const Aim aim = *m_aim;
    const work::Work start = m_context.session->work();
    const auto why = std::make_shared<QString>();
    const auto follow = [=, this](const QPointF& place) {
        const auto at = touch(place);
        *why = !at || at->onGround ? handText("a glint is seen on letters") : QString();
        if (!at || at->onGround)
            return;
        if (aim.what == AimAt::CardGlint) {
            const work::SkyCard card = session::withGlintAt(start.surroundings.cards.items.at(aim.id), start.surroundings, *at);
            change([&](work::Work& w) { w.surroundings.cards.items.at(aim.id) = card; });
            return;
        }
        const session::AimedLight light = session::withGlintAt(start.lights.items.at(aim.id), start.ground, *at);
        *why = QString::fromStdString(light.why);
        change([&](work::Work& w) { w.lights.items.at(aim.id) = light.light; });
    };
    Drag drag;
    drag.move = [=](const QPointF& place, Qt::KeyboardModifiers) { follow(place); };
    drag.paint = [=, this](QPainter& painter) {
        if (!why->isEmpty())
            paintLabel(painter, m_pointer, *why);
    };
    drag.done = [=, this](bool moved, const QPointF& place, Qt::KeyboardModifiers) {
        if (!moved) {
            m_drag.emplace(Drag{});  // a click sets it there
            m_drag->gesture.emplace(*m_context.session, handText("Glint").toStdString());
            follow(place);
            m_drag->gesture->end();
            m_drag.reset();
        }
        if (!why->isEmpty())
            m_context.say(*why);
    };
    begin(std::move(drag), from, handText("Glint"));
}

void Hands::beginShadow(const QPointF& from, const session::LightHand& hand, const Touch& touch)
{
    const std::string id = m_aim->id;
    const auto at = touch(from);
    const work::Work start = m_context.session->work();
    const work::Light light = start.lights.items.at(id);
    const auto caster = at && at->onGround ? hand.casterOf(at->point, light) : std::nullopt;
    if (!caster) {
        m_context.say(handText("This light casts no shadow there: press on a shadow on the wall or the floor"));
        return;
    }
    const auto text = std::make_shared<QString>();
    Drag drag;
    drag.move = [=, this, begin = at->point](const QPointF& place, Qt::KeyboardModifiers held) {
        const auto to = touch(place);
        *text = !to || !to->onGround ? handText("shadows fall on wall and floor") : QString();
        if (!to || !to->onGround)
            return;
        if (held & Qt::ShiftModifier) {
            const double width = 2 * base::length(to->point - begin);
            const work::Light soft = session::withPenumbra(light, *caster, begin, width);
            *text = handText("soft over %1").arg(length(width));
            change([&](work::Work& w) { w.lights.items.at(id) = soft; });
            return;
        }
        const session::AimedLight aimed = session::withShadowAt(light, start.ground, *caster, to->point);
        *text = QString::fromStdString(aimed.why);
        change([&](work::Work& w) { w.lights.items.at(id) = aimed.light; });
    };
    drag.paint = [=, this](QPainter& painter) {
        if (!text->isEmpty())
            paintLabel(painter, m_pointer, *text);
    };
    begin(std::move(drag), from, handText("Shadow"));
}

}  // namespace app
