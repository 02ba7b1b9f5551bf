// A colour: a chip and its hex; a panel with hue, saturation and brightness, red, green and blue, and the work's swatches.
#pragma once

#include <QWidget>
#include <optional>
#include <string>

#include "base/vec.h"
#include "work/work.h"

class QLineEdit;
class QGridLayout;
class QListWidget;
class QToolButton;

namespace app {

class NumberField;

// A strip to drag along: hue, saturation or brightness of a colour with the others as they are.
class ColourStrip : public QWidget {
    Q_OBJECT

public:
    enum class Axis { Hue, Saturation, Brightness };
    explicit ColourStrip(Axis axis, QWidget* parent = nullptr);
    void showColour(float hue, float saturation, float brightness);

Q_SIGNALS:
    void moved(double value, bool going);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void take(double x, bool going);
    Axis m_axis;
    float m_hsb[3] = {0, 0, 0};
};

class ColourField : public QWidget {
    Q_OBJECT

public:
    struct Value {
        base::Rgb colour;    // linear
        std::string swatch;  // id or ""

        bool operator==(const Value&) const = default;
    };
    explicit ColourField(QWidget* parent = nullptr);

    void showValue(const std::optional<Value>& value);
    void showSwatches(const work::Ordered<work::Swatch>& swatches);
    void setObjectNames(const QString& name);

Q_SIGNALS:
    void changed(const ColourField::Value& value, bool going);
    void finished();
    void swatchWanted(base::Rgb colour);  // a new swatch for this colour
    void swatchRemoved(const QString& id);
    void swatchRenamed(const QString& id, const QString& name);
    void pickWanted();  // the next click in the picture gives the colour
    void refused(const QString& message);

private:
    void makePanel();
    void addNumbers(QGridLayout* grid);
    void addSwatches(QGridLayout* grid);
    void setColour(base::Rgb colour, bool going);
    void setFromHsb(bool going);
    void pickFromFile();
    void refresh();

    std::optional<Value> m_value;
    work::Ordered<work::Swatch> m_swatches;
    double m_hsb[3] = {0, 0, 0};  // degrees, 0-1, 0-1: kept where the colour does not say (grey has no hue)
    QToolButton* m_chip;
    QLineEdit* m_hex;
    QWidget* m_panel = nullptr;
    ColourStrip* m_strips[3] = {};
    NumberField* m_numbers[6] = {};
    QListWidget* m_list = nullptr;
};

}  // namespace app
