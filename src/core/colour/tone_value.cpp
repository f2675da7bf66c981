#include "core/colour/tone_value.h"

#include <array>
#include <cmath>

namespace bichrom {

double murray_davies(double density, double solid, double n)
{
    const double most = 1 - std::pow(10, -solid / n);
    return solid > 0 && most > 0 ? (1 - std::pow(10, -density / n)) / most : 0;
}

double spot_tone_value(const Lab &stock, const Lab &solid, const Lab &tint)
{
    // 116 · f − 16 of X/Xn, Y/Yn and Z/Zn, straight from L*, a* and b*.
    const auto values = [](const Lab &lab) {
        return std::array{lab.l + 0.232 * lab.a, lab.l, lab.l - 0.58 * lab.b};
    };
    const auto from = values(stock), to = values(solid), at = values(tint);
    double whole = 0, part = 0;
    for (std::size_t i = 0; i < from.size(); ++i) {
        whole += (to[i] - from[i]) * (to[i] - from[i]);
        part += (at[i] - from[i]) * (at[i] - from[i]);
    }
    return whole > 0 ? std::sqrt(part / whole) : 0;
}

} // namespace bichrom
