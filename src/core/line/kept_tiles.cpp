#include "core/line/kept_tiles.h"

#include <algorithm>

namespace bichrom {

namespace {

constexpr std::size_t budget = 64u << 20;   ///< bytes: a large window with ten plates
constexpr std::size_t largest = budget / 8; ///< larger ones are looked at once

} // namespace

Outcome<std::shared_ptr<const KeptTiles::Tile>> KeptTiles::paint(const PixelRect &rect, Dpi resolution,
                                                                 Edges edges, const JobControl &control) const
{
    {
        const std::lock_guard lock(m_guard);
        const auto at = std::find_if(m_kept.begin(), m_kept.end(), [&](const Kept &one) {
            return one.edges == edges && one.resolution.value == resolution.value && one.tile->rect == rect;
        });
        if (at != m_kept.end()) {
            m_kept.splice(m_kept.begin(), m_kept, at);
            return at->tile;
        }
    }
    auto painted = m_painter->paint(rect, resolution, edges, control);
    if (!painted) {
        return painted.error();
    }
    auto tile = std::make_shared<Tile>();
    tile->rect = rect;
    std::size_t bytes = 0;
    const auto runs_of = [&](Plane &plane) {
        bytes += plane.pixels.size();
        return std::make_shared<const RunPlane>(std::move(plane));
    };
    for (Plane &plate : painted->plates) {
        tile->plates.push_back(runs_of(plate));
    }
    tile->area = runs_of(painted->area);
    if (bytes <= largest) {
        const std::lock_guard lock(m_guard);
        m_kept.push_front({resolution, edges, tile, bytes});
        m_bytes += bytes;
        while (m_bytes > budget) {
            m_bytes -= m_kept.back().bytes;
            m_kept.pop_back();
        }
    }
    return std::shared_ptr<const Tile>(std::move(tile));
}

} // namespace bichrom
