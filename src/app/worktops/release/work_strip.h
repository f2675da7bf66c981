/// \file
/// Long work of a panel: how far it is, Stop, and what came of it.
/// Layer: app/worktops/release.
#pragma once

#include "app/tasks/task_scope.h"

#include <QWidget>

class QLabel;
class QProgressBar;
class QPushButton;

namespace bichrom {

/// One work at a time, off the window's thread.
class WorkStrip : public QWidget
{
    Q_OBJECT

public:
    /// \param stop, progress, result  object names
    WorkStrip(const char *stop, const char *progress, const char *result, QWidget *parent);

    [[nodiscard]] bool isBusy() const { return m_busy; }

    /// Runs \p work(control) on another thread, then \p finish(result) here; nothing else is under way.
    template <class Work, class Finish> void run(Work work, Finish finish)
    {
        begin();
        m_running = m_tasks.start(
            std::move(work),
            [this, finish = std::move(finish)](auto result) mutable {
                end();
                finish(std::move(result));
            },
            [this](qint64 done, qint64 total) { tell(done, total); });
    }

    /// What came of it, brought into sight. \param needs_artist  the artist must act
    void say(const QString &text, bool needs_artist);
    void clear(); ///< nothing is said any more

Q_SIGNALS:
    void busyChanged(bool busy); ///< what the work goes by is not to be changed meanwhile

private:
    void begin();
    void end();
    void tell(qint64 done, qint64 total);

    QPushButton *m_stop;
    QProgressBar *m_progress;
    QLabel *m_result;
    bool m_busy = false;
    CancelSwitch m_running;
    TaskScope m_tasks;
};

} // namespace bichrom
