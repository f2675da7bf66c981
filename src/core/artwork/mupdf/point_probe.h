/// \file
/// Whether an object paints at a point.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

#include <vector>

namespace bichrom {

/// Tries single objects at one point of a page, under the clips open around them. Soft masks and
/// groups are not looked at: what they hide still counts as being there.
/// Functions may throw MuPDF's way.
class PointProbe
{
public:
    /// \param x, y  points in page space
    PointProbe(float x, float y) : m_x(x), m_y(y) {}

    /// Whether the point lies in \p bounds and in all open clips.
    [[nodiscard]] bool may_touch(fz_rect bounds) const;

    [[nodiscard]] bool fills(fz_context *ctx, const fz_path *path, int even_odd, fz_matrix ctm) const;
    [[nodiscard]] bool strokes(fz_context *ctx, const fz_path *path, const fz_stroke_state *stroke,
                               fz_matrix ctm) const;
    /// \param stroke  null for filled text
    [[nodiscard]] bool writes(fz_context *ctx, const fz_text *text, const fz_stroke_state *stroke,
                              fz_matrix ctm) const;
    /// The unit square under \p ctm.
    [[nodiscard]] bool covers(fz_matrix ctm) const;

    void open_clip(bool holds) { m_clips.push_back(holds); }
    void close_clip()
    {
        if (!m_clips.empty()) {
            m_clips.pop_back();
        }
    }

private:
    template <typename Paint> [[nodiscard]] bool try_painting(fz_context *ctx, Paint paint) const;
    float m_x, m_y;
    std::vector<bool> m_clips;
};

} // namespace bichrom
