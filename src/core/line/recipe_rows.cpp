#include "core/line/recipe_rows.h"

#include "core/base/pixel_rect.h"

#include <algorithm>

namespace bichrom {

const RunPlane *RecipeRows::plane_of(const PaintedStrip &strip, std::size_t number) const
{
    if (number == 0) {
        return strip.area.get();
    }
    if (number <= m_looked_at.size()) {
        return m_looked_at[number - 1] ? strip.plates[number - 1].get() : nullptr;
    }
    return strip.masks[number - 1 - m_looked_at.size()].get();
}

/// What recipes look at, of \p wide, each plane made by \p make from its number.
template <class Make> PaintedTile RecipeRows::painted_by(const PixelRect &wide, const Make &make) const
{
    PaintedTile painted;
    painted.tile.rect = wide;
    painted.tile.area = make(0);
    for (std::size_t i = 0; i < m_looked_at.size(); ++i) {
        painted.tile.plates.push_back(m_looked_at[i] ? make(1 + i) : Plane());
    }
    for (std::size_t i = 0; i < m_plan.masks().sources.size(); ++i) {
        painted.masks.push_back(make(1 + m_looked_at.size() + i));
    }
    return painted;
}

/// The tones of all planes looked at where each is even over all of \p wide; none where one is not.
std::optional<std::vector<std::uint8_t>> RecipeRows::even_tones(std::span<const StripRows> rows,
                                                                const PixelRect &wide) const
{
    const PixelRect inside = intersection(wide, m_page_area);
    const bool beside = inside.width != wide.width || inside.height != wide.height;
    std::vector<std::uint8_t> tones(planes());
    for (std::size_t number = 0; number < tones.size(); ++number) {
        int tone = beside ? 0 : -1;
        for (const StripRows &some : rows) {
            const RunPlane *plane = plane_of(*some.strip, number);
            for (int y = some.from; plane != nullptr && y < some.to; ++y) {
                const int here = plane->even_tone(y, inside.x, inside.x + inside.width);
                if (here < 0 || (tone >= 0 && here != tone)) {
                    return std::nullopt;
                }
                tone = here;
            }
        }
        tones[number] = static_cast<std::uint8_t>(std::max(0, tone));
    }
    return tones;
}

/// What recipes make of \p tones, by ink. \param at  a place where they are even, \param by  see even_by()
Outcome<std::vector<std::uint8_t>> RecipeRows::even_result(const std::vector<std::uint8_t> &tones,
                                                           const std::string &by, const PixelRect &at,
                                                           const JobControl &control)
{
    auto [found, is_new] =
        m_even.try_emplace(std::string(tones.begin(), tones.end()) + by, m_looked_at.size());
    if (is_new) {
        constexpr int side = 4; // any
        PaintedTile painted = painted_by({at.x, at.y, side, side}, [&](std::size_t number) {
            Plane plane(side, side);
            std::fill(plane.pixels.begin(), plane.pixels.end(), tones[number]);
            return plane;
        });
        if (const Done done = m_plan.follow(painted, m_resolution, m_boxes, control); !done) {
            m_even.erase(found);
            return done.error();
        }
        for (std::size_t i = 0; i < m_looked_at.size(); ++i) {
            found->second[i] = m_plan.computes(i) ? painted.tile.plates[i].at(side / 2, side / 2) : 0;
        }
    }
    return found->second;
}

PaintedTile RecipeRows::painted(std::span<const StripRows> rows, const PixelRect &wide) const
{
    const PixelRect inside = intersection(wide, m_page_area);
    return painted_by(wide, [&](std::size_t number) {
        Plane plane(wide.width, wide.height);
        for (const StripRows &some : rows) {
            const RunPlane &runs = *plane_of(*some.strip, number);
            for (int y = some.from; y < some.to; ++y) {
                if (!runs.row(y).empty()) {
                    runs.write_part(y, inside.x, inside.x + inside.width,
                                    plane.row(some.row + y - some.from - wide.y).data() +
                                        (inside.x - wide.x));
                }
            }
        }
        return plane;
    });
}

Outcome<std::vector<Plane>> RecipeRows::follow(std::span<const StripRows> rows, const PixelRect &rect,
                                               const JobControl &control)
{
    const int columns = std::max(1024, 6 * m_rim); // what lies around them is looked at twice
    const std::size_t inks = m_looked_at.size();
    std::vector<Plane> made(inks);
    for (std::size_t i = 0; i < inks; ++i) {
        made[i] = m_plan.computes(i) ? Plane(rect.width, rect.height) : Plane();
    }
    for (int left = 0; left < rect.width; left += columns) {
        const PixelRect part = {rect.x + left, rect.y, std::min(columns, rect.width - left), rect.height};
        const PixelRect wide = {part.x - m_rim, part.y - m_rim, part.width + 2 * m_rim,
                                part.height + 2 * m_rim};
        const auto by = m_plan.even_by(wide, m_resolution, m_boxes);
        const auto tones = by ? even_tones(rows, wide) : std::nullopt;
        if (tones) {
            const auto result = even_result(*tones, *by, wide, control);
            if (!result) {
                return result.error();
            }
            for (std::size_t i = 0; i < inks; ++i) {
                for (int y = 0; y < rect.height && (*result)[i] != 0; ++y) {
                    std::fill_n(made[i].row(y).begin() + left, part.width, (*result)[i]);
                }
            }
            continue;
        }
        PaintedTile tile = painted(rows, wide);
        if (const Done done = m_plan.follow(tile, m_resolution, m_boxes, control); !done) {
            return done.error();
        }
        for (std::size_t i = 0; i < inks; ++i) {
            for (int y = 0; y < rect.height && m_plan.computes(i); ++y) {
                const auto from = part_of_row(tile.tile, tile.tile.plates[i], part, y);
                std::copy(from.begin(), from.end(), made[i].row(y).begin() + left);
            }
        }
    }
    return made;
}

} // namespace bichrom
