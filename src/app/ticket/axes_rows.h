// The design axes of a variable face, as many as it has.
#pragma once

#include "app/ticket/section.h"
#include "work/typeset.h"

class QGridLayout;

namespace app {

class AxesRows : public QWidget {
    Q_OBJECT

public:
    explicit AxesRows(const Context& context, QWidget* parent = nullptr);

    void refresh();
    // "Weight 650, Width 90"; "" where the face does not vary.
    QString summary() const;
    bool isEmpty() const { return m_axes.empty(); }

private:
    void rebuild();

    Context m_context;
    work::Cache m_cache;  // fonts that were opened
    std::optional<work::FontChoice> m_shown;
    std::vector<outline::FontAxis> m_axes;
    std::vector<NumberField*> m_fields;
    QGridLayout* m_grid;
};

}  // namespace app
