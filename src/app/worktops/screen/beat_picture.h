/// \file
/// What two screens that beat look like on each other.
/// Layer: app/worktops/screen.
#pragma once

#include "app/tasks/task_scope.h"
#include "core/screen/moire_survey.h"

#include <QImage>
#include <QWidget>

namespace bichrom {

class BeatPicture : public QWidget
{
    Q_OBJECT

public:
    explicit BeatPicture(QWidget *parent = nullptr);

    /// Shows a piece of \p pair, three bands wide, as an eye sees it from \p viewing_mm away; nothing of
    /// pairs that do not meet.
    void take(const MoirePair &pair, double viewing_mm);
    void clear();
    /// Null until it is made.
    [[nodiscard]] const QImage &picture() const { return m_picture; }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    QImage m_picture;
    QString m_words;
    CancelSwitch m_running;
    TaskScope m_tasks; // last: destroyed first
};

} // namespace bichrom
