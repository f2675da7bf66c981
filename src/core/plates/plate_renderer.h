/// \file
/// A page as plates, any part of it at any resolution.
/// Layer: core/plates. May use core/artwork, core/raster, core/base. MuPDF stays inside.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/plates/plate_setup.h"
#include "core/plates/vector_page.h"
#include "core/raster/plane.h"
#include "core/raster/polygons.h"

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// How the edges of shapes fall on pixels.
enum class Edges
{
    Smooth, ///< antialiased, 17 × 15 samples a pixel, for tones
    Quick,  ///< antialiased, 2 × 2 samples a pixel: for looking for areas, a third to a fifth of the work
    Crisp   ///< for films: no grey. Across, a pixel is inked when its centre is; down, rows touched
            ///< are inked but for a shape's last one, so sizes hold within a pixel. Lines are at
            ///< least one pixel wide; a picture's pixel fills all film pixels whose centres it covers
};

/// Interleaved plate values of one rectangle, kept between calls to save allocations.
struct PlatePixels
{
    PixelRect rect;
    int channels = 0;                ///< bytes a pixel: one a plate of the pass, and the artwork area
    std::vector<int> plates;         ///< the plates of this pass, by index into the renderer's inks
    std::vector<int> channel_of;     ///< where each of them stands in a pixel
    int area_channel = 0;            ///< where the artwork area stands in a pixel
    PixelRect stored;                ///< what bytes holds: rect and a rim around it
    std::vector<std::uint8_t> bytes; ///< rows of stored, top down without padding

    /// The first pixel of row \p y of rect; rect.width pixels follow each other.
    [[nodiscard]] const std::uint8_t *row(int y) const
    {
        const auto rows = static_cast<std::size_t>(rect.y - stored.y + y);
        const auto columns = static_cast<std::size_t>(rect.x - stored.x);
        return bytes.data() +
               (rows * static_cast<std::size_t>(stored.width) + columns) * static_cast<std::size_t>(channels);
    }
};

/// Plates of one rectangle as planes.
struct PlateTile
{
    PixelRect rect;
    std::vector<Plane> plates; ///< in the order of the renderer's inks
    Plane area;                ///< where anything paints at all, 0 to 255
};

/// \p tile with each of its planes, the artwork area too, \p changed to one of \p rect.
template <class Change>
[[nodiscard]] PlateTile each_plane(const PlateTile &tile, const PixelRect &rect, const Change &changed)
{
    PlateTile made;
    made.rect = rect;
    for (const Plane &plane : tile.plates) {
        made.plates.push_back(changed(plane));
    }
    made.area = changed(tile.area);
    return made;
}

/// Row \p y of \p rect, a part of \p tile, in one of its planes.
[[nodiscard]] std::span<const std::uint8_t> part_of_row(const PlateTile &tile, const Plane &plane,
                                                        const PixelRect &rect, int y);

/// Paints a page's plates. Immutable; every function may be called from any thread.
///
/// Pixel (0, 0) has its top left corner at the page's top left; a pixel is 72/dpi
/// points wide. Values: 0 = bare, 255 = solid.
/// Plates of the setup that have a recipe are computed by it from the others; what the artwork puts on them
/// counts only as far as the recipe looks at it.
/// Any rows of a page, over its full width, are bit for bit those of the whole page: strips
/// at fixed heights are painted and cut. Rectangles cut at the sides may differ from the
/// whole by a few tones in antialiased edges that cross the cut.
class PlateRenderer
{
public:
    /// Routes \p page to the plates of \p setup, and one more for what is lost when that is asked for.
    /// "Cyan", "Magenta", "Yellow" and "Black" are the process inks.
    /// CannotRead, TooLarge, Cancelled.
    [[nodiscard]] static Outcome<std::shared_ptr<const PlateRenderer>>
    make(std::shared_ptr<const PageContent> page, PlateSetup setup, const JobControl &control = {});

    /// The same without routes.
    [[nodiscard]] static Outcome<std::shared_ptr<const PlateRenderer>>
    make(std::shared_ptr<const PageContent> page, std::vector<std::string> inks,
         const JobControl &control = {}, Overprint overprint = Overprint::Honoured);

    ~PlateRenderer();
    PlateRenderer(const PlateRenderer &) = delete;
    PlateRenderer &operator=(const PlateRenderer &) = delete;

    [[nodiscard]] const std::vector<std::string> &inks() const;
    [[nodiscard]] const PageContent &page() const;
    [[nodiscard]] const std::shared_ptr<const PageContent> &share_page() const;

    /// Pixels of the whole page at \p resolution, rounded to the nearest.
    [[nodiscard]] PixelRect extent(Dpi resolution) const;

    /// More inks than fit beside each other (27 spots with process inks, 31 without) take several.
    [[nodiscard]] int passes() const;

    /// Rows that recipes need to be painted above and below each part; 0 without recipes.
    [[nodiscard]] int rim(Dpi resolution) const;

    /// Bytes a pixel in the widest pass.
    [[nodiscard]] int channels() const;

    /// Renders \p rect into \p out; what lies outside the page is bare. TooLarge, CannotRead.
    /// Stops with Cancelled when \p control asks, and with TooLarge when a strip takes over a minute.
    [[nodiscard]] Done render_pass(int pass, PixelRect rect, Dpi resolution, Edges edges, PlatePixels &out,
                                   const JobControl &control = {}) const;

    /// Renders all passes and takes the planes apart. Stops as render_pass().
    [[nodiscard]] Outcome<PlateTile> render(PixelRect rect, Dpi resolution, Edges edges = Edges::Smooth,
                                            const JobControl &control = {}) const;

    /// The same with a rim that far around it, where computed plates are not right: saves a copy when only
    /// \p rect is looked at. Stops as render_pass().
    [[nodiscard]] Outcome<PlateTile> render_wide(PixelRect rect, Dpi resolution, Edges edges,
                                                 const JobControl &control = {}) const;

    /// The page as shapes and pictures on its plates, as the artwork and its routes make them: plates that
    /// have recipes are left out, though what would print on them still knocks out the others. \return
    /// CannotRead when an object fails; TooLarge for more inks than can be painted at once, or when it takes
    /// too long; Cancelled
    [[nodiscard]] Outcome<VectorPage> vector_page(const JobControl &control = {}) const;

    /// The artwork area of the page, points from its top left, y down, as exact polygons: curves as chords
    /// within 0.001 points. None when something it paints is no flat opaque shape, or a route leaves a place
    /// to the bare stock. Errors as vector_page().
    [[nodiscard]] Outcome<std::optional<Polygons>> area_shapes(const JobControl &control = {}) const;
    /// A page box, mm from the page's top left; where the media box begins, for areas drawn.
    [[nodiscard]] Rect box(PageBox which) const;

private:
    struct Impl;
    /// What the artwork and its routes make, before recipes.
    [[nodiscard]] Done paint_pass(int pass, PixelRect rect, Dpi resolution, Edges edges, PlatePixels &out,
                                  const JobControl &control) const;
    [[nodiscard]] Outcome<PlateTile> paint(PixelRect rect, Dpi resolution, Edges edges,
                                           const JobControl &control) const;
    /// With recipes: paints a rim around the rectangle and cuts it off again.
    [[nodiscard]] Outcome<PlateTile> render_cut(PixelRect rect, Dpi resolution, Edges edges,
                                                const JobControl &control) const;
    explicit PlateRenderer(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
