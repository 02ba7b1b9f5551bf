#include "app/drawer/profile_view.h"

#include <QComboBox>
#include <QFile>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/fields/number_field.h"
#include "app/fields/one_of_field.h"
#include "app/style.h"
#include "files/own_files.h"
#include "work/properties.h"

namespace app {

namespace {

using base::Vec2;
using session::ProfileOf;
using solid::ProfileNode;

constexpr int kBenchHeight = 236;
constexpr int kColumn = 320;   // px, of the rows beside the curve
constexpr double kGrip = 8;    // px round a point or handle
constexpr double kCatch = 7;   // px from the curve that are on it
constexpr double kHalf = 5;    // px of a point's mark
constexpr double kEighth = 8;  // parts of the square that Ctrl holds to
constexpr double kThird = 1.0 / 3;
constexpr const char* kStep = "form.drawn";

bool isBent(const ProfileNode& n)
{
    return n.before != Vec2{} || n.after != Vec2{};
}

Vec2 at(const ProfileNode& a, const ProfileNode& b, double t)
{
    const double s = 1 - t;
    return a.p * (s * s * s) + (a.p + a.after) * (3 * s * s * t) + (b.p + b.before) * (3 * s * t * t) + b.p * (t * t * t);
}

}  // namespace

// --- the curve -----------------------------------------------------------------------------------------------------------------

ProfileCurve::ProfileCurve(QWidget* parent) : QWidget(parent)
{
    setObjectName("drawer.profile.curve");
    setAccessibleName(tr("Profile"));
    setToolTip(tr("Drag points and handles; double-click the curve for a new point, a point to bend or straighten it. "
                  "Arrow keys move the chosen point, Tab goes to the next, Delete takes it away. Ctrl holds to eighths."));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumWidth(160);
}

void ProfileCurve::show(std::vector<ProfileNode> nodes, Vec2 size)
{
    m_nodes = std::move(nodes);
    m_size = size.x > 0 && size.y > 0 ? size : Vec2{1, 1};
    if (m_chosen >= static_cast<int>(m_nodes.size()))
        choose(-1);
    update();
}

void ProfileCurve::choose(int point)
{
    m_chosen = point;
    update();
    Q_EMIT pointChosen();
}

QRectF ProfileCurve::square() const
{
    const QRectF room = rect().toRectF().adjusted(4 * kGrid, 4 * kGrid, -4 * kGrid, -4 * kGrid);
    // Flat and steep ones are stretched, but never to a line.
    const double ratio = std::clamp(m_size.x / m_size.y, 0.4, 3.0);
    QSizeF size(ratio, 1);
    size.scale(room.size(), Qt::KeepAspectRatio);
    QRectF box(QPointF(), size);
    box.moveCenter(room.center());
    return box;
}

QPointF ProfileCurve::place(Vec2 p) const
{
    const QRectF box = square();
    return {box.left() + p.x * box.width(), box.bottom() - p.y * box.height()};
}

Vec2 ProfileCurve::from(QPointF at) const
{
    const QRectF box = square();
    return {(at.x() - box.left()) / box.width(), (box.bottom() - at.y()) / box.height()};
}

void ProfileCurve::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = colours();
    painter.setPen(QPen(c.line, 1));
    painter.setBrush(c.field);
    painter.drawRoundedRect(rect().toRectF().adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    if (m_nodes.size() < 2) {
        painter.setPen(c.softInk);
        painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, tr("Choose a slab to draw its profile"));
        return;
    }
    const QRectF box = square();
    QPainterPath curve(place(m_nodes.front().p));
    for (std::size_t i = 0; i + 1 < m_nodes.size(); ++i) {
        const ProfileNode &a = m_nodes[i], &b = m_nodes[i + 1];
        curve.cubicTo(place(a.p + a.after), place(b.p + b.before), place(b.p));
    }
    // What is solid lies under it, and goes on to the right.
    QPainterPath solid = curve;
    solid.lineTo(rect().right() - 1, place(m_nodes.back().p).y());
    solid.lineTo(rect().right() - 1, rect().bottom() - 1);
    solid.lineTo(box.left(), rect().bottom() - 1);
    solid.closeSubpath();
    painter.fillPath(solid, c.press);
    painter.setPen(QPen(c.line, 1, Qt::DotLine));
    painter.setBrush(Qt::NoBrush);
    for (int i = 1; i < 4; ++i) {
        painter.drawLine(QPointF(box.left() + box.width() * i / 4, box.top()), QPointF(box.left() + box.width() * i / 4, box.bottom()));
        painter.drawLine(QPointF(box.left(), box.top() + box.height() * i / 4), QPointF(box.right(), box.top() + box.height() * i / 4));
    }
    painter.setPen(QPen(c.edge, 1));
    painter.drawRect(box);
    painter.setPen(QPen(c.ink, 2));
    painter.drawPath(curve);
    for (int i = 0; i < static_cast<int>(m_nodes.size()); ++i) {
        const ProfileNode& n = m_nodes[static_cast<std::size_t>(i)];
        const QPointF middle = place(n.p);
        if (i == m_chosen)
            for (const Vec2& handle : {n.before, n.after})
                if (handle != Vec2{}) {
                    painter.setPen(QPen(c.softInk, 1));
                    painter.drawLine(middle, place(n.p + handle));
                    painter.setBrush(c.field);
                    painter.drawEllipse(place(n.p + handle), 4, 4);
                }
        painter.setPen(QPen(i == m_chosen ? c.accent : c.ink, 1.5));
        painter.setBrush(i == m_chosen ? c.accent : c.field);
        if (isBent(n))
            painter.drawEllipse(middle, kHalf, kHalf);
        else
            painter.drawRect(QRectF(middle - QPointF(kHalf - 0.5, kHalf - 0.5), 2 * QSizeF(kHalf - 0.5, kHalf - 0.5)));
    }
    if (hasFocus()) {
        painter.setPen(QPen(c.accent, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(rect().toRectF().adjusted(1.5, 1.5, -1.5, -1.5), 3, 3);
    }
}

std::optional<ProfileCurve::Held> ProfileCurve::heldAt(QPointF where) const
{
    const auto isNear = [&](Vec2 p) { return QLineF(place(p), where).length() <= kGrip; };
    if (m_chosen >= 0) {
        const ProfileNode& n = m_nodes[static_cast<std::size_t>(m_chosen)];
        if (n.before != Vec2{} && isNear(n.p + n.before))
            return Held{m_chosen, Grip::Before};
        if (n.after != Vec2{} && isNear(n.p + n.after))
            return Held{m_chosen, Grip::After};
    }
    std::optional<Held> held;
    double nearest = kGrip;
    for (int i = 0; i < static_cast<int>(m_nodes.size()); ++i)
        if (const double d = QLineF(place(m_nodes[static_cast<std::size_t>(i)].p), where).length(); d <= nearest) {
            nearest = d;
            held = Held{i, Grip::Point};
        }
    return held;
}

std::optional<std::pair<int, double>> ProfileCurve::onCurve(QPointF where) const
{
    std::optional<std::pair<int, double>> found;
    double nearest = kCatch;
    constexpr int kSamples = 64;
    for (int i = 0; i + 1 < static_cast<int>(m_nodes.size()); ++i)
        for (int k = 1; k < kSamples; ++k) {
            const double t = double(k) / kSamples;
            const Vec2 p = at(m_nodes[static_cast<std::size_t>(i)], m_nodes[static_cast<std::size_t>(i) + 1], t);
            if (const double d = QLineF(place(p), where).length(); d < nearest) {
                nearest = d;
                found = std::pair(i, t);
            }
        }
    return found;
}

// A new point that changes nothing (de Casteljau's construction).
void ProfileCurve::split(int after, double t)
{
    if (m_nodes.size() >= solid::kMostProfileNodes)
        return;
    ProfileNode &a = m_nodes[static_cast<std::size_t>(after)], &b = m_nodes[static_cast<std::size_t>(after) + 1];
    const bool straight = a.after == Vec2{} && b.before == Vec2{};
    const Vec2 p0 = a.p, p1 = a.p + a.after, p2 = b.p + b.before, p3 = b.p;
    const Vec2 q0 = lerp(p0, p1, t), q1 = lerp(p1, p2, t), q2 = lerp(p2, p3, t), r0 = lerp(q0, q1, t), r1 = lerp(q1, q2, t);
    const Vec2 middle = straight ? lerp(p0, p3, t) : lerp(r0, r1, t);
    ProfileNode added{middle, straight ? Vec2{} : r0 - middle, straight ? Vec2{} : r1 - middle};
    if (!straight) {
        a.after = q0 - p0;
        b.before = q2 - p3;
    }
    m_nodes.insert(m_nodes.begin() + after + 1, added);
    choose(after + 1);
}

void ProfileCurve::addAfter()
{
    if (m_nodes.size() < 2)
        return;
    split(std::clamp(m_chosen, 0, static_cast<int>(m_nodes.size()) - 2), 0.5);
    Q_EMIT changed(false);
}

void ProfileCurve::removeChosen()
{
    if (m_chosen < 0 || isEnd(m_chosen))
        return;
    m_nodes.erase(m_nodes.begin() + m_chosen);
    solid::tidy(m_nodes);
    choose(std::min(m_chosen, static_cast<int>(m_nodes.size()) - 1));
    Q_EMIT changed(false);
}

void ProfileCurve::toggleCurve()
{
    if (m_chosen < 0)
        return;
    const auto i = static_cast<std::size_t>(m_chosen);
    ProfileNode& n = m_nodes[i];
    if (isBent(n)) {
        n.before = n.after = {};
    } else {
        // Along the way from the point before to the one after, a third of the way to each.
        const Vec2 low = i > 0 ? m_nodes[i - 1].p : n.p, high = i + 1 < m_nodes.size() ? m_nodes[i + 1].p : n.p;
        const Vec2 way = high - low;
        const double size = length(way);
        if (size > 0) {
            n.before = i > 0 ? way * (-kThird * length(n.p - low) / size) : Vec2{};
            n.after = i + 1 < m_nodes.size() ? way * (kThird * length(high - n.p) / size) : Vec2{};
        }
    }
    solid::tidy(m_nodes);
    update();
    Q_EMIT changed(false);
}

void ProfileCurve::moveChosenTo(Vec2 p, bool going)
{
    if (m_chosen < 0)
        return;
    hold({m_chosen, Grip::Point}, p, false);
    Q_EMIT changed(going);
}

void ProfileCurve::hold(const Held& held, Vec2 to, bool alone)
{
    const auto i = static_cast<std::size_t>(held.point);
    ProfileNode& n = m_nodes[i];
    if (held.grip == Grip::Point) {
        // Never past its neighbours.
        const double low = i > 0 ? m_nodes[i - 1].p.x : 0, high = i + 1 < m_nodes.size() ? m_nodes[i + 1].p.x : 1;
        n.p = {std::clamp(to.x, low, high), std::clamp(to.y, 0.0, 1.0)};
    } else {
        Vec2 &own = held.grip == Grip::Before ? n.before : n.after, &other = held.grip == Grip::Before ? n.after : n.before;
        // The other handle turns with it where the point was smooth.
        const bool smooth = own != Vec2{} && other != Vec2{} && std::abs(cross(own, other)) < 1e-3 * length(own) * length(other);
        own = to - n.p;
        if (smooth && !alone && length(own) > 0)
            other = own * (-length(other) / length(own));
    }
    solid::tidy(m_nodes);
    update();
}

void ProfileCurve::mousePressEvent(QMouseEvent* event)
{
    setFocus();
    if (event->button() != Qt::LeftButton)
        return;
    m_held = heldAt(event->position());
    choose(m_held ? m_held->point : -1);
}

void ProfileCurve::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_held) {
        setCursor(heldAt(event->position()) ? Qt::SizeAllCursor : onCurve(event->position()) ? Qt::PointingHandCursor : Qt::ArrowCursor);
        return;
    }
    Vec2 to = from(event->position());
    if (event->modifiers() & Qt::ControlModifier)
        to = {std::round(to.x * kEighth) / kEighth, std::round(to.y * kEighth) / kEighth};
    hold(*m_held, to, event->modifiers() & Qt::ShiftModifier);
    Q_EMIT changed(true);
}

void ProfileCurve::mouseReleaseEvent(QMouseEvent*)
{
    if (m_held)
        Q_EMIT finished();
    m_held.reset();
}

void ProfileCurve::mouseDoubleClickEvent(QMouseEvent* event)
{
    m_held.reset();
    if (const auto held = heldAt(event->position())) {
        choose(held->point);
        toggleCurve();
    } else if (const auto place = onCurve(event->position())) {
        split(place->first, place->second);
        Q_EMIT changed(false);
    }
}

void ProfileCurve::keyPressEvent(QKeyEvent* event)
{
    const int last = static_cast<int>(m_nodes.size()) - 1;
    const double step = event->modifiers() & Qt::ShiftModifier ? 0.1 : 0.01;
    const auto move = [&](double x, double y) {
        if (m_chosen >= 0)
            moveChosenTo(m_nodes[static_cast<std::size_t>(m_chosen)].p + Vec2{x, y} * step, false);
    };
    switch (event->key()) {
    case Qt::Key_Left:
        return move(-1, 0);
    case Qt::Key_Right:
        return move(1, 0);
    case Qt::Key_Up:
        return move(0, 1);
    case Qt::Key_Down:
        return move(0, -1);
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        return removeChosen();
    case Qt::Key_Insert:
        return addAfter();
    case Qt::Key_Space:
        return toggleCurve();
    case Qt::Key_Home:
        return choose(0);
    case Qt::Key_End:
        return choose(last);
    case Qt::Key_PageUp:
        return choose(std::max(0, m_chosen - 1));
    case Qt::Key_PageDown:
        return choose(std::min(last, m_chosen + 1));
    default:
        QWidget::keyPressEvent(event);
    }
}

void ProfileCurve::contextMenuEvent(QContextMenuEvent* event)
{
    if (m_nodes.size() < 2)
        return;
    if (event->reason() == QContextMenuEvent::Mouse) {
        const auto held = heldAt(event->pos());
        choose(held ? held->point : -1);
    }
    QMenu menu(this);
    menu.setObjectName("drawer.profile.menu");
    menu.addAction(tr("Add a point"), this, &ProfileCurve::addAfter);
    QAction* bend = menu.addAction(m_chosen >= 0 && isBent(m_nodes[static_cast<std::size_t>(m_chosen)]) ? tr("Make it a corner")
                                                                                                        : tr("Make it a curve"),
                                   this, &ProfileCurve::toggleCurve);
    bend->setEnabled(m_chosen >= 0);
    menu.addAction(tr("Take the point away"), this, &ProfileCurve::removeChosen)->setEnabled(m_chosen >= 0 && !isEnd(m_chosen));
    menu.exec(event->globalPos());
}

// --- the bench -----------------------------------------------------------------------------------------------------------------

ProfileView::ProfileView(const Context& context, QWidget* parent) : QWidget(parent), m_context(context)
{
    setObjectName("drawer.profile");
    setFixedHeight(kBenchHeight);
    setProperty("slip", true);
    setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(2 * kGrid, 2 * kGrid, 2 * kGrid, 2 * kGrid);
    row->setSpacing(2 * kGrid);
    m_curve = new ProfileCurve;
    row->addWidget(m_curve, 1);
    auto* side = new QWidget;
    side->setFixedWidth(kColumn);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(kGrid);
    row->addWidget(side);

    auto* head = new QHBoxLayout;
    m_which = new OneOfField;
    m_which->setObjectName("drawer.profile.of");
    m_which->setAccessibleName(tr("Which profile"));
    m_which->addItems({tr("Bevel in front"), tr("Bevel at the back"), tr("Rim of the inlay"), tr("One flute")});
    m_which->setToolTip(tr("What is drawn here"));
    connect(m_which, &QComboBox::activated, this, [this](int index) { speakOf(static_cast<ProfileOf>(index)); });
    auto* close = new QToolButton;
    close->setObjectName("drawer.profile.close");
    close->setText(tr("Done"));
    close->setToolTip(tr("Closes the bench; the profile stays as it is"));
    connect(close, &QToolButton::clicked, this, &ProfileView::closeWanted);
    head->addWidget(m_which, 1);
    head->addWidget(close);
    column->addLayout(head);
    addPointRow(column);
    addKeptRow(column);
    m_hint = new QLabel;
    m_hint->setObjectName("drawer.profile.hint");
    m_hint->setWordWrap(true);
    m_hint->setProperty("soft", true);
    column->addWidget(m_hint, 1, Qt::AlignTop);

    connect(m_curve, &ProfileCurve::changed, this, [this](bool going) { write(solid::writeProfile(m_curve->nodes()), going); });
    connect(m_curve, &ProfileCurve::finished, this, [this] { m_context.session->endMerge(); });
    connect(m_curve, &ProfileCurve::pointChosen, this, &ProfileView::refresh);
    context.session->observe([this](const session::Change&) {
        if (isVisible())  // it is read anew whenever it opens
            refresh();
    });
}

void ProfileView::addPointRow(QVBoxLayout* column)
{
    const auto number = [this](const char* name, const QString& label, const QString& tip) {
        NumberSpec spec;
        spec.kind = session::Kind::Percent;
        spec.least = 0;
        spec.most = 1;
        spec.step = 0.01;
        spec.decimals = 1;
        auto* field = new NumberField(spec);
        field->setAccessibleName(label);
        field->setObjectNames(name);
        field->setToolTip(tip);
        connect(field, &NumberField::finished, this, [this] { m_context.session->endMerge(); });
        connect(field, &NumberField::refused, this, m_context.say);
        return field;
    };
    m_across = number("drawer.profile.across", tr("Across"), tr("Of the chosen point: from the edge, in its width"));
    m_up = number("drawer.profile.up", tr("Up"), tr("Of the chosen point: from the foot, in its height"));
    const auto move = [this](std::optional<double> x, std::optional<double> y, bool going) {
        if (m_curve->chosen() < 0)
            return;
        const Vec2 now = m_curve->nodes()[static_cast<std::size_t>(m_curve->chosen())].p;
        m_curve->moveChosenTo({x.value_or(now.x), y.value_or(now.y)}, going);
    };
    connect(m_across, &NumberField::changed, this, [=](double v, bool going) { move(v, {}, going); });
    connect(m_up, &NumberField::changed, this, [=](double v, bool going) { move({}, v, going); });
    auto* numbers = new QHBoxLayout;
    for (NumberField* field : {m_across, m_up}) {
        auto* label = new QLabel(field->accessibleName());
        label->setBuddy(field->edit());
        numbers->addWidget(label);
        numbers->addWidget(field, 1);
    }
    column->addLayout(numbers);
    const auto button = [this](const char* name, const QString& label, const QString& tip, void (ProfileCurve::*run)()) {
        auto* b = new QPushButton(label);
        b->setObjectName(name);
        b->setToolTip(tip);
        connect(b, &QPushButton::clicked, m_curve, run);
        return b;
    };
    m_add = button("drawer.profile.add", tr("Add"), tr("A point after the chosen one (Insert)"), &ProfileCurve::addAfter);
    m_bend =
        button("drawer.profile.bend", tr("Curve"), tr("The chosen point becomes a curve, or a corner (Space)"), &ProfileCurve::toggleCurve);
    m_remove = button("drawer.profile.remove", tr("Remove"), tr("Takes the chosen point away (Delete)"), &ProfileCurve::removeChosen);
    auto* points = new QHBoxLayout;
    for (QPushButton* b : {m_add, m_bend, m_remove})
        points->addWidget(b, 1);
    column->addLayout(points);
}

void ProfileView::addKeptRow(QVBoxLayout* column)
{
    m_kept = new OneOfField;
    m_kept->setObjectName("drawer.profile.kept");
    m_kept->setAccessibleName(tr("Begin from a profile"));
    m_kept->setToolTip(tr("Begin from a usual profile, or one you kept"));
    connect(m_kept, &QComboBox::activated, this, &ProfileView::take);
    auto* keeps = new QPushButton(tr("Keep..."));
    keeps->setObjectName("drawer.profile.keep");
    keeps->setToolTip(tr("Keeps this profile by a name, for other works"));
    connect(keeps, &QPushButton::clicked, this, &ProfileView::keep);
    m_forget = new QPushButton(tr("Forget"));
    m_forget->setObjectName("drawer.profile.forget");
    m_forget->setToolTip(tr("Takes the shown one out of those you kept; letters that have it keep it"));
    connect(m_forget, &QPushButton::clicked, this, &ProfileView::forget);
    auto* kept = new QHBoxLayout;
    kept->addWidget(m_kept, 1);
    kept->addWidget(keeps);
    kept->addWidget(m_forget);
    column->addLayout(kept);
    listKept();
}

void ProfileView::speakOf(ProfileOf of)
{
    m_of = of;
    m_curve->choose(-1);
    listKept();
    m_shown.clear();
    refresh();
}

void ProfileView::refresh()
{
    const session::Session& session = *m_context.session;
    const QSignalBlocker quiet(m_which);
    m_which->setCurrentIndex(static_cast<int>(m_of));
    const auto now = session::profileNow(session.work(), session.choice(), m_of);
    if (!now) {
        m_shown.clear();
        m_curve->show({}, {1, 1});
    } else if (m_shown != now->path) {
        m_shown = now->path;
        auto nodes = solid::readProfile(now->path);
        m_curve->show(nodes ? std::move(*nodes) : std::vector<ProfileNode>(), now->size);
    } else {
        m_curve->show(m_curve->nodes(), now->size);
    }
    const int chosen = m_curve->chosen(), count = static_cast<int>(m_curve->nodes().size());
    const bool isPoint = chosen >= 0 && chosen < count, isInner = isPoint && chosen > 0 && chosen + 1 < count;
    const Vec2 p = isPoint ? m_curve->nodes()[static_cast<std::size_t>(chosen)].p : Vec2{};
    m_across->showValue(isPoint ? std::optional(p.x) : std::nullopt);
    m_up->showValue(isPoint ? std::optional(p.y) : std::nullopt);
    m_across->setEnabled(isInner);
    m_up->setEnabled(isPoint);
    m_add->setEnabled(now.has_value());
    m_bend->setEnabled(isPoint);
    m_bend->setText(isPoint && isBent(m_curve->nodes()[static_cast<std::size_t>(chosen)]) ? tr("Corner") : tr("Curve"));
    m_remove->setEnabled(isInner);
    const bool hasSize = now && now->size.x > 0 && now->size.y > 0;
    m_hint->setText(!now            ? tr("Choose a piece or letter whose form is a slab.")
                    : now->isMixed  ? tr("What is chosen has several profiles; drawing gives all of it this one.")
                    : !hasSize      ? tr("It has no width or height yet: give it some in the Form section to see it in the picture.")
                    : !now->isDrawn ? tr("This is the same profile as it is now; it becomes your own once you change it.")
                                    : tr("The edge is on the left, the face on the right."));
    const int own = m_kept->currentIndex() - std::max(0, m_kept->count() - static_cast<int>(m_own.size()));
    m_forget->setEnabled(own >= 0);
}

void ProfileView::listKept()
{
    base::Notes notes;
    m_own = files::keptProfiles(files::ownFolder("profiles"), &notes);
    if (!notes.empty())
        m_context.say(tr("A profile was left out: %1 (%2)").arg(text(notes.front().message), text(notes.front().place)));
    m_kept->clear();
    m_kept->setPlaceholderText(tr("Begin from..."));
    for (const auto& profile : work::kProfiles)
        m_kept->addItem(profile.value == solid::Profile::Drawn ? tr("Bead") : tr(profile.label), text(solid::asDrawn(profile.value, 4)));
    m_kept->addItem(tr("Half round"), text(solid::kHalfRound));
    for (const files::KeptProfile& own : m_own)
        m_kept->addItem(text(own.name), text(own.path));
    m_kept->setCurrentIndex(-1);
}

void ProfileView::take(int index)
{
    if (session::profileNow(m_context.session->work(), m_context.session->choice(), m_of))
        write(m_kept->itemData(index).toString().toStdString(), false);
    refresh();
}

void ProfileView::keep()
{
    if (m_shown.empty())
        return;
    const std::string path = m_shown;
    QInputDialog ask(this);
    ask.setObjectName("drawer.profile.ask");
    ask.setWindowTitle(tr("Keep this profile"));
    ask.setLabelText(tr("Its name; a profile of yours with the same name is replaced"));
    if (ask.exec() != QDialog::Accepted)
        return;
    const auto kept = files::keepProfile(files::ownFolder("profiles"), ask.textValue().trimmed().toStdString(), path);
    if (!kept) {
        m_context.say(text(base::oneLine(kept.error())));
        return;
    }
    listKept();
    m_kept->setCurrentIndex(m_kept->findText(text(kept->name)));
    refresh();
    m_context.say(tr("\"%1\" is among your profiles").arg(text(kept->name)));
}

void ProfileView::forget()
{
    const int own = m_kept->currentIndex() - (m_kept->count() - static_cast<int>(m_own.size()));
    if (own < 0)
        return;
    const files::KeptProfile gone = m_own[static_cast<std::size_t>(own)];
    QFile::remove(text(files::ownFolder("profiles") + "/" + gone.id + ".json"));
    listKept();
    refresh();
    m_context.say(tr("\"%1\" is forgotten").arg(text(gone.name)));
}

void ProfileView::write(const std::string& path, bool going)
{
    const bool fromCurve = path == solid::writeProfile(m_curve->nodes());
    if (fromCurve)
        m_shown = path;  // the curve keeps what was rounded away
    m_context.session->edit(tr("Profile").toStdString(), going ? kStep : "",
                            [&](work::Work& w) { session::setProfile(w, m_context.session->choice(), m_of, path); });
    refresh();
}

}  // namespace app
