/// \file
/// Work off the window's thread that belongs to somebody.
/// Layer: app/tasks.
#pragma once

#include "core/base/job_control.h"

#include <QObject>
#include <QThreadPool>

#include <functional>
#include <memory>
#include <vector>

namespace bichrom {

/// Runs functions on threads of its own and brings results back to the thread it lives
/// in. Destroying it asks running work to stop, waits for it, and drops its results.
class TaskScope : public QObject
{
    Q_OBJECT

public:
    using Progress = std::function<void(qint64 done, qint64 total)>;

    explicit TaskScope(QObject *parent = nullptr);
    /// One task after the other, where nobody waits for them.
    void setInBackground();
    ~TaskScope() override;

    /// Calls \p work(control) on another thread, then \p finish(result) on this one.
    /// \p progress is called on this thread, not more than about 30 times a second.
    template <typename Work, typename Finish>
    CancelSwitch start(Work work, Finish finish, Progress progress = {})
    {
        CancelSwitch cancel;
        m_running.push_back(cancel);
        const JobControl control(cancel, throttled(std::move(progress)));
        m_pool.start([this, work = std::move(work), finish = std::move(finish), control]() mutable {
            auto result = std::make_shared<decltype(work(control))>(work(control));
            QMetaObject::invokeMethod(
                this, [result, finish = std::move(finish)]() mutable { finish(std::move(*result)); },
                Qt::QueuedConnection);
        });
        return cancel;
    }

    /// Asks everything running to stop; does not wait.
    void cancelAll();

private:
    JobControl::Report throttled(Progress progress);
    QThreadPool m_pool;
    std::vector<CancelSwitch> m_running;
};

} // namespace bichrom
