#include "core/screen/halftone.h"

#include "core/raster/bitmap_ops.h"
#include "core/screen/halftone_kernel.h"
#include "core/screen/tint_rows.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

namespace bichrom {

namespace {

constexpr int word_pixels = 64; // a row of dots is made of whole words

/// The tones on film, 0 to 65536, of the plate's 256.
struct ToneSteps
{
    std::array<std::uint32_t, 256> film{};

    explicit ToneSteps(const PressCurve &press)
    {
        for (std::size_t tone = 0; tone < film.size(); ++tone) {
            film[tone] = static_cast<std::uint32_t>(
                std::lround(film_tone(press, static_cast<double>(tone) / 255) * 65536));
        }
    }
    /// The largest 8-bit tone whose film tone is not larger than \p threshold: darker ones are ink.
    [[nodiscard]] std::uint8_t last_bare(std::uint32_t threshold) const
    {
        const auto past = std::upper_bound(film.begin(), film.end(), threshold);
        return static_cast<std::uint8_t>(past - film.begin() - 1);
    }
};

} // namespace

Outcome<Halftone> Halftone::make(const Screen &screen, Dpi resolution, const PressCurve &press)
{
    if (const Done good = check_press_curve(press); !good) {
        return good.error();
    }
    const bool diffuses = screen.kind == ScreenKind::Diffusion;
    if (const Done good = check_screen(screen, resolution); !good) {
        return good.error();
    }
    Screen noise; // single pixels, that error diffusion's thresholds go by
    noise.kind = ScreenKind::Fm;
    noise.least_dot = 1;
    auto tile = threshold_tile(diffuses ? noise : screen, resolution);
    if (!tile) {
        return tile.error();
    }
    Halftone halftone;
    if (diffuses) {
        halftone.m_diffusion = std::make_shared<const Diffusion>(ToneSteps(press).film, least_dot_of(screen),
                                                                 static_cast<int>((*tile)->lattice.width()),
                                                                 (*tile)->thresholds);
        return halftone;
    }
    halftone.m_tile = std::move(*tile);
    const RepeatingLattice &lattice = halftone.m_tile->lattice;
    const auto width = static_cast<std::size_t>(lattice.width());
    const auto height = static_cast<std::size_t>(lattice.height());
    const ToneSteps steps(press);
    std::vector<std::uint8_t> tone_of(65536);
    for (std::uint32_t threshold = 0; threshold < tone_of.size(); ++threshold) {
        tone_of[threshold] = steps.last_bare(threshold);
    }
    const std::size_t stride = width + word_pixels;
    auto rows = std::make_shared<std::vector<std::uint8_t>>(stride * height);
    for (std::size_t y = 0; y < height; ++y) {
        const std::uint16_t *from = halftone.m_tile->thresholds.data() + y * width;
        std::uint8_t *to = rows->data() + y * stride;
        std::transform(from, from + width, to, [&](std::uint16_t threshold) { return tone_of[threshold]; });
        std::copy_n(to, word_pixels, to + width); // rows are at least as wide as a word
    }
    halftone.m_stride = static_cast<int>(stride);
    halftone.m_rows = std::move(rows);
    halftone.m_tints = std::make_shared<TintRows>(ScreenRows{halftone.m_rows->data(), static_cast<int>(width),
                                                             static_cast<int>(height), halftone.m_stride});
    return halftone;
}

Bitmap Halftone::dots(const Plane &tones, const PixelRect &around, const PixelRect &part) const
{
    if (m_diffusion != nullptr) {
        return m_diffusion->dots(tones, around, part);
    }
    Bitmap film(part.width, part.height);
    std::vector<std::uint8_t> row(static_cast<std::size_t>(part.width));
    const int left = std::max(part.x, around.x),
              right = std::min(part.x + part.width, around.x + around.width);
    for (int y = std::max(part.y, around.y);
         y < std::min(part.y + part.height, around.y + around.height) && left < right; ++y) {
        const auto from =
            tones.row(y - around.y)
                .subspan(static_cast<std::size_t>(left - around.x), static_cast<std::size_t>(right - left));
        std::copy(from.begin(), from.end(), row.begin() + (left - part.x));
        screen_row(row.data(), part.width, part.x, y, film.row(y - part.y));
    }
    return film;
}

std::uint8_t Halftone::threshold_at(std::int64_t x, std::int64_t y) const
{
    const std::int64_t place = m_tile->lattice.number(x, y);
    const std::int64_t width = m_tile->lattice.width();
    return (*m_rows)[static_cast<std::size_t>(place / width * m_stride + place % width)];
}

namespace {

/// The row of thresholds at \p y, from \p x on.
ScreenRow row_at(const RepeatingLattice &lattice, const std::vector<std::uint8_t> &rows, int stride,
                 std::int64_t x, std::int64_t y)
{
    const std::int64_t place = lattice.number(x, y);
    ScreenRow row;
    row.width = static_cast<int>(lattice.width());
    row.column = static_cast<int>(place % lattice.width());
    row.thresholds = rows.data() + place / lattice.width() * stride;
    return row;
}

/// \p count tones from the start of \p row on.
void screen_pixels(ScreenRow row, const std::uint8_t *tones, int count, std::uint8_t *bits)
{
    const int whole = count / word_pixels;
    screen_words(row, tones, whole, bits);
    if (const int rest = count - whole * word_pixels; rest > 0) {
        std::uint8_t last[word_pixels] = {}; // bare beyond the end, so that padding stays 0
        std::memcpy(last, tones + whole * word_pixels, static_cast<std::size_t>(rest));
        row.column = (row.column + whole * word_pixels) % row.width;
        screen_words(row, last, 1, bits + whole * 8);
    }
}

} // namespace

void Halftone::screen_row(const std::uint8_t *tones, int count, std::int64_t x, std::int64_t y,
                          std::uint8_t *bits) const
{
    screen_pixels(row_at(m_tile->lattice, *m_rows, m_stride, x, y), tones, count, bits);
}

void Halftone::screen_runs(std::span<const ToneRun> runs, int width, std::int64_t x, std::int64_t y,
                           std::uint8_t *bits, std::vector<std::uint8_t> &scratch) const
{
    const auto words = [](int pixels) { return (pixels + word_pixels - 1) / word_pixels * word_pixels; };
    const int all = words(width);
    scratch.resize(static_cast<std::size_t>(all) + static_cast<std::size_t>(all) / 8);
    std::uint8_t *tones = scratch.data();
    std::uint8_t *dots = scratch.data() + all;
    const ScreenRow row = row_at(m_tile->lattice, *m_rows, m_stride, x, y);
    const auto line = static_cast<int>((row.thresholds - m_rows->data()) / m_stride);
    // Whether a run needs no thresholds: then it is done.
    const auto inked = [&](const ToneRun &run) {
        if (run.tones != nullptr) {
            return false;
        }
        // Dots of short runs lie far apart in memory, thresholds of a row side by side.
        constexpr int least = 192; // pixels
        if (run.tone == 255) {
            set_bits(bits, run.begin, run.end);
            return true;
        }
        const int pixels = run.end - run.begin;
        const std::uint64_t *tint = pixels < least ? nullptr : m_tints->wanted(run.tone, pixels);
        if (tint == nullptr) {
            return false;
        }
        m_tints->lay(tint, line, row.column, run.begin, run.end, bits);
        return true;
    };
    for (std::size_t i = 0; i < runs.size();) {
        if (inked(runs[i])) {
            ++i;
            continue;
        }
        // The words that this run and those after it share are screened together.
        const int begin = runs[i].begin / word_pixels * word_pixels;
        int end = words(runs[i].end);
        std::memset(tones + begin, 0, static_cast<std::size_t>(runs[i].begin - begin));
        runs[i].write(tones);
        int filled = runs[i].end;
        for (++i; i < runs.size() && runs[i].begin < end; ++i) {
            if (inked(runs[i])) {
                ++i;
                break;
            }
            std::memset(tones + filled, 0, static_cast<std::size_t>(runs[i].begin - filled));
            runs[i].write(tones);
            filled = runs[i].end;
            end = words(filled);
        }
        std::memset(tones + filled, 0, static_cast<std::size_t>(end - filled));
        ScreenRow from = row;
        from.column = (row.column + begin) % row.width;
        screen_pixels(from, tones + begin, end - begin, dots);
        for (int byte = begin / 8; byte < end / 8; ++byte) {
            bits[byte] = static_cast<std::uint8_t>(bits[byte] | dots[byte - begin / 8]);
        }
    }
}

} // namespace bichrom
