#include "other_separations.h"

#include "core/colour/bands.h"
#include "core/colour/colour_difference.h"
#include "core/colour/spaces.h"
#include "core/colour/srgb.h"
#include "core/job/print_model.h"
#include "core/separate/choose_inks.h"
#include "core/separate/seen_page.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <numbers>
#include <random>

namespace bichrom::bench {

namespace {

using Light = std::array<double, 3>;

/// What is painted of a picture, as linear light and as colours.
struct Picture
{
    std::vector<Light> light;
    std::vector<Lab> colour;
};

Picture look_at(const OpenedJob &opened)
{
    const auto seen = see_original(opened, 150, {});
    if (!seen) {
        std::fprintf(stderr, "%s\n", seen.error().message().c_str());
        std::exit(1);
    }
    Picture picture;
    for (std::size_t i = 0; i < seen->pixels.size(); ++i) {
        if (!seen->painted[i]) {
            continue;
        }
        const auto part = [&](int shift) { return double(seen->pixels[i] >> shift & 255) / 255; };
        picture.light.push_back({srgb_to_linear(part(16)), srgb_to_linear(part(8)), srgb_to_linear(part(0))});
        picture.colour.push_back(srgb_to_lab({part(16), part(8), part(0)}));
    }
    return picture;
}

double squared(const Light &a, const Light &b)
{
    double sum = 0;
    for (std::size_t k = 0; k < 3; ++k) {
        sum += (a[k] - b[k]) * (a[k] - b[k]);
    }
    return sum;
}

/// Prints \p tones, by plate and pixel, 0 to 1, and compares.
Nearness printed(const Job &job, const Picture &picture, const std::vector<std::vector<double>> &tones)
{
    const PrintStack stack = stack_of(job, job.inks(), *ProcessProfile::fogra39());
    std::vector<double> away;
    std::vector<double> here(tones.size());
    for (std::size_t i = 0; i < picture.colour.size(); ++i) {
        for (std::size_t plate = 0; plate < tones.size(); ++plate) {
            here[plate] = tones[plate][i];
        }
        away.push_back(ciede2000(picture.colour[i], stack.at(here).print()));
    }
    std::sort(away.begin(), away.end());
    const auto at = [&](double share) { return away[std::size_t(share * double(away.size() - 1))]; };
    return {at(0.5), at(0.95)};
}

Light light_of(const Lab &colour)
{
    const Rgb8 rgb = ProcessProfile::fogra39()->lab_to_rgb(colour);
    return {srgb_to_linear(rgb.r / 255.0), srgb_to_linear(rgb.g / 255.0), srgb_to_linear(rgb.b / 255.0)};
}

/// Lloyd's algorithm, begun with pixels that lie far from each other; the same each time.
std::vector<Light> cluster(const std::vector<Light> &pixels, std::size_t count)
{
    std::mt19937 chance(7);
    std::vector<Light> middles = {pixels[chance() % pixels.size()]};
    std::vector<double> nearest(pixels.size(), 1e9);
    while (middles.size() < count) {
        double sum = 0;
        for (std::size_t i = 0; i < pixels.size(); ++i) {
            nearest[i] = std::min(nearest[i], squared(pixels[i], middles.back()));
            sum += nearest[i];
        }
        double at = sum * double(chance() % 100000) / 100000;
        std::size_t chosen = 0;
        while (chosen + 1 < pixels.size() && at > nearest[chosen]) {
            at -= nearest[chosen++];
        }
        middles.push_back(pixels[chosen]);
    }
    for (int round = 0; round < 40; ++round) {
        std::vector<Light> sums(count, Light{});
        std::vector<double> of(count, 0);
        for (const Light &pixel : pixels) {
            std::size_t best = 0;
            for (std::size_t k = 1; k < count; ++k) {
                best = squared(pixel, middles[k]) < squared(pixel, middles[best]) ? k : best;
            }
            of[best] += 1;
            for (std::size_t k = 0; k < 3; ++k) {
                sums[best][k] += pixel[k];
            }
        }
        for (std::size_t k = 0; k < count; ++k) {
            for (std::size_t c = 0; c < 3 && of[k] > 0; ++c) {
                middles[k][c] = sums[k][c] / of[k];
            }
        }
    }
    return middles;
}

/// Shares of \p colours, none negative and together at most one, whose mixture with \p stock is nearest.
std::vector<double> unmixed(const Light &pixel, const std::vector<Light> &colours, const Light &stock)
{
    std::vector<double> shares(colours.size(), 1.0 / double(colours.size() + 1));
    for (int round = 0; round < 120; ++round) { // coordinate descent
        for (std::size_t k = 0; k < colours.size(); ++k) {
            Light rest{};
            double sum = 0, up = 0, down = 1e-9;
            for (std::size_t j = 0; j < colours.size(); ++j) {
                sum += j == k ? 0 : shares[j];
                for (std::size_t c = 0; c < 3; ++c) {
                    rest[c] += j == k ? 0 : shares[j] * (colours[j][c] - stock[c]);
                }
            }
            for (std::size_t c = 0; c < 3; ++c) {
                const double step = colours[k][c] - stock[c];
                up += step * (pixel[c] - stock[c] - rest[c]);
                down += step * step;
            }
            shares[k] = std::clamp(up / down, 0.0, std::max(0.0, 1 - sum));
        }
    }
    return shares;
}

} // namespace

Nearness by_palette(const OpenedJob &opened, std::size_t count)
{
    const Picture picture = look_at(opened);
    const Light stock = light_of(opened.job.stock_here().colour);
    const std::vector<Light> colours = cluster(picture.light, count);
    std::vector<BookInk> inks;
    for (std::size_t k = 0; k < count; ++k) {
        const Light &one = colours[k];
        const Lab solid =
            srgb_to_lab({linear_to_srgb(one[0]), linear_to_srgb(one[1]), linear_to_srgb(one[2])});
        BookInk ink{"Colour " + std::to_string(k + 1), InkUse::Spot, solid, usual_traits(InkUse::Spot),
                    false};
        ink.traits.opacity = 1;
        ink.traits.gain = {};
        inks.push_back(std::move(ink));
    }
    Job job = opened.job;
    job.plates = plates_for_inks(inks);
    // Dots beside each other, as a mixture is: each ink covers a share of what the ones before have left.
    std::vector<std::vector<double>> tones(count, std::vector<double>(picture.light.size()));
    for (std::size_t i = 0; i < picture.light.size(); ++i) {
        const std::vector<double> shares = unmixed(picture.light[i], colours, stock);
        double over = 0; // of inks printed later
        for (std::size_t k = count; k-- > 0;) {
            const auto at = std::size_t(job.find_plate(inks[k].name));
            tones[at][i] = over < 1 ? std::min(1.0, shares[k] / (1 - over)) : 0;
            over += shares[k];
        }
    }
    return printed(job, picture, tones);
}

Nearness by_hand(const OpenedJob &opened, const std::vector<BookInk> &inks)
{
    const Picture picture = look_at(opened);
    Job job = opened.job;
    job.plates = plates_for_inks(inks);
    const auto hue_of = [](const Lab &colour) { return std::atan2(colour.b, colour.a); };
    const auto chroma_of = [](const Lab &colour) { return std::hypot(colour.a, colour.b); };
    std::vector<std::vector<double>> tones(job.plates.size(), std::vector<double>(picture.colour.size()));
    for (std::size_t i = 0; i < picture.colour.size(); ++i) {
        const Lab &colour = picture.colour[i];
        const double grey = colour.l / 100;      // 1. the grey copy
        const double base = std::pow(grey, 0.8); // 2., 3. inverted for film, opened by a curve
        const double drawn = std::clamp((base - 0.08) / 0.92, 0.0, 1.0); // 4. drawn back in the shadows
        for (std::size_t p = 0; p < job.plates.size(); ++p) {
            const Plate &plate = job.plates[p];
            if (plate.kind == InkUse::White) {
                tones[p][i] = drawn;
                continue;
            }
            const double own = chroma_of(plate.solid);
            if (own < 12) { // 5. a grey or black ink: the key, what is dark and grey
                tones[p][i] =
                    std::clamp(1 - grey, 0.0, 1.0) * std::clamp(1 - chroma_of(colour) / 40, 0.0, 1.0);
                continue;
            }
            // 6., 7. its range of hues, fading to the next ink on either side
            double left = std::numbers::pi, right = std::numbers::pi;
            for (const Plate &other : job.plates) {
                if (&other == &plate || other.kind == InkUse::White || chroma_of(other.solid) < 12) {
                    continue;
                }
                const double turn =
                    std::remainder(hue_of(other.solid) - hue_of(plate.solid), 2 * std::numbers::pi);
                (turn < 0 ? left : right) = std::min(turn < 0 ? left : right, std::fabs(turn));
            }
            const double turn = std::remainder(hue_of(colour) - hue_of(plate.solid), 2 * std::numbers::pi);
            const double range = turn < 0 ? left : right;
            const double within = std::clamp(1 - std::fabs(turn) / range, 0.0, 1.0);
            // 8., 9. as strong as the colour is, opened by a curve; 10. under it the base shows through
            const double strong = std::clamp(chroma_of(colour) / own, 0.0, 1.0);
            tones[p][i] = std::clamp(std::pow(within, 0.8) * std::pow(strong, 0.8), 0.0, 1.0);
        }
    }
    return printed(job, picture,
                   tones); // 11., 12. the order is that of the inks; no highlight plate is needed
}

} // namespace bichrom::bench
