// A line of text that a click takes whole, so that what is typed next stands in its place.
#pragma once

#include <QFocusEvent>
#include <QLineEdit>
#include <QTimer>

namespace app {

// The first click takes it whole, a double click too; what a further click or a drag chooses stays. It belongs to its line.
class TakenWhole : public QObject {
public:
    explicit TakenWhole(QLineEdit* line) : QObject(line), m_line(line) { line->installEventFilter(this); }

protected:
    bool eventFilter(QObject* object, QEvent* event) override
    {
        if (event->type() == QEvent::FocusIn)  // comes before the press that brings it
            m_first = static_cast<QFocusEvent*>(event)->reason() == Qt::MouseFocusReason;
        if (event->type() == QEvent::MouseButtonRelease) {
            if (m_first && !m_line->hasSelectedText())
                QTimer::singleShot(0, m_line, &QLineEdit::selectAll);
            m_first = false;
        }
        if (event->type() == QEvent::MouseButtonDblClick) {
            m_first = false;
            m_line->selectAll();
            return true;
        }
        return QObject::eventFilter(object, event);
    }

private:
    QLineEdit* m_line;
    bool m_first = false;
};

}  // namespace app
