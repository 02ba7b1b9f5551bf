#include "app/fields/one_of_field.h"

#include <QAbstractItemView>
#include <QStyledItemDelegate>
#include <QWheelEvent>

namespace app {

OneOfField::OneOfField(QWidget* parent) : QComboBox(parent)
{
    // The box's own delegate draws menu items, which the window's style does not reach; this one draws rows of a list.
    setItemDelegate(new QStyledItemDelegate(this));
    setMaxVisibleItems(16);
    setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    setMinimumContentsLength(8);
}

void OneOfField::showPopup()
{
    // As wide as its longest entry.
    int wide = 0;
    for (int i = 0; i < count(); ++i)
        wide = std::max(wide, fontMetrics().horizontalAdvance(itemText(i)));
    view()->setMinimumWidth(std::max(width(), wide + 32));
    QComboBox::showPopup();
}

void OneOfField::wheelEvent(QWheelEvent* event)
{
    event->ignore();
}

}  // namespace app
