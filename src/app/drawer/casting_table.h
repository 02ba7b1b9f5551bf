// The drawer's table of who casts on whom: pieces against lights, a tick each for light and for shadow.
#pragma once

#include <QWidget>

#include "app/ticket/section.h"
#include "session/casting.h"

class QTableWidget;

namespace app {

class CastingTable : public QWidget {
    Q_OBJECT

public:
    explicit CastingTable(const Context& context, QWidget* parent = nullptr);

    void refresh();

Q_SIGNALS:
    void closeWanted();

protected:
    void showEvent(QShowEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    // What a column is of: the piece itself, or a light.
    struct Column {
        enum class Of { Shadows, Mirrors, Lit, Shadow };
        Of of;
        std::string entry;
        QString title, what;
        session::Casts casts() const { return of == Of::Lit ? session::Casts::Lit : session::Casts::Shadow; }
    };
    std::vector<Column> columns() const;
    Qt::CheckState stateOf(const std::string& row, const Column& column, bool& can) const;
    void set(work::Work& work, const std::string& row, const Column& column, bool on) const;
    void ticked(int row, int column);
    void fill();

    Context m_context;
    QTableWidget* m_table;
    std::vector<Column> m_columns;
    std::vector<std::string> m_rows;  // ids of pieces, kGroundId, and "" for all of them, which is first
};

}  // namespace app
