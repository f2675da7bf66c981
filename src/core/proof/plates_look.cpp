#include "core/proof/plates_look.h"

#include "core/proof/surface_marks.h"

#include <algorithm>
#include <array>

namespace bichrom {

namespace {

/// What a plate leaves of each channel, for every tone, 0 to 255.
struct Filter
{
    std::array<std::uint8_t, 256> r, g, b;
};

Filter make_filter(Rgb8 ink)
{
    Filter filter;
    for (unsigned tone = 0; tone < 256; ++tone) {
        const auto left = [tone](std::uint8_t channel) {
            return static_cast<std::uint8_t>(255u - (tone * (255u - channel) + 127u) / 255u);
        };
        filter.r[tone] = left(ink.r);
        filter.g[tone] = left(ink.g);
        filter.b[tone] = left(ink.b);
    }
    return filter;
}

std::uint32_t times(std::uint32_t a, std::uint32_t b)
{
    return (a * b + 127u) / 255u;
}

/// Away from where it is: darker on light, lighter on dark.
std::uint32_t marked(std::uint32_t r, std::uint32_t g, std::uint32_t b)
{
    constexpr std::uint32_t step = 72;
    const bool light = g > 127;
    const auto moved = [&](std::uint32_t channel) {
        return light ? channel - std::min(channel, step) : std::min(255u, channel + step);
    };
    return 0xFF000000u | moved(r) << 16 | moved(g) << 8 | moved(b);
}

} // namespace

void compose_plates(const PlateTile &tile, std::span<const PlateShow> plates, Rgb8 stock,
                    std::span<std::uint32_t> pixels)
{
    const std::uint32_t bare =
        0xFF000000u | (std::uint32_t(stock.r) << 16) | (std::uint32_t(stock.g) << 8) | std::uint32_t(stock.b);
    std::fill(pixels.begin(), pixels.end(), bare);
    const auto width = static_cast<std::size_t>(std::max(1, tile.rect.width));
    for (std::size_t i = 0; i < plates.size() && i < tile.plates.size(); ++i) {
        if (!plates[i].shown) {
            continue;
        }
        const Filter filter = make_filter(plates[i].ink);
        const std::uint8_t *tones = tile.plates[i].pixels.data();
        for (std::size_t k = 0; k < pixels.size(); ++k) {
            const std::uint8_t tone = tones[k];
            if (tone == 0) {
                continue;
            }
            const std::uint32_t p = pixels[k];
            const std::uint32_t r = times(p >> 16 & 0xFF, filter.r[tone]);
            const std::uint32_t g = times(p >> 8 & 0xFF, filter.g[tone]);
            const std::uint32_t b = times(p & 0xFF, filter.b[tone]);
            pixels[k] = 0xFF000000u | r << 16 | g << 8 | b;
            if (tone >= marked_from) {
                const std::uint32_t change =
                    std::max({(p >> 16 & 0xFF) - r, (p >> 8 & 0xFF) - g, (p & 0xFF) - b});
                if (change < hardly_seen_steps && on_mark(tile.rect.x + static_cast<int>(k % width),
                                                          tile.rect.y + static_cast<int>(k / width))) {
                    pixels[k] = marked(r, g, b);
                }
            }
        }
    }
}

void compose_film(const Plane &plate, std::span<std::uint32_t> pixels)
{
    for (std::size_t k = 0; k < pixels.size(); ++k) {
        const std::uint32_t grey = 255u - plate.pixels[k];
        pixels[k] = 0xFF000000u | grey << 16 | grey << 8 | grey;
    }
}

} // namespace bichrom
