// What a colour is picked from: a plane of one hue, the hues beside it, and rows of colours.
#pragma once

#include <QImage>
#include <QWidget>
#include <vector>

#include "picture/oklab.h"

namespace app {

// Lightness upwards and chroma to the right, evenly as the eye sees them, for one hue. Where no screen colour is it stays empty, and the
// edge is drawn.
class ColourPlane : public QWidget {
    Q_OBJECT

public:
    static constexpr float kMostChroma = 0.33f;  // at the right edge
    explicit ColourPlane(QWidget* parent = nullptr);
    void showColour(const picture::Oklch& colour);

Q_SIGNALS:
    void moved(float lightness, float chroma, bool going);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QRect plane() const;
    void take(QPointF at, bool going);
    void draw();

    picture::Oklch m_colour;
    QImage m_image;
    float m_drawnHue = -1;
};

// All hues from below upwards, as light and strong as the colour is, as far as the screen has them.
class HueStrip : public QWidget {
    Q_OBJECT

public:
    explicit HueStrip(QWidget* parent = nullptr);
    void showColour(const picture::Oklch& colour);

Q_SIGNALS:
    void moved(float hue, bool going);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void take(double y, bool going);
    picture::Oklch m_colour;
};

// A row of colours to take one from: by click, or by arrows and Return.
class ColourRow : public QWidget {
    Q_OBJECT

public:
    explicit ColourRow(const QString& name, QWidget* parent = nullptr);
    void showColours(const std::vector<base::Rgb>& colours);
    int chipAt(QPointF place) const;  // -1: none
    QRect chip(int index) const;
    QSize sizeHint() const override;

Q_SIGNALS:
    void taken(base::Rgb colour);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    std::vector<base::Rgb> m_colours;
    int m_current = 0;
};

}  // namespace app
