#include "app/picture/hands.h"

#include <QApplication>
#include <cmath>
#include <numbers>

#include "app/picture/marks.h"
#include "app/picture/picture_view.h"
#include "app/style.h"
#include "base/units.h"
#include "render/camera.h"
#include "session/edits.h"
#include "session/summary.h"

namespace app {

namespace {

using base::Vec2;
using base::Vec3;
using session::Target;

constexpr double kClick = 4;          // px that still count as a click
constexpr double kTake = 9;           // px within which a lug is taken
constexpr double kSnap = 7;           // px within which things snap
constexpr double kWalkPerPixel = 0.3; // degrees
constexpr double kPlanShare = 0.44;   // radius of the lamps' plan, of the frame's shorter side
constexpr double kHalfTurn = 180;     // degrees a piece on the floor turns over the frame's width

const QColor kDark(16, 19, 20), kLight(255, 255, 255);

QString translated(const char* text)
{
    return QCoreApplication::translate("app::Hands", text);
}

// A line that can be read on any picture: light under dark. Across is solid, up dashed, towards the viewer dotted.
void twoTone(QPainter& painter, QPointF a, QPointF b, Qt::PenStyle style = Qt::SolidLine)
{
    painter.setPen(QPen(kLight, 3));
    painter.drawLine(a, b);
    painter.setPen(QPen(kDark, 1.4, style));
    painter.drawLine(a, b);
}

void label(QPainter& painter, QPointF at, const QString& text)
{
    const QFontMetrics metrics(painter.font());
    QRectF box = metrics.boundingRect(text).adjusted(-5, -3, 5, 3);
    box.moveTopLeft(at + QPointF(12, 8));
    const QRectF room = painter.viewport();
    box.moveLeft(std::clamp(box.left(), 2.0, std::max(2.0, room.width() - box.width() - 2)));
    box.moveTop(std::clamp(box.top(), 2.0, std::max(2.0, room.height() - box.height() - 2)));
    painter.setPen(QPen(colours().edge, 1));
    painter.setBrush(colours().field);
    painter.drawRect(box);
    painter.setPen(colours().ink);
    painter.drawText(box, Qt::AlignCenter, text);
}

double distance(QPointF a, QPointF b)
{
    return std::hypot(a.x() - b.x(), a.y() - b.y());
}

bool isSingle(const session::Choice& choice)
{
    return choice.pieces().size() == 1;
}

}  // namespace

// --- what is there --------------------------------------------------------------------------------------------------------------

const session::Stage* Hands::stage() const
{
    return m_view.frame().stage.get();
}

QPointF Hands::seen(Vec3 point) const
{
    Vec2 uv{-10, -10};
    if (stage())
        render::project(stage()->camera, point, uv);
    return m_view.fromFrame(uv);
}

double Hands::reach() const
{
    return stage() ? kSnap / m_view.frameRect().width() * stage()->camera.frameWidth : 0;
}

double Hands::unitStep() const
{
    const session::LengthUnit unit = m_desk.unit();
    return unit.unit == work::Unit::In ? unit.toPt(1.0 / 16) : unit.toPt(1);
}

QString Hands::length(double pt) const
{
    const session::LengthUnit unit = m_desk.unit();
    return QString::fromStdString(session::shownNumber(pt, session::Kind::Length, unit, 1) + " " + session::unitName(session::Kind::Length, unit));
}

std::optional<Target> Hands::targetAt(const QPointF& place, bool letter) const
{
    const auto id = m_view.idAt(place);
    if (!id || id->piece == 0)
        return std::nullopt;
    const auto& shown = stage()->work.pieces;
    if (id->piece > shown.order.size())
        return std::nullopt;
    const std::string& piece = shown.order[id->piece - 1u];
    const auto& now = m_desk.session->work().pieces.items;
    const auto at = now.find(piece);
    if (at == now.end() || at->second.locked)
        return std::nullopt;
    const auto& letters = shown.items.at(piece).lettering.letterIds;
    return Target{piece, letter && id->letter > 0 && id->letter <= letters.size() ? letters[id->letter - 1u] : std::string()};
}

std::vector<session::MoveDrag::Item> Hands::movable(const session::Choice& choice) const
{
    std::vector<session::MoveDrag::Item> items;
    for (const Target& t : choice.targets)
        if (!m_desk.session->work().pieces.items.at(t.piece).locked)
            items.push_back({t.piece, t.letter});
    return items;
}

std::optional<Hands::Shape> Hands::shape() const
{
    const session::Stage* s = stage();
    const session::Choice& choice = m_desk.session->choice();
    if (!s || !isSingle(choice))
        return std::nullopt;
    if (m_shapeOf == s && m_shapeChoice == choice)
        return m_shape;
    m_shapeOf = s;
    m_shapeChoice = choice;
    m_shape.reset();
    const Target& lead = choice.targets.back();
    const auto place = std::find_if(s->bodies.places.begin(), s->bodies.places.end(), [&](const auto& p) { return p.id == lead.piece; });
    if (place == s->bodies.places.end() || m_desk.session->work().pieces.items.at(lead.piece).locked)
        return std::nullopt;
    const int index = static_cast<int>(std::find(s->work.pieces.order.begin(), s->work.pieces.order.end(), lead.piece) - s->work.pieces.order.begin());
    const auto& ids = s->work.pieces.items.at(lead.piece).lettering.letterIds;
    Shape shape{place->pose, {}, {}, {}, {}};
    double top = -1e300, bottom = 1e300, left = 1e300;
    const auto add = [&](Vec3 point) {
        const Vec3 d = point - shape.pose.origin;
        const Vec3 own{dot(d, shape.pose.right), dot(d, shape.pose.up), dot(d, shape.pose.out)};
        shape.box.add(own);
        // Of points as high as each other the ones in front count.
        if (const double key = own.y + 1e-3 * own.z; key > top)
            top = key, shape.top = point;
        if (const double key = own.y - 1e-3 * own.z; key < bottom)
            bottom = key, shape.bottom = point;
        if (const double key = own.x - 1e-3 * own.z; key < left)
            left = key, shape.left = point;
    };
    for (const work::WorkBody& body : s->bodies.bodies) {
        if (body.piece != index || body.copy != 0)
            continue;
        for (std::size_t t = 0; t < body.body->triangles.size(); ++t) {
            if (!lead.letter.empty()) {
                const auto letter = static_cast<std::size_t>(body.letters[body.body->letters[t]]);
                if (letter >= ids.size() || ids[letter] != lead.letter)
                    continue;
            }
            for (const std::uint32_t v : body.body->triangles[t])
                add(body.pose.apply(toDouble(body.body->positions[v])));
        }
    }
    if (!shape.box.empty())
        m_shape = shape;
    return m_shape;
}

std::vector<Lug> Hands::lugs() const
{
    std::vector<Lug> lugs;
    const work::Work& w = m_desk.session->work();
    if (m_lamps && stage()) {
        const session::LampPlan plan(w);
        for (const std::string& id : w.lights.order) {
            const work::Light& light = w.lights.items.at(id);
            const session::Lamp lamp = plan.lamp(light);
            lugs.push_back({Lug::Kind::LampHead, onPlan(lamp.head), id});
            lugs.push_back({Lug::Kind::LampFoot, onPlan(lamp.foot), id});
            if (id == *m_desk.light)
                lugs.push_back({Lug::Kind::LampSize, onPlan(lamp.head) + QPointF(26, 0), id});
        }
        return lugs;
    }
    const auto s = shape();
    if (!s)
        return lugs;
    const base::Pose& pose = s->pose;
    const auto forms = session::formsOf(w, m_desk.session->choice());
    const double bevel = forms.empty() ? 0 : forms.back()->front.widthPt;
    lugs.push_back({Lug::Kind::Depth, seen(s->bottom), {}});
    lugs.push_back({Lug::Kind::Bevel, seen(s->top - pose.up * bevel), {}});
    lugs.push_back({Lug::Kind::Turn, seen(pose.origin + pose.right * s->box.high.x + pose.up * s->box.high.y + pose.out * s->box.high.z) + QPointF(14, -14), {}});
    lugs.push_back({Lug::Kind::Plumb, seen(s->left) + QPointF(-18, 0), {}});
    return lugs;
}

// --- the flow of a gesture ------------------------------------------------------------------------------------------------------

void Hands::begin(Drag drag, const QPointF& from, const QString& name)
{
    drag.from = from;
    drag.start = m_desk.session->work();
    drag.label = name.toStdString();
    m_desk.session->endMerge();
    m_drag = std::move(drag);
}

void Hands::edit(const Drag& drag, const std::function<void(work::Work&)>& change)
{
    m_desk.session->edit(drag.label, "hand", change);
}

void Hands::press(const QPointF& place, Qt::MouseButton button, Qt::KeyboardModifiers modifiers)
{
    m_pointer = place;
    if (m_drag || !stage())
        return;
    if (button == Qt::MiddleButton) {
        beginView(place, true);
        return;
    }
    if (button != Qt::LeftButton)
        return;
    if (m_pick) {
        if (const auto seenColour = m_view.colourAt(place)) {
            const auto take = std::move(m_pick);
            m_pick = nullptr;
            m_view.unsetCursor();
            take(picture::decodeSrgb(base::Rgb{seenColour->redF(), seenColour->greenF(), seenColour->blueF()}));
        }
        return;
    }
    if (m_choosingPart) {
        beginPart(place);
        return;
    }
    const std::vector<Lug> all = lugs();
    const Lug* nearest = nullptr;
    for (const Lug& lug : all)
        if (distance(lug.at, place) < kTake && (!nearest || distance(lug.at, place) < distance(nearest->at, place)))
            nearest = &lug;
    if (nearest) {
        beginLug(*nearest, place);
        return;
    }
    if (!m_view.frameRect().contains(place)) {
        beginView(place, false);
        return;
    }
    if (const auto target = targetAt(place, true))
        beginMove(place, *target, modifiers);
    else
        beginBand(place, modifiers);
}

void Hands::move(const QPointF& place, Qt::KeyboardModifiers modifiers)
{
    m_pointer = place;
    if (!m_drag)
        return;
    if (!m_drag->moved && distance(place, m_drag->from) < kClick)
        return;
    m_drag->moved = true;
    if (m_drag->move)
        m_drag->move(place, modifiers);
}

void Hands::release(const QPointF& place, Qt::KeyboardModifiers modifiers)
{
    if (!m_drag)
        return;
    const Drag drag = std::move(*m_drag);
    m_drag.reset();
    if (drag.done)
        drag.done(drag.moved, place, modifiers);
    m_desk.session->endMerge();
}

bool Hands::callOff()
{
    const bool was = m_drag || m_pick || m_choosingPart;
    if (m_drag) {
        m_desk.session->edit(m_drag->label, "hand", [&](work::Work& w) { w = m_drag->start; });
        m_desk.session->endMerge();
    }
    m_drag.reset();
    m_pick = nullptr;
    m_choosingPart = false;
    return was;
}

// --- view -----------------------------------------------------------------------------------------------------------------------

bool Hands::viewIsFree() const
{
    if (m_desk.session->work().viewLocked)
        m_desk.say(translated("The view is locked; unlock it in the View section"));
    return !m_desk.session->work().viewLocked;
}

void Hands::beginView(const QPointF& from, bool slide)
{
    if (!viewIsFree())
        return;
    const render::Camera camera = stage()->camera;
    const work::View view = m_desk.session->work().view;
    Drag drag;
    drag.move = [=, this](const QPointF& place, Qt::KeyboardModifiers) {
        const work::View changed = slide ? session::slid(view, camera, m_view.toFrame(from), m_view.toFrame(place))
                                         : session::walked(view, (from.x() - place.x()) * kWalkPerPixel, (place.y() - from.y()) * kWalkPerPixel);
        edit(*m_drag, [&](work::Work& w) { w.view = changed; });
    };
    if (!slide)
        drag.paint = [=, this](QPainter& painter) {
            const work::View& now = m_desk.session->work().view;
            label(painter, m_pointer, translated("round %1°, over %2°").arg(now.walk, 0, 'f', 0).arg(now.rise, 0, 'f', 0));
        };
    begin(std::move(drag), from, slide ? translated("Slide the view") : translated("Walk round"));
}

void Hands::wheel(const QPointF& place, double notches)
{
    if (!stage() || notches == 0 || !viewIsFree())
        return;
    const work::View now = m_desk.session->work().view;
    m_desk.session->edit(translated("Closer").toStdString(), "closer", [&](work::Work& w) {
        w.view = session::closer(now, work::cameraOf(m_desk.session->work(), stage()->bodies), m_view.toFrame(place), std::pow(0.9, notches));
    });
}

void Hands::changeView(const std::string& name, const std::function<work::View(const work::View&)>& change)
{
    if (viewIsFree())
        m_desk.session->edit(name, name, [&](work::Work& w) { w.view = change(w.view); });
}

// --- choosing and moving --------------------------------------------------------------------------------------------------------

void Hands::click(const QPointF& place, Qt::KeyboardModifiers modifiers)
{
    session::Choice choice = m_desk.session->choice();
    const auto piece = targetAt(place, false), letter = targetAt(place, true);
    if (!piece) {
        m_desk.session->choose({});
        return;
    }
    const bool inPiece = std::any_of(choice.targets.begin(), choice.targets.end(), [&](const Target& t) { return t.piece == piece->piece; });
    if (modifiers & (Qt::ShiftModifier | Qt::ControlModifier)) {
        const bool letters = std::any_of(choice.targets.begin(), choice.targets.end(), [](const Target& t) { return !t.letter.empty(); });
        choice.toggle(letters && inPiece ? *letter : *piece);
    } else {
        choice.set(inPiece ? *letter : *piece);
    }
    m_desk.session->choose(choice);
}

void Hands::beginMove(const QPointF& from, const Target& target, Qt::KeyboardModifiers)
{
    auto moving = std::make_shared<std::optional<session::MoveDrag>>();
    auto lines = std::make_shared<std::vector<session::SnapLine>>();
    Drag drag;
    drag.move = [=, this](const QPointF& place, Qt::KeyboardModifiers modifiers) {
        if (!*moving) {
            // What is under the pointer moves; it is chosen first if it was not.
            session::Choice choice = m_desk.session->choice();
            if (!choice.has(target) && !choice.has({target.piece, {}})) {
                choice.set({target.piece, {}});
                m_desk.session->choose(choice);
            }
            moving->emplace(m_drag->start, stage()->bodies, stage()->camera, movable(choice), m_view.toFrame(from));
        }
        QPointF to = place;
        if (modifiers & Qt::ShiftModifier) {  // straight across or straight up
            if (std::abs(to.x() - from.x()) > std::abs(to.y() - from.y()))
                to.setY(from.y());
            else
                to.setX(from.x());
        }
        auto step = (*moving)->to(m_view.toFrame(to), modifiers & Qt::ControlModifier ? 0 : reach());
        *lines = std::move(step.lines);
        edit(*m_drag, [&](work::Work& w) { w = std::move(step.work); });
    };
    drag.done = [=, this](bool moved, const QPointF& place, Qt::KeyboardModifiers modifiers) {
        if (!moved)
            click(place, modifiers);
    };
    drag.paint = [=, this](QPainter& painter) {
        if (!m_drag->moved)
            return;
        for (const session::SnapLine& line : *lines)
            twoTone(painter, seen(line.from), seen(line.to), Qt::DashLine);
        const QPointF corner(m_pointer.x(), from.y());
        twoTone(painter, from, corner);
        twoTone(painter, corner, m_pointer, Qt::DashLine);
        const work::Placement& a = m_drag->start.pieces.items.at(target.piece).placement;
        const auto now = m_desk.session->work().pieces.items.find(target.piece);
        if (now == m_desk.session->work().pieces.items.end())
            return;
        const work::Placement& b = now->second.placement;
        QStringList parts;
        if (a.x != b.x)
            parts << translated("across %1").arg(length(b.x - a.x));
        if (a.y != b.y)
            parts << translated("up %1").arg(length(b.y - a.y));
        if (a.z != b.z)
            parts << translated("towards you %1").arg(length(b.z - a.z));
        if (!parts.isEmpty())
            label(painter, m_pointer, parts.join(", "));
    };
    begin(std::move(drag), from, translated("Move"));
}

void Hands::beginBand(const QPointF& from, Qt::KeyboardModifiers modifiers)
{
    Drag drag;
    drag.done = [=, this](bool moved, const QPointF& place, Qt::KeyboardModifiers) {
        if (!moved) {
            click(place, modifiers);
            return;
        }
        const auto& frame = m_view.frame();
        const Vec2 a = m_view.toFrame(from), b = m_view.toFrame(place);
        const QRectF area = QRectF(QPointF(a.x * frame.widthPx, a.y * frame.heightPx), QPointF(b.x * frame.widthPx, b.y * frame.heightPx)).normalized();
        session::Choice choice = modifiers & (Qt::ShiftModifier | Qt::ControlModifier) ? m_desk.session->choice() : session::Choice();
        std::map<std::string, std::vector<std::string>> found;
        const auto& shown = stage()->work.pieces;
        for (const auto& [piece, letter] : lettersWithin(*frame.ids, area.toAlignedRect().translated(-frame.place.x0, -frame.place.y0))) {
            if (static_cast<std::size_t>(piece) > shown.order.size())
                continue;
            const std::string& id = shown.order[static_cast<std::size_t>(piece) - 1];
            const auto& letters = shown.items.at(id).lettering.letterIds;
            const auto now = m_desk.session->work().pieces.items.find(id);
            if (now != m_desk.session->work().pieces.items.end() && !now->second.locked && static_cast<std::size_t>(letter) <= letters.size())
                found[id].push_back(letters[static_cast<std::size_t>(letter) - 1]);
        }
        for (const auto& [piece, letters] : found) {
            const work::Piece& p = m_desk.session->work().pieces.items.at(piece);
            const auto visible = static_cast<std::size_t>(std::count_if(p.lettering.letterIds.begin(), p.lettering.letterIds.end(), [&](const std::string& l) {
                const std::string text = session::letterText(p, l);
                return text != " " && text != "\n";
            }));
            if (letters.size() >= visible)
                choice.add({piece, {}});
            else
                for (const std::string& letter : letters)
                    choice.add({piece, letter});
        }
        m_desk.session->choose(choice);
    };
    drag.paint = [=, this](QPainter& painter) {
        if (!m_drag->moved)
            return;
        const QRectF box = QRectF(from, m_pointer).normalized();
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(kLight, 3));
        painter.drawRect(box);
        painter.setPen(QPen(kDark, 1, Qt::DashLine));
        painter.drawRect(box);
    };
    begin(std::move(drag), from, translated("Choose"));
}

void Hands::beginPart(const QPointF& from)
{
    Drag drag;
    drag.done = [=, this](bool moved, const QPointF& place, Qt::KeyboardModifiers) {
        m_choosingPart = false;
        const Vec2 a = m_view.toFrame(from), b = m_view.toFrame(place);
        m_view.setPart(moved ? QRectF(QPointF(a.x, a.y), QPointF(b.x, b.y)).normalized() : QRectF());
    };
    drag.paint = [=, this](QPainter& painter) {
        const QRectF box = QRectF(from, m_pointer).normalized();
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(kLight, 3));
        painter.drawRect(box);
        painter.setPen(QPen(kDark, 1));
        painter.drawRect(box);
    };
    begin(std::move(drag), from, translated("Part"));
}

// --- lugs -----------------------------------------------------------------------------------------------------------------------

void Hands::beginLug(const Lug& lug, const QPointF& from)
{
    if (lug.kind == Lug::Kind::LampFoot || lug.kind == Lug::Kind::LampHead || lug.kind == Lug::Kind::LampSize)
        return beginLamp(lug, from);
    const auto s = shape();
    if (!s)
        return;
    if (lug.kind == Lug::Kind::Turn)
        return beginTurn(*s, from);
    const render::Camera camera = stage()->camera;
    const session::Choice choice = m_desk.session->choice();
    const work::Work start = m_desk.session->work();
    const Vec2 grabbed = m_view.toFrame(from);
    auto text = std::make_shared<QString>();
    Drag drag;
    drag.paint = [=, this](QPainter& painter) {
        if (!text->isEmpty())
            label(painter, m_pointer, *text);
    };
    if (lug.kind == Lug::Kind::Plumb) {
        const Target lead = choice.targets.back();
        const work::Piece& piece = start.pieces.items.at(lead.piece);
        const Vec3 axis = lead.letter.empty() ? session::plumbAxis(piece.placement, start.ground) : s->pose.out;
        const auto place = std::find_if(stage()->bodies.places.begin(), stage()->bodies.places.end(), [&](const auto& p) { return p.id == lead.piece; });
        const double middle = place->middle;
        drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
            const double by = session::alongAxis(camera, s->left, axis, grabbed, m_view.toFrame(to));
            edit(*m_drag, [&](work::Work& w) {
                w = start;
                work::Piece& p = w.pieces.items.at(lead.piece);
                if (!lead.letter.empty()) {
                    double& z = p.letters[lead.letter].z;
                    z += by;
                    if (!(modifiers & Qt::ControlModifier) && std::abs(z) < reach())
                        z = 0;
                    *text = translated("towards you %1").arg(length(z));
                    return;
                }
                double off = session::plumbDistance(p.placement, w.ground, middle) + by;
                if (!(modifiers & Qt::ControlModifier) && off < reach())
                    off = 0;
                p.placement = session::plumbed(p.placement, w.ground, off, middle);
                *text = off <= 0 ? translated("touches the ground") : translated("%1 off the ground").arg(length(off));
            });
        };
        begin(std::move(drag), from, translated("Distance from the ground"));
        return;
    }
    const bool depth = lug.kind == Lug::Kind::Depth;
    const auto forms = session::formsOf(start, choice);
    if (forms.empty())
        return;
    const double was = depth ? forms.back()->depthPt : forms.back()->front.widthPt;
    const Vec3 origin = depth ? s->bottom : s->top, axis = depth ? s->pose.out : -s->pose.up;
    drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers) {
        const double tenth = m_desk.unit().toPt(0.1);
        const double by = std::round(session::alongAxis(camera, origin, axis, grabbed, m_view.toFrame(to)) / tenth) * tenth;
        edit(*m_drag, [&](work::Work& w) {
            w = start;
            for (solid::SlabForm* f : session::formsIn(w, choice)) {
                if (depth) {
                    f->depthPt = std::max(0.0, f->depthPt + by);
                    continue;
                }
                solid::Bevel& b = f->front;
                const bool equal = b.heightPt == b.widthPt || b.heightPt == 0;
                b.widthPt = std::max(0.0, b.widthPt + by);
                if (equal)
                    b.heightPt = b.widthPt;
            }
            session::tidyLetters(w);
        });
        *text = (depth ? translated("depth %1") : translated("bevel %1")).arg(length(std::max(0.0, was + by)));
    };
    begin(std::move(drag), from, depth ? translated("Depth") : translated("Bevel"));
}

void Hands::beginTurn(const Shape& shape, const QPointF& from)
{
    const render::Camera camera = stage()->camera;
    const session::Choice choice = m_desk.session->choice();
    const work::Work start = m_desk.session->work();
    const Target lead = choice.targets.back();
    const bool onFloor = lead.letter.empty() && start.pieces.items.at(lead.piece).placement.stance == work::Stance::OnFloor;
    const Vec3 middle = lead.letter.empty() ? shape.pose.origin
                                            : shape.pose.apply(shape.box.centre());
    Vec2 centre{0.5, 0.5};
    render::project(camera, middle, centre);
    auto turned = std::make_shared<double>(0);
    Drag drag;
    drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
        double degrees = onFloor ? (m_view.toFrame(to).x - m_view.toFrame(from).x) * kHalfTurn
                                 : session::angleAround(camera, centre, m_view.toFrame(to)) - session::angleAround(camera, centre, m_view.toFrame(from));
        degrees = std::remainder(degrees, 360);
        const work::Placement& before = start.pieces.items.at(lead.piece).placement;
        const auto own = start.pieces.items.at(lead.piece).letters.find(lead.letter);
        const double was = !lead.letter.empty() ? (own == start.pieces.items.at(lead.piece).letters.end() ? 0 : own->second.roll) : onFloor ? before.turn : before.roll;
        // Every 15 degrees holds a little.
        if (const double near = std::round((was + degrees) / 15) * 15; !(modifiers & Qt::ControlModifier) && std::abs(was + degrees - near) < 2)
            degrees = near - was;
        degrees = std::round(degrees * 10) / 10;
        *turned = was + degrees;
        edit(*m_drag, [&](work::Work& w) {
            w = start;
            for (const session::MoveDrag::Item& item : movable(choice)) {
                work::Piece& p = w.pieces.items.at(item.piece);
                if (item.letter.empty())
                    p.placement = session::turnedBy(p.placement, degrees);
                else
                    p.letters[item.letter].roll += degrees;
            }
        });
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
        label(painter, m_pointer, translated("%1°").arg(*turned, 0, 'f', 1));
    };
    begin(std::move(drag), from, translated("Turn"));
}

// --- lamps ----------------------------------------------------------------------------------------------------------------------

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
    if (*m_desk.light != lug.light) {
        *m_desk.light = lug.light;
        m_desk.lightChanged();
    }
    const work::Light start = m_desk.session->work().lights.items.at(lug.light);
    const session::LampPlan plan(m_desk.session->work());
    const Vec2 off = fromPlan(lug.at) - fromPlan(from);
    auto text = std::make_shared<QString>();
    Drag drag;
    drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers) {
        work::Light light = start;
        const Vec2 place = fromPlan(to) + off;
        if (lug.kind == Lug::Kind::LampFoot) {
            light = plan.withFoot(start, place);
            *text = light.kind == render::LightKind::Sun ? translated("from %1°").arg(light.direction, 0, 'f', 0)
                                                         : translated("from %1°, %2 away").arg(light.direction, 0, 'f', 0).arg(length(light.distance));
        } else if (lug.kind == Lug::Kind::LampHead) {
            light = plan.withHead(start, place);
            *text = translated("from %1°, %2° high").arg(light.direction, 0, 'f', 0).arg(light.height, 0, 'f', 0);
        } else {
            const double factor = std::exp2((to.x() - from.x()) / 60);
            light.width = std::clamp(start.width * factor, 0.1, 1e6);
            light.breadth = std::clamp(start.breadth * factor, 0.1, 1e6);
            light.size = std::clamp(start.size * factor, 0.1, 1e6);
            light.sunSize = std::clamp(start.sunSize * factor, 0.01, 90.0);
            *text = light.kind == render::LightKind::Softbox ? translated("%1 wide").arg(length(light.width))
                    : light.kind == render::LightKind::Sun   ? translated("%1° wide").arg(light.sunSize, 0, 'f', 2)
                                                             : translated("%1 wide").arg(length(light.size));
        }
        edit(*m_drag, [&](work::Work& w) { w.lights.items.at(lug.light) = light; });
    };
    drag.paint = [=, this](QPainter& painter) {
        if (!text->isEmpty())
            label(painter, m_pointer, *text);
    };
    begin(std::move(drag), from, lug.kind == Lug::Kind::LampSize ? translated("Size of a light") : translated("Place of a light"));
}

void Hands::paintLamps(QPainter& painter) const
{
    const work::Work& w = m_desk.session->work();
    const session::LampPlan plan(w);
    for (const double radius : {0.5, 1.0}) {
        QPolygonF ring;
        for (int i = 0; i <= 72; ++i)
            ring << onPlan(plan.onPlan(i * 5.0, radius, 0));
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(QColor(255, 255, 255, 150), 3));
        painter.drawPolyline(ring);
        painter.setPen(QPen(kDark, 1, radius == 1.0 ? Qt::SolidLine : Qt::DotLine));
        painter.drawPolyline(ring);
    }
    for (const std::string& id : w.lights.order) {
        const work::Light& light = w.lights.items.at(id);
        const session::Lamp lamp = plan.lamp(light);
        const QPointF foot = onPlan(lamp.foot), head = onPlan(lamp.head);
        const bool shown = id == *m_desk.light;
        twoTone(painter, foot, head, lamp.behind ? Qt::DotLine : Qt::SolidLine);
        const QColor fill = light.on ? QColor(255, 250, 225) : QColor(120, 120, 120);
        painter.setPen(QPen(shown ? colours(Variant::Light).accent : kDark, shown ? 3 : 1.5));
        painter.setBrush(fill);
        painter.drawEllipse(foot, 6, 3);
        switch (light.kind) {
        case render::LightKind::Softbox:
            painter.drawRect(QRectF(head.x() - 11, head.y() - 8, 22, 16));
            break;
        case render::LightKind::Sun:
            for (int i = 0; i < 8; ++i) {
                const QPointF ray(std::cos(i * std::numbers::pi / 4), std::sin(i * std::numbers::pi / 4));
                painter.drawLine(head + ray * 10, head + ray * 14);
            }
            painter.drawEllipse(head, 8, 8);
            break;
        case render::LightKind::Bulb:
            painter.drawEllipse(head, 8, 8);
            break;
        case render::LightKind::Spot: {
            const QPointF way = QPointF(m_view.frameRect().center() - head) / std::max(1.0, distance(head, m_view.frameRect().center())), side(-way.y(), way.x());
            painter.drawPolygon(QPolygonF{head - way * 8, head + way * 9 + side * 10, head + way * 9 - side * 10});
            break;
        }
        }
        if (shown) {
            painter.setPen(QPen(kDark, 1.4));
            painter.setBrush(kLight);
            painter.drawRect(QRectF(head.x() + 22, head.y() - 4, 8, 8));
            label(painter, head + QPointF(8, 6), QString::fromStdString(session::lightTitle(w, id)));
        }
    }
}

void Hands::paintLugs(QPainter& painter) const
{
    const auto s = shape();
    if (!s)
        return;
    const work::Work& w = m_desk.session->work();
    const Target& lead = m_desk.session->choice().targets.back();
    QString hint;
    for (const Lug& lug : lugs()) {
        const bool near = distance(lug.at, m_pointer) < kTake;
        painter.setPen(QPen(kDark, 1.4));
        painter.setBrush(near ? colours(Variant::Light).accent : kLight);
        switch (lug.kind) {
        case Lug::Kind::Depth:
            painter.drawRect(QRectF(lug.at.x() - 4, lug.at.y() - 8, 8, 16));
            if (near)
                hint = translated("depth");
            break;
        case Lug::Kind::Bevel:
            painter.drawRect(QRectF(lug.at.x() - 8, lug.at.y() - 3, 16, 6));
            if (near)
                hint = translated("bevel");
            break;
        case Lug::Kind::Turn: {
            // A quarter of a protractor.
            QPolygonF quarter{lug.at + QPointF(-9, 9)};
            for (int i = 0; i <= 6; ++i)
                quarter << lug.at + QPointF(-9, 9) + QPointF(std::cos(i * std::numbers::pi / 12), -std::sin(i * std::numbers::pi / 12)) * 17;
            painter.drawPolygon(quarter);
            if (near)
                hint = translated("turn");
            break;
        }
        case Lug::Kind::Plumb: {
            // The line runs to wall or floor, with its bob at this end.
            const auto place = std::find_if(stage()->bodies.places.begin(), stage()->bodies.places.end(), [&](const auto& p) { return p.id == lead.piece; });
            const work::Placement& placement = w.pieces.items.at(lead.piece).placement;
            if (lead.letter.empty() && place != stage()->bodies.places.end()) {
                const double off = session::plumbDistance(placement, w.ground, place->middle);
                const QPointF shift = lug.at - seen(s->left);
                const QPointF ground = seen(s->left - session::plumbAxis(placement, w.ground) * off) + shift;
                if (distance(ground, lug.at) > 2) {
                    twoTone(painter, lug.at, ground, session::plumbAxis(placement, w.ground).y > 0 ? Qt::DashLine : Qt::DotLine);
                    twoTone(painter, ground + QPointF(-6, 0), ground + QPointF(6, 0));
                }
                if (near)
                    hint = off <= 0 ? translated("touches the ground") : translated("%1 off the ground").arg(length(off));
            } else if (near) {
                hint = translated("towards you");
            }
            painter.setPen(QPen(kDark, 1.4));
            painter.setBrush(near ? colours(Variant::Light).accent : kLight);
            painter.drawPolygon(QPolygonF{lug.at + QPointF(-6, -6), lug.at + QPointF(6, -6), lug.at + QPointF(0, 8)});
            break;
        }
        default:
            break;
        }
    }
    if (!hint.isEmpty() && !m_drag)
        label(painter, m_pointer, hint);
}

void Hands::paint(QPainter& painter) const
{
    if (!stage())
        return;
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_lamps)
        paintLamps(painter);
    else if ((m_view.underMouse() || m_view.hasFocus()) && (!m_drag || m_drag->label != translated("Move").toStdString()))
        paintLugs(painter);
    if (m_drag && m_drag->paint)
        m_drag->paint(painter);
}

// --- keys -----------------------------------------------------------------------------------------------------------------------

void Hands::nudge(Vec3 by)
{
    const auto items = movable(m_desk.session->choice());
    if (items.empty()) {
        m_desk.say(translated("Choose a piece first: Space chooses the next one"));
        return;
    }
    m_desk.session->edit(translated("Nudge").toStdString(), "nudge", [&](work::Work& w) { w = session::nudged(w, items, by); });
}

void Hands::plumb(double by)
{
    const session::Choice choice = m_desk.session->choice();
    m_desk.session->edit(translated("Distance from the ground").toStdString(), "plumb", [&](work::Work& w) {
        for (const session::MoveDrag::Item& item : movable(choice)) {
            work::Piece& p = w.pieces.items.at(item.piece);
            if (!item.letter.empty()) {
                p.letters[item.letter].z += by;
                continue;
            }
            double middle = 0;
            if (stage())
                for (const work::PiecePlace& place : stage()->bodies.places)
                    if (place.id == item.piece)
                        middle = place.middle;
            p.placement = session::plumbed(p.placement, w.ground, session::plumbDistance(p.placement, w.ground, middle) + by, middle);
        }
    });
}

void Hands::turn(double degrees)
{
    const session::Choice choice = m_desk.session->choice();
    m_desk.session->edit(translated("Turn").toStdString(), "turn", [&](work::Work& w) {
        for (const session::MoveDrag::Item& item : movable(choice)) {
            work::Piece& p = w.pieces.items.at(item.piece);
            if (item.letter.empty())
                p.placement = session::turnedBy(p.placement, degrees);
            else
                p.letters[item.letter].roll += degrees;
        }
    });
}

void Hands::nextPiece(int step)
{
    const work::Work& w = m_desk.session->work();
    std::vector<std::string> open;
    for (const std::string& id : w.pieces.order)
        if (!w.pieces.items.at(id).locked && !w.pieces.items.at(id).hidden)
            open.push_back(id);
    if (open.empty())
        return;
    const auto& targets = m_desk.session->choice().targets;
    const auto at = targets.empty() ? open.end() : std::find(open.begin(), open.end(), targets.back().piece);
    const auto count = static_cast<std::ptrdiff_t>(open.size());
    const std::ptrdiff_t next = at == open.end() ? (step > 0 ? 0 : count - 1) : (at - open.begin() + step + count) % count;
    session::Choice choice;
    choice.set({open[static_cast<std::size_t>(next)], {}});
    m_desk.session->choose(choice);
}

void Hands::intoLetters(int step, bool add)
{
    session::Choice choice = m_desk.session->choice();
    if (choice.empty()) {
        nextPiece(1);
        return;
    }
    const Target lead = choice.targets.back();
    const work::Piece& piece = m_desk.session->work().pieces.items.at(lead.piece);
    const auto& letters = piece.lettering.letterIds;
    if (letters.empty())
        return;
    const auto count = static_cast<std::ptrdiff_t>(letters.size());
    std::ptrdiff_t at = std::find(letters.begin(), letters.end(), lead.letter) - letters.begin();
    if (lead.letter.empty() || at == count)
        at = step > 0 ? -1 : count;
    for (std::ptrdiff_t tries = 0; tries < count; ++tries) {
        at = (at + step + count) % count;
        const std::string text = session::letterText(piece, letters[static_cast<std::size_t>(at)]);
        if (text != " " && text != "\n")
            break;
    }
    const Target next{lead.piece, letters[static_cast<std::size_t>(at)]};
    if (add)
        choice.add(next);
    else
        choice.set(next);
    m_desk.session->choose(choice);
}

bool Hands::key(QKeyEvent* event)
{
    const bool shift = event->modifiers() & Qt::ShiftModifier, control = event->modifiers() & Qt::ControlModifier;
    const double step = unitStep() * (shift && !control ? 10 : 1);
    const auto arrow = [&](double right, double up) {
        if (control && shift)
            changeView(translated("Slide the view").toStdString(), [&](const work::View& v) {
                if (!stage())
                    return v;
                return session::slid(v, work::cameraOf(m_desk.session->work(), stage()->bodies), {0.5, 0.5}, {0.5 - right * 0.05, 0.5 + up * 0.05});
            });
        else if (control)
            changeView(translated("Walk round").toStdString(), [&](const work::View& v) { return session::walked(v, right * 5, up * 5); });
        else
            nudge({right * step, up * step, 0});
    };
    switch (event->key()) {
    case Qt::Key_Left:
        arrow(-1, 0);
        return true;
    case Qt::Key_Right:
        arrow(1, 0);
        return true;
    case Qt::Key_Up:
        arrow(0, 1);
        return true;
    case Qt::Key_Down:
        arrow(0, -1);
        return true;
    case Qt::Key_PageUp:
        control ? turn(shift ? 15 : 1) : plumb(step);
        return true;
    case Qt::Key_PageDown:
        control ? turn(shift ? -15 : -1) : plumb(-step);
        return true;
    case Qt::Key_Plus:
    case Qt::Key_Minus: {
        const double factor = event->key() == Qt::Key_Plus ? 0.9 : 1 / 0.9;
        changeView(translated("Closer").toStdString(), [&](const work::View& v) {
            return stage() ? session::closer(v, work::cameraOf(m_desk.session->work(), stage()->bodies), {0.5, 0.5}, factor) : v;
        });
        return true;
    }
    case Qt::Key_Space:
        nextPiece(shift ? -1 : 1);
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        intoLetters(1, shift);
        return true;
    case Qt::Key_Home:
        changeView(translated("Home").toStdString(), [](const work::View& v) { return session::standardView(v, session::StandardView::Straight); });
        m_desk.session->endMerge();
        return true;
    case Qt::Key_Backspace:
        if (viewIsFree() && !m_desk.session->backToLastView())
            m_desk.say(translated("There is no view before this one"));
        return true;
    case Qt::Key_Escape: {
        if (m_view.callOff())
            return true;
        // From letters to their piece, from a piece to nothing.
        session::Choice choice;
        const auto& targets = m_desk.session->choice().targets;
        if (!targets.empty() && !targets.back().letter.empty())
            choice.set({targets.back().piece, {}});
        m_desk.session->choose(choice);
        return true;
    }
    case Qt::Key_Delete:
        if (m_desk.session->choice().empty())
            return false;
        m_desk.session->edit(translated("Delete").toStdString(), [&](work::Work& w) { session::remove(w, m_desk.session->choice().pieces()); });
        return true;
    default:
        return false;
    }
}

}  // namespace app
