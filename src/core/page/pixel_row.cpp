#include "core/page/pixel_row.h"

#include <algorithm>
#include <cstddef>
#include <cstring>

namespace bichrom {

namespace {

constexpr int group_pixels = 64;
constexpr int part_pixels = 8; ///< eight parts make a group

/// Whether \p count pixels are all alike: their bytes equal themselves moved by a pixel.
bool all_alike(const std::uint8_t *pixels, int count, int channels)
{
    return std::memcmp(pixels, pixels + channels, static_cast<std::size_t>((count - 1) * channels)) == 0;
}

} // namespace

void PixelRow::look(const std::uint8_t *pixels, int width, int channels)
{
    m_pixels = pixels;
    m_width = width;
    m_channels = channels;
    m_even.resize(static_cast<std::size_t>((width + group_pixels - 1) / group_pixels));
    for (std::size_t group = 0; group < m_even.size(); ++group) {
        const int first = static_cast<int>(group) * group_pixels;
        const int count = std::min(group_pixels, width - first);
        const std::uint8_t *at = pixels + static_cast<std::ptrdiff_t>(first) * channels;
        Even &even = m_even[group];
        even = {all_alike(at, count, channels), 0};
        if (!even.whole && count == group_pixels) {
            for (int part = 0; part < group_pixels / part_pixels; ++part) {
                const bool alike = all_alike(at + part * part_pixels * channels, part_pixels, channels);
                even.parts = static_cast<std::uint8_t>(even.parts | (alike ? 1u << part : 0u));
            }
        }
    }
}

std::uint64_t PixelRow::take(int channel, std::uint8_t *tones) const
{
    const int channels = m_channels;
    std::uint64_t sum = 0;
    for (std::size_t group = 0; group < m_even.size(); ++group) {
        const int first = static_cast<int>(group) * group_pixels;
        const int count = std::min(group_pixels, m_width - first);
        const std::uint8_t *from = m_pixels + static_cast<std::ptrdiff_t>(first) * channels + channel;
        std::uint8_t *to = tones + first;
        if (m_even[group].whole) {
            std::memset(to, *from, static_cast<std::size_t>(count));
            sum += static_cast<std::uint64_t>(*from) * static_cast<std::uint64_t>(count);
            continue;
        }
        std::uint32_t ink = 0;
        for (int x = 0; x < count; x += part_pixels, from += part_pixels * channels) {
            if ((m_even[group].parts >> (x / part_pixels) & 1) != 0) {
                std::memset(to + x, *from, part_pixels);
                ink += *from * static_cast<std::uint32_t>(part_pixels);
                continue;
            }
            const int end = std::min(part_pixels, count - x);
            for (int i = 0; i < end; ++i) {
                to[x + i] = from[i * channels];
                ink += from[i * channels];
            }
        }
        sum += ink;
    }
    return sum;
}

} // namespace bichrom
