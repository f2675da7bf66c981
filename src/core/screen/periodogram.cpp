#include "core/screen/periodogram.h"

#include <unsupported/Eigen/FFT>

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <numbers>

namespace bichrom {

namespace {

double blackman_harris(double t)
{
    constexpr std::array terms = {0.35875, -0.48829, 0.14128, -0.01168};
    double value = 0;
    for (std::size_t i = 0; i < terms.size(); ++i) {
        value += terms[i] * std::cos(2 * std::numbers::pi * static_cast<double>(i) * t);
    }
    return value;
}

template <class Vector> auto &at(Vector &values, int i)
{
    return values[static_cast<std::size_t>(i)];
}

} // namespace

Periodogram::Periodogram(int side, const std::function<float(int x, int y)> &value) : m_side(side)
{
    std::vector<float> window;
    double sum = 0;
    for (int i = 0; i < side; ++i) {
        window.push_back(static_cast<float>(blackman_harris((i + 0.5) / side)));
        sum += static_cast<double>(window.back());
    }
    double ink = 0;
    for (int y = 0; y < side; ++y) {
        double row = 0;
        for (int x = 0; x < side; ++x) {
            row += static_cast<double>(value(x, y) * at(window, x));
        }
        ink += row * static_cast<double>(at(window, y));
    }
    const auto mean = static_cast<float>(ink / (sum * sum));
    Eigen::FFT<float> fft;
    const auto count = static_cast<std::size_t>(side);
    std::vector<std::complex<float>> plane(count * count), line(count), out(count);
    for (int y = 0; y < side; ++y) {
        for (int x = 0; x < side; ++x) {
            at(line, x) = (value(x, y) - mean) * at(window, x) * at(window, y);
        }
        fft.fwd(out.data(), line.data(), side);
        std::copy(out.begin(), out.end(), plane.begin() + static_cast<std::ptrdiff_t>(count) * y);
    }
    m_amplitude.resize(count * count);
    for (int x = 0; x < side; ++x) {
        for (int y = 0; y < side; ++y) {
            at(line, y) = plane[static_cast<std::size_t>(y) * count + static_cast<std::size_t>(x)];
        }
        fft.fwd(out.data(), line.data(), side);
        for (int y = 0; y < side; ++y) {
            m_amplitude[static_cast<std::size_t>(y) * count + static_cast<std::size_t>(x)] =
                std::abs(at(out, y)) / static_cast<float>(sum * sum);
        }
    }
}

double Periodogram::near(double u, double v) const
{
    double most = 0;
    for (int y = -2; y <= 2; ++y) {
        for (int x = -2; x <= 2; ++x) {
            most = std::max(
                most, amplitude(static_cast<int>(std::lround(u)) + x, static_cast<int>(std::lround(v)) + y));
        }
    }
    return most;
}

double Peak::frequency() const
{
    return std::hypot(u, v);
}

bool Peak::lines() const
{
    return beside < 0.2 * amplitude;
}

double Peak::angle() const
{
    // Rows run down; lines run across the direction in which they repeat.
    const double towards = std::atan2(-v, u) * 180 / std::numbers::pi;
    const double turn = lines() ? 180 : 90, along = lines() ? towards + 90 : towards;
    const double angle = along - std::floor(along / turn) * turn;
    return turn - angle < 1e-3 ? 0 : angle;
}

namespace {

/// The top of the parabola through three logarithms, from −½ to ½.
double top_of(double before, double at, double after)
{
    const double a = std::log(std::max(before, 1e-12)), b = std::log(std::max(at, 1e-12)),
                 c = std::log(std::max(after, 1e-12));
    const double bend = a - 2 * b + c;
    return bend < 0 ? std::clamp((a - c) / (2 * bend), -0.5, 0.5) : 0;
}

} // namespace

std::vector<Peak> find_peaks(const Periodogram &periodogram, double least, Dpi resolution)
{
    constexpr double coarsest = 8; // lpi: what repeats more coarsely is art, not a screen
    constexpr std::size_t most_peaks = 24;
    const double fewest_periods = std::max(6.0, coarsest / resolution.value * periodogram.side());
    const int half = static_cast<int>(0.45 * periodogram.side());
    std::vector<Peak> peaks;
    for (int v = -half; v <= half; ++v) {
        for (int u = 0; u <= half; ++u) {
            const double here = periodogram.amplitude(u, v);
            if (here < least || std::hypot(u, v) < fewest_periods || (u == 0 && v < 0)) {
                continue;
            }
            bool top = true;
            for (int y = -1; y <= 1 && top; ++y) {
                for (int x = -1; x <= 1 && top; ++x) {
                    const double beside = periodogram.amplitude(u + x, v + y);
                    top = beside < here || (beside == here && (y > 0 || (y == 0 && x >= 0)));
                }
            }
            // What repeats evenly is a peak that stands alone; edges of art are broad.
            for (int i = 0; i < 16 && top; ++i) {
                const double turn = 2 * std::numbers::pi * i / 16, away = 8;
                top = periodogram.amplitude(u + static_cast<int>(std::lround(away * std::cos(turn))),
                                            v + static_cast<int>(std::lround(away * std::sin(turn)))) <
                      0.4 * here;
            }
            if (top) {
                const double du =
                    top_of(periodogram.amplitude(u - 1, v), here, periodogram.amplitude(u + 1, v));
                const double dv =
                    top_of(periodogram.amplitude(u, v - 1), here, periodogram.amplitude(u, v + 1));
                peaks.push_back({u + du, v + dv, here, periodogram.near(-(v + dv), u + du)});
            }
        }
    }
    std::sort(peaks.begin(), peaks.end(),
              [](const Peak &a, const Peak &b) { return a.amplitude > b.amplitude; });
    if (peaks.size() > most_peaks) {
        peaks.resize(most_peaks);
    }
    return peaks;
}

} // namespace bichrom
