#include "core/page/runs/run_scene.h"

#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/own_device.h"
#include "core/base/pixel_rect.h"
#include "core/page/kept_pixmap.h"
#include "core/page/pixel_image.h"
#include "core/page/runs/gradient_area.h"
#include "core/page/runs/outlines.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <string_view>
#include <utility>

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
    std::uint8_t alpha = 255; ///< at which strength they are, those of numbered groups around it included
    bool by_runs = true;      ///< so far
    PixelRect box{};
    std::size_t objects = 0, pixel_boxes = 0, masks = 0; ///< before it
    int mask = -1;                                       ///< that its objects are painted through
    bool multiplies = false;                             ///< see RunPaint
    bool faint = false;                                  ///< what lies in it does not hide what is below
};

/// How the tones of a mask are made of its content.
enum class MaskOf
{
    Luminosity,
    Alpha
};

/// What is collected into one scene.
struct Collected
{
    RunScene *scene = nullptr;
    std::map<std::string, int, std::less<>> plane_of;
    std::map<const fz_colorspace *, std::optional<SpacePlanes>> spaces;
    std::map<std::string, int> paint_of; ///< by its bytes
    std::vector<int> clips;              ///< open ones; −1 is the page
    std::vector<OpenGroup> groups;
    std::vector<std::size_t> masked; ///< how many clips are open where one ends that is a soft mask
    std::optional<MaskOf> mask;      ///< whose content it is
};

/// A mask whose content is being collected.
struct OpenMask
{
    Collected around;
    std::unique_ptr<RunScene> scene;
    PixelRect box;
    int level = 0; ///< of masks
};

struct State : Collected
{
    std::shared_ptr<MupdfRuntime> runtime;
    fz_matrix to_pixels{};
    GlyphOutlines glyphs;
    std::size_t other_edges = 0;      ///< in scenes but the one that is collected into
    std::vector<OpenMask> open_masks; ///< each within the content of the one before
    int mask_level = 0;               ///< how many are open, those within what is painted by pixels too
    int skipped = 0; ///< open groups, clips, tiles and masks within what is painted by pixels

    [[nodiscard]] fz_matrix matrix(fz_matrix ctm) const { return fz_concat(ctm, to_pixels); }
    [[nodiscard]] int clip() const { return clips.empty() ? -1 : clips.back(); }
    [[nodiscard]] bool isolated() const
    {
        return std::any_of(groups.begin(), groups.end(), [](const OpenGroup &one) { return one.isolated; });
    }
    /// The innermost open group that has a number, or null. It is all that lies in those around it.
    [[nodiscard]] OpenGroup *merged()
    {
        const auto at = std::find_if(groups.rbegin(), groups.rend(),
                                     [](const OpenGroup &one) { return one.number >= 0; });
        return at == groups.rend() ? nullptr : &*at;
    }
    /// Whether another one can be opened, as far as runs can say it.
    [[nodiscard]] bool can_merge(bool has_mask, bool multiplies)
    {
        const OpenGroup *outer = merged();
        if (outer == nullptr) {
            return !multiplies || !isolated();
        }
        return scene->objects.size() == outer->objects && !(has_mask && outer->mask >= 0) && !multiplies;
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
        for (OpenGroup &group : s.groups) {
            group.by_runs = group.number < 0; // all of it is looked at together
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

/// The one of a mask.
SpacePlanes plane_of_mask()
{
    SpacePlanes only;
    only.components.fill(-1);
    only.components[0] = 0;
    only.planes = 1;
    return only;
}

int add_paint(State &s, const RunPaint &paint)
{
    if (paint.sampler >= 0 || paint.mask >= 0) {
        s.scene->paints.push_back(paint);
        return static_cast<int>(s.scene->paints.size()) - 1;
    }
    std::string key(reinterpret_cast<const char *>(paint.tones.data()), paint.tones.size());
    key.push_back(static_cast<char>(paint.alpha));
    key.push_back(paint.multiplies ? '*' : ' ');
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
    if (s.other_edges + s.scene->shapes.edge_count() > most_edges) {
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
        // Where it lies alone it may be faint.
        const bool knocks_out = merged->knockout && merged == &s.groups.back();
        const bool hides = knocks_out || paint.alpha == 255;
        const bool alone = s.scene->objects.size() == merged->objects;
        merged->by_runs =
            merged->by_runs && paint.replaces == s.scene->all_planes && !merged->faint && (hides || alone);
        merged->faint = !hides;
        RunPaint laid = paint;
        laid.alpha = static_cast<std::uint8_t>(paint.alpha * merged->alpha / 255);
        laid.multiplies = merged->multiplies;
        RunObject object{shape, add_paint(s, laid), s.clip(), box, merged->number};
        if (merged->mask >= 0) {
            laid.mask = merged->mask;
            object.masked = add_paint(s, laid);
        }
        s.scene->objects.push_back(object);
        return;
    }
    s.scene->objects.push_back({shape, add_paint(s, paint), s.clip(), box});
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
    if (s.mask) {
        paint.replaces = s.scene->all_planes;
        paint.tones[0] = *s.mask == MaskOf::Alpha ? std::uint8_t(255) : grey_of(ctx, space, value, params);
        return paint;
    }
    const auto &known = planes_of(ctx, s, space);
    if (!known) {
        return std::nullopt;
    }
    paint.replaces = params.op != 0 ? known->planes : s.scene->all_planes;
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

/// Adds the shape closed last in the tones of \p sampler.
void add_sampled(State &s, int shape, std::unique_ptr<const Sampler> sampler, const SpacePlanes &known,
                 float alpha, const fz_color_params &params)
{
    RunPaint paint;
    paint.alpha = strength_of(alpha);
    paint.replaces = params.op != 0 ? known.planes : s.scene->all_planes;
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
        paint.sampler = static_cast<int>(s.scene->samplers.size());
        s.scene->samplers.push_back(std::move(sampler));
    }
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
    s.scene->kept.push_back(std::make_shared<const KeptPixmap>(s.runtime, pixels));
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
    auto sampler = *s.mask == MaskOf::Luminosity ? sample_grey(ctx, s, image, place) : nullptr;
    const bool solid = *s.mask == MaskOf::Alpha && image->mask == nullptr && image->use_colorkey == 0;
    if (sampler == nullptr && !solid) {
        by_pixels(s, box_of(s, fz_transform_rect(fz_unit_rect, ctm)));
        return;
    }
    s.scene->shapes.begin(false, true);
    add_quad(fz_unit_rect, place, s.scene->shapes);
    const int shape = s.scene->shapes.end();
    if (sampler != nullptr) {
        add_sampled(s, shape, std::move(sampler), plane_of_mask(), alpha, params);
    } else if (const auto paint = flat_paint(ctx, s, nullptr, nullptr, alpha, params)) {
        add_object(s, shape, *paint);
    }
}

void fill_image(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        return;
    }
    const fz_matrix place = s.matrix(ctm);
    if (s.mask) {
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
        by_pixels(s, box_of(s, fz_transform_rect(fz_unit_rect, ctm)));
        return;
    }
    s.scene->shapes.begin(false, true);
    add_quad(fz_unit_rect, place, s.scene->shapes);
    add_sampled(s, s.scene->shapes.end(), std::move(sampler), *known, alpha, params);
}

/// A clip that cuts nothing more than those that are open.
RunClip clip_within(const State &s)
{
    RunClip clip;
    clip.box = seen(s);
    if (const int around = s.clip(); around >= 0) {
        const RunClip &outer = s.scene->clips[static_cast<std::size_t>(around)];
        clip.around = outer.cuts() ? around : outer.around;
    }
    return clip;
}

void open_clip(State &s, const RunClip &clip)
{
    s.scene->clips.push_back(clip);
    s.clips.push_back(static_cast<int>(s.scene->clips.size()) - 1);
}

/// Opens a clip by the shape closed last; one that inks nothing hides all.
void open_clip(State &s, int shape)
{
    RunClip clip = clip_within(s);
    if (shape < 0) {
        clip.box = {};
    } else {
        const Shape &edge = s.scene->shapes.shape(shape);
        clip.box = intersection(clip.box, edge.box);
        clip.shape = edge.rectangle ? -1 : shape;
    }
    open_clip(s, clip);
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
    add_quad(fz_unit_rect, place, s.scene->shapes);
    open_clip(s, s.scene->shapes.end()); // it ends where its corners say
    RunClip clip = s.scene->clips.back();
    clip.around = clip.cuts() ? s.clip() : clip.around;
    clip.shape = -1;
    clip.stencil = stencil;
    s.scene->clips.push_back(clip);
    s.clips.back() = static_cast<int>(s.scene->clips.size()) - 1;
}

void fill_shade(fz_context *ctx, fz_device *device, fz_shade *shade, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        return;
    }
    const fz_rect bounds = fz_bound_shade(ctx, shade, ctm);
    const fz_matrix place = s.matrix(fz_concat(shade->matrix, ctm));
    const std::optional<SpacePlanes> known = s.mask ? plane_of_mask() : planes_of(ctx, s, shade->colorspace);
    auto sampler = !known   ? nullptr
                   : s.mask ? sample_luminosity(ctx, shade, place, params)
                            : sample_shade(shade, place, known->components);
    if (sampler != nullptr) {
        const PixelRect &page = s.scene->page;
        const fz_rect all = {0, 0, static_cast<float>(page.width), static_cast<float>(page.height)};
        const fz_rect area = fz_is_infinite_rect(bounds)
                                 ? all
                                 : fz_intersect_rect(all, fz_transform_rect(bounds, s.to_pixels));
        s.scene->shapes.begin(true, true);
        add_gradient_area(shade, area, place, page, s.scene->shapes);
        const int shape = s.scene->shapes.end();
        s.scene->shapes.begin(false, true); // what bounds it besides is a clip of its own
        add_quad(area, fz_identity, s.scene->shapes);
        open_clip(s, s.scene->shapes.end());
        if (s.mask == MaskOf::Alpha) { // whatever its colours are
            add_object(s, shape, *flat_paint(ctx, s, nullptr, nullptr, alpha, params));
        } else {
            add_sampled(s, shape, std::move(sampler), *known, alpha, params);
        }
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

/// Opens \p group, whose objects hide each other before they are laid on the page. \pre s.can_merge()
void merge(State &s, OpenGroup group)
{
    if (const OpenGroup *outer = s.merged()) {
        group.number = outer->number;
        group.alpha = static_cast<std::uint8_t>(group.alpha * outer->alpha / 255);
        group.mask = std::max(group.mask, outer->mask);
        group.multiplies = outer->multiplies;
    } else {
        group.number = s.scene->groups++;
    }
    group.objects = s.scene->objects.size();
    group.pixel_boxes = s.scene->pixel_boxes.size();
    group.masks = s.scene->masks.size();
    s.groups.push_back(group);
}

/// Opens a clip by \p mask, as far as \p box: what is painted until it ends is laid on the page through it.
/// \pre s.can_merge()
void paint_through(State &s, std::unique_ptr<const RunScene> mask, const PixelRect &box)
{
    OpenGroup group;
    group.mask = static_cast<int>(s.scene->masks.size());
    group.box = box;
    merge(s, group);
    RunClip clip = clip_within(s);
    clip.box = intersection(clip.box, box);
    open_clip(s, clip);
    s.masked.push_back(s.clips.size());
    s.scene->masks.push_back({std::move(mask), clip.box});
}

void clip_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_rect)
{
    State &s = state_of(device);
    const fz_matrix place = s.matrix(ctm);
    if (const int stencil = s.skipped > 0 ? -1 : stencil_of(ctx, s, image, place); stencil >= 0) {
        open_stencil(s, stencil, place);
        return;
    }
    const PixelRect box = box_of(s, fz_transform_rect(fz_unit_rect, ctm));
    auto sampler = s.skipped > 0 || !s.can_merge(true, false) ? nullptr : sample_grey(ctx, s, image, place);
    if (sampler == nullptr) {
        skip(s, box);
        return;
    }
    auto mask = std::make_unique<RunScene>(s.scene->page.width, s.scene->page.height);
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
    paint_through(s, std::move(mask), box);
}

/// Ends the group opened last, which is painted by pixels where runs cannot say it.
void close_group(State &s)
{
    const OpenGroup group = s.groups.back();
    s.groups.pop_back();
    if (!group.by_runs) { // all of it, then
        s.scene->objects.resize(group.objects);
        s.scene->pixel_boxes.resize(group.pixel_boxes);
        s.scene->masks.resize(group.masks);
        by_pixels(s, group.box);
    } else if (OpenGroup *outer = group.number < 0 ? nullptr : s.merged()) {
        outer->faint = outer->faint || s.scene->objects.size() > group.objects;
    }
}

void pop_clip(fz_context *, fz_device *device)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        --s.skipped;
    } else if (!s.clips.empty()) {
        if (!s.masked.empty() && s.masked.back() == s.clips.size() && !s.groups.empty()) {
            s.masked.pop_back();
            close_group(s);
        }
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
    add_quad(fz_unit_rect, place, s.scene->shapes);
    add_object(s, s.scene->shapes.end(), *paint);
    s.clips.pop_back();
}

/// The pixels that \p area, in points, has a part in.
PixelRect pixels_in(const State &s, fz_rect area)
{
    const PixelRect &page = s.scene->page;
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
    ++s.mask_level;
    if (s.skipped > 0 || !s.can_merge(true, false)) {
        skip(s, box_of(s, area));
        return;
    }
    const PixelRect page = s.scene->page;
    const PixelRect box = pixels_in(s, area);
    auto scene = std::make_unique<RunScene>(page.width, page.height);
    scene->all_planes = 1;
    Collected content;
    content.scene = scene.get();
    content.mask = luminosity != 0 ? MaskOf::Luminosity : MaskOf::Alpha;
    s.other_edges += s.scene->shapes.edge_count();
    Collected &current = s;
    s.open_masks.push_back({std::exchange(current, std::move(content)), std::move(scene), box, s.mask_level});
    if (luminosity != 0 && space != nullptr && backdrop != nullptr) {
        if (const std::uint8_t grey = grey_of(ctx, space, backdrop, params); grey > 0) {
            RunPaint paint;
            paint.replaces = 1;
            paint.tones[0] = grey;
            s.scene->shapes.begin(false, true);
            add_quad({0, 0, static_cast<float>(page.width), static_cast<float>(page.height)}, fz_identity,
                     s.scene->shapes);
            add_object(s, s.scene->shapes.end(), paint);
        }
    }
}

/// The mask now clips until pop_clip.
void end_mask(fz_context *, fz_device *device)
{
    State &s = state_of(device);
    const int level = s.mask_level--;
    if (s.open_masks.empty() || s.open_masks.back().level != level) {
        return; // it lies in what is painted by pixels
    }
    OpenMask mask = std::move(s.open_masks.back());
    s.open_masks.pop_back();
    static_cast<Collected &>(s) = std::move(mask.around);
    s.other_edges -= s.scene->shapes.edge_count();
    if (mask.scene->pixels_only || !mask.scene->pixel_boxes.empty()) {
        s.skipped = 0;
        skip(s, mask.box);
    } else {
        s.other_edges += mask.scene->shapes.edge_count();
        paint_through(s, std::move(mask.scene), mask.box);
    }
}

void begin_group(fz_context *, fz_device *device, fz_rect area, fz_colorspace *, int isolated, int knockout,
                 int blend, float alpha)
{
    State &s = state_of(device);
    const PixelRect box = box_of(s, area);
    const bool multiplies = blend == FZ_BLEND_MULTIPLY;
    const bool merges = alpha < 1.0f || knockout != 0 || multiplies;
    if (s.skipped > 0 || (blend != FZ_BLEND_NORMAL && !multiplies) ||
        (merges && !s.can_merge(false, multiplies))) {
        skip(s, box);
        return;
    }
    // At full strength, in the order of painting, a group is what lies in it.
    OpenGroup group;
    group.isolated = isolated != 0;
    if (!merges) {
        s.groups.push_back(group);
        return;
    }
    group.knockout = knockout != 0;
    group.alpha = strength_of(alpha);
    group.multiplies = multiplies;
    group.box = box;
    merge(s, group);
}

void end_group(fz_context *, fz_device *device)
{
    State &s = state_of(device);
    if (s.skipped > 0) {
        --s.skipped;
    } else if (!s.groups.empty()) {
        close_group(s);
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
                          const std::vector<std::string> &planes, std::shared_ptr<MupdfRuntime> runtime)
{
    OwnDevice<State> *device = OwnDevice<State>::make(ctx);
    State &s = *device->state;
    s.runtime = std::move(runtime);
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
