#include "core/proof/change_look.h"

#include "core/colour/colour_difference.h"
#include "core/colour/srgb.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace bichrom {

namespace {

const std::array<double, 256> &linear_values()
{
    static const std::array<double, 256> table = [] {
        std::array<double, 256> made{};
        for (std::size_t i = 0; i < made.size(); ++i) {
            made[i] = srgb_to_linear(static_cast<double>(i) / 255.0);
        }
        return made;
    }();
    return table;
}

/// sRGB as Lab, D50 (Bradford; the matrix of the sRGB profile, from memory, checked against lcms2 in the
/// tests).
Lab lab_of(std::uint32_t pixel)
{
    const auto &linear = linear_values();
    const double r = linear[pixel >> 16 & 0xFF];
    const double g = linear[pixel >> 8 & 0xFF];
    const double b = linear[pixel & 0xFF];
    const auto f = [](double t) {
        return t > 216.0 / 24389.0 ? std::cbrt(t) : (24389.0 / 27.0 * t + 16.0) / 116.0; // CIE 15
    };
    const double x = f((0.4360747 * r + 0.3850649 * g + 0.1430804 * b) / 0.9642);
    const double y = f(0.2225045 * r + 0.7168786 * g + 0.0606169 * b);
    const double z = f((0.0139322 * r + 0.0971045 * g + 0.7141733 * b) / 0.8249);
    return {116.0 * y - 16.0, 500.0 * (x - y), 200.0 * (y - z)};
}

} // namespace

std::vector<std::uint8_t> difference_map(std::span<const std::uint32_t> a, std::span<const std::uint32_t> b)
{
    std::vector<std::uint8_t> map(std::min(a.size(), b.size()));
    std::uint32_t last_a = 0;
    std::uint32_t last_b = 0;
    std::uint8_t last = 0;
    for (std::size_t i = 0; i < map.size(); ++i) {
        if (a[i] != last_a || b[i] != last_b) { // flat artwork repeats itself
            last_a = a[i];
            last_b = b[i];
            last = last_a == last_b
                       ? std::uint8_t(0)
                       : static_cast<std::uint8_t>(std::lround(
                             std::min(1.0, ciede2000(lab_of(last_a), lab_of(last_b)) / darkest_difference) *
                             255.0));
        }
        map[i] = last;
    }
    return map;
}

} // namespace bichrom
