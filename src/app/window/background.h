// Work off the window's thread whose outcome comes back to it.
#pragma once

#include <QObject>
#include <QThreadPool>
#include <functional>
#include <new>

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
            try {
                QMetaObject::invokeMethod(
                    this, [outcome = work(), done = std::move(done)]() mutable { done(std::move(outcome)); }, Qt::QueuedConnection);
            } catch (const std::bad_alloc&) {
                QMetaObject::invokeMethod(
                    this, [this] { Q_EMIT failed(tr("There is not enough memory for this; close other programs and try again")); },
                    Qt::QueuedConnection);
            }
        });
    }
    void waitForDone() { m_pool.waitForDone(); }

Q_SIGNALS:
    // Memory ran out in a work; its `done` is not called.
    void failed(const QString& sentence);

private:
    QThreadPool m_pool;
};

}  // namespace app
