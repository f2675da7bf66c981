#include "app/tasks/object_finder.h"

#include "core/artwork/scene.h"

namespace bichrom {

ObjectFinder::ObjectFinder(QObject *parent) : QObject(parent) {}

void ObjectFinder::ask(std::shared_ptr<const PageContent> page, QPointF mm)
{
    ++m_wanted;
    if (m_running) {
        m_next = Question{std::move(page), mm};
    } else {
        start({std::move(page), mm});
    }
}

void ObjectFinder::forget()
{
    ++m_wanted;
    m_next.reset();
}

void ObjectFinder::start(Question question)
{
    m_running = true;
    m_tasks.start(
        [question](const JobControl &control) {
            return objects_at(*question.page, to_points(Millimetres(question.mm.x())),
                              to_points(Millimetres(question.mm.y())), control);
        },
        [this, mm = question.mm, wanted = m_wanted](const Outcome<std::vector<int>> &objects) {
            m_running = false;
            if (m_next) {
                start(*std::exchange(m_next, std::nullopt));
            } else if (wanted == m_wanted && objects) {
                Q_EMIT found(mm, *objects);
            }
        });
}

} // namespace bichrom
