/// \file
/// What is known of an ink besides its name and colour, in a book or on a plate.
/// Layer: core/colour.
#pragma once

#include "core/colour/bands.h"
#include "core/colour/ink_use.h"
#include "core/colour/process_profile.h"
#include "core/colour/tone_curve.h"

#include <array>
#include <optional>

namespace bichrom {

struct InkTraits
{
    double opacity = 0;                  ///< 0 = transparent, 0.5 = half, 1 = covers
    std::optional<Spectrum> reflectance; ///< measured, of the solid
    ToneCurve gain;                      ///< from the tone of the plate to the coverage in print
    std::optional<Lab> shown_as;         ///< stands in for the ink's colour on the screen only
    std::optional<double> density;       ///< neutral density, when it is not that of its colour
    friend bool operator==(const InkTraits &, const InkTraits &) = default;
};

/// Traits a new ink of that use has: white covers nearly, metal and foil wholly.
[[nodiscard]] InkTraits usual_traits(InkUse use);

/// What the ink's opacity means as scattering of its film (see ink_film.h): 0.35 at one half, 1.5 at 1,
/// rising smoothly between.
[[nodiscard]] double scattering_of(double opacity);

/// As dark and as neutral as process black looks in print (common practice, no source).
[[nodiscard]] bool is_black(const Lab &solid);

/// Visual density: −log10 of Y (0 for the perfect white), or what \p traits say instead.
[[nodiscard]] double neutral_density(const Lab &solid, const InkTraits &traits);

} // namespace bichrom
