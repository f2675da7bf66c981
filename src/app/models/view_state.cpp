#include "app/models/view_state.h"

namespace bichrom {

void ViewState::setLook(Look look)
{
    if (m_look != look) {
        m_look = look;
        Q_EMIT changed();
    }
}

void ViewState::setHonoursOverprint(bool on)
{
    if (m_overprint != on) {
        m_overprint = on;
        Q_EMIT changed();
    }
}

bool ViewState::isShown(const QString &ink) const
{
    return m_alone.isEmpty() ? !m_hidden.contains(ink) : m_alone == ink;
}

void ViewState::setOverlay(std::shared_ptr<const Overlay> overlay)
{
    if (m_overlay != overlay) {
        m_overlay = std::move(overlay);
        Q_EMIT overlayChanged();
    }
}

void ViewState::setShowsAreas(bool on)
{
    if (m_areas != on) {
        m_areas = on;
        Q_EMIT overlayChanged();
    }
}

void ViewState::setSlips(std::vector<Slip> slips)
{
    if (m_slips != slips) {
        m_slips = std::move(slips);
        Q_EMIT slipsChanged();
    }
}

void ViewState::setSliding(const QString &ink)
{
    if (m_sliding != ink) {
        m_sliding = ink;
        Q_EMIT slidingChanged();
    }
}

void ViewState::setShown(const QString &ink, bool shown)
{
    m_alone.clear();
    if (shown) {
        m_hidden.remove(ink);
    } else {
        m_hidden.insert(ink);
    }
    Q_EMIT changed();
}

void ViewState::setComparesFiles(bool on)
{
    if (m_comparesFiles != on) {
        m_comparesFiles = on;
        Q_EMIT changed();
    }
}

void ViewState::setAlone(const QString &ink)
{
    if (m_alone != ink) {
        m_alone = ink;
        Q_EMIT changed();
    }
}

void ViewState::setHovered(const QString &ink)
{
    if (m_hovered != ink) {
        m_hovered = ink;
        Q_EMIT hoveredChanged();
    }
}

void ViewState::reset()
{
    setOverlay(nullptr);
    setSlips({});
    setSliding({});
    setMovable({});
    m_hidden.clear();
    m_alone.clear();
    m_overprint = true;
    Q_EMIT changed();
}

} // namespace bichrom
