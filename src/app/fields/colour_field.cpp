#include "app/fields/colour_field.h"

#include <QDialog>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QImageReader>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/fields/number_field.h"
#include "app/style.h"
#include "picture/colour.h"

namespace app {

namespace {

base::Rgb linearOf(const QColor& c)
{
    return picture::decodeSrgb({c.redF(), c.greenF(), c.blueF()});
}

QIcon chip(base::Rgb colour, int size = 14)
{
    QPixmap pixmap(size, size);
    pixmap.fill(seenColour(colour));
    QIcon icon;
    for (const QIcon::Mode mode : {QIcon::Normal, QIcon::Selected, QIcon::Disabled})  // the colour itself in any state
        icon.addPixmap(pixmap, mode);
    return icon;
}

// A picture to click into.
class PickLabel : public QLabel {
public:
    std::function<void(QPoint)> picked;

protected:
    void mousePressEvent(QMouseEvent* event) override { picked(event->position().toPoint()); }
};

}  // namespace

ColourStrip::ColourStrip(Axis axis, QWidget* parent) : QWidget(parent), m_axis(axis)
{
    setFixedHeight(18);
    setMinimumWidth(160);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    static const char* const kNames[] = {QT_TR_NOOP("Hue"), QT_TR_NOOP("Saturation"), QT_TR_NOOP("Brightness")};
    setAccessibleName(tr(kNames[static_cast<int>(axis)]));
}

void ColourStrip::showColour(float hue, float saturation, float brightness)
{
    m_hsb[0] = hue;
    m_hsb[1] = saturation;
    m_hsb[2] = brightness;
    update();
}

void ColourStrip::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    const QRect strip = rect().adjusted(2, 4, -2, -4);
    QLinearGradient gradient(strip.topLeft(), strip.topRight());
    for (int i = 0; i <= 12; ++i) {
        float at[3] = {m_hsb[0], m_hsb[1], m_hsb[2]};
        at[static_cast<int>(m_axis)] = static_cast<float>(i) / 12;
        if (m_axis == Axis::Hue)
            at[1] = at[2] = 1;
        gradient.setColorAt(i / 12.0, QColor::fromHsvF(std::min(at[0], 0.9999f), at[1], at[2]));
    }
    painter.fillRect(strip, gradient);
    painter.setPen(hasFocus() ? QPen(colours().accent, 2) : QPen(colours().edge));
    painter.drawRect(strip);
    const double x = strip.left() + m_hsb[static_cast<int>(m_axis)] * strip.width();
    painter.setPen(Qt::NoPen);
    painter.setBrush(Qt::white);
    painter.drawRect(QRectF(x - 3, 0, 6, height()));
    painter.setBrush(Qt::black);
    painter.drawRect(QRectF(x - 1, 0, 2, height()));
}

void ColourStrip::take(double x, bool going)
{
    Q_EMIT moved(std::clamp((x - 2) / std::max(1, width() - 4), 0.0, 1.0), going);
}

void ColourStrip::mousePressEvent(QMouseEvent* event)
{
    take(event->position().x(), true);
}
void ColourStrip::mouseMoveEvent(QMouseEvent* event)
{
    take(event->position().x(), true);
}
void ColourStrip::mouseReleaseEvent(QMouseEvent* event)
{
    take(event->position().x(), false);
}
void ColourStrip::keyPressEvent(QKeyEvent* event)
{
    const double by = event->key() == Qt::Key_Left ? -0.01 : event->key() == Qt::Key_Right ? 0.01 : 0;
    if (by == 0)
        return QWidget::keyPressEvent(event);
    Q_EMIT moved(std::clamp(m_hsb[static_cast<int>(m_axis)] + by, 0.0, 1.0), false);
}

ColourField::ColourField(QWidget* parent) : QWidget(parent)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(kGrid);
    m_chip = new QToolButton;
    m_chip->setIconSize({32, 16});
    m_chip->setToolTip(tr("Mix the colour, or take a swatch"));
    row->addWidget(m_chip);
    m_hex = new QLineEdit;
    m_hex->setMaxLength(32);
    row->addWidget(m_hex, 1);
    setFocusProxy(m_hex);
    connect(m_chip, &QToolButton::clicked, this, [this] {
        if (!m_panel)
            makePanel();
        refresh();
        m_panel->adjustSize();
        m_panel->move(m_chip->mapToGlobal(QPoint(0, m_chip->height() + 2)));
        m_panel->show();
    });
    connect(m_hex, &QLineEdit::editingFinished, this, [this] {
        if (!m_hex->isModified())
            return;
        m_hex->setModified(false);
        const auto rgb = picture::rgbFromHex(m_hex->text().trimmed().toStdString());
        if (rgb) {
            setColour(*rgb, false);
        } else {
            const QString wrong = m_hex->text();
            refresh();
            Q_EMIT refused(tr("\"%1\" is no colour; write one like #E8664F").arg(wrong));
        }
        Q_EMIT finished();
    });
}

void ColourField::setObjectNames(const QString& name)
{
    setObjectName(name);
    m_chip->setObjectName(name + ".chip");
    m_hex->setObjectName(name + ".hex");
}

void ColourField::makePanel()
{
    m_panel = new QWidget(this, Qt::Popup);
    m_panel->setObjectName(objectName() + ".panel");
    auto* grid = new QGridLayout(m_panel);
    grid->setContentsMargins(3 * kGrid, 3 * kGrid, 3 * kGrid, 3 * kGrid);
    grid->setVerticalSpacing(kGrid);
    addNumbers(grid);
    addSwatches(grid);
    refresh();
}

void ColourField::addNumbers(QGridLayout* grid)
{
    const char* const names[] = {QT_TR_NOOP("Hue"), QT_TR_NOOP("Saturation"), QT_TR_NOOP("Brightness"),
                                 QT_TR_NOOP("Red"), QT_TR_NOOP("Green"),      QT_TR_NOOP("Blue")};
    const char* const ids[] = {"hue", "saturation", "brightness", "red", "green", "blue"};
    for (int i = 0; i < 6; ++i) {
        const NumberSpec spec = i == 0  ? NumberSpec{session::Kind::Angle, 0, 360, 1, 1}
                                : i < 3 ? NumberSpec{session::Kind::Percent, 0, 1, 0.01, 1}
                                        : NumberSpec{session::Kind::Plain, 0, 255, 1, 0};
        m_numbers[i] = new NumberField(spec);
        m_numbers[i]->setAccessibleName(tr(names[i]));
        m_numbers[i]->setObjectNames(objectName() + "." + ids[i]);
        grid->addWidget(new QLabel(tr(names[i])), i, 0);
        if (i < 3) {
            m_strips[i] = new ColourStrip(static_cast<ColourStrip::Axis>(i));
            m_strips[i]->setObjectName(objectName() + ".strip" + QString::number(i));
            grid->addWidget(m_strips[i], i, 1);
            connect(m_strips[i], &ColourStrip::moved, this, [this, i](double v, bool going) {
                m_hsb[i] = i == 0 ? v * 360 : v;
                setFromHsb(going);
            });
        }
        grid->addWidget(m_numbers[i], i, 2);
        connect(m_numbers[i], &NumberField::changed, this, [this, i](double v, bool going) {
            if (i < 3) {
                m_hsb[i] = v;
                setFromHsb(going);
                return;
            }
            base::Rgb e = m_value ? picture::encodeSrgb(m_value->colour) : base::Rgb{};
            (i == 3 ? e.x : i == 4 ? e.y : e.z) = static_cast<float>(v / 255);
            setColour(picture::decodeSrgb(e), going);
        });
        connect(m_numbers[i], &NumberField::finished, this, &ColourField::finished);
    }
}

void ColourField::addSwatches(QGridLayout* grid)
{
    m_list = new QListWidget;
    m_list->setObjectName(objectName() + ".swatches");
    m_list->setAccessibleName(tr("Swatches"));
    m_list->setFixedHeight(112);
    m_list->setToolTip(tr("A use that follows a swatch changes with it everywhere. Double-click renames."));
    grid->addWidget(m_list, 6, 0, 1, 3);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const QString& text, const char* id, auto run) {
        auto* b = new QPushButton(text);
        b->setObjectName(objectName() + "." + id);
        connect(b, &QPushButton::clicked, this, run);
        buttons->addWidget(b);
        return b;
    };
    button(tr("New swatch"), "newSwatch", [this] {
        if (m_value)
            Q_EMIT swatchWanted(m_value->colour);
    });
    button(tr("Remove"), "removeSwatch", [this] {
        if (const auto* item = m_list->currentItem())
            Q_EMIT swatchRemoved(item->data(Qt::UserRole).toString());
    });
    button(tr("Pick in the picture"), "pick", [this] {
        m_panel->hide();
        Q_EMIT pickWanted();
    });
    button(tr("From a file..."), "pickFile", [this] { pickFromFile(); });
    grid->addLayout(buttons, 7, 0, 1, 3);
    connect(m_list, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        const std::string id = item->data(Qt::UserRole).toString().toStdString();
        if (const auto swatch = m_swatches.items.find(id); swatch != m_swatches.items.end()) {
            m_value = Value{swatch->second.colour, id};
            refresh();
            Q_EMIT changed(*m_value, false);
            Q_EMIT finished();
        }
    });
    connect(m_list, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        const QString id = item->data(Qt::UserRole).toString();
        if (const auto swatch = m_swatches.items.find(id.toStdString());
            swatch != m_swatches.items.end() && swatch->second.name != item->text().toStdString())
            Q_EMIT swatchRenamed(id, item->text());
    });
}

void ColourField::showValue(const std::optional<Value>& value)
{
    m_value = value;
    if (value) {
        const QColor c = seenColour(value->colour);
        const QColor now = QColor::fromHsvF(static_cast<float>(std::fmod(m_hsb[0], 360) / 360), static_cast<float>(m_hsb[1]),
                                            static_cast<float>(m_hsb[2]));
        if (now.rgb() != c.rgb()) {
            if (c.hsvHueF() >= 0)
                m_hsb[0] = c.hsvHueF() * 360;
            if (c.valueF() > 0)
                m_hsb[1] = c.hsvSaturationF();
            m_hsb[2] = c.valueF();
        }
    }
    refresh();
}

void ColourField::showSwatches(const work::Ordered<work::Swatch>& swatches)
{
    m_swatches = swatches;
    refresh();
}

void ColourField::setFromHsb(bool going)
{
    setColour(linearOf(QColor::fromHsvF(static_cast<float>(std::min(0.9999, m_hsb[0] / 360)), static_cast<float>(m_hsb[1]),
                                        static_cast<float>(m_hsb[2]))),
              going);
}

void ColourField::setColour(base::Rgb colour, bool going)
{
    // A colour that follows a swatch keeps following: all uses change.
    const Value value{colour, m_value ? m_value->swatch : std::string()};
    if (m_value == value)
        return;
    showValue(value);
    Q_EMIT changed(value, going);
    if (!going)
        Q_EMIT finished();
}

void ColourField::refresh()
{
    QPixmap pixmap(32, 16);
    pixmap.fill(m_value ? seenColour(m_value->colour) : colours().paper);
    if (!m_value) {
        QPainter painter(&pixmap);
        painter.setPen(colours().softInk);
        painter.drawLine(0, 15, 31, 0);
    }
    m_chip->setIcon(QIcon(pixmap));
    const auto swatch = m_value ? m_swatches.items.find(m_value->swatch) : m_swatches.items.end();
    const bool follows = swatch != m_swatches.items.end();
    if (!(m_hex->isModified() && m_hex->hasFocus())) {  // somebody is typing
        m_hex->setText(!m_value ? QString() : QString::fromStdString(picture::hexFromRgb(m_value->colour)));
        m_hex->setModified(false);
    }
    m_hex->setPlaceholderText(tr("mixed"));
    m_hex->setToolTip(follows
                          ? tr("Follows the swatch %1: a change here changes all its uses").arg(QString::fromStdString(swatch->second.name))
                          : tr("The colour as sRGB: what is typed is what an evenly lit matte surface shows"));
    m_chip->setText(follows ? QString::fromStdString(swatch->second.name) : QString());
    m_chip->setToolButtonStyle(follows ? Qt::ToolButtonTextBesideIcon : Qt::ToolButtonIconOnly);
    m_chip->setAccessibleName(tr("Mix %1").arg(accessibleName()));
    m_hex->setAccessibleName(accessibleName());
    if (!m_panel)
        return;
    for (int i = 0; i < 3; ++i) {
        m_strips[i]->showColour(static_cast<float>(m_hsb[0] / 360), static_cast<float>(m_hsb[1]), static_cast<float>(m_hsb[2]));
        m_numbers[i]->showValue(m_value ? std::optional(m_hsb[i]) : std::nullopt);
        m_numbers[3 + i]->showValue(
            m_value ? std::optional(std::round(255.0 * static_cast<double>(picture::encodeSrgb(m_value->colour)[i]))) : std::nullopt);
    }
    const QSignalBlocker quiet(m_list);
    m_list->clear();
    for (const std::string& id : m_swatches.order) {
        const work::Swatch& s = m_swatches.items.at(id);
        auto* item = new QListWidgetItem(chip(s.colour), QString::fromStdString(s.name), m_list);
        item->setData(Qt::UserRole, QString::fromStdString(id));
        item->setFlags(item->flags() | Qt::ItemIsEditable);
        item->setSelected(m_value && m_value->swatch == id);
    }
}

void ColourField::pickFromFile()
{
    const QString path = QFileDialog::getOpenFileName(this, tr("Pick a colour from a picture"), {},
                                                      tr("Pictures (*.png *.jpg *.jpeg *.gif *.bmp *.webp *.svg)"));
    if (path.isEmpty())
        return;
    QImageReader reader(path);
    reader.setAutoTransform(true);
    const QImage image = reader.read();
    if (image.isNull()) {
        Q_EMIT refused(tr("%1 cannot be read as a picture: %2").arg(path, reader.errorString()));
        return;
    }
    QDialog dialog(this);
    dialog.setWindowTitle(tr("Click the colour"));
    auto* box = new QVBoxLayout(&dialog);
    auto* label = new PickLabel;
    const QImage small = image.scaled(QSize(720, 540).boundedTo(image.size()), Qt::KeepAspectRatio, Qt::SmoothTransformation);
    label->setPixmap(QPixmap::fromImage(small));
    label->setCursor(Qt::CrossCursor);
    label->picked = [&](QPoint at) {
        if (small.rect().contains(at)) {
            setColour(linearOf(small.pixelColor(at)), false);
            dialog.accept();
        }
    };
    box->addWidget(label);
    dialog.exec();
}

}  // namespace app
