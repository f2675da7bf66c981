#include "core/proof/original_view.h"

#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/page_content_impl.h"
#include "core/page/draw_guard.h"
#include "core/page/routed_list.h"

#include <algorithm>

namespace bichrom {

namespace {

/// Everything to sRGB.
class ViewRoute final : public ColourRoute
{
public:
    explicit ViewRoute(const PageColours &colours) : m_colours(colours) {}

    void colour(fz_context *ctx, fz_colorspace *space, const float *value, fz_color_params, bool,
                RoutedColour &out) override
    {
        out.space = fz_device_rgb(ctx);
        const Rgb8 rgb = m_colours.to_rgb(m_colours.alternate(ctx, space, value));
        out.value[0] = static_cast<float>(rgb.r) / 255.0f;
        out.value[1] = static_cast<float>(rgb.g) / 255.0f;
        out.value[2] = static_cast<float>(rgb.b) / 255.0f;
    }
    fz_colorspace *target_space(fz_context *ctx, fz_colorspace *, bool) override
    {
        return fz_device_rgb(ctx);
    }
    void components(fz_context *ctx, fz_colorspace *space, const float *value, bool, float *out) override
    {
        RoutedColour routed;
        colour(ctx, space, value, fz_default_color_params, false, routed);
        std::copy(routed.value, routed.value + 3, out);
    }
    fz_pixmap *pixels(fz_context *ctx, fz_pixmap *source, bool) override
    {
        const SourceProfile *profile = m_colours.source_of(ctx, source->colorspace);
        const bool process = m_colours.device_channels(ctx, source->colorspace) == 4;
        if ((profile == nullptr && !process) || source->alpha != 0) {
            return fz_convert_pixmap(ctx, source, fz_device_rgb(ctx), nullptr, nullptr,
                                     fz_default_color_params, 1);
        }
        fz_pixmap *result = fz_new_pixmap(ctx, fz_device_rgb(ctx), source->w, source->h, nullptr, 0);
        for (int y = 0; y < source->h; ++y) {
            const unsigned char *from = source->samples + y * source->stride;
            unsigned char *to = result->samples + y * result->stride;
            const auto width = static_cast<std::size_t>(source->w);
            if (profile != nullptr) {
                profile->pixels_to_rgb(from, to, width);
            } else {
                m_colours.condition().cmyk_pixels_to_rgb(from, to, width);
            }
        }
        return result;
    }

private:
    const PageColours &m_colours;
};

} // namespace

struct OriginalView::Impl
{
    std::shared_ptr<const PageContent> page;
    fz_display_list *list = nullptr;

    ~Impl()
    {
        const auto lease = page->impl().runtime->lease();
        fz_drop_display_list(lease.ctx(), list);
    }
};

OriginalView::OriginalView(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
OriginalView::~OriginalView() = default;

Outcome<std::shared_ptr<const OriginalView>> OriginalView::make(std::shared_ptr<const PageContent> page,
                                                                const JobControl &control)
{
    auto impl = std::make_unique<Impl>();
    impl->page = std::move(page);
    const PageContent::Impl &content = impl->page->impl();
    const auto lease = content.runtime->lease();
    fz_context *ctx = lease.ctx();
    ViewRoute route(*content.colours);
    const auto list = route_page(ctx, content, route, control);
    if (!list) {
        return list.error();
    }
    impl->list = *list;
    return std::shared_ptr<const OriginalView>(new OriginalView(std::move(impl)));
}

Outcome<std::vector<std::uint32_t>> OriginalView::render(PixelRect rect, Dpi resolution, Edges edges,
                                                         const JobControl &control, double most_seconds) const
{
    const PageContent::Impl &content = m_impl->page->impl();
    const auto lease = content.runtime->lease();
    fz_context *ctx = lease.ctx();
    std::vector<std::uint8_t> bytes(
        static_cast<std::size_t>(rect.width) * static_cast<std::size_t>(rect.height) * 3, 255);
    const auto scale = static_cast<float>(resolution.value / points_per_inch);
    CookieWatch watch(control, most_seconds);
    const Done done = guarded(ctx, content.place, [&] {
        fz_pixmap *pixmap = nullptr;
        fz_device *device = nullptr;
        fz_var(pixmap);
        fz_var(device);
        fz_try(ctx)
        {
            fz_set_graphics_aa_level(ctx, edges == Edges::Quick ? 2 : 8);
            fz_set_graphics_min_line_width(ctx, 0.0f);
            fz_set_text_aa_level(ctx, 8);
            const fz_irect box = {rect.x, rect.y, rect.x + rect.width, rect.y + rect.height};
            pixmap = fz_new_pixmap_with_bbox_and_data(ctx, fz_device_rgb(ctx), box, nullptr, 0, bytes.data());
            device = fz_new_draw_device(ctx, fz_identity, pixmap);
            guard_draw_device(device, box);
            fz_run_display_list(ctx, m_impl->list, device, fz_scale(scale, scale), fz_rect_from_irect(box),
                                watch.cookie());
            fz_close_device(ctx, device);
        }
        fz_always(ctx)
        {
            fz_drop_device(ctx, device);
            fz_drop_pixmap(ctx, pixmap);
        }
        fz_catch(ctx)
        {
            fz_rethrow(ctx);
        }
    });
    if (const Done verdict = watch.verdict(content.place); !verdict) {
        return verdict.error();
    }
    if (!done) {
        return done.error();
    }
    std::vector<std::uint32_t> pixels(bytes.size() / 3);
    for (std::size_t i = 0; i < pixels.size(); ++i) {
        pixels[i] = 0xFF000000u | (std::uint32_t(bytes[i * 3]) << 16) |
                    (std::uint32_t(bytes[i * 3 + 1]) << 8) | std::uint32_t(bytes[i * 3 + 2]);
    }
    return pixels;
}

} // namespace bichrom
