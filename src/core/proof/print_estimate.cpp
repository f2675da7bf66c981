#include "core/proof/print_estimate.h"

#include "core/colour/spaces.h"
#include "core/colour/srgb.h"
#include "core/job/print_model.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

PrintEstimate estimate_print(const Job &job, std::span<const double> tones, const ProcessProfile &condition)
{
    const PrintStack stack = stack_of(job, job.inks(), condition);
    const PrintStack::Colours colours = stack.at(tones);
    PrintEstimate estimate;
    estimate.stock = estimate.seen = colours.stock;
    estimate.after.resize(job.plates.size());
    std::size_t next = 0; // ink of the stack
    for (const std::size_t i : order_of_sight(job)) {
        const Plate &plate = job.plates[i];
        if (next < colours.after.size() && stack.ink(next).plane == i) {
            estimate.seen = colours.after[next++];
        }
        estimate.after[i] = estimate.seen; // a technical plate changes nothing
        const bool metal = plate.kind == InkUse::Metallic || plate.kind == InkUse::Foil;
        estimate.predictable = estimate.predictable && !(metal && i < tones.size() && tones[i] > 0);
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
