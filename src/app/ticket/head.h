// What opens a section of the ticket, or a group of rows in it: a button as wide as the ticket that says, and draws, what is inside.
#pragma once

#include <QAbstractButton>
#include <QVariantAnimation>
#include <functional>

namespace app {

// A small true drawing of what is set, into a rectangle of the painter.
using Drawing = std::function<void(QPainter&, const QRectF&)>;

// What both kinds share: a title, and a line in plain words beside it.
class Head : public QAbstractButton {
    Q_OBJECT

public:
    Head(const QString& title, QWidget* parent);

    void setSummary(const QString& summary);
    const QString& summary() const { return m_summary; }
    void setKeys(const QString& keys) { m_keys = keys; }  // that open it; said in the tooltip
    QSize minimumSizeHint() const override { return {QSize(60, sizeHint().height())}; }

protected:
    bool event(QEvent* event) override;
    void checkStateSet() override;
    void nextCheckState() override;
    double turn() const { return m_turn.state() == QAbstractAnimation::Running ? m_turn.currentValue().toDouble() : isChecked(); }

private:
    void move();

    QString m_summary, m_keys;
    QVariantAnimation m_turn;  // of the chevron: 0 closed, 1 open
};

class SectionHead : public Head {
    Q_OBJECT

public:
    SectionHead(const QString& title, Drawing drawing, QWidget* parent = nullptr);

    // While it tells that it was clicked: by the pointer, not by a key or the program.
    bool byPointer() const { return m_byPointer; }
    // The drawing alone, for a folded ticket.
    void setNarrow(bool narrow);
    // Something that stands at the head's right end; the head makes room for it while it is shown.
    void setAside(QWidget* aside);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    QRect drawingRect() const;
    void placeAside();

    Drawing m_drawing;
    QWidget* m_aside = nullptr;
    bool m_narrow = false, m_byPointer = false;
};

class GroupHead : public Head {
    Q_OBJECT

public:
    explicit GroupHead(const QString& title, QWidget* parent = nullptr) : Head(title, parent) {}

    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;
};

}  // namespace app
