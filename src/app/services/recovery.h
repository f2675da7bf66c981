/// \file
/// Unsaved work kept on disk while it is unsaved, and found again after a crash.
/// Layer: app/services.
#pragma once

#include "app/services/session.h"

#include <QDateTime>
#include <QLockFile>
#include <QTimer>

#include <memory>
#include <vector>

namespace bichrom {

/// Writes the open job, with its artwork, to a folder of its own some seconds after each change. The file
/// goes when the work is saved, undone, or left on purpose. A lock beside it tells a crash from another
/// window.
class Recovery : public QObject
{
    Q_OBJECT

public:
    Recovery(Session &session, QString folder, QObject *parent = nullptr);
    ~Recovery() override;

    /// Work that a crashed program left behind.
    struct Leftover
    {
        QString file;   ///< the kept job
        QString origin; ///< path of the job or artwork it was made from
        QDateTime time; ///< when it was kept
    };
    [[nodiscard]] std::vector<Leftover> leftovers() const;
    static void drop(const Leftover &leftover);

    /// How long after a change the work is kept; 20 s unless set.
    void setDelay(std::chrono::milliseconds delay) { m_delay = delay; }
    /// The file the open work is kept in now; empty while nothing had to be kept.
    [[nodiscard]] QString keptFile() const { return m_kept ? m_file : QString(); }

Q_SIGNALS:
    void kept();
    void failed(const bichrom::Error &error); ///< once, until it works again

private:
    void schedule();
    void keep();
    void forget();

    Session &m_session;
    QString m_folder;
    QString m_file;
    std::unique_ptr<QLockFile> m_lock;
    std::chrono::milliseconds m_delay{20'000};
    QTimer m_timer;
    bool m_kept = false;
    bool m_writing = false;
    bool m_again = false; ///< changed while it was being written
    bool m_complained = false;
    quint64 m_generation = 0; ///< of the work; what was written for an older one is removed
    TaskScope m_tasks;        // last, so that it is destroyed first
};

} // namespace bichrom
