#include "app/fields/number_field.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QToolButton>
#include <QWheelEvent>
#include <cmath>

#include "app/fields/taken_whole.h"
#include "app/style.h"

namespace app {

namespace {

constexpr int kRuler = 7;  // px high
constexpr int kPxPerStep = 4;

}  // namespace

NumberField::NumberField(const NumberSpec& spec, QWidget* parent) : QWidget(parent), m_spec(spec)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, kRuler + 1);
    row->setSpacing(kGrid);
    m_edit = new QLineEdit;
    m_edit->installEventFilter(this);
    new TakenWhole(m_edit);
    m_edit->setMinimumWidth(64);
    row->addWidget(m_edit, 1);
    m_unitLabel = new QLabel;
    m_unitLabel->setProperty("soft", true);
    m_unitLabel->setMinimumWidth(m_unitLabel->fontMetrics().horizontalAdvance("stops"));
    row->addWidget(m_unitLabel);
    m_putBack = new QToolButton;
    m_putBack->setText(QString::fromUtf8("\u00b7"));
    m_putBack->setFixedSize(18, 18);
    m_putBack->setProperty("mark", true);
    m_putBack->setFocusPolicy(Qt::NoFocus);  // Tab goes from field to field; the key is kPutBack
    QSizePolicy policy = m_putBack->sizePolicy();
    policy.setRetainSizeWhenHidden(true);
    m_putBack->setSizePolicy(policy);
    m_putBack->hide();
    row->addWidget(m_putBack);
    setFocusProxy(m_edit);
    connect(m_edit, &QLineEdit::editingFinished, this, &NumberField::take);
    connect(m_putBack, &QToolButton::clicked, this, &NumberField::putBack);
    setCursor(Qt::ArrowCursor);
    refresh();
}

NumberField::~NumberField()
{
    // The edit loses the focus when it is taken down after this, and would call what is no NumberField any more.
    disconnect(m_edit, nullptr, this, nullptr);
}

void NumberField::setObjectNames(const QString& name)
{
    setObjectName(name);
    m_edit->setObjectName(name + ".edit");
    m_edit->setAccessibleName(accessibleName());  // it is what has the focus
    m_putBack->setObjectName(name + ".putBack");
}

void NumberField::showValue(std::optional<double> value)
{
    m_value = value;
    refresh();
}

void NumberField::setUsual(std::optional<double> usual)
{
    m_usual = usual;
    refresh();
}

void NumberField::setUnit(const session::LengthUnit& unit)
{
    m_unit = m_spec.unit.value_or(unit);
    refresh();
}

void NumberField::refresh()
{
    const auto text = [&](double v) { return QString::fromStdString(session::shownNumber(v, m_spec.kind, m_unit, m_spec.decimals)); };
    const QString unit = QString::fromStdString(session::unitName(m_spec.kind, m_unit));
    const QString shown = m_value ? text(*m_value) : QString();
    if (!(m_edit->isModified() && m_edit->hasFocus())) {  // somebody is typing
        if (m_edit->text() != shown)
            m_edit->setText(shown);
        m_edit->setModified(false);
    }
    m_edit->setPlaceholderText(tr("mixed"));
    m_unitLabel->setText(unit);
    const bool other = m_usual && (!m_value || std::abs(*m_value - *m_usual) > 1e-6 * std::max(1.0, std::abs(*m_usual)));
    m_putBack->setVisible(other);
    if (m_usual) {
        m_putBack->setToolTip(tr("Put back to the usual %1 %2 (Ctrl+.)").arg(text(*m_usual), unit));
        m_putBack->setAccessibleName(tr("Put back"));
    }
    m_edit->setAccessibleName(accessibleName());
    update();
}

void NumberField::take()
{
    if (!m_edit->isModified())
        return;
    const auto value = session::parseQuantity(m_edit->text().toStdString(), m_spec.kind, m_unit);
    m_edit->setModified(false);
    if (!value) {
        refresh();  // the value before it stays
        Q_EMIT refused(QString::fromStdString(value.error().message));
        return;
    }
    set(*value, false);
    refresh();
    Q_EMIT finished();
    if (*value < m_spec.least || *value > m_spec.most) {
        const auto text = [&](double v) { return QString::fromStdString(session::shownNumber(v, m_spec.kind, m_unit, m_spec.decimals)); };
        Q_EMIT refused(tr("%1 takes %2 to %3 %4; the nearest is set")
                           .arg(accessibleName(), text(m_spec.least), text(m_spec.most), m_unitLabel->text()));
    }
}

void NumberField::putBack()
{
    if (!m_usual)
        return;
    Q_EMIT finished();  // what was stepped before is a step of its own
    m_edit->setModified(false);
    set(*m_usual, false);
    refresh();
    Q_EMIT finished();
}

void NumberField::set(double value, bool going)
{
    value = std::clamp(value, m_spec.least, m_spec.most);
    if (m_value == value)
        return;
    m_value = value;
    refresh();
    Q_EMIT changed(value, going);
}

void NumberField::step(double steps)
{
    if (m_edit->isModified())
        take();
    const double from = m_value.value_or(m_usual.value_or(std::max(0.0, m_spec.least)));
    // Onto the steps' grid, so that 12.3 goes to 13 and not to 13.3.
    const double at = from / stepSize() + steps;
    set((std::abs(steps) >= 1 ? std::round(at) : at) * stepSize(), true);
}

// Lengths step in the unit that is shown.
double NumberField::stepSize() const
{
    if (m_spec.kind != session::Kind::Length)
        return m_spec.step;
    return m_unit.toPt(m_unit.unit == work::Unit::In ? m_spec.step / 20 : m_spec.step);
}

bool NumberField::eventFilter(QObject* object, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const double size = key->modifiers() & Qt::ShiftModifier ? 10 : key->modifiers() & Qt::ControlModifier ? 0.1 : 1;
        if (key->key() == Qt::Key_Up || key->key() == Qt::Key_Down) {
            step(key->key() == Qt::Key_Up ? size : -size);
            return true;
        }
        if (key->key() == Qt::Key_Period && key->modifiers() == Qt::ControlModifier) {
            putBack();
            return true;
        }
        if (key->key() == Qt::Key_Escape && m_edit->isModified()) {
            m_edit->setModified(false);
            refresh();
            return true;
        }
    }
    if (event->type() == QEvent::FocusOut)
        Q_EMIT finished();
    if (event->type() == QEvent::Wheel && m_edit->hasFocus()) {
        step(static_cast<QWheelEvent*>(event)->angleDelta().y() / 120.0);
        return true;
    }
    return QWidget::eventFilter(object, event);
}

void NumberField::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    const QRect ruler(m_edit->x(), height() - kRuler, m_edit->width(), kRuler);
    painter.setClipRect(ruler);
    // Ticks run with the value, so that a drag seems to pull the ruler.
    const double steps = m_value.value_or(0) / stepSize();
    const double first = std::floor(steps - ruler.width() / 2.0 / (2 * kPxPerStep)) - 1;
    painter.setPen(m_dragging ? colours().accent : colours().edge);
    for (double tick = first;; ++tick) {
        const double x = ruler.center().x() + (tick - steps) * 2 * kPxPerStep;
        if (x > ruler.right() || !std::isfinite(x))
            break;
        const bool tenth = std::fmod(std::abs(tick), 10) < 0.5;
        painter.drawLine(QPointF(x, ruler.top()), QPointF(x, ruler.top() + (tenth ? kRuler : kRuler / 2)));
    }
    painter.setPen(QPen(colours().accent, 2));
    painter.drawLine(ruler.center().x(), ruler.top(), ruler.center().x(), ruler.bottom());
}

void NumberField::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton || event->position().y() < height() - kRuler - 2)
        return;
    m_dragging = true;
    m_dragX = static_cast<int>(event->position().x());
    m_dragStart = m_value.value_or(m_usual.value_or(std::max(0.0, m_spec.least)));
    update();
}

void NumberField::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_dragging)
        return;
    const double fine = event->modifiers() & Qt::ShiftModifier ? 0.1 : 1;
    const int steps = static_cast<int>((event->position().x() - m_dragX) / kPxPerStep);
    set(m_dragStart + steps * stepSize() * fine, true);
}

void NumberField::mouseReleaseEvent(QMouseEvent*)
{
    if (!m_dragging)
        return;
    m_dragging = false;
    update();
    Q_EMIT finished();
}

}  // namespace app
