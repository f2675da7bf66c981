#include "core/colour/ink_traits.h"

#include "core/colour/spaces.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

InkTraits usual_traits(InkUse use)
{
    InkTraits traits;
    switch (use) {
    case InkUse::White:
        traits.opacity = 0.9;
        break;
    case InkUse::Metallic:
    case InkUse::Foil:
        traits.opacity = 1;
        break;
    case InkUse::Spot:
    case InkUse::Process:
    case InkUse::Varnish:
    case InkUse::Technical:
        break;
    }
    return traits;
}

double scattering_of(double opacity)
{
    constexpr double full = 1.5;
    constexpr double power = 2.0995; // gives 0.35 at one half
    return full * std::pow(std::clamp(opacity, 0.0, 1.0), power);
}

bool is_black(const Lab &solid)
{
    return solid.l < 30 && std::hypot(solid.a, solid.b) < 12;
}

double neutral_density(const Lab &solid, const InkTraits &traits)
{
    return traits.density ? *traits.density : -std::log10(std::max(1e-6, lab_to_xyz(solid)[1]));
}

} // namespace bichrom
