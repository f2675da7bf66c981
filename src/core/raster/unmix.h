/// \file
/// Flat artwork in pixels, taken apart into its few colours.
/// Layer: core/raster. May use core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/raster/plane.h"

#include <array>
#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// Red, green and blue as encoded, 0 to 255.
using EncodedRgb = std::array<std::uint8_t, 3>;

/// A picture in memory, rows top down without padding.
struct RgbPicture
{
    int width = 0, height = 0;
    std::vector<EncodedRgb> pixels;

    [[nodiscard]] const EncodedRgb &at(int x, int y) const
    {
        return pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                      static_cast<std::size_t>(x)];
    }
};

/// How far apart two colours are: 0 to 1, black to white.
[[nodiscard]] double rgb_distance(const EncodedRgb &a, const EncodedRgb &b);

struct UnmixSettings
{
    double tolerance = 0.08; ///< distance within which a pixel is its nearest colour, unless an edge runs by
    int despeckle = 0;       ///< patches of fewer pixels than this go to what surrounds them
    friend bool operator==(const UnmixSettings &, const UnmixSettings &) = default;
};

/// A colour of a picture.
struct PaletteColour
{
    EncodedRgb rgb{};
    double share = 0; ///< of the picture's flat pixels, 0 to 1
};

/// The flat colours of \p picture, the largest first: of pixels that look like all their neighbours, those
/// that make up at least one in 2000, \p apart from each other; at most \p most.
[[nodiscard]] std::vector<PaletteColour> find_palette(const RgbPicture &picture, int most = 16,
                                                      double apart = 0.08);

/// How much of each pixel every colour of \p palette covers, a plane a colour, 255 = all.
///
/// An antialiased edge pixel is a proportion of two colours mixed in encoded values, as drawing programs and
/// scalers mix; the two are looked for among the colours that stand beside the edge, and only when they do
/// not explain it among all. Inside flat parts a pixel is wholly its nearest colour, so that noise leaves no
/// haze. The planes add up to 255 in every pixel. \return OutOfRange for an empty palette or more than 64
/// colours; Cancelled Same bits for any number of threads.
[[nodiscard]] Outcome<std::vector<Plane>> unmix(const RgbPicture &picture,
                                                std::span<const EncodedRgb> palette,
                                                const UnmixSettings &settings = {},
                                                const JobControl &control = {});

} // namespace bichrom
