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

    [[nodiscard]] std::uint8_t tone(int x, int y) const
    {
        const int column = x - around.x, row = y - around.y;
        return column < 0 || row < 0 || column >= around.width || row >= around.height
                   ? std::uint8_t(0)
                   : tones.at(column, row);
    }
};

/// What is left over from dots before, by column; one more at each end.
struct Diffusion::Rows
{
    static constexpr std::size_t wide = block_dots + 2 * warm_dots + 2;
    std::array<std::int32_t, wide> here{}, next{};
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
    const int first = column * block_dots - warm_dots, end = (column + 1) * block_dots + warm_dots;
    const int top = row * block_dots - warm_dots, bottom = (row + 1) * block_dots;
    const int all = m_dot * m_dot;
    rows.here.fill(0);
    for (int y = top; y < bottom && y * m_dot < part.part.y + part.part.height; ++y) {
        rows.next.fill(0);
        const std::int32_t *thresholds =
            m_thresholds.data() + static_cast<std::ptrdiff_t>(floor_mod(y, m_side)) * m_side;
        const bool forth = floor_mod(y, 2) == 0;
        const int step = forth ? 1 : -1;
        for (int i = 0; i < end - first; ++i) {
            const int x = forth ? first + i : end - 1 - i;
            const auto at = static_cast<std::size_t>(x - first + 1);
            std::int32_t sum = 0;
            int bare = 0, full = 0;
            for (int pixel = 0; pixel < all; ++pixel) {
                const std::int32_t tone =
                    m_film[part.tone(x * m_dot + pixel % m_dot, y * m_dot + pixel / m_dot)];
                sum += tone;
                bare += tone == 0 ? 1 : 0;
                full += tone == solid ? 1 : 0;
            }
            bool ink = false;
            if (bare + full < all) { // else there is nothing to decide, and nothing is left over
                const std::int32_t wanted = sum / all + rows.here[at];
                ink = wanted >= thresholds[floor_mod(x, m_side)];
                const std::int32_t made = solid * (full + (ink ? all - bare - full : 0)) / all;
                const std::int32_t rest = std::clamp(wanted - made, -solid, solid);
                const auto ahead = static_cast<std::size_t>(static_cast<int>(at) + step);
                const auto behind = static_cast<std::size_t>(static_cast<int>(at) - step);
                const std::int32_t seven = rest * 7 / 16, three = rest * 3 / 16, five = rest * 5 / 16;
                rows.here[ahead] += seven;
                rows.next[behind] += three;
                rows.next[at] += five;
                rows.next[ahead] += rest - seven - three - five;
            }
            const bool asked =
                x >= column * block_dots && x < (column + 1) * block_dots && y >= row * block_dots;
            for (int pixel = 0; asked && pixel < all && (ink || full > 0); ++pixel) {
                const int px = x * m_dot + pixel % m_dot, py = y * m_dot + pixel / m_dot;
                const std::int32_t tone = m_film[part.tone(px, py)];
                const int left = px - part.part.x, down = py - part.part.y;
                if ((ink ? tone > 0 : tone == solid) && left >= 0 && left < part.part.width && down >= 0 &&
                    down < part.part.height) {
                    std::uint8_t &byte = film.row(down)[left / 8];
                    byte = static_cast<std::uint8_t>(byte | 0x80 >> left % 8);
                }
            }
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
