#include "app/ticket/head.h"

#include <QEvent>
#include <QPainter>
#include <QPainterPath>

#include "app/motion.h"
#include "app/style.h"

namespace app {

namespace {

constexpr int kChevron = 9;  // px

// Points down when open (1), to the right when closed (0).
void paintChevron(QPainter& painter, QPointF middle, double open, const QColor& colour)
{
    painter.setPen(QPen(colour, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    const double a = kChevron / 2.0, b = kChevron / 4.0;
    painter.save();
    painter.translate(middle);
    painter.rotate(90 * open);
    painter.drawPolyline(QPolygonF{QPointF(-b, -a), QPointF(b, 0), QPointF(-b, a)});
    painter.restore();
}

// The ground of a button that lies on paper.
void paintGround(QPainter& painter, const QAbstractButton& button, const QRect& box)
{
    const Colours& c = colours();
    const bool over = button.underMouse() && button.isEnabled();
    if (button.isDown() || button.isChecked() || over) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(button.isDown() ? c.press : button.isChecked() && !over ? c.chosen : c.hover);
        painter.drawRoundedRect(box, kRound, kRound);
    }
    if (button.hasFocus()) {
        painter.setPen(QPen(c.accent, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(box).adjusted(1, 1, -1, -1), kRound, kRound);
    }
}

QFont bold(QFont font)
{
    font.setWeight(QFont::DemiBold);
    return font;
}

QFont small(QFont font)
{
    font.setPixelSize(smallTextPx());
    return font;
}

}  // namespace

Head::Head(const QString& title, QWidget* parent) : QAbstractButton(parent)
{
    setText(title);
    setCheckable(true);
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAttribute(Qt::WA_Hover);
    setAccessibleName(title);
    m_turn.setDuration(kMotionMs);
    connect(&m_turn, &QVariantAnimation::valueChanged, this, [this] { update(); });
}

void Head::checkStateSet()
{
    QAbstractButton::checkStateSet();
    move();
}

void Head::nextCheckState()
{
    QAbstractButton::nextCheckState();
    move();
}

void Head::move()
{
    if (!currentLook().motion || !isVisible())
        return;
    m_turn.stop();
    m_turn.setStartValue(isChecked() ? 0.0 : 1.0);
    m_turn.setEndValue(isChecked() ? 1.0 : 0.0);
    m_turn.start();
}

void Head::setSummary(const QString& summary)
{
    m_summary = summary;
    setAccessibleDescription(summary);
    update();
}

bool Head::event(QEvent* event)
{
    // What is cut off is said in full.
    if (event->type() == QEvent::ToolTip)
        setToolTip(text() + (m_summary.isEmpty() ? QString() : ": " + m_summary) + (m_keys.isEmpty() ? QString() : " (" + m_keys + ")"));
    return QAbstractButton::event(event);
}

// --- a section ------------------------------------------------------------------------------------------------------------------

SectionHead::SectionHead(const QString& title, Drawing drawing, QWidget* parent) : Head(title, parent), m_drawing(std::move(drawing)) {}

void SectionHead::setNarrow(bool narrow)
{
    m_narrow = narrow;
    updateGeometry();
    update();
}

void SectionHead::setAside(QWidget* aside)
{
    m_aside = aside;
    m_aside->setParent(this);
    m_aside->installEventFilter(this);
    placeAside();
}

void SectionHead::placeAside()
{
    if (!m_aside)
        return;
    m_aside->adjustSize();
    m_aside->move(width() - m_aside->width() - 7 * kGrid, kGrid);
}

QSize SectionHead::sizeHint() const
{
    const int texts = QFontMetrics(bold(font())).height() + QFontMetrics(small(font())).height();
    return {300, std::max(texts, drawingRect().height()) + 3 * kGrid};
}

QRect SectionHead::drawingRect() const
{
    const int tall = 32 * currentLook().textPercent / 100, wide = 44 * currentLook().textPercent / 100;
    return {m_narrow ? (width() - wide) / 2 : 3 * kGrid, (height() - tall) / 2, wide, tall};
}

void SectionHead::resizeEvent(QResizeEvent* event)
{
    Head::resizeEvent(event);
    placeAside();
}

void SectionHead::mouseReleaseEvent(QMouseEvent* event)
{
    m_byPointer = true;
    QAbstractButton::mouseReleaseEvent(event);
    m_byPointer = false;
}

void SectionHead::paintEvent(QPaintEvent*)
{
    const Colours& c = colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    paintGround(painter, *this, rect().adjusted(kGrid, 1, -kGrid, -1));

    const QRectF tile = QRectF(drawingRect()).adjusted(0.5, 0.5, -0.5, -0.5);
    QPainterPath clip;
    clip.addRoundedRect(tile, 3, 3);
    painter.fillPath(clip, c.field);
    painter.save();
    painter.setClipPath(clip);
    if (m_drawing && isEnabled())
        m_drawing(painter, tile);
    painter.restore();
    painter.setPen(QPen(c.line, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(clip);
    if (m_narrow)
        return;

    const int left = drawingRect().right() + 3 * kGrid, right = width() - 7 * kGrid;
    const QFont titleFont = bold(font()), summaryFont = small(font());
    const QFontMetrics title(titleFont), words(summaryFont);
    const int top = (height() - title.height() - words.height()) / 2;
    const int aside = m_aside && m_aside->isVisibleTo(this) ? m_aside->x() - kGrid : right;
    painter.setFont(titleFont);
    painter.setPen(!isEnabled() ? c.softInk : isChecked() ? c.accent : c.ink);
    painter.drawText(QRect(left, top, aside - left, title.height()), Qt::AlignLeft | Qt::AlignVCenter,
                     title.elidedText(text(), Qt::ElideRight, aside - left));
    painter.setFont(summaryFont);
    painter.setPen(c.softInk);
    painter.drawText(QRect(left, top + title.height(), right - left, words.height()), Qt::AlignLeft | Qt::AlignVCenter,
                     words.elidedText(summary(), Qt::ElideRight, right - left));
    if (isEnabled())
        paintChevron(painter, QPointF(width() - 4.5 * kGrid, height() / 2.0), turn(), isChecked() ? c.accent : c.softInk);
}

// --- a group --------------------------------------------------------------------------------------------------------------------

QSize GroupHead::sizeHint() const
{
    return {200, fontMetrics().height() + 2 * kGrid + 2};
}

void GroupHead::paintEvent(QPaintEvent*)
{
    const Colours& c = colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    paintGround(painter, *this, rect());
    painter.setPen(QPen(c.line, 1));
    if (!isChecked() && !underMouse())
        painter.drawLine(0, 0, width(), 0);
    paintChevron(painter, QPointF(2.5 * kGrid, height() / 2.0), turn(), isChecked() ? c.accent : c.softInk);
    const int left = 5 * kGrid + 2;
    painter.setPen(isChecked() ? c.accent : c.ink);
    painter.setFont(isChecked() ? bold(font()) : font());
    const int titleWidth = QFontMetrics(painter.font()).horizontalAdvance(text());
    painter.drawText(QRect(left, 0, titleWidth + 2, height()), Qt::AlignLeft | Qt::AlignVCenter, text());
    if (isChecked() || summary().isEmpty())
        return;
    painter.setFont(small(font()));
    painter.setPen(c.softInk);
    const int from = left + titleWidth + 2 * kGrid, room = width() - from - kGrid;
    painter.drawText(QRect(from, 0, room, height()), Qt::AlignRight | Qt::AlignVCenter,
                     QFontMetrics(painter.font()).elidedText(summary(), Qt::ElideRight, room));
}

}  // namespace app
