#include "app/fields/colour_panel.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>
#include <cmath>

#include "app/fields/colour_parts.h"
#include "app/fields/number_field.h"
#include "app/style.h"
#include "picture/colour.h"

namespace app {

namespace {

constexpr int kLightnesses = 9;  // of lightness
constexpr std::size_t kRemembered = 9;
constexpr const char* kLastColours = "lastColours";

QIcon chip(base::Rgb colour)
{
    QPixmap pixmap(14, 14);
    pixmap.fill(seenColour(colour));
    QIcon icon;
    for (const QIcon::Mode mode : {QIcon::Normal, QIcon::Selected, QIcon::Disabled})  // the colour itself in any state
        icon.addPixmap(pixmap, mode);
    return icon;
}

}  // namespace

ColourPanel::ColourPanel(const QString& name, QWidget* parent) : QWidget(parent, Qt::Popup)
{
    setObjectName(name + ".panel");
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(2 * kGrid, 2 * kGrid, 2 * kGrid, 2 * kGrid);
    box->setSpacing(kGrid);
    auto* field = new QHBoxLayout;
    field->setSpacing(kGrid);
    m_plane = new ColourPlane;
    m_plane->setObjectName(name + ".plane");
    m_hues = new HueStrip;
    m_hues->setObjectName(name + ".hues");
    field->addWidget(m_plane);
    field->addWidget(m_hues);
    field->addStretch(1);
    box->addLayout(field);
    connect(m_plane, &ColourPlane::moved, this, [this](float lightness, float chroma, bool going) {
        pick({lightness, chroma, m_seen.hue}, going);
    });
    connect(m_hues, &HueStrip::moved, this, [this](float hue, bool going) { pick({m_seen.lightness, m_seen.chroma, hue}, going); });
    addRows(box);
    addNumbers(box);
    addSwatches(box);
    for (ColourRow* row : {m_steps, m_harmonies, m_inWork, m_last})
        row->setObjectName(name + (row == m_steps ? ".steps" : row == m_harmonies ? ".harmonies" : row == m_inWork ? ".inWork" : ".last"));
    m_list->setObjectName(name + ".swatches");
}

void ColourPanel::addRows(QVBoxLayout* box)
{
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(2 * kGrid);
    grid->setVerticalSpacing(0);
    const auto row = [&](const QString& label, const QString& name, QLabel*& title) {
        auto* colours = new ColourRow(name);
        title = new QLabel(label);
        title->setProperty("soft", true);
        const int at = grid->rowCount();
        grid->addWidget(title, at, 0);
        grid->addWidget(colours, at, 1);
        connect(colours, &ColourRow::taken, this, [this](base::Rgb colour) {
            Q_EMIT picked(colour, false);
            Q_EMIT finished();
        });
        return colours;
    };
    QLabel* always = nullptr;
    m_steps = row(tr("Lightness"), tr("Steps of lightness"), always);
    m_harmonies = row(tr("Goes with it"), tr("Neighbours, thirds and opposites on the circle of hues"), always);
    m_inWork = row(tr("In this work"), tr("Colours of this work"), m_inWorkLabel);
    m_last = row(tr("Last used"), tr("Last used colours"), m_lastLabel);
    grid->setColumnStretch(1, 1);
    box->addLayout(grid);
}

void ColourPanel::addNumbers(QVBoxLayout* box)
{
    const char* const names[] = {QT_TR_NOOP("Lightness"), QT_TR_NOOP("Strength"), QT_TR_NOOP("Hue"),
                                 QT_TR_NOOP("Red"),       QT_TR_NOOP("Green"),    QT_TR_NOOP("Blue")};
    const char* const ids[] = {"lightness", "strength", "hue", "red", "green", "blue"};
    const QString name = objectName().section(".panel", 0, 0);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(kGrid);
    grid->setVerticalSpacing(kGrid);
    for (int i = 0; i < 6; ++i) {
        const NumberSpec spec = i == 2  ? NumberSpec{session::Kind::Angle, 0, 360, 1, 1}
                                : i < 2 ? NumberSpec{session::Kind::Percent, 0, 1, 0.01, 1}
                                        : NumberSpec{session::Kind::Plain, 0, 255, 1, 0};
        m_numbers[i] = new NumberField(spec);
        m_numbers[i]->setAccessibleName(tr(names[i]));
        m_numbers[i]->setObjectNames(name + "." + ids[i]);
        m_numbers[i]->setFixedWidth(7 * textPx() + (i < 3 ? 12 : 0));
        grid->addWidget(new QLabel(tr(names[i])), i % 3, i < 3 ? 0 : 2);
        grid->addWidget(m_numbers[i], i % 3, i < 3 ? 1 : 3);
        connect(m_numbers[i], &NumberField::changed, this, [this, i](double v, bool going) {
            const auto value = static_cast<float>(v);
            if (i < 3)
                return pick({i == 0 ? value : m_seen.lightness, i == 1 ? value * ColourPlane::kMostChroma : m_seen.chroma,
                             i == 2 ? std::fmod(value, 360.0f) : m_seen.hue},
                            going);
            base::Rgb e = m_colour ? picture::encodeSrgb(*m_colour) : base::Rgb{};
            (i == 3 ? e.x : i == 4 ? e.y : e.z) = value / 255;
            Q_EMIT picked(picture::decodeSrgb(e), going);
        });
        connect(m_numbers[i], &NumberField::finished, this, &ColourPanel::finished);
    }
    box->addLayout(grid);
}

void ColourPanel::addSwatches(QVBoxLayout* box)
{
    const QString name = objectName().section(".panel", 0, 0);
    m_list = new QListWidget;
    m_list->setAccessibleName(tr("Swatches"));
    m_list->setFixedHeight(4 * (textPx() + 9));
    m_list->setToolTip(tr("A use that follows a swatch changes with it everywhere. Return takes it, F2 renames, Delete removes."));
    m_list->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    m_list->setContextMenuPolicy(Qt::CustomContextMenu);
    m_list->installEventFilter(this);
    box->addWidget(m_list);
    auto* buttons = new QGridLayout;
    buttons->setSpacing(kGrid);
    const auto button = [&](const QString& text, const char* id, auto run) {
        auto* b = new QPushButton(text);
        b->setObjectName(name + "." + id);
        connect(b, &QPushButton::clicked, this, run);
        buttons->addWidget(b, buttons->count() / 2, buttons->count() % 2);
    };
    button(tr("New swatch"), "newSwatch", [this] { Q_EMIT swatchWanted(); });
    button(tr("Remove"), "removeSwatch", [this] {
        if (!currentSwatch().isEmpty())
            Q_EMIT swatchRemoved(currentSwatch());
    });
    button(tr("Pick in the picture"), "pick", [this] {
        hide();
        Q_EMIT pictureWanted();
    });
    button(tr("From a file..."), "pickFile", [this] { Q_EMIT fileWanted(); });
    box->addLayout(buttons);
    connect(m_list, &QListWidget::itemClicked, this,
            [this](QListWidgetItem* item) { Q_EMIT swatchTaken(item->data(Qt::UserRole).toString().toStdString()); });
    connect(m_list, &QListWidget::itemChanged, this,
            [this](QListWidgetItem* item) { Q_EMIT swatchRenamed(item->data(Qt::UserRole).toString(), item->text()); });
    connect(m_list, &QListWidget::customContextMenuRequested, this, [this](QPoint at) {
        QListWidgetItem* item = m_list->itemAt(at);
        if (!item)
            return;
        m_list->setCurrentItem(item);
        const QString id = item->data(Qt::UserRole).toString();
        QMenu menu(this);
        menu.setObjectName("swatch.menu");
        menu.addAction(tr("Take it"), this, [this, id] { Q_EMIT swatchTaken(id.toStdString()); });
        menu.addAction(tr("Add %1 steps on the way to it").arg(kSteps), this, [this, id] { Q_EMIT stepsWanted(id); });
        menu.addAction(tr("Rename"), this, [this, item] { m_list->editItem(item); });
        menu.addAction(tr("Remove, uses keep the colour"), this, [this, id] { Q_EMIT swatchRemoved(id); });
        menu.exec(m_list->viewport()->mapToGlobal(at));
    });
}

QString ColourPanel::currentSwatch() const
{
    const QListWidgetItem* item = m_list->currentItem();
    return item ? item->data(Qt::UserRole).toString() : QString();
}

bool ColourPanel::eventFilter(QObject* object, QEvent* event)
{
    if (object == m_list && event->type() == QEvent::KeyPress && !currentSwatch().isEmpty()) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Return || key == Qt::Key_Enter) {
            Q_EMIT swatchTaken(currentSwatch().toStdString());
            return true;
        }
        if (key == Qt::Key_Delete) {
            Q_EMIT swatchRemoved(currentSwatch());
            return true;
        }
    }
    return QWidget::eventFilter(object, event);
}

void ColourPanel::pick(const picture::Oklch& colour, bool going)
{
    m_seen = {colour.lightness, std::min(colour.chroma, picture::strongestChroma(colour.lightness, colour.hue)), colour.hue};
    Q_EMIT picked(picture::onScreen(m_seen), going);
    if (!going)
        Q_EMIT finished();
}

void ColourPanel::showColour(const std::optional<base::Rgb>& colour, const std::string& swatch)
{
    m_colour = colour;
    m_swatch = swatch;
    if (colour) {
        // What was picked by its look stays as picked while it is the same colour.
        const base::Rgb now = picture::onScreen(m_seen);
        if (std::max({std::abs(now.x - colour->x), std::abs(now.y - colour->y), std::abs(now.z - colour->z)}) > 1e-4f) {
            const float hue = m_seen.hue;
            m_seen = picture::toOklch(*colour);
            if (m_seen.hue == 0)
                m_seen.hue = hue;
        }
    }
    refresh();
}

void ColourPanel::showOffer(const work::Ordered<work::Swatch>& swatches, const std::vector<base::Rgb>& inWork)
{
    m_inWork->showColours(inWork);
    const std::vector<base::Rgb> last = lastUsed();
    m_last->showColours(last);
    for (QWidget* w : {static_cast<QWidget*>(m_last), static_cast<QWidget*>(m_lastLabel)})
        w->setVisible(!last.empty());
    const QSignalBlocker quiet(m_list);
    const QString current = currentSwatch();
    m_list->clear();
    for (const std::string& id : swatches.order) {
        const work::Swatch& s = swatches.items.at(id);
        auto* item = new QListWidgetItem(chip(s.colour), QString::fromStdString(s.name), m_list);
        item->setData(Qt::UserRole, QString::fromStdString(id));
        item->setFlags(item->flags() | Qt::ItemIsEditable);
        if (id == (m_swatch.empty() ? current.toStdString() : m_swatch))
            m_list->setCurrentItem(item);
    }
    m_list->setVisible(m_list->count() > 0);
}

void ColourPanel::refresh()
{
    m_plane->showColour(m_seen);
    m_hues->showColour(m_seen);
    std::vector<base::Rgb> steps;
    for (int i = 0; i < kLightnesses; ++i)
        steps.push_back(picture::onScreen({0.16f + 0.8f * static_cast<float>(i) / (kLightnesses - 1), m_seen.chroma, m_seen.hue}));
    m_steps->showColours(steps);
    m_harmonies->showColours(picture::harmoniesOf(m_seen));
    const base::Rgb e = m_colour ? picture::encodeSrgb(*m_colour) : base::Rgb{};
    const double values[] = {static_cast<double>(m_seen.lightness),
                             static_cast<double>(m_seen.chroma / ColourPlane::kMostChroma),
                             static_cast<double>(m_seen.hue),
                             std::round(255.0 * static_cast<double>(e.x)),
                             std::round(255.0 * static_cast<double>(e.y)),
                             std::round(255.0 * static_cast<double>(e.z))};
    for (int i = 0; i < 6; ++i)
        m_numbers[i]->showValue(m_colour ? std::optional(values[i]) : std::nullopt);
}

void ColourPanel::remember(base::Rgb colour)
{
    QStringList kept = QSettings().value(kLastColours).toStringList();
    const QString hex = QString::fromStdString(picture::hexFromRgb(colour));
    kept.removeAll(hex);
    kept.prepend(hex);
    QSettings().setValue(kLastColours, QStringList(kept.mid(0, kRemembered)));
}

std::vector<base::Rgb> ColourPanel::lastUsed()
{
    std::vector<base::Rgb> colours;
    for (const QString& hex : QSettings().value(kLastColours).toStringList())
        if (const auto colour = picture::rgbFromHex(hex.toStdString()))
            colours.push_back(*colour);
    return colours;
}

}  // namespace app
