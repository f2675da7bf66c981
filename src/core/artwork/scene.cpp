#include "core/artwork/scene.h"

#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/page_content_impl.h"
#include "core/artwork/mupdf/painting_order.h"
#include "core/artwork/mupdf/point_probe.h"
#include "core/artwork/mupdf/type3.h"
#include "core/artwork/text_encoding.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>

namespace bichrom {

namespace {

/// Collects what the recording device sees.
struct Recorder
{
    const PageColours &colours;
    Scene scene;
    std::array<FoundInk, 4> process;
    std::vector<FoundInk> spots;
    PaintingOrder order;
    std::map<std::string, int> numbers; ///< of colours, by space and values
    int mask_depth = 0;
    PointProbe *probe = nullptr; ///< when only the objects at a point are asked for
    std::vector<int> hits;       ///< their indices

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
        for (FoundInk &ink : spots) {
            if (ink.name == name) {
                return ink;
            }
        }
        float solid[FZ_MAX_COLORS] = {};
        solid[component] = 1.0f;
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
            const auto same =
                std::find_if(scene.colours.begin(), scene.colours.end(), [&](const FoundColour &one) {
                    return one.artwork == artwork && one.colour == found.colour;
                });
            place->second = static_cast<int>(same - scene.colours.begin());
            if (same == scene.colours.end()) {
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
        bounds = fz_intersect_rect(bounds, fz_device_current_scissor(ctx, device));
        SceneObject object;
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
        scene.uses_transparency = scene.uses_transparency || alpha < 1.0f;
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

void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    const fz_rect bounds = fz_bound_path(ctx, path, nullptr, ctm);
    const SceneObject *object =
        recorder(device).add(ctx, device, ObjectKind::Fill, bounds, space, value, alpha, params);
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
    const float reach = stroke->linewidth * 0.5f * fz_matrix_expansion(ctm) * (round ? 1.0f : diagonal);
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
    }
    try_object(recorder(device), object, bounds,
               [&](PointProbe &probe) { return probe.strokes(ctx, path, stroke, ctm); });
}

/// Whether the glyphs came with the file, rather than from the interpreter's own fonts.
bool is_embedded(fz_context *ctx, fz_font *font)
{
    if (font->t3procs != nullptr) {
        return true;
    }
    if (fz_font_flags(font)->ft_substitute != 0 || font->buffer == nullptr) {
        return false;
    }
    unsigned char *data = nullptr;
    fz_buffer_storage(ctx, font->buffer, &data);
    static constexpr const char *own[] = {
        "Courier",     "Courier-Bold",   "Courier-Oblique",   "Courier-BoldOblique",
        "Helvetica",   "Helvetica-Bold", "Helvetica-Oblique", "Helvetica-BoldOblique",
        "Times-Roman", "Times-Bold",     "Times-Italic",      "Times-BoldItalic",
        "Symbol",      "ZapfDingbats"};
    for (const char *name : own) { // ISO 32000-1, 9.6.2.2: the standard 14 fonts
        int size = 0;
        if (data == fz_lookup_base14_font(ctx, name, &size)) {
            return false;
        }
    }
    return true;
}

/// The first characters of \p text as UTF-8; what the font cannot name becomes a blank.
std::string first_characters(const fz_text *text)
{
    constexpr int most = 60;
    std::string out;
    int count = 0;
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        for (int i = 0; i < span->len && count < most; ++i) {
            const int code = span->items[i].ucs;
            if (code < 0) {
                continue; // the rest of a ligature
            }
            char bytes[FZ_UTFMAX] = {};
            const int length = fz_runetochar(bytes, code < 32 || code == 0xFFFD ? ' ' : code);
            out.append(bytes, static_cast<std::size_t>(length));
            ++count;
        }
    }
    return valid_utf8(out);
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
    const fz_rect bounds = fz_bound_text(ctx, text, stroke, ctm);
    SceneObject *object =
        recorder(device).add(ctx, device, stroke != nullptr ? ObjectKind::StrokedText : ObjectKind::Text,
                             bounds, space, value, alpha, params);
    if (object != nullptr && text->head != nullptr) {
        object->font = valid_utf8(fz_font_name(ctx, text->head->font));
        object->font_embedded = is_embedded(ctx, text->head->font);
        object->text = first_characters(text);
        object->font_size = static_cast<double>(fz_matrix_expansion(fz_concat(text->head->trm, ctm)));
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
    const SceneObject *object = recorder(device).add(ctx, device, ObjectKind::Shading, bounds,
                                                     shade->colorspace, nullptr, alpha, params);
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

// MuPDF tracks the scissor of clips only for devices that implement them.
void open_clip(fz_device *device, bool holds)
{
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
    open_clip(device, probing(device, fz_bound_path(ctx, path, nullptr, ctm)) &&
                          recorder(device).probe->fills(ctx, path, even_odd, ctm));
}

void clip_stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect)
{
    open_clip(device, probing(device, stroke_bounds(ctx, path, stroke, ctm)) &&
                          recorder(device).probe->strokes(ctx, path, stroke, ctm));
}

void clip_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_rect)
{
    open_clip(device, probing(device, fz_bound_text(ctx, text, nullptr, ctm)) &&
                          recorder(device).probe->writes(ctx, text, nullptr, ctm));
}

void clip_stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect)
{
    open_clip(device, probing(device, fz_bound_text(ctx, text, stroke, ctm)) &&
                          recorder(device).probe->writes(ctx, text, stroke, ctm));
}

void clip_image_mask(fz_context *, fz_device *device, fz_image *, fz_matrix ctm, fz_rect)
{
    open_clip(device, recorder(device).probe != nullptr && recorder(device).probe->covers(ctm));
}

void pop_clip(fz_context *, fz_device *device)
{
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
    open_clip(device, true); // the mask clips what follows until its pop_clip
}

void begin_group(fz_context *, fz_device *device, fz_rect, fz_colorspace *, int, int, int blend, float alpha)
{
    if (blend != FZ_BLEND_NORMAL || alpha < 1.0f) {
        recorder(device).scene.uses_transparency = true;
    }
    if (blend >= FZ_BLEND_HUE) {
        recorder(device).scene.uses_nonseparable_blend = true;
    }
}

void end_group(fz_context *, fz_device *) {}
int begin_tile(fz_context *, fz_device *device, fz_rect area, fz_rect, float, float, fz_matrix ctm, int)
{
    // A cell's objects are drawn once, wherever the pattern begins: being in its area is near enough.
    open_clip(device, probing(device, fz_transform_rect(area, ctm)));
    return 0;
}
void end_tile(fz_context *ctx, fz_device *device)
{
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
    d.begin_layer = begin_layer;
    d.end_layer = end_layer;
    return &d;
}

} // namespace

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
        fz_device *device = make_device(ctx, &target);
        fz_try(ctx)
        {
            fz_run_display_list(ctx, content.list, device, fz_identity, fz_infinite_rect, watch.cookie());
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
    return std::move(target.scene);
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
