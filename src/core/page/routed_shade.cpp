#include "core/page/routed_shade.h"

#include "core/page/pixel_chance.h"
#include "core/page/pixel_image.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace bichrom {

namespace {

constexpr float picture_ppi = 300.0f;
constexpr float longest_side = 4096.0f;

fz_compressed_buffer *keep_buffer(fz_context *ctx, fz_compressed_buffer *buffer)
{
    if (buffer == nullptr) {
        return nullptr;
    }
    fz_compressed_buffer *copy = fz_malloc_struct(ctx, fz_compressed_buffer);
    copy->params = buffer->params;
    copy->buffer = fz_keep_buffer(ctx, buffer->buffer);
    return copy;
}

/// \p shade with its table of colours given in the route's space. New reference.
fz_shade *with_routed_table(fz_context *ctx, ColourRoute &route, const fz_shade *shade, fz_colorspace *space,
                            bool overprint)
{
    fz_shade *copy = fz_malloc_struct(ctx, fz_shade);
    FZ_INIT_STORABLE(copy, 1, fz_drop_shade_imp);
    fz_try(ctx)
    {
        copy->bbox = shade->bbox;
        copy->colorspace = fz_keep_colorspace(ctx, space);
        copy->matrix = shade->matrix;
        copy->use_function = 1;
        copy->type = shade->type;
        copy->u = shade->u;
        copy->buffer = keep_buffer(ctx, shade->buffer);
        for (int i = 0; i < 256; ++i) {
            float value[FZ_MAX_COLORS] = {};
            route.components(ctx, shade->colorspace, shade->function[i], overprint, value);
            std::copy(value, value + space->n, copy->function[i]);
            copy->function[i][space->n] = 1.0f; // MuPDF keeps an opaque alpha behind the colour
        }
    }
    fz_catch(ctx)
    {
        fz_drop_shade(ctx, copy);
        fz_rethrow(ctx);
    }
    return copy;
}

/// Fills triangles of a mesh into a picture, colours interpolated between the corners and rounded by chance.
struct MeshPainter
{
    fz_pixmap *picture;
    int components;
    bool lab;
};

void keep_vertex(fz_context *, void *user, fz_vertex *vertex, const float *colour)
{
    const auto *painter = static_cast<const MeshPainter *>(user);
    std::copy(colour, colour + painter->components, vertex->c);
}

void fill_triangle(fz_context *, void *user, fz_vertex *a, fz_vertex *b, fz_vertex *c)
{
    const auto *painter = static_cast<const MeshPainter *>(user);
    fz_pixmap *picture = painter->picture;
    const float det = (b->p.x - a->p.x) * (c->p.y - a->p.y) - (c->p.x - a->p.x) * (b->p.y - a->p.y);
    if (std::fabs(det) < 1e-9f) {
        return;
    }
    const auto clamp = [](float v, int low, int high) {
        return std::isfinite(v)
                   ? static_cast<int>(std::clamp(v, static_cast<float>(low), static_cast<float>(high)))
                   : low;
    };
    const int x0 = clamp(std::floor(std::min({a->p.x, b->p.x, c->p.x})), 0, picture->w);
    const int x1 = clamp(std::ceil(std::max({a->p.x, b->p.x, c->p.x})), 0, picture->w);
    const int y0 = clamp(std::floor(std::min({a->p.y, b->p.y, c->p.y})), 0, picture->h);
    const int y1 = clamp(std::ceil(std::max({a->p.y, b->p.y, c->p.y})), 0, picture->h);
    for (int y = y0; y < y1; ++y) {
        unsigned char *pixel = picture->samples + y * picture->stride + x0 * picture->n;
        const float py = static_cast<float>(y) + 0.5f;
        for (int x = x0; x < x1; ++x, pixel += picture->n) {
            const float px = static_cast<float>(x) + 0.5f;
            const float wb = ((px - a->p.x) * (c->p.y - a->p.y) - (c->p.x - a->p.x) * (py - a->p.y)) / det;
            const float wc = ((b->p.x - a->p.x) * (py - a->p.y) - (px - a->p.x) * (b->p.y - a->p.y)) / det;
            const float wa = 1.0f - wb - wc;
            constexpr float slack = -1e-4f; // neighbours share their edge without a gap
            if (wa < slack || wb < slack || wc < slack) {
                continue;
            }
            const std::uint32_t chance = pixel_chance(x, y);
            for (int k = 0; k < painter->components; ++k) {
                float v = wa * a->c[k] + wb * b->c[k] + wc * c->c[k];
                if (painter->lab) {
                    v = k == 0 ? v / 100.0f : (v + 128.0f) / 255.0f;
                }
                const auto fine = static_cast<std::uint32_t>(std::lround(std::clamp(v, 0.0f, 1.0f) * 65280));
                pixel[k] = static_cast<unsigned char>((fine + chance_of_component(chance, k)) >> 8);
            }
            pixel[painter->components] = 255;
        }
    }
}

/// \p picture, whose last sample is alpha, without it where all of it is opaque, so that it is painted like
/// any other; else the same. New reference.
fz_pixmap *opaque_if_it_is(fz_context *ctx, fz_pixmap *picture)
{
    const int colours = picture->n - 1;
    for (int y = 0; y < picture->h; ++y) {
        const unsigned char *alpha = picture->samples + y * picture->stride + colours;
        for (int x = 0; x < picture->w; ++x, alpha += picture->n) {
            if (*alpha != 255) {
                return fz_keep_pixmap(ctx, picture);
            }
        }
    }
    fz_pixmap *opaque = fz_new_pixmap(ctx, picture->colorspace, picture->w, picture->h, nullptr, 0);
    for (int y = 0; y < picture->h; ++y) {
        const unsigned char *from = picture->samples + y * picture->stride;
        unsigned char *to = opaque->samples + y * opaque->stride;
        for (int x = 0; x < picture->w; ++x, from += picture->n, to += colours) {
            std::copy_n(from, colours, to);
        }
    }
    return opaque;
}

void paint_as_picture(fz_context *ctx, fz_device *target, ColourRoute &route, fz_shade *shade, fz_matrix ctm,
                      fz_rect area, float alpha, fz_color_params params)
{
    const fz_rect bounds = fz_intersect_rect(fz_bound_shade(ctx, shade, ctm), area);
    if (fz_is_empty_rect(bounds) || fz_is_infinite_rect(bounds)) {
        return;
    }
    const float width = bounds.x1 - bounds.x0;
    const float height = bounds.y1 - bounds.y0;
    const float scale = std::min(picture_ppi / 72.0f, longest_side / std::max(width, height));
    const int columns = std::max(1, static_cast<int>(std::ceil(width * scale)));
    const int rows = std::max(1, static_cast<int>(std::ceil(height * scale)));
    fz_pixmap *picture = nullptr;
    fz_pixmap *opaque = nullptr;
    fz_pixmap *routed = nullptr;
    fz_image *image = nullptr;
    fz_var(picture);
    fz_var(opaque);
    fz_var(routed);
    fz_var(image);
    fz_try(ctx)
    {
        picture = fz_new_pixmap(ctx, shade->colorspace, columns, rows, nullptr, 1);
        fz_clear_pixmap(ctx, picture);
        MeshPainter painter{picture, fz_colorspace_n(ctx, shade->colorspace),
                            fz_colorspace_is_lab(ctx, shade->colorspace) != 0};
        const fz_matrix to_picture =
            fz_concat(ctm, fz_concat(fz_translate(-bounds.x0, -bounds.y0), fz_scale(scale, scale)));
        const fz_rect whole = {0, 0, static_cast<float>(columns), static_cast<float>(rows)};
        fz_process_shade(ctx, shade, to_picture, whole, keep_vertex, fill_triangle, &painter);
        opaque = opaque_if_it_is(ctx, picture);
        routed = route.pixels(ctx, opaque, params.op != 0);
        image = new_pixel_image(ctx, routed, true);
        const fz_matrix place = fz_make_matrix(static_cast<float>(columns) / scale, 0, 0,
                                               static_cast<float>(rows) / scale, bounds.x0, bounds.y0);
        fz_fill_image(ctx, target, image, place, alpha, params);
    }
    fz_always(ctx)
    {
        fz_drop_pixmap(ctx, picture);
        fz_drop_pixmap(ctx, opaque);
        fz_drop_pixmap(ctx, routed);
        fz_drop_image(ctx, image);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void fill_background(fz_context *ctx, fz_device *target, ColourRoute &route, const fz_shade *shade,
                     fz_rect area, float alpha, fz_color_params params)
{
    RoutedColour colour;
    route.colour(ctx, shade->colorspace, shade->background, params, false, colour);
    if (!colour.paints || fz_is_infinite_rect(area) || fz_is_empty_rect(area)) {
        return;
    }
    fz_path *path = fz_new_path(ctx);
    fz_try(ctx)
    {
        fz_rectto(ctx, path, area.x0, area.y0, area.x1, area.y1);
        params.op = colour.overprint ? 1 : 0;
        fz_fill_path(ctx, target, path, 0, fz_identity, colour.space, colour.value, alpha, params);
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

} // namespace

void paint_routed_shade(fz_context *ctx, fz_device *target, ColourRoute &route, fz_shade *shade,
                        fz_matrix ctm, fz_rect area, float alpha, fz_color_params params)
{
    const bool overprint = params.op != 0;
    fz_colorspace *space = route.target_space(ctx, shade->colorspace, overprint);
    if (space == nullptr) {
        return;
    }
    params.opm = 0;
    if (shade->use_background != 0) {
        fill_background(ctx, target, route, shade, area, alpha, params);
    }
    if (shade->use_function == 0) {
        paint_as_picture(ctx, target, route, shade, ctm, area, alpha, params);
        return;
    }
    fz_shade *routed = with_routed_table(ctx, route, shade, space, overprint);
    fz_try(ctx)
    {
        fz_fill_shade(ctx, target, routed, ctm, alpha, params);
    }
    fz_always(ctx)
    {
        fz_drop_shade(ctx, routed);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

} // namespace bichrom
