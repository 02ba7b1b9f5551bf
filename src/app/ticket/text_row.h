// The text of a lettering: typed here, its letters chosen here and in the picture alike.
#pragma once

#include <QPlainTextEdit>

#include "app/ticket/section.h"

namespace app {

class TextRow : public QPlainTextEdit {
    Q_OBJECT

public:
    explicit TextRow(const Desk& desk, QWidget* parent = nullptr);
    void refresh();

protected:
    void focusOutEvent(QFocusEvent* event) override;

private:
    void take();
    void chooseSelected();

    Desk m_desk;
    std::string m_piece;  // whose text is shown
    bool m_refreshing = false;
};

}  // namespace app
