#include "core/colour/bands.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr std::size_t samples = 36; // 380 to 730 nm in steps of 10

// CIE 1931 standard observer, 2°, and CIE illuminant D50 (CIE 15), every 10 nm; values from memory.
constexpr std::array<std::array<double, 3>, samples> observer = {{
    {0.001368, 0.000039, 0.006450}, {0.004243, 0.000120, 0.020050}, {0.014310, 0.000396, 0.067850},
    {0.043510, 0.001210, 0.207400}, {0.134380, 0.004000, 0.645600}, {0.283900, 0.011600, 1.385600},
    {0.348280, 0.023000, 1.747060}, {0.336200, 0.038000, 1.772110}, {0.290800, 0.060000, 1.669200},
    {0.195360, 0.090980, 1.287640}, {0.095640, 0.139020, 0.812950}, {0.032010, 0.208020, 0.465180},
    {0.004900, 0.323000, 0.272000}, {0.009300, 0.503000, 0.158200}, {0.063270, 0.710000, 0.078250},
    {0.165500, 0.862000, 0.042160}, {0.290400, 0.954000, 0.020300}, {0.433450, 0.994950, 0.008750},
    {0.594500, 0.995000, 0.003900}, {0.762100, 0.952000, 0.002100}, {0.916300, 0.870000, 0.001650},
    {1.026300, 0.757000, 0.001100}, {1.062200, 0.631000, 0.000800}, {1.002600, 0.503000, 0.000340},
    {0.854450, 0.381000, 0.000190}, {0.642400, 0.265000, 0.000050}, {0.447900, 0.175000, 0.000020},
    {0.283500, 0.107000, 0.000000}, {0.164900, 0.061000, 0.000000}, {0.087400, 0.032000, 0.000000},
    {0.046770, 0.017000, 0.000000}, {0.022700, 0.008210, 0.000000}, {0.011359, 0.004102, 0.000000},
    {0.005790, 0.002091, 0.000000}, {0.002899, 0.001047, 0.000000}, {0.001440, 0.000520, 0.000000},
}};
constexpr std::array<double, samples> d50 = {
    24.488, 29.871, 49.308, 56.513,  60.034,  57.818,  74.825,  87.247, 90.612, 91.368, 95.109, 91.963,
    95.724, 96.613, 97.129, 102.099, 100.755, 102.317, 100.000, 97.735, 98.918, 93.499, 97.688, 99.269,
    99.042, 95.722, 98.857, 95.667,  98.190,  103.003, 99.133,  87.381, 91.604, 92.889, 76.854, 86.511};

/// The first sample of each band, and the end.
constexpr std::array<std::size_t, band_count + 1> band_starts = {0, 6, 9, 12, 16, 19, 22, 26, samples};

} // namespace

const std::array<Xyz, band_count> &band_weights()
{
    static const std::array<Xyz, band_count> weights = [] {
        std::array<Xyz, band_count> made{};
        Xyz sum{};
        for (std::size_t band = 0; band < band_count; ++band) {
            for (std::size_t s = band_starts[band]; s < band_starts[band + 1]; ++s) {
                for (std::size_t c = 0; c < 3; ++c) {
                    made[band][c] += observer[s][c] * d50[s];
                    sum[c] += observer[s][c] * d50[s];
                }
            }
        }
        for (Xyz &weight : made) { // to the white of the profile connection space exactly
            for (std::size_t c = 0; c < 3; ++c) {
                weight[c] *= d50_white[c] / sum[c];
            }
        }
        return made;
    }();
    return weights;
}

Xyz bands_to_xyz(const Bands &bands)
{
    Xyz xyz{};
    for (std::size_t band = 0; band < band_count; ++band) {
        for (std::size_t c = 0; c < 3; ++c) {
            xyz[c] += bands[band] * band_weights()[band][c];
        }
    }
    return xyz;
}

Lab bands_to_lab(const Bands &bands)
{
    return xyz_to_lab(bands_to_xyz(bands));
}

Lab bands_to_lab(const Bands &bands, std::array<Lab, band_count> &slopes)
{
    std::array<double, 3> by{};
    const std::array<double, 3> f = lab_functions(bands_to_xyz(bands), &by);
    for (std::size_t k = 0; k < band_count; ++k) {
        const Xyz &weight = band_weights()[k];
        const double x = by[0] * weight[0], y = by[1] * weight[1], z = by[2] * weight[2];
        slopes[k] = {116.0 * y, 500.0 * (x - y), 200.0 * (y - z)};
    }
    return {116.0 * f[1] - 16.0, 500.0 * (f[0] - f[1]), 200.0 * (f[1] - f[2])};
}

Reconstruction reconstruct(const Lab &lab)
{
    // Least squared slope of z under T ρ = XYZ with ρ = (tanh z + 1) / 2, by Newton's method on z and the
    // multipliers.
    constexpr int n = static_cast<int>(band_count);
    using Vector = Eigen::Matrix<double, n, 1>;
    using System = Eigen::Matrix<double, n + 3, n + 3>;
    Eigen::Matrix<double, n, n> slope = Eigen::Matrix<double, n, n>::Zero();
    for (int i = 0; i + 1 < n; ++i) {
        slope(i, i) += 2;
        slope(i + 1, i + 1) += 2;
        slope(i, i + 1) -= 2;
        slope(i + 1, i) -= 2;
    }
    Eigen::Matrix<double, 3, n> weights;
    for (int i = 0; i < n; ++i) {
        for (int c = 0; c < 3; ++c) {
            weights(c, i) = band_weights()[static_cast<std::size_t>(i)][static_cast<std::size_t>(c)];
        }
    }
    const Xyz wanted = lab_to_xyz(lab);
    const Eigen::Vector3d target(wanted[0], wanted[1], wanted[2]);
    const double y = std::clamp(wanted[1], 0.001, 0.999);
    Vector z = Vector::Constant(std::atanh(2.0 * y - 1.0));
    Eigen::Vector3d multipliers = Eigen::Vector3d::Zero();
    Reconstruction result;
    result.exact = false;
    double nearest = 1e9;
    for (int round = 0; round < 100; ++round) {
        const Vector tanh = z.array().tanh();
        const Vector rho = (tanh.array() + 1.0) / 2.0;
        const Eigen::Vector3d error = weights * rho - target;
        if (error.norm() < nearest) {
            nearest = error.norm();
            for (int i = 0; i < n; ++i) {
                result.bands[static_cast<std::size_t>(i)] = rho(i);
            }
        }
        const Vector sech2 = 1.0 - tanh.array().square();
        const Vector pull = weights.transpose() * multipliers;
        Eigen::Matrix<double, n + 3, 1> residual;
        residual.head<n>() = slope * z + (sech2.array() / 2.0 * pull.array()).matrix();
        residual.tail<3>() = error;
        if (residual.norm() < 1e-10) {
            result.exact = true;
            break;
        }
        System system = System::Zero();
        system.topLeftCorner<n, n>() = slope;
        system.topLeftCorner<n, n>().diagonal() -= (sech2.array() * tanh.array() * pull.array()).matrix();
        system.topRightCorner<n, 3>() = (sech2 / 2.0).asDiagonal() * weights.transpose();
        system.bottomLeftCorner<3, n>() = weights * (sech2 / 2.0).asDiagonal();
        const Eigen::Matrix<double, n + 3, 1> step = system.partialPivLu().solve(-residual);
        if (!step.allFinite()) {
            break;
        }
        // Full steps throw dark and saturated colours off; so does a z where tanh has no slope left.
        const double longest = step.head<n>().cwiseAbs().maxCoeff();
        const double share = longest > 1.0 ? 1.0 / longest : 1.0;
        z = (z + share * step.head<n>()).cwiseMax(-8.0).cwiseMin(8.0);
        multipliers += share * step.tail<3>();
    }
    result.exact = result.exact || nearest < 1e-6;
    return result;
}

Bands bands_of(const Spectrum &measured, const Lab &lab)
{
    static constexpr std::array<int, band_count> first = {380, 440, 470, 500, 540, 570, 600, 640};
    Bands means{};
    for (std::size_t k = 0; k < band_count; ++k) {
        const int end =
            k + 1 < band_count ? first[k + 1] : spectrum_start + spectrum_step * int(measured.size());
        for (int nm = first[k]; nm < end; nm += spectrum_step) {
            means[k] += measured[static_cast<std::size_t>((nm - spectrum_start) / spectrum_step)] *
                        spectrum_step / (end - first[k]);
        }
    }
    // The difference of two reflectances of one colour has no colour: added to a third, it keeps that one's.
    const Bands smooth = reconstruct(bands_to_lab(means)).bands;
    Bands bands = reconstruct(lab).bands;
    for (std::size_t k = 0; k < band_count; ++k) {
        bands[k] = std::max(0.0, bands[k] + means[k] - smooth[k]);
    }
    return bands;
}

} // namespace bichrom
