#include "core/output/turned_film.h"

#include "core/base/paged_memory.h"
#include "core/output/g4.h"
#include "core/output/tiff_writer.h"
#include "core/screen/film_rows.h"

#include <oneapi/tbb/parallel_for.h>

#include <algorithm>
#include <memory>

namespace bichrom {

namespace {

constexpr int strip_rows = 256;

/// All rows of a film, in memory that may go to disk.
struct WholeFilm
{
    std::size_t stride = 0, bytes = 0;
    std::uint8_t *rows = nullptr;

    WholeFilm(int width, int height)
        : stride((static_cast<std::size_t>(width) + 7) / 8), bytes(stride * static_cast<std::size_t>(height)),
          rows(static_cast<std::uint8_t *>(map_paged(bytes)))
    {
    }
    ~WholeFilm()
    {
        if (rows != nullptr) {
            unmap_paged(rows, bytes);
        }
    }
    WholeFilm(const WholeFilm &) = delete;
    WholeFilm &operator=(const WholeFilm &) = delete;
};

/// Rows [\p top, top + its height) of the turned film: columns of the film, from below up.
void turn(const WholeFilm &film, int height, int top, Bitmap &strip)
{
    for (int y = 0; y < height; ++y) {
        const std::uint8_t *row = film.rows + static_cast<std::size_t>(y) * film.stride;
        const int column = height - 1 - y; // of the turned film
        const auto bit = static_cast<std::uint8_t>(0x80 >> column % 8);
        for (int x = top; x < top + strip.height;) {
            const std::uint8_t eight = row[x / 8]; // tops are multiples of eight
            for (int i = 0; eight != 0 && i < 8 && x + i < top + strip.height; ++i) {
                if ((eight & 0x80 >> i) != 0) {
                    std::uint8_t &byte = strip.row(x + i - top)[column / 8];
                    byte = static_cast<std::uint8_t>(byte | bit);
                }
            }
            x += 8;
        }
    }
}

} // namespace

Done turn_film(const std::filesystem::path &from, const std::filesystem::path &to, const JobControl &control)
{
    auto rows = FilmRows::open(from);
    if (!rows) {
        return rows.error();
    }
    const int width = rows->width(), height = rows->height();
    const WholeFilm film(width, height);
    if (film.rows == nullptr) {
        return Error{ErrorCode::TooLarge, "There is no room to turn a film.", from.string(),
                     "Make room where temporary files lie, or let the films lie as they are."};
    }
    for (int y = 0; y < height; ++y) {
        if (const Done done = rows->next(film.rows + static_cast<std::size_t>(y) * film.stride); !done) {
            return done;
        }
    }
    auto file =
        TiffWriter::create(to, TiffWriter::Kind::Film, {height, width, strip_rows, rows->resolution(), {}});
    if (!file) {
        return file.error();
    }
    const int strips = (width + strip_rows - 1) / strip_rows;
    constexpr int at_once = 4;
    for (int first = 0; first < strips; first += at_once) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped on request.", from.string(), {}};
        }
        std::vector<std::vector<std::uint8_t>> encoded(
            static_cast<std::size_t>(std::min(at_once, strips - first)));
        oneapi::tbb::parallel_for(std::size_t(0), encoded.size(), [&](std::size_t i) {
            const int top = (first + static_cast<int>(i)) * strip_rows;
            Bitmap strip(height, std::min(strip_rows, width - top));
            turn(film, height, top, strip);
            encoded[i] = encode_g4_strip(strip);
        });
        for (std::size_t i = 0; i < encoded.size(); ++i) {
            if (const Done done = file->write_strip(first + static_cast<int>(i), encoded[i]); !done) {
                return done;
            }
        }
    }
    if (const Done done = file->finish(); !done) {
        return done;
    }
    AtomicFile *const made[] = {&file->file()};
    return commit_together(made);
}

} // namespace bichrom
