#include "core/screen/diffusion.h"

#include <algorithm>

namespace bichrom {

namespace {

constexpr std::int32_t solid = 65536;

int floor_div(int a, int b)
{
    return a / b - (a % b < 0 ? 1 : 0);
}

int floor_mod(int a, int b)
{
    return a - floor_div(a, b) * b;
}

} // namespace

/// What is screened, and what of it is asked for.
struct Diffusion::Part
{
    const Plane &tones;
    const PixelRect &around;
    const PixelRect &part;
};

/// A row of dots of a square, and what is left over from those before.
struct Diffusion::Rows
{
    static constexpr int wide = block_dots + 2 * warm_dots; ///< dots
    /// By column; one more at each end.
    std::array<std::int32_t, wide + 2> here{}, next{};
    std::array<std::int32_t, wide> sum{};                 ///< of the tones on film of its pixels
    std::array<std::uint8_t, wide> bare{}, full{}, ink{}; ///< how many of them are; whether it is a dot
    std::vector<std::int32_t> pixels;                     ///< tones on film of the row's pixels, line by line

    /// Reads the pixels of the dots of row \p y from column \p first on.
    void read(const Part &part, const std::array<std::int32_t, 256> &film, int dot, int first, int y)
    {
        const int count = wide * dot, left = first * dot - part.around.x; // in the tones
        const int begin = std::clamp(-left, 0, count),
                  end = std::clamp(part.around.width - left, begin, count);
        pixels.assign(static_cast<std::size_t>(count) * static_cast<std::size_t>(dot), 0); // bare beside them
        sum.fill(0);
        bare.fill(0);
        full.fill(0);
        for (int line = 0; line < dot; ++line) {
            std::int32_t *to = pixels.data() + static_cast<std::ptrdiff_t>(line) * count;
            if (const int row = y * dot + line - part.around.y; row >= 0 && row < part.around.height) {
                const auto tones = part.tones.row(row);
                for (int i = begin; i < end; ++i) {
                    to[i] = film[tones[static_cast<std::size_t>(left + i)]];
                }
            }
            for (std::size_t x = 0; x < sum.size(); ++x) {
                for (int i = 0; i < dot; ++i) {
                    const std::int32_t tone = *to++;
                    sum[x] += tone;
                    bare[x] = static_cast<std::uint8_t>(bare[x] + (tone == 0 ? 1 : 0));
                    full[x] = static_cast<std::uint8_t>(full[x] + (tone == solid ? 1 : 0));
                }
            }
        }
    }

    /// Inks what of the dots from column \p first to \p end, counted in the row, lies in the part, whose row
    /// \p y of dots begins at column \p start. Bare pixels stay bare and solid ones solid.
    void write(const PixelRect &part, int dot, int start, int y, int first, int end, Bitmap &film) const
    {
        for (int line = 0; line < dot; ++line) {
            const int down = y * dot + line - part.y;
            if (down < 0 || down >= part.height) {
                continue;
            }
            const std::int32_t *from = pixels.data() + static_cast<std::ptrdiff_t>(line) * wide * dot;
            std::uint8_t *bits = film.row(down);
            for (int x = first; x < end; ++x) {
                const auto at = static_cast<std::size_t>(x);
                const std::int32_t least = ink[at] != 0 ? 1 : solid;
                for (int i = x * dot; i < (x + 1) * dot && (ink[at] != 0 || full[at] > 0); ++i) {
                    const int left = start * dot + i - part.x;
                    if (from[i] >= least && left >= 0 && left < part.width) {
                        bits[left / 8] = static_cast<std::uint8_t>(bits[left / 8] | 0x80 >> left % 8);
                    }
                }
            }
        }
    }
};

Diffusion::Diffusion(const std::array<std::uint32_t, 256> &film, int dot, int side,
                     std::span<const std::uint16_t> noise)
    : m_film{}, m_dot(dot), m_side(side)
{
    std::copy(film.begin(), film.end(), m_film.begin());
    for (const std::uint16_t rank : noise) {
        m_thresholds.push_back(solid / 2 +
                               (std::int32_t(rank) - solid / 2) * 2 / 5); // of 25 to 50 % of full ink
    }
}

/// The dots of one square that lie in the part asked for.
void Diffusion::diffuse(const Part &part, int column, int row, Rows &rows, Bitmap &film) const
{
    const int first = column * block_dots - warm_dots, all = m_dot * m_dot;
    const int top = row * block_dots - warm_dots, bottom = (row + 1) * block_dots;
    rows.here.fill(0);
    for (int y = top; y < bottom && y * m_dot < part.part.y + part.part.height; ++y) {
        rows.next.fill(0);
        rows.read(part, m_film, m_dot, first, y);
        const std::int32_t *thresholds =
            m_thresholds.data() + static_cast<std::ptrdiff_t>(floor_mod(y, m_side)) * m_side;
        const bool forth = floor_mod(y, 2) == 0;
        const int step = forth ? 1 : -1;
        for (int i = 0; i < Rows::wide; ++i) {
            const int x = forth ? i : Rows::wide - 1 - i;
            const auto at = static_cast<std::size_t>(x);
            const int bare = rows.bare[at], full = rows.full[at];
            rows.ink[at] = 0;
            if (bare + full == all) {
                continue; // there is nothing to decide, and nothing is left over
            }
            const std::int32_t wanted = rows.sum[at] / all + rows.here[at + 1];
            rows.ink[at] = wanted >= thresholds[floor_mod(first + x, m_side)] ? 1 : 0;
            const std::int32_t made = solid * (full + (rows.ink[at] != 0 ? all - bare - full : 0)) / all;
            const std::int32_t rest = std::clamp(wanted - made, -solid, solid);
            const auto ahead = static_cast<std::size_t>(x + 1 + step),
                       behind = static_cast<std::size_t>(x + 1 - step);
            const std::int32_t seven = rest * 7 / 16, three = rest * 3 / 16, five = rest * 5 / 16;
            rows.here[ahead] += seven;
            rows.next[behind] += three;
            rows.next[at + 1] += five;
            rows.next[ahead] += rest - seven - three - five;
        }
        if (y >= row * block_dots) { // what leads there is for the dots after it
            rows.write(part.part, m_dot, first, y, warm_dots, warm_dots + block_dots, film);
        }
        std::swap(rows.here, rows.next);
    }
}

Bitmap Diffusion::dots(const Plane &tones, const PixelRect &around, const PixelRect &part) const
{
    Bitmap film(part.width, part.height);
    if (part.width <= 0 || part.height <= 0) {
        return film;
    }
    const int side = block_dots * m_dot;
    const Part asked{tones, around, part};
    // Most of most pages is bare.
    const auto is_bare = [&](int column, int row) {
        const int left = std::max(column * side, part.x) - around.x,
                  top = std::max(row * side, part.y) - around.y;
        const int right = std::min((column + 1) * side, part.x + part.width) - around.x;
        const int bottom = std::min((row + 1) * side, part.y + part.height) - around.y;
        for (int y = std::max(0, top); y < std::min(bottom, around.height); ++y) {
            const auto tone = tones.row(y);
            for (int x = std::max(0, left); x < std::min(right, around.width); ++x) {
                if (tone[static_cast<std::size_t>(x)] > 0) {
                    return false;
                }
            }
        }
        return true;
    };
    Rows rows;
    for (int row = floor_div(part.y, side); row * side < part.y + part.height; ++row) {
        for (int column = floor_div(part.x, side); column * side < part.x + part.width; ++column) {
            if (!is_bare(column, row)) {
                diffuse(asked, column, row, rows, film);
            }
        }
    }
    return film;
}

} // namespace bichrom
