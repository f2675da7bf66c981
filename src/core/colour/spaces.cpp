#include "core/colour/spaces.h"

#include "core/colour/srgb.h"

#include <cmath>

namespace bichrom {

namespace {

constexpr double lab_knee = 216.0 / 24389.0; // CIE 15
constexpr double lab_slope = 24389.0 / 27.0;

} // namespace

std::array<double, 3> lab_functions(const Xyz &xyz, std::array<double, 3> *slopes)
{
    std::array<double, 3> f{};
    for (std::size_t i = 0; i < 3; ++i) {
        const double t = xyz[i] / d50_white[i];
        f[i] = t > lab_knee ? std::cbrt(t) : (lab_slope * t + 16.0) / 116.0;
        if (slopes != nullptr) {
            (*slopes)[i] = (t > lab_knee ? f[i] / (3.0 * t) : lab_slope / 116.0) / d50_white[i];
        }
    }
    return f;
}

Lab xyz_to_lab(const Xyz &xyz)
{
    const std::array<double, 3> f = lab_functions(xyz);
    return {116.0 * f[1] - 16.0, 500.0 * (f[0] - f[1]), 200.0 * (f[1] - f[2])};
}

Xyz lab_to_xyz(const Lab &lab)
{
    const double fy = (lab.l + 16.0) / 116.0;
    const std::array<double, 3> f = {fy + lab.a / 500.0, fy, fy - lab.b / 200.0};
    Xyz xyz{};
    for (std::size_t i = 0; i < 3; ++i) {
        const double cube = f[i] * f[i] * f[i];
        xyz[i] = d50_white[i] * (cube > lab_knee ? cube : (116.0 * f[i] - 16.0) / lab_slope);
    }
    return xyz;
}

Lab srgb_to_lab(const std::array<double, 3> &rgb)
{
    // IEC 61966-2-1, adapted from D65 to D50 by Bradford's transform as in ICC profiles of sRGB.
    constexpr double matrix[3][3] = {{0.4360747, 0.3850649, 0.1430804},
                                     {0.2225045, 0.7168786, 0.0606169},
                                     {0.0139322, 0.0971045, 0.7141733}};
    Xyz xyz{};
    for (std::size_t i = 0; i < 3; ++i) {
        for (std::size_t k = 0; k < 3; ++k) {
            xyz[i] += matrix[i][k] * srgb_to_linear(rgb[k]);
        }
    }
    return xyz_to_lab(xyz);
}

} // namespace bichrom
