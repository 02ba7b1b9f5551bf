// Under the picture: the state of the render in one sentence, and what can be asked of it.
#pragma once

#include <QWidget>

#include "session/render_queue.h"

class QComboBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QToolButton;

namespace app {

class StateLine : public QWidget {
    Q_OBJECT

public:
    explicit StateLine(QWidget* parent = nullptr);

    // `frame` is the last one; `current`: it shows the work as it is now.
    void show(const session::LiveFrame& frame, bool current, bool held, bool part);
    void showReadout(const QString& readout);
    // A final render that runs, or nothing.
    void showFinal(const QString& sentence, double fraction = 0);
    render::StopRule stopRule() const;
    static QString sentence(const session::LiveFrame& frame, bool current, bool held, bool part, const render::StopRule& stop);

    QToolButton *hold, *part, *actualSize, *clipped, *gathered, *drawer, *desk, *proofs;
    QPushButton* final;

Q_SIGNALS:
    void stopRuleChanged();
    void stopFinalWanted();

private:
    void elide();
    void resizeEvent(QResizeEvent* event) override;

    QLabel *m_sentence, *m_readout, *m_final;
    QString m_text;
    QComboBox* m_stop;
    QWidget* m_finalBox;
    QProgressBar* m_progress;
};

}  // namespace app
