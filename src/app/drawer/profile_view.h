// The drawer's bench for profiles: a curve of points and handles over the section it cuts, and those that are kept by name.
#pragma once

#include <QWidget>
#include <optional>

#include "app/ticket/section.h"
#include "files/kept_profile.h"
#include "session/profiles.h"
#include "solid/profile.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace app {

// The curve itself. It is always drawn as large as there is room, in the proportions it has on the letters.
class ProfileCurve : public QWidget {
    Q_OBJECT

public:
    explicit ProfileCurve(QWidget* parent = nullptr);

    void show(std::vector<solid::ProfileNode> nodes, base::Vec2 size);
    const std::vector<solid::ProfileNode>& nodes() const { return m_nodes; }
    int chosen() const { return m_chosen; }  // point, or -1
    void choose(int point);
    // In the widget; for tests too.
    QPointF place(base::Vec2 p) const;

    // What can be done with the chosen point. A point that turns gets handles, or loses them.
    void addAfter();
    void removeChosen();
    void toggleCurve();
    void moveChosenTo(base::Vec2 p, bool going);

Q_SIGNALS:
    void changed(bool going);
    void finished();
    void pointChosen();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    enum class Grip { Point, Before, After };
    struct Held {
        int point = 0;
        Grip grip = Grip::Point;
    };
    base::Vec2 from(QPointF at) const;
    QRectF square() const;
    std::optional<Held> heldAt(QPointF at) const;
    // Where on the curve a place is: after which point, and how far to the next; nothing off the curve.
    std::optional<std::pair<int, double>> onCurve(QPointF at) const;
    void split(int after, double t);
    void hold(const Held& held, base::Vec2 to, bool alone);
    bool isEnd(int point) const { return point == 0 || point + 1 == static_cast<int>(m_nodes.size()); }

    std::vector<solid::ProfileNode> m_nodes;
    base::Vec2 m_size{1, 1};
    int m_chosen = -1;
    std::optional<Held> m_held;
};

class ProfileView : public QWidget {
    Q_OBJECT

public:
    explicit ProfileView(const Context& context, QWidget* parent = nullptr);

    void speakOf(session::ProfileOf of);
    void refresh();

Q_SIGNALS:
    void closeWanted();

private:
    void addPointRow(class QVBoxLayout* column);
    void addKeptRow(class QVBoxLayout* column);
    void listKept();
    void take(int index);
    void keep();
    void forget();
    void write(const std::string& path, bool going);

    Context m_context;
    session::ProfileOf m_of = session::ProfileOf::Front;
    ProfileCurve* m_curve;
    QComboBox *m_which, *m_kept;
    QLabel* m_hint;
    NumberField *m_across, *m_up;
    QPushButton *m_add, *m_remove, *m_bend, *m_forget;
    std::vector<files::KeptProfile> m_own;
    std::string m_shown;  // the path the curve was made from, or became
};

}  // namespace app
