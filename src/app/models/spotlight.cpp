#include "app/models/spotlight.h"

namespace bichrom {

void Spotlight::light(std::vector<QRectF> areas, int current, const QString &caption, int object, bool bring)
{
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
