#include "core/report/html_pdf.h"

#include "core/artwork/mupdf/runtime.h"

#include <algorithm>
#include <cstring>

namespace bichrom {

namespace {

constexpr fz_rect sheet = {0, 0, 595, 842}; // A4 in points (ISO 216)
constexpr fz_rect text_area = {48, 44, 547, 800};

fz_buffer *png_of(fz_context *ctx, const ReportPicture &picture)
{
    fz_pixmap *pixmap = nullptr;
    fz_buffer *buffer = nullptr;
    fz_var(pixmap);
    fz_var(buffer);
    fz_try(ctx)
    {
        pixmap = fz_new_pixmap(ctx, fz_device_rgb(ctx), picture.width, picture.height, nullptr, 0);
        for (int y = 0; y < picture.height; ++y) {
            unsigned char *out = pixmap->samples + y * pixmap->stride;
            const std::uint32_t *row =
                picture.pixels.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(picture.width);
            for (int x = 0; x < picture.width; ++x) {
                *out++ = static_cast<unsigned char>(row[x] >> 16);
                *out++ = static_cast<unsigned char>(row[x] >> 8);
                *out++ = static_cast<unsigned char>(row[x]);
            }
        }
        buffer = fz_new_buffer_from_pixmap_as_png(ctx, pixmap, fz_default_color_params);
    }
    fz_always(ctx)
    {
        fz_drop_pixmap(ctx, pixmap);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
    return buffer;
}

void add_entry(fz_context *ctx, fz_archive *archive, const char *name, fz_buffer *buffer)
{
    fz_try(ctx)
    {
        fz_tree_archive_add_buffer(ctx, archive, name, buffer);
    }
    fz_always(ctx)
    {
        fz_drop_buffer(ctx, buffer);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

void set_pages(fz_context *ctx, fz_story *story, fz_document_writer *writer)
{
    int more = 1;
    for (int page = 0; more != 0; ++page) {
        if (page > 2000) {
            fz_throw(ctx, FZ_ERROR_GENERIC, "the report does not end");
        }
        fz_rect filled = fz_empty_rect;
        more = fz_place_story(ctx, story, text_area, &filled);
        fz_device *device = fz_begin_page(ctx, writer, sheet);
        fz_draw_story(ctx, story, device, fz_identity);
        fz_end_page(ctx, writer);
    }
}

} // namespace

Outcome<std::vector<std::byte>> html_to_pdf(const std::string &html, const std::string &css,
                                            const std::vector<ReportPicture> &pictures)
{
    const auto runtime = MupdfRuntime::make();
    if (!runtime) {
        return runtime.error();
    }
    const auto lease = (*runtime)->lease();
    fz_context *ctx = lease.ctx();
    std::vector<std::byte> bytes;
    // Not in the program's own typeface: its figures are alternates that text search would not find.
    const std::string style = "body { font-family: sans-serif; }" + css;
    const Done done = guarded(ctx, "report", [&] {
        fz_archive *archive = nullptr;
        fz_buffer *text = nullptr;
        fz_buffer *result = nullptr;
        fz_output *output = nullptr;
        fz_story *story = nullptr;
        fz_document_writer *writer = nullptr;
        fz_var(archive);
        fz_var(text);
        fz_var(result);
        fz_var(output);
        fz_var(story);
        fz_var(writer);
        fz_try(ctx)
        {
            archive = fz_new_tree_archive(ctx, nullptr);
            for (const ReportPicture &picture : pictures) {
                add_entry(ctx, archive, picture.name.c_str(), png_of(ctx, picture));
            }
            text = fz_new_buffer_from_copied_data(ctx, reinterpret_cast<const unsigned char *>(html.data()),
                                                  html.size());
            story = fz_new_story(ctx, text, style.c_str(), 10, archive);
            result = fz_new_buffer(ctx, 1 << 16);
            output = fz_new_output_with_buffer(ctx, result);
            writer = fz_new_pdf_writer_with_output(ctx, output, "compress");
            output = nullptr; // the writer's from here on
            set_pages(ctx, story, writer);
            fz_close_document_writer(ctx, writer);
        }
        fz_always(ctx)
        {
            fz_drop_document_writer(ctx, writer);
            fz_drop_output(ctx, output);
            fz_drop_story(ctx, story);
            fz_drop_buffer(ctx, text);
            fz_drop_archive(ctx, archive);
        }
        fz_catch(ctx)
        {
            fz_drop_buffer(ctx, result);
            fz_rethrow(ctx);
        }
        unsigned char *data = nullptr;
        const std::size_t size = fz_buffer_storage(ctx, result, &data);
        bytes.resize(size);
        std::memcpy(bytes.data(), data, size);
        fz_drop_buffer(ctx, result);
    });
    if (!done) {
        return Error{ErrorCode::CannotWrite, "The report cannot be set: " + done.error().reason, {}, {}};
    }
    return bytes;
}

std::string html_of(std::string_view text)
{
    std::string out;
    for (const char c : text) {
        switch (c) {
        case '&':
            out += "&amp;";
            break;
        case '<':
            out += "&lt;";
            break;
        case '>':
            out += "&gt;";
            break;
        case '"':
            out += "&quot;";
            break;
        default:
            out += c;
        }
    }
    return out;
}

} // namespace bichrom
