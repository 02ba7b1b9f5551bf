#include "app/fields/colour_field.h"

#include <QDialog>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QImageReader>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/fields/colour_panel.h"
#include "app/fields/panel.h"
#include "app/fields/taken_whole.h"
#include "app/style.h"
#include "picture/colour.h"
#include "work/values.h"

namespace app {

namespace {

base::Rgb linearOf(const QColor& c)
{
    return picture::decodeSrgb({c.redF(), c.greenF(), c.blueF()});
}

// A picture to click into.
class PickLabel : public QLabel {
public:
    std::function<void(QPoint)> picked;

protected:
    void mousePressEvent(QMouseEvent* event) override { picked(event->position().toPoint()); }
};

}  // namespace

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
    new TakenWhole(m_hex);
    m_hex->setMaxLength(32);
    row->addWidget(m_hex, 1);
    setFocusProxy(m_hex);
    connect(m_chip, &QToolButton::clicked, this, &ColourField::openPanel);
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

ColourField::~ColourField()
{
    disconnect(m_hex, nullptr, this, nullptr);  // as NumberField's
}

void ColourField::setObjectNames(const QString& name)
{
    setObjectName(name);
    m_chip->setObjectName(name + ".chip");
    m_hex->setObjectName(name + ".hex");
    m_hex->setAccessibleName(accessibleName());
}

void ColourField::makePanel()
{
    m_panel = new ColourPanel(objectName(), this);
    connect(m_panel, &ColourPanel::picked, this, &ColourField::setColour);
    connect(m_panel, &ColourPanel::finished, this, [this] {
        if (m_value)
            ColourPanel::remember(m_value->colour);
        Q_EMIT finished();
    });
    connect(m_panel, &ColourPanel::swatchTaken, this, [this](const std::string& id) {
        const auto& swatches = m_offer().swatches.items;
        if (const auto swatch = swatches.find(id); swatch != swatches.end()) {
            m_value = Value{swatch->second.colour, id};
            refresh();
            Q_EMIT changed(*m_value, false);
            Q_EMIT finished();
        }
    });
    connect(m_panel, &ColourPanel::swatchWanted, this, [this] {
        if (m_value)
            Q_EMIT swatchWanted(m_value->colour);
    });
    connect(m_panel, &ColourPanel::stepsWanted, this, [this](const QString& id) {
        const auto& swatches = m_offer().swatches.items;
        if (const auto to = swatches.find(id.toStdString()); m_value && to != swatches.end())
            Q_EMIT swatchesWanted(picture::stepsBetween(m_value->colour, to->second.colour, ColourPanel::kSteps));
    });
    connect(m_panel, &ColourPanel::swatchRemoved, this, &ColourField::swatchRemoved);
    connect(m_panel, &ColourPanel::swatchRenamed, this, &ColourField::swatchRenamed);
    connect(m_panel, &ColourPanel::pictureWanted, this, &ColourField::pickWanted);
    connect(m_panel, &ColourPanel::fileWanted, this, &ColourField::pickFromFile);
}

void ColourField::openPanel()
{
    if (!m_panel)
        makePanel();
    showInPanel();
    openBeside(m_panel, m_chip);
}

void ColourField::showValue(const std::optional<Value>& value)
{
    m_value = value;
    refresh();
}

void ColourField::setColour(base::Rgb colour, bool going)
{
    // A colour that follows a swatch keeps following: all uses change.
    const Value value{colour, m_value ? m_value->swatch : std::string()};
    if (m_value == value)
        return;
    showValue(value);
    Q_EMIT changed(value, going);
    if (!going) {
        ColourPanel::remember(colour);
        Q_EMIT finished();
    }
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
    const auto& swatches = m_offer().swatches.items;
    const auto swatch = m_value ? swatches.find(m_value->swatch) : swatches.end();
    const bool follows = swatch != swatches.end();
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
    if (m_panel && m_panel->isVisible())
        showInPanel();
}

void ColourField::showInPanel()
{
    m_panel->showColour(m_value ? std::optional(m_value->colour) : std::nullopt, m_value ? m_value->swatch : std::string());
    m_panel->showOffer(m_offer().swatches, work::coloursOf(m_offer()));
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
