#include "app/ticket/drawings.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "app/style.h"
#include "app/ticket/letter_path.h"
#include "base/units.h"
#include "files/still_file.h"
#include "finish/develop.h"
#include "outline/layout.h"
#include "outline/text.h"
#include "render/camera.h"
#include "work/bodies.h"
#include "work/scene.h"
#include "work/shapes.h"
#include "work/typeset.h"

namespace app {

namespace {

using base::Vec2;
using base::Vec3;

constexpr int kLetters = 3;   // of a text, as drawn
constexpr double kInset = 4;  // px round a drawing in its tile

QPen inkPen(double width = 1.2)
{
    return QPen(colours().ink, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin);
}

const work::Piece* lead(const session::Session& session)
{
    const session::Choice& choice = session.choice();
    return choice.empty() ? nullptr : &session.work().pieces.items.at(choice.targets.back().piece);
}

// --- lettering --------------------------------------------------------------------------------------------------------------------

// The first letters of the lettering in its own face, y down, in em. Kept until text or face are others.
class FirstLetters {
public:
    const QPainterPath& of(const work::Work& work, const work::Lettering& lettering)
    {
        std::string first;
        int letters = 0;
        for (const outline::Grapheme& g : outline::graphemes(lettering.text.substr(0, 256))) {
            const std::string letter = lettering.text.substr(g.begin, g.end - g.begin);
            if (letter.find_first_not_of(" \n\t") == std::string::npos)
                continue;
            first += letter;
            if (++letters == kLetters)
                break;
        }
        if (m_text == first && m_font == lettering.font && m_features == lettering.layout.features && !m_path.isEmpty())
            return m_path;
        m_text = first;
        m_font = lettering.font;
        m_features = lettering.layout.features;
        m_path = {};
        base::Notes notes;
        const auto font = work::openFont(work, lettering.font, m_cache, notes);
        if (!font)
            return m_path;
        m_path = pathOf(first, **font, lettering.layout.features);
        return m_path;
    }

private:
    work::Cache m_cache;
    std::string m_text;
    work::FontChoice m_font;
    std::string m_features;
    QPainterPath m_path;
};

// Y down.
QPainterPath pathOf(const outline::DrawnShape& shape)
{
    QPainterPath path;
    for (const outline::CurveContour& contour : shape.contours) {
        path.moveTo(contour.front().p[0].x, -contour.front().p[0].y);
        for (const outline::Curve& curve : contour)
            addCurve(path, curve);
        path.closeSubpath();
    }
    path.setFillRule(shape.evenOdd ? Qt::OddEvenFill : Qt::WindingFill);
    return path;
}

// Shapes of an artwork, y down, with their places in it. Kept until it is another.
class Shapes {
public:
    const std::vector<std::pair<std::string, QPainterPath>>& of(const work::Work& work, const work::Artwork& artwork)
    {
        if (m_drawing == artwork.drawing)
            return m_paths;
        m_drawing = artwork.drawing;
        m_paths.clear();
        work::Cache cache;
        const auto drawing = work::openDrawing(work, artwork, cache);
        if (!drawing)
            return m_paths;
        for (const outline::DrawnShape& shape : (*drawing)->shapes) {
            m_paths.emplace_back(shape.id, pathOf(shape));
        }
        return m_paths;
    }

private:
    std::string m_drawing;
    std::vector<std::pair<std::string, QPainterPath>> m_paths;
};

// What is painted in the box comes to lie in the tile, as large as it has room.
void fitInto(QPainter& painter, const QRectF& tile, const QRectF& box)
{
    const QRectF room = tile.adjusted(kInset, kInset, -kInset, -kInset);
    const double scale = std::min(room.width() / box.width(), room.height() / box.height());
    painter.translate(room.center());
    painter.scale(scale, scale);
    painter.translate(-box.center());
}

// The artwork in the colours it has now.
void paintArtwork(QPainter& painter, const QRectF& tile, const work::Work& work, const work::Piece& piece, Shapes& shapes)
{
    const auto& paths = shapes.of(work, *piece.artwork());
    QRectF box;
    for (const auto& [_, path] : paths)
        box |= path.boundingRect();
    if (box.isEmpty())
        return;
    std::map<std::string, std::string> letterOf;
    for (const auto& [letter, shape] : piece.artwork()->shapes.items)
        letterOf[shape.shape] = letter;
    painter.save();
    fitInto(painter, tile, box);
    for (const auto& [shape, path] : paths)
        painter.fillPath(path, seenColour(piece.materialOf(letterOf[shape]).of("face").baseColour));
    painter.restore();
}

void paintShape(QPainter& painter, const QRectF& tile, const work::Piece& piece)
{
    if (piece.shape()->isPlate()) {
        // A board, or its rim alone.
        QRectF board(QPointF(), QSizeF(tile.height() * 0.9, tile.height() * 0.55));
        board.moveCenter(tile.center());
        QPainterPath plate;
        plate.addRoundedRect(board, 5, 5);
        if (piece.shape()->rim > 0)
            plate.addRoundedRect(board.adjusted(4, 4, -4, -4), 3, 3);
        painter.fillPath(plate, seenColour(piece.material.of("face").baseColour));
        return;
    }
    const QPainterPath path = pathOf(work::curvesOf(*piece.shape()));
    if (path.boundingRect().isEmpty())
        return;
    painter.save();
    fitInto(painter, tile, path.boundingRect());
    painter.fillPath(path, seenColour(piece.material.of("face").baseColour));
    painter.restore();
}

Drawing letteringDrawing(const Context& context)
{
    auto letters = std::make_shared<FirstLetters>();
    auto shapes = std::make_shared<Shapes>();
    return [session = context.session, letters, shapes](QPainter& painter, const QRectF& tile) {
        const work::Piece* piece = lead(*session);
        if (piece && piece->artwork())
            paintArtwork(painter, tile, session->work(), *piece, *shapes);
        if (piece && piece->shape())
            paintShape(painter, tile, *piece);
        if (!piece || !piece->lettering())
            return;
        const QPainterPath& path = letters->of(session->work(), *piece->lettering());
        const QRectF box = path.boundingRect();
        if (box.isEmpty())
            return;
        painter.save();
        fitInto(painter, tile, box);
        painter.fillPath(path, colours().ink);
        painter.restore();
    };
}

// --- form and material ------------------------------------------------------------------------------------------------------------

// The right half of a slab's section, from the middle of its back round its side to the middle of its front: pt, y down, z = 0 on top.
QPolygonF slabSection(const solid::SlabForm& form, double stroke)
{
    const solid::Bevel &front = form.front, &back = form.linked ? form.front : form.back;
    const double depth = std::max(0.5, form.depthPt), tolerance = 0.005 * stroke;
    const double high = front.none() ? 0 : front.heightPt, low = back.none() ? 0 : back.heightPt;
    const double shrink = std::min(1.0, depth / std::max(1e-9, high + low)), height = std::max(0.0, depth - (high + low) * shrink);
    const bool upright = (form.draft == 0 && form.flutes.none()) || height <= 0;
    const std::vector<solid::Level> side =
        upright ? std::vector<solid::Level>{{0, 0}, {0, height}} : solid::sideLevels(form, height, tolerance);
    const double grown = form.grownOut ? std::max(front.none() ? 0 : side.back().distance + front.widthPt,
                                                  back.none() ? 0 : side.front().distance + back.widthPt)
                                       : 0;
    const double half = stroke / 2 + grown;
    QPolygonF line;
    const auto add = [&](double distance, double z) { line << QPointF(std::max(0.0, half - distance), depth - z); };
    line << QPointF(0, depth);
    std::vector<solid::Level> levels = solid::levelsOf(back, tolerance);
    std::reverse(levels.begin(), levels.end());
    for (const solid::Level& l : levels)
        add(side.front().distance + l.distance, (low - l.height) * shrink);
    for (const solid::Level& l : side)
        add(l.distance, low * shrink + l.height);
    for (const solid::Level& l : solid::levelsOf(front, tolerance))
        add(side.back().distance + l.distance, depth - (high - l.height) * shrink);
    line << QPointF(0, line.back().y());
    return line;
}

// The section of a dome: its front, from the left, and its back.
QPolygonF domeSection(const solid::DomedForm& form, double half)
{
    QPolygonF section;
    const double k = 6 * std::max(0.0, form.fullness), power = 0.5 - 0.5 * std::min(0.0, form.fullness);
    const auto height = [&](double x) {
        const double u = k > 0.01 ? (1 - std::cosh(k * x) / std::cosh(k)) / (1 - 1 / std::cosh(k)) : 1 - x * x;
        return std::pow(std::max(0.0, u), power);
    };
    constexpr int kSteps = 24;
    for (int i = 0; i <= kSteps; ++i) {
        const double x = -std::cos(base::kPi * i / kSteps);
        section << QPointF(x * half, -form.depthPt / 2 - form.rise * half * height(x));
    }
    for (int i = kSteps; i >= 0; --i) {
        const double x = -std::cos(base::kPi * i / kSteps);
        section << QPointF(x * half, form.depthPt / 2 + form.backRise * half * height(x));
    }
    return section;
}

Drawing formDrawing(const Context& context)
{
    return [session = context.session](QPainter& painter, const QRectF& tile) {
        if (const auto domes = session::formsOf<solid::DomedForm>(session->work(), session->choice()); !domes.empty()) {
            const work::Piece* piece = lead(*session);
            QPolygonF section = domeSection(*domes.back(), piece ? piece->sizePt() / 14 : 12);
            const QRectF room = tile.adjusted(kInset, kInset, -kInset, -kInset), box = section.boundingRect();
            const double scale = std::min(room.width() / std::max(1e-6, box.width()), room.height() / std::max(1e-6, box.height()));
            for (QPointF& p : section)
                p = room.center() + (p - box.center()) * scale;
            painter.setPen(inkPen());
            painter.setBrush(colours().press);
            painter.drawPolygon(section);
            return;
        }
        if (const auto tubes = session::formsOf<solid::TubeForm>(session->work(), session->choice()); !tubes.empty()) {
            const solid::TubeForm& tube = *tubes.back();
            const QSizeF size(tube.widthPt, tube.heightPt > 0 ? tube.heightPt : tube.widthPt);
            QRectF box(QPointF(), size.scaled(tile.size() - 4 * QSizeF(kInset, kInset), Qt::KeepAspectRatio));
            box.moveCenter(tile.center());
            painter.setPen(inkPen());
            painter.setBrush(colours().press);
            if (tube.section == solid::TubeSection::Ribbon)
                painter.drawRect(box);
            for (int i = 0; tube.section == solid::TubeSection::Rope && i < tube.strands; ++i) {
                const double angle = 2 * base::kPi * i / tube.strands, third = box.width() / 3.5;
                painter.drawEllipse(box.center() + third * QPointF(std::sin(angle), -std::cos(angle)), 0.85 * third, 0.85 * third);
            }
            if (tube.section == solid::TubeSection::Round)
                painter.drawEllipse(box);
            return;
        }
        if (const auto blocks = session::formsOf<solid::BlockForm>(session->work(), session->choice()); !blocks.empty()) {
            // A square whose sides run to its point.
            const solid::BlockForm& form = *blocks.back();
            const double half = tile.height() * 0.2, far = std::max(1e-6, std::hypot(form.x, form.y));
            const QPointF way = QPointF(form.x, -form.y) / far * half * 1.6, front = tile.center() - way / 2, back = front + way;
            const double small = form.toPoint ? half * (1 - 0.7 * form.share) : half;
            const auto square = [](QPointF at, double h) {
                return QPolygonF{at + QPointF(-h, -h), at + QPointF(h, -h), at + QPointF(h, h), at + QPointF(-h, h)};
            };
            const QPolygonF near = square(front, half), end = square(back, small);
            painter.setPen(inkPen());
            painter.setBrush(colours().press);
            for (int i = 0; i < 4; ++i)
                painter.drawPolygon(QPolygonF{near[i], near[(i + 1) % 4], end[(i + 1) % 4], end[i]});
            painter.drawPolygon(near);
            return;
        }
        const auto slabs = session::formsOf<solid::SlabForm>(session->work(), session->choice());
        if (slabs.empty())
            return;
        const solid::SlabForm& form = *slabs.back();
        const QRectF room = tile.adjusted(kInset, kInset, -kInset, -kInset);
        // A stroke as wide as it is usually in lettering of this size: a seventh of the em.
        const work::Piece* piece = lead(*session);
        const double stroke = std::max(1.0, piece ? piece->sizePt() / 7 : 24);
        QPolygonF section = slabSection(form, stroke);
        for (qsizetype i = section.size(); i-- > 0;)
            section << QPointF(-section[i].x(), section[i].y());
        const QRectF box = section.boundingRect();
        const double scale = std::min(room.width() / std::max(1.0, box.width()), room.height() / std::max(1.0, box.height()));
        for (QPointF& p : section)
            p = room.center() + (p - box.center()) * scale;
        painter.setPen(inkPen());
        painter.setBrush(colours().press);
        painter.drawPolygon(section);
    };
}

Drawing materialDrawing(const Context& context)
{
    return [session = context.session](QPainter& painter, const QRectF& tile) {
        const auto sets = session::materialsOf(session->work(), session->choice());
        if (sets.empty())
            return;
        const auto colour = [&](const char* part) { return seenColour(sets.back()->of(part).baseColour); };
        // A block: its face in its bevel, its side going back.
        const double h = tile.height() - 3 * kInset, back = h * 0.45;
        const QRectF block(tile.center().x() - (h + back) / 2, tile.bottom() - kInset - h, h, h);
        const QPointF step(back, -back * 0.5);
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour("side"));
        painter.drawPolygon(QPolygonF{block.topLeft(), block.topLeft() + step, block.topRight() + step, block.bottomRight() + step,
                                      block.bottomRight(), block.topRight()});
        painter.setBrush(colour("frontBevel"));
        painter.drawRect(block);
        const double edge = h * 0.18;
        painter.setBrush(colour("face"));
        painter.drawRect(block.adjusted(edge, edge, -edge, -edge));
        painter.setPen(QPen(colours().edge, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(QPolygonF{block.topLeft(), block.topLeft() + step, block.topRight() + step, block.bottomRight() + step,
                                      block.bottomRight(), block.bottomLeft()});
    };
}

// --- the whole work ---------------------------------------------------------------------------------------------------------------

Drawing sheetDrawing(const Context& context)
{
    return [session = context.session](QPainter& painter, const QRectF& tile) {
        const work::SheetSize& sheet = session->work().sheet();
        const QSizeF size = QSizeF(sheet.widthPt(), sheet.heightPt()).scaled(tile.size() - QSizeF(10, 8), Qt::KeepAspectRatio);
        QRectF page(QPointF(), QSizeF(std::max(2.0, size.width()), std::max(2.0, size.height())));
        page.moveCenter(tile.center());
        painter.setPen(inkPen(1));
        painter.setBrush(Qt::white);
        painter.drawRect(page);
    };
}

Drawing groundDrawing(const Context& context)
{
    return [session = context.session](QPainter& painter, const QRectF& tile) {
        const work::Ground& ground = session->work().ground;
        const QColor wall = seenColour(ground.wall.baseColour), floor = seenColour(ground.floor.baseColour),
                     behind = seenColour(ground.backdrop);
        const double fold = tile.top() + tile.height() * 0.62;
        const QRectF above(tile.topLeft(), QPointF(tile.right(), fold)), below(QPointF(tile.left(), fold), tile.bottomRight());
        switch (ground.kind) {
        case render::GroundKind::None:
            painter.fillRect(tile, behind);
            painter.setPen(QPen(colours().edge, 1, Qt::DotLine));
            painter.drawLine(tile.bottomLeft(), tile.topRight());
            break;
        case render::GroundKind::Wall:
            painter.fillRect(tile, wall);
            break;
        case render::GroundKind::Floor:
            painter.fillRect(above, behind);
            painter.fillRect(below, floor);
            break;
        case render::GroundKind::Sweep: {
            QLinearGradient bend(0, fold - tile.height() * 0.18, 0, fold + tile.height() * 0.12);
            bend.setColorAt(0, wall);
            bend.setColorAt(1, floor);
            painter.fillRect(tile, bend);
            break;
        }
        default:
            painter.fillRect(above, wall);
            painter.fillRect(below, floor);
        }
    };
}

// A block in the middle of the sheet, as the view sees it in its frame.
Drawing viewDrawing(const Context& context)
{
    return [session = context.session](QPainter& painter, const QRectF& tile) {
        const render::Camera camera = work::cameraOf(session->work(), {});
        const QSizeF size = QSizeF(camera.frameWidth, camera.frameHeight).scaled(tile.size() - QSizeF(6, 6), Qt::KeepAspectRatio);
        QRectF frame(QPointF(), size);
        frame.moveCenter(tile.center());
        painter.setPen(QPen(colours().line, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(frame);
        const double side = std::min(camera.frameWidth, camera.frameHeight);
        const work::Sheet& sheet = session->work().shownSheet();
        const Vec3 middle{sheet.x + sheet.view.aimX, sheet.y + sheet.view.aimY, sheet.view.aimZ};
        QPointF corners[8];
        for (int i = 0; i < 8; ++i) {
            const Vec3 at = middle + Vec3{(i & 1 ? 0.36 : -0.36) * side, (i & 2 ? 0.3 : -0.3) * side, (i & 4 ? 0.24 : -0.24) * side};
            Vec2 uv;
            if (!render::project(camera, at, uv))
                return;
            corners[i] = {frame.x() + uv.x * frame.width(), frame.y() + uv.y * frame.height()};
        }
        painter.setClipRect(frame, Qt::IntersectClip);
        painter.setPen(QPen(colours().softInk, 0.8));
        for (const auto& [a, b] : {std::pair{0, 1}, {2, 3}, {0, 2}, {1, 3}, {0, 4}, {1, 5}, {2, 6}, {3, 7}})
            painter.drawLine(corners[a], corners[b]);
        painter.setPen(inkPen(1.4));
        painter.setBrush(QColor(colours().accent.red(), colours().accent.green(), colours().accent.blue(), 60));
        painter.drawPolygon(QPolygonF{corners[4], corners[5], corners[7], corners[6]});
    };
}

// From above: the lettering, and where light comes from in which colour.
Drawing lightDrawing(const Context& context)
{
    return [session = context.session](QPainter& painter, const QRectF& tile) {
        const work::Work& w = session->work();
        const QColor around = seenColour(w.surroundings.on ? w.surroundings.factor() * 2.0f : base::Rgb{});
        painter.fillRect(tile, around);
        const bool dark = around.lightness() < 110;
        const QColor line = dark ? QColor("#EDEDEB") : QColor("#1D2123");
        const QPointF middle = tile.center() + QPointF(0, -2);
        for (const std::string& id : w.lights.order) {
            const work::Light& light = w.lights.items.at(id);
            if (light.newer)
                continue;
            const double a = base::radians(light.direction), flat = std::cos(base::radians(light.height));
            const double reach = 0.25 + 0.75 * std::abs(flat);
            const QPointF lamp = middle + QPointF(std::sin(a) * tile.width() * 0.4 * reach, std::cos(a) * tile.height() * 0.4 * reach);
            const base::Rgb c = light.colour;
            const QColor colour = seenColour(c / std::max({c.x, c.y, c.z, 1e-3f}));
            if (light.shines()) {
                painter.setPen(QPen(colour, 1.5));
                painter.drawLine(lamp, middle);
            }
            painter.setPen(QPen(line, 1));
            painter.setBrush(light.shines() ? QBrush(colour) : QBrush(Qt::NoBrush));
            painter.drawEllipse(lamp, 3, 3);
        }
        painter.setPen(Qt::NoPen);
        painter.setBrush(line);
        painter.drawRect(QRectF(middle.x() - 7, middle.y() - 1.5, 14, 3));
    };
}

// What the finish makes of light from black to twice white, both as a screen shows them.
Drawing finishDrawing(const Context& context)
{
    return [session = context.session](QPainter& painter, const QRectF& tile) {
        finish::DevelopSettings settings = work::developSettingsOf(session->work(), false);
        settings.desk = {{1, 1, 1}};
        const QRectF room = tile.adjusted(kInset, kInset, -kInset, -kInset);
        painter.setPen(QPen(colours().line, 1, Qt::DashLine));
        painter.drawLine(room.bottomLeft(), room.topRight());
        QPolygonF curve;
        const float most = picture::encodeSrgb(2.0f);
        for (int i = 0; i <= 24; ++i) {
            const float x = most * static_cast<float>(i) / 24, light = picture::decodeSrgb(x);
            const base::Rgb entry{light, light, light};
            curve << QPointF(room.left() + i / 24.0 * room.width(),
                             room.bottom() - std::clamp(finish::developed(&entry, 1, settings).y, 0.0f, 1.0f) * room.height());
        }
        painter.setPen(inkPen(1.6));
        painter.drawPolyline(curve);
    };
}

Drawing exportDrawing(const Context& context)
{
    return [session = context.session](QPainter& painter, const QRectF& tile) {
        const QString ending = QString::fromLatin1(files::exporterOf(session->work().output().format).ending).remove('.').toUpper();
        QFont font = painter.font();
        font.setPixelSize(std::max(8, static_cast<int>(tile.height() * 0.36)));
        font.setWeight(QFont::Bold);
        painter.setFont(font);
        painter.setPen(colours().ink);
        painter.drawText(tile, Qt::AlignCenter, ending);
    };
}

}  // namespace

Drawing drawingOf(const Context& context, const QString& section)
{
    using Make = Drawing (*)(const Context&);
    static const std::pair<const char*, Make> kDrawings[] = {
        {"lettering", letteringDrawing}, {"form", formDrawing},     {"material", materialDrawing},
        {"sheet", sheetDrawing},         {"ground", groundDrawing}, {"view", viewDrawing},
        {"light", lightDrawing},         {"finish", finishDrawing}, {"export", exportDrawing}};
    for (const auto& [id, make] : kDrawings)
        if (section == id)
            return make(context);
    return {};
}

}  // namespace app
