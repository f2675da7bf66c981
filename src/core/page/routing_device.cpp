#include "core/page/routing_device.h"

#include "core/artwork/mupdf/notes.h"
#include "core/artwork/mupdf/type3.h"
#include "core/page/path_copy.h"
#include "core/page/pattern_cell.h"
#include "core/page/pixel_image.h"
#include "core/page/routed_shade.h"
#include "core/page/text_outlines.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <string>
#include <tuple>
#include <utility>
#include <vector>

namespace bichrom {

namespace {

/// An image and what it became; both kept until the device is dropped.
struct ConvertedImage
{
    fz_image *source;
    fz_image *result;
};

/// A clip by a picture, that waits for what comes next.
struct WaitingClip
{
    fz_image *mask = nullptr; ///< kept; null when none waits
    fz_matrix ctm{};
    fz_rect scissor{};
};

struct State
{
    fz_device *target = nullptr;
    ColourRoute *route = nullptr;
    PictureFaults *pictures = nullptr;
    RoutedFor use = RoutedFor::Painting;
    std::span<const fz_rect> group_bounds;
    std::size_t groups = 0; ///< begun so far, but for those of glyphs
    bool in_glyph = false;  ///< of Type 3
    int mask_depth = 0;
    int depth = 0;        ///< open groups, tiles and clips that are forwarded
    bool painted = false; ///< anything has been painted yet
    std::vector<bool> forwarded_groups;
    std::map<std::tuple<const fz_image *, bool, int, std::pair<int, int>>, ConvertedImage> images;
    GlyphOutlines glyphs;
    PatternCell cell;                 ///< that is recorded: the target meanwhile
    fz_device *outside = nullptr;     ///< the target before
    std::vector<bool> recorded_tiles; ///< open ones, whether they are the cell
    PaintingOrder order;
    WaitingClip waiting;
    int faint_clip = -1; ///< depth of the clip that lies in a group of its picture's strength

    /// Counts an object as the scene does, after the coloured glyphs of its text.
    void begin_object()
    {
        const ObjectPlace place = order.next();
        if (NoteScope *scope = NoteScope::current()) {
            scope->about(place.index);
        }
        route->begin_object(place, order.layer());
    }
    /// What is said from now on is about the object that comes next: of a mask, what it cuts.
    void about_next() const
    {
        if (NoteScope *scope = NoteScope::current()) {
            scope->about(order.count());
        }
    }
};

struct RoutingDevice
{
    fz_device super;
    State *state;
};

State &state_of(fz_device *device)
{
    return *reinterpret_cast<RoutingDevice *>(device)->state;
}

void drop(fz_context *ctx, fz_device *device)
{
    State *state = reinterpret_cast<RoutingDevice *>(device)->state;
    if (state == nullptr) {
        return;
    }
    for (auto &[key, image] : state->images) {
        fz_drop_image(ctx, image.source);
        fz_drop_image(ctx, image.result);
    }
    fz_drop_image(ctx, state->waiting.mask);
    state->cell.drop(ctx);
    delete state;
}

/// Opens the clip that waits, if one does.
void open_waiting_clip(fz_context *ctx, State &s)
{
    fz_image *mask = std::exchange(s.waiting.mask, nullptr);
    if (mask == nullptr) {
        return;
    }
    fz_try(ctx)
    {
        fz_clip_image_mask(ctx, s.target, mask, s.waiting.ctm, s.waiting.scissor);
    }
    fz_always(ctx)
    {
        fz_drop_image(ctx, mask);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

/// The state of \p device, whose target is where the page is.
State &ready(fz_context *ctx, fz_device *device)
{
    State &s = state_of(device);
    open_waiting_clip(ctx, s);
    return s;
}

/// Calls \p forward with a copy of \p path.
template <typename Forward> void with_copy(fz_context *ctx, const fz_path *path, Forward forward)
{
    fz_path *copy = unpacked(ctx, path);
    fz_try(ctx)
    {
        forward(copy);
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, copy);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

fz_color_params routed(fz_color_params params, const RoutedColour &colour)
{
    params.op = colour.overprint ? 1 : 0;
    params.opm = 0; // already decided by the colourants named
    return params;
}

void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    State &s = ready(ctx, device);
    if (s.mask_depth > 0) {
        with_copy(ctx, path, [&](const fz_path *copy) {
            fz_fill_path(ctx, s.target, copy, even_odd, ctm, space, value, alpha, params);
        });
        return;
    }
    s.begin_object();
    params = s.route->overprinted(params);
    RoutedColour colour;
    s.route->colour(ctx, space, value, params, true, colour);
    s.painted = true;
    if (!colour.paints) {
        return;
    }
    with_copy(ctx, path, [&](const fz_path *copy) {
        fz_fill_path(ctx, s.target, copy, even_odd, ctm, colour.space, colour.value, alpha,
                     routed(params, colour));
    });
}

void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    State &s = ready(ctx, device);
    if (s.mask_depth > 0) {
        with_copy(ctx, path, [&](const fz_path *copy) {
            fz_stroke_path(ctx, s.target, copy, stroke, ctm, space, value, alpha, params);
        });
        return;
    }
    s.begin_object();
    params = s.route->overprinted(params);
    RoutedColour colour;
    s.route->colour(ctx, space, value, params, true, colour);
    s.painted = true;
    if (!colour.paints) {
        return;
    }
    with_copy(ctx, path, [&](const fz_path *copy) {
        fz_stroke_path(ctx, s.target, copy, stroke, ctm, colour.space, colour.value, alpha,
                       routed(params, colour));
    });
}

/// The glyphs of \p text that take the text's colour; coloured ones are run through \p device.
/// New reference.
fz_text *without_coloured_glyphs(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm)
{
    fz_text *plain = fz_new_text(ctx);
    State &s = ready(ctx, device);
    const bool in_another = s.in_glyph;
    s.in_glyph = true;
    fz_try(ctx)
    {
        for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
            for (int i = 0; i < span->len; ++i) {
                const fz_text_item &item = span->items[i];
                if (is_coloured_glyph(span->font, item.gid)) {
                    fz_run_t3_glyph(ctx, span->font, item.gid, glyph_matrix(span, item, ctm), device);
                } else {
                    fz_show_glyph(ctx, plain, span->font, glyph_matrix(span, item, fz_identity), item.gid,
                                  item.ucs, span->wmode, span->bidi_level,
                                  static_cast<fz_bidi_direction>(span->markup_dir),
                                  static_cast<fz_text_language>(span->language));
                }
            }
        }
    }
    fz_always(ctx)
    {
        s.in_glyph = in_another;
    }
    fz_catch(ctx)
    {
        fz_drop_text(ctx, plain);
        fz_rethrow(ctx);
    }
    return plain;
}

void fill_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_colorspace *space,
               const float *value, float alpha, fz_color_params params)
{
    State &s = ready(ctx, device);
    if (s.mask_depth > 0) {
        fz_fill_text(ctx, s.target, text, ctm, space, value, alpha, params);
        return;
    }
    RoutedColour colour;
    if (!has_coloured_glyphs(text)) {
        s.begin_object();
        const fz_color_params wanted = s.route->overprinted(params);
        s.route->colour(ctx, space, value, wanted, true, colour);
        s.painted = true;
        if (!colour.paints) {
            return;
        }
        if (s.use == RoutedFor::Painting && has_outlines(ctx, text, s.glyphs)) {
            fill_text_outlines(ctx, s.target, text, ctm, colour.space, colour.value, alpha,
                               routed(wanted, colour), s.glyphs);
        } else {
            fz_fill_text(ctx, s.target, text, ctm, colour.space, colour.value, alpha, routed(wanted, colour));
        }
        return;
    }
    fz_text *plain = without_coloured_glyphs(ctx, device, text, ctm);
    fz_try(ctx)
    {
        s.begin_object(); // after the glyphs that are objects of their own
        const fz_color_params wanted = s.route->overprinted(params);
        s.route->colour(ctx, space, value, wanted, true, colour);
        s.painted = true;
        if (colour.paints && plain->head != nullptr) {
            fz_fill_text(ctx, s.target, plain, ctm, colour.space, colour.value, alpha,
                         routed(wanted, colour));
        }
    }
    fz_always(ctx)
    {
        fz_drop_text(ctx, plain);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    State &s = ready(ctx, device);
    if (s.mask_depth > 0) {
        fz_stroke_text(ctx, s.target, text, stroke, ctm, space, value, alpha, params);
        return;
    }
    s.begin_object();
    params = s.route->overprinted(params);
    RoutedColour colour;
    s.route->colour(ctx, space, value, params, true, colour);
    s.painted = true;
    if (!colour.paints) {
        return;
    }
    const fz_color_params own = routed(params, colour);
    if (alpha < 1.0f && s.use == RoutedFor::Painting && has_outlines(ctx, text, s.glyphs)) {
        stroke_text_outlines(ctx, s.target, text, stroke, ctm, colour.space, colour.value, alpha, own,
                             s.glyphs);
    } else {
        fz_stroke_text(ctx, s.target, text, stroke, ctm, colour.space, colour.value, alpha, own);
    }
}

void fill_shade(fz_context *ctx, fz_device *device, fz_shade *shade, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    State &s = ready(ctx, device);
    if (s.mask_depth > 0) {
        fz_fill_shade(ctx, s.target, shade, ctm, alpha, params);
        return;
    }
    s.begin_object();
    params = s.route->overprinted(params);
    s.painted = true;
    const fz_rect area = fz_device_current_scissor(ctx, device);
    paint_routed_shade(ctx, s.target, *s.route, shade, ctm, area, alpha, params);
}

/// The converted image, made once; borrowed. Null when it paints nothing.
fz_image *converted(fz_context *ctx, State &s, fz_image *image, bool overprint)
{
    const auto key = std::tuple<const fz_image *, bool, int, std::pair<int, int>>(
        image, overprint, s.route->treatment(), s.route->picture_dots());
    if (const auto found = s.images.find(key); found != s.images.end()) {
        return found->second.result;
    }
    if (s.route->target_space(ctx, image->colorspace, overprint) == nullptr) {
        return nullptr;
    }
    fz_pixmap *source = nullptr;
    fz_pixmap *pixels = nullptr;
    fz_image *result = nullptr;
    fz_var(source);
    fz_var(pixels);
    fz_var(result);
    fz_try(ctx)
    {
        pixels = s.route->known_pixels(ctx, image, overprint);
        if (pixels == nullptr) {
            source = fz_get_pixmap_from_image(ctx, image, nullptr, nullptr, nullptr, nullptr);
            pixels = s.route->pixels(ctx, source, overprint);
            s.route->keep_pixels(ctx, image, overprint, pixels);
        }
        SameJpeg jpeg;
        // Of a damaged one others might make something else.
        if (s.use == RoutedFor::Writing && s.pictures->is_whole(image) && is_plain_jpeg(ctx, image)) {
            if (source == nullptr) {
                source = fz_get_pixmap_from_image(ctx, image, nullptr, nullptr, nullptr, nullptr);
            }
            jpeg = same_jpeg(image, *source, *pixels);
        }
        result =
            new_pixel_image(ctx, pixels, image->interpolate != 0 && s.route->picture_dots().first == 0, jpeg);
    }
    fz_always(ctx)
    {
        fz_drop_pixmap(ctx, source);
        fz_drop_pixmap(ctx, pixels);
    }
    fz_catch(ctx)
    {
        fz_drop_image(ctx, result);
        fz_rethrow(ctx);
    }
    s.images[key] = {fz_keep_image(ctx, image), result};
    return result;
}

/// A picture that the route paints as outlines, clipped by its own mask.
void fill_outlines(fz_context *ctx, State &s, fz_image *image, fz_matrix ctm, float alpha,
                   fz_color_params params)
{
    fz_pixmap *source = fz_get_pixmap_from_image(ctx, image, nullptr, nullptr, nullptr, nullptr);
    bool clipped = false;
    fz_var(clipped);
    fz_try(ctx)
    {
        if (image->mask != nullptr) {
            fz_clip_image_mask(ctx, s.target, image->mask, ctm, fz_infinite_rect);
            clipped = true;
        }
        s.route->fill_outlines(ctx, s.target, source, ctm, alpha, params);
    }
    fz_always(ctx)
    {
        fz_drop_pixmap(ctx, source);
        if (clipped) {
            fz_pop_clip(ctx, s.target);
        }
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

/// Tells what is wrong with \p image. Throws where nothing of it can be decoded, before anybody tries.
void must_be_readable(fz_context *ctx, State &s, fz_image *image)
{
    if (!s.pictures->tell(ctx, image)) {
        fz_throw(ctx, FZ_ERROR_GENERIC, "image data that cannot be read");
    }
}

/// Opens the clip that waits; when it is that of a faint picture, within a group of its strength: MuPDF does
/// not blend right a group, or what is faint as one, within what a picture lets through.
/// \return the strength that is left for the picture itself
float open_faint_clip(fz_context *ctx, State &s, const fz_image *image, fz_matrix ctm, float alpha,
                      const fz_color_params &params)
{
    const bool faint = s.waiting.mask != nullptr && s.waiting.mask == image->mask && alpha < 1.0f &&
                       params.op == 0 && s.mask_depth == 0 && s.use == RoutedFor::Painting;
    if (faint) {
        fz_begin_group(ctx, s.target, fz_transform_rect(fz_unit_rect, ctm), nullptr, 1, 0, FZ_BLEND_NORMAL,
                       alpha);
        s.faint_clip = s.depth;
    }
    open_waiting_clip(ctx, s);
    return faint ? 1.0f : alpha;
}

void fill_image(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    State &s = state_of(device);
    alpha = open_faint_clip(ctx, s, image, ctm, alpha, params);
    if (s.mask_depth == 0) {
        s.begin_object();
    }
    must_be_readable(ctx, s, image);
    if (s.mask_depth > 0 || image->colorspace == nullptr) {
        fz_fill_image(ctx, s.target, image, ctm, alpha, params);
        return;
    }
    params = s.route->overprinted(params);
    s.painted = true;
    if (s.route->outlines_picture()) {
        fill_outlines(ctx, s, image, ctm, alpha, params);
        return;
    }
    const bool overprint = params.op != 0;
    s.route->begin_picture(ctm);
    fz_image *result = converted(ctx, s, image, overprint);
    if (result != nullptr) {
        params.opm = 0; // OPM concerns colours of the graphics state only (ISO 32000-1, 11.7.4.3)
        fz_fill_image(ctx, s.target, result, ctm, alpha, params);
    }
}

void fill_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_colorspace *space,
                     const float *value, float alpha, fz_color_params params)
{
    State &s = ready(ctx, device);
    if (s.mask_depth > 0) {
        must_be_readable(ctx, s, image);
        fz_fill_image_mask(ctx, s.target, image, ctm, space, value, alpha, params);
        return;
    }
    s.begin_object();
    must_be_readable(ctx, s, image);
    params = s.route->overprinted(params);
    RoutedColour colour;
    s.route->colour(ctx, space, value, params, true, colour);
    s.painted = true;
    if (colour.paints) {
        fz_fill_image_mask(ctx, s.target, image, ctm, colour.space, colour.value, alpha,
                           routed(params, colour));
    }
}

void clip_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_rect scissor)
{
    State &s = ready(ctx, device);
    ++s.depth;
    with_copy(ctx, path,
              [&](const fz_path *copy) { fz_clip_path(ctx, s.target, copy, even_odd, ctm, scissor); });
}

void clip_stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect scissor)
{
    State &s = ready(ctx, device);
    ++s.depth;
    with_copy(ctx, path,
              [&](const fz_path *copy) { fz_clip_stroke_path(ctx, s.target, copy, stroke, ctm, scissor); });
}

void clip_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_rect scissor)
{
    State &s = ready(ctx, device);
    ++s.depth;
    fz_clip_text(ctx, s.target, text, ctm, scissor);
}

void clip_stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect scissor)
{
    State &s = ready(ctx, device);
    ++s.depth;
    fz_clip_stroke_text(ctx, s.target, text, stroke, ctm, scissor);
}

void ignore_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm)
{
    fz_ignore_text(ctx, ready(ctx, device).target, text, ctm);
}

void clip_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_rect scissor)
{
    State &s = ready(ctx, device);
    ++s.depth;
    s.about_next();
    if (s.pictures->tell(ctx, image)) {
        s.waiting = {fz_keep_image(ctx, image), ctm, scissor};
        return;
    }
    // Nothing of the mask can be decoded: what it should cut is shown whole.
    fz_path *square = fz_new_path(ctx);
    fz_try(ctx)
    {
        fz_rectto(ctx, square, 0, 0, 1, 1);
        fz_clip_path(ctx, s.target, square, 0, ctm, scissor);
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, square);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void pop_clip(fz_context *ctx, fz_device *device)
{
    State &s = ready(ctx, device);
    fz_pop_clip(ctx, s.target);
    if (s.faint_clip == s.depth--) {
        s.faint_clip = -1;
        fz_end_group(ctx, s.target);
    }
}

void begin_mask(fz_context *ctx, fz_device *device, fz_rect area, int luminosity, fz_colorspace *space,
                const float *backdrop, fz_color_params params)
{
    State &s = ready(ctx, device);
    ++s.mask_depth;
    ++s.depth;
    fz_begin_mask(ctx, s.target, area, luminosity, space, backdrop, params);
}

void end_mask(fz_context *ctx, fz_device *device)
{
    State &s = ready(ctx, device);
    --s.mask_depth; // the mask now clips what follows until pop_clip, so the depth stays
    fz_end_mask(ctx, s.target);
}

void begin_group(fz_context *ctx, fz_device *device, fz_rect area, fz_colorspace *space, int isolated,
                 int knockout, int blend, float alpha)
{
    State &s = ready(ctx, device);
    if (!s.in_glyph && s.groups < s.group_bounds.size()) {
        area = fz_intersect_rect(area, s.group_bounds[s.groups++]);
        area = fz_is_valid_rect(area) ? area : fz_empty_rect;
    }
    if (s.mask_depth > 0) {
        s.forwarded_groups.push_back(true);
        fz_begin_group(ctx, s.target, area, space, isolated, knockout, blend, alpha);
        return;
    }
    // A plain group over an empty page changes nothing, and costs a copy of every plane:
    // isolated or not, its backdrop is empty, and composing it Normal at full strength
    // onto emptiness gives its own result.
    const bool changes_nothing =
        s.depth == 0 && !s.painted && knockout == 0 && blend == FZ_BLEND_NORMAL && alpha >= 1.0f;
    s.forwarded_groups.push_back(!changes_nothing);
    if (!changes_nothing) {
        ++s.depth;
        fz_begin_group(ctx, s.target, area, nullptr, isolated, knockout, blend, alpha);
    }
}

void end_group(fz_context *ctx, fz_device *device)
{
    State &s = ready(ctx, device);
    const bool forwarded = s.forwarded_groups.empty() || s.forwarded_groups.back();
    if (!s.forwarded_groups.empty()) {
        s.forwarded_groups.pop_back();
    }
    if (forwarded) {
        if (s.mask_depth == 0) {
            --s.depth;
        }
        fz_end_group(ctx, s.target);
    }
}

int begin_tile(fz_context *ctx, fz_device *device, fz_rect area, fz_rect view, float xstep, float ystep,
               fz_matrix ctm, int)
{
    // The draw device copies a tile once for each repeat and cannot be stopped while it does.
    constexpr double most_repeats = 4e6;
    const double repeats =
        std::fabs((static_cast<double>(area.x1) - static_cast<double>(area.x0)) /
                  static_cast<double>(xstep)) *
        std::fabs((static_cast<double>(area.y1) - static_cast<double>(area.y0)) / static_cast<double>(ystep));
    if (!(repeats <= most_repeats)) { // painted as one cell the size of the area
        fz_warn(ctx, "a pattern repeats more than 4 million times: only one of its cells is painted");
        xstep = std::max(1.0f, std::fabs(area.x1 - area.x0));
        ystep = std::max(1.0f, std::fabs(area.y1 - area.y0));
    }
    State &s = ready(ctx, device);
    ++s.depth;
    const bool record = s.use == RoutedFor::Painting && s.mask_depth == 0 && s.cell.device() == nullptr;
    if (!record) {
        s.recorded_tiles.push_back(false);
        return fz_begin_tile_id(ctx, s.target, area, view, xstep, ystep, ctm, 0);
    }
    s.cell.begin(ctx, {area, view, xstep, ystep, ctm});
    s.recorded_tiles.push_back(true);
    s.outside = s.target;
    s.target = s.cell.device();
    return 0;
}

void end_tile(fz_context *ctx, fz_device *device)
{
    State &s = ready(ctx, device);
    --s.depth;
    const bool recorded = !s.recorded_tiles.empty() && s.recorded_tiles.back();
    if (!s.recorded_tiles.empty()) {
        s.recorded_tiles.pop_back();
    }
    if (!recorded) {
        fz_end_tile(ctx, s.target);
        return;
    }
    s.target = s.outside;
    s.cell.end(ctx, s.target);
}

void begin_layer(fz_context *, fz_device *device, const char *name)
{
    state_of(device).order.open_layer(name);
}

void end_layer(fz_context *, fz_device *device)
{
    state_of(device).order.close_layer();
}

void render_flags(fz_context *ctx, fz_device *device, int set, int clear)
{
    fz_render_flags(ctx, ready(ctx, device).target, set, clear);
}

} // namespace

fz_device *new_routing_device(fz_context *ctx, fz_device *target, ColourRoute *route, PictureFaults *pictures,
                              std::span<const fz_rect> group_bounds, RoutedFor use)
{
    RoutingDevice *device = fz_new_derived_device(ctx, RoutingDevice);
    device->state = new State();
    device->state->target = target;
    device->state->route = route;
    device->state->pictures = pictures;
    device->state->use = use;
    device->state->group_bounds = group_bounds;
    fz_device &d = device->super;
    d.drop_device = drop;
    d.fill_path = Tolerant<fill_path>::call;
    d.stroke_path = Tolerant<stroke_path>::call;
    d.fill_text = Tolerant<fill_text>::call;
    d.stroke_text = Tolerant<stroke_text>::call;
    d.ignore_text = ignore_text;
    d.fill_shade = Tolerant<fill_shade>::call;
    d.fill_image = Tolerant<fill_image>::call;
    d.fill_image_mask = Tolerant<fill_image_mask>::call;
    d.clip_path = clip_path;
    d.clip_stroke_path = clip_stroke_path;
    d.clip_text = clip_text;
    d.clip_stroke_text = clip_stroke_text;
    d.clip_image_mask = clip_image_mask;
    d.pop_clip = pop_clip;
    d.begin_mask = begin_mask;
    d.end_mask = end_mask;
    d.begin_group = begin_group;
    d.end_group = end_group;
    d.begin_tile = begin_tile;
    d.end_tile = end_tile;
    d.begin_layer = begin_layer;
    d.end_layer = end_layer;
    d.render_flags = render_flags;
    return &d;
}

} // namespace bichrom
