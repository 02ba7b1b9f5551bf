// The drawer's side view: the work from the side and from above, with the ground, what touches what, and depth to drag.
#pragma once

#include <QWidget>

#include "app/ticket/section.h"
#include "session/gesture.h"
#include "session/render_queue.h"
#include "session/side.h"

namespace app {

class SideView : public QWidget {
    Q_OBJECT

public:
    explicit SideView(const Context& context, QWidget* parent = nullptr);

    void show(const std::shared_ptr<const session::ShownWork>& shownWork);
    // In the widget, of a world point; for tests too.
    QPointF fromSide(base::Vec3 point) const;
    QPointF fromAbove(base::Vec3 point) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    struct Panel {
        QRectF place;
        base::Vec2 low, high;  // what it shows, pt
        double scale = 1;
        QPointF at(base::Vec2 p) const;
    };
    void rebuild();
    void layOut();
    void paintPanel(QPainter& painter, const Panel& panel, bool side) const;
    void paintPlan(QPainter& painter, const Panel& panel, bool side) const;
    void paintGround(QPainter& painter, const Panel& panel, bool side) const;
    void moveBy(base::Vec3 by, double reach);
    std::vector<session::MoveDrag::Item> items() const;

    Context m_context;
    std::shared_ptr<const session::ShownWork> m_shownWork;
    bool m_stale = true;
    std::vector<session::SideOutline> m_outlines;
    std::vector<session::Contact> m_contacts;
    Panel m_side, m_above;
    struct Drag {
        bool side;
        QPointF from;
        session::Gesture gesture;
        std::vector<session::MoveDrag::Item> items;
        std::shared_ptr<const session::ShownWork> shownWork;
        std::vector<session::SnapLine> lines;
    };
    std::optional<Drag> m_drag;
};

}  // namespace app
