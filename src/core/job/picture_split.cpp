#include "core/job/picture_split.h"

#include "core/colour/colour_difference.h"
#include "core/colour/spaces.h"

namespace bichrom {

PaletteSplit propose_split(std::span<const std::array<std::uint8_t, 3>> colours, const Job &job,
                           PaletteSplit settings)
{
    settings.colours.clear();
    for (const auto &rgb : colours) {
        const Lab lab = srgb_to_lab({rgb[0] / 255.0, rgb[1] / 255.0, rgb[2] / 255.0});
        PaletteTarget target{rgb, {}, 1};
        double least = ciede2000(lab, job.stock_here().colour);
        for (const Plate &plate : job.plates) {
            if (const double difference = ciede2000(lab, plate.solid); difference < least) {
                least = difference;
                target.ink = plate.ink;
            }
        }
        settings.colours.push_back(std::move(target));
    }
    return settings;
}

} // namespace bichrom
