#include "app/picture/picture_view.h"

#include <QContextMenuEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <cmath>

#include "app/picture/hands.h"
#include "app/picture/marks.h"
#include "app/picture/raster_image.h"
#include "app/style.h"
#include "session/summary.h"
#include "session/under.h"

namespace app {

namespace {

constexpr double kZoomStep = 1.2;  // of a notch

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

// --- part -----------------------------------------------------------------------------------------------------------------------

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

void PictureView::draw(PenFor use, const std::string& piece)
{
    m_hands->drawWithPen(use, piece);
    if (m_hands->isDrawing()) {
        setCursor(Qt::CrossCursor);
        setFocus();
    }
    update();
}

void PictureView::aimAt(AimAt what, const std::string& id)
{
    m_hands->aimAt(what, id);
    if (m_hands->isAiming()) {
        setCursor(Qt::CrossCursor);
        setFocus();
    }
    update();
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
        m_whole = imageOf(frame.picture);
        m_part = {};
    } else {
        m_part = imageOf(frame.picture);
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
    if (!m_frame.ids || (m_choiceOf == m_frame.ids && m_choiceShown == choice))
        return;
    m_choiceOf = m_frame.ids;
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
        if (key->key() == Qt::Key_Space || key->key() == Qt::Key_Return || key->key() == Qt::Key_Home ||
            (key->key() == Qt::Key_Delete && m_hands->takesDelete()) || (m_hands->isDrawing() && key->key() == Qt::Key_Backspace))
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

work::Address PictureView::addressAt(QPointF place) const
{
    const auto id = idAt(place);
    return id && m_frame.shownWork ? work::addressOf(m_frame.shownWork->work, *id) : work::Address();
}

PictureView::OnGround PictureView::groundAt(QPointF place) const
{
    constexpr int kWall = 254, kFloor = 255;
    const auto id = idAt(place);
    return id && id->part == kWall ? OnGround::Wall : id && id->part == kFloor ? OnGround::Floor : OnGround::Nothing;
}

QString PictureView::readoutAt(QPointF place) const
{
    const auto seen = colourAt(place);
    const auto id = idAt(place);
    if (!seen || !id)
        return {};
    // Base colour as it was typed, of the part that is under the pointer.
    const work::Work& w = m_frame.shownWork->work;
    const auto hex = [](base::Rgb colour) { return QString::fromStdString(picture::hexFromRgb(colour)); };
    const work::Address at = work::addressOf(w, *id);
    const OnGround ground = groundAt(place);
    if (ground == OnGround::Nothing && at.piece.empty())
        return tr("typed %1, seen %2").arg(hex(w.ground.backdrop), seen->name().toUpper());
    const work::Material& material = ground == OnGround::Wall    ? w.ground.wall
                                     : ground == OnGround::Floor ? w.ground.floor
                                                                 : w.pieces.items.at(at.piece).materialOf(at.letter).of(at.part);
    const base::Rgb linear = picture::decodeSrgb({seen->redF(), seen->greenF(), seen->blueF()});
    const std::string why = session::whySeenOtherwise(material, material.baseColour, linear);
    const QString both = tr("typed %1, seen %2").arg(hex(material.baseColour), seen->name().toUpper());
    return why.empty() ? both : tr("%1: %2").arg(both, QString::fromStdString(why));
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

void PictureView::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton)
        m_hands->doubleClick(event->position(), event->modifiers());
    else
        mousePressEvent(event);
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
