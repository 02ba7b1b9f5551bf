#include "app/drawer/light_desk_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/fields/number_field.h"
#include "app/picture/paint.h"
#include "app/style.h"
#include "picture/colour.h"
#include "session/edits.h"
#include "work/scene.h"

namespace app {

namespace {

constexpr int kHeight = 196;                       // as the side view
constexpr int kStrip = 164;                        // px wide: three beside each other in a window of 1280
constexpr double kFaderLow = -10, kFaderHigh = 6;  // stops; the number field takes more
constexpr int kSteps = 20;                         // of the fader in a stop
constexpr double kLamp = 6;                        // px

}  // namespace

// --- the plan ------------------------------------------------------------------------------------------------------------------

LightPlan::LightPlan(QWidget* parent) : QWidget(parent)
{
    setObjectName("drawer.desk.plan");
    setAccessibleName(tr("Plan of the lights"));
    setToolTip(tr("From above; you stand below. Click a lamp to find its fader."));
    setFixedWidth(kHeight - 4 * kGrid);
}

void LightPlan::show(const work::Work& work, const work::LightDesk& desk, const std::vector<session::SideOutline>& outlines)
{
    m_work = work;
    m_desk = desk;
    m_outlines = outlines;
    update();
}

void LightPlan::mark(const std::string& entry)
{
    m_marked = entry;
    update();
}

// On a ring: the direction is true, the distance is not. Higher lights stand further in.
QPointF LightPlan::placeOf(const std::string& light) const
{
    const work::Light& l = m_work.lights.items.at(light);
    const double angle = l.direction * base::kPi / 180, height = l.height * base::kPi / 180;
    const double radius = (std::min(width(), this->height()) / 2.0 - 2 * kLamp) * (0.5 + 0.5 * std::cos(height));
    return rect().toRectF().center() + QPointF(std::sin(angle), std::cos(angle)) * radius;
}

void LightPlan::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = colours();
    const QPointF middle = rect().toRectF().center();
    const double ring = std::min(width(), height()) / 2.0 - 2 * kLamp;
    painter.setPen(QPen(c.line, 1));
    painter.setBrush(c.field);
    painter.drawEllipse(middle, ring, ring);
    painter.setBrush(Qt::NoBrush);
    paintViewer(painter, middle + QPointF(0, ring + kLamp), 0);
    base::Box2 box;
    for (const session::SideOutline& o : m_outlines)
        for (const base::Vec2& p : o.above)
            box.add(p);
    if (!box.empty()) {
        const double scale = 0.8 * ring / std::max({box.high.x - box.low.x, box.high.y - box.low.y, 1.0});
        const base::Vec2 centre = (box.low + box.high) * 0.5;
        for (const session::SideOutline& o : m_outlines) {
            painter.setPen(QPen(c.softInk, 1));
            painter.setBrush(pieceColour(m_work, o.piece));
            QPolygonF shape;
            for (const base::Vec2& p : o.above)
                shape << middle + QPointF((p.x - centre.x) * scale, -(p.y - centre.y) * scale);
            painter.drawPolygon(shape);
        }
    }
    for (const work::DeskChannel& channel : m_desk.channels) {
        if (!m_work.lights.items.contains(channel.entry))
            continue;
        const QPointF at = placeOf(channel.entry);
        const bool heard = channel.rendered && (m_desk.solo.empty() || m_desk.solo.contains(channel.entry));
        painter.setPen(QPen(c.line, 1, Qt::DashLine));
        painter.drawLine(at, middle);
        painter.setPen(QPen(c.ink, channel.entry == m_marked ? 2.5 : 1.2, channel.rendered ? Qt::SolidLine : Qt::DotLine));
        painter.setBrush(heard ? QBrush(seenColour(channel.colour)) : QBrush(Qt::NoBrush));
        const double size = kLamp * std::clamp(1 + 0.15 * channel.stops, 0.6, 1.8);
        painter.drawEllipse(at, size, size);
    }
}

void LightPlan::mousePressEvent(QMouseEvent* event)
{
    for (const work::DeskChannel& channel : m_desk.channels)
        if (m_work.lights.items.contains(channel.entry) && QLineF(event->position(), placeOf(channel.entry)).length() < 2.5 * kLamp)
            Q_EMIT picked(QString::fromStdString(channel.entry));
}

// --- the desk ------------------------------------------------------------------------------------------------------------------

LightDeskView::LightDeskView(const Context& desk, QWidget* parent) : QWidget(parent), m_desk(desk)
{
    setObjectName("drawer.desk");
    setAccessibleName(tr("Light desk"));
    setAttribute(Qt::WA_StyledBackground);
    setProperty("slip", true);
    setFixedHeight(kHeight);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(3 * kGrid, 2 * kGrid, 3 * kGrid, 2 * kGrid);
    row->setSpacing(3 * kGrid);
    m_plan = new LightPlan;
    connect(m_plan, &LightPlan::picked, this, [this](const QString& entry) {
        m_plan->mark(entry.toStdString());
        for (const Strip& strip : m_strips)
            if (strip.entry == entry.toStdString())
                strip.fader->setFocus();
    });
    row->addWidget(m_plan);

    m_row = new QWidget;
    m_rowLayout = new QHBoxLayout(m_row);
    m_rowLayout->setContentsMargins(0, 0, 0, 0);
    m_rowLayout->setSpacing(kGrid);
    m_rowLayout->addStretch(1);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(m_row);
    row->addWidget(scroll, 1);

    auto* column = new QVBoxLayout;
    column->setSpacing(kGrid);
    m_about = new QLabel;
    m_about->setObjectName("drawer.desk.about");
    m_about->setWordWrap(true);
    m_about->setFixedWidth(168);
    column->addWidget(m_about);
    column->addStretch(1);
    const auto button = [&](const char* id, const QString& label, const QString& tip, auto run) {
        auto* b = new QPushButton(label);
        b->setObjectName(id);
        b->setToolTip(tip);
        connect(b, &QPushButton::clicked, this, run);
        column->addWidget(b);
        return b;
    };
    m_use = button("drawer.desk.use", tr("Use in the work"), tr("Writes brightness and colour back to the lights; it can be undone"),
                   [this] { Q_EMIT used(); });
    m_back = button("drawer.desk.back", tr("As the work has it"), tr("Every fader and colour back to the work's own, no solo"), [this] {
        m_mix = m_start;
        refresh();
        Q_EMIT moved();
    });
    m_save =
        button("drawer.desk.save", tr("Save the picture..."), tr("At its full size, as it is mixed here"), [this] { Q_EMIT saveWanted(); });
    m_close = button("drawer.desk.close", tr("Back to the live picture"), tr("The kept picture stays in the Export section"),
                     [this] { Q_EMIT closeWanted(); });
    row->addLayout(column);
}

void LightDeskView::showWork(const work::Work& work, bool kept, const QString& title)
{
    const work::LightDesk start = work::deskOf(work);
    const auto sameLights = [](const work::LightDesk& a, const work::LightDesk& b) {
        return std::equal(a.channels.begin(), a.channels.end(), b.channels.begin(), b.channels.end(),
                          [](const auto& x, const auto& y) { return x.entry == y.entry && x.rendered == y.rendered; });
    };
    const bool samePicture = kept == m_kept && title == m_title;
    const bool keepsStrips = samePicture && sameLights(start, m_start) && !m_strips.empty();
    // What was moved stays where it is while the work changes elsewhere.
    work::LightDesk mix = start;
    if (samePicture)
        for (work::DeskChannel& channel : mix.channels) {
            const work::DeskChannel *was = m_mix.find(channel.entry), *begun = m_start.find(channel.entry);
            if (was && begun && *was != *begun) {
                channel.stops = was->stops;
                channel.colour = was->colour;
            }
            if (channel.rendered && m_mix.solo.contains(channel.entry))
                mix.solo.insert(channel.entry);
        }
    m_work = work;
    m_kept = kept;
    m_title = title;
    m_start = start;
    m_mix = mix;
    if (!keepsStrips)
        rebuild();
    refresh();
}

void LightDeskView::show(const std::shared_ptr<const session::ShownWork>& shownWork)
{
    m_shownWork = shownWork;
    if (isVisible())
        refresh();
}

void LightDeskView::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    refresh();
}

QString LightDeskView::titleOf(const std::string& entry) const
{
    return tr(session::entryTitle(m_work, entry).c_str());
}

void LightDeskView::set(const std::string& entry, const std::function<void(work::DeskChannel&)>& change)
{
    if (work::DeskChannel* channel = m_mix.find(entry)) {
        change(*channel);
        refresh();
        Q_EMIT moved();
    }
}

void LightDeskView::rebuild()
{
    for (const Strip& strip : m_strips) {
        strip.widget->hide();
        strip.widget->setParent(nullptr);  // its name is free at once
        strip.widget->deleteLater();
    }
    m_strips.clear();
    int place = 0;
    for (const work::DeskChannel& channel : m_mix.channels) {
        const std::string entry = channel.entry;
        const QString name = QString("drawer.desk.%1").arg(QString::fromStdString(entry));
        Strip s{entry,
                new QWidget,
                new QLabel,
                new QSlider(Qt::Vertical),
                new NumberField({session::Kind::Stops, -20, 20, 0.1, 2}),
                new ColourField,
                new QToolButton};
        s.widget->setFixedWidth(kStrip);
        auto* grid = new QGridLayout(s.widget);
        grid->setContentsMargins(0, 0, 0, 0);
        grid->setSpacing(kGrid);
        grid->addWidget(s.title, 0, 0, 1, 2);
        s.fader->setObjectName(name + ".fader");
        s.fader->setToolTip(tr("Brightness in stops; 0 is the mark"));
        s.fader->setRange(static_cast<int>(kFaderLow * kSteps), static_cast<int>(kFaderHigh * kSteps));
        s.fader->setSingleStep(kSteps / 10);
        s.fader->setPageStep(kSteps);
        grid->addWidget(s.fader, 1, 0, 3, 1);
        s.stops->setObjectNames(name + ".stops");
        grid->addWidget(s.stops, 1, 1);
        s.colour->setObjectNames(name + ".colour");
        grid->addWidget(s.colour, 2, 1);
        s.solo->setObjectName(name + ".solo");
        s.solo->setText(channel.rendered ? tr("Solo") : tr("not rendered"));
        s.solo->setToolTip(channel.rendered ? tr("This light alone; several can be alone together")
                                            : tr("It was off when the picture was made; switch it on in the Light section to render it"));
        s.solo->setCheckable(true);
        grid->addWidget(s.solo, 3, 1);
        for (QWidget* w : std::initializer_list<QWidget*>{s.fader, s.stops, s.colour, s.solo})
            w->setEnabled(channel.rendered);
        connect(s.fader, &QSlider::valueChanged, this,
                [this, entry](int v) { set(entry, [&](auto& c) { c.stops = static_cast<double>(v) / kSteps; }); });
        connect(s.stops, &NumberField::changed, this, [this, entry](double v, bool) { set(entry, [&](auto& c) { c.stops = v; }); });
        s.colour->setOffer([this]() -> const work::Work& { return m_work; });
        connect(s.colour, &ColourField::changed, this,
                [this, entry](const ColourField::Value& v, bool) { set(entry, [&](auto& c) { c.colour = v.colour; }); });
        connect(s.stops, &NumberField::refused, this, m_desk.say);
        connect(s.colour, &ColourField::refused, this, m_desk.say);
        connect(s.solo, &QToolButton::toggled, this, [this, entry](bool on) {
            on ? (void)m_mix.solo.insert(entry) : (void)m_mix.solo.erase(entry);
            refresh();
            Q_EMIT moved();
        });
        m_rowLayout->insertWidget(place++, s.widget);
        m_strips.push_back(s);
    }
}

void LightDeskView::refresh()
{
    for (const Strip& s : m_strips) {
        const work::DeskChannel& channel = *m_mix.find(s.entry);
        const QSignalBlocker quietFader(s.fader), quietSolo(s.solo);
        const QString title = titleOf(s.entry);
        s.title->setText(s.title->fontMetrics().elidedText(title, Qt::ElideRight, kStrip - kGrid));
        s.title->setToolTip(title);
        s.fader->setAccessibleName(tr("Brightness of %1").arg(title));
        s.stops->setAccessibleName(tr("Brightness of %1 in stops").arg(title));
        s.colour->setAccessibleName(tr("Colour of %1").arg(title));
        s.solo->setAccessibleName(tr("Only %1").arg(title));
        s.fader->setValue(static_cast<int>(std::lround(channel.stops * kSteps)));
        s.stops->setUsual(m_start.find(s.entry)->stops);
        s.stops->showValue(channel.stops);
        s.colour->showValue(ColourField::Value{channel.colour, {}});
        s.solo->setChecked(m_mix.solo.contains(s.entry));
    }
    if (isVisible() && m_shownWork && m_outlinesOf != m_shownWork) {  // takes long for long texts: only where it is seen
        m_outlines = session::sideOutlines(m_shownWork->bodies);
        m_outlinesOf = m_shownWork;
    }
    m_plan->show(m_work, m_mix, m_outlines);
    m_about->setText(m_kept      ? tr("Kept picture: %1").arg(m_title)
                     : isMoved() ? tr("The picture is mixed here; the work is as it was.")
                                 : tr("The picture is mixed as the work has it."));
    m_use->setEnabled(isMoved());
    m_back->setEnabled(isMoved());
    m_save->setVisible(m_kept);
    m_close->setVisible(m_kept);
}

}  // namespace app
