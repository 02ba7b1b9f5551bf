// A layout that sets its items in lines, like words: as many in a line as fit.
#pragma once

#include <QLayout>
#include <vector>

namespace app {

class Flow : public QLayout {
public:
    explicit Flow(int gap) : m_gap(gap) { setContentsMargins(0, 0, 0, 0); }
    ~Flow() override;

    void addItem(QLayoutItem* item) override { m_items.push_back(item); }
    int count() const override { return static_cast<int>(m_items.size()); }
    QLayoutItem* itemAt(int index) const override;
    QLayoutItem* takeAt(int index) override;
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override { return place({0, 0, width, 0}, false); }
    void setGeometry(const QRect& rect) override;
    QSize sizeHint() const override;
    QSize minimumSize() const override;

private:
    // Returns the height; moves the items where asked.
    int place(const QRect& rect, bool moves) const;

    int m_gap;
    std::vector<QLayoutItem*> m_items;
};

}  // namespace app
