#include "core/proof/print_estimate.h"

#include "core/colour/ink_film.h"
#include "core/colour/spaces.h"
#include "core/colour/srgb.h"
#include "core/job/print_model.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

PrintEstimate estimate_print(const Job &job, std::span<const double> tones, const ProcessProfile &condition)
{
    const PrintGround ground = print_ground(job.plates, job.stock);
    const auto colour_of = [&](const PrintColumn &column) {
        Bands bands = column.reflectance();
        for (double &r : bands) {
            r += ground.floor;
        }
        return bands_to_lab(bands);
    };
    const std::vector<PrintedLayer> layers = layers_of(job.plates, ground);
    PrintColumn column(ground.stock, ground.transfer);
    PrintEstimate estimate;
    estimate.stock = colour_of(column);
    const Bands paper = without_floor({100, 0, 0}, ground.floor); // what the profile's answer is relative to
    PrintColumn under_run = column;                               // what the run of process inks lies on
    std::array<double, 4> run{};
    std::array<bool, 4> in_run{};
    estimate.after.resize(job.plates.size());
    estimate.seen = estimate.stock;
    for (const std::size_t i : order_of_sight(job)) {
        const Plate &plate = job.plates[i];
        const double tone = i < tones.size() ? std::clamp(tones[i], 0.0, 1.0) : 0.0;
        const int process = plate.kind == InkUse::Process ? process_channel(plate.ink) : -1;
        if (process >= 0) {
            const auto channel = static_cast<std::size_t>(process);
            if (in_run == std::array<bool, 4>{} || in_run[channel]) {
                under_run = column;
                run = {};
                in_run = {};
            }
            run[channel] = tone;
            in_run[channel] = true;
            column = under_run;
            const Bands printed =
                without_floor(condition.to_lab({static_cast<float>(run[0]), static_cast<float>(run[1]),
                                                static_cast<float>(run[2]), static_cast<float>(run[3])}),
                              ground.floor);
            Bands passed{};
            for (std::size_t k = 0; k < band_count; ++k) {
                passed[k] = printed[k] / paper[k];
            }
            if (tone > 0 || run != std::array<double, 4>{}) {
                column.dim(passed);
            }
        } else {
            in_run = {};
            if (plate.kind != InkUse::Technical) {
                column.lay(layers[i], plate.traits.gain.at(tone));
            }
            const bool metal = plate.kind == InkUse::Metallic || plate.kind == InkUse::Foil;
            estimate.predictable = estimate.predictable && !(metal && tone > 0);
        }
        estimate.after[i] = estimate.seen = colour_of(column);
    }
    return estimate;
}

std::optional<Lab> mean_colour(std::span<const std::uint32_t> pixels)
{
    if (pixels.empty()) {
        return std::nullopt;
    }
    std::array<double, 3> light{};
    for (const std::uint32_t pixel : pixels) {
        for (std::size_t c = 0; c < 3; ++c) {
            light[c] += srgb_to_linear((pixel >> (16 - 8 * c) & 255) / 255.0);
        }
    }
    for (double &channel : light) {
        channel = linear_to_srgb(channel / static_cast<double>(pixels.size()));
    }
    return srgb_to_lab(light);
}

} // namespace bichrom
