#include "support/spectrum.h"

#include <cmath>
#include <complex>
#include <numbers>
#include <vector>

namespace bichrom::test {

namespace {

/// |Σ w(x) w(y) film(x, y) exp(−2πi (fx x + fy y))| with a Hann window.
class FourierSum
{
public:
    FourierSum(const Bitmap &film, int window)
        : m_film(film), m_window(window), m_hann(static_cast<std::size_t>(window))
    {
        for (int i = 0; i < window; ++i) {
            m_hann[static_cast<std::size_t>(i)] =
                0.5 - 0.5 * std::cos(2 * std::numbers::pi * (i + 0.5) / window);
        }
    }
    [[nodiscard]] double operator()(double fx, double fy) const
    {
        std::vector<std::complex<double>> turn(m_hann.size());
        for (std::size_t x = 0; x < turn.size(); ++x) {
            turn[x] = std::polar(m_hann[x], -2 * std::numbers::pi * fx * static_cast<double>(x));
        }
        std::complex<double> total = 0;
        for (int y = 0; y < m_window; ++y) {
            std::complex<double> sum = 0;
            for (int x = 0; x < m_window; ++x) {
                if (m_film.at(x, y)) {
                    sum += turn[static_cast<std::size_t>(x)];
                }
            }
            total += sum * std::polar(m_hann[static_cast<std::size_t>(y)], -2 * std::numbers::pi * fy * y);
        }
        return std::abs(total);
    }

private:
    const Bitmap &m_film;
    int m_window;
    std::vector<double> m_hann;
};

} // namespace

ScreenFound find_screen(const Bitmap &film, double dpi, double lpi, double angle, int window)
{
    const FourierSum sum(film, window);
    const auto at = [&](double l, double a) {
        const double r = a * std::numbers::pi / 180.0;
        return sum(l / dpi * std::cos(r), -l / dpi * std::sin(r)); // y runs down
    };
    double best_l = lpi, best_a = angle, best = -1;
    double step_l = lpi * 0.02, step_a = 1.0;
    for (int i = -4; i <= 4; ++i) {
        for (int k = -4; k <= 4; ++k) {
            const double value = at(lpi + i * step_l, angle + k * step_a);
            if (value > best) {
                best = value;
                best_l = lpi + i * step_l;
                best_a = angle + k * step_a;
            }
        }
    }
    for (int round = 0; round < 9; ++round) {
        step_l /= 2;
        step_a /= 2;
        const double l0 = best_l, a0 = best_a;
        for (int i = -1; i <= 1; ++i) {
            for (int k = -1; k <= 1; ++k) {
                const double value = at(l0 + i * step_l, a0 + k * step_a);
                if (value > best) {
                    best = value;
                    best_l = l0 + i * step_l;
                    best_a = a0 + k * step_a;
                }
            }
        }
    }
    return {best_l, best_a};
}

} // namespace bichrom::test
