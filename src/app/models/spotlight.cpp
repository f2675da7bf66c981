#include "app/models/spotlight.h"

namespace bichrom {

Spotlight::Spotlight(QObject *parent) : QObject(parent)
{
    constexpr int half_blink = 220; // ms
    m_timer.setInterval(half_blink);
    connect(&m_timer, &QTimer::timeout, this, [this] {
        if (--m_blinks <= 0) {
            m_timer.stop();
        }
        Q_EMIT changed();
    });
}

void Spotlight::blink(std::vector<QRectF> areas, const QString &caption)
{
    constexpr int halves = 8;
    light(std::move(areas), 0, caption, -1, false);
    m_blinks = m_areas.empty() ? 0 : halves;
    if (m_blinks > 0) {
        m_timer.start();
    }
}

void Spotlight::light(std::vector<QRectF> areas, int current, const QString &caption, int object, bool bring)
{
    m_blinks = 0;
    m_timer.stop();
    m_areas = std::move(areas);
    m_current = m_areas.empty() ? -1 : current;
    m_caption = caption;
    m_object = object;
    Q_EMIT changed();
    if (bring && m_current >= 0) {
        Q_EMIT broughtIntoView(m_areas[static_cast<std::size_t>(m_current)]);
    }
}

void Spotlight::clear()
{
    light({}, -1, {}, -1, false);
}

} // namespace bichrom
