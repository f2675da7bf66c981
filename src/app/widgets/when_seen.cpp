#include "app/widgets/when_seen.h"

#include <QEvent>
#include <QWidget>

#include <utility>

namespace bichrom {

WhenSeen::WhenSeen(QWidget *part, std::function<void()> refresh)
    : QObject(part), m_part(part), m_refresh(std::move(refresh))
{
    part->installEventFilter(this);
}

void WhenSeen::refresh()
{
    m_stale = true;
    if (m_part->isVisible()) {
        settle();
    }
}

void WhenSeen::settle()
{
    if (std::exchange(m_stale, false)) {
        m_refresh();
    }
}

bool WhenSeen::eventFilter(QObject *watched, QEvent *event)
{
    if (event->type() == QEvent::Show) {
        settle();
    }
    return QObject::eventFilter(watched, event);
}

} // namespace bichrom
