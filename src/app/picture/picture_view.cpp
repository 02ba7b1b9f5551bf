#include "app/picture/picture_view.h"

#include <QColorSpace>
#include <QContextMenuEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <cmath>

#include "app/picture/hands.h"
#include "app/picture/marks.h"
#include "app/picture/paint.h"
#include "app/style.h"
#include "session/under.h"

namespace app {

namespace {

constexpr int kMargin = 7 * kGrid;  // round the frame at least, to walk from
constexpr int kMostPx = 100000;     // as films are at most
constexpr double kLeastZoom = 0.1, kMostZoom = 16, kZoomStep = 1.2;
constexpr double kPlan = 128;     // px, longer side of the plan
constexpr double kLineReach = 6;  // px from a line that still meet it

// Px of the widget for each pt with which all of the sheet fits in.
double fittingScale(const QSize& room, const work::SheetSize& sheet)
{
    return std::min(std::max(16, room.width() - 2 * kMargin) / sheet.widthPt(),
                    std::max(16, room.height() - 2 * kMargin) / sheet.heightPt());
}

QImage imageOf(const picture::Raster<std::uint8_t>& raster)
{
    QImage image(raster.values.data(), raster.width, raster.height, raster.width * raster.channels, QImage::Format_RGB888);
    image.setColorSpace(QColorSpace(QColorSpace::SRgb));
    return image;
}

}  // namespace

PictureView::PictureView(const Context& context, QWidget* parent)
    : QWidget(parent), m_context(context), m_hands(std::make_unique<Hands>(m_context, *this))
{
    setObjectName("picture");
    setAccessibleName(tr("Picture"));
    setAccessibleDescription(tr("Space chooses the next piece, Enter its letters; arrows move what is chosen, with Ctrl they walk round"));
    setMinimumSize(320, 200);
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    m_across = new QScrollBar(Qt::Horizontal, this);
    m_across->setObjectName("picture.across");
    m_down = new QScrollBar(Qt::Vertical, this);
    m_down->setObjectName("picture.down");
    for (QScrollBar* bar : {m_across, m_down}) {
        bar->setCursor(Qt::ArrowCursor);
        bar->hide();
        connect(bar, &QScrollBar::valueChanged, this, [this] {
            update();
            Q_EMIT wanted();
        });
    }
}

PictureView::~PictureView() = default;

// --- size and part ------------------------------------------------------------------------------------------------------------

QSize PictureView::wholeSize() const
{
    const work::SheetSize& sheet = m_context.session->work().sheet();
    if (m_zoom)
        return {std::clamp(qRound(sheet.widthPx() * *m_zoom), 1, kMostPx), std::clamp(qRound(sheet.heightPx() * *m_zoom), 1, kMostPx)};
    const double scale = fittingScale(size(), sheet) * devicePixelRatioF();
    return {std::max(1, qRound(sheet.widthPt() * scale)), std::max(1, qRound(sheet.heightPt() * scale))};
}

QRectF PictureView::frameRect() const
{
    const double ratio = devicePixelRatioF();
    const QSizeF size = QSizeF(wholeSize()) / ratio;
    // On whole device pixels, so that nothing is resampled.
    const auto middle = [&](double room, double needed) { return std::floor((room - needed) / 2 * ratio) / ratio; };
    const double x = m_across->isVisibleTo(this) ? -m_across->value() : middle(width(), size.width());
    const double y = m_down->isVisibleTo(this) ? -m_down->value() : middle(height(), size.height());
    return {QPointF(x, y), size};
}

std::optional<film::Film::Rect> PictureView::wantedPart() const
{
    const QSize whole = wholeSize();
    QRect wanted(QPoint(0, 0), whole);
    if (m_zoom) {
        const QRectF frame = frameRect();
        const double ratio = devicePixelRatioF();
        const QRectF seen = QRectF(rect()).translated(-frame.topLeft());
        wanted &= QRectF(seen.topLeft() * ratio, seen.size() * ratio).toAlignedRect();
    }
    if (hasPart()) {
        const QRect part = QRectF(m_partOnFrame.x() * whole.width(), m_partOnFrame.y() * whole.height(),
                                  m_partOnFrame.width() * whole.width(), m_partOnFrame.height() * whole.height())
                               .toAlignedRect();
        if (part.intersects(wanted))
            wanted &= part;
    }
    if (wanted == QRect(QPoint(0, 0), whole) || wanted.isEmpty())
        return std::nullopt;
    return film::Film::Rect{wanted.left(), wanted.top(), wanted.right() + 1, wanted.bottom() + 1};
}

double PictureView::zoom() const
{
    return static_cast<double>(wholeSize().width()) / m_context.session->work().sheet().widthPx();
}

void PictureView::setZoom(std::optional<double> zoom, QPointF around)
{
    if (zoom) {
        const work::SheetSize& sheet = m_context.session->work().sheet();
        const double most = std::min(kMostZoom, static_cast<double>(kMostPx) / std::max(sheet.widthPx(), sheet.heightPx()));
        zoom = std::clamp(*zoom, std::min(kLeastZoom, most), most);
    }
    if (m_zoom == zoom)
        return;
    const base::Vec2 place = toFrame(around);
    m_zoom = zoom;
    updateScrolls();
    slideBy(around - fromFrame(place));
    update();
    Q_EMIT zoomChanged();
    Q_EMIT wanted();
}

void PictureView::zoomBy(double factor, QPointF around)
{
    const work::SheetSize& sheet = m_context.session->work().sheet();
    const double fitting = fittingScale(size(), sheet) * devicePixelRatioF() * sheet.widthPt() / sheet.widthPx();
    double next = zoom() * factor;
    const auto near = [&](double goal) { return std::abs(std::log(next / goal)) < std::min(0.09, std::abs(std::log(factor)) / 2); };
    if (near(fitting))
        return setZoom({}, around);
    if (near(1))
        next = 1;
    setZoom(next, around);
}

void PictureView::setActualSize(bool actual)
{
    if (actual == isActualSize())
        return;
    setZoom(actual ? std::optional(1.0) : std::nullopt, frameRect().center());
}

QRectF PictureView::seenPart() const
{
    const QRectF frame = frameRect(), seen = QRectF(rect()) & frame;
    return {(seen.x() - frame.x()) / frame.width(), (seen.y() - frame.y()) / frame.height(), seen.width() / frame.width(),
            seen.height() / frame.height()};
}

// The paper moves under the window.
void PictureView::slideBy(QPointF by)
{
    m_across->setValue(qRound(m_across->value() - by.x()));
    m_down->setValue(qRound(m_down->value() - by.y()));
}

QRectF PictureView::planRect() const
{
    const QRectF part = seenPart();
    if (!m_zoom || (part.width() > 0.999 && part.height() > 0.999))
        return {};
    const QSizeF size = QSizeF(wholeSize()).scaled(kPlan, kPlan, Qt::KeepAspectRatio);
    return {QPointF(width() - size.width() - 6 * kGrid, height() - size.height() - 6 * kGrid), size};
}

// Where one is: the whole picture, and a frame round what is seen of it.
void PictureView::paintPlan(QPainter& painter)
{
    const QRectF plan = planRect();
    if (plan.isEmpty())
        return;
    if (m_smallOf != m_wholeRaster) {
        m_small = m_whole.scaled((plan.size() * devicePixelRatioF()).toSize(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
        m_smallOf = m_wholeRaster;
    }
    painter.setPen(QPen(colours().edge, 1));
    painter.setBrush(colours().paper);
    painter.drawRoundedRect(plan.adjusted(-kGrid, -kGrid, kGrid, kGrid + textPx()), kRound, kRound);
    painter.drawImage(plan, m_small);
    const QRectF part = seenPart();
    twoToneFrame(painter,
                 QRectF(plan.x() + part.x() * plan.width(), plan.y() + part.y() * plan.height(), part.width() * plan.width(),
                        part.height() * plan.height()),
                 Qt::SolidLine);
    painter.setPen(colours().ink);
    QFont font = painter.font();
    font.setPixelSize(smallTextPx());
    painter.setFont(font);
    painter.drawText(QRectF(plan.left(), plan.bottom() + 2, plan.width(), textPx() + 2), Qt::AlignCenter,
                     tr("%1 %").arg(zoom() * 100, 0, 'f', 0));
}

void PictureView::updateScrolls()
{
    const QSizeF size = QSizeF(wholeSize()) / devicePixelRatioF();
    const int thick = 12;
    const auto set = [&](QScrollBar* bar, double needed, int room) {
        bar->setVisible(m_zoom && needed > room);
        bar->setRange(0, std::max(0, static_cast<int>(std::ceil(needed)) - room + thick));
        bar->setPageStep(room);
        bar->setSingleStep(32);
    };
    set(m_across, size.width(), width());
    set(m_down, size.height(), height());
    m_across->setGeometry(0, height() - thick, width() - thick, thick);
    m_down->setGeometry(width() - thick, 0, thick, height() - thick);
}

void PictureView::choosePart()
{
    m_hands->choosePart();
    setCursor(Qt::CrossCursor);
}

void PictureView::setPart(const QRectF& onFrame)
{
    m_partOnFrame = onFrame & QRectF(0, 0, 1, 1);
    unsetCursor();
    update();
    Q_EMIT partChosen(hasPart());
    Q_EMIT wanted();
}

bool PictureView::partOfChosen()
{
    if (!m_frame.ids || m_choice.isNull())
        return false;
    const auto& order = m_frame.shownWork->work.pieces.order;
    const QRect box = chosenBounds(*m_frame.ids, [&](const film::PixelId& id) {
        return id.piece > 0 && id.piece <= order.size() &&
               std::any_of(m_choiceShown.targets.begin(), m_choiceShown.targets.end(),
                           [&](const session::Target& t) { return t.piece == order[id.piece - 1u]; });
    });
    if (box.isEmpty())
        return false;
    const QRectF around = QRectF(box).adjusted(-16, -16, 16, 16).translated(m_frame.place.x0, m_frame.place.y0);
    setPart({around.x() / m_frame.widthPx, around.y() / m_frame.heightPx, around.width() / m_frame.widthPx,
             around.height() / m_frame.heightPx});
    return true;
}

QRect PictureView::lettersRect() const
{
    if (!m_frame.ids)
        return {};
    const QRect box = chosenBounds(*m_frame.ids, [](const film::PixelId& id) { return id.piece > 0; });
    const QRectF frame = frameRect();
    const double sx = frame.width() / m_frame.widthPx, sy = frame.height() / m_frame.heightPx;
    return QRectF(frame.x() + (box.x() + m_frame.place.x0) * sx, frame.y() + (box.y() + m_frame.place.y0) * sy, box.width() * sx,
                  box.height() * sy)
               .toAlignedRect() &
           rect();
}

void PictureView::showClipped(bool shown)
{
    m_showClipped = shown;
    if (!shown)
        m_clipped = {};
    update();
    Q_EMIT wanted();
}

// --- lines --------------------------------------------------------------------------------------------------------------------

void PictureView::showLines(bool shown)
{
    m_showLines = shown;
    update();
    Q_EMIT wanted();
}

void PictureView::paintLines(QPainter& painter) const
{
    painter.fillRect(frameRect(), QColor(0x77, 0x77, 0x77, 175));
    painter.setRenderHint(QPainter::Antialiasing);
    const auto drawn = [&](bool chosen, const QPen& pen) {
        painter.setPen(pen);
        for (const session::BodyLines& body : m_frame.shownWork->lines) {
            const session::Choice& choice = m_context.session->choice();
            if ((choice.has(body.target) || choice.has({body.target.piece, {}})) != chosen)
                continue;
            QVector<QLineF> lines;
            for (const auto& [a, b] : body.lines)
                lines << QLineF(fromFrame(a), fromFrame(b));
            painter.drawLines(lines);
        }
    };
    // What is chosen is thicker as well as lighter: colour is not the only sign.
    drawn(false, QPen(kDarkTone, 1));
    drawn(true, QPen(kDarkTone, 3.5));
    drawn(true, QPen(kLightTone, 1.5));
    painter.setRenderHint(QPainter::Antialiasing, false);
}

std::optional<session::Target> PictureView::lineAt(QPointF place) const
{
    std::optional<session::Target> nearest;
    double best = kLineReach;
    if (m_showLines && m_frame.shownWork)
        for (const session::BodyLines& body : m_frame.shownWork->lines)
            for (const auto& [from, to] : body.lines) {
                const QPointF a = fromFrame(from), along = fromFrame(to) - a, off = place - a;
                const double size = QPointF::dotProduct(along, along);
                const double share = size > 0 ? std::clamp(QPointF::dotProduct(along, off) / size, 0.0, 1.0) : 0;
                if (const double apart = distance(a + along * share, place); apart < best) {
                    best = apart;
                    nearest = body.target;
                }
            }
    return nearest;
}

void PictureView::showLamps(bool shown)
{
    m_hands->showLamps(shown);
    update();
}

void PictureView::pickColour(std::function<void(base::Rgb)> take)
{
    m_hands->pickColour(std::move(take));
    setCursor(Qt::CrossCursor);
}

bool PictureView::callOff()
{
    unsetCursor();
    const bool was = m_hands->callOff();
    update();
    Q_EMIT partChosen(hasPart());
    return was;
}

// --- what is shown ------------------------------------------------------------------------------------------------------------

void PictureView::show(const session::LiveFrame& frame)
{
    if (!frame.picture)
        return;
    m_frame = frame;
    const bool whole = frame.place.x0 == 0 && frame.place.y0 == 0 && frame.place.x1 == frame.widthPx && frame.place.y1 == frame.heightPx;
    if (whole) {
        m_wholeRaster = frame.picture;
        m_whole = imageOf(*m_wholeRaster);
        m_part = {};
    } else {
        m_partRaster = frame.picture;
        m_part = imageOf(*m_partRaster);
        m_partPlace = frame.place;
    }
    m_clipped = m_showClipped && frame.clipped ? clippedMarks(*frame.clipped) : QImage();
    updateMarks();
    update();
}

void PictureView::workChanged()
{
    updateScrolls();
    updateMarks();
    update();
}

void PictureView::updateMarks()
{
    const session::Choice& choice = m_context.session->choice();
    if (!m_frame.ids || (m_choiceOf == m_frame.ids.get() && m_choiceShown == choice))
        return;
    m_choiceOf = m_frame.ids.get();
    m_choiceShown = choice;
    if (choice.empty()) {
        m_choice = {};
        return;
    }
    const work::Work& w = m_frame.shownWork->work;
    m_choice = choiceLine(
        *m_frame.ids,
        [&](const film::PixelId& id) {
            const work::Address at = work::addressOf(w, id);
            return !at.piece.empty() && (choice.has({at.piece}) || choice.has({at.piece, at.letter}));
        },
        std::max(1, qRound(devicePixelRatioF() * 1.25)));
}

QRect PictureView::rectOf(const film::Film::Rect& place)
{
    return {place.x0, place.y0, place.x1 - place.x0, place.y1 - place.y0};
}

void PictureView::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), colours().surround);
    const QRectF frame = frameRect();
    painter.save();
    painter.setClipRect(frame);
    // Scaled only while it moves, or another size is on its way.
    const auto put = [&](const QRectF& at, const QImage& image) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform, std::abs(at.width() * devicePixelRatioF() - image.width()) > 1);
        painter.drawImage(at, image);
    };
    if (!m_whole.isNull())
        put(frame, m_whole);
    const auto inPicture = [&](const QImage& image, const QRect& place, int wholeWidth, int wholeHeight) {
        const double sx = frame.width() / wholeWidth, sy = frame.height() / wholeHeight;
        put({frame.x() + place.x() * sx, frame.y() + place.y() * sy, place.width() * sx, place.height() * sy}, image);
    };
    if (hasPart() || !m_part.isNull()) {
        // What is not rendered now is older: it is dimmed.
        if (hasPart())
            painter.fillRect(frame, QColor(0x77, 0x77, 0x77, 150));
        if (!m_part.isNull())
            inPicture(m_part, rectOf(m_partPlace), m_frame.widthPx, m_frame.heightPx);
    }
    if (m_showLines && m_frame.shownWork)
        paintLines(painter);
    if (m_frame.ids && !m_showLines) {
        if (!m_clipped.isNull())
            inPicture(m_clipped, rectOf(m_frame.place), m_frame.widthPx, m_frame.heightPx);
        if (!m_choice.isNull() && !m_hands->showsLamps())
            inPicture(m_choice, rectOf(m_frame.place), m_frame.widthPx, m_frame.heightPx);
    }
    painter.restore();
    m_hands->paint(painter);
    paintPlan(painter);
    if (hasFocus()) {
        painter.setPen(QPen(colours(Variant::Light).accent, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(1, 1, -1, -1));
    }
}

void PictureView::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    updateScrolls();
    Q_EMIT wanted();
}

bool PictureView::event(QEvent* event)
{
    // Another screen may have other pixels.
    if (event->type() == QEvent::ScreenChangeInternal)
        Q_EMIT wanted();
    // Space, Tab and arrows are keys of the picture, not of what would take them on the way.
    if (event->type() == QEvent::ShortcutOverride) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Space || key->key() == Qt::Key_Return || key->key() == Qt::Key_Home)
            event->accept();
    }
    return QWidget::event(event);
}

// --- places -------------------------------------------------------------------------------------------------------------------

base::Vec2 PictureView::toFrame(QPointF place) const
{
    const QRectF frame = frameRect();
    return {(place.x() - frame.x()) / frame.width(), (place.y() - frame.y()) / frame.height()};
}

QPointF PictureView::fromFrame(base::Vec2 uv) const
{
    const QRectF frame = frameRect();
    return {frame.x() + uv.x * frame.width(), frame.y() + uv.y * frame.height()};
}

QPoint PictureView::pixelAt(QPointF place) const
{
    const base::Vec2 uv = toFrame(place);
    return {static_cast<int>(std::floor(uv.x * m_frame.widthPx)) - m_frame.place.x0,
            static_cast<int>(std::floor(uv.y * m_frame.heightPx)) - m_frame.place.y0};
}

std::optional<film::PixelId> PictureView::idAt(QPointF place) const
{
    if (!m_frame.ids)
        return std::nullopt;
    const QPoint p = pixelAt(place);
    if (p.x() < 0 || p.y() < 0 || p.x() >= m_frame.ids->width || p.y() >= m_frame.ids->height)
        return std::nullopt;
    return *m_frame.ids->at(p.x(), p.y());
}

std::optional<QColor> PictureView::colourAt(QPointF place) const
{
    const QPoint p = pixelAt(place);
    const QImage& shown = image();
    if (!m_frame.picture || !shown.rect().contains(p))
        return std::nullopt;
    return shown.pixelColor(p);
}

std::vector<session::Target> PictureView::targetsUnder(QPointF place) const
{
    if (!m_frame.shownWork)
        return {};
    std::vector<session::Target> targets = session::under(m_frame.shownWork->bodies, m_frame.shownWork->camera, toFrame(place));
    const auto& pieces = m_context.session->work().pieces.items;
    std::erase_if(targets, [&](const session::Target& t) { return !pieces.contains(t.piece) || pieces.at(t.piece).locked; });
    return targets;
}

QString PictureView::readoutAt(QPointF place) const
{
    const auto seen = colourAt(place);
    const auto id = idAt(place);
    if (!seen || !id)
        return {};
    // Base colour as it was typed, of the part that is under the pointer.
    const work::Work& w = m_frame.shownWork->work;
    std::string typed;
    constexpr int kWall = 254, kFloor = 255;
    if (id->part == kWall || id->part == kFloor) {
        typed = picture::hexFromRgb((id->part == kWall ? w.ground.wall : w.ground.floor).baseColour);
    } else if (const work::Address at = work::addressOf(w, *id); at.piece.empty()) {
        typed = picture::hexFromRgb(w.ground.backdrop);
    } else {
        typed = picture::hexFromRgb(w.pieces.items.at(at.piece).materialOf(at.letter).of(at.part).baseColour);
    }
    return tr("typed %1, seen %2").arg(QString::fromStdString(typed), seen->name().toUpper());
}

// --- events -------------------------------------------------------------------------------------------------------------------

void PictureView::mousePressEvent(QMouseEvent* event)
{
    setFocus(Qt::MouseFocusReason);
    const bool overPlan = planRect().contains(event->position());
    if (m_space || overPlan || (event->button() == Qt::MiddleButton && m_zoom && frameRect().contains(event->position()))) {
        if (overPlan) {
            const QRectF plan = planRect(), frame = frameRect();
            const QPointF at = event->position() - plan.topLeft();
            slideBy(QPointF(rect().center()) -
                    (frame.topLeft() + QPointF(at.x() / plan.width() * frame.width(), at.y() / plan.height() * frame.height())));
        } else {
            m_slideFrom = event->position();
            m_slid = true;
            setCursor(Qt::ClosedHandCursor);
        }
        return;
    }
    m_hands->press(event->position(), event->button(), event->modifiers());
    update();
}

void PictureView::mouseMoveEvent(QMouseEvent* event)
{
    if (m_slideFrom) {
        slideBy(event->position() - *m_slideFrom);
        m_slideFrom = event->position();
        return;
    }
    m_hands->move(event->position(), event->modifiers());
    Q_EMIT pointed(readoutAt(event->position()));
    update();
}

void PictureView::mouseReleaseEvent(QMouseEvent* event)
{
    if (m_slideFrom) {
        m_slideFrom.reset();
        unsetCursor();
        return;
    }
    m_hands->release(event->position(), event->modifiers());
    update();
}

void PictureView::wheelEvent(QWheelEvent* event)
{
    // Over the frame the picture itself is zoomed, which changes nothing in the work; in the margin the camera comes closer.
    const double notches = event->angleDelta().y() / 120.0;
    if (frameRect().contains(event->position()))
        zoomBy(std::pow(kZoomStep, notches), event->position());
    else
        m_hands->wheel(event->position(), notches);
    event->accept();
}

void PictureView::contextMenuEvent(QContextMenuEvent* event)
{
    // By key it opens in the middle of what is seen.
    const bool byKey = event->reason() == QContextMenuEvent::Keyboard;
    const QPoint place = byKey ? frameRect().center().toPoint() : event->pos();
    Q_EMIT menuWanted(place, mapToGlobal(place));
}

void PictureView::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Space) {
        // Held it slides the picture by a drag; let go without one it chooses.
        if (!event->isAutoRepeat()) {
            m_space = true;
            m_slid = false;
        }
        return;
    }
    if (m_hands->key(event)) {
        update();
        return;
    }
    QWidget::keyPressEvent(event);
}

void PictureView::keyReleaseEvent(QKeyEvent* event)
{
    if (event->key() != Qt::Key_Space || event->isAutoRepeat())
        return QWidget::keyReleaseEvent(event);
    if (m_space && !m_slid)
        m_hands->key(event);
    m_space = false;
    update();
}

void PictureView::leaveEvent(QEvent* event)
{
    Q_EMIT pointed({});
    QWidget::leaveEvent(event);
}

}  // namespace app
