#include "core/fit/film_text.h"

#include "core/artwork/mupdf/runtime.h"
#include "core/artwork/mupdf/type3.h"
#include "core/page/runs/outlines.h"

extern "C" {
extern const unsigned char bichrom_sans_medium_otf[];
extern const unsigned char bichrom_sans_medium_otf_end[];
}

namespace bichrom {

struct FilmText::Impl
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

FilmText::FilmText(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
FilmText::~FilmText() = default;
FilmText::FilmText(FilmText &&) noexcept = default;

Outcome<FilmText> FilmText::make()
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
    return FilmText(std::move(impl));
}

double FilmText::width(const std::string &text, double size) const
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

Done FilmText::add(const std::string &text, double size, double x, double y, ShapeList &shapes) const
{
    const auto lease = m_impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    return guarded(ctx, "label", [&] {
        fz_text *run = fz_new_text(ctx);
        fz_path *outline = nullptr;
        fz_var(outline);
        fz_try(ctx)
        {
            const auto em = static_cast<float>(size);
            const fz_matrix place = {em, 0, 0, -em, static_cast<float>(x), static_cast<float>(y)};
            fz_show_string(ctx, run, m_impl->font, place, text.c_str(), 0, 0, FZ_BIDI_LTR, FZ_LANG_UNSET);
            for (const fz_text_span *span = run->head; span != nullptr; span = span->next) {
                for (int i = 0; i < span->len; ++i) {
                    const fz_text_item &item = span->items[i];
                    outline = item.gid < 0 ? nullptr
                                           : fz_outline_glyph(ctx, span->font, item.gid,
                                                              glyph_matrix(span, item, fz_identity));
                    if (outline != nullptr) {
                        add_fill(ctx, outline, fz_identity, shapes);
                        fz_drop_path(ctx, outline);
                        outline = nullptr;
                    }
                }
            }
        }
        fz_always(ctx)
        {
            fz_drop_path(ctx, outline);
            fz_drop_text(ctx, run);
        }
        fz_catch(ctx)
        {
            fz_rethrow(ctx);
        }
    });
}

} // namespace bichrom
