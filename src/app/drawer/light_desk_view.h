// The drawer's light desk: a plan with the lights round the lettering, and for each light, the surroundings and emissive materials a
// fader, a colour and solo. It changes a picture that is there, live or finished, without rendering; the work takes it over on wish.
#pragma once

#include <QWidget>

#include "app/ticket/section.h"
#include "session/render_queue.h"
#include "session/side.h"
#include "work/light_desk.h"

class QHBoxLayout;
class QLabel;
class QPushButton;
class QSlider;
class QToolButton;

namespace app {

// The lettering from above with a lamp for each light; a click chooses a light's fader.
class LightPlan : public QWidget {
    Q_OBJECT

public:
    explicit LightPlan(QWidget* parent = nullptr);
    void show(const work::Work& work, const work::LightDesk& desk, const std::vector<session::SideOutline>& outlines);
    void mark(const std::string& entry);
    QPointF placeOf(const std::string& light) const;

Q_SIGNALS:
    void picked(const QString& entry);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    work::Work m_work;
    work::LightDesk m_desk;
    std::vector<session::SideOutline> m_outlines;
    std::string m_marked;
};

class LightDeskView : public QWidget {
    Q_OBJECT

public:
    explicit LightDeskView(const Context& desk, QWidget* parent = nullptr);

    // What is mixed: the live picture of this work, or a kept one of its own work.
    void showWork(const work::Work& work, bool kept, const QString& title);
    void show(const std::shared_ptr<const session::ShownWork>& shownWork);
    const work::LightDesk& mix() const { return m_mix; }
    bool isMoved() const { return m_mix != m_start; }

Q_SIGNALS:
    void moved();       // the mix is another
    void used();        // "Use in the work"
    void saveWanted();  // of a kept picture
    void closeWanted();

protected:
    void showEvent(QShowEvent* event) override;

private:
    struct Strip {
        std::string entry;
        QWidget* widget;
        QLabel* title;
        QSlider* fader;
        NumberField* stops;
        ColourField* colour;
        QToolButton* solo;
    };
    void rebuild();
    void refresh();
    void set(const std::string& entry, const std::function<void(work::DeskChannel&)>& change);
    QString titleOf(const std::string& entry) const;

    Context m_desk;
    work::Work m_work;
    work::LightDesk m_mix, m_start;  // as it is, and as the work has it
    bool m_kept = false;
    QString m_title;
    std::vector<Strip> m_strips;
    std::shared_ptr<const session::ShownWork> m_shownWork;
    std::vector<session::SideOutline> m_outlines;
    std::shared_ptr<const session::ShownWork> m_outlinesOf;
    LightPlan* m_plan;
    QWidget* m_row;
    QHBoxLayout* m_rowLayout;
    QLabel* m_about;
    QPushButton *m_use, *m_back, *m_save, *m_close;
};

}  // namespace app
