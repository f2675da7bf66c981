#include "core/artwork/intake/picture.h"

#include "core/colour/source_profile.h"

#include <png.h>

#include <cmath>
#include <csetjmp>
#include <cstring>
#include <memory>

namespace bichrom {

namespace {

constexpr std::size_t most_bytes = std::size_t(1) << 30;

struct Source
{
    std::span<const std::byte> bytes;
    std::size_t at = 0;
};

void read_some(png_structp png, png_bytep out, std::size_t count)
{
    auto *source = static_cast<Source *>(png_get_io_ptr(png));
    if (count > source->bytes.size() - source->at) {
        png_error(png, "the file is cut off");
    }
    std::memcpy(out, source->bytes.data() + source->at, count);
    source->at += count;
}

void fail(png_structp png, png_const_charp message)
{
    *static_cast<std::string *>(png_get_error_ptr(png)) = message;
    png_longjmp(png, 1);
}

/// What libpng warns of: a chunk whose checksum is wrong, data that ends early.
void note(png_structp png, png_const_charp message)
{
    auto *text = static_cast<std::string *>(png_get_error_ptr(png));
    if (std::strstr(message, "CRC") != nullptr || std::strstr(message, "IDAT") != nullptr) {
        *text = message;
    }
}

struct PngHandle
{
    png_structp png = nullptr;
    png_infop info = nullptr;
    int passes = 1;
    ~PngHandle() { png_destroy_read_struct(&png, &info, nullptr); }
};

// What may jump holds no object with a destructor.

bool read_header(PngHandle &handle, Source &source)
{
    if (setjmp(png_jmpbuf(handle.png)) != 0) {
        return false;
    }
    png_set_read_fn(handle.png, &source, read_some);
    png_set_user_limits(handle.png, 100000, 100000);
    png_set_chunk_malloc_max(handle.png, 64 << 20);
    png_set_crc_action(handle.png, PNG_CRC_WARN_USE, PNG_CRC_WARN_USE);
    png_read_info(handle.png, handle.info);
    handle.passes = png_set_interlace_handling(handle.png);
    png_read_update_info(handle.png, handle.info);
    return true;
}

/// \param done  rows read whole
bool read_rows(PngHandle &handle, png_bytep first, std::size_t row_bytes, int height, int &done)
{
    if (setjmp(png_jmpbuf(handle.png)) != 0) {
        return false;
    }
    for (int pass = 0; pass < handle.passes; ++pass) {
        for (int y = 0; y < height; ++y) {
            png_read_row(handle.png, first + static_cast<std::size_t>(y) * row_bytes, nullptr);
            done = pass == handle.passes - 1 ? y + 1 : 0;
        }
    }
    png_read_end(handle.png, nullptr);
    return true;
}

/// Takes the last of \p channels samples of each pixel out of \p picture as its alpha.
void split_alpha(Picture &picture, int channels)
{
    const std::size_t size = picture.bits == 16 ? 2 : 1; // alpha comes with 8 or 16 bits only
    const std::size_t colours = static_cast<std::size_t>(channels - 1) * size;
    const std::size_t count =
        static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(picture.height);
    picture.alpha.resize(count * size);
    picture.alpha_bits = picture.bits;
    std::uint8_t *to = picture.samples.data();
    const std::uint8_t *from = picture.samples.data();
    for (std::size_t i = 0; i < count; ++i) {
        std::memmove(to, from, colours);
        std::memcpy(picture.alpha.data() + i * size, from + colours, size);
        to += colours;
        from += colours + size;
    }
    picture.samples.resize(count * colours);
}

bool has_palette_mask(png_structp png, png_infop info, int type)
{
    return type == PNG_COLOR_TYPE_PALETTE && png_get_valid(png, info, PNG_INFO_tRNS) != 0;
}

std::vector<std::byte> profile_of(png_structp png, png_infop info)
{
    png_charp name = nullptr;
    int method = 0;
    png_bytep data = nullptr;
    png_uint_32 length = 0;
    if (png_get_iCCP(png, info, &name, &method, &data, &length) != 0) {
        const auto *first = reinterpret_cast<const std::byte *>(data);
        return {first, first + length};
    }
    int intent = 0;
    double gamma = 0;
    double wx, wy, rx, ry, gx, gy, bx, by;
    if (png_get_sRGB(png, info, &intent) != 0 ||
        png_get_cHRM(png, info, &wx, &wy, &rx, &ry, &gx, &gy, &bx, &by) == 0 ||
        png_get_gAMA(png, info, &gamma) == 0 || !(gamma > 0)) {
        return {};
    }
    double x[3], y[3], z[3];
    if (png_get_cHRM_XYZ(png, info, &x[0], &y[0], &z[0], &x[1], &y[1], &z[1], &x[2], &y[2], &z[2]) == 0) {
        return {};
    }
    CalibratedRgb colours;
    for (std::size_t i = 0; i < 3; ++i) {
        colours.matrix[i * 3] = x[i];
        colours.matrix[i * 3 + 1] = y[i];
        colours.matrix[i * 3 + 2] = z[i];
        colours.gamma[i] = 1.0 / gamma;
    }
    colours.white = {x[0] + x[1] + x[2], y[0] + y[1] + y[2], z[0] + z[1] + z[2]};
    return make_profile(colours);
}

} // namespace

Outcome<PictureFile> read_png(std::span<const std::byte> bytes)
{
    std::string message;
    PngHandle handle;
    handle.png = png_create_read_struct(PNG_LIBPNG_VER_STRING, &message, fail, note);
    handle.info = handle.png != nullptr ? png_create_info_struct(handle.png) : nullptr;
    Source source{bytes};
    if (handle.info == nullptr || !read_header(handle, source)) {
        return Error{ErrorCode::CannotRead,
                     "The PNG file is damaged (" + message + ").",
                     {},
                     "Ask the customer for a new copy."};
    }
    png_structp png = handle.png;
    png_infop info = handle.info;
    PictureFile file;
    Picture picture;
    picture.width = static_cast<int>(png_get_image_width(png, info));
    picture.height = static_cast<int>(png_get_image_height(png, info));
    picture.bits = png_get_bit_depth(png, info);
    const int type = png_get_color_type(png, info);
    const std::size_t row_bytes = png_get_rowbytes(png, info);
    if (row_bytes * static_cast<std::size_t>(picture.height) > most_bytes) {
        return Error{ErrorCode::TooLarge, "The picture needs more than 1 GB.", {}, "Ask for a smaller one."};
    }
    // What cannot be read stays bare: white, or the palette's first colour.
    picture.samples.assign(row_bytes * static_cast<std::size_t>(picture.height),
                           type == PNG_COLOR_TYPE_PALETTE ? std::uint8_t(0) : std::uint8_t(255));
    int done = 0;
    const bool whole = read_rows(handle, picture.samples.data(), row_bytes, picture.height, done);
    if (!whole && done < picture.height) {
        file.damage.push_back({DamageKind::Picture,
                               -1,
                               {},
                               "the PNG is damaged: " + message + "; " + std::to_string(done) + " of " +
                                   std::to_string(picture.height) + " rows can be read"});
    } else if (!message.empty()) {
        file.damage.push_back({DamageKind::Picture, -1, {}, "the PNG is damaged: " + message});
    }
    const std::vector<std::uint8_t> rows = // split_alpha() takes the alpha out of the samples
        has_palette_mask(png, info, type) ? picture.samples : std::vector<std::uint8_t>();
    picture.space = type == PNG_COLOR_TYPE_PALETTE       ? Picture::Space::Palette
                    : (type & PNG_COLOR_MASK_COLOR) != 0 ? Picture::Space::Rgb
                                                         : Picture::Space::Gray;
    if ((type & PNG_COLOR_MASK_ALPHA) != 0) {
        split_alpha(picture, png_get_channels(png, info));
    }
    png_bytep transparent = nullptr;
    int transparent_count = 0;
    png_color_16p key = nullptr;
    const bool has_key = png_get_tRNS(png, info, &transparent, &transparent_count, &key) != 0;
    if (picture.space == Picture::Space::Palette) {
        png_colorp colours = nullptr;
        int count = 0;
        png_get_PLTE(png, info, &colours, &count);
        for (int i = 0; i < count; ++i) {
            picture.palette.insert(picture.palette.end(),
                                   {colours[i].red, colours[i].green, colours[i].blue});
        }
        if (has_key && transparent != nullptr) {
            const unsigned mask = (1u << picture.bits) - 1u;
            for (int y = 0; y < picture.height; ++y) {
                for (int x = 0; x < picture.width; ++x) {
                    const int bit = x * picture.bits;
                    const unsigned index =
                        static_cast<unsigned>(rows[row_bytes * static_cast<std::size_t>(y) +
                                                   static_cast<std::size_t>(bit / 8)]) >>
                            (8 - picture.bits - bit % 8) &
                        mask;
                    picture.alpha.push_back(static_cast<int>(index) < transparent_count ? transparent[index]
                                                                                        : 255);
                }
            }
        }
    } else if (has_key && key != nullptr && picture.bits >= 8) {
        const std::size_t size = picture.bits == 16 ? 2 : 1;
        const std::size_t channels = static_cast<std::size_t>(picture.channels());
        const png_uint_16 wanted[3] = {picture.space == Picture::Space::Gray ? key->gray : key->red,
                                       key->green, key->blue};
        for (std::size_t i = 0; i + size * channels <= picture.samples.size(); i += size * channels) {
            bool hit = true;
            for (std::size_t c = 0; c < channels; ++c) {
                const std::uint8_t *p = picture.samples.data() + i + c * size;
                hit = hit && (size == 2 ? p[0] * 256 + p[1] : p[0]) == wanted[c];
            }
            picture.alpha.push_back(hit ? 0 : 255);
        }
    }
    if (picture.space != Picture::Space::Gray) {
        picture.icc = profile_of(png, info);
    }
    png_uint_32 across = 0;
    png_uint_32 down = 0;
    int unit = 0;
    if (png_get_pHYs(png, info, &across, &down, &unit) != 0 && unit == PNG_RESOLUTION_METER) {
        // Pixels a metre are whole numbers, so 300 ppi is written as 11811: round to 0.01 ppi.
        picture.ppi_across = std::round(across * 0.0254 * 100.0) / 100.0;
        picture.ppi_down = std::round(down * 0.0254 * 100.0) / 100.0;
    }
    file.pages.push_back(std::move(picture));
    return file;
}

} // namespace bichrom
