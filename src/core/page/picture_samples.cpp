#include "core/page/picture_samples.h"

#include "core/artwork/mupdf/own_device.h"
#include "core/artwork/mupdf/page_content_impl.h"
#include "core/artwork/mupdf/painting_order.h"
#include "core/artwork/mupdf/type3.h"

#include <algorithm>
#include <map>

namespace bichrom {

namespace {

struct Sampler
{
    PaintingOrder order;
    int mask_depth = 0;
    std::map<const fz_image *, Plane> samples;
    std::vector<std::pair<int, const fz_image *>> uses;
};

struct SamplingDevice
{
    fz_device super;
    Sampler *sampler;
};

Sampler &sampler(fz_device *device)
{
    return *reinterpret_cast<SamplingDevice *>(device)->sampler;
}

/// Objects are counted as the scene counts them.
int next(fz_device *device)
{
    Sampler &s = sampler(device);
    return s.mask_depth > 0 ? -1 : s.order.next().index;
}

void fill_path(fz_context *, fz_device *device, const fz_path *, int, fz_matrix, fz_colorspace *,
               const float *, float, fz_color_params)
{
    (void)next(device);
}
void stroke_path(fz_context *, fz_device *device, const fz_path *, const fz_stroke_state *, fz_matrix,
                 fz_colorspace *, const float *, float, fz_color_params)
{
    (void)next(device);
}
void fill_text(fz_context *ctx, fz_device *device, const fz_text *text, fz_matrix ctm, fz_colorspace *,
               const float *, float, fz_color_params)
{
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        for (int i = 0; i < span->len; ++i) {
            if (is_coloured_glyph(span->font, span->items[i].gid)) {
                fz_run_t3_glyph(ctx, span->font, span->items[i].gid, glyph_matrix(span, span->items[i], ctm),
                                device);
            }
        }
    }
    (void)next(device);
}
void stroke_text(fz_context *, fz_device *device, const fz_text *, const fz_stroke_state *, fz_matrix,
                 fz_colorspace *, const float *, float, fz_color_params)
{
    (void)next(device);
}
void fill_shade(fz_context *, fz_device *device, fz_shade *, fz_matrix, float, fz_color_params)
{
    (void)next(device);
}
void fill_image_mask(fz_context *, fz_device *device, fz_image *, fz_matrix, fz_colorspace *, const float *,
                     float, fz_color_params)
{
    (void)next(device);
}

void fill_image(fz_context *ctx, fz_device *device, fz_image *image, fz_matrix, float, fz_color_params)
{
    constexpr int least = 64;
    constexpr int most = 512;
    const int index = next(device);
    Sampler &s = sampler(device);
    if (index < 0 || image->w < least || image->h < least || image->bpc == 1) {
        return;
    }
    if (s.samples.count(image) == 0) {
        fz_irect part = {std::max(0, (image->w - most) / 2), std::max(0, (image->h - most) / 2), 0, 0};
        part.x1 = std::min(image->w, part.x0 + most);
        part.y1 = std::min(image->h, part.y0 + most);
        const fz_irect whole = part;
        fz_pixmap *pixels = fz_get_pixmap_from_image(ctx, image, &part, nullptr, nullptr, nullptr);
        // More than was asked for may come back: the part is cut from its place.
        const int left =
            pixels->w > whole.x1 - whole.x0 ? std::min(whole.x0, pixels->w - (whole.x1 - whole.x0)) : 0;
        const int top =
            pixels->h > whole.y1 - whole.y0 ? std::min(whole.y0, pixels->h - (whole.y1 - whole.y0)) : 0;
        const int channels = std::max(1, pixels->n - pixels->alpha);
        Plane plane(std::min(most, pixels->w), std::min(most, pixels->h));
        for (int y = 0; y < plane.height; ++y) {
            const unsigned char *from = pixels->samples + (top + y) * pixels->stride + left * pixels->n;
            for (std::uint8_t &grey : plane.row(y)) {
                int sum = 0;
                for (int c = 0; c < channels; ++c) {
                    sum += from[c];
                }
                grey = static_cast<std::uint8_t>(sum / channels);
                from += pixels->n;
            }
        }
        fz_drop_pixmap(ctx, pixels);
        s.samples.emplace(image, std::move(plane));
    }
    s.uses.emplace_back(index, image);
}

void begin_mask(fz_context *, fz_device *device, fz_rect, int, fz_colorspace *, const float *,
                fz_color_params)
{
    ++sampler(device).mask_depth;
}
void end_mask(fz_context *, fz_device *device)
{
    --sampler(device).mask_depth;
}
void begin_layer(fz_context *, fz_device *device, const char *name)
{
    sampler(device).order.open_layer(name);
}
void end_layer(fz_context *, fz_device *device)
{
    sampler(device).order.close_layer();
}

} // namespace

Done each_picture_sample(const PageContent &page,
                         const std::function<void(int object, const Plane &sample)> &look,
                         const JobControl &control)
{
    const PageContent::Impl &content = page.impl();
    using Samples = std::vector<std::pair<int, Plane>>;
    static const std::string key = "picture samples";
    if (const auto kept = std::static_pointer_cast<const Samples>(content.memory.find(key))) {
        for (const auto &[object, sample] : *kept) {
            look(object, sample);
        }
        return {};
    }
    const auto lease = content.runtime->lease();
    fz_context *ctx = lease.ctx();
    Sampler found;
    constexpr double seconds = 60; // of work
    CookieWatch watch(control, seconds);
    NoteScope ignored(ctx); // what is wrong with a picture is told when the page is routed
    const Done done = guarded(ctx, content.place, [&] {
        SamplingDevice *device = fz_new_derived_device(ctx, SamplingDevice);
        device->sampler = &found;
        fz_device &d = device->super;
        d.fill_path = fill_path;
        d.stroke_path = stroke_path;
        d.fill_text = Tolerant<fill_text>::call;
        d.stroke_text = stroke_text;
        d.fill_shade = fill_shade;
        d.fill_image = Tolerant<fill_image>::call;
        d.fill_image_mask = fill_image_mask;
        d.begin_mask = begin_mask;
        d.end_mask = end_mask;
        d.begin_layer = begin_layer;
        d.end_layer = end_layer;
        (void)run_and_drop(ctx, content.list, &d, watch.cookie());
    });
    if (const Done verdict = watch.verdict(content.place); !verdict) {
        return verdict;
    }
    if (!done) {
        return done;
    }
    auto samples = std::make_shared<Samples>();
    for (const auto &[object, image] : found.uses) {
        look(object, found.samples.at(image));
        samples->emplace_back(object, found.samples.at(image));
    }
    constexpr std::size_t most_kept = 100; // a quarter of a megabyte each
    if (samples->size() <= most_kept) {
        content.memory.keep(key, std::move(samples));
    }
    return {};
}

} // namespace bichrom
