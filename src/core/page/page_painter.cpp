#include "core/page/page_painter.h"

#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/notes.h"
#include "core/artwork/mupdf/own_device.h"
#include "core/artwork/mupdf/page_content_impl.h"
#include "core/artwork/scene.h"
#include "core/base/pixel_rect.h"
#include "core/page/crisp_device.h"
#include "core/page/draw_guard.h"
#include "core/page/made_bleed.h"
#include "core/page/pixel_row.h"
#include "core/page/plate_route.h"
#include "core/page/routed_list.h"
#include "core/page/runs/run_painter.h"
#include "core/page/shape_device.h"
#include "core/page/vector_device.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>

namespace bichrom {

namespace {

constexpr double strip_seconds = 60.0;
constexpr std::int64_t most_bytes_at_once = std::int64_t(1) << 30;

/// \p rect grown to whole strips and by a rim at the sides, within the page where it was.
PixelRect with_rim(const PixelRect &rect, const PixelRect &page, int strip)
{
    constexpr int rim = 2;
    const int left = rect.x > 0 ? rim : 0;
    const int right = rect.x + rect.width < page.width ? rim : 0;
    const int top = rect.y >= 0 ? rect.y / strip * strip : rect.y;
    int bottom = rect.y + rect.height;
    if (bottom < page.height) {
        bottom = std::min(page.height, (bottom + strip - 1) / strip * strip);
    }
    return {rect.x - left, top, rect.width + left + right, bottom - top};
}

/// Interleaved plate values of one rectangle, kept between calls to save allocations.
struct PlatePixels
{
    PixelRect rect;
    int channels = 0;                ///< bytes a pixel: one a plate of the pass, and the artwork area
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

/// The page as pixels.
struct Grid
{
    PixelRect page;
    Dpi resolution{300};
};

/// The same page in pixels \p times smaller each way.
Grid finer(const Grid &grid, int times)
{
    return {{0, 0, grid.page.width * times, grid.page.height * times}, Dpi(grid.resolution.value * times)};
}

/// Runs averaged into a pixel, each way; 0 where edges are never made so.
int samples_of(Edges edges)
{
    return edges == Edges::Quick ? 2 : edges == Edges::Seen ? 4 : 0;
}

/// Gives each of \p separations its own plane.
///
/// When how one is painted changes, MuPDF empties the store of the context, whatever other threads have just
/// found there: fz_find_item looks at an item once more after it let go of the lock. So a context does it
/// that stores nothing.
void paint_as_spots(fz_context *ctx, fz_separations *separations)
{
    fz_context *apart = fz_new_context(&ctx->alloc, &ctx->locks, FZ_STORE_UNLIMITED);
    if (apart == nullptr) {
        fz_throw(ctx, FZ_ERROR_MEMORY, "no memory for separations");
    }
    for (int i = 0; i < fz_count_separations(ctx, separations); ++i) {
        fz_set_separation_behavior(apart, separations, i, FZ_SEPARATION_SPOT);
    }
    fz_drop_context(apart);
}

/// The inks that are painted together, and the page routed to their planes.
struct Pass
{
    std::vector<int> plates;         ///< index into the setup's inks
    std::vector<int> planes;         ///< the plane of each
    std::vector<std::string> spots;  ///< in the order of their planes
    int planes_in_all = base_planes; ///< what MuPDF paints: the base planes and its separations
    fz_display_list *list = nullptr; ///< kept
    fz_separations *separations = nullptr;
};

} // namespace

struct PagePainter::Impl
{
    std::shared_ptr<const PageContent> page;
    PlateSetup setup;
    std::vector<std::string> inks; ///< the setup's, and what is lost
    bool process = true;           ///< the base planes hold process ink
    bool many_objects = false;     ///< so many that runs are quicker than pixels, averages of them too
    std::vector<Pass> passes;
    PictureTables tables;
    std::vector<ObjectOverprint> wishes; ///< by object of the scene; empty = as the file says

    /// A pass at a resolution as runs, made when it is first asked for.
    struct SceneSlot
    {
        std::size_t pass = 0;
        Grid grid;
        std::shared_ptr<const RunScene> scene;
        double slow = 0; ///< pixels that are better painted at the size that is asked for than averaged
    };
    static constexpr std::size_t most_scenes = 8; ///< kept, the last ones used
    mutable std::mutex scene_guard;
    mutable std::vector<SceneSlot> scenes;

    ~Impl()
    {
        const auto lease = page->impl().runtime->lease();
        for (Pass &pass : passes) {
            fz_drop_display_list(lease.ctx(), pass.list);
            fz_drop_separations(lease.ctx(), pass.separations);
        }
    }

    /// Plays a pass to a device of another kind. \param make  gives the device
    /// \return whether the device saw the whole page: MuPDF switches one off that fails
    template <typename Make>
    Outcome<bool> run_list(const Pass &pass, Make make, fz_context *ctx, const JobControl &control) const
    {
        constexpr double most_seconds = 120;
        CookieWatch watch(control, most_seconds);
        bool whole = true;
        const Done done = guarded(ctx, page->impl().place,
                                  [&] { whole = run_and_drop(ctx, pass.list, make(ctx), watch.cookie()); });
        if (const Done verdict = watch.verdict(page->impl().place); !verdict) {
            return verdict.error();
        }
        if (!done) {
            return done.error();
        }
        return whole;
    }

    /// The same for what is written of the page; what went wrong is damage.
    template <typename Make> Done write_list(const Pass &pass, Make make, const JobControl &control) const
    {
        const auto lease = page->impl().runtime->lease();
        NoteScope notes(lease.ctx());
        const auto whole = run_list(pass, make, lease.ctx(), control);
        if (!whole) {
            return whole.error();
        }
        if (!*whole) {
            notes.add("what follows cannot be written: the rest of the page is missing");
        }
        (void)notes.sort_into(page->impl().damage);
        return {};
    }

    [[nodiscard]] Done write_pass(const Pass &painted, VectorPage &out,
                                  const std::map<std::string, int, std::less<>> &plates,
                                  const std::vector<int> &together, const JobControl &control) const;
    [[nodiscard]] Grid grid_of(Dpi resolution) const;
    [[nodiscard]] Outcome<SceneSlot> slot_of(std::size_t pass, const Grid &grid,
                                             const JobControl &control) const;
    [[nodiscard]] Outcome<PlateRuns> crisp_runs(const PixelRect &rect, const Grid &grid,
                                                const JobControl &control) const;
    [[nodiscard]] Outcome<PlateTile> averaged_runs(const PixelRect &rect, const Grid &fine, int closer,
                                                   const JobControl &control) const;
    [[nodiscard]] Outcome<PixelPart> crisp_part(const Pass &pass, const PixelRect &rect, bool area,
                                                const Grid &grid, const JobControl &control) const;
    [[nodiscard]] Done paint_pass(const Pass &pass, PixelRect rect, const Grid &grid, Edges edges,
                                  PlatePixels &out, const JobControl &control) const;

    void plan_passes(const std::vector<bool> &wanted)
    {
        passes.emplace_back();
        const int reserved = process ? base_planes : 0;
        // A plate that only its recipe fills needs no plane: what the artwork puts there still knocks out.
        for (std::size_t i = 0; i < inks.size(); ++i) {
            if (const int plane = process_index(inks[i]); plane >= 0 && process) {
                passes.front().plates.push_back(static_cast<int>(i));
                passes.front().planes.push_back(plane);
            }
        }
        for (std::size_t i = 0; i < inks.size(); ++i) {
            if (process_index(inks[i]) >= 0 || !wanted[i]) {
                continue;
            }
            if (reserved + static_cast<int>(passes.back().spots.size()) == most_planes) {
                passes.emplace_back();
            }
            Pass &pass = passes.back();
            pass.plates.push_back(static_cast<int>(i));
            pass.planes.push_back(reserved + static_cast<int>(pass.spots.size()));
            pass.spots.push_back(inks[i]);
        }
        for (Pass &pass : passes) {
            pass.planes_in_all = std::max(base_planes, reserved + static_cast<int>(pass.spots.size()));
        }
    }

    Done route(Pass &pass, fz_context *ctx, const JobControl &control,
               RoutedFor use = RoutedFor::Painting) const
    {
        const PageContent::Impl &content = page->impl();
        const Done separated = guarded(ctx, content.place, [&] {
            pass.separations = fz_new_separations(ctx, 0);
            for (int plane = base_planes; plane < pass.planes_in_all; ++plane) {
                fz_add_separation(ctx, pass.separations, plane_name(plane).c_str(), fz_device_cmyk(ctx), 0);
            }
            paint_as_spots(ctx, pass.separations);
        });
        if (!separated) {
            return separated;
        }
        PlateRoute route(setup, pass.spots, process, tables, wishes, *page->impl().colours,
                         page->impl().memory, page->impl().runtime, control);
        const auto list = route_page(ctx, content, route, control, use);
        route.release(ctx);
        if (!list) {
            return list.error();
        }
        pass.list = *list;
        return {};
    }
};

/// Adds what a pass paints on \p plates, by plane, to \p out.
Done PagePainter::Impl::write_pass(const Pass &painted, VectorPage &out,
                                   const std::map<std::string, int, std::less<>> &plates,
                                   const std::vector<int> &together, const JobControl &control) const
{
    Pass pass; // routed once more: text stays text, and pictures know the file they are
    pass.plates = painted.plates;
    pass.planes = painted.planes;
    pass.spots = painted.spots;
    pass.planes_in_all = painted.planes_in_all;
    Done done = route(pass, page->impl().runtime->lease().ctx(), control, RoutedFor::Writing);
    if (done) {
        done = write_list(
            pass,
            [&](fz_context *ctx) {
                return new_vector_device(
                    ctx, out,
                    [&](const char *plane) {
                        const auto at = plates.find(plane);
                        return at == plates.end() ? -1 : at->second;
                    },
                    together);
            },
            control);
    }
    const auto lease = page->impl().runtime->lease();
    fz_drop_display_list(lease.ctx(), pass.list);
    fz_drop_separations(lease.ctx(), pass.separations);
    return done;
}

std::vector<std::string> inks_of(const PlateSetup &setup)
{
    std::vector<std::string> inks = setup.inks;
    if (setup.lost != Lost::Dropped) {
        inks.emplace_back(lost_ink);
    }
    return inks;
}

PagePainter::PagePainter(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
PagePainter::~PagePainter() = default;

Outcome<std::unique_ptr<const PagePainter>> PagePainter::make(std::shared_ptr<const PageContent> page,
                                                              PlateSetup setup, const Scene &scene,
                                                              const std::vector<bool> &wanted,
                                                              const JobControl &control)
{
    auto impl = std::make_unique<Impl>();
    impl->page = std::move(page);
    impl->setup = std::move(setup);
    impl->inks = inks_of(impl->setup);
    // Without process ink its planes can carry spots, which saves a third of the work. Hue and
    // its kin treat the base planes as process colours, so they keep them.
    impl->process = scene.uses_nonseparable_blend ||
                    std::any_of(scene.inks.begin(), scene.inks.end(),
                                [](const FoundInk &ink) { return ink.kind == InkKind::Process; }) ||
                    std::any_of(impl->inks.begin(), impl->inks.end(),
                                [](const std::string &ink) { return process_index(ink) >= 0; });
    constexpr std::size_t many = 2000;
    impl->many_objects = scene.objects.size() >= many;
    for (const int artwork : impl->setup.silent) {
        Route nothing;
        nothing.by = RouteBy::Objects;
        nothing.artwork = artwork;
        nothing.to = RouteTo::Nothing;
        for (const SceneObject &object : scene.objects) {
            if (object.artwork == artwork) {
                nothing.objects.push_back({impl->setup.page, object.own_index, object.kind, {}});
            }
        }
        impl->setup.routes.insert(impl->setup.routes.begin(), std::move(nothing));
    }
    if (!impl->setup.overprinting.empty()) {
        impl->wishes = overprint_of(scene, impl->setup.overprinting, impl->setup.routes, impl->setup.plates,
                                    impl->setup.page);
    }
    impl->plan_passes(wanted);
    auto tables = picture_tables(impl->setup, impl->page->impl().colours->condition(),
                                 impl->page->impl().memory, *impl->page->impl().shared_memory, control);
    if (!tables) {
        return tables.error();
    }
    impl->tables = std::move(*tables);
    const PageContent::Impl &content = impl->page->impl();
    const auto lease = content.runtime->lease();
    for (Pass &pass : impl->passes) {
        if (const Done done = impl->route(pass, lease.ctx(), control); !done) {
            return done.error();
        }
    }
    return std::unique_ptr<const PagePainter>(new PagePainter(std::move(impl)));
}

std::vector<SeparationNote> PagePainter::separations() const
{
    std::vector<SeparationNote> notes;
    for (const auto &[route, table] : m_impl->tables) {
        if (!table.note.inks.empty()) {
            notes.push_back(table.note);
        }
    }
    return notes;
}

int PagePainter::channels() const
{
    return m_impl->passes.front().planes_in_all + 1;
}

// MuPDF cuts outlines at the border of what it paints, with rounding that reaches into the picture; always
// cutting at the same heights keeps every band the same.
int PagePainter::strip_rows(Edges edges)
{
    return edges == Edges::Crisp ? 64 : 256;
}

Grid PagePainter::Impl::grid_of(Dpi resolution) const
{
    const auto pixels = [&](Points length) {
        return std::max(1, static_cast<int>(std::lround(length.value * resolution.value / points_per_inch)));
    };
    return {{0, 0, pixels(page->width()), pixels(page->height())}, resolution};
}

PixelRect PagePainter::extent(Dpi resolution) const
{
    return m_impl->grid_of(resolution).page;
}

/// What the artwork and its routes make on the plates of \p pass.
Done PagePainter::Impl::paint_pass(const Pass &pass, PixelRect rect, const Grid &grid, Edges edges,
                                   PlatePixels &out, const JobControl &control) const
{
    const PageContent::Impl &content = page->impl();
    const int channels = pass.planes_in_all + 1;
    const PixelRect &whole = grid.page;
    const PixelRect stored = with_rim(rect, whole, strip_rows(edges));
    const std::int64_t bytes = std::int64_t(stored.width) * stored.height * channels;
    if (rect.empty() || bytes > most_bytes_at_once) {
        return Error{ErrorCode::TooLarge, "The part to render is empty or too large.", content.place,
                     "Use a lower resolution."};
    }
    out.rect = rect;
    out.stored = stored;
    out.channels = channels;
    out.bytes.assign(static_cast<std::size_t>(bytes), 0);

    const auto lease = content.runtime->lease();
    fz_context *ctx = lease.ctx();
    const auto scale = static_cast<float>(grid.resolution.value / points_per_inch);
    const std::size_t row_bytes = static_cast<std::size_t>(stored.width) * static_cast<std::size_t>(channels);
    const int strip = strip_rows(edges);
    for (int top = stored.y; top < stored.y + stored.height;) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", content.place, {}};
        }
        const int next = std::min(stored.y + stored.height, top >= 0 ? (top / strip + 1) * strip : 0);
        const fz_irect box = {stored.x, top, stored.x + stored.width, next};
        std::uint8_t *pixels = out.bytes.data() + row_bytes * static_cast<std::size_t>(top - stored.y);
        CookieWatch watch(control, strip_seconds);
        std::optional<CrispScope> crisp;
        if (edges == Edges::Crisp) {
            crisp.emplace(whole, PixelRect{box.x0, box.y0, box.x1 - box.x0, box.y1 - box.y0});
        }
        NoteScope notes(ctx);
        notes.within(fz_transform_rect(fz_rect_from_irect(box), fz_scale(1 / scale, 1 / scale)));
        bool broken = false;
        const Done done = guarded(ctx, content.place, [&] {
            fz_pixmap *pixmap = nullptr;
            fz_pixmap *on_page = nullptr;
            fz_device *device = nullptr;
            fz_var(pixmap);
            fz_var(on_page);
            fz_var(device);
            fz_try(ctx)
            {
                fz_set_graphics_aa_level(ctx, edges == Edges::Quick ? 2 : 8);
                fz_set_graphics_min_line_width(ctx, 0.0f);
                fz_set_text_aa_level(ctx, 8);
                const fz_irect clip = fz_intersect_irect(box, fz_irect{0, 0, whole.width, whole.height});
                pixmap = fz_new_pixmap_with_bbox_and_data(ctx, fz_device_cmyk(ctx), box, pass.separations, 1,
                                                          pixels);
                // Not a device with a box of its own: where pictures need a group it copies that back into
                // the whole pixmap, beyond the group.
                on_page = fz_is_empty_irect(clip) ? fz_keep_pixmap(ctx, pixmap)
                                                  : fz_new_pixmap_from_pixmap(ctx, pixmap, &clip);
                if (on_page != pixmap) { // MuPDF 1.21 counts columns as bytes there
                    on_page->samples = pixmap->samples + std::ptrdiff_t(clip.x0 - box.x0) * pixmap->n +
                                       (clip.y0 - box.y0) * pixmap->stride;
                }
                device = fz_new_draw_device(ctx, fz_identity, on_page);
                guard_draw_device(device, box);
                if (edges == Edges::Crisp) {
                    make_crisp(device);
                    fz_enable_device_hints(ctx, device, FZ_DONT_INTERPOLATE_IMAGES);
                }
                make_tones_exact(device, edges == Edges::Crisp);
                if (!fz_is_empty_irect(clip)) {
                    fz_run_display_list(ctx, pass.list, device, fz_scale(scale, scale),
                                        fz_rect_from_irect(clip), watch.cookie());
                }
                broken = device->fill_path == nullptr;
                fz_close_device(ctx, device);
            }
            fz_always(ctx)
            {
                fz_drop_device(ctx, device);
                fz_drop_pixmap(ctx, on_page);
                fz_drop_pixmap(ctx, pixmap);
            }
            fz_catch(ctx)
            {
                fz_rethrow(ctx);
            }
        });
        if (const Done verdict = watch.verdict(content.place); !verdict) {
            return verdict;
        }
        if (!done) {
            return done;
        }
        if (broken) {
            notes.add("what follows cannot be painted here");
        }
        (void)notes.sort_into(content.damage);
        top = next;
    }
    return {};
}

Outcome<std::optional<Polygons>> PagePainter::area_shapes(const JobControl &control) const
{
    const bool bare = std::any_of(m_impl->setup.routes.begin(), m_impl->setup.routes.end(), leaves_bare);
    if (bare || m_impl->page->impl().made_bleed) {
        return std::optional<Polygons>();
    }
    PaintedShapes painted;
    const Done done = m_impl->write_list(
        m_impl->passes.front(), [&](fz_context *ctx) { return new_shape_device(ctx, painted); }, control);
    if (!done) {
        return done.error();
    }
    if (!painted.exact) {
        return std::optional<Polygons>();
    }
    Polygons all; // each is free of crossings, so that a point lies in some of them where it is wound around
    for (const Polygons &shapes : painted.shapes) {
        all.insert(all.end(), shapes.begin(), shapes.end());
    }
    const double wide = m_impl->page->width().value;
    const double high = m_impl->page->height().value;
    return std::optional<Polygons>(
        intersected(simplified(all, FillRule::NonZero), {{{0, 0}, {wide, 0}, {wide, high}, {0, high}}}));
}

Outcome<VectorPage> PagePainter::vector_page(const std::function<bool(std::size_t)> &computed,
                                             const JobControl &control) const
{
    VectorPage page;
    page.width = m_impl->page->width().value;
    page.height = m_impl->page->height().value;
    for (const Pass &painted : m_impl->passes) {
        std::map<std::string, int, std::less<>> plates;
        std::vector<int> together;
        for (std::size_t i = 0; i < painted.plates.size(); ++i) {
            const int ink = painted.plates[i];
            if (!computed(static_cast<std::size_t>(ink))) {
                plates[plane_name(painted.planes[i])] = ink;
                together.push_back(ink);
            }
        }
        if (m_impl->passes.size() == 1) {
            together.clear();
        } else if (together.empty()) {
            continue;
        }
        if (const Done done = m_impl->write_pass(painted, page, plates, together, control); !done) {
            return done.error();
        }
    }
    if (m_impl->passes.size() > 1 && page.transparent) {
        return Error{ErrorCode::TooLarge,
                     "The page has more inks than transparency can be written for in a PDF of shapes.",
                     m_impl->page->impl().place,
                     "Write it flat or separated, write TIFF plates, or merge inks in the stage Ink."};
    }
    if (const auto &bleed = m_impl->page->impl().made_bleed) {
        add_bleed(page, *bleed);
    }
    return page;
}

Outcome<PlateTile> PagePainter::paint(PixelRect rect, Dpi resolution, Edges edges,
                                      const JobControl &control) const
{
    const auto &bleed = m_impl->page->impl().made_bleed;
    if (!bleed) {
        return paint_own(rect, resolution, edges, control);
    }
    const BleedMap map(*bleed, resolution, edges);
    if (map.leaves(rect)) {
        return paint_own(rect, resolution, edges, control);
    }
    const PixelRect inside = intersection(rect, extent(resolution)); // beside the page all is bare
    if (inside.empty()) {
        return paint_own(rect, resolution, edges, control);
    }
    auto own = paint_own(map.source(inside), resolution, edges, control);
    if (!own) {
        return own.error();
    }
    PlateTile made = map.bled(*own, inside);
    return inside == rect ? std::move(made) : each_plane(made, rect, [&](const Plane &plane) {
        Plane whole(rect.width, rect.height);
        for (int y = 0; y < inside.height; ++y) {
            const auto row = plane.row(y);
            std::copy(row.begin(), row.end(), whole.row(inside.y - rect.y + y).begin() + (inside.x - rect.x));
        }
        return whole;
    });
}

/// Without made bleed.
Outcome<PlateTile> PagePainter::paint_own(PixelRect rect, Dpi resolution, Edges edges,
                                          const JobControl &control) const
{
    const PixelRect page = extent(resolution);
    const int left = std::max(rect.x, 0);
    const int top = std::max(rect.y, 0);
    const PixelRect inner = {left, top, std::min(rect.x + rect.width, page.width) - left,
                             std::min(rect.y + rect.height, page.height) - top};
    if (inner.width < rect.width || inner.height < rect.height) { // nothing is painted beside the page
        PlateTile tile;
        tile.rect = rect;
        tile.plates.assign(m_impl->inks.size(), Plane(rect.width, rect.height));
        tile.area = Plane(rect.width, rect.height);
        if (inner.empty()) {
            return tile;
        }
        const auto part = paint_own(inner, resolution, edges, control);
        if (!part) {
            return part.error();
        }
        const auto put = [&](const Plane &from, Plane &to) {
            for (int y = 0; y < inner.height; ++y) {
                const auto row = from.row(y);
                std::copy(row.begin(), row.end(), to.row(inner.y - rect.y + y).begin() + (inner.x - rect.x));
            }
        };
        for (std::size_t i = 0; i < part->plates.size(); ++i) {
            put(part->plates[i], tile.plates[i]);
        }
        put(part->area, tile.area);
        return tile;
    }
    const Grid grid = m_impl->grid_of(resolution);
    const auto averages = averages_runs(resolution, edges, control);
    if (!averages) {
        return averages.error();
    }
    if (*averages) {
        return m_impl->averaged_runs(rect, finer(grid, samples_of(edges)), samples_of(edges), control);
    }
    if (edges == Edges::Crisp) {
        const auto runs = m_impl->crisp_runs(rect, grid, control);
        if (!runs) {
            return runs.error();
        }
        PlateTile made;
        made.rect = rect;
        for (const RunPlane &plate : runs->plates) {
            made.plates.push_back(plate.plane());
        }
        made.area = runs->area.plane();
        return made;
    }
    PlateTile tile;
    tile.rect = rect;
    tile.plates.assign(m_impl->inks.size(), Plane(rect.width, rect.height));
    tile.area = Plane(rect.width, rect.height);
    PlatePixels pixels;
    PixelRow row;
    // Strip by strip, so that the interleaved pixels of all plates stay few and near the processor.
    const int strip = strip_rows(edges);
    for (int y = rect.y; y < rect.y + rect.height;) {
        const int next = std::min(rect.y + rect.height, (y / strip + 1) * strip);
        for (const Pass &pass : m_impl->passes) {
            const PixelRect part = {rect.x, y, rect.width, next - y};
            if (const Done done = m_impl->paint_pass(pass, part, grid, edges, pixels, control); !done) {
                return done.error();
            }
            for (int line = 0; line < part.height; ++line) {
                row.look(pixels.row(line), part.width, pixels.channels);
                const int to = y - rect.y + line;
                for (std::size_t i = 0; i < pass.plates.size(); ++i) {
                    Plane &plane = tile.plates[static_cast<std::size_t>(pass.plates[i])];
                    (void)row.take(pass.planes[i], plane.row(to).data());
                }
                if (&pass == &m_impl->passes.front()) {
                    (void)row.take(pixels.channels - 1, tile.area.row(to).data());
                }
            }
        }
        y = next;
    }
    return tile;
}

Outcome<PagePainter::Impl::SceneSlot> PagePainter::Impl::slot_of(std::size_t number, const Grid &grid,
                                                                 const JobControl &control) const
{
    // Others wait here: they need the same.
    const std::lock_guard lock(scene_guard);
    const auto found = std::find_if(scenes.begin(), scenes.end(), [&](const SceneSlot &slot) {
        return slot.pass == number && slot.grid.resolution.value == grid.resolution.value &&
               slot.grid.page == grid.page;
    });
    if (found != scenes.end()) {
        std::rotate(scenes.begin(), found, found + 1);
        return scenes.front();
    }
    const Pass &pass = passes[number];
    auto scene = std::make_shared<RunScene>(grid.page.width, grid.page.height);
    std::vector<std::string> names;
    for (int plane = 0; plane < pass.planes_in_all; ++plane) {
        names.push_back(plane_name(plane));
    }
    const auto scale = static_cast<float>(grid.resolution.value / points_per_inch);
    const auto lease = page->impl().runtime->lease();
    const NoteScope unheard(lease.ctx()); // what is wrong the painter of pixels says
    const auto whole = run_list(
        pass,
        [&](fz_context *ctx) {
            return new_run_device(ctx, *scene, fz_scale(scale, scale), names, page->impl().runtime);
        },
        lease.ctx(), control);
    if (!whole && whole.error().code == ErrorCode::Cancelled) {
        return whole.error();
    }
    if (!whole || !*whole || scene->pixels_only) {
        scene = std::make_shared<RunScene>(grid.page.width, grid.page.height);
        scene->pixels_only = true;
        scene->pixel_boxes.push_back(grid.page);
    }
    double slow = 0;
    for (const PixelRect &box : scene->pixel_boxes) {
        slow += double(box.width) * box.height;
    }
    for (const RunObject &object : scene->objects) {
        if (object.masked >= 0 || scene->paints[static_cast<std::size_t>(object.paint)].sampler >= 0) {
            slow += double(object.box.width) * object.box.height;
        }
    }
    scenes.insert(scenes.begin(), {number, grid, std::move(scene), slow});
    scenes.resize(std::min(scenes.size(), std::max(most_scenes, passes.size())));
    return scenes.front();
}

/// \p rect painted pixel by pixel, its plates and, when asked for, the artwork area behind them.
Outcome<PixelPart> PagePainter::Impl::crisp_part(const Pass &pass, const PixelRect &rect, bool area,
                                                 const Grid &grid, const JobControl &control) const
{
    PlatePixels pixels;
    if (const Done done = paint_pass(pass, rect, grid, Edges::Crisp, pixels, control); !done) {
        return done.error();
    }
    PixelRow row;
    std::vector<int> channels = pass.planes;
    if (area) {
        channels.push_back(pixels.channels - 1);
    }
    std::vector<Plane> planes(channels.size(), Plane(rect.width, rect.height));
    for (int y = 0; y < rect.height; ++y) {
        row.look(pixels.row(y), rect.width, pixels.channels);
        for (std::size_t i = 0; i < channels.size(); ++i) {
            (void)row.take(channels[i], planes[i].row(y).data());
        }
    }
    PixelPart part{rect, {}};
    for (Plane &plane : planes) {
        part.planes.push_back(std::make_shared<const RunPlane>(std::move(plane)));
    }
    return part;
}

Outcome<PlateRuns> PagePainter::Impl::crisp_runs(const PixelRect &rect, const Grid &grid,
                                                 const JobControl &control) const
{
    PlateRuns runs;
    runs.rect = rect;
    runs.plates.assign(inks.size(), RunPlane(rect.width, rect.height));
    for (std::size_t number = 0; number < passes.size(); ++number) {
        const Pass &pass = passes[number];
        const bool area = number == 0;
        const auto slot = slot_of(number, grid, control);
        if (!slot) {
            return slot.error();
        }
        const RunScene &scene = *slot->scene;
        std::vector<PixelPart> parts;
        const int strip = strip_rows(Edges::Crisp);
        for (int top = rect.y / strip * strip; top < rect.y + rect.height; top += strip) {
            const int first = std::max(top, rect.y);
            const int last = std::min(top + strip, rect.y + rect.height);
            for (const InkSpan &columns : pixel_columns(scene, top, top + strip)) {
                const int begin = std::max(columns.begin, rect.x);
                const int end = std::min(columns.end, rect.x + rect.width);
                if (begin < end) {
                    auto part =
                        crisp_part(pass, {begin, first, end - begin, last - first}, area, grid, control);
                    if (!part) {
                        return part.error();
                    }
                    parts.push_back(std::move(*part));
                }
            }
        }
        std::vector<int> planes = pass.planes;
        if (area) {
            planes.push_back(-1);
        }
        std::vector<RunPlane> made = paint_rows(scene, rect, planes, parts, control);
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", page->impl().place, {}};
        }
        for (std::size_t i = 0; i < pass.plates.size(); ++i) {
            runs.plates[static_cast<std::size_t>(pass.plates[i])] = std::move(made[i]);
        }
        if (area) {
            runs.area = std::move(made.back());
        }
    }
    return runs;
}

Outcome<bool> PagePainter::averages_runs(Dpi resolution, Edges edges, const JobControl &control) const
{
    constexpr double most_pixels = 200e6; // of the page; of a nearer view little is seen, and painted
    constexpr double most_slow = 0.1;     // of the page
    if (!m_impl->many_objects || samples_of(edges) == 0) {
        return false;
    }
    const Grid fine = finer(m_impl->grid_of(resolution), samples_of(edges));
    const double pixels = double(fine.page.width) * fine.page.height;
    double slow = 0;
    for (std::size_t number = 0; number < m_impl->passes.size() && pixels <= most_pixels; ++number) {
        const auto slot = m_impl->slot_of(number, fine, control);
        if (!slot) {
            return slot.error();
        }
        slow += slot->slow;
    }
    return pixels <= most_pixels && slow <= most_slow * pixels;
}

/// \p rect, of pixels \p closer times as wide and high as those of \p fine, which are averaged.
Outcome<PlateTile> PagePainter::Impl::averaged_runs(const PixelRect &rect, const Grid &fine, int closer,
                                                    const JobControl &control) const
{
    PlateTile tile;
    tile.rect = rect;
    tile.plates.assign(inks.size(), Plane(rect.width, rect.height));
    tile.area = Plane(rect.width, rect.height);
    const int strip = strip_rows(Edges::Crisp) / closer;
    for (int y = rect.y; y < rect.y + rect.height;) {
        const int next = std::min(rect.y + rect.height, (y / strip + 1) * strip);
        const PixelRect part = {rect.x * closer, y * closer, rect.width * closer, (next - y) * closer};
        const auto runs = crisp_runs(part, fine, control);
        if (!runs) {
            return runs.error();
        }
        for (std::size_t i = 0; i < inks.size(); ++i) {
            runs->plates[i].average(closer, tile.plates[i], y - rect.y);
        }
        runs->area.average(closer, tile.area, y - rect.y);
        y = next;
    }
    return tile;
}

Outcome<PlateRuns> PagePainter::paint_runs(PixelRect rect, Dpi resolution, Edges edges,
                                           const JobControl &control) const
{
    if (edges == Edges::Crisp) {
        const Grid grid = m_impl->grid_of(resolution);
        const auto &bleed = m_impl->page->impl().made_bleed;
        const std::optional<BleedMap> map =
            bleed ? std::optional(BleedMap(*bleed, resolution, edges)) : std::nullopt;
        if (!map || map->leaves(rect)) {
            return m_impl->crisp_runs(rect, grid, control);
        }
        auto own = m_impl->crisp_runs(map->source(rect), grid, control);
        return own ? map->bled(std::move(*own), rect) : std::move(own);
    }
    auto tile = paint(rect, resolution, edges, control);
    if (!tile) {
        return tile.error();
    }
    PlateRuns runs;
    runs.rect = rect;
    for (Plane &plane : tile->plates) {
        runs.plates.emplace_back(std::move(plane));
    }
    runs.area = RunPlane(std::move(tile->area));
    return runs;
}

} // namespace bichrom
