#include "core/artwork/intake/picture.h"

#include "core/artwork/intake/unpack.h"
#include "core/artwork/text_encoding.h"
#include "core/base/deflate.h"

#include <tiffio.h>

#include <algorithm>
#include <cmath>
#include <cstdarg>
#include <cstdio>
#include <cstring>
#include <memory>

namespace bichrom {

namespace {

constexpr std::size_t most_bytes = std::size_t(1) << 30; ///< of a tile, or of rows read at once
constexpr double most_picture = 6e9;                     ///< bytes
constexpr int most_pages = 200;

/// What libtiff said of the data; of one file at a time, for libtiff's handlers are global.
std::string decoder_said;

/// Errors, and of the warnings those of decoders: others are about unusual tags.
void note_error(const char *, const char *format, va_list arguments)
{
    char text[300] = {};
    std::vsnprintf(text, sizeof text, format, arguments);
    if (decoder_said.empty()) {
        decoder_said = text;
    }
}

void note_warning(const char *module, const char *format, va_list arguments)
{
    const std::string_view from = module != nullptr ? module : "";
    if (from.find("Decode") != std::string_view::npos || from.find("JPEG") != std::string_view::npos) {
        note_error(module, format, arguments);
    }
}

/// A file in memory, as libtiff asks for it.
struct Source
{
    std::span<const std::byte> bytes;
    toff_t at = 0;
    std::string fault;
};

tmsize_t read_some(thandle_t handle, void *out, tmsize_t count)
{
    auto *source = static_cast<Source *>(handle);
    const auto size = static_cast<toff_t>(source->bytes.size());
    const toff_t left = source->at < size ? size - source->at : 0;
    const auto some = static_cast<tmsize_t>(std::min(left, static_cast<toff_t>(count)));
    if (some > 0) { // an empty file has no memory
        std::memcpy(out, source->bytes.data() + source->at, static_cast<std::size_t>(some));
        source->at += static_cast<toff_t>(some);
    }
    return some;
}

tmsize_t write_nothing(thandle_t, void *, tmsize_t)
{
    return 0;
}

toff_t seek(thandle_t handle, toff_t offset, int whence)
{
    auto *source = static_cast<Source *>(handle);
    source->at = whence == SEEK_CUR   ? source->at + offset
                 : whence == SEEK_END ? static_cast<toff_t>(source->bytes.size()) + offset
                                      : offset;
    return source->at;
}

int close(thandle_t)
{
    return 0;
}

toff_t size(thandle_t handle)
{
    return static_cast<toff_t>(static_cast<Source *>(handle)->bytes.size());
}

struct TiffDeleter
{
    void operator()(TIFF *tiff) const { TIFFClose(tiff); }
};
using TiffHandle = std::unique_ptr<TIFF, TiffDeleter>;

Error damaged(const std::string &why)
{
    return {ErrorCode::CannotRead,
            "The TIFF file cannot be read (" + why + ").",
            {},
            "Ask the customer for another copy, best as PDF."};
}

/// What the tags say about one directory.
struct Layout
{
    std::uint32_t width = 0, height = 0;
    std::uint16_t bits = 1, samples = 1, photometric = 0, planar = PLANARCONFIG_CONTIG, format = 1;
    std::uint16_t extras = 0;
    const std::uint16_t *extra_kinds = nullptr;
};

Layout read_layout(TIFF *tiff)
{
    Layout layout;
    TIFFGetField(tiff, TIFFTAG_IMAGEWIDTH, &layout.width);
    TIFFGetField(tiff, TIFFTAG_IMAGELENGTH, &layout.height);
    TIFFGetFieldDefaulted(tiff, TIFFTAG_BITSPERSAMPLE, &layout.bits);
    TIFFGetFieldDefaulted(tiff, TIFFTAG_SAMPLESPERPIXEL, &layout.samples);
    TIFFGetFieldDefaulted(tiff, TIFFTAG_PLANARCONFIG, &layout.planar);
    TIFFGetFieldDefaulted(tiff, TIFFTAG_SAMPLEFORMAT, &layout.format);
    TIFFGetField(tiff, TIFFTAG_PHOTOMETRIC, &layout.photometric);
    std::uint16_t *kinds = nullptr;
    if (TIFFGetField(tiff, TIFFTAG_EXTRASAMPLES, &layout.extras, &kinds) != 0) {
        layout.extra_kinds = kinds;
    }
    if (layout.photometric == PHOTOMETRIC_YCBCR) {
        TIFFSetField(tiff, TIFFTAG_JPEGCOLORMODE, JPEGCOLORMODE_RGB);
    }
    return layout;
}

/// Copies \p count samples of \p bits each, from sample \p from_at to sample \p to_at of rows
/// whose pixels are \p from_step and \p to_step samples apart.
void copy_samples(const std::uint8_t *from, std::size_t from_at, std::size_t from_step, std::uint8_t *to,
                  std::size_t to_at, std::size_t to_step, std::size_t count, int bits)
{
    const auto size = static_cast<std::size_t>(bits / 8);
    for (std::size_t i = 0; i < count; ++i) {
        std::memcpy(to + (to_at + i * to_step) * size, from + (from_at + i * from_step) * size, size);
    }
}

/// Reads rows \p first to \p last (not with it), samples interleaved whatever the file's arrangement. What
/// cannot be read stays \p bare. \p first begins a tile. \param lost  grows by rows that are not whole, of
/// all planes \return false when nothing can be read at all
bool read_rows(TIFF *tiff, const Layout &layout, std::uint32_t first, std::uint32_t last, std::uint8_t bare,
               std::vector<std::uint8_t> &out, std::size_t &lost)
{
    const bool apart = layout.planar == PLANARCONFIG_SEPARATE && layout.samples > 1;
    const std::size_t row_bytes = (std::size_t(layout.width) * layout.samples * layout.bits + 7) / 8;
    out.assign(row_bytes * (last - first), bare);
    const std::uint16_t planes = apart ? layout.samples : std::uint16_t(1);
    const std::size_t in_plane = apart ? 1 : layout.samples;
    if (TIFFIsTiled(tiff) != 0) {
        std::uint32_t tile_width = 0;
        std::uint32_t tile_height = 0;
        TIFFGetField(tiff, TIFFTAG_TILEWIDTH, &tile_width);
        TIFFGetField(tiff, TIFFTAG_TILELENGTH, &tile_height);
        const tmsize_t tile_bytes = TIFFTileSize(tiff);
        if (tile_width == 0 || tile_height == 0 || tile_bytes <= 0 ||
            static_cast<std::size_t>(tile_bytes) > most_bytes || layout.bits < 8) {
            return false;
        }
        const auto tile_row = static_cast<std::size_t>(TIFFTileRowSize(tiff));
        if (tile_row < std::size_t(tile_width) * in_plane * layout.bits / 8) {
            return false;
        }
        std::vector<std::uint8_t> tile(static_cast<std::size_t>(tile_bytes));
        for (std::uint16_t plane = 0; plane < planes; ++plane) {
            for (std::uint32_t y = first; y < last; y += tile_height) {
                for (std::uint32_t x = 0; x < layout.width; x += tile_width) {
                    if (TIFFReadTile(tiff, tile.data(), x, y, 0, plane) < 0) {
                        lost += std::min(tile_height, last - y);
                        continue;
                    }
                    const std::size_t columns = std::min(tile_width, layout.width - x);
                    const std::uint32_t rows = std::min(tile_height, last - y);
                    for (std::uint32_t r = 0; r < rows; ++r) {
                        std::uint8_t *to = out.data() + row_bytes * (y - first + r);
                        for (std::size_t s = 0; s < in_plane; ++s) {
                            copy_samples(tile.data() + tile_row * r, s, in_plane, to,
                                         std::size_t(x) * layout.samples + plane + s, layout.samples, columns,
                                         layout.bits);
                        }
                    }
                }
            }
        }
        return true;
    }
    const tmsize_t line_bytes = TIFFScanlineSize(tiff);
    if (line_bytes <= 0 || (apart && layout.bits < 8) ||
        static_cast<std::size_t>(line_bytes) < (std::size_t(layout.width) * in_plane * layout.bits + 7) / 8) {
        return false;
    }
    std::vector<std::uint8_t> line(static_cast<std::size_t>(line_bytes));
    for (std::uint16_t plane = 0; plane < planes; ++plane) {
        for (std::uint32_t y = first; y < last; ++y) {
            if (TIFFReadScanline(tiff, line.data(), y, plane) < 0) {
                ++lost;
                continue;
            }
            std::uint8_t *to = out.data() + row_bytes * (y - first);
            if (apart) {
                copy_samples(line.data(), 0, 1, to, plane, layout.samples, layout.width, layout.bits);
            } else {
                std::copy_n(line.data(), row_bytes, to);
            }
        }
    }
    return true;
}

/// Notes what of deflated data has a wrong checksum: libtiff stops when it has all pixels, before it comes to
/// that.
void check_sums(TIFF *tiff)
{
    std::uint16_t compression = COMPRESSION_NONE;
    TIFFGetFieldDefaulted(tiff, TIFFTAG_COMPRESSION, &compression);
    constexpr std::uint16_t deflate = 8; // as registered; before that it had another number
    if (compression != deflate && compression != COMPRESSION_DEFLATE) {
        return;
    }
    const bool tiled = TIFFIsTiled(tiff) != 0;
    const std::uint32_t count = tiled ? TIFFNumberOfTiles(tiff) : TIFFNumberOfStrips(tiff);
    std::vector<std::byte> data;
    for (std::uint32_t i = 0; i < count && decoder_said.empty(); ++i) {
        const std::uint64_t size = TIFFGetStrileByteCount(tiff, i);
        if (size == 0 || size > most_bytes) {
            continue; // of what is not there the reader has told
        }
        data.resize(static_cast<std::size_t>(size));
        const tmsize_t read = tiled ? TIFFReadRawTile(tiff, i, data.data(), static_cast<tmsize_t>(size))
                                    : TIFFReadRawStrip(tiff, i, data.data(), static_cast<tmsize_t>(size));
        if (read < 0 ||
            !is_whole_zlib(std::span(data).first(static_cast<std::size_t>(std::max<tmsize_t>(read, 0))))) {
            decoder_said = (tiled ? "the checksum of tile " : "the checksum of strip ") + std::to_string(i) +
                           " is wrong";
        }
    }
}

/// Splits interleaved \p rows into the first \p colours samples, the alpha at \p alpha_at (−1 = none), and
/// the others, which are inks of their own. Samples are 8 or 16 bits.
void split_samples(Picture &picture, const std::vector<std::uint8_t> &rows, std::size_t samples,
                   std::size_t colours, int alpha_at, bool premultiplied)
{
    const auto size = static_cast<std::size_t>(picture.bits / 8);
    const std::size_t count = rows.size() / (samples * size);
    const bool has_alpha = alpha_at >= 0;
    const auto alpha_place = static_cast<std::size_t>(std::max(0, alpha_at));
    const std::size_t extras = samples - colours - (has_alpha ? 1 : 0);
    picture.samples.resize(count * colours * size);
    picture.extra_samples.resize(count * extras * size);
    picture.alpha.resize(has_alpha ? count * size : 0);
    picture.alpha_bits = picture.bits;
    for (std::size_t i = 0; i < count; ++i) {
        const std::uint8_t *from = rows.data() + i * samples * size;
        std::uint8_t *to = picture.samples.data() + i * colours * size;
        std::copy_n(from, colours * size, to);
        std::uint8_t *extra = picture.extra_samples.data() + i * extras * size;
        for (std::size_t s = colours; s < samples; ++s) {
            if (!has_alpha || s != alpha_place) {
                extra = std::copy_n(from + s * size, size, extra);
            }
        }
        if (!has_alpha) {
            continue;
        }
        std::copy_n(from + alpha_place * size, size, picture.alpha.data() + i * size);
        if (!premultiplied) {
            continue;
        }
        const unsigned top = size == 2 ? 65535 : 255;
        const auto value = [size](const std::uint8_t *p) {
            return size == 2 ? unsigned(p[0]) << 8 | p[1] : unsigned(p[0]);
        };
        const unsigned alpha = value(from + alpha_place * size);
        for (std::size_t c = 0; c < colours && alpha > 0; ++c) {
            const unsigned whole = std::min(
                top,
                static_cast<unsigned>((std::uint64_t(value(from + c * size)) * top + alpha / 2) / alpha));
            std::uint8_t *p = to + c * size;
            if (size == 2) {
                p[0] = static_cast<std::uint8_t>(whole >> 8);
                p[1] = static_cast<std::uint8_t>(whole & 0xFF);
            } else {
                p[0] = static_cast<std::uint8_t>(whole);
            }
        }
    }
}

/// Makes the \p colours samples and the extra ones of each pixel one picture of inks.
void join_extra_inks(Picture &picture, std::size_t colours)
{
    const auto size = static_cast<std::size_t>(picture.bits / 8);
    const std::size_t extras = picture.inks.size() - colours;
    const std::size_t count = picture.samples.size() / (colours * size);
    std::vector<std::uint8_t> all(count * picture.inks.size() * size);
    std::uint8_t *to = all.data();
    for (std::size_t i = 0; i < count; ++i) {
        to = std::copy_n(picture.samples.data() + i * colours * size, colours * size, to);
        to = std::copy_n(picture.extra_samples.data() + i * extras * size, extras * size, to);
    }
    picture.samples = std::move(all);
    picture.extra_samples.clear();
}

/// The one sample declared as alpha, or −1: several alphas are what inks are saved as.
int alpha_sample(const Layout &layout)
{
    int found = -1;
    for (std::uint16_t i = 0; layout.extra_kinds != nullptr && i < layout.extras; ++i) {
        if (layout.extra_kinds[i] == EXTRASAMPLE_ASSOCALPHA ||
            layout.extra_kinds[i] == EXTRASAMPLE_UNASSALPHA) {
            if (found >= 0) {
                return -1;
            }
            found = layout.samples - layout.extras + i;
        }
    }
    return found;
}

std::vector<std::string> ink_names(TIFF *tiff, std::size_t count)
{
    // TIFF 6.0, section 16: InkNames is a list of NUL-terminated names, in the order of the samples.
    std::vector<std::string> names;
    const char *text = nullptr;
    if (TIFFGetField(tiff, TIFFTAG_INKNAMES, &text) != 0 && text != nullptr) {
        std::uint16_t named = 0; // libtiff has checked that the list holds as many names
        if (TIFFGetField(tiff, TIFFTAG_NUMBEROFINKS, &named) == 0 || named == 0) {
            named = static_cast<std::uint16_t>(count);
        }
        for (std::size_t i = 0; i < std::min<std::size_t>(count, named); ++i) {
            names.push_back(valid_utf8(text));
            text += std::strlen(text) + 1;
        }
    }
    return names;
}

/// The inks that stand in samples from \p first on: by the file's names, or "Channel 5".
std::vector<std::string> extra_ink_names(const std::vector<std::string> &named, std::size_t first,
                                         std::size_t samples, int alpha_at,
                                         std::vector<std::string> &assumptions)
{
    std::vector<std::string> names;
    std::string unnamed;
    for (std::size_t s = first; s < samples; ++s) {
        if (static_cast<int>(s) == alpha_at) {
            continue;
        }
        const bool has_name = s < named.size() && !named[s].empty();
        names.push_back(has_name ? named[s] : "Channel " + std::to_string(s + 1));
        if (!has_name) {
            unnamed += (unnamed.empty() ? "" : ", ") + names.back();
        }
    }
    if (!unnamed.empty()) {
        assumptions.push_back("The TIFF holds inks without names: " + unnamed +
                              ". Name them in the stage Ink. 0 is read as bare, as for its other inks.");
    }
    return names;
}

/// Rows as the file has them into what a PDF takes: sample order, alpha and further inks apart, Lab as there.
void arrange(Picture &picture, const Layout &layout, std::size_t colours, std::vector<std::uint8_t> rows)
{
    if (layout.bits == 16) {
        for (std::size_t i = 0; i + 1 < rows.size(); i += 2) {
            std::swap(rows[i], rows[i + 1]); // libtiff gives the machine's order, low byte first
        }
    }
    if (layout.samples > colours) {
        const int alpha = alpha_sample(layout);
        const bool premultiplied =
            alpha >= 0 &&
            layout.extra_kinds[alpha - (layout.samples - layout.extras)] == EXTRASAMPLE_ASSOCALPHA;
        split_samples(picture, rows, layout.samples, colours, alpha, premultiplied);
        if (picture.space == Picture::Space::Inks && picture.inks.size() > colours) {
            join_extra_inks(picture, colours);
        }
    } else {
        picture.samples = std::move(rows);
    }
    if (picture.space == Picture::Space::CieLab && layout.photometric == PHOTOMETRIC_CIELAB) {
        // TIFF 6.0, section 23: a* and b* are signed; elsewhere they are offset by half.
        const std::size_t step = layout.bits == 16 ? 6 : 3;
        for (std::size_t i = 0; i + step <= picture.samples.size(); i += step) {
            for (const std::size_t at : {i + step / 3, i + 2 * step / 3}) {
                picture.samples[at] ^= 0x80;
                if (layout.bits == 16) {
                    // 1/256 of a unit each; PDF spreads 255 units over 65535 steps, so 257 make one.
                    const unsigned value = unsigned(picture.samples[at]) << 8 | picture.samples[at + 1];
                    const unsigned spread = std::min(65535u, (value * 257u + 128u) / 256u);
                    picture.samples[at] = static_cast<std::uint8_t>(spread >> 8);
                    picture.samples[at + 1] = static_cast<std::uint8_t>(spread & 0xFF);
                }
            }
        }
    }
}

/// All pixels of a directory. Large pictures are taken in bands and kept deflated.
bool read_pixels(TIFF *tiff, const Layout &layout, std::size_t colours, Picture &picture, std::size_t &lost)
{
    constexpr std::size_t large = std::size_t(256) << 20;
    const std::size_t row_bytes = (std::size_t(layout.width) * layout.samples * layout.bits + 7) / 8;
    const bool zero_is_bare = layout.photometric == PHOTOMETRIC_MINISWHITE ||
                              layout.photometric == PHOTOMETRIC_SEPARATED ||
                              layout.photometric == PHOTOMETRIC_PALETTE;
    const auto bare = zero_is_bare ? std::uint8_t(0) : std::uint8_t(255);
    std::vector<std::uint8_t> rows;
    if (row_bytes * layout.height <= large) {
        if (!read_rows(tiff, layout, 0, layout.height, bare, rows, lost)) {
            return false;
        }
        arrange(picture, layout, colours, std::move(rows));
        return true;
    }
    std::uint32_t step = 1;
    if (TIFFIsTiled(tiff) != 0) {
        TIFFGetField(tiff, TIFFTAG_TILELENGTH, &step);
    }
    step = std::max<std::uint32_t>(step, 1);
    const auto wanted = static_cast<std::uint32_t>((large / 4 + row_bytes - 1) / row_bytes);
    if (wanted == 0 || row_bytes * step > most_bytes) {
        return false;
    }
    step *= (wanted + step - 1) / step;
    Picture band = picture;
    Deflater samples, extras, alpha;
    for (std::uint32_t y = 0; y < layout.height; y += step) {
        if (!read_rows(tiff, layout, y, std::min(layout.height, y + step), bare, rows, lost)) {
            return false;
        }
        arrange(band, layout, colours, std::move(rows));
        samples.append(band.samples);
        extras.append(band.extra_samples);
        alpha.append(band.alpha);
    }
    picture.is_deflated = true;
    picture.samples = samples.finish();
    if (!band.alpha.empty()) {
        picture.alpha = alpha.finish();
        picture.alpha_bits = band.alpha_bits;
    }
    if (!band.extra_samples.empty()) {
        picture.extra_samples = extras.finish();
    }
    return true;
}

Outcome<Picture> read_directory(TIFF *tiff, std::vector<std::string> &assumptions,
                                std::vector<Damage> &damage)
{
    const Layout layout = read_layout(tiff);
    if (layout.width == 0 || layout.height == 0 || layout.samples == 0) {
        return damaged("it has no size");
    }
    if (layout.format == SAMPLEFORMAT_IEEEFP || layout.format == SAMPLEFORMAT_INT || layout.bits > 16 ||
        (layout.bits & (layout.bits - 1)) != 0) {
        return damaged("samples of " + std::to_string(layout.bits) + " bits or with a sign are not read");
    }
    if (double(layout.width) * layout.height * layout.samples * layout.bits / 8 > most_picture) {
        return Error{ErrorCode::TooLarge, "The picture needs more than 6 GB.", {}, "Ask for a smaller one."};
    }
    Picture picture;
    picture.width = static_cast<int>(layout.width);
    picture.height = static_cast<int>(layout.height);
    picture.bits = layout.bits;
    std::size_t colours = 1;
    switch (layout.photometric) {
    case PHOTOMETRIC_MINISWHITE:
        picture.inverted = true;
        break;
    case PHOTOMETRIC_MINISBLACK:
        break;
    case PHOTOMETRIC_RGB:
    case PHOTOMETRIC_YCBCR:
        picture.space = Picture::Space::Rgb;
        colours = 3;
        break;
    case PHOTOMETRIC_CIELAB:
    case PHOTOMETRIC_ICCLAB:
        picture.space = Picture::Space::CieLab;
        colours = 3;
        break;
    case PHOTOMETRIC_PALETTE: {
        picture.space = Picture::Space::Palette;
        std::uint16_t *r = nullptr;
        std::uint16_t *g = nullptr;
        std::uint16_t *b = nullptr;
        if (layout.bits > 8 || TIFFGetField(tiff, TIFFTAG_COLORMAP, &r, &g, &b) == 0) {
            return damaged("its palette is missing");
        }
        for (int i = 0; i < 1 << layout.bits; ++i) {
            for (const std::uint16_t *channel : {r, g, b}) {
                picture.palette.push_back(static_cast<std::uint8_t>(channel[i] >> 8));
            }
        }
        break;
    }
    case PHOTOMETRIC_SEPARATED: {
        std::uint16_t set = INKSET_CMYK;
        TIFFGetFieldDefaulted(tiff, TIFFTAG_INKSET, &set);
        const int alpha = alpha_sample(layout);
        colours = static_cast<std::size_t>(layout.samples - layout.extras);
        picture.space = Picture::Space::Cmyk;
        const bool more = layout.samples > colours + (alpha >= 0 ? 1 : 0);
        if (set == INKSET_CMYK && colours == 4 && more) {
            // One picture of all its inks, so that they meet as one colour.
            const std::vector<std::string> named = ink_names(tiff, layout.samples);
            picture.space = Picture::Space::Inks;
            picture.inks = {"Cyan", "Magenta", "Yellow", "Black"};
            for (std::string &ink : extra_ink_names(named, 4, layout.samples, alpha, assumptions)) {
                picture.inks.push_back(std::move(ink));
            }
            assumptions.push_back(
                "A TIFF does not say what its inks look like; their colours on screen are made up.");
            break;
        }
        if (set != INKSET_CMYK || colours != 4) {
            picture.space = Picture::Space::Inks;
            picture.inks = ink_names(tiff, colours);
            for (std::size_t i = picture.inks.size(); i < colours; ++i) {
                static constexpr const char *process[] = {"Cyan", "Magenta", "Yellow", "Black"};
                picture.inks.push_back(i < 4 && picture.inks.size() == i && colours >= 4
                                           ? process[i]
                                           : "Ink " + std::to_string(i + 1));
                assumptions.push_back("The TIFF does not name ink " + std::to_string(i + 1) +
                                      "; it is called '" + picture.inks.back() + "'.");
            }
            assumptions.push_back(
                "A TIFF does not say what its inks look like; their colours on screen are made up.");
        }
        break;
    }
    default:
        return damaged("its kind of colour, number " + std::to_string(layout.photometric) + ", is not read");
    }
    if (layout.samples < colours || (layout.samples > colours && layout.bits < 8) ||
        (picture.space == Picture::Space::CieLab && layout.bits != 8 && layout.bits != 16)) {
        return damaged("its samples do not fit its kind of colour");
    }
    std::size_t lost = 0;
    decoder_said.clear();
    if (!read_pixels(tiff, layout, colours, picture, lost)) {
        return damaged("its pixels are damaged");
    }
    if (lost == 0 && decoder_said.empty()) {
        check_sums(tiff);
    }
    if (lost > 0 || !decoder_said.empty()) {
        damage.push_back(
            {DamageKind::Picture,
             -1,
             {},
             "the TIFF is damaged: " + (decoder_said.empty() ? "its data ends early" : decoder_said) +
                 (lost > 0 ? "; " + std::to_string(lost) + " of " + std::to_string(layout.height) +
                                 " rows cannot be read"
                           : std::string())});
    }
    if (!picture.extra_samples.empty()) {
        picture.extra_inks = extra_ink_names(ink_names(tiff, layout.samples), colours, layout.samples,
                                             alpha_sample(layout), assumptions);
    }
    std::uint32_t icc_size = 0;
    const void *icc = nullptr;
    if (TIFFGetField(tiff, TIFFTAG_ICCPROFILE, &icc_size, &icc) != 0 &&
        (picture.space == Picture::Space::Rgb || picture.space == Picture::Space::Cmyk ||
         picture.space == Picture::Space::Palette)) {
        const auto *first = static_cast<const std::byte *>(icc);
        picture.icc.assign(first, first + icc_size);
    }
    float across = 0;
    float down = 0;
    std::uint16_t unit = RESUNIT_INCH;
    TIFFGetFieldDefaulted(tiff, TIFFTAG_RESOLUTIONUNIT, &unit);
    if (unit != RESUNIT_NONE && TIFFGetField(tiff, TIFFTAG_XRESOLUTION, &across) != 0 &&
        TIFFGetField(tiff, TIFFTAG_YRESOLUTION, &down) != 0 && across > 0 && down > 0) {
        const double scale = unit == RESUNIT_CENTIMETER ? 2.54 : 1.0;
        picture.ppi_across = double(across) * scale;
        picture.ppi_down = double(down) * scale;
    }
    std::uint16_t orientation = ORIENTATION_TOPLEFT;
    TIFFGetFieldDefaulted(tiff, TIFFTAG_ORIENTATION, &orientation);
    picture.orientation = orientation >= 1 && orientation <= 8 ? orientation : 1;
    return picture;
}

} // namespace

Outcome<PictureFile> read_tiff_pictures(std::span<const std::byte> bytes)
{
    TIFFSetWarningHandler(note_warning);
    TIFFSetErrorHandler(note_error);
    Source source{bytes, 0, {}};
    const TiffHandle tiff(TIFFClientOpen("artwork", "rm", &source, read_some, write_nothing, seek, close,
                                         size, nullptr, nullptr));
    if (!tiff) {
        return damaged("its header is damaged");
    }
    PictureFile file;
    do {
        auto picture = read_directory(tiff.get(), file.assumptions, file.damage);
        if (!picture && file.pages.empty()) {
            return picture.error();
        }
        if (!picture) {
            file.damage.push_back(
                {DamageKind::Picture, -1, {}, "a further page is missing: " + picture.error().reason});
            continue;
        }
        std::uint32_t kind = 0;
        if (TIFFGetField(tiff.get(), TIFFTAG_SUBFILETYPE, &kind) != 0 &&
            (kind & FILETYPE_REDUCEDIMAGE) != 0) {
            continue; // a small copy for viewing
        }
        file.pages.push_back(std::move(*picture));
    } while (static_cast<int>(file.pages.size()) < most_pages && TIFFReadDirectory(tiff.get()) != 0);
    if (file.pages.empty()) {
        return damaged("it holds no picture");
    }
    return file;
}

} // namespace bichrom
