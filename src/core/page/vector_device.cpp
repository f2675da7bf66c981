#include "core/page/vector_device.h"

#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/own_device.h"
#include "core/artwork/mupdf/type3.h"
#include "core/page/path_copy.h"
#include "core/page/pdf_operators.h"
#include "core/page/pixel_image.h"
#include "core/page/text_outlines.h"
#include "core/page/vector_text.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <memory>
#include <vector>

namespace bichrom {

namespace {

constexpr float mask_dpi = 600;
constexpr double most_repeats = 2e5; ///< of a pattern, written one by one

void put_text_path(fz_context *ctx, std::string &out, const fz_text *text, fz_matrix ctm,
                   GlyphOutlines &glyphs)
{
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        for (int i = 0; i < span->len; ++i) {
            if (span->items[i].gid >= 0) {
                fz_path *outline = glyphs.outline(ctx, span->font, span->items[i].gid,
                                                  glyph_matrix(span, span->items[i], fz_identity));
                if (outline != nullptr) {
                    put_path(ctx, out, outline, ctm);
                    fz_drop_path(ctx, outline);
                }
            }
        }
    }
}

struct Tile
{
    fz_rect area, view;
    float xstep, ystep;
    fz_matrix ctm;
};

struct Group
{
    fz_rect area;
    bool isolated, knockout;
    int blend;
    float alpha;
};

struct Mask
{
    fz_rect area;
    bool luminosity;
    double backdrop;
};

struct State
{
    VectorPage *page = nullptr;
    std::function<int(const char *)> plate_of;
    std::vector<int>
        together; ///< plates that an object knocks out by naming them; empty = by not overprinting
    std::unique_ptr<VectorFonts> fonts;
    GlyphOutlines glyphs;
    std::vector<std::string> open; ///< content of groups, masks and tiles that are not finished
    std::vector<Group> groups;
    std::vector<Mask> masks;
    std::vector<Tile> tiles;
    int mask_depth = 0;
    std::map<std::vector<int>, int> spaces;
    std::map<std::string, int> states;
    std::map<const fz_image *, int> images; ///< by image, which is kept in the list

    std::string &out() { return open.empty() ? page->content : open.back(); }
    std::string finish()
    {
        std::string done = std::move(open.back());
        open.pop_back();
        return done;
    }
    int space(const std::vector<int> &plates)
    {
        const auto [at, is_new] = spaces.try_emplace(plates, static_cast<int>(page->spaces.size()));
        if (is_new) {
            page->spaces.push_back(plates);
        }
        return at->second;
    }
    int state(const std::string &entries)
    {
        const auto [at, is_new] = states.try_emplace(entries, static_cast<int>(page->states.size()));
        if (is_new) {
            VectorState made;
            made.entries = entries;
            page->states.push_back(made);
        }
        return at->second;
    }
};

State &state_of(fz_device *device)
{
    return OwnDevice<State>::of(device);
}

/// Whether \p space holds values on planes: named ones, or process inks, which routing leaves as they are
/// where all four print. In masks it never does.
bool is_planes(fz_context *ctx, const State &s, fz_colorspace *space)
{
    if (space == nullptr || s.mask_depth > 0) {
        return false;
    }
    const int type = fz_colorspace_type(ctx, space);
    return type == FZ_COLORSPACE_SEPARATION || type == FZ_COLORSPACE_CMYK;
}

/// The components of \p space that are kept, and the plates they are for.
void kept_components(fz_context *ctx, const State &s, fz_colorspace *space, std::vector<int> &components,
                     std::vector<int> &plates)
{
    const bool named = fz_colorspace_type(ctx, space) == FZ_COLORSPACE_SEPARATION;
    for (int i = 0; i < fz_colorspace_n(ctx, space); ++i) {
        const int plate = s.plate_of(named ? fz_colorspace_colorant(ctx, space, i)
                                           : process_names[static_cast<std::size_t>(i)]);
        if (plate >= 0) {
            components.push_back(i);
            plates.push_back(plate);
        }
    }
}

double grey_of(fz_context *ctx, fz_colorspace *space, const float *value)
{
    float grey[FZ_MAX_COLORS] = {};
    if (space != nullptr) {
        fz_convert_color(ctx, space, value, fz_device_gray(ctx), grey, nullptr, fz_default_color_params);
    }
    return static_cast<double>(grey[0]);
}

/// \p values of \p plates as values of \p all, 0 for those that are not among them.
std::vector<double> spread_to(const std::vector<int> &all, const std::vector<int> &plates,
                              const std::vector<double> &values)
{
    std::vector<double> spread(all.size());
    for (std::size_t i = 0; i < plates.size(); ++i) {
        spread[static_cast<std::size_t>(std::find(all.begin(), all.end(), plates[i]) - all.begin())] =
            values[i];
    }
    return spread;
}

/// Begins an object: "q", its state and its colour. \return false when it paints nothing
bool begin_painting(fz_context *ctx, State &s, fz_colorspace *space, const float *value, float alpha,
                    const fz_color_params &params, bool stroke)
{
    std::string &out = s.out();
    if (!is_planes(ctx, s, space)) { // in a mask
        const double grey = grey_of(ctx, space, value);
        out += "q ";
        put_number(out, grey);
        out += stroke ? "G\n" : "g\n";
        return true;
    }
    std::vector<int> components;
    std::vector<int> plates;
    kept_components(ctx, s, space, components, plates);
    bool overprint = params.op != 0;
    if (components.empty()) {
        if (overprint) {
            return false;
        }
        plates = {0}; // knocks out all, and puts nothing there
    }
    std::vector<double> values(plates.size());
    for (std::size_t i = 0; i < components.size(); ++i) {
        values[i] = static_cast<double>(value[components[i]]);
    }
    if (!overprint && !s.together.empty()) {
        values = spread_to(s.together, components.empty() ? std::vector<int>() : plates, values);
        plates = s.together;
        overprint = true;
    }
    out += "q ";
    std::string entries;
    if (alpha < 1.0f && !knocks_out_itself(params)) {
        entries += "/TK false ";
    }
    if (alpha < 1.0f) {
        std::string text;
        put_number(text, static_cast<double>(alpha));
        entries += "/ca " + text + "/CA " + text;
        s.page->transparent = true;
    }
    if (overprint) {
        entries += "/OP true /op true /OPM 0 ";
    }
    if (!entries.empty()) {
        out += "/G" + std::to_string(s.state(entries)) + " gs ";
    }
    const std::string name = "/C" + std::to_string(s.space(plates));
    out += name + (stroke ? " CS " : " cs ");
    for (const double one : values) {
        put_number(out, one);
    }
    out += stroke ? "SCN\n" : "scn\n";
    return true;
}

void fill_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm,
               fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    if (begin_painting(ctx, s, space, value, alpha, params, false)) {
        put_path(ctx, s.out(), path, ctm);
        s.out() += even_odd != 0 ? "f* Q\n" : "f Q\n";
    }
}

void stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    if (begin_painting(ctx, s, space, value, alpha, params, true)) {
        put_matrix(s.out(), ctm);
        put_stroke(s.out(), stroke);
        put_path(ctx, s.out(), path, fz_identity, 6);
        s.out() += "S Q\n";
    }
}

// ---- masks of pixels ------------------------------------------------------------------------------

std::array<double, 4> box_of(fz_rect area)
{
    return {static_cast<double>(area.x0), static_cast<double>(area.y0), static_cast<double>(area.x1),
            static_cast<double>(area.y1)};
}

fz_rect within_page(const State &s, fz_rect area)
{
    return fz_intersect_rect(
        area, fz_rect{0, 0, static_cast<float>(s.page->width), static_cast<float>(s.page->height)});
}

int add_form(State &s, VectorForm form)
{
    s.page->forms.push_back(std::move(form));
    return static_cast<int>(s.page->forms.size()) - 1;
}

/// "q", and what follows is seen through the grey image \p image placed by \p place, until "Q".
void open_image_mask(State &s, int image, fz_matrix place, fz_rect area)
{
    VectorForm form;
    form.content = "q ";
    put_matrix(form.content, place);
    form.content += "1 0 0 -1 0 1 cm /I" + std::to_string(image) + " Do Q\n";
    form.box = box_of(area);
    form.group = form.isolated = form.grey = true;
    VectorState state;
    state.mask_form = add_form(s, std::move(form));
    s.page->states.push_back(state);
    s.page->transparent = true;
    s.out() += "q /G" + std::to_string(s.page->states.size() - 1) + " gs\n";
}

/// The values of a one-channel pixmap as a grey image.
int add_grey_image(State &s, const fz_pixmap &pixmap, bool interpolate)
{
    VectorImage image;
    image.width = pixmap.w;
    image.height = pixmap.h;
    image.interpolate = interpolate;
    for (int y = 0; y < pixmap.h; ++y) {
        const unsigned char *row = pixmap.samples + y * pixmap.stride;
        for (int x = 0; x < pixmap.w; ++x) {
            image.data.push_back(row[x * pixmap.n]);
        }
    }
    s.page->images.push_back(std::move(image));
    return static_cast<int>(s.page->images.size()) - 1;
}

/// Draws by \p draw, in black on a device, what PDF operators cannot say, and opens a mask of it.
template <typename Draw> void open_drawn_mask(fz_context *ctx, State &s, fz_rect bounds, Draw draw)
{
    const float scale = mask_dpi / 72.0f;
    const fz_rect area = within_page(s, bounds);
    const fz_irect box = fz_round_rect(fz_transform_rect(area, fz_scale(scale, scale)));
    fz_pixmap *pixmap = nullptr;
    fz_device *drawn = nullptr;
    fz_var(pixmap);
    fz_var(drawn);
    fz_try(ctx)
    {
        if (!fz_is_empty_irect(box)) {
            pixmap = fz_new_pixmap_with_bbox(ctx, nullptr, box, nullptr, 1);
            fz_clear_pixmap(ctx, pixmap);
            drawn = fz_new_draw_device(ctx, fz_scale(scale, scale), pixmap);
            draw(drawn);
            fz_close_device(ctx, drawn);
        }
    }
    fz_always(ctx)
    {
        fz_drop_device(ctx, drawn);
    }
    fz_catch(ctx)
    {
        fz_drop_pixmap(ctx, pixmap);
        fz_rethrow(ctx);
    }
    if (pixmap == nullptr) {
        s.out() += "q 0 0 0 0 re W n\n";
        return;
    }
    const int image = add_grey_image(s, *pixmap, false);
    const fz_matrix place =
        fz_make_matrix(static_cast<float>(pixmap->w) / scale, 0, 0, static_cast<float>(pixmap->h) / scale,
                       static_cast<float>(pixmap->x) / scale, static_cast<float>(pixmap->y) / scale);
    fz_drop_pixmap(ctx, pixmap);
    open_image_mask(s, image, place, area);
}

void put_rectangle(std::string &out, fz_rect area)
{
    put_number(out, static_cast<double>(area.x0));
    put_number(out, static_cast<double>(area.y0));
    put_number(out, static_cast<double>(area.x1 - area.x0));
    put_number(out, static_cast<double>(area.y1 - area.y0));
    out += "re ";
}

/// Fills the page, through the mask just opened, and closes that.
void fill_through_mask(fz_context *ctx, State &s, fz_rect bounds, fz_colorspace *space, const float *value,
                       float alpha, const fz_color_params &params)
{
    if (begin_painting(ctx, s, space, value, alpha, params, false)) {
        put_rectangle(s.out(), within_page(s, bounds));
        s.out() += "f Q\n";
    }
    s.out() += "Q\n";
}

// ---- text -----------------------------------------------------------------------------------------

void fill_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_colorspace *space,
               const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    if (s.fonts->can_write(ctx, text)) {
        if (begin_painting(ctx, s, space, value, alpha, params, false)) {
            s.fonts->put(ctx, s.out(), text, ctm, TextPainting::Fill);
            s.out() += "Q\n";
        }
        return;
    }
    if (has_outlines(ctx, text, s.glyphs)) {
        fill_text_outlines(ctx, device, text, ctm, space, value, alpha, params, s.glyphs);
        return;
    }
    const fz_rect bounds = fz_bound_text(ctx, text, nullptr, ctm);
    const float black = 0;
    open_drawn_mask(ctx, s, bounds, [&](fz_device *drawn) {
        fz_fill_text(ctx, drawn, text, ctm, fz_device_gray(ctx), &black, 1, fz_default_color_params);
    });
    fill_through_mask(ctx, s, bounds, space, value, alpha, params);
}

void stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                 fz_matrix ctm, fz_colorspace *space, const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    if (s.fonts->can_write(ctx, text)) {
        if (begin_painting(ctx, s, space, value, alpha, params, true)) {
            put_matrix(s.out(), ctm);
            put_stroke(s.out(), stroke);
            s.fonts->put(ctx, s.out(), text, fz_identity, TextPainting::Stroke);
            s.out() += "Q\n";
        }
        return;
    }
    if (has_outlines(ctx, text, s.glyphs)) {
        stroke_text_outlines(ctx, device, text, stroke, ctm, space, value, alpha, params, s.glyphs);
        return;
    }
    const fz_rect bounds = fz_bound_text(ctx, text, stroke, ctm);
    const float black = 0;
    open_drawn_mask(ctx, s, bounds, [&](fz_device *drawn) {
        fz_stroke_text(ctx, drawn, text, stroke, ctm, fz_device_gray(ctx), &black, 1,
                       fz_default_color_params);
    });
    fill_through_mask(ctx, s, bounds, space, value, alpha, params);
}

// ---- pictures and shadings ------------------------------------------------------------------------

/// Adds \p pixmap, whose colours are planes, or grey in masks. \return its number; −1 when no plane is kept
int add_image(fz_context *ctx, State &s, const fz_pixmap &pixmap, bool interpolate)
{
    VectorImage image;
    image.width = pixmap.w;
    image.height = pixmap.h;
    image.interpolate = interpolate;
    std::vector<int> components;
    std::vector<int> plates;
    kept_components(ctx, s, pixmap.colorspace, components, plates);
    const bool empty = components.empty();
    if (empty) {
        plates = {0};
    }
    image.space = s.space(plates);
    image.components = static_cast<int>(plates.size());
    const bool alpha = pixmap.alpha != 0;
    VectorImage mask;
    mask.width = pixmap.w;
    mask.height = pixmap.h;
    mask.interpolate = interpolate;
    for (int y = 0; y < pixmap.h; ++y) {
        const unsigned char *row = pixmap.samples + y * pixmap.stride;
        for (int x = 0; x < pixmap.w; ++x, row += pixmap.n) {
            const int opacity = alpha ? row[pixmap.n - 1] : 255;
            for (std::size_t i = 0; i < plates.size(); ++i) {
                // Pixels are premultiplied.
                const int value = empty ? 0 : row[components[i]];
                image.data.push_back(static_cast<std::uint8_t>(
                    opacity == 0 ? 0 : std::min(255, (value * 255 + opacity / 2) / opacity)));
            }
            if (alpha) {
                mask.data.push_back(static_cast<std::uint8_t>(opacity));
            }
        }
    }
    if (alpha) {
        s.page->images.push_back(std::move(mask));
        image.soft_mask = static_cast<int>(s.page->images.size()) - 1;
        s.page->transparent = true;
    }
    s.page->images.push_back(std::move(image));
    return static_cast<int>(s.page->images.size()) - 1;
}

bool keeps_any(fz_context *ctx, const State &s, fz_colorspace *space)
{
    std::vector<int> components;
    std::vector<int> plates;
    kept_components(ctx, s, space, components, plates);
    return !components.empty();
}

void begin_picture(State &s, float alpha, bool overprint)
{
    std::string entries;
    if (alpha < 1.0f) {
        put_number(entries += "/ca ", static_cast<double>(alpha));
        s.page->transparent = true;
    }
    if (overprint) {
        entries += "/OP true /op true /OPM 0 ";
    }
    s.out() += "q ";
    if (!entries.empty()) {
        s.out() += "/G" + std::to_string(s.state(entries)) + " gs ";
    }
}

/// Begins an object that takes the ink away from all plates that are knocked out together.
void begin_together(State &s, float alpha)
{
    begin_picture(s, alpha, true);
    s.out() += "/C" + std::to_string(s.space(s.together)) + " cs ";
    for (std::size_t i = 0; i < s.together.size(); ++i) {
        s.out() += "0 ";
    }
    s.out() += "scn\n";
}

/// Adds the artwork's own JPEG where \p image is one and all of its components are kept. \return its number;
/// −1 when it is not so
int add_jpeg(fz_context *ctx, State &s, const fz_image *image)
{
    const SameJpeg jpeg = jpeg_of(image);
    const fz_compressed_buffer *buffer =
        jpeg.image == nullptr ? nullptr : fz_compressed_image_buffer(ctx, jpeg.image);
    if (buffer == nullptr) {
        return -1;
    }
    std::vector<int> components;
    std::vector<int> plates;
    kept_components(ctx, s, image->colorspace, components, plates);
    if (static_cast<int>(components.size()) != image->n) {
        return -1;
    }
    VectorImage made;
    made.width = image->w;
    made.height = image->h;
    made.space = s.space(plates);
    made.components = image->n;
    made.interpolate = image->interpolate != 0;
    made.is_jpeg = true;
    made.jpeg_transform = buffer->params.u.jpeg.color_transform;
    made.data.assign(buffer->buffer->data, buffer->buffer->data + buffer->buffer->len);
    for (int i = 0; i < image->n; ++i) {
        const bool has = jpeg.image->use_decode != 0;
        const double from = has ? static_cast<double>(jpeg.image->decode[i * 2]) : 0.0;
        const double to = has ? static_cast<double>(jpeg.image->decode[i * 2 + 1]) : 1.0;
        made.decode.push_back(jpeg.turned ? 1 - from : from);
        made.decode.push_back(jpeg.turned ? 1 - to : to);
    }
    s.page->images.push_back(std::move(made));
    return static_cast<int>(s.page->images.size()) - 1;
}

/// \p image as grey, as masks see it. New reference.
fz_pixmap *grey_pixmap(fz_context *ctx, fz_image *image)
{
    fz_pixmap *pixmap = fz_get_pixmap_from_image(ctx, image, nullptr, nullptr, nullptr, nullptr);
    fz_pixmap *grey = nullptr;
    fz_var(grey);
    fz_try(ctx)
    {
        grey =
            fz_convert_pixmap(ctx, pixmap, fz_device_gray(ctx), nullptr, nullptr, fz_default_color_params, 0);
    }
    fz_always(ctx)
    {
        fz_drop_pixmap(ctx, pixmap);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
    return grey;
}

void fill_image(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    State &s = state_of(device);
    const bool planes = is_planes(ctx, s, image->colorspace);
    const bool keeps = planes && keeps_any(ctx, s, image->colorspace);
    bool overprint = planes && params.op != 0;
    if (overprint && !keeps) {
        return;
    }
    if (planes && !overprint && !s.together.empty()) {
        begin_together(s, alpha);
        put_corners(s.out(), fz_unit_rect, ctm);
        s.out() += "f Q\n";
        overprint = true;
        if (!keeps) {
            return;
        }
    }
    int number = -1;
    if (const auto known = s.images.find(image); known != s.images.end()) {
        number = known->second;
    } else if (number = planes ? add_jpeg(ctx, s, image) : -1; number >= 0) {
        s.images[image] = number;
    } else {
        fz_pixmap *pixmap = planes ? fz_get_pixmap_from_image(ctx, image, nullptr, nullptr, nullptr, nullptr)
                                   : grey_pixmap(ctx, image);
        number = planes ? add_image(ctx, s, *pixmap, image->interpolate != 0)
                        : add_grey_image(s, *pixmap, image->interpolate != 0);
        fz_drop_pixmap(ctx, pixmap);
        s.images[image] = number;
    }
    begin_picture(s, alpha, overprint);
    put_matrix(s.out(), ctm);
    s.out() += "1 0 0 -1 0 1 cm /I" + std::to_string(number) + " Do Q\n";
}

fz_rect unit_area(fz_matrix ctm)
{
    return fz_transform_rect(fz_unit_rect, ctm);
}

/// A stencil as grey, 255 where it paints.
void open_stencil(fz_context *ctx, State &s, fz_image *image, fz_matrix ctm)
{
    fz_pixmap *pixmap = fz_get_pixmap_from_image(ctx, image, nullptr, nullptr, nullptr, nullptr);
    const int number = add_grey_image(s, *pixmap, image->interpolate != 0);
    fz_drop_pixmap(ctx, pixmap);
    open_image_mask(s, number, ctm, within_page(s, unit_area(ctm)));
}

void fill_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_colorspace *space,
                     const float *value, float alpha, fz_color_params params)
{
    State &s = state_of(device);
    open_stencil(ctx, s, image, ctm);
    fill_through_mask(ctx, s, unit_area(ctm), space, value, alpha, params);
}

/// A mesh with a function, as a picture.
void fill_mesh(fz_context *ctx, State &s, fz_shade *shade, fz_matrix ctm)
{
    const float scale = 300.0f / 72.0f;
    const fz_rect area = within_page(s, fz_bound_shade(ctx, shade, ctm));
    const fz_irect box = fz_round_rect(fz_transform_rect(area, fz_scale(scale, scale)));
    if (fz_is_empty_irect(box)) {
        return;
    }
    fz_pixmap *pixmap = fz_new_pixmap_with_bbox(ctx, shade->colorspace, box, nullptr, 1);
    fz_try(ctx)
    {
        fz_clear_pixmap(ctx, pixmap);
        fz_paint_shade(ctx, shade, nullptr, fz_concat(ctm, fz_scale(scale, scale)), pixmap,
                       fz_default_color_params, box, nullptr, nullptr);
    }
    fz_catch(ctx)
    {
        fz_drop_pixmap(ctx, pixmap);
        fz_rethrow(ctx);
    }
    const int number = add_image(ctx, s, *pixmap, false);
    put_matrix(s.out(),
               fz_make_matrix(static_cast<float>(pixmap->w) / scale, 0, 0,
                              static_cast<float>(pixmap->h) / scale, static_cast<float>(pixmap->x) / scale,
                              static_cast<float>(pixmap->y) / scale));
    fz_drop_pixmap(ctx, pixmap);
    s.out() += "1 0 0 -1 0 1 cm /I" + std::to_string(number) + " Do\n";
}

void fill_shade(fz_context *ctx, fz_device *device, fz_shade *shade, fz_matrix ctm, float alpha,
                fz_color_params params)
{
    State &s = state_of(device);
    if (!is_planes(ctx, s, shade->colorspace)) { // in a mask: seen as grey
        const float scale = 300.0f / 72.0f;
        const fz_irect box = fz_round_rect(
            fz_transform_rect(within_page(s, fz_bound_shade(ctx, shade, ctm)), fz_scale(scale, scale)));
        if (fz_is_empty_irect(box)) {
            return;
        }
        fz_pixmap *grey = fz_new_pixmap_with_bbox(ctx, fz_device_gray(ctx), box, nullptr, 0);
        fz_var(grey);
        fz_try(ctx)
        {
            fz_clear_pixmap(ctx, grey);
            fz_paint_shade(ctx, shade, nullptr, fz_concat(ctm, fz_scale(scale, scale)), grey,
                           fz_default_color_params, box, nullptr, nullptr);
        }
        fz_catch(ctx)
        {
            fz_drop_pixmap(ctx, grey);
            fz_rethrow(ctx);
        }
        const int number = add_grey_image(s, *grey, false);
        s.out() += "q ";
        put_matrix(s.out(),
                   fz_make_matrix(static_cast<float>(grey->w) / scale, 0, 0,
                                  static_cast<float>(grey->h) / scale, static_cast<float>(grey->x) / scale,
                                  static_cast<float>(grey->y) / scale));
        fz_drop_pixmap(ctx, grey);
        s.out() += "1 0 0 -1 0 1 cm /I" + std::to_string(number) + " Do Q\n";
        return;
    }
    std::vector<int> components;
    std::vector<int> plates;
    kept_components(ctx, s, shade->colorspace, components, plates);
    if (components.empty() && params.op != 0) {
        return;
    }
    const bool together = params.op == 0 && !s.together.empty();
    begin_picture(s, alpha, params.op != 0 || together);
    const bool line = shade->type == FZ_LINEAR;
    if (!line && shade->type != FZ_RADIAL) {
        fill_mesh(ctx, s, shade, ctm);
        s.out() += "Q\n";
        return;
    }
    const bool empty = components.empty();
    if (empty) {
        plates = {0};
    }
    VectorShading made;
    made.radial = !line;
    made.space = s.space(together ? s.together : plates);
    made.extend = {shade->u.l_or_r.extend[0] != 0, shade->u.l_or_r.extend[1] != 0};
    for (const auto &end : shade->u.l_or_r.coords) {
        for (int i = 0; i < (line ? 2 : 3); ++i) {
            made.coords.push_back(static_cast<double>(end[i]));
        }
    }
    for (const auto &colour : shade->function) {
        std::vector<double> values(plates.size());
        for (std::size_t i = 0; i < components.size(); ++i) {
            values[i] = static_cast<double>(colour[components[i]]);
        }
        if (together) {
            values = spread_to(s.together, empty ? std::vector<int>() : plates, values);
        }
        for (const double value : values) {
            made.samples.push_back(static_cast<std::uint8_t>(std::lround(std::clamp(value, 0.0, 1.0) * 255)));
        }
    }
    s.page->shadings.push_back(std::move(made));
    const fz_matrix place = fz_concat(shade->matrix, ctm);
    if (!fz_is_infinite_rect(shade->bbox)) {
        put_matrix(s.out(), place);
        put_rectangle(s.out(), shade->bbox);
        s.out() += "W n ";
    } else {
        put_matrix(s.out(), place);
    }
    s.out() += "/S" + std::to_string(s.page->shadings.size() - 1) + " sh Q\n";
}

// ---- clips, masks, groups, patterns ---------------------------------------------------------------

void clip_path(fz_context *ctx, fz_device *device, const fz_path *path, int even_odd, fz_matrix ctm, fz_rect)
{
    State &s = state_of(device);
    s.out() += "q ";
    const std::size_t before = s.out().size();
    put_path(ctx, s.out(), path, ctm);
    if (s.out().size() == before) {
        s.out() += "0 0 0 0 re ";
    }
    s.out() += even_odd != 0 ? "W* n\n" : "W n\n";
}

void clip_stroke_path(fz_context *ctx, fz_device *device, const fz_path *path, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect)
{
    const float black = 0;
    open_drawn_mask(ctx, state_of(device), fz_bound_path(ctx, path, stroke, ctm), [&](fz_device *drawn) {
        fz_stroke_path(ctx, drawn, path, stroke, ctm, fz_device_gray(ctx), &black, 1,
                       fz_default_color_params);
    });
}

void clip_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_rect)
{
    State &s = state_of(device);
    if (s.fonts->can_write(ctx, text)) {
        s.out() += "q ";
        s.fonts->put(ctx, s.out(), text, ctm, TextPainting::Clip);
        return;
    }
    if (has_outlines(ctx, text, s.glyphs)) {
        s.out() += "q ";
        const std::size_t before = s.out().size();
        put_text_path(ctx, s.out(), text, ctm, s.glyphs);
        s.out() += s.out().size() == before ? "0 0 0 0 re W n\n" : "W n\n";
        return;
    }
    const float black = 0;
    open_drawn_mask(ctx, s, fz_bound_text(ctx, text, nullptr, ctm), [&](fz_device *drawn) {
        fz_fill_text(ctx, drawn, text, ctm, fz_device_gray(ctx), &black, 1, fz_default_color_params);
    });
}

void clip_stroke_text(fz_context *ctx, fz_device *device, const fz_text *text, const fz_stroke_state *stroke,
                      fz_matrix ctm, fz_rect)
{
    const float black = 0;
    open_drawn_mask(ctx, state_of(device), fz_bound_text(ctx, text, stroke, ctm), [&](fz_device *drawn) {
        fz_stroke_text(ctx, drawn, text, stroke, ctm, fz_device_gray(ctx), &black, 1,
                       fz_default_color_params);
    });
}

void clip_image_mask(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix ctm, fz_rect)
{
    open_stencil(ctx, state_of(device), image, ctm);
}

void pop_clip(fz_context *, fz_device *device)
{
    state_of(device).out() += "Q\n";
}

void begin_mask(fz_context *ctx, fz_device *device, fz_rect area, int luminosity, fz_colorspace *space,
                const float *backdrop, fz_color_params)
{
    State &s = state_of(device);
    const double grey = backdrop != nullptr ? grey_of(ctx, space, backdrop) : 0.0;
    s.masks.push_back({area, luminosity != 0, grey});
    s.open.emplace_back();
    ++s.mask_depth;
}

void end_mask(fz_context *, fz_device *device)
{
    State &s = state_of(device);
    const Mask mask = s.masks.back();
    s.masks.pop_back();
    --s.mask_depth;
    VectorForm form;
    form.content = s.finish();
    form.box = box_of(within_page(s, mask.area));
    form.group = form.isolated = form.grey = true;
    VectorState state;
    state.mask_form = add_form(s, std::move(form));
    state.luminosity = mask.luminosity;
    state.backdrop = mask.backdrop;
    s.page->states.push_back(state);
    s.page->transparent = true;
    s.out() += "q /G" + std::to_string(s.page->states.size() - 1) + " gs\n";
}

void begin_group(fz_context *, fz_device *device, fz_rect area, fz_colorspace *, int isolated, int knockout,
                 int blend, float alpha)
{
    State &s = state_of(device);
    s.groups.push_back({area, isolated != 0, knockout != 0, blend, alpha});
    s.open.emplace_back();
}

void end_group(fz_context *, fz_device *device)
{
    State &s = state_of(device);
    const Group group = s.groups.back();
    s.groups.pop_back();
    VectorForm form;
    form.content = s.finish();
    form.box = box_of(within_page(s, group.area));
    form.group = true;
    form.isolated = group.isolated;
    form.knockout = group.knockout;
    form.grey = s.mask_depth > 0;
    const int number = add_form(s, std::move(form));
    s.page->transparent = true;
    std::string name = fz_blendmode_name(group.blend & FZ_BLEND_MODEMASK);
    std::string entries = "/BM /" + name + " /ca ";
    put_number(entries, static_cast<double>(group.alpha));
    s.out() += "q /G" + std::to_string(s.state(entries)) + " gs /F" + std::to_string(number) + " Do Q\n";
}

int begin_tile(fz_context *, fz_device *device, fz_rect area, fz_rect view, float xstep, float ystep,
               fz_matrix ctm, int)
{
    State &s = state_of(device);
    s.tiles.push_back({area, view, xstep, ystep, ctm});
    s.open.emplace_back();
    return 0;
}

void end_tile(fz_context *ctx, fz_device *device)
{
    State &s = state_of(device);
    const Tile tile = s.tiles.back();
    s.tiles.pop_back();
    std::string content = "q ";
    const fz_rect &v = tile.view;
    put_corners(content, v, tile.ctm);
    content += "W n\n" + s.finish() + "Q\n";
    VectorForm form;
    form.content = std::move(content);
    form.box = box_of(fz_transform_rect(v, tile.ctm));
    const int number = add_form(s, std::move(form));
    const auto first = [](float low, float high, float step) {
        return std::floor(static_cast<double>((low - high) / step));
    };
    const float xstep = std::fabs(tile.xstep);
    const float ystep = std::fabs(tile.ystep);
    const double left = first(tile.area.x0, v.x1, xstep), top = first(tile.area.y0, v.y1, ystep);
    const double right = -first(-tile.area.x1, -v.x0, xstep), bottom = -first(-tile.area.y1, -v.y0, ystep);
    if (!((right - left + 1) * (bottom - top + 1) <= most_repeats)) {
        fz_throw(ctx, FZ_ERROR_GENERIC, "a pattern repeats more than 200000 times");
    }
    for (double row = top; row <= bottom; ++row) {
        for (double column = left; column <= right; ++column) {
            const fz_point by = fz_transform_vector(
                fz_make_point(static_cast<float>(column) * xstep, static_cast<float>(row) * ystep), tile.ctm);
            s.out() += "q 1 0 0 1 ";
            put_number(s.out(), static_cast<double>(by.x));
            put_number(s.out(), static_cast<double>(by.y));
            s.out() += "cm /F" + std::to_string(number) + " Do Q\n";
        }
    }
}

} // namespace

fz_device *new_vector_device(fz_context *ctx, VectorPage &page, std::function<int(const char *)> plate_of,
                             std::vector<int> together)
{
    OwnDevice<State> *device = OwnDevice<State>::make(ctx);
    device->state->page = &page;
    device->state->plate_of = std::move(plate_of);
    device->state->together = std::move(together);
    device->state->fonts = std::make_unique<VectorFonts>(page);
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
