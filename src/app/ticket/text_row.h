// The text of a lettering: typed here, its letters chosen here and in the picture alike.
#pragma once

#include <QPlainTextEdit>

#include "app/ticket/section.h"

namespace app {

class TextRow : public QPlainTextEdit {
    Q_OBJECT

public:
    explicit TextRow(const Context& context, QWidget* parent = nullptr);
    void refresh();

protected:
    void focusOutEvent(QFocusEvent* event) override;

private:
    void take();
    void noteChange(int place, int removed, int added);
    void chooseSelected();

    Context m_context;
    std::string m_piece;                          // whose text is shown
    QString m_shown;                              // as the work has it
    int m_place = 0, m_removed = 0, m_added = 0;  // the last change of the document, in UTF-16 units
    bool m_refreshing = false;
};

}  // namespace app
