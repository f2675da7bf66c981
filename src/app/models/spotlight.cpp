#include "app/models/spotlight.h"

#include <algorithm>

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
    constexpr std::size_t most = 2000; // more are no help to the eye, and hold the window up
    m_areas = std::move(areas);
    m_areas.resize(
        std::min(m_areas.size(), std::max(most, static_cast<std::size_t>(std::max(current, 0)) + 1)));
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
