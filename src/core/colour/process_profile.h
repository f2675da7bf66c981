/// \file
/// Colour conversion through the ICC profile of a printing condition.
/// Layer: core/colour. lcms2 stays inside.
#pragma once

#include "core/base/outcome.h"

#include <array>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <string_view>

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

/// The process inks by name, in the order of Cmyk.
inline constexpr std::array<const char *, 4> process_names = {"Cyan", "Magenta", "Yellow", "Black"};

/// 0 to 3 for a process ink, −1 for any other.
[[nodiscard]] int process_channel(std::string_view ink);

/// The four rendering intents of ICC.1.
enum class RenderingIntent
{
    Perceptual,
    RelativeColorimetric,
    Saturation,
    AbsoluteColorimetric
};
inline constexpr std::array<RenderingIntent, 4> all_rendering_intents = {
    RenderingIntent::Perceptual, RenderingIntent::RelativeColorimetric, RenderingIntent::Saturation,
    RenderingIntent::AbsoluteColorimetric};
[[nodiscard]] const char *to_string(RenderingIntent intent); ///< "perceptual", "relative" …
[[nodiscard]] Outcome<RenderingIntent> parse_rendering_intent(std::string_view name);

/// How colours are brought into a printing condition and back onto the screen.
struct Rendering
{
    RenderingIntent intent = RenderingIntent::RelativeColorimetric;
    bool black_point = true; ///< black point compensation; absolute intent never has it
    friend bool operator==(const Rendering &, const Rendering &) = default;
};

class ProcessRoots;

/// Conversions between device colours and the process inks.
/// Immutable; every function may be called from any thread.
class ProcessProfile
{
public:
    /// The shipped coated-paper condition, FOGRA39 (data/icc, CC0), relative colorimetric
    /// with black point compensation.
    [[nodiscard]] static const std::shared_ptr<const ProcessProfile> &fogra39();
    [[nodiscard]] static std::span<const std::byte> fogra39_bytes();

    /// \param icc  a CMYK output profile. WrongFormat for any other.
    [[nodiscard]] static Outcome<std::shared_ptr<const ProcessProfile>> open(std::span<const std::byte> icc,
                                                                             Rendering rendering = {});

    ~ProcessProfile();
    ProcessProfile(const ProcessProfile &) = delete;
    ProcessProfile &operator=(const ProcessProfile &) = delete;

    [[nodiscard]] const std::string &name() const; ///< the profile's description
    [[nodiscard]] Rendering rendering() const;
    /// The bare paper, media-absolute: L* about 95 for coated white paper.
    [[nodiscard]] Lab paper() const;

    /// \param rgb  sRGB, 0 to 1
    [[nodiscard]] Cmyk from_rgb(const std::array<float, 3> &rgb) const;
    [[nodiscard]] Cmyk from_lab(const Lab &lab) const;
    /// Media-relative: bare paper is 100/0/0.
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

    /// For prints of many pixels; made when it is first asked for, which takes some tenths of a second.
    [[nodiscard]] const ProcessRoots &roots() const;

private:
    friend class SourceProfile;
    ProcessProfile();
    struct Impl;
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
