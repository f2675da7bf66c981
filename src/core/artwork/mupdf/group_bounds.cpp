#include "core/artwork/mupdf/group_bounds.h"

#include "core/artwork/mupdf/own_device.h"

namespace bichrom {

namespace {

constexpr float margin =
    6; // points: the thinnest line is a pixel wide, and pages are looked at from 12 dpi on

constexpr fz_rect no_area = {0, 0, -1, -1}; // MuPDF takes a rectangle turned inside out for none

struct State
{
    std::vector<fz_rect> *all = nullptr;
    std::vector<std::size_t> open; ///< index into all
    int tile_depth = 0;
};

using BoundingDevice = OwnDevice<State>;

void add(fz_device *device, fz_rect area, fz_rect scissor)
{
    State &s = BoundingDevice::of(device);
    if (s.open.empty() || s.tile_depth > 0) {
        return;
    }
    area = fz_intersect_rect(fz_expand_rect(area, margin), scissor);
    fz_rect &group = (*s.all)[s.open.back()];
    group = fz_union_rect(group, area);
}

void add(fz_context *ctx, fz_device *device, fz_rect area)
{
    add(device, area, fz_device_current_scissor(ctx, device));
}

void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int, fz_matrix ctm, fz_colorspace *,
               const float *, float, fz_color_params)
{
    add(ctx, device, fz_bound_path(ctx, path, nullptr, ctm));
}

void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *, const float *, float, fz_color_params)
{
    add(ctx, device, fz_bound_path(ctx, path, stroke, ctm));
}

/// Type 3 glyphs may reach beyond what their font says.
fz_rect bound(fz_context *ctx, const fz_text *text, const fz_stroke_state *stroke, fz_matrix ctm)
{
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        if (span->font->t3procs != nullptr) {
            return fz_infinite_rect;
        }
    }
    return fz_bound_text(ctx, text, stroke, ctm);
}

void fill_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_colorspace *,
               const float *, float, fz_color_params)
{
    add(ctx, device, bound(ctx, text, nullptr, ctm));
}

void stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *, const float *, float, fz_color_params)
{
    add(ctx, device, bound(ctx, text, stroke, ctm));
}

void fill_shade(fz_context *ctx, fz_device *device, fz_shade *shade, fz_matrix ctm, float, fz_color_params)
{
    add(ctx, device, fz_bound_shade(ctx, shade, ctm));
}

void fill_image(fz_context *ctx, fz_device *device, fz_image *, fz_matrix ctm, float, fz_color_params)
{
    add(ctx, device, fz_transform_rect(fz_unit_rect, ctm));
}

void fill_image_mask(fz_context *ctx, fz_device *device, fz_image *, fz_matrix ctm, fz_colorspace *,
                     const float *, float, fz_color_params)
{
    add(ctx, device, fz_transform_rect(fz_unit_rect, ctm));
}

void begin_group(fz_context *, fz_device *device, fz_rect, fz_colorspace *, int, int, int, float)
{
    State &s = BoundingDevice::of(device);
    s.open.push_back(s.all->size());
    s.all->push_back(s.tile_depth > 0 ? fz_infinite_rect : no_area);
}

void end_group(fz_context *, fz_device *device)
{
    State &s = BoundingDevice::of(device);
    if (s.open.empty()) {
        return;
    }
    const fz_rect inner = (*s.all)[s.open.back()];
    s.open.pop_back();
    if (!s.open.empty() && s.tile_depth == 0) {
        fz_rect &outer = (*s.all)[s.open.back()];
        outer = fz_union_rect(outer, inner);
    }
}

int begin_tile(fz_context *, fz_device *device, fz_rect area, fz_rect, float, float, fz_matrix ctm, int)
{
    // The scissor on top is the tile's own already, in the pattern's space.
    const int below = device->container_len - 2;
    add(device, fz_transform_rect(area, ctm),
        below >= 0 ? device->container[below].scissor : fz_infinite_rect);
    ++BoundingDevice::of(device).tile_depth;
    return 0;
}

void end_tile(fz_context *, fz_device *device)
{
    --BoundingDevice::of(device).tile_depth;
}

} // namespace

void find_group_bounds(fz_context *ctx, fz_display_list *list, fz_cookie *cookie, std::vector<fz_rect> &out)
{
    BoundingDevice *device = BoundingDevice::make(ctx);
    device->state->all = &out;
    fz_device &d = device->super;
    d.fill_path = fill_path;
    d.stroke_path = stroke_path;
    d.fill_text = fill_text;
    d.stroke_text = stroke_text;
    d.fill_shade = fill_shade;
    d.fill_image = fill_image;
    d.fill_image_mask = fill_image_mask;
    d.begin_group = begin_group;
    d.end_group = end_group;
    d.begin_tile = begin_tile;
    d.end_tile = end_tile;
    fz_try(ctx)
    {
        (void)run_and_drop(ctx, list, &d, cookie);
    }
    fz_always(ctx)
    {
        for (fz_rect &area : out) {
            area = fz_is_valid_rect(area) ? area : fz_empty_rect;
        }
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

} // namespace bichrom
