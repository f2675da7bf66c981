#include "core/colour/colour_difference.h"

#include <cmath>
#include <numbers>

namespace bichrom {

namespace {

constexpr double radians = std::numbers::pi / 180.0;

double hue_of(double a, double b)
{
    if (a == 0.0 && b == 0.0) {
        return 0.0;
    }
    const double degrees = std::atan2(b, a) / radians;
    return degrees < 0 ? degrees + 360.0 : degrees;
}

} // namespace

double chroma(const Lab &lab)
{
    return std::hypot(lab.a, lab.b);
}

double hue(const Lab &lab)
{
    return hue_of(lab.a, lab.b);
}

// After Sharma, Wu and Dalal, "The CIEDE2000 Color-Difference Formula: Implementation Notes,
// Supplementary Test Data, and Mathematical Observations", Color Research and Application 30 (2005);
// the numbers of its equations stand beside the lines.
double ciede2000(const Lab &one, const Lab &two)
{
    const double c1 = chroma(one), c2 = chroma(two); // 2
    const double mean7 = std::pow((c1 + c2) / 2, 7);
    const double g = 0.5 * (1 - std::sqrt(mean7 / (mean7 + std::pow(25.0, 7)))); // 4
    const double a1 = (1 + g) * one.a, a2 = (1 + g) * two.a;                     // 5
    const double cp1 = std::hypot(a1, one.b), cp2 = std::hypot(a2, two.b);       // 6
    const double h1 = hue_of(a1, one.b), h2 = hue_of(a2, two.b);                 // 7
    const double dl = two.l - one.l, dc = cp2 - cp1;                             // 8, 9
    double turn = 0;                                                             // 10
    if (cp1 * cp2 != 0) {
        turn = h2 - h1;
        turn += turn > 180 ? -360 : turn < -180 ? 360 : 0;
    }
    const double dh = 2 * std::sqrt(cp1 * cp2) * std::sin(turn / 2 * radians); // 11
    const double l = (one.l + two.l) / 2, c = (cp1 + cp2) / 2;                 // 12, 13
    double h = h1 + h2;                                                        // 14
    if (cp1 * cp2 != 0) {
        h = std::abs(h1 - h2) <= 180 ? h / 2 : h < 360 ? (h + 360) / 2 : (h - 360) / 2;
    }
    const double t = 1 - 0.17 * std::cos((h - 30) * radians) + 0.24 * std::cos(2 * h * radians) +
                     0.32 * std::cos((3 * h + 6) * radians) - 0.20 * std::cos((4 * h - 63) * radians); // 15
    const double theta = 30 * std::exp(-std::pow((h - 275) / 25, 2));                                  // 16
    const double c7 = std::pow(c, 7);
    const double rc = 2 * std::sqrt(c7 / (c7 + std::pow(25.0, 7))); // 17
    const double l50 = (l - 50) * (l - 50);
    const double sl = 1 + 0.015 * l50 / std::sqrt(20 + l50); // 18
    const double sc = 1 + 0.045 * c;                         // 19
    const double sh = 1 + 0.015 * c * t;                     // 20
    const double rt = -std::sin(2 * theta * radians) * rc;   // 21
    const double x = dl / sl, y = dc / sc, z = dh / sh;
    return std::sqrt(x * x + y * y + z * z + rt * y * z); // 22
}

} // namespace bichrom
