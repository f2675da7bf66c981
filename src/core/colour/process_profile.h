/// \file
/// Colour conversion through the ICC profile of a printing condition.
/// Layer: core/colour. lcms2 stays inside.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <memory>

namespace bichrom {

/// CIELAB, D50, 2° observer.
struct Lab
{
    double l = 0, a = 0, b = 0;
    friend bool operator==(const Lab &, const Lab &) = default;
};

/// sRGB (IEC 61966-2-1), 8 bits a channel.
struct Rgb8
{
    std::uint8_t r = 0, g = 0, b = 0;
    friend bool operator==(const Rgb8 &, const Rgb8 &) = default;
};

/// Coverage of cyan, magenta, yellow and black, each 0 to 1.
using Cmyk = std::array<float, 4>;

/// Conversions between device colours and the process inks, relative colorimetric
/// with black point compensation. Immutable; every function may be called from any thread.
class ProcessProfile
{
public:
    /// The shipped coated-paper condition, FOGRA39 (data/icc, CC0).
    [[nodiscard]] static const ProcessProfile &fogra39();

    ~ProcessProfile();
    ProcessProfile(const ProcessProfile &) = delete;
    ProcessProfile &operator=(const ProcessProfile &) = delete;

    /// \param rgb  sRGB, 0 to 1
    [[nodiscard]] Cmyk from_rgb(const std::array<float, 3> &rgb) const;
    [[nodiscard]] Cmyk from_lab(const Lab &lab) const;
    [[nodiscard]] Lab to_lab(const Cmyk &cmyk) const;
    [[nodiscard]] Rgb8 to_rgb(const Cmyk &cmyk) const;
    /// Lab as sRGB for the screen, out-of-gamut colours clipped.
    [[nodiscard]] Rgb8 lab_to_rgb(const Lab &lab) const;
    [[nodiscard]] Lab rgb_to_lab(Rgb8 rgb) const;

    /// Interleaved 8-bit pixels; CMYK is written 0 = bare, 255 = solid.
    void rgb_pixels_to_cmyk(const std::uint8_t *rgb, std::uint8_t *cmyk, std::size_t count) const;
    /// Lab as 8-bit ICC encoding (L* 0–255 = 0–100, a* and b* offset by 128).
    void lab_pixels_to_cmyk(const std::uint8_t *lab, std::uint8_t *cmyk, std::size_t count) const;
    void cmyk_pixels_to_rgb(const std::uint8_t *cmyk, std::uint8_t *rgb, std::size_t count) const;

private:
    ProcessProfile(const void *bytes, std::size_t size);
    struct Transforms;
    std::unique_ptr<Transforms> m_transforms;
};

} // namespace bichrom
