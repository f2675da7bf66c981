/// \file
/// Recipes followed over rows of a page, from what is painted of them as runs.
/// Layer: core/line, private to it. May use core/page, core/raster.
#pragma once

#include "core/line/plate_plan.h"
#include "core/line/strip_store.h"

#include <map>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// Rows [from, to) of a strip, the first of which is row of the page.
struct StripRows
{
    const PaintedStrip *strip;
    int from, to, row;
};

/// Follows a plan's recipes some columns at a time: their planes stay in the processor's cache, and many are
/// even, for which the result is worked out once. Lent what it is made of; for one thread.
class RecipeRows
{
public:
    /// \param looked_at  by ink, whether a recipe reads it
    /// \param boxes      by PageBox, mm from the page's top left
    /// \param page_area  of the page in pixels; beside it is bare
    /// \param rim        pixels that recipes look at around each
    RecipeRows(const PlatePlan &plan, const std::vector<bool> &looked_at, const std::array<Rect, 5> &boxes,
               const PixelRect &page_area, Dpi resolution, int rim)
        : m_plan(plan), m_looked_at(looked_at), m_boxes(boxes), m_page_area(page_area),
          m_resolution(resolution), m_rim(rim)
    {
    }

    /// The planes of \p rect that recipes write, by ink; others are empty. \p rows hold those of \p rect and
    /// the rim above and below it, as far as the page goes.
    /// \return Cancelled
    [[nodiscard]] Outcome<std::vector<Plane>> follow(std::span<const StripRows> rows, const PixelRect &rect,
                                                     const JobControl &control);

private:
    // Planes looked at are numbered: the artwork area, then plates by ink, then masks.
    [[nodiscard]] std::size_t planes() const
    {
        return 1 + m_looked_at.size() + m_plan.masks().sources.size();
    }
    [[nodiscard]] const RunPlane *plane_of(const PaintedStrip &strip, std::size_t number) const;
    template <class Make> [[nodiscard]] PaintedTile painted_by(const PixelRect &wide, const Make &make) const;
    [[nodiscard]] std::optional<std::vector<std::uint8_t>> even_tones(std::span<const StripRows> rows,
                                                                      const PixelRect &wide) const;
    [[nodiscard]] Outcome<std::vector<std::uint8_t>> even_result(const std::vector<std::uint8_t> &tones,
                                                                 const std::string &by, const PixelRect &at,
                                                                 const JobControl &control);
    [[nodiscard]] PaintedTile painted(std::span<const StripRows> rows, const PixelRect &wide) const;

    const PlatePlan &m_plan;
    const std::vector<bool> &m_looked_at;
    const std::array<Rect, 5> &m_boxes;
    PixelRect m_page_area;
    Dpi m_resolution;
    int m_rim;
    /// What recipes make of tones that go on everywhere, by ink; by the tones and what else they go by.
    std::map<std::string, std::vector<std::uint8_t>> m_even;
};

} // namespace bichrom
