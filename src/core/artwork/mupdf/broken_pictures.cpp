#include "core/artwork/mupdf/broken_pictures.h"

#include "core/artwork/mupdf/runtime.h"

#include <set>
#include <string>

namespace bichrom {

namespace {

constexpr int most_depth = 12;
constexpr std::size_t most_pictures = 5000;

struct Found
{
    std::set<int> seen; ///< object numbers
    std::vector<int> pictures;
};

/// Object numbers of the pictures that \p resources reach. Throws MuPDF's way; \p found lives outside.
void collect(fz_context *ctx, pdf_obj *resources, int depth, Found &found)
{
    if (depth > most_depth) {
        return;
    }
    for (pdf_obj *group : {PDF_NAME(XObject), PDF_NAME(Pattern)}) {
        pdf_obj *entries = pdf_dict_get(ctx, resources, group);
        const int count = pdf_dict_len(ctx, entries);
        for (int i = 0; i < count; ++i) {
            pdf_obj *entry = pdf_dict_get_val(ctx, entries, i);
            const int number = pdf_to_num(ctx, entry);
            if (number <= 0 || found.pictures.size() >= most_pictures || !found.seen.insert(number).second) {
                continue;
            }
            if (pdf_name_eq(ctx, pdf_dict_get(ctx, entry, PDF_NAME(Subtype)), PDF_NAME(Image)) != 0) {
                found.pictures.push_back(number);
            } else {
                collect(ctx, pdf_dict_get(ctx, entry, PDF_NAME(Resources)), depth + 1, found);
            }
        }
    }
}

/// Makes object \p number a stencil of one pixel that paints nothing. New reference to it as an image.
fz_image *make_stencil(fz_context *ctx, pdf_document *document, int number)
{
    pdf_obj *object = pdf_new_indirect(ctx, document, number, 0);
    fz_buffer *pixel = nullptr;
    fz_image *image = nullptr;
    fz_var(pixel);
    fz_var(image);
    fz_try(ctx)
    {
        static constexpr unsigned char masked = 0x80; // with the usual Decode, 1 is not painted
        pixel = fz_new_buffer_from_copied_data(ctx, &masked, 1);
        for (pdf_obj *key : {PDF_NAME(Filter), PDF_NAME(DecodeParms), PDF_NAME(ColorSpace), PDF_NAME(SMask),
                             PDF_NAME(Mask), PDF_NAME(Decode)}) {
            pdf_dict_del(ctx, object, key);
        }
        pdf_dict_put_int(ctx, object, PDF_NAME(Width), 1);
        pdf_dict_put_int(ctx, object, PDF_NAME(Height), 1);
        pdf_dict_put_int(ctx, object, PDF_NAME(BitsPerComponent), 1);
        pdf_dict_put_bool(ctx, object, PDF_NAME(ImageMask), 1);
        pdf_update_stream(ctx, document, object, pixel, 0);
        image = pdf_load_image(ctx, document, object);
    }
    fz_always(ctx)
    {
        fz_drop_buffer(ctx, pixel);
        pdf_drop_obj(ctx, object);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
    return image;
}

} // namespace

int replace_broken_pictures(fz_context *ctx, pdf_document *document, pdf_obj *page, PictureFaults &faults,
                            std::vector<fz_image *> &held)
{
    Found found;
    (void)guarded(ctx, {},
                  [&] { collect(ctx, pdf_dict_get_inheritable(ctx, page, PDF_NAME(Resources)), 0, found); });
    int broken = 0;
    for (const int number : found.pictures) {
        const Done loaded = guarded(ctx, {}, [&] {
            pdf_obj *object = pdf_new_indirect(ctx, document, number, 0);
            fz_try(ctx)
            {
                fz_drop_image(ctx, pdf_load_image(ctx, document, object));
            }
            fz_always(ctx)
            {
                pdf_drop_obj(ctx, object);
            }
            fz_catch(ctx)
            {
                fz_rethrow(ctx);
            }
        });
        if (loaded) {
            continue;
        }
        const std::string why = fz_caught_message(ctx);
        fz_image *stencil = nullptr;
        if (guarded(ctx, {}, [&] { stencil = make_stencil(ctx, document, number); })) {
            faults.know(stencil, "the picture cannot be read: " + why);
            held.push_back(stencil);
            ++broken;
        }
    }
    return broken;
}

} // namespace bichrom
