#include "core/artwork/intake/glance.h"

#include "core/artwork/intake/input_kind.h"
#include "core/artwork/intake/intake_program.h"
#include "core/artwork/mupdf/runtime.h"
#include "core/base/atomic_file.h"
#include "core/base/child_process.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <fstream>
#include <new>

namespace bichrom {

namespace {

namespace fs = std::filesystem;

constexpr const char *picture_name = "picture";
constexpr std::size_t head = 2 * sizeof(std::int32_t); ///< width and height; RGB follows

bool begins_as_pdf(const fs::path &file)
{
    std::array<char, 1024> first{};
    std::ifstream in(file, std::ios::binary);
    in.read(first.data(), first.size());
    return input_kind(std::as_bytes(std::span(first.data(), static_cast<std::size_t>(in.gcount())))) ==
           InputKind::Pdf;
}

/// Throws MuPDF's way.
fz_pixmap *paint(fz_context *ctx, fz_document *document, int number)
{
    fz_page *page = nullptr;
    fz_pixmap *pixels = nullptr;
    fz_device *device = nullptr;
    fz_var(page);
    fz_var(pixels);
    fz_var(device);
    fz_try(ctx)
    {
        pdf_document *pdf = pdf_specifics(ctx, document);
        pdf_obj *entries = pdf_lookup_page_obj(ctx, pdf, number - 1);
        if (pdf_obj *media = pdf_dict_get_inheritable(ctx, entries, PDF_NAME(MediaBox)); media != nullptr) {
            pdf_dict_put(ctx, entries, PDF_NAME(CropBox), media); // all of the sheet, in this copy only
        }
        page = fz_load_page(ctx, document, number - 1);
        auto *own = pdf_page_from_fz_page(ctx, page);
        const fz_rect box = fz_bound_page(ctx, page);
        const float longer = std::max(box.x1 - box.x0, box.y1 - box.y0);
        if (!(longer >= 1.0f && longer < 1e6f)) {
            fz_throw(ctx, FZ_ERROR_GENERIC, "no page to paint");
        }
        const float scale = glance_side / longer;
        const auto length = [&](float points) {
            return std::max(1, static_cast<int>(std::lround(points * scale)));
        };
        const fz_matrix placed = fz_concat(fz_translate(-box.x0, -box.y0), fz_scale(scale, scale));
        const fz_irect all = {0, 0, length(box.x1 - box.x0), length(box.y1 - box.y0)};
        pixels = fz_new_pixmap_with_bbox(ctx, fz_device_rgb(ctx), all, nullptr, 0);
        fz_clear_pixmap_with_value(ctx, pixels, 255);
        fz_set_aa_level(ctx, 0); // ten times as fast on pages of many lines
        device = fz_new_draw_device(ctx, placed, pixels);
        pdf_run_page_with_usage(ctx, own, device, fz_identity, "Print", nullptr);
        fz_close_device(ctx, device);
    }
    fz_always(ctx)
    {
        fz_drop_device(ctx, device);
        fz_drop_page(ctx, page);
    }
    fz_catch(ctx)
    {
        fz_drop_pixmap(ctx, pixels);
        fz_rethrow(ctx);
    }
    return pixels;
}

} // namespace

Outcome<Glance> glance_at_pdf(const fs::path &file, int number, const std::string &password,
                              const JobControl &control)
{
    if (!begins_as_pdf(file)) {
        return Error{ErrorCode::WrongFormat, "This is no PDF.", file.string(), {}};
    }
    if (control.cancelled()) {
        return Error{ErrorCode::Cancelled, "Stopped.", file.string(), {}};
    }
    const auto helper = IntakeHelper::make();
    if (!helper) {
        return helper.error();
    }
    if (Done written = write_file(helper->file("password"), password); !written) {
        return written.error();
    }
    ChildLimits limits;
    limits.work = std::chrono::seconds(5);
    std::error_code fault;
    const auto run = helper->run(
        {glance_word, fs::absolute(file, fault).string(), "password", std::to_string(number), picture_name},
        limits, control);
    if (!run) {
        return run.error();
    }
    const Error unseen{ErrorCode::CannotRead, "There is no first look at the file.", file.string(), {}};
    constexpr std::size_t most = std::size_t(glance_side) * glance_side;
    const auto bytes = run->good() ? read_file(helper->file(picture_name), head + most * 3)
                                   : Outcome<std::vector<std::byte>>(unseen);
    std::int32_t size[2] = {};
    if (!bytes || bytes->size() < head) {
        return unseen;
    }
    std::memcpy(size, bytes->data(), head);
    const std::size_t pixels = (bytes->size() - head) / 3;
    if (size[0] < 1 || size[1] < 1 || static_cast<std::size_t>(size[0]) > most ||
        static_cast<std::size_t>(size[1]) != pixels / static_cast<std::size_t>(size[0]) ||
        pixels % static_cast<std::size_t>(size[0]) != 0) {
        return unseen;
    }
    Glance glance{size[0], size[1], std::vector<std::uint32_t>(pixels)};
    const std::byte *from = bytes->data() + head;
    for (std::uint32_t &pixel : glance.pixels) {
        pixel = 0xFF000000u | std::to_integer<std::uint32_t>(from[0]) << 16 |
                std::to_integer<std::uint32_t>(from[1]) << 8 | std::to_integer<std::uint32_t>(from[2]);
        from += 3;
    }
    return glance;
}

int paint_glance(const char *input, const char *password_file, const char *number, const char *output)
{
    const auto password = read_file(password_file);
    auto runtime = MupdfRuntime::make();
    if (!password || !runtime) {
        return 1;
    }
    const std::string key(reinterpret_cast<const char *>(password->data()), password->size());
    const auto lease = (*runtime)->lease();
    fz_context *ctx = lease.ctx();
    std::vector<std::byte> bytes(head);
    const Done done = guarded(ctx, input, [&] {
        fz_document *document = nullptr;
        fz_pixmap *pixels = nullptr;
        fz_var(document);
        fz_var(pixels);
        fz_try(ctx)
        {
            document = &pdf_open_document(ctx, input)->super;
            if (fz_needs_password(ctx, document) != 0 &&
                fz_authenticate_password(ctx, document, key.c_str()) == 0) {
                fz_throw(ctx, FZ_ERROR_GENERIC, "the password is needed");
            }
            pixels = paint(ctx, document, std::max(1, std::atoi(number)));
            const std::int32_t size[2] = {pixels->w, pixels->h};
            std::memcpy(bytes.data(), size, head);
            for (int y = 0; y < pixels->h; ++y) {
                const auto *row = reinterpret_cast<const std::byte *>(pixels->samples + y * pixels->stride);
                bytes.insert(bytes.end(), row, row + std::ptrdiff_t(pixels->w) * 3);
            }
        }
        fz_always(ctx)
        {
            fz_drop_pixmap(ctx, pixels);
            fz_drop_document(ctx, document);
        }
        fz_catch(ctx)
        {
            fz_rethrow(ctx);
        }
    });
    return done && write_file(output, std::span<const std::byte>(bytes)) ? 0 : 1;
}

} // namespace bichrom
