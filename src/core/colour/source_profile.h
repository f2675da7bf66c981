/// \file
/// A profile that came with the artwork, linked to the printing condition.
/// Layer: core/colour. lcms2 stays inside.
#pragma once

#include "core/base/outcome.h"
#include "core/colour/process_profile.h"

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// CIE-based RGB as ISO 32000-1, 8.6.5.3 writes it: white point, gamma and primaries (XYZ columns).
struct CalibratedRgb
{
    std::array<double, 3> white{0.9505, 1.0, 1.089};
    std::array<double, 3> gamma{1, 1, 1};
    std::array<double, 9> matrix{1, 0, 0, 0, 1, 0, 0, 0, 1}; ///< XA YA ZA XB YB ZB XC YC ZC
};

/// The ICC profile of \p colours; empty when its numbers describe no colour space.
[[nodiscard]] std::vector<std::byte> make_profile(const CalibratedRgb &colours);

/// Converts colours of one embedded or assumed profile to process inks, Lab and sRGB,
/// by the destination's intent and black point setting. Immutable; may be used from any thread.
class SourceProfile
{
public:
    enum class Model
    {
        Gray,
        Rgb,
        Process,
        CieLab
    };

    /// \param icc         the profile's bytes; any input, display, output or colour space profile
    /// \param components  the number of channels it must have; 0 takes any
    /// \return WrongFormat when the profile is damaged or of another kind
    [[nodiscard]] static Outcome<std::shared_ptr<const SourceProfile>>
    open(std::span<const std::byte> icc, int components,
         std::shared_ptr<const ProcessProfile> destination = ProcessProfile::fogra39());

    ~SourceProfile();
    SourceProfile(const SourceProfile &) = delete;
    SourceProfile &operator=(const SourceProfile &) = delete;

    [[nodiscard]] Model model() const;
    [[nodiscard]] int components() const; ///< 1, 3 or 4
    /// The profile's own description, as UTF-8; never empty.
    [[nodiscard]] const std::string &name() const;

    /// \param value  components() numbers, 0 to 1 (Lab: L* 0 to 100, a*, b*)
    [[nodiscard]] Cmyk to_cmyk(const float *value) const;
    [[nodiscard]] Lab to_lab(const float *value) const;
    [[nodiscard]] Rgb8 to_rgb(const float *value) const;

    /// Interleaved 8-bit pixels; ink is 0 = bare, 255 = solid.
    void pixels_to_cmyk(const std::uint8_t *from, std::uint8_t *cmyk, std::size_t count) const;
    void pixels_to_rgb(const std::uint8_t *from, std::uint8_t *rgb, std::size_t count) const;

private:
    SourceProfile();
    struct Impl;
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
