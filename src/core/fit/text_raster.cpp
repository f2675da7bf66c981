#include "core/fit/text_raster.h"

#include "core/artwork/mupdf/runtime.h"

#include <cmath>

extern "C" {
extern const unsigned char bichrom_sans_medium_otf[];
extern const unsigned char bichrom_sans_medium_otf_end[];
}

namespace bichrom {

struct TextRaster::Impl
{
    std::shared_ptr<MupdfRuntime> runtime;
    fz_font *font = nullptr;
    ~Impl()
    {
        if (font != nullptr) {
            const auto lease = runtime->lease();
            fz_drop_font(lease.ctx(), font);
        }
    }
};

TextRaster::TextRaster(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
TextRaster::~TextRaster() = default;
TextRaster::TextRaster(TextRaster &&) noexcept = default;

Outcome<TextRaster> TextRaster::make()
{
    auto runtime = MupdfRuntime::make();
    if (!runtime) {
        return runtime.error();
    }
    auto impl = std::make_unique<Impl>();
    impl->runtime = *runtime;
    const auto lease = impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    const Done done = guarded(ctx, "label typeface", [&] {
        const auto size = static_cast<int>(bichrom_sans_medium_otf_end - bichrom_sans_medium_otf);
        impl->font = fz_new_font_from_memory(ctx, "label", bichrom_sans_medium_otf, size, 0, 0);
    });
    if (!done) {
        return done.error();
    }
    return TextRaster(std::move(impl));
}

double TextRaster::width(const std::string &text, double size) const
{
    const auto lease = m_impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    fz_matrix end{};
    const Done done = guarded(ctx, {}, [&] {
        end = fz_measure_string(ctx, m_impl->font, fz_scale(1, 1), text.c_str(), 0, 0, FZ_BIDI_LTR,
                                FZ_LANG_UNSET);
    });
    return done ? static_cast<double>(end.e) * size : 0.0;
}

Outcome<Plane> TextRaster::draw(const std::string &text, double size) const
{
    const auto lease = m_impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    const int columns = std::max(1, static_cast<int>(std::ceil(width(text, size))) + 2);
    const int rows = std::max(1, static_cast<int>(std::ceil(size * 1.25)));
    Plane plane(columns, rows);
    const Done done = guarded(ctx, "label", [&] {
        fz_pixmap *pixmap = nullptr;
        fz_device *device = nullptr;
        fz_text *run = nullptr;
        fz_var(pixmap);
        fz_var(device);
        fz_var(run);
        fz_try(ctx)
        {
            pixmap = fz_new_pixmap_with_data(ctx, nullptr, columns, rows, nullptr, 1, columns,
                                             plane.pixels.data());
            device = fz_new_draw_device(ctx, fz_identity, pixmap);
            run = fz_new_text(ctx);
            const auto em = static_cast<float>(size);
            const fz_matrix place = {em, 0, 0, -em, 1, em * 0.95f};
            fz_show_string(ctx, run, m_impl->font, place, text.c_str(), 0, 0, FZ_BIDI_LTR, FZ_LANG_UNSET);
            fz_fill_text(ctx, device, run, fz_identity, nullptr, nullptr, 1, fz_default_color_params);
            fz_close_device(ctx, device);
        }
        fz_always(ctx)
        {
            fz_drop_text(ctx, run);
            fz_drop_device(ctx, device);
            fz_drop_pixmap(ctx, pixmap);
        }
        fz_catch(ctx)
        {
            fz_rethrow(ctx);
        }
    });
    if (!done) {
        return done.error();
    }
    return plane;
}

} // namespace bichrom
