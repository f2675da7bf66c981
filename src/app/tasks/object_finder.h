/// \file
/// Which objects paint at a point, asked off the window's thread.
/// Layer: app/tasks.
#pragma once

#include "app/tasks/task_scope.h"
#include "core/artwork/artwork.h"

#include <QPointF>

#include <optional>
#include <vector>

namespace bichrom {

/// Answers the newest question; those overtaken while one is being answered are dropped.
class ObjectFinder : public QObject
{
    Q_OBJECT

public:
    explicit ObjectFinder(QObject *parent = nullptr);

    /// found() follows. \p mm from the page's top left.
    void ask(std::shared_ptr<const PageContent> page, QPointF mm);
    void forget(); ///< no answer is wanted any more

Q_SIGNALS:
    /// Indices into the page's scene, painted first first.
    void found(QPointF mm, const std::vector<int> &objects);

private:
    struct Question
    {
        std::shared_ptr<const PageContent> page;
        QPointF mm;
    };
    void start(Question question);
    std::optional<Question> m_next;
    bool m_running = false;
    quint64 m_wanted = 0;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
