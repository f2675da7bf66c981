#include "core/screen/densitometer.h"

#include <unsupported/Eigen/FFT>

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <complex>
#include <numbers>
#include <vector>

namespace bichrom {

namespace {

constexpr int largest_window = 2048, smallest_window = 64;

/// The part of \p film that is \p area, to whole pixels.
Bitmap part_of(const Bitmap &film, const PixelRect &area)
{
    Bitmap part(area.width, area.height);
    for (int y = 0; y < area.height; ++y) {
        for (int x = 0; x < area.width; ++x) {
            if (film.at(area.x + x, area.y + y)) {
                part.row(y)[x / 8] = static_cast<std::uint8_t>(part.row(y)[x / 8] | (0x80 >> (x % 8)));
            }
        }
    }
    return part;
}

/// The four-term window of Blackman and Harris (F. J. Harris, Proc. IEEE 66, 1978).
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

/// Amplitudes of the frequencies in a square of film, as shares of full ink.
class Spectrum
{
public:
    explicit Spectrum(const Bitmap &film, int side) : m_side(side)
    {
        const int left = (film.width - side) / 2, top = (film.height - side) / 2;
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
                row += film.at(left + x, top + y) ? static_cast<double>(at(window, x)) : 0.0;
            }
            ink += row * static_cast<double>(at(window, y));
        }
        const auto mean = static_cast<float>(ink / (sum * sum));
        Eigen::FFT<float> fft;
        const auto count = static_cast<std::size_t>(side);
        std::vector<std::complex<float>> plane(count * count), line(count), out(count);
        for (int y = 0; y < side; ++y) {
            for (int x = 0; x < side; ++x) {
                const float value = (film.at(left + x, top + y) ? 1.0F : 0.0F) - mean;
                at(line, x) = value * at(window, x) * at(window, y);
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

    [[nodiscard]] int side() const { return m_side; }
    /// At a frequency in periods a window, of either sign.
    [[nodiscard]] double amplitude(int u, int v) const
    {
        const auto wrap = [&](int i) { return static_cast<std::size_t>((i % m_side + m_side) % m_side); };
        return static_cast<double>(m_amplitude[wrap(v) * static_cast<std::size_t>(m_side) + wrap(u)]);
    }

private:
    int m_side;
    std::vector<float> m_amplitude;
};

struct Peak
{
    double u = 0, v = 0; ///< periods a window
    double amplitude = 0;
    [[nodiscard]] double frequency() const { return std::hypot(u, v); }
};

/// The top of the parabola through three logarithms, from −½ to ½.
double top_of(double before, double at, double after)
{
    const double a = std::log(std::max(before, 1e-12)), b = std::log(std::max(at, 1e-12)),
                 c = std::log(std::max(after, 1e-12));
    const double bend = a - 2 * b + c;
    return bend < 0 ? std::clamp((a - c) / (2 * bend), -0.5, 0.5) : 0;
}

/// The strongest peaks in the half plane that may be of a screen, strongest first.
std::vector<Peak> find_peaks(const Spectrum &spectrum, double least, Dpi resolution)
{
    constexpr double coarsest = 8; // lpi: what repeats more coarsely is art, not a screen
    constexpr std::size_t most_peaks = 24;
    const double fewest_periods = std::max(6.0, coarsest / resolution.value * spectrum.side());
    const int half = static_cast<int>(0.45 * spectrum.side());
    std::vector<Peak> peaks;
    for (int v = -half; v <= half; ++v) {
        for (int u = 0; u <= half; ++u) {
            const double here = spectrum.amplitude(u, v);
            if (here < least || std::hypot(u, v) < fewest_periods || (u == 0 && v < 0)) {
                continue;
            }
            bool top = true;
            for (int y = -1; y <= 1 && top; ++y) {
                for (int x = -1; x <= 1 && top; ++x) {
                    const double beside = spectrum.amplitude(u + x, v + y);
                    top = beside < here || (beside == here && (y > 0 || (y == 0 && x >= 0)));
                }
            }
            // What repeats evenly is a peak that stands alone; edges of art are broad.
            for (int i = 0; i < 16 && top; ++i) {
                const double turn = 2 * std::numbers::pi * i / 16, away = 8;
                top =
                    spectrum.amplitude(u + static_cast<int>(std::lround(away * std::cos(turn))),
                                       v + static_cast<int>(std::lround(away * std::sin(turn)))) < 0.4 * here;
            }
            if (top) {
                const double du = top_of(spectrum.amplitude(u - 1, v), here, spectrum.amplitude(u + 1, v));
                const double dv = top_of(spectrum.amplitude(u, v - 1), here, spectrum.amplitude(u, v + 1));
                peaks.push_back({u + du, v + dv, here});
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

/// The largest amplitude within two steps of a frequency.
double near(const Spectrum &spectrum, double u, double v)
{
    double most = 0;
    for (int y = -2; y <= 2; ++y) {
        for (int x = -2; x <= 2; ++x) {
            most = std::max(most, spectrum.amplitude(static_cast<int>(std::lround(u)) + x,
                                                     static_cast<int>(std::lround(v)) + y));
        }
    }
    return most;
}

/// Mean of the ink, by a window that hardly sees the border.
double weighed_ink(const Bitmap &film)
{
    const auto weights = [](int count) {
        std::vector<double> all;
        for (int i = 0; i < count; ++i) {
            all.push_back(0.5 - 0.5 * std::cos(2 * std::numbers::pi * (i + 0.5) / count));
        }
        return all;
    };
    const std::vector<double> across = weights(film.width), down = weights(film.height);
    double ink = 0, all = 0;
    for (const double weight : across) {
        all += weight;
    }
    double total = 0;
    for (int y = 0; y < film.height; ++y) {
        double row = 0;
        for (int x = 0; x < film.width; ++x) {
            row += film.at(x, y) ? across[static_cast<std::size_t>(x)] : 0.0;
        }
        ink += row * down[static_cast<std::size_t>(y)];
        total += all * down[static_cast<std::size_t>(y)];
    }
    return total > 0 ? ink / total : 0;
}

/// The length in pixels that half of the runs of the rarer of ink and bare film are longer than.
double median_run(const Bitmap &film, bool of_ink)
{
    std::vector<int> lengths;
    for (int y = 0; y < film.height; y += std::max(1, film.height / 500)) {
        int length = 0;
        bool from_border = true;
        for (int x = 0; x < film.width; ++x) {
            if (film.at(x, y) == of_ink) {
                ++length;
            } else {
                if (length > 0 && !from_border) {
                    lengths.push_back(length);
                }
                length = 0;
                from_border = false;
            }
        }
    }
    if (lengths.empty()) {
        return 0;
    }
    const auto middle = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 2);
    std::nth_element(lengths.begin(), middle, lengths.end());
    return *middle;
}

struct Ruled
{
    DotReading reading;
    double clear = 0; ///< how clearly a ruling stands out
};

Ruled read_ruled(const Bitmap &film, Dpi resolution)
{
    Ruled made;
    DotReading &reading = made.reading;
    reading.coverage = weighed_ink(film);
    const double rarer = std::min(reading.coverage, 1 - reading.coverage);
    if (rarer < 1e-6) {
        reading.kind = reading.coverage < 0.5 ? DotKind::Bare : DotKind::Solid;
        return made;
    }
    const double pixel_um = millimetres_per_inch * 1000 / resolution.value;
    reading.kind = DotKind::Scattered;
    reading.dot_um = median_run(film, reading.coverage <= 0.5) * pixel_um;
    const int shorter = std::min({film.width, film.height, largest_window});
    if (shorter < smallest_window) {
        return made;
    }
    const Spectrum spectrum(film, static_cast<int>(std::bit_floor(static_cast<unsigned>(shorter))));
    const std::vector<Peak> peaks = find_peaks(spectrum, 0.2 * rarer, resolution);
    // A lattice is as strong a quarter turn on; of what is about as strong the coarsest is the ruling itself.
    struct Candidate
    {
        Peak peak;
        double beside = 0, score = 0;
    };
    std::vector<Candidate> candidates;
    double best = 0;
    for (const Peak &peak : peaks) {
        const double beside = near(spectrum, -peak.v, peak.u);
        candidates.push_back({peak, beside, std::hypot(peak.amplitude, beside)});
        best = std::max(best, candidates.back().score);
    }
    std::erase_if(candidates, [&](const Candidate &one) { return one.score < 0.7 * best; });
    const auto found =
        std::min_element(candidates.begin(), candidates.end(), [](const Candidate &a, const Candidate &b) {
            return a.peak.frequency() < b.peak.frequency();
        });
    if (found == candidates.end()) {
        return made;
    }
    const bool lines = found->beside < 0.2 * found->peak.amplitude;
    reading.kind = lines ? DotKind::Lines : DotKind::Dots;
    reading.lpi = found->peak.frequency() / spectrum.side() * resolution.value;
    // Rows run down; lines run across the direction in which they repeat.
    const double towards = std::atan2(-found->peak.v, found->peak.u) * 180 / std::numbers::pi;
    const double turn = lines ? 180 : 90;
    const double angle = lines ? towards + 90 : towards;
    reading.angle = angle - std::floor(angle / turn) * turn;
    reading.angle = turn - reading.angle < 1e-3 ? 0 : reading.angle;
    const double period_um = millimetres_per_inch * 1000 / reading.lpi;
    reading.dot_um = lines ? rarer * period_um : 2 * std::sqrt(rarer / std::numbers::pi) * period_um;
    made.clear = found->score / rarer;
    return made;
}

} // namespace

const char *to_string(DotKind kind)
{
    static constexpr const char *names[] = {"bare", "solid", "dots", "lines", "scattered"};
    return names[static_cast<std::size_t>(kind)];
}

DotReading read_dots(const Bitmap &film, Dpi resolution)
{
    return film.width > 0 && film.height > 0 ? read_ruled(film, resolution).reading : DotReading();
}

DotReading read_film_dots(const FilmImage &film)
{
    const Bitmap &bits = film.bits;
    constexpr int side = 512, places = 7;
    if (bits.width < 2 * side || bits.height < 2 * side) {
        return read_dots(bits, film.resolution);
    }
    Ruled best;
    bool any = false;
    for (int j = 0; j < places; ++j) {
        for (int i = 0; i < places; ++i) {
            const PixelRect area{(bits.width - side) * i / (places - 1),
                                 (bits.height - side) * j / (places - 1), side, side};
            Ruled one = read_ruled(part_of(bits, area), film.resolution);
            // Text and edges have rulings too, but weak ones; tints between lights and shadows are clearest.
            const double rarer = std::min(one.reading.coverage, 1 - one.reading.coverage);
            one.clear *= rarer > 0.03 ? 1 : 0.1;
            if (!any || one.clear > best.clear ||
                (one.clear == best.clear &&
                 rarer > std::min(best.reading.coverage, 1 - best.reading.coverage))) {
                best = one;
                any = true;
            }
        }
    }
    // A tint's own ruling has at least that much of the contrast its ink allows; art that happens to repeat
    // less.
    constexpr double least_clear = 0.45;
    if (best.reading.lpi > 0 && best.clear < least_clear) {
        best.reading.lpi = best.reading.angle = 0;
        best.reading.kind = DotKind::Scattered;
    }
    std::int64_t ink = 0;
    for (const std::uint8_t byte : bits.bytes) {
        ink += std::popcount(byte);
    }
    best.reading.coverage = static_cast<double>(ink) / (static_cast<double>(bits.width) * bits.height);
    return best.reading;
}

} // namespace bichrom
