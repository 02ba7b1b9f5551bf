// A number as it is typed: with its unit, sums, a ruler edge to drag and a mark that puts it back.
#pragma once

#include <QWidget>
#include <functional>
#include <optional>

#include "session/quantity.h"

class QLabel;
class QLineEdit;
class QToolButton;

namespace app {

struct NumberSpec {
    session::Kind kind = session::Kind::Plain;
    double least = -1e6, most = 1e6;  // in house units: pt, degrees, 0 to 1 for percent
    double step = 1;                  // of the arrow keys and of one ruler tick; lengths in the unit that is shown
    int decimals = 2;
    std::optional<session::LengthUnit> unit = {};  // always this one, as type sizes are always in pt
};

class NumberField : public QWidget {
    Q_OBJECT

public:
    explicit NumberField(const NumberSpec& spec, QWidget* parent = nullptr);
    ~NumberField() override;  // what is being typed is not taken

    // Shows a value without telling anybody; nothing reads "mixed".
    void showValue(std::optional<double> value);
    // The usual value: while another is shown, the mark offers to put it back.
    void setUsual(std::optional<double> usual);
    void setUnit(const session::LengthUnit& unit);
    std::optional<double> value() const { return m_value; }
    const NumberSpec& spec() const { return m_spec; }
    QLineEdit* edit() const { return m_edit; }
    void setObjectNames(const QString& name);  // of itself and of its parts; after the accessible name, which the edit takes too

Q_SIGNALS:
    // Typed, stepped or dragged by the person. `going`: more of the same will follow.
    void changed(double value, bool going);
    void finished();
    void refused(const QString& message);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    bool eventFilter(QObject* object, QEvent* event) override;

private:
    void take();
    void putBack();
    void step(double steps);
    double stepSize() const;  // in house units
    void set(double value, bool going);
    void refresh();

    NumberSpec m_spec;
    session::LengthUnit m_unit;
    std::optional<double> m_value, m_usual;
    QLineEdit* m_edit;
    QLabel* m_unitLabel;
    QToolButton* m_putBack;
    bool m_dragging = false;
    double m_dragStart = 0;
    int m_dragX = 0;
};

}  // namespace app
