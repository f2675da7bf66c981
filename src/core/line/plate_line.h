/// \file
/// The one way from a job to its plates: any part of a page at any resolution, or all of it in bands.
/// Layer: core/line. May use core/page, core/raster, core/base.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/job/trap_rules.h"
#include "core/line/trap_rows.h"
#include "core/page/page_painter.h"
#include "core/page/plate_setup.h"
#include "core/page/plate_tile.h"
#include "core/raster/bands.h"
#include "core/raster/polygons.h"

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace bichrom {

struct VectorPage;

/// Where bands of plates go.
struct PlateSink
{
    /// Called from several threads at once. The plates are those of the band's rows that lie on the page, or
    /// from its first copy to its last, what is between them bare: rect.height is 0 beside them. Rows that
    /// lead to the band, where they are asked for, come first.
    std::function<Outcome<std::unique_ptr<BandResult>>(const Band &, const PlateRuns &)> compute;
    /// Called once a band from top to bottom, never twice at the same time.
    std::function<Done(const Band &, BandResult &)> take;
};

/// How a page runs through the line.
struct PlateRun
{
    Dpi resolution{300};
    Edges edges = Edges::Smooth;
    int above = 0;     ///< rows of the bands before the page's first
    int height = 0;    ///< rows of the bands in all
    int band_rows = 0; ///< best a multiple of 256
    int threads = 0;   ///< 0 = as many as the machine has
    int copies = 1;    ///< of the page, one below the other
    int pitch = 0;     ///< rows from the top of one copy to that of the next; at least the rows of one
    int lead = 0;      ///< rows above each band whose plates are given with it
    int first_row = 0; ///< of the page that is given; what sinks get counts from it
    int page_rows = 0; ///< given of the page from it on; 0 = all
};

/// A job's plates. Immutable; every function may be called from any thread.
///
/// Pixel (0, 0) has its top left corner at the page's top left; a pixel is 72/dpi
/// points wide. Values: 0 = bare, 255 = solid.
/// Plates of the setup that have a recipe are computed by it from the others; what the artwork puts on them
/// counts only as far as the recipe looks at it. Where plates meet they overlap as the setup says, but for
/// Edges::Quick, which looks for areas.
/// Any rows of a page, over its full width, are bit for bit those of the whole page, for any bands and
/// threads. Rectangles cut at the sides may differ from the whole by a few tones in antialiased edges that
/// cross the cut.
class PlateLine
{
public:
    /// Compiles \p setup: the page routed to its plates (and one more for what is lost when that is asked
    /// for), recipes in their order, what they look at.
    /// "Cyan", "Magenta", "Yellow" and "Black" are the process inks.
    /// \param before  a line of the same page, when there is one: where only what comes after painting
    /// differs
    ///                from it (recipes, traps), the page is not routed again, no picture is read again, and
    ///                what was last painted for the eye is used again
    /// CannotRead, TooLarge, Cancelled.
    [[nodiscard]] static Outcome<std::shared_ptr<const PlateLine>>
    make(std::shared_ptr<const PageContent> page, PlateSetup setup, const JobControl &control = {},
         const PlateLine *before = nullptr);

    /// The same without routes.
    [[nodiscard]] static Outcome<std::shared_ptr<const PlateLine>>
    make(std::shared_ptr<const PageContent> page, std::vector<std::string> inks,
         const JobControl &control = {}, Overprint overprint = Overprint::Honoured);

    ~PlateLine();
    PlateLine(const PlateLine &) = delete;
    PlateLine &operator=(const PlateLine &) = delete;

    [[nodiscard]] const std::vector<std::string> &inks() const;
    [[nodiscard]] const PageContent &page() const;
    [[nodiscard]] const std::shared_ptr<const PageContent> &share_page() const;

    /// As of PagePainter.
    [[nodiscard]] std::vector<SeparationNote> separations() const;

    /// Pixels of the whole page at \p resolution, rounded to the nearest.
    [[nodiscard]] PixelRect extent(Dpi resolution) const;
    /// A page box, mm from the page's top left; where the media box begins, for areas drawn.
    [[nodiscard]] Rect box(PageBox which) const;

    /// Rows that recipes look at above and below each part; 0 without recipes.
    [[nodiscard]] int rim(Dpi resolution) const;

    /// Rows of a band so that what is painted for it takes about \p bytes, a multiple of 64, at least 64.
    [[nodiscard]] int band_rows(int width, std::size_t bytes) const;

    /// All rows in bands. Rows that several bands look at are painted once.
    /// \return the first error of painting or of the sink; TooLarge when a strip takes over a minute;
    /// Cancelled when \p control asks
    [[nodiscard]] Done run(const PlateRun &how, const PlateSink &sink, const JobControl &control = {}) const;

    /// One rectangle, for the eye; what lies outside the page is bare. Errors as run().
    [[nodiscard]] Outcome<PlateTile> render(PixelRect rect, Dpi resolution, Edges edges = Edges::Smooth,
                                            const JobControl &control = {}) const;

    /// The whole page, on all processors. Errors as run().
    [[nodiscard]] Outcome<PlateTile> whole_page(Dpi resolution, Edges edges,
                                                const JobControl &control = {}) const;

    /// Where plates that meet are made to overlap, all over the page, crisp. Nothing when traps are off.
    /// \param rules     instead of the job's own, when given: what other traps would be; in the order of
    /// inks() \param back      pixels that they reach back into the ink they come from, for tracing \param
    /// only      of the edges between these two inks, by number, the lower first Errors as run().
    [[nodiscard]] Outcome<PageTraps> page_traps(Dpi resolution, const JobControl &control = {},
                                                const TrapRules *rules = nullptr,
                                                std::optional<std::pair<int, int>> only = {},
                                                int back = 0) const;

    /// The page as shapes and pictures on its plates, as the artwork and its routes make them: plates that
    /// have recipes are left out, though what would print on them still knocks out the others.
    /// \param kept  plates, by number, that are not left out for their recipes, which look at what the
    /// artwork
    ///              makes there
    /// Errors as PagePainter::vector_page().
    [[nodiscard]] Outcome<VectorPage> vector_page(const std::vector<int> &kept = {},
                                                  const JobControl &control = {}) const;

    /// Plate \p number, when a recipe computes it, as exact polygons on the page, points from its top left, y
    /// down; none where recipe or artwork have tones there, or only pixels say it. Errors as vector_page().
    [[nodiscard]] Outcome<std::optional<Polygons>> exact_shapes(int number,
                                                                const JobControl &control = {}) const;

private:
    struct Impl;
    explicit PlateLine(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
