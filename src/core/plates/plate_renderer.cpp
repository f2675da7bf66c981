#include "core/plates/plate_renderer.h"

#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/notes.h"
#include "core/artwork/mupdf/page_content_impl.h"
#include "core/artwork/scene.h"
#include "core/plates/computed_plates.h"
#include "core/plates/draw_guard.h"
#include "core/plates/pixel_row.h"
#include "core/plates/plate_route.h"
#include "core/plates/routed_list.h"
#include "core/plates/shape_device.h"
#include "core/plates/vector_device.h"
#include "core/plates/wide_bounds.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace bichrom {

namespace {

constexpr double strip_seconds = 60.0;
constexpr std::int64_t most_bytes_at_once = std::int64_t(1) << 30;

/// Rows painted at once. MuPDF cuts outlines at the border of what it paints, with rounding
/// that reaches into the picture; always cutting at the same heights keeps every band the same.
int strip_rows(Edges edges)
{
    return edges == Edges::Crisp ? 64 : 256;
}

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

/// The inks that are painted together, and the page routed to their planes.
struct Pass
{
    std::vector<int> plates;         ///< index into the renderer's inks
    std::vector<int> planes;         ///< the plane of each
    std::vector<std::string> spots;  ///< in the order of their planes
    int planes_in_all = base_planes; ///< what MuPDF paints: the base planes and its separations
    fz_display_list *list = nullptr; ///< kept
    fz_separations *separations = nullptr;
};

} // namespace

struct PlateRenderer::Impl
{
    std::shared_ptr<const PageContent> page;
    PlateSetup setup;
    std::vector<std::string> inks; ///< the setup's, and what is lost
    bool process = true;           ///< the base planes hold process ink
    std::vector<Pass> passes;
    PictureTables tables;
    ComputedPlates computed;

    ~Impl()
    {
        const auto lease = page->impl().runtime->lease();
        for (Pass &pass : passes) {
            fz_drop_display_list(lease.ctx(), pass.list);
            fz_drop_separations(lease.ctx(), pass.separations);
        }
    }

    /// Plays a pass to a device of another kind. \param make  gives the device
    template <typename Make> Done run_list(const Pass &pass, Make make, const JobControl &control) const
    {
        const PageContent::Impl &content = page->impl();
        const auto lease = content.runtime->lease();
        fz_context *ctx = lease.ctx();
        constexpr double most_seconds = 120;
        CookieWatch watch(control, most_seconds);
        NoteScope notes(ctx);
        bool broken = false;
        const Done done = guarded(ctx, content.place, [&] {
            fz_device *device = make(ctx);
            fz_try(ctx)
            {
                fz_run_display_list(ctx, pass.list, device, fz_identity, fz_infinite_rect, watch.cookie());
                broken = device->fill_path == nullptr;
                fz_close_device(ctx, device);
            }
            fz_always(ctx)
            {
                fz_drop_device(ctx, device);
            }
            fz_catch(ctx)
            {
                fz_rethrow(ctx);
            }
        });
        if (const Done verdict = watch.verdict(content.place); !verdict) {
            return verdict;
        }
        if (broken) {
            notes.add("what follows cannot be written: the rest of the page is missing");
        }
        (void)notes.sort_into(content.damage);
        return done;
    }

    void plan_passes()
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
            if (process_index(inks[i]) >= 0 || !computed.looks_at(i)) {
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

    Done route(Pass &pass, fz_context *ctx, const JobControl &control)
    {
        const PageContent::Impl &content = page->impl();
        const Done separated = guarded(ctx, content.place, [&] {
            pass.separations = fz_new_separations(ctx, 0);
            for (int plane = base_planes; plane < pass.planes_in_all; ++plane) {
                fz_add_separation(ctx, pass.separations, plane_name(plane).c_str(), fz_device_cmyk(ctx), 0);
                fz_set_separation_behavior(ctx, pass.separations, plane - base_planes, FZ_SEPARATION_SPOT);
            }
        });
        if (!separated) {
            return separated;
        }
        PlateRoute route(setup, pass.spots, process, tables, *page->impl().colours, page->impl().memory);
        const auto list = route_page(ctx, content, route, control);
        route.release(ctx);
        if (!list) {
            return list.error();
        }
        pass.list = *list;
        return {};
    }
};

std::span<const std::uint8_t> part_of_row(const PlateTile &tile, const Plane &plane, const PixelRect &rect,
                                          int y)
{
    return plane.row(rect.y - tile.rect.y + y)
        .subspan(static_cast<std::size_t>(rect.x - tile.rect.x), static_cast<std::size_t>(rect.width));
}

PlateRenderer::PlateRenderer(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
PlateRenderer::~PlateRenderer() = default;

Outcome<std::shared_ptr<const PlateRenderer>> PlateRenderer::make(std::shared_ptr<const PageContent> page,
                                                                  PlateSetup setup, const JobControl &control)
{
    auto impl = std::make_unique<Impl>();
    impl->page = std::move(page);
    impl->setup = std::move(setup);
    impl->inks = impl->setup.inks;
    if (impl->setup.lost != Lost::Dropped) {
        impl->inks.emplace_back(lost_ink);
    }
    // Without process ink its planes can carry spots, which saves a third of the work. Hue and
    // its kin treat the base planes as process colours, so they keep them.
    const auto scene = record_scene(*impl->page, control);
    if (!scene) {
        return scene.error();
    }
    impl->process = scene->uses_nonseparable_blend ||
                    std::any_of(scene->inks.begin(), scene->inks.end(),
                                [](const FoundInk &ink) { return ink.kind == InkKind::Process; }) ||
                    std::any_of(impl->inks.begin(), impl->inks.end(),
                                [](const std::string &ink) { return process_index(ink) >= 0; });
    for (const int artwork : impl->setup.silent) {
        Route nothing;
        nothing.by = RouteBy::Objects;
        nothing.artwork = artwork;
        nothing.to = RouteTo::Nothing;
        for (const SceneObject &object : scene->objects) {
            if (object.artwork == artwork) {
                nothing.objects.push_back({impl->setup.page, object.own_index, object.kind, {}});
            }
        }
        impl->setup.routes.insert(impl->setup.routes.begin(), std::move(nothing));
    }
    auto computed = ComputedPlates::make(impl->page, impl->setup, impl->inks, *scene, control);
    if (!computed) {
        return computed.error();
    }
    impl->computed = std::move(*computed);
    impl->plan_passes();
    auto tables = picture_tables(impl->setup, impl->page->impl().colours->condition(),
                                 impl->page->impl().memory, control);
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
    return std::shared_ptr<const PlateRenderer>(new PlateRenderer(std::move(impl)));
}

Outcome<std::shared_ptr<const PlateRenderer>> PlateRenderer::make(std::shared_ptr<const PageContent> page,
                                                                  std::vector<std::string> inks,
                                                                  const JobControl &control,
                                                                  Overprint overprint)
{
    return make(std::move(page), PlateSetup{std::move(inks), {}, 1, overprint}, control);
}

const std::vector<std::string> &PlateRenderer::inks() const
{
    return m_impl->inks;
}
const PageContent &PlateRenderer::page() const
{
    return *m_impl->page;
}
const std::shared_ptr<const PageContent> &PlateRenderer::share_page() const
{
    return m_impl->page;
}
int PlateRenderer::channels() const
{
    return m_impl->computed.empty() ? m_impl->passes.front().planes_in_all + 1
                                    : static_cast<int>(m_impl->inks.size()) + 1;
}

int PlateRenderer::rim(Dpi resolution) const
{
    constexpr int slack = 2; // for rounding and the pixel that holds an edge
    return m_impl->computed.empty() ? 0
                                    : static_cast<int>(std::ceil(m_impl->computed.reach() * resolution.value /
                                                                 millimetres_per_inch)) +
                                          slack;
}

int PlateRenderer::passes() const
{
    return m_impl->computed.empty() ? static_cast<int>(m_impl->passes.size()) : 1;
}

PixelRect PlateRenderer::extent(Dpi resolution) const
{
    const auto pixels = [&](Points length) {
        return std::max(1, static_cast<int>(std::lround(length.value * resolution.value / points_per_inch)));
    };
    return {0, 0, pixels(m_impl->page->width()), pixels(m_impl->page->height())};
}

Done PlateRenderer::render_pass(int pass, PixelRect rect, Dpi resolution, Edges edges, PlatePixels &out,
                                const JobControl &control) const
{
    if (m_impl->computed.empty()) {
        return paint_pass(pass, rect, resolution, edges, out, control);
    }
    const auto tile = render_wide(rect, resolution, edges, control);
    if (!tile) {
        return tile.error();
    }
    out.rect = out.stored = rect;
    out.channels = channels();
    out.area_channel = out.channels - 1;
    out.plates.clear();
    out.channel_of.clear();
    out.bytes.resize(static_cast<std::size_t>(rect.width) * static_cast<std::size_t>(rect.height) *
                     static_cast<std::size_t>(out.channels));
    const auto put = [&](const Plane &plane, int channel) {
        std::uint8_t *to = out.bytes.data() + channel;
        for (int y = 0; y < rect.height; ++y) {
            for (const std::uint8_t value : part_of_row(*tile, plane, rect, y)) {
                *to = value;
                to += out.channels;
            }
        }
    };
    for (std::size_t i = 0; i < tile->plates.size(); ++i) {
        out.plates.push_back(static_cast<int>(i));
        out.channel_of.push_back(static_cast<int>(i));
        put(tile->plates[i], static_cast<int>(i));
    }
    put(tile->area, out.area_channel);
    return {};
}

Outcome<PlateTile> PlateRenderer::render(PixelRect rect, Dpi resolution, Edges edges,
                                         const JobControl &control) const
{
    if (m_impl->computed.empty()) {
        return paint(rect, resolution, edges, control);
    }
    // Far away a choke of less than a pixel would break thin strokes up: looked at closer, then averaged.
    constexpr double near_enough = 150; // dpi
    if (edges == Edges::Crisp || resolution.value >= near_enough || m_impl->computed.reach() <= 0) {
        return render_cut(rect, resolution, edges, control);
    }
    const auto fine = render_cut({rect.x * 2, rect.y * 2, rect.width * 2, rect.height * 2},
                                 Dpi(resolution.value * 2), edges, control);
    if (!fine) {
        return fine.error();
    }
    const auto halved = [&](const Plane &plane) {
        Plane half(rect.width, rect.height);
        for (int y = 0; y < rect.height; ++y) {
            const auto above = plane.row(2 * y);
            const auto below = plane.row(2 * y + 1);
            const auto row = half.row(y);
            for (std::size_t x = 0; x < row.size(); ++x) {
                row[x] = static_cast<std::uint8_t>(
                    (above[2 * x] + above[2 * x + 1] + below[2 * x] + below[2 * x + 1] + 2) / 4);
            }
        }
        return half;
    };
    return each_plane(*fine, rect, halved);
}

Outcome<PlateTile> PlateRenderer::render_wide(PixelRect rect, Dpi resolution, Edges edges,
                                              const JobControl &control) const
{
    const int edge = rim(resolution);
    auto tile = paint({rect.x - edge, rect.y - edge, rect.width + 2 * edge, rect.height + 2 * edge},
                      resolution, edges, control);
    if (tile && !m_impl->computed.empty()) {
        const Done done =
            m_impl->computed.follow(*tile, resolution, edges, m_impl->page->impl().boxes, control);
        if (!done) {
            return done.error();
        }
    }
    return tile;
}

Outcome<PlateTile> PlateRenderer::render_cut(PixelRect rect, Dpi resolution, Edges edges,
                                             const JobControl &control) const
{
    const auto wide = render_wide(rect, resolution, edges, control);
    if (!wide) {
        return wide.error();
    }
    const auto cut = [&](const Plane &plane) {
        Plane part(rect.width, rect.height);
        for (int y = 0; y < rect.height; ++y) {
            const auto from = part_of_row(*wide, plane, rect, y);
            std::copy(from.begin(), from.end(), part.row(y).begin());
        }
        return part;
    };
    return each_plane(*wide, rect, cut);
}

Done PlateRenderer::paint_pass(int pass_index, PixelRect rect, Dpi resolution, Edges edges, PlatePixels &out,
                               const JobControl &control) const
{
    const Pass &pass = m_impl->passes[static_cast<std::size_t>(pass_index)];
    const PageContent::Impl &content = m_impl->page->impl();
    const int channels = pass.planes_in_all + 1;
    const PixelRect page = extent(resolution);
    const PixelRect stored = with_rim(rect, page, strip_rows(edges));
    const std::int64_t bytes = std::int64_t(stored.width) * stored.height * channels;
    if (rect.empty() || bytes > most_bytes_at_once) {
        return Error{ErrorCode::TooLarge, "The part to render is empty or too large.", content.place,
                     "Use a lower resolution."};
    }
    out.rect = rect;
    out.stored = stored;
    out.channels = channels;
    out.plates = pass.plates;
    out.channel_of = pass.planes;
    out.area_channel = channels - 1;
    out.bytes.assign(static_cast<std::size_t>(bytes), 0);

    const auto lease = content.runtime->lease();
    fz_context *ctx = lease.ctx();
    const auto scale = static_cast<float>(resolution.value / points_per_inch);
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
        NoteScope notes(ctx);
        notes.within(fz_transform_rect(fz_rect_from_irect(box), fz_scale(1 / scale, 1 / scale)));
        bool broken = false;
        const Done done = guarded(ctx, content.place, [&] {
            fz_pixmap *pixmap = nullptr;
            fz_device *device = nullptr;
            fz_var(pixmap);
            fz_var(device);
            fz_try(ctx)
            {
                constexpr int centre_of_pixel = 10; // MuPDF's number for that rule
                fz_set_graphics_aa_level(ctx, edges == Edges::Crisp   ? centre_of_pixel
                                              : edges == Edges::Quick ? 2
                                                                      : 8);
                fz_set_graphics_min_line_width(ctx, edges == Edges::Crisp ? 1.0f : 0.0f);
                fz_set_text_aa_level(ctx, 8);
                const fz_irect clip = fz_intersect_irect(box, fz_irect{0, 0, page.width, page.height});
                pixmap = fz_new_pixmap_with_bbox_and_data(ctx, fz_device_cmyk(ctx), box, pass.separations, 1,
                                                          pixels);
                device = fz_new_draw_device_with_bbox(ctx, fz_identity, pixmap, &clip);
                guard_draw_device(device);
                if (edges == Edges::Crisp) {
                    keep_last_column(device);
                    fz_enable_device_hints(ctx, device, FZ_DONT_INTERPOLATE_IMAGES);
                }
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

Rect PlateRenderer::box(PageBox which) const
{
    return m_impl->page->impl().boxes[static_cast<std::size_t>(which)];
}

Outcome<std::optional<Polygons>> PlateRenderer::area_shapes(const JobControl &control) const
{
    const bool bare = std::any_of(m_impl->setup.routes.begin(), m_impl->setup.routes.end(), leaves_bare);
    if (bare) {
        return std::optional<Polygons>();
    }
    PaintedShapes painted;
    const Done done = m_impl->run_list(
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

Outcome<VectorPage> PlateRenderer::vector_page(const JobControl &control) const
{
    const PageContent::Impl &content = m_impl->page->impl();
    if (m_impl->passes.size() > 1) {
        return Error{ErrorCode::TooLarge, "The page has more inks than one PDF of plates can hold here.",
                     content.place, "Merge inks in the stage Ink, or write TIFF plates."};
    }
    VectorPage page;
    page.width = m_impl->page->width().value;
    page.height = m_impl->page->height().value;
    const Pass &pass = m_impl->passes.front();
    std::map<std::string, int, std::less<>> plates;
    for (std::size_t i = 0; i < pass.plates.size(); ++i) {
        const int ink = pass.plates[i];
        if (!m_impl->computed.computes(static_cast<std::size_t>(ink))) {
            plates[plane_name(pass.planes[i])] = ink;
        }
    }
    const Done done = m_impl->run_list(
        pass,
        [&](fz_context *ctx) {
            return new_vector_device(ctx, page, [&](const char *plane) {
                const auto at = plates.find(plane);
                return at == plates.end() ? -1 : at->second;
            });
        },
        control);
    if (!done) {
        return done.error();
    }
    return page;
}

Outcome<PlateTile> PlateRenderer::paint(PixelRect rect, Dpi resolution, Edges edges,
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
        const auto part = paint(inner, resolution, edges, control);
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
        for (int pass = 0; pass < static_cast<int>(m_impl->passes.size()); ++pass) {
            const PixelRect part = {rect.x, y, rect.width, next - y};
            if (const Done done = paint_pass(pass, part, resolution, edges, pixels, control); !done) {
                return done.error();
            }
            for (int line = 0; line < part.height; ++line) {
                row.look(pixels.row(line), part.width, pixels.channels);
                const int to = y - rect.y + line;
                for (std::size_t i = 0; i < pixels.plates.size(); ++i) {
                    Plane &plane = tile.plates[static_cast<std::size_t>(pixels.plates[i])];
                    (void)row.take(pixels.channel_of[i], plane.row(to).data());
                }
                if (pass == 0) {
                    (void)row.take(pixels.area_channel, tile.area.row(to).data());
                }
            }
        }
        y = next;
    }
    return tile;
}

} // namespace bichrom
