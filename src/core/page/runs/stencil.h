/// \file
/// Stencils: pictures of one bit, through which is painted.
/// Layer: core/page, private to it.
#pragma once

#include "core/page/runs/backwards.h"
#include "core/raster/shape_list.h"

#include <memory>
#include <vector>

namespace bichrom {

/// A stencil as wide as it lies on the page: each film pixel takes the stencil's pixel that its centre lies
/// in. Immutable; any thread.
class Stencil
{
public:
    /// \param pixels  one byte each: 255 where paint goes through, else 0
    /// \param place   from the unit square, in which it lies, to the page's pixels
    /// \return null when \p place cannot be turned around, and for noise of millions of pixels
    [[nodiscard]] static std::unique_ptr<const Stencil> make(const fz_pixmap &pixels, const fz_matrix &place);

    /// Adds where paint goes through in columns [\p begin, \p end) of \p row, from left to right.
    void spans(int row, int begin, int end, std::vector<InkSpan> &out) const;

private:
    Stencil() = default;
    [[nodiscard]] std::span<const InkSpan> open_in(int y) const
    {
        const auto at = static_cast<std::size_t>(y);
        return std::span(m_open).subspan(m_first[at], m_first[at + 1] - m_first[at]);
    }
    void add_turned(int row, int begin, int end, std::vector<InkSpan> &out) const;

    Backwards m_back{};
    int m_width = 0, m_height = 0;
    std::vector<InkSpan> m_open;      ///< of all rows, in its own pixels
    std::vector<std::size_t> m_first; ///< by row, and one more
};

} // namespace bichrom
