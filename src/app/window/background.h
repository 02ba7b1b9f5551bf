// Work off the window's thread whose outcome comes back to it.
#pragma once

#include <QObject>
#include <QThreadPool>
#include <functional>

namespace app {

class Background : public QObject {
    Q_OBJECT

public:
    explicit Background(QObject* parent = nullptr) : QObject(parent) { m_pool.setMaxThreadCount(1); }
    // Waits for what still runs; nothing is told any more.
    ~Background() override { m_pool.waitForDone(); }

    // Runs `work` on another thread, one after the other, then `done` with its outcome on this object's thread.
    template <class Work, class Done>
    void run(Work work, Done done)
    {
        m_pool.start([this, work = std::move(work), done = std::move(done)]() mutable {
            QMetaObject::invokeMethod(
                this, [outcome = work(), done = std::move(done)]() mutable { done(std::move(outcome)); }, Qt::QueuedConnection);
        });
    }
    void waitForDone() { m_pool.waitForDone(); }

private:
    QThreadPool m_pool;
};

}  // namespace app
