/// \file
/// Tiling patterns as what they repeat.
/// Layer: core/page, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// How a pattern repeats its cell (ISO 32000-1, 8.7.3).
struct PatternRepeat
{
    fz_rect area; ///< to be covered, in the pattern's space
    fz_rect view; ///< of the cell, which is cut to it
    float xstep = 0, ystep = 0;
    fz_matrix ctm;
};

/// The cell of a pattern while it is recorded.
class PatternCell
{
public:
    /// Begins to record; what stood in the way is dropped.
    void begin(fz_context *ctx, const PatternRepeat &repeat);
    /// What the cell paints on; null when none is recorded.
    [[nodiscard]] fz_device *device() const { return m_device; }
    /// Ends the cell and paints it on \p target: where it is flat shapes, pictures and gradients, and not too
    /// much of them, once for each repeat, each at its own place and not that of the nearest pixel; else as a
    /// pattern.
    void end(fz_context *ctx, fz_device *target);
    /// Drops what is left of a cell that was not ended.
    void drop(fz_context *ctx);

private:
    PatternRepeat m_repeat;
    fz_display_list *m_list = nullptr;
    fz_device *m_device = nullptr;
};

} // namespace bichrom
