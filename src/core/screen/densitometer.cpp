#include "core/screen/densitometer.h"

#include "core/screen/periodogram.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
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
    const int side = static_cast<int>(std::bit_floor(static_cast<unsigned>(shorter)));
    const int left = (film.width - side) / 2, top = (film.height - side) / 2;
    const Periodogram periodogram(side,
                                  [&](int x, int y) { return film.at(left + x, top + y) ? 1.0F : 0.0F; });
    const std::vector<Peak> peaks = find_peaks(periodogram, 0.2 * rarer, resolution);
    // A lattice is as strong a quarter turn on; of what is about as strong the coarsest is the ruling itself.
    struct Candidate
    {
        Peak peak;
        double score = 0;
    };
    std::vector<Candidate> candidates;
    double best = 0;
    for (const Peak &peak : peaks) {
        candidates.push_back({peak, std::hypot(peak.amplitude, peak.beside)});
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
    const bool lines = found->peak.lines();
    reading.kind = lines ? DotKind::Lines : DotKind::Dots;
    reading.lpi = found->peak.frequency() / periodogram.side() * resolution.value;
    reading.angle = found->peak.angle();
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
