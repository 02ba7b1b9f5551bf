// Pictures of one work beside each other.
#pragma once

#include <QImage>
#include <QWidget>
#include <vector>

namespace app {

// Up to four pictures of one work: one alone, two with a divider between them, or all beside each other.
class Comparison : public QWidget {
    Q_OBJECT

public:
    struct Shown {
        QImage picture;
        QString name;
    };
    explicit Comparison(QWidget* parent = nullptr);

    void setPictures(std::vector<Shown> pictures);
    double divider() const { return m_divider; }  // of the picture's width, from its left

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;

private:
    QRectF cell(std::size_t place) const;
    QRectF pictureRect(std::size_t place) const;
    void setDivider(double to);

    std::vector<Shown> m_shown;
    double m_divider = 0.5;
    bool m_secondAlone = false;
};

}  // namespace app
