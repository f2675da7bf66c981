#include "core/screen/densitometer.h"

#include "core/base/within_memory.h"
#include "core/screen/film_rows.h"

#include <tiffio.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <memory>
#include <vector>

namespace bichrom {

namespace {

struct TiffCloser
{
    void operator()(TIFF *tiff) const { TIFFClose(tiff); }
};
using TiffHandle = std::unique_ptr<TIFF, TiffCloser>;

Error wrong(const std::string &why, const std::string &place)
{
    return {ErrorCode::WrongFormat, why, place, "Read a 1-bit TIFF, as film recorders take it."};
}

Error damaged(const std::string &place)
{
    return {ErrorCode::CannotRead, "The film ends early or is damaged.", place, "Write it again."};
}

/// Copies pixels [left, left + width) of \p from, which holds \p bytes, to the start of \p to, whose rest
/// stays bare; \p flip turns ink and bare over.
void copy_bits(const std::uint8_t *from, std::size_t bytes, int left, int width, std::uint8_t *to, bool flip)
{
    const auto first = static_cast<std::size_t>(left / 8);
    const auto count = static_cast<std::size_t>((width + 7) / 8);
    const unsigned turn = flip ? 0xFF : 0;
    for (std::size_t i = 0; i < count; ++i) {
        const unsigned here = from[first + i], next = first + i + 1 < bytes ? from[first + i + 1] : 0U;
        to[i] = static_cast<std::uint8_t>(((here << 8 | next) >> (8 - left % 8)) ^ turn);
    }
    if (const int rest = width % 8; rest != 0) {
        to[count - 1] = static_cast<std::uint8_t>(to[count - 1] & (0xFF00 >> rest));
    }
}

/// Calls \p take(y, bytes) for rows from the first to the last, which may come in pieces of tiles: bytes are
/// those of the whole row.
template <class Take>
Done each_row(TIFF *tiff, int width, int top, int bottom, const std::string &place, const JobControl &control,
              const Take &take)
{
    const Error stopped{ErrorCode::Cancelled, "Stopped.", place, {}};
    const std::size_t row_bytes = (static_cast<std::size_t>(width) + 7) / 8;
    if (TIFFIsTiled(tiff) == 0) {
        std::vector<std::uint8_t> row(static_cast<std::size_t>(TIFFScanlineSize(tiff)));
        if (row.size() < row_bytes) {
            return damaged(place);
        }
        // Rows of a strip are needed to decode those after them.
        std::uint32_t strip = 0;
        TIFFGetFieldDefaulted(tiff, TIFFTAG_ROWSPERSTRIP, &strip);
        const int begin = strip == 0 ? 0 : static_cast<int>(static_cast<std::uint32_t>(top) / strip * strip);
        for (int y = begin; y < bottom; ++y) {
            if (TIFFReadScanline(tiff, row.data(), static_cast<std::uint32_t>(y), 0) < 0) {
                return damaged(place);
            }
            if (y >= top) {
                take(y, row.data());
            }
            if (y % 256 == 0 && control.cancelled()) {
                return stopped;
            }
        }
        return {};
    }
    std::uint32_t tile_width = 0, tile_height = 0;
    TIFFGetField(tiff, TIFFTAG_TILEWIDTH, &tile_width);
    TIFFGetField(tiff, TIFFTAG_TILELENGTH, &tile_height);
    const tmsize_t size = TIFFTileSize(tiff);
    if (tile_width == 0 || tile_width % 8 != 0 || tile_height == 0 || size <= 0 || size > (1 << 28)) {
        return damaged(place);
    }
    std::vector<std::uint8_t> tile(static_cast<std::size_t>(size));
    const std::size_t tile_bytes = tile_width / 8;
    std::vector<std::uint8_t> rows((static_cast<std::size_t>(width) / tile_width + 1) * tile_bytes *
                                   tile_height);
    const std::size_t stride = rows.size() / tile_height;
    for (std::uint32_t y = static_cast<std::uint32_t>(top) / tile_height * tile_height;
         static_cast<int>(y) < bottom; y += tile_height) {
        for (std::uint32_t x = 0; static_cast<int>(x) < width; x += tile_width) {
            if (TIFFReadTile(tiff, tile.data(), x, y, 0, 0) < 0) {
                return damaged(place);
            }
            for (std::uint32_t row = 0; row < tile_height; ++row) {
                std::copy_n(tile.data() + row * tile_bytes, tile_bytes, rows.data() + row * stride + x / 8);
            }
        }
        for (std::uint32_t row = 0; row < tile_height; ++row) {
            const int at = static_cast<int>(y + row);
            if (at >= top && at < bottom) {
                take(at, rows.data() + row * stride);
            }
        }
        if (control.cancelled()) {
            return stopped;
        }
    }
    return {};
}

/// A film that is open, and what it says of itself.
struct OpenFilm
{
    TiffHandle tiff;
    int width = 0, height = 0;
    double dpi = 0;
    bool flip = false; ///< its zeros are ink
};

Outcome<OpenFilm> open_film(const std::filesystem::path &path)
{
    const std::string place = path.string();
    std::error_code fault;
    if (!std::filesystem::is_regular_file(path, fault)) {
        return Error{ErrorCode::FileMissing, "There is no such file.", place,
                     "Check the name and the folder."};
    }
    TIFFSetErrorHandler(nullptr);
    TIFFSetWarningHandler(nullptr);
    TiffHandle tiff(TIFFOpen(path.c_str(), "r"));
    if (!tiff) {
        return wrong("This is no readable TIFF.", place);
    }
    std::uint32_t width = 0, height = 0;
    std::uint16_t bits = 1, samples = 1, photometric = PHOTOMETRIC_MINISWHITE, unit = RESUNIT_INCH;
    float across = 0, down = 0;
    TIFFGetField(tiff.get(), TIFFTAG_IMAGEWIDTH, &width);
    TIFFGetField(tiff.get(), TIFFTAG_IMAGELENGTH, &height);
    TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_BITSPERSAMPLE, &bits);
    TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_SAMPLESPERPIXEL, &samples);
    TIFFGetField(tiff.get(), TIFFTAG_PHOTOMETRIC, &photometric);
    TIFFGetFieldDefaulted(tiff.get(), TIFFTAG_RESOLUTIONUNIT, &unit);
    TIFFGetField(tiff.get(), TIFFTAG_XRESOLUTION, &across);
    TIFFGetField(tiff.get(), TIFFTAG_YRESOLUTION, &down);
    if (bits != 1 || samples != 1) {
        return wrong("It has " + std::to_string(bits * samples) + " bits a pixel: this is no film.", place);
    }
    const double dpi = static_cast<double>(across) * (unit == RESUNIT_CENTIMETER ? 2.54 : 1.0);
    if (!(dpi >= 10 && dpi <= 100000) || unit == RESUNIT_NONE) {
        return wrong("The film does not say its resolution, so nothing of it has a size.", place);
    }
    if (std::fabs(static_cast<double>(across - down)) > 0.01 * static_cast<double>(across)) {
        return wrong("Its pixels are not square.", place);
    }
    constexpr std::uint64_t most_pixels = std::uint64_t(4) << 30;
    if (width == 0 || height == 0 || width > (1U << 20) || height > (1U << 22) ||
        std::uint64_t(width) * height > most_pixels) {
        return Error{ErrorCode::TooLarge, "The film is too large to be read at once.", place,
                     "Read an area of it."};
    }
    return OpenFilm{std::move(tiff), static_cast<int>(width), static_cast<int>(height), dpi,
                    photometric == PHOTOMETRIC_MINISBLACK};
}

Outcome<FilmImage> read(const std::filesystem::path &path, const Rect &area, const JobControl &control)
{
    const auto film_file = open_film(path);
    if (!film_file) {
        return film_file.error();
    }
    const auto &[tiff, width, height, dpi, flip] = *film_file;
    const std::string place = path.string();
    PixelRect part{0, 0, width, height};
    if (area.width > 0 && area.height > 0) {
        const auto px = [&](double mm, int most) {
            return static_cast<int>(std::clamp(std::floor(mm * dpi / millimetres_per_inch + 0.5), 0.0,
                                               static_cast<double>(most)));
        };
        part.x = px(area.x, part.width);
        part.y = px(area.y, part.height);
        part.width = px(area.x + area.width, width) - part.x;
        part.height = px(area.y + area.height, height) - part.y;
        if (part.empty()) {
            return Error{ErrorCode::OutOfRange, "The area holds no pixel of the film.", place,
                         "Give it in mm from the film's top left."};
        }
    }
    FilmImage film{Bitmap(part.width, part.height), Dpi(dpi)};
    const Done done = each_row(tiff.get(), width, part.y, part.y + part.height, place, control,
                               [&](int y, const std::uint8_t *row) {
                                   copy_bits(row, (static_cast<std::size_t>(width) + 7) / 8, part.x,
                                             part.width, film.bits.row(y - part.y), flip);
                               });
    if (!done) {
        return done.error();
    }
    return film;
}

Outcome<FilmOverview> overview(const std::filesystem::path &path, int longest, const JobControl &control)
{
    const auto film_file = open_film(path);
    if (!film_file) {
        return film_file.error();
    }
    const auto &[tiff, width, height, dpi, flip] = *film_file;
    FilmOverview made;
    made.width = width;
    made.height = height;
    made.resolution = Dpi(dpi);
    made.square = std::max(1, (std::max(width, height) + longest - 1) / longest);
    const int square = made.square, columns = (width + square - 1) / square;
    made.share = Plane(columns, (height + square - 1) / square);
    std::vector<std::uint8_t> bits((static_cast<std::size_t>(width) + 7) / 8 + 8);
    std::vector<int> black(static_cast<std::size_t>(columns), 0);
    const Done done =
        each_row(tiff.get(), width, 0, height, path.string(), control,
                 [&, w = width, h = height, turn = flip](int y, const std::uint8_t *row) {
                     copy_bits(row, (static_cast<std::size_t>(w) + 7) / 8, 0, w, bits.data(), turn);
                     for (int x = 0; x < w; x += 8) {
                         const unsigned byte = bits[static_cast<std::size_t>(x / 8)];
                         if (byte == 0) {
                             continue;
                         }
                         if (x / square == (x + 7) / square) {
                             black[static_cast<std::size_t>(x / square)] += std::popcount(byte);
                             continue;
                         }
                         for (int i = 0; i < 8 && x + i < w; ++i) {
                             black[static_cast<std::size_t>((x + i) / square)] +=
                                 static_cast<int>(byte >> (7 - i) & 1U);
                         }
                     }
                     if (y % square != square - 1 && y != h - 1) {
                         return;
                     }
                     const int rows = y % square + 1;
                     std::span<std::uint8_t> out = made.share.row(y / square);
                     for (int column = 0; column < columns; ++column) {
                         const int wide = std::min(square, w - column * square);
                         int &count = black[static_cast<std::size_t>(column)];
                         out[static_cast<std::size_t>(column)] =
                             static_cast<std::uint8_t>((count * 255 + wide * rows / 2) / (wide * rows));
                         count = 0;
                     }
                 });
    if (!done) {
        return done.error();
    }
    return made;
}

} // namespace

Outcome<FilmImage> read_film(const std::filesystem::path &path, const Rect &area, const JobControl &control)
{
    return within_memory(path.string(), [&] { return read(path, area, control); });
}

Outcome<FilmOverview> read_film_overview(const std::filesystem::path &path, int longest,
                                         const JobControl &control)
{
    return within_memory(path.string(), [&] { return overview(path, std::max(1, longest), control); });
}

struct FilmRows::Impl
{
    OpenFilm film;
    std::filesystem::path path;
    std::vector<std::uint8_t> row;
    int at = 0;
};

FilmRows::FilmRows(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
FilmRows::~FilmRows() = default;
FilmRows::FilmRows(FilmRows &&) noexcept = default;

Outcome<FilmRows> FilmRows::open(const std::filesystem::path &path)
{
    auto film = open_film(path);
    if (!film) {
        return film.error();
    }
    if (TIFFIsTiled(film->tiff.get()) != 0) {
        return wrong("Its pixels lie in tiles.", path.string());
    }
    const auto row_bytes = static_cast<std::size_t>(TIFFScanlineSize(film->tiff.get()));
    if (row_bytes < (static_cast<std::size_t>(film->width) + 7) / 8) {
        return damaged(path.string());
    }
    return FilmRows(
        std::make_unique<Impl>(Impl{std::move(*film), path, std::vector<std::uint8_t>(row_bytes), 0}));
}

int FilmRows::width() const
{
    return m_impl->film.width;
}

int FilmRows::height() const
{
    return m_impl->film.height;
}

Dpi FilmRows::resolution() const
{
    return Dpi(m_impl->film.dpi);
}

Done FilmRows::next(std::uint8_t *to)
{
    if (m_impl->at >= m_impl->film.height ||
        TIFFReadScanline(m_impl->film.tiff.get(), m_impl->row.data(), static_cast<std::uint32_t>(m_impl->at),
                         0) < 0) {
        return damaged(m_impl->path.string());
    }
    ++m_impl->at;
    copy_bits(m_impl->row.data(), (static_cast<std::size_t>(m_impl->film.width) + 7) / 8, 0,
              m_impl->film.width, to, m_impl->film.flip);
    return {};
}

} // namespace bichrom
