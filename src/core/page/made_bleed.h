/// \file
/// Bleed made from the art: what stands beyond the trim is what stands inside it, turned over or drawn out.
/// Layer: core/page, private to it. May use core/artwork, core/raster.
#pragma once

#include "core/artwork/mupdf/page_content_impl.h"
#include "core/page/page_painter.h"
#include "core/page/vector_page.h"

#include <vector>

namespace bichrom {

/// Pixels of a page with made bleed, found in the page without it. Immutable; any thread.
///
/// Crisp pixels belong to the trim when their centres lie in it; of others those that it holds whole, so that
/// the grey edge of what ends at the trim is not bled.
class BleedMap
{
public:
    BleedMap(const BleedPlace &place, Dpi resolution, Edges edges);

    /// Whether every pixel of \p rect is that of the page itself.
    [[nodiscard]] bool leaves(const PixelRect &rect) const;
    /// The pixels of the page that those of \p rect are made of, as one rectangle.
    [[nodiscard]] PixelRect source(const PixelRect &rect) const;

    /// \p rect, made of \p from, the tile of source(rect).
    [[nodiscard]] PlateTile bled(const PlateTile &from, const PixelRect &rect) const;
    /// The same of runs.
    [[nodiscard]] PlateRuns bled(PlateRuns from, const PixelRect &rect) const;

private:
    /// First and one past the last pixel.
    struct Span
    {
        int begin = 0, end = 0;
        [[nodiscard]] bool holds(int at) const { return at >= begin && at < end; }
    };
    /// Columns [begin, end) of a row that come from another row: column x from by × x + from.
    struct Piece
    {
        int begin = 0, end = 0;
        int by = 1; ///< 1 = as it is, −1 = turned over, 0 = one column again and again
        int from = 0;
    };
    /// The row that row \p y is made of within the bleed.
    [[nodiscard]] int row_of(int y) const { return mapped(y, m_trim_y); }
    /// The trim in one direction, and the pixels that lie over each other when it is turned over at its
    /// edges: at and axis − at.
    struct Trim : Span
    {
        int low_axis = 0, high_axis = 0;
    };
    [[nodiscard]] int mapped(int at, const Trim &trim) const;
    [[nodiscard]] Span mapped(const Span &part, const Trim &trim, const Span &bleed) const;
    /// Row \p y, columns of \p part. \p row takes the row of the page that each piece is of.
    template <class Take> void each_piece(int y, const Span &part, const Take &take) const;

    BleedBy m_by;
    Trim m_trim_x, m_trim_y;
    Span m_bleed_x, m_bleed_y, m_own_x, m_own_y;
};

/// Gives \p page, as the artwork makes it, the bleed of \p place: its content is drawn again beyond the trim.
void add_bleed(VectorPage &page, const BleedPlace &place);

} // namespace bichrom
