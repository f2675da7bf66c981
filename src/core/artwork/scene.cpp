#include "core/artwork/scene.h"

#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/own_device.h"
#include "core/artwork/mupdf/page_content_impl.h"
#include "core/artwork/mupdf/painting_order.h"
#include "core/artwork/mupdf/point_probe.h"
#include "core/artwork/mupdf/text_runs.h"
#include "core/artwork/mupdf/type3.h"
#include "core/artwork/text_encoding.h"
#include "core/colour/colour_difference.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <set>
#include <unordered_map>

namespace bichrom {

namespace {

/// Collects what the recording device sees.
struct Recorder
{
    const PageColours &colours;
    Scene scene;
    std::array<FoundInk, 4> process;
    std::vector<FoundInk> spots;
    std::set<std::pair<const fz_colorspace *, int>> stand_ins; ///< components whose look has been compared
    PaintingOrder order;
    std::unordered_map<std::string, int> numbers; ///< of colours, by space and values
    std::unordered_map<std::string, int> by_name; ///< of colours, by name_of()
    int mask_depth = 0;
    PointProbe *probe = nullptr; ///< when only the objects at a point are asked for
    std::vector<int> hits;       ///< their indices

    /// An open group, with those around it.
    struct Group
    {
        int blend = 0;
        float alpha = 1.0f;
    };
    std::vector<Group> groups;
    struct Clip
    {
        bool soft = false; ///< a soft mask
        bool odd = false;  ///< no upright rectangle
    };
    std::vector<Clip> clips; ///< open ones
    int soft_masks = 0;      ///< of them
    int odd_clips = 0;
    std::vector<fz_rect> tiles; ///< areas that open tiling patterns fill, page space

    explicit Recorder(const PageColours &page_colours) : colours(page_colours)
    {
        for (std::size_t i = 0; i < 4; ++i) {
            Cmyk solid{};
            solid[i] = 1.0f;
            process[i] = {process_names[i], InkKind::Process, colours.condition().to_lab(solid), 0};
        }
    }

    FoundInk &spot(fz_context *ctx, fz_colorspace *space, int component, const std::string &name)
    {
        const bool first_time = stand_ins.emplace(space, component).second;
        float solid[FZ_MAX_COLORS] = {};
        solid[component] = 1.0f;
        for (FoundInk &ink : spots) {
            if (ink.name != name) {
                continue;
            }
            if (first_time) {
                constexpr double alike = 2.0; // ΔE00: rounding of the file's numbers
                const Lab look = colours.to_lab(colours.alternate(ctx, space, solid));
                const auto near = [&](const Lab &one) { return ciede2000(one, look) <= alike; };
                if (!near(ink.solid) &&
                    std::none_of(ink.other_solids.begin(), ink.other_solids.end(), near)) {
                    ink.other_solids.push_back(look);
                }
            }
            return ink;
        }
        spots.push_back({name, InkKind::Spot, colours.to_lab(colours.alternate(ctx, space, solid)), 0});
        return spots.back();
    }

    void count_process(const Cmyk &cmyk)
    {
        for (std::size_t i = 0; i < 4; ++i) {
            process[i].objects += std::lround(cmyk[i] * 255.0f) > 0 ? 1 : 0;
        }
    }

    /// Notes the inks that \p space names. \p value is null for images and shadings,
    /// which may use any value.
    void count_inks(fz_context *ctx, fz_colorspace *space, const float *value)
    {
        fz_colorspace *base = base_space(space);
        if (base == nullptr) {
            return;
        }
        if (colours.names_inks(ctx, base)) {
            const std::vector<std::string> names = colours.colorant_names(ctx, base);
            for (int i = 0; i < base->n; ++i) {
                const std::string &name = names[static_cast<std::size_t>(i)];
                if (name == "All") {
                    scene.uses_registration_colour = true;
                } else if (const int p = process_index(name); p >= 0) {
                    ++process[static_cast<std::size_t>(p)].objects;
                } else if (name != "None" && !name.empty()) {
                    ++spot(ctx, base, i, name).objects;
                }
            }
            return;
        }
        if (value != nullptr) {
            count_process(colours.to_cmyk(colours.alternate(ctx, space, value)));
        } else {
            count_process(base->n == 1 ? Cmyk{0, 0, 0, 1} : Cmyk{1, 1, 1, 1});
        }
    }

    /// Everything that tells one colour from another.
    static std::string name_of(const FoundColour &found)
    {
        std::string text =
            std::to_string(found.artwork) + '\n' + found.colour.space + '\n' + found.colour.profile;
        for (const std::string &colorant : found.colour.colorants) {
            text += '\n' + colorant;
        }
        text += '\n';
        text.append(reinterpret_cast<const char *>(found.colour.values.data()),
                    found.colour.values.size() * sizeof(float));
        return text;
    }

    /// The place of a colour among the distinct ones; it is added when it is new.
    int number_of(fz_context *ctx, fz_colorspace *space, const float *value)
    {
        const int artwork = order.artwork();
        std::string key(reinterpret_cast<const char *>(&space), sizeof space);
        key.append(reinterpret_cast<const char *>(&artwork), sizeof artwork);
        if (value != nullptr) {
            key.append(reinterpret_cast<const char *>(value),
                       static_cast<std::size_t>(space->n) * sizeof(float));
        }
        const auto [place, is_new] = numbers.try_emplace(std::move(key), 0);
        if (is_new) { // the same space may have been loaded twice
            FoundColour found = colours.found(ctx, space, value);
            found.artwork = artwork;
            const auto [same, unknown] =
                by_name.try_emplace(name_of(found), static_cast<int>(scene.colours.size()));
            place->second = same->second;
            if (unknown) {
                scene.colours.push_back(std::move(found));
            }
        }
        return place->second;
    }

    SceneObject *add(fz_context *ctx, fz_device *device, ObjectKind kind, fz_rect bounds,
                     fz_colorspace *space, const float *value, float alpha, fz_color_params params)
    {
        if (mask_depth > 0) {
            return nullptr;
        }
        // Never without any area, so that what exists has a place; lines of no width and blanks do.
        constexpr float least = 0.05f; // points
        if (bounds.x1 - bounds.x0 < least || bounds.y1 - bounds.y0 < least) {
            bounds = fz_expand_rect(bounds, least / 2);
        }
        // Within a pattern, scissors are those of its cell, drawn once: its object's area counts.
        bounds =
            !tiles.empty() ? tiles.back() : fz_intersect_rect(bounds, fz_device_current_scissor(ctx, device));
        SceneObject object;
        object.in_pattern = !tiles.empty();
        object.clipped_away = fz_is_empty_rect(bounds);
        object.soft_masked = soft_masks > 0;
        object.cut = odd_clips > 0;
        if (!groups.empty()) {
            object.blend = groups.back().blend;
            object.group_alpha = groups.back().alpha;
        }
        const ObjectPlace place = order.next();
        object.index = place.index;
        object.artwork = place.artwork;
        object.own_index = place.own_index;
        object.kind = kind;
        if (!fz_is_empty_rect(bounds)) {
            object.bounds = {static_cast<double>(bounds.x0), static_cast<double>(bounds.y0),
                             static_cast<double>(bounds.x1) - static_cast<double>(bounds.x0),
                             static_cast<double>(bounds.y1) - static_cast<double>(bounds.y0)};
        }
        object.colour_number = number_of(ctx, space, value);
        FoundColour &found = scene.colours[static_cast<std::size_t>(object.colour_number)];
        ++found.objects;
        object.colour = found.colour;
        object.overprint = params.op != 0;
        object.overprint_mode = params.opm;
        object.alpha = alpha;
        object.layer = order.layer();
        scene.uses_overprint = scene.uses_overprint || object.overprint;
        scene.uses_transparency = scene.uses_transparency || alpha < 1.0f || object.soft_masked;
        count_inks(ctx, space, value);
        scene.objects.push_back(std::move(object));
        return &scene.objects.back();
    }
};

/// Notes \p object as a hit when the probe is near it and \p paints says that it is touched.
template <typename Test> void try_object(Recorder &r, const SceneObject *object, fz_rect bounds, Test paints)
{
    if (r.probe != nullptr && object != nullptr && r.probe->may_touch(bounds)) {
        const int index = object->index;
        if (paints(*r.probe)) {
            r.hits.push_back(index);
        }
    }
}

struct RecordingDevice
{
    fz_device super;
    Recorder *recorder;
};

Recorder &recorder(fz_device *device)
{
    return *reinterpret_cast<RecordingDevice *>(device)->recorder;
}

/// Adds to \p hash (FNV-1a).
void mix(std::uint64_t &hash, std::uint64_t value)
{
    hash = (hash ^ value) * 1099511628211ull;
}

void mix(std::uint64_t &hash, fz_point at)
{
    constexpr float steps = 100; // a hundredth of a point is the same place
    mix(hash, static_cast<std::uint64_t>(static_cast<std::uint32_t>(std::lround(at.x * steps))) << 32 |
                  static_cast<std::uint32_t>(std::lround(at.y * steps)));
}

constexpr std::uint64_t hash_start = 14695981039346656037ull;

/// A path on its way into its object.
struct ShapeWalk
{
    fz_matrix ctm;
    bool upright = true;
    fz_point last{};
    std::uint64_t hash = hash_start;
    int segments = 0;

    void go(float x, float y)
    {
        last = fz_transform_point_xy(x, y, ctm);
        mix(hash, last);
    }
};

void shape_move(fz_context *, void *walk, float x, float y)
{
    static_cast<ShapeWalk *>(walk)->go(x, y);
}
void shape_line(fz_context *, void *walk, float x, float y)
{
    auto *shape = static_cast<ShapeWalk *>(walk);
    ++shape->segments;
    const fz_point from = shape->last;
    shape->go(x, y);
    constexpr float same = 0.01f; // points
    shape->upright = shape->upright &&
                     (std::fabs(shape->last.x - from.x) < same || std::fabs(shape->last.y - from.y) < same);
}
void shape_curve(fz_context *, void *walk, float x1, float y1, float x2, float y2, float x3, float y3)
{
    auto *shape = static_cast<ShapeWalk *>(walk);
    ++shape->segments;
    shape->upright = false;
    shape->go(x1, y1);
    shape->go(x2, y2);
    shape->go(x3, y3);
}
void shape_close(fz_context *, void *walk)
{
    mix(static_cast<ShapeWalk *>(walk)->hash, std::uint64_t(7));
}
constexpr fz_path_walker shape_walker = {shape_move, shape_line, shape_curve, shape_close,
                                         nullptr,    nullptr,    nullptr,     nullptr};

void note_shape(fz_context *ctx, SceneObject &object, const fz_path *path, fz_matrix ctm, long how)
{
    ShapeWalk walk{ctm};
    mix(walk.hash, static_cast<std::uint64_t>(how));
    fz_walk_path(ctx, path, &shape_walker, &walk);
    object.segments = walk.segments;
    object.upright = walk.upright;
    object.shape = walk.hash;
}

void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    const fz_rect bounds = fz_bound_path(ctx, path, nullptr, ctm);
    SceneObject *object =
        recorder(device).add(ctx, device, ObjectKind::Fill, bounds, space, value, alpha, params);
    if (object != nullptr && recorder(device).probe == nullptr) {
        note_shape(ctx, *object, path, ctm, even_odd != 0 ? 1 : 2);
    }
    try_object(recorder(device), object, bounds,
               [&](PointProbe &probe) { return probe.fills(ctx, path, even_odd, ctm); });
}

/// The area a line paints, as far as half its width reaches; right corners and square ends reach
/// √2 times as far. MuPDF's own bound allows for the sharpest corner there could be, ten times too wide.
fz_rect stroke_bounds(fz_context *ctx, const fz_path *path, const fz_stroke_state *stroke, fz_matrix ctm)
{
    constexpr float diagonal = 1.41421356f;
    const bool round = stroke->linejoin == FZ_LINEJOIN_ROUND && stroke->start_cap != FZ_LINECAP_SQUARE &&
                       stroke->end_cap != FZ_LINECAP_SQUARE;
    constexpr float thinnest = 0.05f; // points: lines of no width are as thin as the device can
    const float reach =
        std::max(thinnest, stroke->linewidth * 0.5f * fz_matrix_expansion(ctm) * (round ? 1.0f : diagonal));
    return fz_expand_rect(fz_bound_path(ctx, path, nullptr, ctm), reach);
}

void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    const fz_rect bounds = stroke_bounds(ctx, path, stroke, ctm);
    SceneObject *object =
        recorder(device).add(ctx, device, ObjectKind::Stroke, bounds, space, value, alpha, params);
    if (object != nullptr) {
        object->stroke_width = static_cast<double>(stroke->linewidth * fz_matrix_expansion(ctm));
        if (recorder(device).probe == nullptr) {
            note_shape(ctx, *object, path, ctm, 3 + std::lround(object->stroke_width * 1000));
        }
    }
    try_object(recorder(device), object, bounds,
               [&](PointProbe &probe) { return probe.strokes(ctx, path, stroke, ctm); });
}

/// Fonts and sizes of a text object, cut by its clips.
void note_runs(fz_context *ctx, fz_device *device, SceneObject &object, const fz_text *text, fz_matrix ctm)
{
    object.runs = text_runs(ctx, text, ctm);
    const fz_rect clip = fz_device_current_scissor(ctx, device);
    for (TextRun &run : object.runs) {
        const double left = std::max(run.bounds.x, static_cast<double>(clip.x0));
        const double top = std::max(run.bounds.y, static_cast<double>(clip.y0));
        run.bounds =
            object.in_pattern
                ? object.bounds
                : Rect{left, top,
                       std::min(run.bounds.x + run.bounds.width, static_cast<double>(clip.x1)) - left,
                       std::min(run.bounds.y + run.bounds.height, static_cast<double>(clip.y1)) - top};
        if (run.bounds.width <= 0 || run.bounds.height <= 0) {
            run.bounds = {};
        }
        object.font_embedded = object.font_embedded && run.embedded;
        object.font_size = object.font_size > 0 ? std::min(object.font_size, run.size) : run.size;
    }
    if (!object.runs.empty()) {
        object.font = object.runs.front().font;
    }
    object.shape = hash_start;
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        for (int i = 0; i < span->len; ++i) {
            mix(object.shape, static_cast<std::uint64_t>(static_cast<std::uint32_t>(span->items[i].gid)));
            mix(object.shape, fz_transform_point_xy(span->items[i].x, span->items[i].y, ctm));
        }
        mix(object.shape, static_cast<std::uint64_t>(std::lround(span->trm.a * 1000 + span->trm.b * 77)));
    }
}

void add_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
              fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    for (const fz_text_span *span = stroke == nullptr ? text->head : nullptr; span != nullptr;
         span = span->next) {
        for (int i = 0; i < span->len; ++i) {
            if (is_coloured_glyph(span->font, span->items[i].gid)) {
                fz_run_t3_glyph(ctx, span->font, span->items[i].gid, glyph_matrix(span, span->items[i], ctm),
                                device);
            }
        }
    }
    const fz_rect bounds = text_bounds(ctx, text, stroke, ctm);
    SceneObject *object =
        recorder(device).add(ctx, device, stroke != nullptr ? ObjectKind::StrokedText : ObjectKind::Text,
                             bounds, space, value, alpha, params);
    if (object != nullptr && text->head != nullptr) {
        object->text = first_characters(text);
        if (recorder(device).probe == nullptr) {
            note_runs(ctx, device, *object, text, ctm);
        }
        if (stroke != nullptr) {
            object->stroke_width = static_cast<double>(stroke->linewidth * fz_matrix_expansion(ctm));
        }
    }
    try_object(recorder(device), object, bounds,
               [&](PointProbe &probe) { return probe.writes(ctx, text, stroke, ctm); });
}

void fill_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_colorspace *space,
               const float *value, float alpha, fz_color_params params)
{
    add_text(ctx, device, text, nullptr, ctm, space, value, alpha, params);
}

void stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    add_text(ctx, device, text, stroke, ctm, space, value, alpha, params);
}

void fill_shade(fz_context *ctx, fz_device *device, fz_shade *shade, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    const fz_rect bounds = fz_bound_shade(ctx, shade, ctm);
    SceneObject *object = recorder(device).add(ctx, device, ObjectKind::Shading, bounds, shade->colorspace,
                                               nullptr, alpha, params);
    if (object != nullptr && shade->use_function != 0 &&
        (shade->type == FZ_LINEAR || shade->type == FZ_RADIAL)) {
        const fz_matrix to_page = fz_concat(shade->matrix, ctm);
        const auto &coords = shade->u.l_or_r.coords;
        const fz_point from = fz_transform_point_xy(coords[0][0], coords[0][1], to_page);
        const fz_point to = fz_transform_point_xy(coords[1][0], coords[1][1], to_page);
        const float radii = std::fabs(coords[1][2] - coords[0][2]) * fz_matrix_expansion(to_page);
        const float along = std::hypot(to.x - from.x, to.y - from.y);
        object->gradient_length =
            static_cast<double>(shade->type == FZ_LINEAR ? along : std::max(along, radii));
        for (int i = 0; i < shade->colorspace->n; ++i) {
            object->gradient_change =
                std::max(object->gradient_change,
                         static_cast<double>(std::fabs(shade->function[255][i] - shade->function[0][i])));
        }
    }
    try_object(recorder(device), object, bounds, [](PointProbe &) { return true; });
}

void note_image(SceneObject *object, const fz_image *image, fz_matrix ctm)
{
    if (object == nullptr) {
        return;
    }
    object->image_width = image->w;
    object->image_height = image->h;
    object->image_bits = image->bpc;
    object->image_channels = image->n;
    object->upright = fz_is_rectilinear(ctm) != 0;
    object->shape = hash_start;
    mix(object->shape, reinterpret_cast<std::uintptr_t>(image));
    mix(object->shape, fz_transform_point_xy(0, 0, ctm));
    mix(object->shape, fz_transform_point_xy(1, 0, ctm));
    mix(object->shape, fz_transform_point_xy(0, 1, ctm));
    const double across =
        std::hypot(static_cast<double>(ctm.a), static_cast<double>(ctm.b)) / points_per_inch;
    const double down = std::hypot(static_cast<double>(ctm.c), static_cast<double>(ctm.d)) / points_per_inch;
    if (across > 0 && down > 0) {
        object->image_ppi = std::min(image->w / across, image->h / down);
    }
}

void fill_image(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    const fz_rect bounds = fz_transform_rect(fz_unit_rect, ctm);
    SceneObject *object = recorder(device).add(ctx, device, ObjectKind::Image, bounds, image->colorspace,
                                               nullptr, alpha, params);
    note_image(object, image, ctm);
    try_object(recorder(device), object, bounds, [ctm](PointProbe &probe) { return probe.covers(ctm); });
}

void fill_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_colorspace *space,
                     const float *value, float alpha, fz_color_params params)
{
    const fz_rect bounds = fz_transform_rect(fz_unit_rect, ctm);
    SceneObject *object =
        recorder(device).add(ctx, device, ObjectKind::ImageMask, bounds, space, value, alpha, params);
    note_image(object, image, ctm);
    try_object(recorder(device), object, bounds, [ctm](PointProbe &probe) { return probe.covers(ctm); });
}

/// Whether \p path is one level rectangle on the page.
bool is_upright_rectangle(fz_context *ctx, const fz_path *path, fz_matrix ctm)
{
    ShapeWalk walk{ctm};
    fz_walk_path(ctx, path, &shape_walker, &walk);
    return walk.upright && walk.segments >= 3 && walk.segments <= 4;
}

// MuPDF tracks the scissor of clips only for devices that implement them.
void open_clip(fz_device *device, bool holds, Recorder::Clip clip)
{
    Recorder &r = recorder(device);
    r.clips.push_back(clip);
    r.soft_masks += clip.soft ? 1 : 0;
    r.odd_clips += clip.odd ? 1 : 0;
    if (PointProbe *probe = recorder(device).probe) {
        probe->open_clip(holds);
    }
}

bool probing(fz_device *device, fz_rect bounds)
{
    const PointProbe *probe = recorder(device).probe;
    return probe != nullptr && probe->may_touch(bounds);
}

void clip_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm, fz_rect)
{
    open_clip(device,
              probing(device, fz_bound_path(ctx, path, nullptr, ctm)) &&
                  recorder(device).probe->fills(ctx, path, even_odd, ctm),
              {false, !is_upright_rectangle(ctx, path, ctm)});
}

void clip_stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect)
{
    open_clip(device,
              probing(device, stroke_bounds(ctx, path, stroke, ctm)) &&
                  recorder(device).probe->strokes(ctx, path, stroke, ctm),
              {false, true});
}

void clip_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_rect)
{
    open_clip(device,
              probing(device, fz_bound_text(ctx, text, nullptr, ctm)) &&
                  recorder(device).probe->writes(ctx, text, nullptr, ctm),
              {false, true});
}

void clip_stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect)
{
    open_clip(device,
              probing(device, fz_bound_text(ctx, text, stroke, ctm)) &&
                  recorder(device).probe->writes(ctx, text, stroke, ctm),
              {false, true});
}

void clip_image_mask(fz_context *, fz_device *device, fz_image *image, fz_matrix ctm, fz_rect)
{
    const bool soft = image->imagemask == 0 && image->bpc > 1; // a stencil is all or nothing
    open_clip(device, recorder(device).probe != nullptr && recorder(device).probe->covers(ctm), {soft, true});
}

void pop_clip(fz_context *, fz_device *device)
{
    Recorder &r = recorder(device);
    if (!r.clips.empty()) {
        r.soft_masks -= r.clips.back().soft ? 1 : 0;
        r.odd_clips -= r.clips.back().odd ? 1 : 0;
        r.clips.pop_back();
    }
    if (PointProbe *probe = recorder(device).probe) {
        probe->close_clip();
    }
}

void begin_mask(fz_context *, fz_device *device, fz_rect, int, fz_colorspace *, const float *,
                fz_color_params)
{
    ++recorder(device).mask_depth;
}

void end_mask(fz_context *, fz_device *device)
{
    --recorder(device).mask_depth;
    recorder(device).scene.uses_transparency = true;
    open_clip(device, true, {true, true}); // the mask clips what follows until its pop_clip
}

void begin_group(fz_context *, fz_device *device, fz_rect, fz_colorspace *, int, int, int blend, float alpha)
{
    if (blend != FZ_BLEND_NORMAL || alpha < 1.0f) {
        recorder(device).scene.uses_transparency = true;
    }
    if (blend >= FZ_BLEND_HUE) {
        recorder(device).scene.uses_nonseparable_blend = true;
    }
    std::vector<Recorder::Group> &groups = recorder(device).groups;
    const Recorder::Group around = groups.empty() ? Recorder::Group{} : groups.back();
    groups.push_back({blend != FZ_BLEND_NORMAL ? blend : around.blend, around.alpha * alpha});
}

void end_group(fz_context *, fz_device *device)
{
    if (!recorder(device).groups.empty()) {
        recorder(device).groups.pop_back();
    }
}

int begin_tile(fz_context *, fz_device *device, fz_rect area, fz_rect, float, float, fz_matrix ctm, int)
{
    // A cell's objects are drawn once, wherever the pattern begins: being in its area is near enough.
    fz_rect filled = fz_transform_rect(area, ctm);
    if (device->container_len >= 2) { // the last is the cell's own
        filled = fz_intersect_rect(filled, device->container[device->container_len - 2].scissor);
    }
    std::vector<fz_rect> &tiles = recorder(device).tiles;
    tiles.push_back(tiles.empty() ? filled : tiles.back());
    open_clip(device, probing(device, fz_transform_rect(area, ctm)), {});
    return 0;
}
void end_tile(fz_context *ctx, fz_device *device)
{
    if (!recorder(device).tiles.empty()) {
        recorder(device).tiles.pop_back();
    }
    pop_clip(ctx, device);
}

void begin_layer(fz_context *, fz_device *device, const char *name)
{
    recorder(device).order.open_layer(name);
}

void end_layer(fz_context *, fz_device *device)
{
    recorder(device).order.close_layer();
}

fz_device *make_device(fz_context *ctx, Recorder *target)
{
    RecordingDevice *device = fz_new_derived_device(ctx, RecordingDevice);
    device->recorder = target;
    fz_device &d = device->super;
    d.fill_path = Tolerant<fill_path>::call;
    d.stroke_path = Tolerant<stroke_path>::call;
    d.fill_text = Tolerant<fill_text>::call;
    d.stroke_text = Tolerant<stroke_text>::call;
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
    return &d;
}

} // namespace

const char *blend_mode_name(int mode)
{
    static constexpr const char *names[] = {"Normal",    "Multiply",   "Screen",     "Overlay",
                                            "Darken",    "Lighten",    "ColorDodge", "ColorBurn",
                                            "HardLight", "SoftLight",  "Difference", "Exclusion",
                                            "Hue",       "Saturation", "Color",      "Luminosity"};
    return names[std::clamp(mode & FZ_BLEND_MODEMASK, 0, 15)];
}

const char *to_string(ObjectKind kind)
{
    static constexpr const char *names[] = {"fill",  "stroke",     "text",   "stroked text",
                                            "image", "image mask", "shading"};
    return names[static_cast<std::size_t>(kind)];
}

Outcome<ObjectKind> parse_object_kind(std::string_view name)
{
    for (int i = 0; i <= static_cast<int>(ObjectKind::Shading); ++i) {
        if (const auto kind = static_cast<ObjectKind>(i); name == to_string(kind)) {
            return kind;
        }
    }
    return Error{ErrorCode::WrongFormat, "'" + std::string(name) + "' is no kind of object", {}, {}};
}

bool is_tonal(const SceneObject &object)
{
    return object.kind == ObjectKind::Shading || object.soft_masked;
}

const char *to_string(InkKind kind)
{
    return kind == InkKind::Process ? "process" : "spot";
}

namespace {

/// Runs the page through the recording device.
Done walk(const PageContent::Impl &content, Recorder &target, const JobControl &control)
{
    constexpr double seconds = 60.0; // of work
    const auto lease = content.runtime->lease();
    fz_context *ctx = lease.ctx();
    CookieWatch watch(control, seconds);
    const Done done = guarded(ctx, content.place, [&] {
        (void)run_and_drop(ctx, content.list, make_device(ctx, &target), watch.cookie());
    });
    if (const Done verdict = watch.verdict(content.place); !verdict) {
        return verdict;
    }
    return done;
}

} // namespace

void find_noted_objects(const PageContent::Impl &page, NoteScope &notes)
{
    Recorder target(*page.colours);
    if (!walk(page, target, {})) {
        return;
    }
    for (const auto &[note, object] : target.order.noted()) {
        if (note < 0 || note >= static_cast<int>(notes.notes().size()) ||
            object >= static_cast<int>(target.scene.objects.size())) {
            continue;
        }
        NoteScope::Note &one = notes.notes()[static_cast<std::size_t>(note)];
        const ObjectKind kind = target.scene.objects[static_cast<std::size_t>(object)].kind;
        if (kind_of_note(one.text, false) == DamageKind::Font &&
            (kind == ObjectKind::Text || kind == ObjectKind::StrokedText)) {
            one.object = object;
        }
    }
}

Outcome<Scene> record_scene(const PageContent &page, const JobControl &control)
{
    const auto scene = shared_scene(page, control);
    if (!scene) {
        return scene.error();
    }
    return **scene;
}

Outcome<std::shared_ptr<const Scene>> shared_scene(const PageContent &page, const JobControl &control)
{
    const std::lock_guard lock(page.impl().scene_guard); // others wait here: they need the same
    if (page.impl().scene != nullptr) {
        return page.impl().scene;
    }
    Recorder target(*page.impl().colours);
    if (const Done done = walk(page.impl(), target, control); !done) {
        return done.error();
    }
    for (FoundInk &ink : target.process) {
        if (ink.objects > 0) {
            target.scene.inks.push_back(ink);
        }
    }
    target.scene.inks.insert(target.scene.inks.end(), target.spots.begin(), target.spots.end());
    page.impl().scene = std::make_shared<const Scene>(std::move(target.scene));
    return page.impl().scene;
}

int object_of(const Scene &scene, int artwork, int own_index)
{
    const auto found =
        std::find_if(scene.objects.begin(), scene.objects.end(), [&](const SceneObject &object) {
            return object.artwork == artwork && object.own_index == own_index;
        });
    return found == scene.objects.end() ? -1 : found->index;
}

Outcome<std::vector<int>> objects_at(const PageContent &page, Points x, Points y, const JobControl &control)
{
    PointProbe probe(static_cast<float>(x.value), static_cast<float>(y.value));
    Recorder target(*page.impl().colours);
    target.probe = &probe;
    if (const Done done = walk(page.impl(), target, control); !done) {
        return done.error();
    }
    return std::move(target.hits);
}

} // namespace bichrom
