#include "app/tasks/task_scope.h"

#include <QElapsedTimer>
#include <QThread>

namespace bichrom {

TaskScope::TaskScope(QObject *parent) : QObject(parent)
{
    m_pool.setMaxThreadCount(2);
}

void TaskScope::setInBackground()
{
    m_pool.setMaxThreadCount(1);
    m_pool.setThreadPriority(QThread::LowPriority);
}

TaskScope::~TaskScope()
{
    cancelAll();
    m_pool.waitForDone();
}

void TaskScope::cancelAll()
{
    for (CancelSwitch &cancel : m_running) {
        cancel.cancel();
    }
    m_running.clear();
}

JobControl::Report TaskScope::throttled(Progress progress)
{
    if (!progress) {
        return {};
    }
    auto clock = std::make_shared<QElapsedTimer>();
    return [this, progress = std::move(progress), clock](std::int64_t done, std::int64_t total) {
        if (done != total && clock->isValid() && clock->elapsed() < 33) {
            return;
        }
        clock->start();
        QMetaObject::invokeMethod(
            this, [progress, done, total] { progress(done, total); }, Qt::QueuedConnection);
    };
}

} // namespace bichrom
