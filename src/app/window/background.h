// Work off the window's thread whose outcome comes back to it.
#pragma once

#include <QObject>
#include <QThreadPool>
#include <functional>
#include <new>
#include <stop_token>

#include "base/progress.h"

namespace app {

class Background : public QObject {
    Q_OBJECT

public:
    explicit Background(QObject* parent = nullptr) : QObject(parent) { m_pool.setMaxThreadCount(1); }
    // Asks what still runs to stop and waits for it; nothing is told any more.
    ~Background() override
    {
        m_stop.request_stop();
        m_pool.waitForDone();
    }

    // Runs `work` with a Progress on another thread, one after the other, then `done` with its outcome on this object's thread.
    template <class Work, class Done>
    void run(Work work, Done done)
    {
        m_pool.start([this, work = std::move(work), done = std::move(done)]() mutable {
            try {
                QMetaObject::invokeMethod(
                    this,
                    [outcome = work(base::Progress(m_stop.get_token())), done = std::move(done)]() mutable { done(std::move(outcome)); },
                    Qt::QueuedConnection);
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
    std::stop_source m_stop;
    QThreadPool m_pool;
};

}  // namespace app
