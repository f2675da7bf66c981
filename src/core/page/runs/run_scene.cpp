#include "core/page/runs/run_scene.h"

#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/own_device.h"
#include "core/base/pixel_rect.h"
#include "core/page/kept_pixmap.h"
#include "core/page/pixel_image.h"
#include "core/page/runs/gradient_area.h"
#include "core/page/runs/outlines.h"
#include "core/page/runs/run_collector.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <string_view>
#include <utility>

namespace bichrom {

namespace {

/// The planes of a colour space of the routed list.
struct SpacePlanes
{
    ComponentOf components{};
    std::uint32_t planes = 0;
};

struct State
{
    RunCollector out;
    fz_matrix to_pixels{};
    std::shared_ptr<MupdfRuntime> runtime;
    std::map<std::string, int, std::less<>> plane_of;
    std::map<const fz_colorspace *, std::optional<SpacePlanes>> spaces;
    GlyphOutlines glyphs;

    [[nodiscard]] fz_matrix matrix(fz_matrix ctm) const { return fz_concat(ctm, to_pixels); }
    [[nodiscard]] const PixelRect &page() const { return out.scene().page; }
    [[nodiscard]] ShapeList &shapes() { return out.scene().shapes; }
    /// A shape of the four corners of \p area.
    [[nodiscard]] int quad(const fz_rect &area, const fz_matrix &place)
    {
        shapes().begin(false, true);
        add_quad(area, place, shapes());
        return shapes().end();
    }
};

State &state_of(fz_device *device)
{
    return OwnDevice<State>::of(device);
}

/// \p area in points, with room for the rule that thin things ink a pixel.
PixelRect box_of(const State &s, fz_rect area)
{
    if (fz_is_infinite_rect(area)) {
        return s.page();
    }
    area = fz_transform_rect(area, s.to_pixels);
    const auto edge = [](float at, double move, int most) {
        return static_cast<int>(
            std::clamp(std::floor(static_cast<double>(at) + move), 0.0, static_cast<double>(most)));
    };
    constexpr double margin = 2;
    const int left = edge(area.x0, -margin, s.page().width);
    const int top = edge(area.y0, -margin, s.page().height);
    return {left, top, edge(area.x1, margin + 1, s.page().width) - left,
            edge(area.y1, margin + 1, s.page().height) - top};
}

const std::optional<SpacePlanes> &planes_of(fz_context *ctx, State &s, fz_colorspace *space)
{
    const auto [at, is_new] = s.spaces.try_emplace(space);
    if (is_new && space != nullptr) {
        const int type = fz_colorspace_type(ctx, space);
        SpacePlanes found;
        found.components.fill(-1);
        bool known = type == FZ_COLORSPACE_SEPARATION || type == FZ_COLORSPACE_CMYK;
        for (int i = 0; known && i < fz_colorspace_n(ctx, space); ++i) {
            int plane = i; // of process ink
            if (type == FZ_COLORSPACE_SEPARATION) {
                const auto named = s.plane_of.find(std::string_view(fz_colorspace_colorant(ctx, space, i)));
                known = named != s.plane_of.end();
                plane = known ? named->second : 0;
            }
            found.components[static_cast<std::size_t>(plane)] = static_cast<std::int8_t>(i);
            found.planes |= std::uint32_t(1) << plane;
        }
        if (known) {
            at->second = found;
        }
    }
    return at->second;
}

/// The one of a mask.
SpacePlanes plane_of_mask()
{
    SpacePlanes only;
    only.components.fill(-1);
    only.components[0] = 0;
    only.planes = 1;
    return only;
}

std::uint8_t strength_of(float alpha)
{
    return static_cast<std::uint8_t>(std::clamp(alpha, 0.0f, 1.0f) * 255);
}

/// The luminosity of a colour, 255 = white.
std::uint8_t grey_of(fz_context *ctx, fz_colorspace *space, const float *value, const fz_color_params &params)
{
    float grey[FZ_MAX_COLORS] = {};
    fz_convert_color(ctx, space, value, fz_device_gray(ctx), grey, nullptr, params);
    return static_cast<std::uint8_t>(std::lround(std::clamp(grey[0], 0.0f, 1.0f) * 255));
}

/// The paint of a flat colour; none when it is not known in planes.
std::optional<RunPaint> flat_paint(fz_context *ctx, State &s, fz_colorspace *space, const float *value,
                                   float alpha, const fz_color_params &params)
{
    RunPaint paint;
    paint.alpha = strength_of(alpha);
    if (s.out.mask()) {
        paint.replaces = s.out.scene().all_planes;
        paint.tones[0] =
            *s.out.mask() == MaskOf::Alpha ? std::uint8_t(255) : grey_of(ctx, space, value, params);
        return paint;
    }
    const auto &known = planes_of(ctx, s, space);
    if (!known) {
        return std::nullopt;
    }
    paint.replaces = params.op != 0 ? known->planes : s.out.scene().all_planes;
    for (std::size_t plane = 0; plane < paint.tones.size(); ++plane) {
        if (known->components[plane] >= 0) {
            const float tone = value[static_cast<std::size_t>(known->components[plane])];
            paint.tones[plane] = static_cast<std::uint8_t>(std::lround(std::clamp(tone, 0.0f, 1.0f) * 255));
        }
    }
    return paint;
}

void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    if (s.out.skips()) {
        return;
    }
    if (const auto paint = flat_paint(ctx, s, space, value, alpha, params)) {
        s.shapes().begin(even_odd != 0, true);
        add_fill(ctx, path, s.matrix(ctm), s.shapes());
        s.out.add_object(s.shapes().end(), *paint);
    } else {
        s.out.by_pixels(box_of(s, fz_bound_path(ctx, path, nullptr, ctm)));
    }
}

void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    if (s.out.skips()) {
        return;
    }
    if (const auto paint = flat_paint(ctx, s, space, value, alpha, params)) {
        s.shapes().begin(false, false);
        add_stroke(ctx, path, *stroke, s.matrix(ctm), s.shapes());
        s.out.add_object(s.shapes().end(), *paint);
    } else {
        s.out.by_pixels(box_of(s, fz_bound_path(ctx, path, stroke, ctm)));
    }
}

void paint_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                fz_matrix ctm, fz_colorspace *space, const float *value, float alpha,
                const fz_color_params &params)
{
    State &s = state_of(device);
    if (s.out.skips()) {
        return;
    }
    const auto paint = flat_paint(ctx, s, space, value, alpha, params);
    s.shapes().begin(false, stroke == nullptr);
    // Letters that overlap are seen once (ISO 32000-1, 9.3.8: text knocks out).
    const bool outlined = paint && add_text(ctx, text, stroke, s.matrix(ctm), s.glyphs, s.shapes());
    const int shape = s.shapes().end();
    if (outlined) {
        s.out.add_object(shape, *paint);
    } else {
        s.out.by_pixels(box_of(s, fz_bound_text(ctx, text, stroke, ctm)));
    }
}

void fill_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_colorspace *space,
               const float *value, float alpha, fz_color_params params)
{
    paint_text(ctx, device, text, nullptr, ctm, space, value, alpha, params);
}

void stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    paint_text(ctx, device, text, stroke, ctm, space, value, alpha, params);
}

/// Adds the shape closed last in the tones of \p sampler.
void add_sampled(State &s, int shape, std::unique_ptr<const Sampler> sampler, const SpacePlanes &known,
                 float alpha, const fz_color_params &params)
{
    RunPaint paint;
    paint.alpha = strength_of(alpha);
    paint.replaces = params.op != 0 ? known.planes : s.out.scene().all_planes;
    for (std::size_t plane = 0; plane < known.components.size(); ++plane) {
        if (known.components[plane] < 0) {
            continue;
        }
        if (const auto tone = sampler->only_tone(static_cast<int>(plane))) {
            paint.tones[plane] = *tone;
        } else {
            paint.sampled |= std::uint32_t(1) << plane;
        }
    }
    if (paint.sampled != 0) {
        paint.sampler = static_cast<int>(s.out.scene().samplers.size());
        s.out.scene().samplers.push_back(std::move(sampler));
    }
    s.out.add_object(shape, paint);
}

/// Whether film pixels take the picture's as they are: reduced pictures are averaged by the painter of
/// pixels.
bool stays_as_it_is(const fz_image *image, const fz_matrix &place)
{
    const auto enlarged = [](float a, float b, int count) {
        constexpr float slack = 0.25f; // of a pixel over all of it, by rounding
        return std::hypot(a, b) + slack >= static_cast<float>(count);
    };
    return image->interpolate == 0 &&
           (enlarged(place.a, place.b, image->w) || enlarged(place.c, place.d, image->h));
}

/// Tones of a picture of one component that film pixels take as they are, or that blend; null for others.
std::unique_ptr<const Sampler> sample_grey(fz_context *ctx, State &s, fz_image *image, const fz_matrix &place)
{
    const bool grey = image->colorspace == nullptr || fz_colorspace_is_gray(ctx, image->colorspace) != 0;
    if (!grey || image->n != 1 || image->mask != nullptr || image->use_colorkey != 0 ||
        (image->interpolate == 0 && !stays_as_it_is(image, place))) {
        return nullptr;
    }
    // MuPDF may leave from here: nothing is held yet.
    fz_pixmap *pixels = fz_get_pixmap_from_image(ctx, image, nullptr, nullptr, nullptr, nullptr);
    s.out.scene().kept.push_back(std::make_shared<const KeptPixmap>(s.runtime, pixels));
    if (pixels->n != 1) {
        return nullptr;
    }
    const ComponentOf first = plane_of_mask().components;
    return image->interpolate != 0 ? blend_picture(pixels, place, first)
                                   : sample_picture(pixels, place, first);
}

/// A picture within a mask.
void fill_image_of_mask(fz_context *ctx, State &s, fz_image *image, const fz_matrix &ctm, float alpha,
                        const fz_color_params &params)
{
    const fz_matrix place = s.matrix(ctm);
    auto sampler = *s.out.mask() == MaskOf::Luminosity ? sample_grey(ctx, s, image, place) : nullptr;
    const bool solid = *s.out.mask() == MaskOf::Alpha && image->mask == nullptr && image->use_colorkey == 0;
    if (sampler == nullptr && !solid) {
        s.out.by_pixels(box_of(s, fz_transform_rect(fz_unit_rect, ctm)));
        return;
    }
    const int shape = s.quad(fz_unit_rect, place);
    if (sampler != nullptr) {
        add_sampled(s, shape, std::move(sampler), plane_of_mask(), alpha, params);
    } else if (const auto paint = flat_paint(ctx, s, nullptr, nullptr, alpha, params)) {
        s.out.add_object(shape, *paint);
    }
}

void fill_image(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    State &s = state_of(device);
    if (s.out.skips()) {
        return;
    }
    const fz_matrix place = s.matrix(ctm);
    if (s.out.mask()) {
        fill_image_of_mask(ctx, s, image, ctm, alpha, params);
        return;
    }
    const fz_pixmap *pixels = pixels_of(image);
    const auto &known = planes_of(ctx, s, image->colorspace);
    const bool plain = known && pixels != nullptr && pixels->alpha == 0 && image->mask == nullptr;
    auto sampler = !plain                         ? nullptr
                   : image->interpolate != 0      ? blend_picture(pixels, place, known->components)
                   : stays_as_it_is(image, place) ? sample_picture(pixels, place, known->components)
                                                  : nullptr;
    if (sampler == nullptr) {
        s.out.by_pixels(box_of(s, fz_transform_rect(fz_unit_rect, ctm)));
        return;
    }
    add_sampled(s, s.quad(fz_unit_rect, place), std::move(sampler), *known, alpha, params);
}

/// The stencil that \p image is at \p place, kept in the scene; −1 where it has grey edges or film pixels do
/// not take its own.
int stencil_of(fz_context *ctx, State &s, fz_image *image, const fz_matrix &place)
{
    if (image->n != 1 || image->bpc != 1 || image->colorspace != nullptr || image->mask != nullptr ||
        !stays_as_it_is(image, place)) {
        return -1;
    }
    fz_pixmap *pixels = fz_get_pixmap_from_image(ctx, image, nullptr, nullptr, nullptr, nullptr);
    std::unique_ptr<const Stencil> made = Stencil::make(*pixels, place);
    fz_drop_pixmap(ctx, pixels);
    if (made == nullptr) {
        return -1;
    }
    s.out.scene().stencils.push_back(std::move(made));
    return static_cast<int>(s.out.scene().stencils.size()) - 1;
}

void fill_shade(fz_context *ctx, fz_device *device, fz_shade *shade, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    State &s = state_of(device);
    if (s.out.skips()) {
        return;
    }
    const fz_rect bounds = fz_bound_shade(ctx, shade, ctm);
    const fz_matrix place = s.matrix(fz_concat(shade->matrix, ctm));
    const std::optional<SpacePlanes> known =
        s.out.mask() ? plane_of_mask() : planes_of(ctx, s, shade->colorspace);
    auto sampler = !known         ? nullptr
                   : s.out.mask() ? sample_luminosity(ctx, shade, place, params)
                                  : sample_shade(shade, place, known->components);
    if (sampler != nullptr) {
        const PixelRect &page = s.page();
        const fz_rect all = {0, 0, static_cast<float>(page.width), static_cast<float>(page.height)};
        const fz_rect area = fz_is_infinite_rect(bounds)
                                 ? all
                                 : fz_intersect_rect(all, fz_transform_rect(bounds, s.to_pixels));
        s.shapes().begin(true, true);
        add_gradient_area(shade, area, place, page, s.shapes());
        const int shape = s.shapes().end();
        s.out.open_clip(s.quad(area, fz_identity)); // what bounds it besides is a clip of its own
        if (s.out.mask() == MaskOf::Alpha) {        // whatever its colours are
            s.out.add_object(shape, *flat_paint(ctx, s, nullptr, nullptr, alpha, params));
        } else {
            add_sampled(s, shape, std::move(sampler), *known, alpha, params);
        }
        s.out.close_clip();
        return;
    }
    s.out.by_pixels(box_of(s, bounds));
}

void clip_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm, fz_rect)
{
    State &s = state_of(device);
    if (s.out.skips()) {
        s.out.skip({});
        return;
    }
    s.shapes().begin(even_odd != 0, true);
    add_fill(ctx, path, s.matrix(ctm), s.shapes());
    s.out.open_clip(s.shapes().end());
}

void clip_stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect)
{
    State &s = state_of(device);
    if (s.out.skips()) {
        s.out.skip({});
        return;
    }
    s.shapes().begin(false, false);
    add_stroke(ctx, path, *stroke, s.matrix(ctm), s.shapes());
    s.out.open_clip(s.shapes().end());
}

void clip_by_text(fz_context *ctx, State &s, const fz_text *text, const fz_stroke_state *stroke,
                  fz_matrix ctm)
{
    if (s.out.skips()) {
        s.out.skip({});
        return;
    }
    s.shapes().begin(false, stroke == nullptr);
    const bool outlined = add_text(ctx, text, stroke, s.matrix(ctm), s.glyphs, s.shapes());
    const int shape = s.shapes().end();
    if (outlined) {
        s.out.open_clip(shape);
    } else {
        s.out.skip(box_of(s, fz_bound_text(ctx, text, stroke, ctm)));
    }
}

void clip_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_rect)
{
    clip_by_text(ctx, state_of(device), text, nullptr, ctm);
}

void clip_stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect)
{
    clip_by_text(ctx, state_of(device), text, stroke, ctm);
}

void clip_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_rect)
{
    State &s = state_of(device);
    const fz_matrix place = s.matrix(ctm);
    if (const int stencil = s.out.skips() ? -1 : stencil_of(ctx, s, image, place); stencil >= 0) {
        s.out.open_stencil(s.quad(fz_unit_rect, place), stencil);
        return;
    }
    const PixelRect box = box_of(s, fz_transform_rect(fz_unit_rect, ctm));
    auto sampler = s.out.takes_mask() ? sample_grey(ctx, s, image, place) : nullptr;
    if (sampler == nullptr) {
        s.out.skip(box);
        return;
    }
    auto mask = std::make_unique<RunScene>(s.page().width, s.page().height);
    mask->all_planes = 1;
    mask->shapes.begin(false, true);
    add_quad(fz_unit_rect, place, mask->shapes);
    if (const int shape = mask->shapes.end(); shape >= 0) {
        RunPaint paint;
        paint.replaces = paint.sampled = 1;
        paint.sampler = 0;
        mask->paints.push_back(paint);
        mask->samplers.push_back(std::move(sampler));
        mask->objects.push_back({shape, 0, -1, mask->shapes.shape(shape).box});
    }
    s.out.paint_through(std::move(mask), box);
}

void pop_clip(fz_context *, fz_device *device)
{
    state_of(device).out.close_clip();
}

void fill_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_colorspace *space,
                     const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    if (s.out.skips()) {
        return;
    }
    const fz_matrix place = s.matrix(ctm);
    const auto paint = flat_paint(ctx, s, space, value, alpha, params);
    const int stencil = paint ? stencil_of(ctx, s, image, place) : -1;
    if (stencil < 0) {
        s.out.by_pixels(box_of(s, fz_transform_rect(fz_unit_rect, ctm)));
        return;
    }
    s.out.open_stencil(s.quad(fz_unit_rect, place), stencil);
    s.out.add_object(s.quad(fz_unit_rect, place), *paint);
    s.out.close_clip();
}

/// The pixels that \p area, in points, has a part in.
PixelRect pixels_in(const State &s, fz_rect area)
{
    const PixelRect &page = s.page();
    if (fz_is_infinite_rect(area)) {
        return page;
    }
    const fz_irect box = fz_irect_from_rect(fz_transform_rect(area, s.to_pixels));
    return intersection({box.x0, box.y0, box.x1 - box.x0, box.y1 - box.y0}, page);
}

void begin_mask(fz_context *ctx, fz_device *device, fz_rect area, int luminosity, fz_colorspace *space,
                const float *backdrop, fz_color_params params)
{
    State &s = state_of(device);
    const MaskOf of = luminosity != 0 ? MaskOf::Luminosity : MaskOf::Alpha;
    if (!s.out.begin_mask(of, pixels_in(s, area), box_of(s, area)) || luminosity == 0 || space == nullptr ||
        backdrop == nullptr) {
        return;
    }
    if (const std::uint8_t grey = grey_of(ctx, space, backdrop, params); grey > 0) {
        RunPaint paint;
        paint.replaces = 1;
        paint.tones[0] = grey;
        const fz_rect all = {0, 0, static_cast<float>(s.page().width), static_cast<float>(s.page().height)};
        s.out.add_object(s.quad(all, fz_identity), paint);
    }
}

/// The mask now clips until pop_clip.
void end_mask(fz_context *, fz_device *device)
{
    state_of(device).out.end_mask();
}

void begin_group(fz_context *, fz_device *device, fz_rect area, fz_colorspace *, int isolated, int knockout,
                 int blend, float alpha)
{
    State &s = state_of(device);
    const PixelRect box = box_of(s, area);
    if (blend != FZ_BLEND_NORMAL && blend != FZ_BLEND_MULTIPLY) {
        s.out.skip(box);
    } else {
        s.out.open_group(box, isolated != 0, knockout != 0, strength_of(alpha), blend == FZ_BLEND_MULTIPLY);
    }
}

void end_group(fz_context *, fz_device *device)
{
    state_of(device).out.close_group();
}

int begin_tile(fz_context *, fz_device *device, fz_rect area, fz_rect, float, float, fz_matrix ctm, int)
{
    State &s = state_of(device);
    s.out.skip(box_of(s, fz_transform_rect(area, ctm)));
    return 0;
}

void end_tile(fz_context *, fz_device *device)
{
    state_of(device).out.end_skip();
}

} // namespace

fz_device *new_run_device(fz_context *ctx, RunScene &scene, const fz_matrix &to_pixels,
                          const std::vector<std::string> &planes, std::shared_ptr<MupdfRuntime> runtime)
{
    OwnDevice<State> *device = OwnDevice<State>::make(ctx);
    State &s = *device->state;
    s.runtime = std::move(runtime);
    s.out = RunCollector(scene);
    s.to_pixels = to_pixels;
    for (std::size_t i = 0; i < planes.size(); ++i) {
        s.plane_of[planes[i]] = static_cast<int>(i);
        scene.all_planes |= std::uint32_t(1) << i;
    }
    fz_device &d = device->super;
    d.fill_path = fill_path;
    d.stroke_path = stroke_path;
    d.fill_text = fill_text;
    d.stroke_text = stroke_text;
    d.fill_shade = fill_shade;
    d.fill_image = fill_image;
    d.fill_image_mask = fill_image_mask;
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
    return &d;
}

} // namespace bichrom
