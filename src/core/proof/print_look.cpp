#include "core/proof/print_look.h"

#include "core/colour/srgb.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace bichrom {

namespace {

const std::array<float, 256> &linear_table()
{
    static const std::array<float, 256> table = [] {
        std::array<float, 256> made{};
        for (std::size_t i = 0; i < made.size(); ++i) {
            made[i] = srgb_to_linear(static_cast<float>(i) / 255.0f);
        }
        return made;
    }();
    return table;
}

constexpr std::size_t steps = 8192; // fine enough that no byte is skipped in the shadows

const std::array<std::uint8_t, steps> &byte_table()
{
    static const std::array<std::uint8_t, steps> table = [] {
        std::array<std::uint8_t, steps> made{};
        for (std::size_t i = 0; i < made.size(); ++i) {
            made[i] = static_cast<std::uint8_t>(
                std::lround(linear_to_srgb(static_cast<float>(i) / static_cast<float>(steps - 1)) * 255.0f));
        }
        return made;
    }();
    return table;
}

std::uint32_t byte_of(float linear)
{
    const float at = std::clamp(linear, 0.0f, 1.0f) * static_cast<float>(steps - 1) + 0.5f;
    return byte_table()[static_cast<std::size_t>(at)];
}

std::array<float, 3> linear_of(Rgb8 rgb)
{
    return {linear_table()[rgb.r], linear_table()[rgb.g], linear_table()[rgb.b]};
}

} // namespace

std::vector<PrintedInk> printed_inks(const std::vector<std::string> &inks, const Job &job)
{
    std::vector<PrintedInk> printed;
    for (const std::string &name : inks) {
        PrintedInk ink;
        const int plate = job.find_plate(name);
        ink.process = process_channel(name);
        ink.shown = plate >= 0;
        if (plate >= 0) {
            ink.solid = job.plates[static_cast<std::size_t>(plate)].solid;
        }
        printed.push_back(ink);
    }
    return printed;
}

PrintLook::PrintLook(std::vector<PrintedInk> inks, const Lab &stock, const ProcessProfile &condition,
                     int checker)
    : m_inks(std::move(inks)), m_checker(checker), m_condition(&condition)
{
    constexpr double step = 14; // of lightness between the squares: seen, yet no distraction
    const Lab darker = {stock.l > step ? stock.l - step : stock.l + step, stock.a, stock.b};
    m_stock = {linear_of(condition.lab_to_rgb(stock)),
               linear_of(condition.lab_to_rgb(checker > 0 ? darker : stock))};
    for (std::size_t i = 0; i < m_inks.size(); ++i) {
        if (!m_inks[i].shown) {
            continue;
        }
        if (m_inks[i].process >= 0) {
            m_process = true;
            continue;
        }
        const std::array<float, 3> solid = linear_of(condition.lab_to_rgb(m_inks[i].solid));
        Film film{i, std::vector<float>(256 * 3)};
        for (std::size_t tone = 0; tone < 256; ++tone) {
            const float a = static_cast<float>(tone) / 255.0f;
            for (std::size_t c = 0; c < 3; ++c) {
                const float root = 1.0f - a + a * std::sqrt(solid[c]);
                film.left[tone * 3 + c] = root * root;
            }
        }
        m_films.push_back(std::move(film));
    }
}

void PrintLook::compose(const PlateTile &tile, std::span<std::uint32_t> pixels) const
{
    constexpr std::size_t chunk = 1024;
    std::array<std::uint8_t, chunk * 4> cmyk{};
    std::array<std::uint8_t, chunk * 3> rgb{};
    std::array<float, chunk * 3> light{};
    const auto width = static_cast<std::size_t>(std::max(1, tile.rect.width));
    const auto stock_at = [&](std::size_t pixel) -> const std::array<float, 3> & {
        if (m_checker == 0) {
            return m_stock[0];
        }
        const int x = tile.rect.x + static_cast<int>(pixel % width);
        const int y = tile.rect.y + static_cast<int>(pixel / width);
        return m_stock[static_cast<std::size_t>((x / m_checker + y / m_checker) & 1)];
    };
    for (std::size_t start = 0; start < pixels.size(); start += chunk) {
        const std::size_t count = std::min(chunk, pixels.size() - start);
        if (m_process) {
            cmyk.fill(0);
            for (std::size_t i = 0; i < m_inks.size() && i < tile.plates.size(); ++i) {
                if (m_inks[i].shown && m_inks[i].process >= 0) {
                    const std::uint8_t *tones = tile.plates[i].pixels.data() + start;
                    for (std::size_t k = 0; k < count; ++k) {
                        cmyk[k * 4 + static_cast<std::size_t>(m_inks[i].process)] = tones[k];
                    }
                }
            }
            m_condition->cmyk_pixels_to_rgb(cmyk.data(), rgb.data(), count);
        }
        for (std::size_t k = 0; k < count; ++k) {
            const std::array<float, 3> &stock = stock_at(start + k);
            for (std::size_t c = 0; c < 3; ++c) {
                light[k * 3 + c] = m_process ? linear_table()[rgb[k * 3 + c]] * stock[c] : stock[c];
            }
        }
        for (const Film &film : m_films) {
            if (film.plate >= tile.plates.size()) {
                continue;
            }
            const std::uint8_t *tones = tile.plates[film.plate].pixels.data() + start;
            for (std::size_t k = 0; k < count; ++k) {
                const float *left = film.left.data() + std::size_t(tones[k]) * 3;
                for (std::size_t c = 0; c < 3; ++c) {
                    light[k * 3 + c] *= left[c];
                }
            }
        }
        for (std::size_t k = 0; k < count; ++k) {
            pixels[start + k] = 0xFF000000u | byte_of(light[k * 3]) << 16 | byte_of(light[k * 3 + 1]) << 8 |
                                byte_of(light[k * 3 + 2]);
        }
    }
}

} // namespace bichrom
