#include "core/screen/art_period.h"

#include "core/screen/periodogram.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr Dpi looked_at(300);
constexpr int side = 512;
constexpr double least_amplitude = 0.02;                   // what is less is not seen as a beat
constexpr std::size_t most_squares = 16, most_periods = 4; // of a plate

struct Square
{
    int x = 0, y = 0;
    double mean = 0, variance = 0; ///< of tones, 0 to 1
};

/// The squares in which the tones differ, most first.
std::vector<Square> lively_squares(const Plane &plane)
{
    std::vector<Square> squares;
    for (int y = 0; y + side <= plane.height; y += side) {
        for (int x = 0; x + side <= plane.width; x += side) {
            double sum = 0, of_squares = 0;
            for (int row = y; row < y + side; ++row) {
                for (const std::uint8_t tone : plane.row(row).subspan(static_cast<std::size_t>(x), side)) {
                    sum += tone;
                    of_squares += tone * tone;
                }
            }
            constexpr double count = double(side) * side;
            const double mean = sum / count / 255;
            const double variance = of_squares / count / (255.0 * 255) - mean * mean;
            if (variance > 2 * least_amplitude * least_amplitude) {
                squares.push_back({x, y, mean, variance});
            }
        }
    }
    std::stable_sort(squares.begin(), squares.end(),
                     [](const Square &a, const Square &b) { return a.variance > b.variance; });
    squares.resize(std::min(squares.size(), most_squares));
    return squares;
}

/// Pages smaller than a square are set on bare stock of one.
Plane at_least_a_square(const Plane &plane)
{
    Plane made(std::max(plane.width, side), std::max(plane.height, side));
    for (int y = 0; y < plane.height; ++y) {
        std::copy(plane.row(y).begin(), plane.row(y).end(), made.row(y).begin());
    }
    return made;
}

bool alike(const Lattice &a, const Lattice &b)
{
    const double turn = a.lines || b.lines ? 180 : 90;
    const double apart = std::fabs(std::remainder(a.angle - b.angle, turn));
    return std::fabs(a.ruling / b.ruling - 1) < 0.02 && apart < 2;
}

} // namespace

Outcome<std::vector<ArtPeriod>> find_art_periods(const PlateLine &line, const JobControl &control)
{
    const auto page = line.whole_page(looked_at, Edges::Smooth, control);
    if (!page) {
        return page.error();
    }
    std::vector<ArtPeriod> all;
    for (std::size_t plate = 0; plate < page->plates.size(); ++plate) {
        const Plane plane = at_least_a_square(page->plates[plate]);
        std::vector<ArtPeriod> found;
        for (const Square &square : lively_squares(plane)) {
            if (control.cancelled()) {
                return Error{ErrorCode::Cancelled, "Stopped.", line.page().place(), {}};
            }
            const Periodogram periodogram(side, [&](int x, int y) {
                return static_cast<float>(plane.at(square.x + x, square.y + y)) / 255.0F;
            });
            const auto peaks = find_peaks(periodogram, least_amplitude, looked_at);
            if (peaks.empty()) {
                continue;
            }
            const Peak &peak = peaks.front();
            ArtPeriod one;
            one.plate = plate;
            one.lattice.lines = peak.lines();
            one.lattice.ruling = peak.frequency() / side * looked_at.value;
            one.lattice.angle = peak.angle();
            one.lattice.swing = peak.amplitude;
            one.tone = square.mean;
            constexpr double mm = millimetres_per_inch / looked_at.value;
            one.x = (square.x + side / 2.0) * mm;
            one.y = (square.y + side / 2.0) * mm;
            const auto same = std::find_if(found.begin(), found.end(), [&](const ArtPeriod &known) {
                return alike(known.lattice, one.lattice);
            });
            if (same == found.end()) {
                found.push_back(one);
            } else if (same->lattice.swing < one.lattice.swing) {
                *same = one;
            }
        }
        std::stable_sort(found.begin(), found.end(), [](const ArtPeriod &a, const ArtPeriod &b) {
            return a.lattice.swing > b.lattice.swing;
        });
        found.resize(std::min(found.size(), most_periods));
        all.insert(all.end(), found.begin(), found.end());
    }
    return all;
}

} // namespace bichrom
