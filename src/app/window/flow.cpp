#include "app/window/flow.h"

#include <QWidget>
#include <algorithm>

namespace app {

Flow::~Flow()
{
    for (QLayoutItem* item : m_items)
        delete item;
}

QLayoutItem* Flow::itemAt(int index) const
{
    return index >= 0 && index < count() ? m_items[static_cast<std::size_t>(index)] : nullptr;
}

QLayoutItem* Flow::takeAt(int index)
{
    QLayoutItem* item = itemAt(index);
    if (item)
        m_items.erase(m_items.begin() + index);
    return item;
}

void Flow::setGeometry(const QRect& rect)
{
    QLayout::setGeometry(rect);
    place(rect, true);
}

QSize Flow::sizeHint() const
{
    QSize all;
    for (const QLayoutItem* item : m_items)
        if (!item->isEmpty())
            all = {all.width() + (all.width() > 0 ? m_gap : 0) + item->sizeHint().width(),
                   std::max(all.height(), item->sizeHint().height())};
    return all;
}

QSize Flow::minimumSize() const
{
    QSize least;
    for (const QLayoutItem* item : m_items)
        if (!item->isEmpty())
            least = least.expandedTo(item->minimumSize());
    return least;
}

int Flow::place(const QRect& rect, bool moves) const
{
    int x = rect.x(), y = rect.y(), line = 0;
    for (QLayoutItem* item : m_items) {
        if (item->isEmpty())
            continue;
        const QSize size = item->sizeHint();
        if (x > rect.x() && x + size.width() > rect.x() + rect.width()) {
            x = rect.x();
            y += line + m_gap;
            line = 0;
        }
        if (moves)
            item->setGeometry(QRect(QPoint(x, y), size));
        x += size.width() + m_gap;
        line = std::max(line, size.height());
    }
    return y + line - rect.y();
}

}  // namespace app
