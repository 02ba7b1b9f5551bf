// The lugs on what is chosen: depth, bevel, plumb line, protractor, size, and turning in space.
#include "app/picture/hands.h"

#include <cmath>
#include <numbers>

#include "app/picture/paint.h"
#include "app/picture/picture_view.h"
#include "app/style.h"
#include "base/units.h"
#include "render/camera.h"

namespace app {

using base::Vec2;
using base::Vec3;
using session::Target;

namespace {

constexpr double kHalfTurn = 180;  // degrees a piece on the floor turns over the frame's width

bool isSingle(const session::Choice& choice)
{
    return choice.pieces().size() == 1;
}

}  // namespace

std::optional<Hands::Extent> Hands::extent() const
{
    const session::ShownWork* s = shownWork();
    const session::Choice& choice = m_context.session->choice();
    if (!s || !isSingle(choice))
        return std::nullopt;
    if (m_extentOf == s && m_extentChoice == choice)
        return m_extent;
    m_extentOf = s;
    m_extentChoice = choice;
    m_extent.reset();
    const Target& lead = choice.targets.back();
    const auto place = std::find_if(s->bodies.places.begin(), s->bodies.places.end(), [&](const auto& p) { return p.id == lead.piece; });
    if (place == s->bodies.places.end() || m_context.session->work().pieces.items.at(lead.piece).locked)
        return std::nullopt;
    Extent extent{place->pose, {}, {}, {}, {}};
    double top = -1e300, bottom = 1e300, left = 1e300;
    const auto add = [&](Vec3 point) {
        const Vec3 d = point - extent.pose.origin;
        const Vec3 own{dot(d, extent.pose.right), dot(d, extent.pose.up), dot(d, extent.pose.out)};
        extent.box.add(own);
        // Of points as high as each other the ones in front count.
        if (const double key = own.y + 1e-3 * own.z; key > top)
            top = key, extent.top = point;
        if (const double key = own.y - 1e-3 * own.z; key < bottom)
            bottom = key, extent.bottom = point;
        if (const double key = own.x - 1e-3 * own.z; key < left)
            left = key, extent.left = point;
    };
    for (const work::WorkBody& body : s->bodies.bodies) {
        if (body.piece != lead.piece || body.copy != 0)
            continue;
        if (lead.letter.empty()) {
            for (const base::Vec3f& p : body.body->positions)
                add(body.pose.apply(toDouble(p)));
            continue;
        }
        for (std::size_t t = 0; t < body.body->triangles.size(); ++t) {
            if (body.letters[body.body->letters[t]] != lead.letter)
                continue;
            for (const std::uint32_t v : body.body->triangles[t])
                add(body.pose.apply(toDouble(body.body->positions[v])));
        }
    }
    if (!extent.box.empty())
        m_extent = extent;
    return m_extent;
}

std::vector<Lug> Hands::lugs() const
{
    std::vector<Lug> lugs;
    const work::Work& w = m_context.session->work();
    if (m_lamps && shownWork()) {
        const session::LampPlan plan(w);
        for (const std::string& id : w.lights.order) {
            const work::Light& light = w.lights.items.at(id);
            if (light.newer)
                continue;
            const session::Lamp lamp = plan.lamp(light);
            lugs.push_back({Lug::Kind::LampHead, onPlan(lamp.head), id});
            lugs.push_back({Lug::Kind::LampFoot, onPlan(lamp.foot), id});
            if (id == *m_context.light)
                lugs.push_back({Lug::Kind::LampSize, onPlan(lamp.head) + QPointF(26, 0), id});
        }
        return lugs;
    }
    if (const auto laid = laidPicture()) {
        addPictureLugs(lugs, *laid);
        return lugs;
    }
    const auto s = extent();
    if (!s) {
        addLineLugs(lugs);
        return lugs;
    }
    const base::Pose& pose = s->pose;
    const auto forms = session::formsOf<solid::SlabForm>(w, m_context.session->choice());
    const bool isDomed = forms.empty() && !session::formsOf<solid::DomedForm>(w, m_context.session->choice()).empty();
    const bool isBlock = !session::formsOf<solid::BlockForm>(w, m_context.session->choice()).empty();
    if (!forms.empty() || isDomed || isBlock)
        lugs.push_back({Lug::Kind::Depth, seen(s->bottom), {}});
    if (!forms.empty())
        lugs.push_back({Lug::Kind::Bevel, seen(s->top - pose.up * (forms.back()->grownOut ? 0 : forms.back()->front.widthPt)), {}});
    else if (isDomed)
        lugs.push_back({Lug::Kind::Rise, seen(s->peak()), {}});
    addFormLugs(lugs, *s);
    lugs.push_back({Lug::Kind::Turn,
                    seen(pose.origin + pose.right * s->box.high.x + pose.up * s->box.high.y + pose.out * s->box.high.z) + QPointF(14, -14),
                    {}});
    lugs.push_back({Lug::Kind::Plumb, seen(s->left) + QPointF(-18, 0), {}});
    const Vec3 front = pose.origin + pose.out * s->box.high.z + pose.right * s->box.high.x;
    lugs.push_back({Lug::Kind::Size, seen(front + pose.up * s->box.low.y) + QPointF(14, 14), {}});
    const Target& lead = m_context.session->choice().targets.back();
    if (!lead.letter.empty() || w.pieces.items.at(lead.piece).placement.stance == work::Stance::Free)
        lugs.push_back({Lug::Kind::Swing, seen(front + pose.up * ((s->box.low.y + s->box.high.y) / 2)) + QPointF(18, 0), {}});
    addLineLugs(lugs);
    return lugs;
}

Hands::Drag Hands::labelled(const std::shared_ptr<QString>& text) const
{
    Drag drag;
    drag.paint = [this, text](QPainter& painter) {
        if (!text->isEmpty())
            paintLabel(painter, m_pointer, *text);
    };
    return drag;
}

void Hands::beginLug(const Lug& lug, const QPointF& from)
{
    if (lug.kind == Lug::Kind::LampFoot || lug.kind == Lug::Kind::LampHead || lug.kind == Lug::Kind::LampSize)
        return beginLamp(lug, from);
    if (lug.line)
        return beginLine(lug, from);
    if (const auto laid = laidPicture())
        return beginPictureLug(lug, *laid, from);
    const auto s = extent();
    if (!s)
        return;
    if (lug.kind == Lug::Kind::Turn)
        return beginTurn(*s, from);
    if (lug.kind == Lug::Kind::Size)
        return beginSize(*s, from);
    if (lug.kind == Lug::Kind::Swing)
        return beginSwing(from);
    if (beginFormLug(lug, *s, from))
        return;
    const render::Camera camera = shownWork()->camera;
    const session::Choice choice = m_context.session->choice();
    const work::Work start = m_context.session->work();
    const Vec2 grabbed = m_view.toFrame(from);
    auto text = std::make_shared<QString>();
    Drag drag = labelled(text);
    if (lug.kind == Lug::Kind::Plumb) {
        const Target lead = choice.targets.back();
        const work::Piece& piece = start.pieces.items.at(lead.piece);
        const Vec3 axis = lead.letter.empty() ? session::plumbAxis(piece.placement, start.ground) : s->pose.out;
        const auto place = std::find_if(shownWork()->bodies.places.begin(), shownWork()->bodies.places.end(),
                                        [&](const auto& p) { return p.id == lead.piece; });
        const double middle = place->middle;
        drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
            const double by = session::alongAxis(camera, s->left, axis, grabbed, m_view.toFrame(to));
            change([&](work::Work& w) {
                work::Piece& p = w.pieces.items.at(lead.piece);
                if (!lead.letter.empty()) {
                    double& z = p.letters[lead.letter].z;
                    z += by;
                    if (!(modifiers & Qt::ControlModifier) && std::abs(z) < reach())
                        z = 0;
                    *text = handText("towards you %1").arg(length(z));
                    return;
                }
                double off = session::plumbDistance(p.placement, w.ground, middle) + by;
                if (!(modifiers & Qt::ControlModifier) && off < reach())
                    off = 0;
                p.placement = session::plumbed(p.placement, w.ground, off, middle);
                *text = off <= 0 ? handText("touches the ground") : handText("%1 off the ground").arg(length(off));
            });
        };
        begin(std::move(drag), from, handText("Distance from the ground"));
        return;
    }
    const bool depth = lug.kind == Lug::Kind::Depth;
    const auto forms = session::formsOf(start, choice);
    const auto* slab = std::get_if<solid::SlabForm>(forms.back());
    const auto* domed = std::get_if<solid::DomedForm>(forms.back());
    const bool isBlock = std::holds_alternative<solid::BlockForm>(*forms.back());
    if (lug.kind == Lug::Kind::Rise ? !domed : depth ? !slab && !domed && !isBlock : !slab)
        return;
    if (lug.kind == Lug::Kind::Rise) {
        // What a rise of 1 is here; a stroke's half where there is none to measure.
        const double risen = s->box.high.z - s->box.low.z - domed->depthPt, both = domed->rise + domed->backRise;
        const double whole = both > 0.02 && risen > 0 ? risen / both : start.pieces.items.at(choice.targets.back().piece).sizePt() / 14;
        const double rise = domed->rise;
        drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers) {
            const double by = session::alongAxis(camera, s->peak(), s->pose.out, grabbed, m_view.toFrame(to)) / whole;
            const double now = std::clamp(std::round((rise + by) * 100) / 100, 0.0, 10.0);
            change([&](work::Work& w) {
                for (solid::DomedForm* f : session::formsIn<solid::DomedForm>(w, choice))
                    f->rise = std::clamp(f->rise + now - rise, 0.0, 10.0);
                session::tidyLetters(w);
            });
            *text = handText("rise %1 %").arg(std::round(now * 100));
        };
        return begin(std::move(drag), from, handText("Rise"));
    }
    const double was = depth ? work::depthOf(*forms.back()) : slab->front.widthPt;
    const Vec3 origin = depth ? s->bottom : s->top, axis = depth ? s->pose.out : slab->grownOut ? s->pose.up : -s->pose.up;
    drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers) {
        const double tenth = m_context.unit().toPt(0.1);
        const double by = std::round(session::alongAxis(camera, origin, axis, grabbed, m_view.toFrame(to)) / tenth) * tenth;
        change([&](work::Work& w) {
            for (work::Form* form : session::formsIn(w, choice)) {
                auto* f = std::get_if<solid::SlabForm>(form);
                if (depth)
                    setDepth(*form, work::depthOf(*form) + by);
                if (depth || !f)
                    continue;
                solid::Bevel& b = f->front;
                const bool equal = b.heightPt == b.widthPt || b.heightPt == 0;
                b.widthPt = std::max(0.0, b.widthPt + by);
                if (equal)
                    b.heightPt = b.widthPt;
            }
            session::tidyLetters(w);
        });
        *text = (depth ? handText("depth %1") : handText("bevel %1")).arg(length(std::max(0.0, was + by)));
    };
    begin(std::move(drag), from, depth ? handText("Depth") : handText("Bevel"));
}

void Hands::beginTurn(const Extent& extent, const QPointF& from)
{
    const render::Camera camera = shownWork()->camera;
    const session::Choice choice = m_context.session->choice();
    const work::Work start = m_context.session->work();
    const Target lead = choice.targets.back();
    const bool onFloor = lead.letter.empty() && start.pieces.items.at(lead.piece).placement.stance == work::Stance::OnFloor;
    const Vec3 middle = lead.letter.empty() ? extent.pose.origin : extent.pose.apply(extent.box.centre());
    Vec2 centre{0.5, 0.5};
    render::project(camera, middle, centre);
    auto turned = std::make_shared<double>(0);
    Drag drag;
    drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
        double degrees =
            onFloor ? (m_view.toFrame(to).x - m_view.toFrame(from).x) * kHalfTurn
                    : session::angleAround(camera, centre, m_view.toFrame(to)) - session::angleAround(camera, centre, m_view.toFrame(from));
        degrees = std::remainder(degrees, 360);
        const work::Placement& before = start.pieces.items.at(lead.piece).placement;
        const auto own = start.pieces.items.at(lead.piece).letters.find(lead.letter);
        const double was = !lead.letter.empty() ? (own == start.pieces.items.at(lead.piece).letters.end() ? 0 : own->second.roll)
                           : onFloor            ? before.turn
                                                : before.roll;
        // Every 15 degrees holds a little.
        if (const double near = std::round((was + degrees) / 15) * 15;
            !(modifiers & Qt::ControlModifier) && std::abs(was + degrees - near) < 2)
            degrees = near - was;
        degrees = std::round(degrees * 10) / 10;
        *turned = was + degrees;
        change([&](work::Work& w) { w = session::turned(start, movable(choice), degrees); });
    };
    drag.paint = [=, this](QPainter& painter) {
        if (!m_drag->moved)
            return;
        // A protractor: ticks every 15 degrees round the middle, the arm at the pointer.
        const QPointF at = m_view.fromFrame(centre);
        const double radius = std::max(30.0, distance(at, from));
        for (int i = 0; i < 24 && !onFloor; ++i) {
            const double a = base::radians(i * 15.0), inner = radius - (i % 6 == 0 ? 14 : 7);
            twoTone(painter, at + QPointF(std::cos(a), -std::sin(a)) * inner, at + QPointF(std::cos(a), -std::sin(a)) * radius);
        }
        if (!onFloor)
            twoTone(painter, at, m_pointer);
        paintLabel(painter, m_pointer, handText("%1°").arg(*turned, 0, 'f', 1));
    };
    begin(std::move(drag), from, handText("Turn"));
}

void Hands::beginSize(const Extent& extent, const QPointF& from)
{
    constexpr double kLeast = 0.01, kMost = 20;  // of a letter, see work::LetterOwn::scale
    const session::Choice choice = m_context.session->choice();
    const QPointF middle = seen(extent.pose.apply(extent.box.centre()));
    const double reached = std::max(8.0, distance(from, middle));
    auto text = std::make_shared<QString>();
    Drag drag = labelled(text);
    drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
        double factor = std::max(0.02, distance(to, middle) / reached);
        if (!(modifiers & Qt::ControlModifier))
            factor = std::max(0.02, std::round(factor * 50) / 50);
        change([&](work::Work& w) {
            for (const session::MoveDrag::Item& item : movable(choice)) {
                work::Piece& piece = w.pieces.items.at(item.piece);
                if (!item.letter.empty()) {
                    double& scale = piece.letters[item.letter].scale;
                    scale = std::clamp(scale * factor, kLeast, kMost);
                    *text = handText("%1 % of its size").arg(std::round(100 * scale));
                    continue;
                }
                if (work::Lettering* lettering = piece.lettering())
                    lettering->fits = false;
                work::scaleTo(piece, piece.sizePt() * factor);
                *text = handText("size %1").arg(length(piece.sizePt()));
            }
            session::tidyLetters(w);
        });
    };
    begin(std::move(drag), from, handText("Size"));
}

// Across about the upright axis, up and down about the level one.
void Hands::beginSwing(const QPointF& from)
{
    const session::Choice choice = m_context.session->choice();
    auto text = std::make_shared<QString>();
    Drag drag = labelled(text);
    drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
        const Vec2 by = m_view.toFrame(to) - m_view.toFrame(from);
        const auto swung = [&](double degrees, double further) {
            const double now = std::remainder(degrees + further, 360), near = std::round(now / 15) * 15;
            return !(modifiers & Qt::ControlModifier) && std::abs(now - near) < 2 ? near : std::round(now * 10) / 10;
        };
        change([&](work::Work& w) {
            const auto swing = [&](double& turn, double& tilt) {
                turn = swung(turn, 2 * kHalfTurn * by.x);
                tilt = swung(tilt, 2 * kHalfTurn * by.y);
                *text = handText("turned %1°, tilted %2°").arg(turn, 0, 'f', 1).arg(tilt, 0, 'f', 1);
            };
            for (const session::MoveDrag::Item& item : movable(choice)) {
                work::Piece& piece = w.pieces.items.at(item.piece);
                if (!item.letter.empty())
                    swing(piece.letters[item.letter].turn, piece.letters[item.letter].tilt);
                else if (piece.placement.stance == work::Stance::Free)
                    swing(piece.placement.turn, piece.placement.tilt);
            }
            session::tidyLetters(w);
        });
    };
    begin(std::move(drag), from, handText("Turn in space"));
}

void Hands::paintLugs(QPainter& painter) const
{
    const auto s = extent();
    const auto laid = laidPicture();
    if (!s && !laid)
        return;
    if (laid)
        paintLaidPicture(painter, *laid);
    const work::Work& w = m_context.session->work();
    const Target& lead = m_context.session->choice().targets.back();
    QString hint;
    for (const Lug& lug : lugs()) {
        const bool near = distance(lug.at, m_pointer) < kTake;
        painter.setPen(QPen(kDarkTone, 1.4));
        painter.setBrush(near ? colours(Variant::Light).accent : kLightTone);
        switch (lug.kind) {
        case Lug::Kind::Depth:
            painter.drawRect(QRectF(lug.at.x() - 4, lug.at.y() - 8, 8, 16));
            if (near)
                hint = handText("depth");
            break;
        case Lug::Kind::Bevel:
            painter.drawRect(QRectF(lug.at.x() - 8, lug.at.y() - 3, 16, 6));
            if (near)
                hint = handText("bevel");
            break;
        case Lug::Kind::Rise:
            painter.drawChord(QRectF(lug.at.x() - 9, lug.at.y() - 6, 18, 18), 0, 180 * 16);
            if (near)
                hint = handText("rise");
            break;
        case Lug::Kind::Turn: {
            // A quarter of a protractor.
            QPolygonF quarter{lug.at + QPointF(-9, 9)};
            for (int i = 0; i <= 6; ++i)
                quarter << lug.at + QPointF(-9, 9) +
                               QPointF(std::cos(i * std::numbers::pi / 12), -std::sin(i * std::numbers::pi / 12)) * 17;
            painter.drawPolygon(quarter);
            if (near)
                hint = handText("turn");
            break;
        }
        case Lug::Kind::Size:
            painter.drawPolygon(QPolygonF{lug.at + QPointF(-8, 7), lug.at + QPointF(7, -8), lug.at + QPointF(7, 7)});
            if (near)
                hint = handText("size");
            break;
        case Lug::Kind::Swing:
            painter.drawEllipse(lug.at, 8, 8);
            painter.drawEllipse(lug.at, 8, 3);
            painter.drawEllipse(lug.at, 3, 8);
            if (near)
                hint = handText("turn across, tilt up and down");
            break;
        case Lug::Kind::Plumb: {
            // The line runs to wall or floor, with its bob at this end.
            const auto place = std::find_if(shownWork()->bodies.places.begin(), shownWork()->bodies.places.end(),
                                            [&](const auto& p) { return p.id == lead.piece; });
            const work::Placement& placement = w.pieces.items.at(lead.piece).placement;
            if (lead.letter.empty() && place != shownWork()->bodies.places.end()) {
                const double off = session::plumbDistance(placement, w.ground, place->middle);
                const QPointF shift = lug.at - seen(s->left);
                const QPointF ground = seen(s->left - session::plumbAxis(placement, w.ground) * off) + shift;
                if (distance(ground, lug.at) > 2) {
                    twoTone(painter, lug.at, ground, session::plumbAxis(placement, w.ground).y > 0 ? Qt::DashLine : Qt::DotLine);
                    twoTone(painter, ground + QPointF(-6, 0), ground + QPointF(6, 0));
                }
                if (near)
                    hint = off <= 0 ? handText("touches the ground") : handText("%1 off the ground").arg(length(off));
            } else if (near) {
                hint = handText("towards you");
            }
            painter.setPen(QPen(kDarkTone, 1.4));
            painter.setBrush(near ? colours(Variant::Light).accent : kLightTone);
            painter.drawPolygon(QPolygonF{lug.at + QPointF(-6, -6), lug.at + QPointF(6, -6), lug.at + QPointF(0, 8)});
            break;
        }
        case Lug::Kind::Line:
            if (near)
                hint = lineHint(lug);
            break;
        case Lug::Kind::PictureMiddle:
        case Lug::Kind::PictureCorner:
            if (const QString what = paintPictureLug(painter, lug); near)
                hint = what;
            break;
        default:
            if (const QString what = paintFormLug(painter, lug); near && !what.isEmpty())
                hint = what;
            break;
        }
    }
    if (!hint.isEmpty() && !m_drag)
        paintLabel(painter, m_pointer, hint);
}

}  // namespace app
