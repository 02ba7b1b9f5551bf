// A colour: a chip and its hex; the chip opens a panel to pick from.
#pragma once

#include <QWidget>
#include <functional>
#include <optional>
#include <string>

#include "base/vec.h"
#include "work/work.h"

class QLineEdit;
class QToolButton;

namespace app {

class ColourPanel;

class ColourField : public QWidget {
    Q_OBJECT

public:
    struct Value {
        base::Rgb colour;    // linear
        std::string swatch;  // id or ""

        bool operator==(const Value&) const = default;
    };
    explicit ColourField(QWidget* parent = nullptr);
    ~ColourField() override;  // what is being typed is not taken

    void showValue(const std::optional<Value>& value);
    // The work whose colours and swatches its panel offers, beside what was used last. Asked whenever they are shown.
    void setOffer(std::function<const work::Work&()> work) { m_offer = std::move(work); }
    void setObjectNames(const QString& name);

Q_SIGNALS:
    void changed(const ColourField::Value& value, bool going);
    void finished();
    void swatchWanted(base::Rgb colour);                         // a new swatch for this colour
    void swatchesWanted(const std::vector<base::Rgb>& colours);  // as new ones
    void swatchRemoved(const QString& id);
    void swatchRenamed(const QString& id, const QString& name);
    void pickWanted();  // the next click in the picture gives the colour
    void refused(const QString& message);

private:
    void openPanel();
    void makePanel();
    void setColour(base::Rgb colour, bool going);
    void pickFromFile();
    void refresh();
    void showInPanel();

    std::optional<Value> m_value;
    std::function<const work::Work&()> m_offer;
    QToolButton* m_chip;
    QLineEdit* m_hex;
    ColourPanel* m_panel = nullptr;
};

}  // namespace app
