/// \file
/// A page as the artwork and its routes make it, any part of it at any resolution.
/// Layer: core/page, for core/line. May use core/artwork, core/raster. MuPDF stays inside.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/page/plate_setup.h"
#include "core/page/plate_tile.h"
#include "core/raster/polygons.h"
#include "core/raster/run_plane.h"

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace bichrom {

struct VectorPage;

/// Plates of some whole rows of a page as runs.
struct PlateRuns
{
    PixelRect rect;
    std::vector<RunPlane> plates; ///< in the order of the setup's inks
    RunPlane area;
};

/// Paints a page before any recipe is followed, with the bleed that is made from its art. Immutable; every
/// function may be called from any thread.
///
/// Pixel (0, 0) has its top left corner at the page's top left; a pixel is 72/dpi points wide.
/// Values: 0 = bare, 255 = solid.
/// Any rows of a page, over its full width, are bit for bit those of the whole page: strips at fixed heights
/// are painted and cut. Rectangles cut at the sides may differ from the whole by a few tones in antialiased
/// edges that cross the cut.
class PagePainter
{
public:
    /// Routes \p page to the plates of \p setup, and one more for what is lost when that is asked for.
    /// \param wanted  by ink: whether anybody looks at its plane; of the others nothing is painted, though
    ///                what would print there knocks out
    /// \return CannotRead, TooLarge, Cancelled
    [[nodiscard]] static Outcome<std::unique_ptr<const PagePainter>>
    make(std::shared_ptr<const PageContent> page, PlateSetup setup, const Scene &scene,
         const std::vector<bool> &wanted, const JobControl &control);

    ~PagePainter();
    PagePainter(const PagePainter &) = delete;
    PagePainter &operator=(const PagePainter &) = delete;

    /// Pixels of the whole page at \p resolution, rounded to the nearest.
    [[nodiscard]] PixelRect extent(Dpi resolution) const;

    /// Whether paint() averages runs for these edges: the work then goes by the rows that objects cross.
    /// Errors as paint().
    [[nodiscard]] Outcome<bool> averages_runs(Dpi resolution, Edges edges, const JobControl &control) const;

    /// Of each route that separates pictures into plates.
    [[nodiscard]] std::vector<SeparationNote> separations() const;

    /// Bytes a pixel that are painted at once.
    [[nodiscard]] int channels() const;
    /// Rows that are painted at once: bands of a multiple of it paint nothing twice.
    [[nodiscard]] static int strip_rows(Edges edges);

    /// Paints \p rect; what lies outside the page is bare. TooLarge, CannotRead. Stops with Cancelled when
    /// \p control asks, and with TooLarge when a strip takes over a minute.
    [[nodiscard]] Outcome<PlateTile> paint(PixelRect rect, Dpi resolution, Edges edges,
                                           const JobControl &control) const;

    /// The same as runs; \p rect lies within the page.
    [[nodiscard]] Outcome<PlateRuns> paint_runs(PixelRect rect, Dpi resolution, Edges edges,
                                                const JobControl &control) const;

    /// The page as shapes and pictures on its plates but for those that are \p computed, by number.
    /// \return CannotRead when an object fails; TooLarge for more inks than can be painted at once, or when
    /// it takes too long; Cancelled
    [[nodiscard]] Outcome<VectorPage> vector_page(const std::function<bool(std::size_t)> &computed,
                                                  const JobControl &control) const;

    /// The artwork area of the page, points from its top left, y down, as exact polygons: curves as chords
    /// within 0.001 points. None when something it paints is no flat opaque shape, or a route leaves a place
    /// to the bare stock. Errors as vector_page().
    [[nodiscard]] Outcome<std::optional<Polygons>> area_shapes(const JobControl &control) const;

private:
    struct Impl;
    [[nodiscard]] Outcome<PlateTile> paint_own(PixelRect rect, Dpi resolution, Edges edges,
                                               const JobControl &control) const;
    explicit PagePainter(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

/// The setup's inks, and what is lost when that is asked for.
[[nodiscard]] std::vector<std::string> inks_of(const PlateSetup &setup);

} // namespace bichrom
