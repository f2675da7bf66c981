// What PlateRoute does with pictures and shadings.
#include "core/base/units.h"
#include "core/colour/spaces.h"
#include "core/colour/srgb.h"
#include "core/page/kept_pixmap.h"
#include "core/page/picture_rows.h"
#include "core/page/plate_route.h"

#include <oneapi/tbb/parallel_for.h>
#include <oneapi/tbb/task_arena.h>

#include <algorithm>
#include <atomic>
#include <bit>
#include <cmath>
#include <memory>
#include <new>

namespace bichrom {

namespace {

/// Calls \p convert(y, buffer) for every row, on all processors, a buffer of \p bytes for each.
/// Nothing leaves it by exception, since MuPDF's frames lie above. \return false when there is no memory, or
/// it was stopped
template <typename Convert>
bool convert_rows(int height, std::size_t bytes, const JobControl &control, Convert convert) noexcept
{
    constexpr int rows_at_once = 32;
    const int parts = (height + rows_at_once - 1) / rows_at_once;
    try {
        std::atomic<bool> whole{true};
        // Nothing else may run on this thread meanwhile: its context is in the middle of an object.
        oneapi::tbb::this_task_arena::isolate([&] {
            oneapi::tbb::parallel_for(0, parts, [&](int part) {
                if (control.cancelled()) {
                    return;
                }
                const std::unique_ptr<unsigned char[]> buffer(new (std::nothrow) unsigned char[bytes]);
                if (buffer == nullptr) {
                    whole = false;
                    return;
                }
                const int end = std::min(height, (part + 1) * rows_at_once);
                for (int y = part * rows_at_once; y < end; ++y) {
                    convert(y, buffer.get());
                }
            });
        });
        return whole && !control.cancelled();
    } catch (const std::bad_alloc &) {
        return false;
    }
}

/// Throws MuPDF's way for \p why, or because nobody wants it any more.
[[noreturn]] void throw_failed(fz_context *ctx, const JobControl &control, int code, const char *why)
{
    if (control.cancelled()) {
        fz_throw(ctx, FZ_ERROR_ABORT, "stopped while a picture was converted");
    }
    fz_throw(ctx, code, "%s", why);
}

fz_pixmap *whole_or_thrown(fz_context *ctx, fz_pixmap *pixels, const JobControl &control, bool whole)
{
    if (!whole) {
        fz_drop_pixmap(ctx, pixels);
        throw_failed(ctx, control, FZ_ERROR_MEMORY, "no memory to convert a picture");
    }
    return pixels;
}

} // namespace

/// What a picture or shading of \p space does now; valid until the next call.
const PlateRoute::Mapping &PlateRoute::picture_mapping(fz_context *ctx, fz_colorspace *space)
{
    const Route *route = picture_route();
    if (route == nullptr) {
        return mapping_of(ctx, base_space(space));
    }
    m_picture_mapping = {};
    Mapping &mapping = m_picture_mapping;
    switch (route->to) {
    case RouteTo::Plates:
        mapping.feeds.resize(1);
        feed_targets(*route, mapping.feeds.front(), mapping);
        break;
    case RouteTo::Process: {
        const bool names_inks = m_colours.names_inks(ctx, base_space(space));
        mapping.feeds.resize(static_cast<std::size_t>(names_inks ? base_space(space)->n : base_planes));
        for (std::size_t i = 0; i < mapping.feeds.size() && m_process; ++i) {
            if (names_inks) {
                feed_build(mapping.feeds[i]);
            } else {
                mapping.feeds[i].push_back({Feed::Kind::Own, static_cast<int>(i), 1.0f, nullptr});
            }
        }
        mapping.bare = !m_process;
        break;
    }
    case RouteTo::BareStock:
        mapping.bare = true;
        break;
    case RouteTo::Nothing:
        mapping.dropped = true;
        break;
    }
    count_planes(mapping);
    return mapping;
}

PlateRoute::Planes PlateRoute::target_planes(fz_context *ctx, fz_colorspace *space, bool overprint)
{
    const Mapping &mapping = picture_mapping(ctx, space);
    const bool names_inks = m_colours.names_inks(ctx, base_space(space));
    Planes planes = mapping.planes;
    if (picture_route() == nullptr && !overprint && base_space(space)->type == FZ_COLORSPACE_GRAY) {
        planes = 0; // the other process inks are knocked out without being named
        for (const Feed &feed : mapping.feeds[3]) {
            planes |= Planes(1) << feed.plane;
        }
    }
    if (m_lost_plane >= 0 && !mapping.bare && !mapping.dropped && !mapping.elsewhere) {
        planes |= Planes(1) << m_lost_plane;
    }
    if (planes == 0 && !overprint &&
        (mapping.elsewhere || mapping.bare || (!names_inks && picture_route() == nullptr))) {
        planes = 1; // knocks everything out
    }
    return planes;
}

fz_colorspace *PlateRoute::target_space(fz_context *ctx, fz_colorspace *space, bool overprint)
{
    const Planes painted = target_planes(ctx, space, overprint);
    // All process inks and nothing else: MuPDF's own space is the fastest.
    return painted == 0 ? nullptr : painted == base_mask ? fz_device_cmyk(ctx) : plane_space(ctx, painted);
}

void PlateRoute::components(fz_context *ctx, fz_colorspace *space, const float *value, bool overprint,
                            float *out)
{
    Values planes;
    bool elsewhere = false;
    if (const Route *route = picture_route(); route != nullptr) {
        (void)resolve_routed(ctx, *route, space, value, planes, elsewhere);
    } else {
        (void)resolve(ctx, space, value, 0, planes);
    }
    const Planes painted = target_planes(ctx, space, overprint);
    if (m_lost_plane >= 0 && (painted >> m_lost_plane & 1) != 0) {
        bool printed = false;
        for (int plane = 0; plane < m_planes; ++plane) {
            printed =
                printed || ((m_printed >> plane & 1) != 0 && planes[static_cast<std::size_t>(plane)] > 0.0f);
        }
        planes[static_cast<std::size_t>(m_lost_plane)] = !printed && is_lost(ctx, space, value) ? 1.0f : 0.0f;
    }
    int component = 0;
    for (int plane = 0; plane < m_planes; ++plane) {
        if ((painted >> plane & 1) != 0) {
            out[component++] = planes[static_cast<std::size_t>(plane)];
        }
    }
}

/// Fills the tables by which pixels() works: for each source channel, what it adds to a target channel.
void PlateRoute::make_tables(fz_context *ctx, fz_colorspace *space, const Mapping &mapping, bool black_only,
                             Planes painted)
{
    m_tables.clear();
    fz_colorspace *base = base_space(space);
    const auto add = [&](int from, int component, const Feed &feed) {
        Table table;
        table.from = from;
        table.to = std::popcount(painted & ((Planes(1) << feed.plane) - 1));
        table.printed = (m_printed >> feed.plane & 1) != 0;
        for (int i = 0; i < 256; ++i) {
            const float value = fed(ctx, base, component, static_cast<float>(i) / 255.0f, feed);
            table.tone[static_cast<std::size_t>(i)] =
                static_cast<std::uint8_t>(std::lround(std::clamp(value, 0.0f, 1.0f) * 255.0f));
        }
        m_tables.push_back(table);
    };
    if (mapping.all) {
        for (int plane = 0; plane < m_planes; ++plane) {
            if (plane != m_lost_plane) {
                add(0, 0, {Feed::Kind::Own, plane, 1.0f, nullptr});
            }
        }
        return;
    }
    for (std::size_t i = 0; i < mapping.feeds.size(); ++i) {
        if (!black_only || i == 3) {
            for (const Feed &feed : mapping.feeds[i]) {
                add(black_only ? 0 : static_cast<int>(i), static_cast<int>(i), feed);
            }
        }
    }
}

/// The picture taken apart into flat colours, each on its plate.
fz_pixmap *PlateRoute::split_pixels(fz_context *ctx, fz_pixmap *source, const Route &route, bool overprint)
{
    fz_colorspace *target = target_space(ctx, source->colorspace, overprint);
    const Planes painted = target_planes(ctx, source->colorspace, overprint);
    const int alpha = source->alpha;
    fz_pixmap *result = fz_new_pixmap(ctx, target, source->w, source->h, nullptr, alpha);
    fz_clear_pixmap(ctx, result);
    if (!split_into(ctx, *source, route.split, painted, *result)) {
        fz_drop_pixmap(ctx, result);
        throw_failed(ctx, m_control, FZ_ERROR_GENERIC, "a picture cannot be taken apart into its colours");
    }
    return result;
}

/// The part of split_pixels() that MuPDF does not throw over.
bool PlateRoute::split_into(fz_context *ctx, const fz_pixmap &source, const PaletteSplit &split,
                            Planes painted, fz_pixmap &result) const
{
    const auto apart = take_apart(ctx, source, split);
    if (apart == nullptr) {
        return false;
    }
    const int out = result.n - result.alpha;
    for (std::size_t i = 0; i < split.colours.size(); ++i) {
        const auto plane = m_plane_of.find(split.colours[i].ink);
        if (plane == m_plane_of.end() || split.colours[i].ink.empty()) {
            continue;
        }
        const int channel = std::popcount(painted & ((Planes(1) << plane->second) - 1));
        for (int y = 0; y < source.h; ++y) {
            unsigned char *to = result.samples + y * result.stride + channel;
            for (const std::uint8_t cover : apart->planes[i].row(y)) {
                const auto tone = static_cast<int>(std::lround(cover * split.colours[i].tint));
                *to = static_cast<unsigned char>(std::min(255, *to + tone));
                to += result.n;
            }
        }
    }
    for (int y = 0; y < source.h && result.alpha != 0; ++y) {
        for (int x = 0; x < source.w; ++x) {
            unsigned char *to = result.samples + y * result.stride + x * result.n;
            to[out] = source.samples[y * source.stride + x * source.n + source.n - 1];
            if (to[out] == 0) {
                std::fill(to, to + out, static_cast<unsigned char>(0)); // premultiplied
            }
        }
    }
    return true;
}

const PictureTable *PlateRoute::table_of(const Route *route) const
{
    if (route == nullptr || m_pictureTables.empty()) {
        return nullptr;
    }
    const auto found = m_pictureTables.find(static_cast<int>(route - m_setup.routes.data()));
    return found == m_pictureTables.end() ? nullptr : &found->second;
}

PlateRoute::Planes PlateRoute::resolve_table(fz_context *ctx, const PictureTable &table, fz_colorspace *space,
                                             const float *value, Values &planes, bool &elsewhere) const
{
    const Rgb8 rgb = m_colours.to_rgb(m_colours.alternate(ctx, space, value));
    const ColourTable::Tones tones = table.table->at({rgb.r / 255.0, rgb.g / 255.0, rgb.b / 255.0});
    Planes painted = 0;
    for (std::size_t i = 0; i < table.inks.size(); ++i) {
        if (const auto plane = m_plane_of.find(table.inks[i]); plane != m_plane_of.end()) {
            planes[static_cast<std::size_t>(plane->second)] = tones[i];
            painted |= Planes(1) << plane->second;
        } else {
            elsewhere = elsewhere || prints_elsewhere(table.inks[i]);
        }
    }
    return painted;
}

/// Each pixel's colour, as it looks, looked up.
fz_pixmap *PlateRoute::table_pixels(fz_context *ctx, fz_pixmap *source, const PictureTable &table,
                                    bool overprint)
{
    fz_colorspace *target = target_space(ctx, source->colorspace, overprint);
    const Planes painted = target_planes(ctx, source->colorspace, overprint);
    const PictureRows rows(ctx, m_colours, *source, PictureRows::As::Rgb);
    const auto width = static_cast<std::size_t>(source->w);
    const std::size_t inks = table.table->inks();
    const int out = target->n;
    std::array<int, ColourTable::most_inks> channel{};
    for (std::size_t i = 0; i < inks; ++i) {
        const auto plane = m_plane_of.find(table.inks[i]);
        channel[i] = plane == m_plane_of.end() || (painted >> plane->second & 1) == 0
                         ? -1
                         : std::popcount(painted & ((Planes(1) << plane->second) - 1));
    }
    fz_pixmap *result = fz_new_pixmap(ctx, target, source->w, source->h, nullptr, source->alpha);
    const std::size_t buffer =
        width * (3 + inks) + rows.scratch_bytes(); // colours, tones, room for the reader
    const bool done = convert_rows(source->h, buffer, m_control, [&](int y, unsigned char *row) {
        unsigned char *tones = row + width * 3;
        rows.row(y, row, tones + width * inks);
        table.table->convert(row, tones, width);
        const unsigned char *from = tones;
        const unsigned char *opacity = source->samples + y * source->stride + (source->n - 1);
        unsigned char *to = result->samples + y * result->stride;
        for (std::size_t x = 0; x < width; ++x, from += inks, to += result->n, opacity += source->n) {
            std::fill(to, to + out, static_cast<unsigned char>(0));
            const bool bare = source->alpha != 0 && *opacity == 0; // premultiplied
            for (std::size_t i = 0; i < inks && !bare; ++i) {
                if (channel[i] >= 0) {
                    to[channel[i]] = from[i];
                }
            }
            if (source->alpha != 0) {
                to[out] = *opacity;
            }
        }
    });
    return whole_or_thrown(ctx, result, m_control, done);
}

void PlateRoute::begin_picture(fz_matrix ctm)
{
    m_dots = {0, 0};
    const PictureTable *table = table_of(picture_route());
    if (table == nullptr || !table->indexed.dots.wanted()) {
        return;
    }
    const double to_dots = millimetres_per_inch / points_per_inch / table->indexed.dots.size_mm;
    const auto count = [&](float a, float b) {
        const double dots = std::hypot(static_cast<double>(a), static_cast<double>(b)) * to_dots;
        return static_cast<int>(std::clamp(std::round(dots), 1.0, 1e6));
    };
    m_dots = {count(ctm.a, ctm.b), count(ctm.c, ctm.d)};
}

/// The picture as dots of one ink each: what a dot covers is averaged in light. Empty when there are too
/// many, no memory, or nobody wants it any more.
std::vector<std::uint8_t> PlateRoute::dots_of(fz_context *ctx, const fz_pixmap &source,
                                              const IndexedPicture &indexed) const
{
    const auto [across, down] = m_dots;
    if (std::int64_t(across) * down > most_pixels_apart / 4) {
        return {};
    }
    const RgbPicture picture = rgb_picture(ctx, m_colours, source, m_control);
    if (picture.pixels.empty()) {
        return {};
    }
    std::array<double, 256> light{};
    for (std::size_t i = 0; i < light.size(); ++i) {
        light[i] = srgb_to_linear(static_cast<double>(i) / 255);
    }
    const auto part = [](int dot, int dots, int pixels) { // of the pixels; one at least
        const auto first = static_cast<int>(std::int64_t(dot) * pixels / dots);
        const auto end = static_cast<int>(std::int64_t(dot + 1) * pixels / dots);
        return std::pair(first, std::max(first + 1, end));
    };
    IndexGrid grid{across, down, {}, {}};
    grid.wish.resize(static_cast<std::size_t>(across) * static_cast<std::size_t>(down));
    grid.bare.assign(grid.wish.size(), 0);
    oneapi::tbb::this_task_arena::isolate([&] {
        oneapi::tbb::parallel_for(0, down, [&](int row) {
            if (m_control.cancelled()) {
                return;
            }
            const auto [top, bottom] = part(row, down, source.h);
            for (int column = 0; column < across; ++column) {
                const auto [left, right] = part(column, across, source.w);
                std::array<double, 3> sum{};
                std::int64_t opaque = 0;
                int seen = 0;
                for (int y = top; y < bottom; ++y) {
                    for (int x = left; x < right; ++x) {
                        const int alpha =
                            source.alpha == 0
                                ? 255
                                : source.samples[y * source.stride + x * source.n + source.n - 1];
                        opaque += alpha;
                        seen += alpha > 0 ? 1 : 0;
                        for (std::size_t i = 0; i < 3 && alpha > 0; ++i) {
                            sum[i] += light[picture.at(x, y)[i]];
                        }
                    }
                }
                const std::size_t dot = static_cast<std::size_t>(row) * static_cast<std::size_t>(across) +
                                        static_cast<std::size_t>(column);
                if (opaque * 2 < std::int64_t(255) * (bottom - top) * (right - left)) {
                    grid.bare[dot] = 1;
                    continue;
                }
                for (double &one : sum) {
                    one = linear_to_srgb(one / seen);
                }
                grid.wish[dot] = lab_to_xyz(indexed.reach.within(srgb_to_lab(sum)));
            }
        });
    });
    const auto dots = index_dots(grid, indexed.colours, indexed.dots.diffused, m_control);
    return dots ? *dots : std::vector<std::uint8_t>();
}

fz_pixmap *PlateRoute::dot_pixels(fz_context *ctx, fz_pixmap *source, const PictureTable &table,
                                  bool overprint)
{
    fz_colorspace *target = target_space(ctx, source->colorspace, overprint);
    const Planes painted = target_planes(ctx, source->colorspace, overprint);
    const int alpha = source->alpha;
    fz_pixmap *result = fz_new_pixmap(ctx, target, m_dots.first, m_dots.second, nullptr, alpha);
    fz_clear_pixmap(ctx, result);
    bool whole = false;
    try {
        const std::vector<std::uint8_t> dots = dots_of(ctx, *source, table.indexed);
        whole = !dots.empty();
        for (std::size_t i = 0; i < dots.size(); ++i) {
            if (dots[i] == no_index) {
                continue;
            }
            const auto across = static_cast<std::size_t>(m_dots.first);
            unsigned char *to = result->samples + static_cast<std::ptrdiff_t>(i / across) * result->stride +
                                static_cast<std::ptrdiff_t>(i % across) * result->n;
            for (const std::size_t ink : table.indexed.solid[dots[i]]) {
                const auto plane = m_plane_of.find(table.inks[ink]);
                if (plane != m_plane_of.end() && (painted >> plane->second & 1) != 0) {
                    to[std::popcount(painted & ((Planes(1) << plane->second) - 1))] = 255;
                }
            }
            if (alpha != 0) {
                to[result->n - 1] = 255;
            }
        }
    } catch (const std::bad_alloc &) {
        whole = false;
    }
    if (!whole) {
        fz_drop_pixmap(ctx, result);
        throw_failed(ctx, m_control, FZ_ERROR_GENERIC,
                     "a picture cannot be turned into dots: there would be too many");
    }
    return result;
}

bool PlateRoute::outlines_picture() const
{
    const Route *route = picture_route();
    return route != nullptr && !route->split.colours.empty() && route->split.outlines;
}

/// Kept with the page, since it takes long and stays the same while other routes change. MuPDF does not throw
/// over it. Null when it cannot be done.
std::shared_ptr<const PlateRoute::SplitPicture>
PlateRoute::take_apart(fz_context *ctx, const fz_pixmap &source, const PaletteSplit &split) const
{
    std::vector<EncodedRgb> palette;
    std::string key = "split " + std::to_string(m_object) + " " + std::to_string(split.tolerance) + " " +
                      std::to_string(split.despeckle);
    for (const PaletteTarget &colour : split.colours) {
        palette.push_back(colour.rgb);
        const bool prints = split.outlines && m_plane_of.count(colour.ink) > 0;
        key += (prints ? " outlined " : " ") + std::to_string(colour.rgb[0]) + "," +
               std::to_string(colour.rgb[1]) + "," + std::to_string(colour.rgb[2]);
    }
    if (auto known = m_memory.find(key)) {
        return std::static_pointer_cast<const SplitPicture>(known);
    }
    const RgbPicture picture = rgb_picture(ctx, m_colours, source, m_control);
    if (picture.pixels.empty()) {
        return nullptr; // too large, or stopped
    }
    auto planes = unmix(picture, palette, {split.tolerance, split.despeckle}, m_control);
    if (!planes) {
        return nullptr;
    }
    auto made = std::make_shared<SplitPicture>();
    made->planes = std::move(*planes);
    made->outlines.resize(palette.size());
    for (std::size_t i = 0; i < palette.size() && split.outlines; ++i) {
        if (m_plane_of.count(split.colours[i].ink) > 0) {
            auto outlines = trace_outlines(made->planes[i]);
            if (!outlines) {
                return nullptr;
            }
            made->outlines[i] = std::move(*outlines);
        }
    }
    m_memory.keep(key, made);
    return made;
}

void PlateRoute::fill_plane(fz_context *ctx, fz_device *target, const fz_path *path, fz_matrix ctm,
                            float alpha, const fz_color_params &params, int plane, float tone, bool overprint)
{
    const float value[] = {std::clamp(tone, 0.0f, 1.0f)};
    fz_color_params own = params;
    own.op = overprint ? 1 : 0;
    own.opm = 0;
    fz_fill_path(ctx, target, path, 1, ctm, plane_space(ctx, Planes(1) << plane), value, alpha, own);
}

void PlateRoute::fill_outlines(fz_context *ctx, fz_device *target, fz_pixmap *source, fz_matrix ctm,
                               float alpha, fz_color_params params)
{
    const PaletteSplit &split = picture_route()->split;
    m_split = take_apart(ctx, *source, split);
    if (m_split == nullptr) {
        throw_failed(ctx, m_control, FZ_ERROR_GENERIC, "a picture cannot be traced");
    }
    const fz_matrix to_page =
        fz_concat(fz_scale(1.0f / static_cast<float>(source->w), 1.0f / static_cast<float>(source->h)), ctm);
    fz_path *path = nullptr;
    fz_var(path);
    fz_var(params);
    fz_try(ctx)
    {
        if (params.op == 0) { // the whole picture knocks out what is below it
            path = fz_new_path(ctx);
            fz_rectto(ctx, path, 0, 0, static_cast<float>(source->w), static_cast<float>(source->h));
            fill_plane(ctx, target, path, to_page, alpha, params, 0, 0.0f, false);
            fz_drop_path(ctx, path);
            path = nullptr;
        }
        for (std::size_t i = 0; i < m_split->outlines.size(); ++i) {
            if (m_split->outlines[i].empty()) {
                continue;
            }
            path = fz_new_path(ctx);
            for (const Outline &outline : m_split->outlines[i]) {
                const auto at = [](double v) { return static_cast<float>(v); };
                fz_moveto(ctx, path, at(outline.x), at(outline.y));
                for (const OutlinePiece &piece : outline.pieces) {
                    fz_curveto(ctx, path, at(piece.x1), at(piece.y1), at(piece.x2), at(piece.y2), at(piece.x),
                               at(piece.y));
                }
                fz_closepath(ctx, path);
            }
            fill_plane(ctx, target, path, to_page, alpha, params, m_plane_of.at(split.colours[i].ink),
                       static_cast<float>(split.colours[i].tint), true);
            fz_drop_path(ctx, path);
            path = nullptr;
        }
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, path);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

fz_pixmap *PlateRoute::pixels(fz_context *ctx, fz_pixmap *source, bool overprint)
{
    if (const Route *split = picture_route(); split != nullptr && !split->split.colours.empty()) {
        return split_pixels(ctx, source, *split, overprint);
    }
    if (const PictureTable *table = table_of(picture_route())) {
        return m_dots.first > 0 ? dot_pixels(ctx, source, *table, overprint)
                                : table_pixels(ctx, source, *table, overprint);
    }
    fz_colorspace *space = source->colorspace;
    fz_colorspace *target = target_space(ctx, space, overprint);
    const Planes painted = target_planes(ctx, space, overprint);
    const Route *route = picture_route();
    const bool by_darkness = route != nullptr && route->to == RouteTo::Plates;
    const PictureRows rows(ctx, m_colours, *source,
                           by_darkness ? PictureRows::As::Darkness : PictureRows::As::Inks);
    make_tables(ctx, space, picture_mapping(ctx, space), rows.is_black_only(), painted);
    const int alpha = source->alpha;
    const int out = target->n;
    const auto width = static_cast<std::size_t>(source->w);
    const auto channels = static_cast<std::size_t>(rows.channels());
    const int lost = m_lost_plane >= 0 && (painted >> m_lost_plane & 1) != 0
                         ? std::popcount(painted & ((Planes(1) << m_lost_plane) - 1))
                         : -1;
    const bool white_is_lost =
        m_setup.lost == Lost::InksAndWhite && !m_colours.names_inks(ctx, base_space(space));
    const bool as_they_are = lost < 0 && channels == static_cast<std::size_t>(out) &&
                             m_tables.size() == channels && are_identity(m_tables);
    fz_pixmap *result = fz_new_pixmap(ctx, target, source->w, source->h, nullptr, alpha);
    const std::size_t buffer = width * channels + rows.scratch_bytes();
    const bool done = convert_rows(source->h, buffer, m_control, [&](int y, unsigned char *read) {
        rows.row(y, read, read + width * channels);
        const unsigned char *from = read;
        const unsigned char *opacity = source->samples + y * source->stride + (source->n - 1);
        unsigned char *to = result->samples + y * result->stride;
        for (std::size_t x = 0; x < width; ++x, from += channels, to += result->n, opacity += source->n) {
            if (as_they_are) {
                std::copy(from, from + channels, to);
            } else {
                std::fill(to, to + out, static_cast<unsigned char>(0));
                bool inked = false;
                for (const Table &table : m_tables) {
                    const int tone = table.tone[from[table.from]];
                    to[table.to] = static_cast<unsigned char>(std::min(255, to[table.to] + tone));
                    inked = inked || (tone > 0 && table.printed);
                }
                if (lost >= 0 && !inked) {
                    const bool holds_ink =
                        std::any_of(from, from + channels, [](unsigned char v) { return v > 0; });
                    to[lost] = holds_ink || white_is_lost ? 255 : 0;
                }
            }
            if (alpha != 0) {
                to[out] = *opacity;
                if (*opacity == 0) {
                    std::fill(to, to + out, static_cast<unsigned char>(0)); // premultiplied
                }
            }
        }
    });
    return whole_or_thrown(ctx, result, m_control, done);
}

// ---- pictures kept for the next run -----------------------------------------------------------------

namespace {

/// A converted picture, and the table it was made by: while that lives no other can have its address.
struct KeptPixels
{
    std::shared_ptr<const ColourTable> table;
    KeptPixmap picture;
};

} // namespace

std::string PlateRoute::picture_key(fz_context *ctx, fz_image *image, bool overprint)
{
    const Route *route = picture_route();
    if (route != nullptr && !route->split.colours.empty()) {
        return {};
    }
    fz_colorspace *space = image->colorspace;
    const Planes painted = target_planes(ctx, space, overprint);
    std::string key = "pixels";
    const auto put = [&key](const auto &value) {
        key.append(reinterpret_cast<const char *>(&value), sizeof value);
    };
    put(image);
    put(painted);
    if (const PictureTable *table = table_of(route)) {
        put(table->table.get());
        for (const std::string &ink : table->inks) {
            const auto plane = m_plane_of.find(ink);
            put(plane == m_plane_of.end() ? -1 : plane->second);
        }
        if (m_dots.first > 0) {
            put(m_dots);
            put(table->indexed.dots.size_mm);
            put(table->indexed.dots.diffused);
            for (const IndexColour &colour : table->indexed.colours) {
                put(colour.hues);
                put(colour.printed);
            }
        }
        return key;
    }
    const bool by_darkness = route != nullptr && route->to == RouteTo::Plates;
    const bool names_inks = m_colours.names_inks(ctx, base_space(space));
    const bool black_only = !by_darkness && !names_inks &&
                            m_colours.source_of(ctx, base_space(space)) == nullptr &&
                            base_space(space)->n == 1;
    make_tables(ctx, space, picture_mapping(ctx, space), black_only, painted);
    put(by_darkness);
    put(m_lost_plane);
    put(m_setup.lost);
    for (const Table &table : m_tables) {
        put(table.from);
        put(table.to);
        put(table.printed);
        put(table.tone);
    }
    return key;
}

fz_pixmap *PlateRoute::known_pixels(fz_context *ctx, fz_image *image, bool overprint)
{
    const std::string key = picture_key(ctx, image, overprint);
    const auto known = key.empty() ? nullptr : m_memory.find(key);
    return known == nullptr
               ? nullptr
               : fz_keep_pixmap(ctx, static_cast<const KeptPixels *>(known.get())->picture.pixels);
}

void PlateRoute::keep_pixels(fz_context *ctx, fz_image *image, bool overprint, fz_pixmap *pixels)
{
    const std::string key = picture_key(ctx, image, overprint);
    if (key.empty()) {
        return;
    }
    const PictureTable *table = table_of(picture_route());
    const auto bytes = static_cast<std::size_t>(pixels->stride) * static_cast<std::size_t>(pixels->h);
    m_memory.keep(key,
                  std::shared_ptr<const KeptPixels>(new KeptPixels{table == nullptr ? nullptr : table->table,
                                                                   {m_runtime, fz_keep_pixmap(ctx, pixels)}}),
                  bytes);
}

} // namespace bichrom
