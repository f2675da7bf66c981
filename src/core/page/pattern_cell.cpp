#include "core/page/pattern_cell.h"

#include "core/artwork/mupdf/own_device.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <utility>

namespace bichrom {

namespace {

constexpr double most_repeats = 20'000;
constexpr double most_bytes = 4e6; ///< of outlines, all repeats together

/// What a cell paints, as far as it matters here.
struct CellWeight
{
    std::size_t bytes = 0; ///< of outlines
    bool plain = true;     ///< flat shapes, pictures and gradients
};

struct Weigher
{
    CellWeight *weight = nullptr;
};

CellWeight &weight_of(fz_device *device)
{
    return *OwnDevice<Weigher>::of(device).weight;
}

void add_path(fz_device *device, const fz_path *path)
{
    weight_of(device).bytes += static_cast<std::size_t>(fz_packed_path_size(path));
}

fz_device *new_weight_device(fz_context *ctx, CellWeight &weight)
{
    constexpr std::size_t some = 1024; // what pictures and gradients count
    OwnDevice<Weigher> *made = OwnDevice<Weigher>::make(ctx);
    made->state->weight = &weight;
    fz_device &d = made->super;
    d.fill_path = [](fz_context *, fz_device *device, const fz_path *path, int, fz_matrix, fz_colorspace *,
                     const float *, float, fz_color_params) { add_path(device, path); };
    d.stroke_path = [](fz_context *, fz_device *device, const fz_path *path, const fz_stroke_state *,
                       fz_matrix, fz_colorspace *, const float *, float,
                       fz_color_params) { add_path(device, path); };
    d.clip_path = [](fz_context *, fz_device *device, const fz_path *path, int, fz_matrix, fz_rect) {
        add_path(device, path);
    };
    d.clip_stroke_path = [](fz_context *, fz_device *device, const fz_path *path, const fz_stroke_state *,
                            fz_matrix, fz_rect) { add_path(device, path); };
    d.fill_image = [](fz_context *, fz_device *device, fz_image *, fz_matrix, float, fz_color_params) {
        weight_of(device).bytes += some;
    };
    d.fill_shade = [](fz_context *, fz_device *device, fz_shade *, fz_matrix, float, fz_color_params) {
        weight_of(device).bytes += some;
    };
    // Text that is no outlines is bitmaps.
    d.fill_text = [](fz_context *, fz_device *device, const fz_text *, fz_matrix, fz_colorspace *,
                     const float *, float, fz_color_params) { weight_of(device).plain = false; };
    d.stroke_text = [](fz_context *, fz_device *device, const fz_text *, const fz_stroke_state *, fz_matrix,
                       fz_colorspace *, const float *, float,
                       fz_color_params) { weight_of(device).plain = false; };
    d.clip_text = [](fz_context *, fz_device *device, const fz_text *, fz_matrix, fz_rect) {
        weight_of(device).plain = false;
    };
    d.clip_stroke_text = [](fz_context *, fz_device *device, const fz_text *, const fz_stroke_state *,
                            fz_matrix, fz_rect) { weight_of(device).plain = false; };
    d.fill_image_mask = [](fz_context *, fz_device *device, fz_image *, fz_matrix, fz_colorspace *,
                           const float *, float, fz_color_params) { weight_of(device).plain = false; };
    d.clip_image_mask = [](fz_context *, fz_device *device, fz_image *, fz_matrix, fz_rect) {
        weight_of(device).plain = false;
    };
    d.begin_mask = [](fz_context *, fz_device *device, fz_rect, int, fz_colorspace *, const float *,
                      fz_color_params) { weight_of(device).plain = false; };
    d.begin_group = [](fz_context *, fz_device *device, fz_rect, fz_colorspace *, int, int knockout,
                       int blend, float alpha) {
        CellWeight &found = weight_of(device);
        found.plain = found.plain && knockout == 0 && blend == FZ_BLEND_NORMAL && alpha >= 1.0f;
    };
    d.begin_tile = [](fz_context *, fz_device *device, fz_rect, fz_rect, float, float, fz_matrix, int) {
        weight_of(device).plain = false;
        return 0;
    };
    return &d;
}

/// Which repeats reach into the area along one axis: first to last.
std::pair<int, int> reaching(float begin, float end, float view_begin, float view_end, float step)
{
    const double size = std::fabs(static_cast<double>(step));
    const auto far = [](double at) { return static_cast<int>(std::clamp(at, -1e9, 1e9)); };
    return {far(std::ceil((static_cast<double>(begin) - static_cast<double>(view_end)) / size)),
            far(std::floor((static_cast<double>(end) - static_cast<double>(view_begin)) / size))};
}

/// Whether all that \p list paints lies within \p view as it is.
bool lies_within(fz_context *ctx, fz_display_list *list, const PatternRepeat &repeat)
{
    fz_rect bounds = fz_empty_rect;
    (void)run_and_drop(ctx, list, fz_new_bbox_device(ctx, &bounds), nullptr);
    const fz_rect own = fz_transform_rect(bounds, fz_invert_matrix(repeat.ctm));
    return fz_is_empty_rect(bounds) || fz_contains_rect(repeat.view, own) != 0;
}

/// Paints the cell at each of its places. \return whether it did
bool paint_repeats(fz_context *ctx, fz_display_list *list, const PatternRepeat &repeat, fz_device *target)
{
    const fz_rect &area = repeat.area, &view = repeat.view;
    const auto [left, right] = reaching(area.x0, area.x1, view.x0, view.x1, repeat.xstep);
    const auto [top, bottom] = reaching(area.y0, area.y1, view.y0, view.y1, repeat.ystep);
    const double repeats = (static_cast<double>(right) - left + 1) * (static_cast<double>(bottom) - top + 1);
    if (!(repeats <= most_repeats)) {
        return false;
    }
    CellWeight weight;
    (void)run_and_drop(ctx, list, new_weight_device(ctx, weight), nullptr);
    if (!weight.plain || repeats * static_cast<double>(weight.bytes) > most_bytes) {
        return false;
    }
    fz_path *edge = nullptr;
    fz_var(edge);
    fz_try(ctx)
    {
        if (!lies_within(ctx, list, repeat)) {
            edge = fz_new_path(ctx);
            fz_rectto(ctx, edge, view.x0, view.y0, view.x1, view.y1);
        }
        for (int row = top; row <= bottom; ++row) {
            for (int column = left; column <= right; ++column) {
                const fz_point by = fz_transform_vector({static_cast<float>(column) * std::fabs(repeat.xstep),
                                                         static_cast<float>(row) * std::fabs(repeat.ystep)},
                                                        repeat.ctm);
                const fz_matrix place = fz_translate(by.x, by.y);
                if (edge != nullptr) {
                    fz_clip_path(ctx, target, edge, 0, fz_concat(repeat.ctm, place), fz_infinite_rect);
                }
                fz_run_display_list(ctx, list, target, place, fz_infinite_rect, nullptr);
                if (edge != nullptr) {
                    fz_pop_clip(ctx, target);
                }
            }
        }
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, edge);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
    return true;
}

} // namespace

void PatternCell::begin(fz_context *ctx, const PatternRepeat &repeat)
{
    drop(ctx);
    m_repeat = repeat;
    m_list = fz_new_display_list(ctx, fz_infinite_rect);
    m_device = fz_new_list_device(ctx, m_list);
}

void PatternCell::end(fz_context *ctx, fz_device *target)
{
    fz_try(ctx)
    {
        fz_close_device(ctx, m_device);
        if (!paint_repeats(ctx, m_list, m_repeat, target)) {
            fz_begin_tile(ctx, target, m_repeat.area, m_repeat.view, m_repeat.xstep, m_repeat.ystep,
                          m_repeat.ctm);
            fz_run_display_list(ctx, m_list, target, fz_identity, fz_infinite_rect, nullptr);
            fz_end_tile(ctx, target);
        }
    }
    fz_always(ctx)
    {
        drop(ctx);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void PatternCell::drop(fz_context *ctx)
{
    fz_drop_device(ctx, m_device);
    fz_drop_display_list(ctx, m_list);
    m_device = nullptr;
    m_list = nullptr;
}

} // namespace bichrom
