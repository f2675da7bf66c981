/// \file
/// Channels taken out of interleaved pixels.
/// Layer: core/page.
#pragma once

#include <cstdint>
#include <vector>

namespace bichrom {

/// A row of interleaved pixels, looked over once so that even stretches are taken out fast.
class PixelRow
{
public:
    /// Notes which groups of 64 pixels are all alike; \p pixels must outlive the use.
    void look(const std::uint8_t *pixels, int width, int channels);
    /// Takes a channel out; \p tones gets width bytes. \return the sum of the tones
    std::uint64_t take(int channel, std::uint8_t *tones) const;

private:
    const std::uint8_t *m_pixels = nullptr;
    int m_width = 0;
    int m_channels = 0;
    /// Of 64 pixels: whether all are alike, else which eighths are (lowest bit first).
    struct Even
    {
        bool whole = false;
        std::uint8_t parts = 0;
    };
    std::vector<Even> m_even;
};

} // namespace bichrom
