/// \file
/// A piece of two screens on each other, as it prints.
/// Layer: core/screen. May use core/colour, core/job.
#pragma once

#include "core/base/outcome.h"
#include "core/colour/process_profile.h"
#include "core/screen/moire.h"

#include <array>
#include <cstdint>
#include <optional>
#include <vector>

namespace bichrom {

/// Two tints that meet; or one and the mesh; or one and artwork that repeats on it, or on another ink.
struct BeatTask
{
    Screen first;
    double first_tone = 0.4;
    std::optional<Screen> second{};
    double second_tone = 0.4;
    std::optional<Lattice> other{};   ///< instead of a second screen: the mesh, or artwork of its swing
    std::optional<double> art_tone{}; ///< mean tone of the second ink, where artwork repeats on that: 0 to 1
    Dpi resolution{1200};             ///< of the films
    /// Bare stock, the first ink, the second, both; the second counts where it has a screen or artwork.
    std::array<Rgb8, 4> looks{};
};

struct BeatPatch
{
    int width = 0, height = 0;
    std::vector<std::uint32_t> pixels; ///< 0xFFRRGGBB, rows without padding
};

/// \param width, height  pixels, 1 to 4096
/// \param wide_mm        what they show across, more than 0 and at most 1000 mm; the films' own dots are
/// counted under
///                       each pixel
/// \return OutOfRange, also of screens that cannot be made at that resolution
[[nodiscard]] Outcome<BeatPatch> beat_patch(const BeatTask &task, int width, int height, double wide_mm);

} // namespace bichrom
