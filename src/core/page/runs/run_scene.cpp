#include "core/page/runs/run_scene.h"

#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/own_device.h"
#include "core/base/pixel_rect.h"
#include "core/page/pixel_image.h"
#include "core/page/runs/outlines.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <optional>
#include <string_view>

namespace bichrom {

namespace {

constexpr std::size_t most_edges = std::size_t(12) << 20; // 480 MB; more are painted pixel by pixel

/// The planes of a colour space of the routed list.
struct SpacePlanes
{
    ComponentOf components{};
    std::uint32_t planes = 0;
};

/// A group that is open.
struct OpenGroup
{
    bool isolated = false;
    int number = -1; ///< of one whose objects hide each other before they are laid on the page
    bool knockout = false;
    std::uint8_t alpha = 255; ///< at which strength they are
    bool by_runs = true;      ///< so far
    PixelRect box{};
    std::size_t objects = 0, pixel_boxes = 0; ///< before it
};

struct State
{
    RunScene *scene = nullptr;
    fz_matrix to_pixels{};
    std::map<std::string, int, std::less<>> plane_of;
    std::map<const fz_colorspace *, std::optional<SpacePlanes>> spaces;
    std::map<std::string, int> paint_of; ///< by its bytes
    GlyphOutlines glyphs;
    std::vector<int> clips; ///< open ones; −1 is the page
    std::vector<OpenGroup> groups;
    int skipped = 0; ///< open groups, clips, tiles and masks within what is painted by pixels

    [[nodiscard]] fz_matrix matrix(fz_matrix ctm) const { return fz_concat(ctm, to_pixels); }
    [[nodiscard]] int clip() const { return clips.empty() ? -1 : clips.back(); }
    [[nodiscard]] bool isolated() const
    {
        return std::any_of(groups.begin(), groups.end(), [](const OpenGroup &one) { return one.isolated; });
    }
    /// The open group that has a number, or null. None lies in another.
    [[nodiscard]] OpenGroup *merged()
    {
        const auto at =
            std::find_if(groups.begin(), groups.end(), [](const OpenGroup &one) { return one.number >= 0; });
        return at == groups.end() ? nullptr : &*at;
    }
};

State &state_of(fz_device *device)
{
    return OwnDevice<State>::of(device);
}

PixelRect seen(const State &s)
{
    return s.clip() < 0 ? s.scene->page : s.scene->clips[static_cast<std::size_t>(s.clip())].box;
}

/// Says that \p area of the page, in pixels, cannot be runs.
void by_pixels(State &s, const PixelRect &area)
{
    const PixelRect box = intersection(area, seen(s));
    if (!box.empty()) {
        s.scene->pixel_boxes.push_back(box);
        if (OpenGroup *merged = s.merged()) {
            merged->by_runs = false; // all of it is looked at together
        }
    }
}

/// \p area in points, with room for the rule that thin things ink a pixel.
PixelRect box_of(const State &s, fz_rect area)
{
    if (fz_is_infinite_rect(area)) {
        return s.scene->page;
    }
    area = fz_transform_rect(area, s.to_pixels);
    const auto edge = [](float at, double move, int most) {
        return static_cast<int>(
            std::clamp(std::floor(static_cast<double>(at) + move), 0.0, static_cast<double>(most)));
    };
    constexpr double margin = 2;
    const int left = edge(area.x0, -margin, s.scene->page.width);
    const int top = edge(area.y0, -margin, s.scene->page.height);
    return {left, top, edge(area.x1, margin + 1, s.scene->page.width) - left,
            edge(area.y1, margin + 1, s.scene->page.height) - top};
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

int add_paint(State &s, const RunPaint &paint)
{
    if (paint.sampler >= 0) {
        s.scene->paints.push_back(paint);
        return static_cast<int>(s.scene->paints.size()) - 1;
    }
    std::string key(reinterpret_cast<const char *>(paint.tones.data()), paint.tones.size());
    key.push_back(static_cast<char>(paint.alpha));
    key.append(reinterpret_cast<const char *>(&paint.replaces), sizeof paint.replaces);
    const auto [at, is_new] =
        s.paint_of.try_emplace(std::move(key), static_cast<int>(s.scene->paints.size()));
    if (is_new) {
        s.scene->paints.push_back(paint);
    }
    return at->second;
}

/// Adds shape \p shape, when it inks anything, in \p paint.
void add_object(State &s, int shape, const RunPaint &paint)
{
    if (s.scene->shapes.edge_count() > most_edges) {
        s.scene->pixels_only = true;
        s.skipped += 1 << 20; // nothing more is collected
    }
    if (shape < 0) {
        return;
    }
    const PixelRect box = intersection(s.scene->shapes.shape(shape).box, seen(s));
    if (box.empty()) {
        return;
    }
    // In an isolated group what lies under it is not there to be left alone.
    if (paint.replaces != s.scene->all_planes && s.isolated()) {
        by_pixels(s, box);
    }
    if (OpenGroup *merged = s.merged()) {
        // The topmost is all that is seen only where everything hides what is below; what is faint in a group
        // that knocks out does so, but not in a group of its own within.
        const bool knocks_out = merged->knockout && merged == &s.groups.back();
        const bool hides = paint.replaces == s.scene->all_planes && (knocks_out || paint.alpha == 255);
        merged->by_runs = merged->by_runs && hides;
        RunPaint laid = paint;
        laid.alpha = static_cast<std::uint8_t>(paint.alpha * merged->alpha / 255);
        s.scene->objects.push_back({shape, add_paint(s, laid), s.clip(), box, merged->number});
        return;
    }
    s.scene->objects.push_back({shape, add_paint(s, paint), s.clip(), box});
}

std::uint8_t strength_of(float alpha)
{
    return static_cast<std::uint8_t>(std::clamp(alpha, 0.0f, 1.0f) * 255);
}

/// The paint of a flat colour; none when it is not known in planes.
std::optional<RunPaint> flat_paint(fz_context *ctx, State &s, fz_colorspace *space, const float *value,
                                   float alpha, const fz_color_params &params)
{
    const auto &known = planes_of(ctx, s, space);
    if (!known) {
        return std::nullopt;
    }
    RunPaint paint;
    paint.replaces = params.op != 0 ? known->planes : s.scene->all_planes;
    for (std::size_t plane = 0; plane < paint.tones.size(); ++plane) {
        if (known->components[plane] >= 0) {
            const float tone = value[static_cast<std::size_t>(known->components[plane])];
            paint.tones[plane] = static_cast<std::uint8_t>(std::lround(std::clamp(tone, 0.0f, 1.0f) * 255));
        }
    }
    paint.alpha = strength_of(alpha);
    return paint;
}

void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        return;
    }
    if (const auto paint = flat_paint(ctx, s, space, value, alpha, params)) {
        s.scene->shapes.begin(even_odd != 0, true);
        add_fill(ctx, path, s.matrix(ctm), s.scene->shapes);
        add_object(s, s.scene->shapes.end(), *paint);
    } else {
        by_pixels(s, box_of(s, fz_bound_path(ctx, path, nullptr, ctm)));
    }
}

void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        return;
    }
    if (const auto paint = flat_paint(ctx, s, space, value, alpha, params)) {
        s.scene->shapes.begin(false, false);
        add_stroke(ctx, path, *stroke, s.matrix(ctm), s.scene->shapes);
        add_object(s, s.scene->shapes.end(), *paint);
    } else {
        by_pixels(s, box_of(s, fz_bound_path(ctx, path, stroke, ctm)));
    }
}

void paint_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                fz_matrix ctm, fz_colorspace *space, const float *value, float alpha,
                const fz_color_params &params)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        return;
    }
    const auto paint = flat_paint(ctx, s, space, value, alpha, params);
    s.scene->shapes.begin(false, stroke == nullptr);
    // Letters that overlap are seen once (ISO 32000-1, 9.3.8: text knocks out).
    const bool outlined = paint && add_text(ctx, text, stroke, s.matrix(ctm), s.glyphs, s.scene->shapes);
    const int shape = s.scene->shapes.end();
    if (outlined) {
        add_object(s, shape, *paint);
    } else {
        by_pixels(s, box_of(s, fz_bound_text(ctx, text, stroke, ctm)));
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

/// The corners of \p area, in another space, as a contour of the open shape.
void add_quad(State &s, fz_rect area, fz_matrix to_pixels)
{
    const auto corner = [&](float x, float y) {
        const fz_point p = fz_transform_point_xy(x, y, to_pixels);
        return PixelPoint{static_cast<double>(p.x), static_cast<double>(p.y)};
    };
    const std::array<PixelPoint, 4> corners = {corner(area.x0, area.y0), corner(area.x1, area.y0),
                                               corner(area.x1, area.y1), corner(area.x0, area.y1)};
    s.scene->shapes.polygon(corners);
}

/// Adds the shape closed last in the tones of \p sampler.
void add_sampled(State &s, int shape, std::unique_ptr<const Sampler> sampler, const SpacePlanes &known,
                 float alpha, const fz_color_params &params)
{
    RunPaint paint;
    paint.alpha = strength_of(alpha);
    paint.replaces = params.op != 0 ? known.planes : s.scene->all_planes;
    paint.sampled = known.planes;
    paint.sampler = static_cast<int>(s.scene->samplers.size());
    s.scene->samplers.push_back(std::move(sampler));
    add_object(s, shape, paint);
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

void fill_image(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        return;
    }
    const fz_matrix place = s.matrix(ctm);
    const fz_pixmap *pixels = pixels_of(image);
    const auto &known = planes_of(ctx, s, image->colorspace);
    const bool plain = known && pixels != nullptr && pixels->alpha == 0 && image->mask == nullptr;
    auto sampler = !plain                         ? nullptr
                   : image->interpolate != 0      ? blend_picture(pixels, place, known->components)
                   : stays_as_it_is(image, place) ? sample_picture(pixels, place, known->components)
                                                  : nullptr;
    if (sampler == nullptr) {
        by_pixels(s, box_of(s, fz_transform_rect(fz_unit_rect, ctm)));
        return;
    }
    s.scene->shapes.begin(false, true);
    add_quad(s, fz_unit_rect, place);
    add_sampled(s, s.scene->shapes.end(), std::move(sampler), *known, alpha, params);
}

/// Opens a clip by the shape closed last; one that inks nothing hides all.
void open_clip(State &s, int shape)
{
    RunClip clip;
    const int around = s.clip();
    clip.box = seen(s);
    if (around >= 0) {
        const RunClip &outer = s.scene->clips[static_cast<std::size_t>(around)];
        clip.around = outer.cuts() ? around : outer.around;
    }
    if (shape < 0) {
        clip.box = {};
    } else {
        const Shape &edge = s.scene->shapes.shape(shape);
        clip.box = intersection(clip.box, edge.box);
        clip.shape = edge.rectangle ? -1 : shape;
    }
    s.scene->clips.push_back(clip);
    s.clips.push_back(static_cast<int>(s.scene->clips.size()) - 1);
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
    s.scene->stencils.push_back(std::move(made));
    return static_cast<int>(s.scene->stencils.size()) - 1;
}

/// Opens a clip by stencil \p stencil, which lies at \p place.
void open_stencil(State &s, int stencil, const fz_matrix &place)
{
    s.scene->shapes.begin(false, true);
    add_quad(s, fz_unit_rect, place);
    open_clip(s, s.scene->shapes.end()); // it ends where its corners say
    RunClip clip = s.scene->clips.back();
    clip.around = clip.cuts() ? s.clip() : clip.around;
    clip.shape = -1;
    clip.stencil = stencil;
    s.scene->clips.push_back(clip);
    s.clips.back() = static_cast<int>(s.scene->clips.size()) - 1;
}

/// Where a linear gradient paints: the strip between its ends, and beyond those that it extends.
void add_strip(State &s, const fz_shade *shade, const fz_matrix &to_pixels)
{
    const auto &c = shade->u.l_or_r.coords;
    const auto point = [&](float x, float y, bool vector) {
        const fz_point p =
            vector ? fz_transform_vector({x, y}, to_pixels) : fz_transform_point_xy(x, y, to_pixels);
        return PixelPoint{static_cast<double>(p.x), static_cast<double>(p.y)};
    };
    PixelPoint start = point(c[0][0], c[0][1], false), end = point(c[1][0], c[1][1], false);
    PixelPoint side = point(c[0][1] - c[1][1], c[1][0] - c[0][0], true); // colours are alike along it
    const double far = 4.0 * (s.scene->page.width + s.scene->page.height) + std::hypot(start.x, start.y) +
                       std::hypot(end.x, end.y);
    const double along = std::hypot(end.x - start.x, end.y - start.y);
    const double across = std::hypot(side.x, side.y);
    if (!(along > 0) || !(across > 0)) {
        return;
    }
    side = {side.x * far / across, side.y * far / across};
    const PixelPoint ahead = {(end.x - start.x) * far / along, (end.y - start.y) * far / along};
    if (shade->u.l_or_r.extend[0] != 0) {
        start = {start.x - ahead.x, start.y - ahead.y};
    }
    if (shade->u.l_or_r.extend[1] != 0) {
        end = {end.x + ahead.x, end.y + ahead.y};
    }
    const std::array<PixelPoint, 4> corners = {
        PixelPoint{start.x + side.x, start.y + side.y}, PixelPoint{end.x + side.x, end.y + side.y},
        PixelPoint{end.x - side.x, end.y - side.y}, PixelPoint{start.x - side.x, start.y - side.y}};
    s.scene->shapes.polygon(corners);
}

/// Puts where a gradient that has a sampler paints into the open shape.
void add_gradient_area(State &s, const fz_shade *shade, fz_rect area, const fz_matrix &to_pixels)
{
    const bool before = shade->u.l_or_r.extend[0] != 0, after = shade->u.l_or_r.extend[1] != 0;
    const auto &c = shade->u.l_or_r.coords;
    if (shade->type == FZ_LINEAR) {
        add_strip(s, shade, to_pixels);
        return;
    }
    // One circle within the other: the ring between them, the inner one, all around.
    const double r0 = static_cast<double>(c[0][2]), r1 = static_cast<double>(c[1][2]);
    const std::size_t outer = r1 > r0 ? 1 : 0;
    const bool beyond = outer == 1 ? after : before;
    const bool inside = outer == 1 ? before : after;
    const auto circle = [&](std::size_t which) {
        constexpr int corners = 2048;
        std::vector<PixelPoint> points;
        for (int i = 0; i < corners; ++i) {
            const double turn = 2 * std::numbers::pi * i / corners;
            const fz_point p = fz_transform_point_xy(
                c[which][0] + c[which][2] * static_cast<float>(std::cos(turn)),
                c[which][1] + c[which][2] * static_cast<float>(std::sin(turn)), to_pixels);
            points.push_back({static_cast<double>(p.x), static_cast<double>(p.y)});
        }
        s.scene->shapes.polygon(points);
    };
    if (beyond) {
        add_quad(s, area, fz_identity);
    } else {
        circle(outer);
    }
    if (!inside && c[1 - outer][2] > 0) {
        circle(1 - outer);
    }
}

void fill_shade(fz_context *ctx, fz_device *device, fz_shade *shade, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        return;
    }
    const fz_rect bounds = fz_bound_shade(ctx, shade, ctm);
    const auto &known = planes_of(ctx, s, shade->colorspace);
    const fz_matrix place = s.matrix(fz_concat(shade->matrix, ctm));
    auto sampler = known ? sample_shade(shade, place, known->components) : nullptr;
    if (sampler != nullptr) {
        const PixelRect &page = s.scene->page;
        const fz_rect all = {0, 0, static_cast<float>(page.width), static_cast<float>(page.height)};
        const fz_rect area = fz_is_infinite_rect(bounds)
                                 ? all
                                 : fz_intersect_rect(all, fz_transform_rect(bounds, s.to_pixels));
        s.scene->shapes.begin(true, true);
        add_gradient_area(s, shade, area, place);
        const int shape = s.scene->shapes.end();
        s.scene->shapes.begin(false, true); // what bounds it besides is a clip of its own
        add_quad(s, area, fz_identity);
        open_clip(s, s.scene->shapes.end());
        add_sampled(s, shape, std::move(sampler), *known, alpha, params);
        s.clips.pop_back();
        return;
    }
    by_pixels(s, box_of(s, bounds));
}

/// Paints \p area by pixels until what opens here is closed.
void skip(State &s, const PixelRect &area)
{
    if (s.skipped == 0) {
        by_pixels(s, area);
    }
    ++s.skipped;
}

void clip_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm, fz_rect)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        ++s.skipped;
        return;
    }
    s.scene->shapes.begin(even_odd != 0, true);
    add_fill(ctx, path, s.matrix(ctm), s.scene->shapes);
    open_clip(s, s.scene->shapes.end());
}

void clip_stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        ++s.skipped;
        return;
    }
    s.scene->shapes.begin(false, false);
    add_stroke(ctx, path, *stroke, s.matrix(ctm), s.scene->shapes);
    open_clip(s, s.scene->shapes.end());
}

void clip_by_text(fz_context *ctx, State &s, const fz_text *text, const fz_stroke_state *stroke,
                  fz_matrix ctm)
{
    if (s.skipped > 0) {
        ++s.skipped;
        return;
    }
    s.scene->shapes.begin(false, stroke == nullptr);
    const bool outlined = add_text(ctx, text, stroke, s.matrix(ctm), s.glyphs, s.scene->shapes);
    const int shape = s.scene->shapes.end();
    if (outlined) {
        open_clip(s, shape);
    } else {
        skip(s, box_of(s, fz_bound_text(ctx, text, stroke, ctm)));
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
    const int stencil = s.skipped > 0 ? -1 : stencil_of(ctx, s, image, s.matrix(ctm));
    if (stencil >= 0) {
        open_stencil(s, stencil, s.matrix(ctm));
    } else {
        skip(s, box_of(s, fz_transform_rect(fz_unit_rect, ctm)));
    }
}

void pop_clip(fz_context *, fz_device *device)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        --s.skipped;
    } else if (!s.clips.empty()) {
        s.clips.pop_back();
    }
}

void fill_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_colorspace *space,
                     const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        return;
    }
    const fz_matrix place = s.matrix(ctm);
    const auto paint = flat_paint(ctx, s, space, value, alpha, params);
    const int stencil = paint ? stencil_of(ctx, s, image, place) : -1;
    if (stencil < 0) {
        by_pixels(s, box_of(s, fz_transform_rect(fz_unit_rect, ctm)));
        return;
    }
    open_stencil(s, stencil, place);
    s.scene->shapes.begin(false, true);
    add_quad(s, fz_unit_rect, place);
    add_object(s, s.scene->shapes.end(), *paint);
    s.clips.pop_back();
}

void begin_mask(fz_context *, fz_device *device, fz_rect area, int, fz_colorspace *, const float *,
                fz_color_params)
{
    State &s = state_of(device);
    skip(s, box_of(s, area));
}

void end_mask(fz_context *, fz_device *) {} // it now clips until pop_clip

void begin_group(fz_context *, fz_device *device, fz_rect area, fz_colorspace *, int isolated, int knockout,
                 int blend, float alpha)
{
    State &s = state_of(device);
    const PixelRect box = box_of(s, area);
    const bool merges = alpha < 1.0f || knockout != 0;
    if (s.skipped > 0 || blend != FZ_BLEND_NORMAL || (merges && s.merged() != nullptr)) {
        skip(s, box);
        return;
    }
    // At full strength, in the order of painting, a group is what lies in it.
    OpenGroup group;
    group.isolated = isolated != 0;
    if (merges) {
        group.number = s.scene->groups++;
        group.knockout = knockout != 0;
        group.alpha = strength_of(alpha);
        group.box = box;
        group.objects = s.scene->objects.size();
        group.pixel_boxes = s.scene->pixel_boxes.size();
    }
    s.groups.push_back(group);
}

void end_group(fz_context *, fz_device *device)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        --s.skipped;
    } else if (!s.groups.empty()) {
        const OpenGroup group = s.groups.back();
        s.groups.pop_back();
        if (!group.by_runs) { // all of it, then
            s.scene->objects.resize(group.objects);
            s.scene->pixel_boxes.resize(group.pixel_boxes);
            by_pixels(s, group.box);
        }
    }
}

int begin_tile(fz_context *, fz_device *device, fz_rect area, fz_rect, float, float, fz_matrix ctm, int)
{
    State &s = state_of(device);
    skip(s, box_of(s, fz_transform_rect(area, ctm)));
    return 0;
}

void end_tile(fz_context *, fz_device *device)
{
    State &s = state_of(device);
    s.skipped = std::max(0, s.skipped - 1);
}

} // namespace

fz_device *new_run_device(fz_context *ctx, RunScene &scene, const fz_matrix &to_pixels,
                          const std::vector<std::string> &planes)
{
    OwnDevice<State> *device = OwnDevice<State>::make(ctx);
    State &s = *device->state;
    s.scene = &scene;
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
