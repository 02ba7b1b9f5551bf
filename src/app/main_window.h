// The window: a text and a depth beside the picture that sharpens.
#pragma once

#include <QMainWindow>

#include "session/render_queue.h"

class QDoubleSpinBox;
class QLabel;
class QPlainTextEdit;

namespace app {

class PictureView;

class MainWindow : public QMainWindow {
    Q_OBJECT

public:
    explicit MainWindow(work::Work work, const QString& title, QWidget* parent = nullptr);

    // When the live picture counts as clean.
    void setLiveStop(const render::StopRule& stop) { m_liveStop = stop; }
    const work::Work& work() const { return m_work; }
    PictureView* picture() const { return m_picture; }

Q_SIGNALS:
    // The picture of the latest work is as clean as the live rule asks.
    void settled();
    // From the worker, queued to this thread.
    void frameReady(const session::LiveFrame& frame);

private:
    work::Piece* piece();
    void restart();
    void take(const session::LiveFrame& frame);

    work::Work m_work;
    PictureView* m_picture = nullptr;
    QPlainTextEdit* m_text = nullptr;
    QDoubleSpinBox* m_depth = nullptr;
    QLabel* m_state = nullptr;
    QLabel* m_notes = nullptr;
    render::StopRule m_liveStop{256, 0, 1.5};
    std::uint64_t m_job = 0;
    session::RenderQueue m_render;  // last: its worker ends before the rest
};

}  // namespace app
