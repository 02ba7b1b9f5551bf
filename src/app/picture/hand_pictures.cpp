// Lugs of the pictures that lie on what is chosen: they shift one, and turn and widen it.
#include <algorithm>
#include <cmath>

#include "app/picture/hands.h"
#include "app/picture/paint.h"
#include "app/picture/picture_view.h"
#include "app/style.h"
#include "session/edits.h"
#include "solid/check.h"
#include "work/pictures.h"

namespace app {

using base::Vec2;
using base::Vec3;

namespace {

// Of the face if that has any, else of whatever part has.
const work::Pictures* picturesOf(const work::MaterialSet& set)
{
    const work::Pictures& face = set.of("face").pictures;
    if (face.any())
        return &face;
    if (set.piece.pictures.any())
        return &set.piece.pictures;
    for (const auto& [_, material] : set.parts)
        if (material.pictures.any())
            return &material.pictures;
    return nullptr;
}

// How high the first one is that can be shown, over its width.
double aspectOf(const work::Work& work, const work::Pictures& pictures)
{
    for (const auto role : work::kPictureRoles)
        if (const auto asset = work.assets.find(pictures.*role); asset != work.assets.end() && asset->second.texture)
            return asset->second.texture->aspect();
    return 1;
}

Vec2 turned(Vec2 v, double degrees)
{
    const double a = degrees * base::kPi / 180, c = std::cos(a), s = std::sin(a);
    return {c * v.x - s * v.y, s * v.x + c * v.y};
}

// Of all pictures on what is chosen.
template <class Change>
void changePictures(work::Work& work, const session::Choice& choice, Change change)
{
    for (work::MaterialSet* set : session::materialsIn(work, choice)) {
        std::vector<work::Material*> all{&set->piece};
        for (auto& [_, material] : set->parts)
            all.push_back(&material);
        for (work::Material* m : all)
            if (m->pictures.any())
                change(m->pictures);
    }
}

}  // namespace

std::optional<Hands::LaidPicture> Hands::laidPicture() const
{
    const session::ShownWork* s = shownWork();
    const session::Choice& choice = m_context.session->choice();
    if (!*m_context.movesPictures || !s || choice.empty())
        return std::nullopt;
    const session::Target& lead = choice.targets.back();
    const work::Work& w = m_context.session->work();
    const work::Piece& piece = w.pieces.items.at(lead.piece);
    const work::Pictures* pictures = picturesOf(piece.materialOf(lead.letter));
    const auto place = std::find_if(s->bodies.places.begin(), s->bodies.places.end(), [&](const auto& p) { return p.id == lead.piece; });
    if (!pictures || piece.locked || place == s->bodies.places.end())
        return std::nullopt;
    LaidPicture laid{*pictures, aspectOf(w, *pictures), place->pose};
    if (pictures->lies == surface::PictureLies::Wrapped || pictures->lies == surface::PictureLies::Front) {
        laid.plane.origin = laid.plane.apply({0, place->baseline + place->middle, work::depthOf(piece.formOf(lead.letter))});
        return laid;
    }
    for (const work::WorkBody& body : s->bodies.bodies)
        if (body.piece == lead.piece && body.copy == 0 &&
            (lead.letter.empty() || std::find(body.letters.begin(), body.letters.end(), lead.letter) != body.letters.end())) {
            const base::Box3 box = solid::bounds(*body.body);
            laid.plane = body.pose;
            laid.plane.origin = body.pose.apply({box.centre().x, box.centre().y, box.high.z});
            return laid;
        }
    return std::nullopt;
}

void Hands::addPictureLugs(std::vector<Lug>& lugs, const LaidPicture& laid) const
{
    const work::Pictures& p = laid.pictures;
    const Vec2 middle{p.x, p.y}, corner = turned({p.widthPt / 2, p.widthPt * laid.aspect / 2}, p.turn);
    lugs.push_back({Lug::Kind::PictureCorner, seenOn(laid.plane, middle + corner), {}});
    lugs.push_back({Lug::Kind::PictureMiddle, seenOn(laid.plane, middle), {}});
}

void Hands::beginPictureLug(const Lug& lug, const LaidPicture& laid, const QPointF& from)
{
    const session::Choice choice = m_context.session->choice();
    const auto grabbed = onPose(laid.plane, from);
    if (!grabbed)
        return;
    auto text = std::make_shared<QString>();
    Drag drag = labelled(text);
    if (lug.kind == Lug::Kind::PictureMiddle) {
        drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
            const auto at = onPose(laid.plane, to);
            if (!at)
                return;
            Vec2 by = *at - *grabbed;
            if (modifiers & Qt::ShiftModifier)
                (std::abs(by.x) > std::abs(by.y) ? by.y : by.x) = 0;
            change([&](work::Work& w) {
                changePictures(w, choice, [&](work::Pictures& p) {
                    p.x += by.x;
                    p.y += by.y;
                });
            });
            *text = handText("%1 across, %2 up").arg(length(laid.pictures.x + by.x), length(laid.pictures.y + by.y));
        };
        begin(std::move(drag), from, handText("Move the picture"));
        return;
    }
    const Vec2 middle{laid.pictures.x, laid.pictures.y}, was = *grabbed - middle;
    if (base::length(was) <= 0)
        return;
    drag.move = [=, this](const QPointF& to, Qt::KeyboardModifiers modifiers) {
        const auto at = onPose(laid.plane, to);
        if (!at || base::length(*at - middle) <= 0)
            return;
        const Vec2 now = *at - middle;
        double by = std::atan2(cross(was, now), dot(was, now)) * 180 / base::kPi;
        // It stays upright and at eighths unless it is held free.
        if (const double near = std::round((laid.pictures.turn + by) / 15) * 15;
            !(modifiers & Qt::ControlModifier) && std::abs(laid.pictures.turn + by - near) < 3)
            by = near - laid.pictures.turn;
        by = std::round(by * 10) / 10;
        const double larger = base::length(now) / base::length(was);
        change([&](work::Work& w) {
            changePictures(w, choice, [&](work::Pictures& p) {
                p.widthPt = std::max(0.01, p.widthPt * larger);
                p.turn += by;
            });
        });
        *text = handText("width %1, turned %2°").arg(length(laid.pictures.widthPt * larger)).arg(laid.pictures.turn + by, 0, 'f', 1);
    };
    begin(std::move(drag), from, handText("Size of the picture"));
}

// Its edges, and how it is upright.
void Hands::paintLaidPicture(QPainter& painter, const LaidPicture& laid) const
{
    const work::Pictures& p = laid.pictures;
    const Vec2 middle{p.x, p.y};
    const double w = p.widthPt / 2, h = w * laid.aspect;
    const Vec2 corners[] = {{-w, -h}, {w, -h}, {w, h}, {-w, h}};
    for (int i = 0; i < 4; ++i)
        twoTone(painter, seenOn(laid.plane, middle + turned(corners[i], p.turn)),
                seenOn(laid.plane, middle + turned(corners[(i + 1) % 4], p.turn)), Qt::DashLine);
}

QString Hands::paintPictureLug(QPainter& painter, const Lug& lug) const
{
    const QPointF at = lug.at;
    if (lug.kind == Lug::Kind::PictureMiddle) {
        // A sheet with a hill.
        painter.drawRect(QRectF(at.x() - 9, at.y() - 7, 18, 14));
        painter.drawPolyline(
            QPolygonF{at + QPointF(-9, 5), at + QPointF(-3, -2), at + QPointF(2, 3), at + QPointF(5, 0), at + QPointF(9, 5)});
        return handText("move the picture");
    }
    painter.drawPolygon(QPolygonF{at + QPointF(-9, -7), at + QPointF(7, -7), at + QPointF(7, 9), at + QPointF(1, 9), at + QPointF(1, -1),
                                  at + QPointF(-9, -1)});
    return handText("turn and widen the picture");
}

}  // namespace app
