// The picture on its neutral ground: places it in the window, shows the marks over it and hands events to the hands.
#pragma once

#include <QImage>
#include <QWidget>
#include <optional>

#include "app/picture/aim_at.h"
#include "app/ticket/section.h"
#include "session/render_queue.h"

class QScrollBar;

namespace app {

class Hands;
// What a line is drawn for: a shape of its own, what a lettering runs along, where a piece is cut apart.
enum class PenFor { Shape, Run, Cut };

class PictureView : public QWidget {
    Q_OBJECT

public:
    explicit PictureView(const Context& context, QWidget* parent = nullptr);
    ~PictureView() override;

    // --- what is wanted from the renderer
    // The whole picture in device pixels, and the part of it that is to be rendered.
    QSize wholeSize() const;
    std::optional<film::Film::Rect> wantedPart() const;

    // --- what is shown
    void show(const session::LiveFrame& frame);
    const session::LiveFrame& frame() const { return m_frame; }
    // As shown, without the marks over it; 8-bit sRGB.
    const QImage& image() const { return m_part.isNull() ? m_whole : m_part; }
    void workChanged();  // sheet, choice or view: places and marks anew

    // Device pixels for each pixel of the still, 0.1 to 16; nothing: all of it fits in. What is at `around` (in the widget) stays there.
    void setZoom(std::optional<double> zoom, QPointF around);
    double zoom() const;  // as it is shown
    bool isFitted() const { return !m_zoom; }
    void zoomBy(double factor, QPointF around);
    void setActualSize(bool actual);
    bool isActualSize() const { return m_zoom == 1.0; }
    void fit() { setZoom({}, rect().center()); }
    // Part of the picture that is seen, 0 to 1; all of it where it fits in.
    QRectF seenPart() const;
    // Asks for a rectangle by the next drag; or drops the part again.
    void choosePart();
    void setPart(const QRectF& onFrame);  // 0 to 1; empty: all
    bool hasPart() const { return !m_partOnFrame.isEmpty(); }
    bool partOfChosen();
    // Where pieces are seen, in px of the widget; empty before the first picture.
    QRect lettersRect() const;  // false when nothing chosen is seen
    void showClipped(bool shown);
    bool showsClipped() const { return m_showClipped; }
    // Every body as lines over the faint picture, whatever stands before it.
    void showLines(bool shown);
    bool showsLines() const { return m_showLines; }
    // What has a line there, the nearest one; nothing while lines are not shown.
    std::optional<session::Target> lineAt(QPointF place) const;
    void showLamps(bool shown);

    void pickColour(std::function<void(base::Rgb)> take);
    // The next clicks draw a line; `piece` is whose, where it is not a shape of its own.
    void draw(PenFor use, const std::string& piece = {});
    // The next drags set a light, a card or the lens by a place, until they are called off; `id`: which one.
    void aimAt(AimAt what, const std::string& id);
    // Calls off what was begun: picking, a part, a drag. False when there was nothing.
    bool callOff();

    // --- places, for hands and tests
    const Hands* hands() const { return m_hands.get(); }
    QRectF frameRect() const;  // the whole frame in the widget
    base::Vec2 toFrame(QPointF place) const;
    QPointF fromFrame(base::Vec2 uv) const;
    // What is seen at a place; nothing outside what is rendered.
    std::optional<film::PixelId> idAt(QPointF place) const;
    // What is seen at a place of the widget: piece, letter and part, or the ground.
    work::Address addressAt(QPointF place) const;
    enum class OnGround { Nothing, Wall, Floor };
    OnGround groundAt(QPointF place) const;
    std::optional<QColor> colourAt(QPointF place) const;
    // Letters under a place from front to back, without those of locked pieces.
    std::vector<session::Target> targetsUnder(QPointF place) const;

Q_SIGNALS:
    void wanted();  // another size or part is wanted
    void pointed(const QString& readout);
    void partChosen(bool chosen);
    void zoomChanged();
    void menuWanted(QPointF place, const QPoint& global);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent* event) override;
    bool event(QEvent* event) override;

private:
    static QRect rectOf(const film::Film::Rect& place);
    QPoint pixelAt(QPointF place) const;
    void updateScrolls();
    void slideBy(QPointF by);
    QRectF planRect() const;  // empty where all is seen
    void paintLines(QPainter& painter) const;
    void paintPlan(QPainter& painter);
    void updateMarks();
    QString readoutAt(QPointF place) const;

    Context m_context;
    std::unique_ptr<Hands> m_hands;
    session::LiveFrame m_frame;  // the last one with a picture
    QImage m_whole, m_part;
    film::Film::Rect m_partPlace{};
    QImage m_choice, m_clipped;
    std::shared_ptr<const picture::Raster<film::PixelId>> m_choiceOf;  // ids the line was made from
    session::Choice m_choiceShown;
    std::optional<double> m_zoom;
    bool m_showClipped = false, m_showLines = false;
    bool m_space = false, m_slid = false;  // Space is held; it has moved the picture
    std::optional<QPointF> m_slideFrom;
    QImage m_small;        // of the whole, for the plan
    qint64 m_smallOf = 0;  // its key
    QRectF m_partOnFrame;
    QScrollBar* m_across;
    QScrollBar* m_down;
};

}  // namespace app
