#include "core/report/pdf_pages.h"

#include "core/artwork/mupdf/runtime.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <variant>

namespace bichrom {

namespace {

struct Words
{
    double x, y;
    std::string text;
    WordStyle style;
};

struct Box
{
    double x, y, width, height;
    std::uint32_t colour;
};

struct Placed
{
    std::size_t picture;
    double x, y, width, height;
};

struct Page
{
    double width, height;
    std::vector<std::variant<Words, Box, Placed>> items;
};

fz_pixmap *pixmap_of(fz_context *ctx, const ReportPicture &picture)
{
    fz_pixmap *pixmap = fz_new_pixmap(ctx, fz_device_rgb(ctx), picture.width, picture.height, nullptr, 0);
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
    return pixmap;
}

fz_image *image_of(fz_context *ctx, const ReportPicture &picture)
{
    fz_pixmap *pixmap = pixmap_of(ctx, picture);
    fz_image *image = nullptr;
    fz_try(ctx)
    {
        image = fz_new_image_from_pixmap(ctx, pixmap, nullptr);
    }
    fz_always(ctx)
    {
        fz_drop_pixmap(ctx, pixmap);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
    return image;
}

std::array<float, 3> parts_of(std::uint32_t colour)
{
    return {static_cast<float>(colour >> 16 & 255) / 255.0f, static_cast<float>(colour >> 8 & 255) / 255.0f,
            static_cast<float>(colour & 255) / 255.0f};
}

std::vector<std::byte> bytes_of(fz_context *ctx, fz_buffer *buffer)
{
    unsigned char *data = nullptr;
    const std::size_t size = fz_buffer_storage(ctx, buffer, &data);
    std::vector<std::byte> bytes(size);
    std::memcpy(bytes.data(), data, size);
    return bytes;
}

} // namespace

struct PdfPages::Impl
{
    std::shared_ptr<MupdfRuntime> runtime;
    std::array<fz_font *, 2> fonts{}; ///< plain, bold
    std::vector<Page> pages;
    std::vector<ReportPicture> pictures;

    ~Impl()
    {
        const auto lease = runtime->lease();
        for (fz_font *font : fonts) {
            fz_drop_font(lease.ctx(), font);
        }
    }

    [[nodiscard]] fz_font *font(const WordStyle &style) const { return fonts[style.bold ? 1 : 0]; }

    void draw(fz_context *ctx, fz_device *device, const Words &words) const
    {
        fz_text *text = fz_new_text(ctx);
        fz_try(ctx)
        {
            const auto em = static_cast<float>(words.style.size);
            const fz_matrix place = {em, 0, 0, -em, static_cast<float>(words.x), static_cast<float>(words.y)};
            fz_show_string(ctx, text, font(words.style), place, words.text.c_str(), 0, 0, FZ_BIDI_LTR,
                           FZ_LANG_UNSET);
            const std::array<float, 3> colour = parts_of(words.style.colour);
            fz_fill_text(ctx, device, text, fz_identity, fz_device_rgb(ctx), colour.data(), 1,
                         fz_default_color_params);
        }
        fz_always(ctx)
        {
            fz_drop_text(ctx, text);
        }
        fz_catch(ctx)
        {
            fz_rethrow(ctx);
        }
    }

    static void draw(fz_context *ctx, fz_device *device, const Box &box)
    {
        fz_path *path = fz_new_path(ctx);
        fz_try(ctx)
        {
            fz_rectto(ctx, path, static_cast<float>(box.x), static_cast<float>(box.y),
                      static_cast<float>(box.x + box.width), static_cast<float>(box.y + box.height));
            const std::array<float, 3> colour = parts_of(box.colour);
            fz_fill_path(ctx, device, path, 0, fz_identity, fz_device_rgb(ctx), colour.data(), 1,
                         fz_default_color_params);
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

    static void draw(fz_context *ctx, fz_device *device, const Placed &placed, fz_image *image)
    {
        const fz_matrix place = {static_cast<float>(placed.width),
                                 0,
                                 0,
                                 static_cast<float>(placed.height),
                                 static_cast<float>(placed.x),
                                 static_cast<float>(placed.y)};
        fz_fill_image(ctx, device, image, place, 1, fz_default_color_params);
    }

    void write(fz_context *ctx, fz_document_writer *writer, fz_image **images) const
    {
        for (const Page &page : pages) {
            const fz_rect sheet = {0, 0, static_cast<float>(page.width), static_cast<float>(page.height)};
            fz_device *device = fz_begin_page(ctx, writer, sheet);
            for (const auto &item : page.items) {
                if (const auto *words = std::get_if<Words>(&item)) {
                    draw(ctx, device, *words);
                } else if (const auto *box = std::get_if<Box>(&item)) {
                    draw(ctx, device, *box);
                } else {
                    const auto &placed = std::get<Placed>(item);
                    draw(ctx, device, placed, images[placed.picture]);
                }
            }
            fz_end_page(ctx, writer);
        }
    }
};

PdfPages::PdfPages(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
PdfPages::~PdfPages() = default;
PdfPages::PdfPages(PdfPages &&) noexcept = default;

Outcome<PdfPages> PdfPages::make()
{
    auto runtime = MupdfRuntime::make();
    if (!runtime) {
        return runtime.error();
    }
    auto impl = std::make_unique<Impl>();
    impl->runtime = *runtime;
    const auto lease = impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    const Done done = guarded(ctx, "typeface", [&] {
        impl->fonts[0] = fz_new_base14_font(ctx, "Helvetica");
        impl->fonts[1] = fz_new_base14_font(ctx, "Helvetica-Bold");
    });
    if (!done) {
        return done.error();
    }
    return PdfPages(std::move(impl));
}

void PdfPages::begin_page(double width, double height)
{
    m_impl->pages.push_back({width, height, {}});
}

double PdfPages::page_width() const
{
    return m_impl->pages.back().width;
}

double PdfPages::page_height() const
{
    return m_impl->pages.back().height;
}

void PdfPages::words(double x, double y, std::string text, const WordStyle &style)
{
    m_impl->pages.back().items.emplace_back(Words{x, y, std::move(text), style});
}

void PdfPages::box(double x, double y, double width, double height, std::uint32_t colour)
{
    m_impl->pages.back().items.emplace_back(Box{x, y, width, height, colour});
}

std::size_t PdfPages::keep(ReportPicture picture)
{
    m_impl->pictures.push_back(std::move(picture));
    return m_impl->pictures.size() - 1;
}

const ReportPicture &PdfPages::kept(std::size_t picture) const
{
    return m_impl->pictures[picture];
}

void PdfPages::picture(std::size_t kept, double x, double y, double width, double height)
{
    m_impl->pages.back().items.emplace_back(Placed{kept, x, y, width, height});
}

double PdfPages::width_of(const std::string &text, const WordStyle &style) const
{
    const auto lease = m_impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    fz_matrix end{};
    const Done done = guarded(ctx, {}, [&] {
        end = fz_measure_string(ctx, m_impl->font(style), fz_scale(1, 1), text.c_str(), 0, 0, FZ_BIDI_LTR,
                                FZ_LANG_UNSET);
    });
    return done ? static_cast<double>(end.e) * style.size : 0.0;
}

std::vector<std::string> PdfPages::lines_of(const std::string &text, const WordStyle &style,
                                            double width) const
{
    std::vector<std::string> lines{{}};
    const auto room_for = [&](const std::string &line) { return width_of(line, style) <= width; };
    std::size_t at = 0;
    while (at < text.size()) {
        std::size_t end = text.find_first_of(" \n", at);
        end = end == std::string::npos ? text.size() : end;
        std::string word = text.substr(at, end - at);
        std::string longer = lines.back() + (lines.back().empty() || word.empty() ? "" : " ") + word;
        if (room_for(longer)) {
            lines.back() = std::move(longer);
        } else {
            if (!lines.back().empty()) {
                lines.emplace_back();
            }
            // A word that is wider than the line is cut between characters.
            while (!room_for(word)) {
                std::size_t cut = word.size();
                while (cut > 1 && !room_for(word.substr(0, cut))) {
                    do {
                        --cut;
                    } while (cut > 1 && (static_cast<unsigned char>(word[cut]) & 0xC0) == 0x80);
                }
                lines.back() = word.substr(0, cut);
                lines.emplace_back();
                word.erase(0, cut);
            }
            lines.back() = std::move(word);
        }
        if (end < text.size() && text[end] == '\n') {
            lines.emplace_back();
        }
        at = end + 1;
    }
    return lines;
}

Outcome<std::vector<std::byte>> PdfPages::finish()
{
    const auto lease = m_impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    std::vector<fz_image *> images(m_impl->pictures.size() + 1, nullptr);
    std::vector<std::byte> bytes;
    fz_buffer *result = nullptr;
    fz_document_writer *writer = nullptr;
    const Done done = guarded(ctx, "report", [&] {
        for (std::size_t i = 0; i < m_impl->pictures.size(); ++i) {
            images[i] = image_of(ctx, m_impl->pictures[i]);
        }
        result = fz_new_buffer(ctx, 1 << 16);
        fz_output *output = fz_new_output_with_buffer(ctx, result);
        writer = fz_new_pdf_writer_with_output(ctx, output, "compress");
        m_impl->write(ctx, writer, images.data());
        fz_close_document_writer(ctx, writer);
    });
    fz_drop_document_writer(ctx, writer);
    for (fz_image *image : images) {
        fz_drop_image(ctx, image);
    }
    if (done) {
        bytes = bytes_of(ctx, result);
    }
    fz_drop_buffer(ctx, result);
    if (!done) {
        return Error{ErrorCode::CannotWrite, "The document cannot be set: " + done.error().reason, {}, {}};
    }
    return bytes;
}

Outcome<std::vector<std::byte>> png_bytes(const ReportPicture &picture, double dpi)
{
    const auto runtime = MupdfRuntime::make();
    if (!runtime) {
        return runtime.error();
    }
    const auto lease = (*runtime)->lease();
    fz_context *ctx = lease.ctx();
    fz_pixmap *pixmap = nullptr;
    fz_buffer *buffer = nullptr;
    const Done done = guarded(ctx, "picture", [&] {
        pixmap = pixmap_of(ctx, picture);
        if (dpi > 0) {
            pixmap->xres = pixmap->yres = static_cast<int>(std::lround(dpi));
        }
        buffer = fz_new_buffer_from_pixmap_as_png(ctx, pixmap, fz_default_color_params);
    });
    fz_drop_pixmap(ctx, pixmap);
    if (!done) {
        return done.error();
    }
    std::vector<std::byte> bytes = bytes_of(ctx, buffer);
    fz_drop_buffer(ctx, buffer);
    return bytes;
}

Outcome<std::string> png_base64(const ReportPicture &picture)
{
    const auto png = png_bytes(picture);
    if (!png) {
        return png.error();
    }
    const auto runtime = MupdfRuntime::make();
    if (!runtime) {
        return runtime.error();
    }
    const auto lease = (*runtime)->lease();
    fz_context *ctx = lease.ctx();
    fz_buffer *buffer = nullptr;
    const Done done = guarded(ctx, "picture", [&] {
        buffer = fz_new_buffer(ctx, png->size() * 4 / 3 + 8);
        fz_append_base64(ctx, buffer, reinterpret_cast<const unsigned char *>(png->data()), png->size(), 0);
    });
    std::string text;
    if (done) {
        const std::vector<std::byte> bytes = bytes_of(ctx, buffer);
        text.assign(reinterpret_cast<const char *>(bytes.data()), bytes.size());
    }
    fz_drop_buffer(ctx, buffer);
    return done ? Outcome<std::string>(std::move(text)) : Outcome<std::string>(done.error());
}

} // namespace bichrom
