/// \file
/// Rows of a page as runs of plates.
/// Layer: core/page, private to it.
#pragma once

#include "core/base/job_control.h"
#include "core/page/runs/run_scene.h"
#include "core/raster/run_plane.h"

#include <functional>
#include <memory>
#include <span>
#include <vector>

namespace bichrom {

/// A part painted pixel by pixel, a plane a plate.
struct PixelPart
{
    PixelRect rect;
    std::vector<std::shared_ptr<const RunPlane>> planes; ///< as wide as rect
};

/// Paints rows of \p scene. \param rect  within the page
/// \param planes  of which tones are wanted; −1 is the artwork area
/// \param parts   what is painted by pixels, within rect, of these planes; apart from each other, of whole
/// rows
///                of strips: several parts on a row are given from left to right
/// \return a plane for each of \p planes; part of the rows only when \p control asked to stop. Same bits for
/// any rectangle.
[[nodiscard]] std::vector<RunPlane> paint_rows(const RunScene &scene, const PixelRect &rect,
                                               std::span<const int> planes, std::span<const PixelPart> parts,
                                               const JobControl &control = {});

/// Where \p scene has to be painted by pixels in rows [\p top, \p bottom): columns, from left to right,
/// apart.
[[nodiscard]] std::vector<InkSpan> pixel_columns(const RunScene &scene, int top, int bottom);

} // namespace bichrom
