// The drawer's two round charts of the surroundings: what is before the letters and what is behind them, with cards to drag.
#pragma once

#include <QWidget>
#include <optional>

#include "app/ticket/section.h"
#include "session/gesture.h"
#include "session/sky_chart.h"

class QToolButton;

namespace app {

class SkyCharts : public QWidget {
    Q_OBJECT

public:
    explicit SkyCharts(const Context& context, QWidget* parent = nullptr);

    void refresh();
    // In the widget, of a direction of the world; for tests too.
    QPointF at(base::Vec3 direction) const;

Q_SIGNALS:
    void closeWanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    enum class Grip { Middle, Corner, Top };
    struct Drag {
        Grip grip;
        std::string card;
        QPointF off;  // from the pointer to what is held
        session::Gesture gesture;
    };
    const work::Surroundings& around() const { return m_context.session->work().surroundings; }
    const work::SkyCard* chosen() const;
    QRectF circle(bool behind) const;
    // Of the chart that is nearer.
    base::Vec3 directionAt(QPointF place) const;
    std::optional<std::string> cardAt(QPointF place) const;
    std::optional<Grip> gripAt(QPointF place) const;  // of the chosen card
    void choose(const std::string& card);
    void change(const char* label, const std::function<void(work::SkyCard&)>& change);
    void add(base::Vec3 direction, bool flag);
    void remove();
    void paintChart(QPainter& painter, bool behind);
    void paintCard(QPainter& painter, const work::SkyCard& card, bool isChosen) const;

    Context m_context;
    std::optional<Drag> m_drag;
    QImage m_sky[2];  // before, behind
    QToolButton* m_close;
    work::Surroundings m_of;
};

}  // namespace app
