// One of a few named values: a list that opens below its field.
#pragma once

#include <QComboBox>

namespace app {

class OneOfField : public QComboBox {
    Q_OBJECT

public:
    explicit OneOfField(QWidget* parent = nullptr);

    void showPopup() override;

protected:
    // The wheel scrolls the ticket, it does not change what it happens to pass over.
    void wheelEvent(QWheelEvent* event) override;
};

}  // namespace app
