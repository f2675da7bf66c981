#include "core/separate/wished_colours.h"

#include "core/colour/colour_difference.h"
#include "core/separate/seen_page.h"

#include <algorithm>
#include <map>

namespace bichrom {

Outcome<std::vector<WishedColour>> wished_colours(const OpenedJob &opened, std::size_t most,
                                                  const JobControl &control)
{
    constexpr int side = 360; // pixels of the longer side: enough to count colours
    const auto seen = see_original(opened, side, control);
    if (!seen) {
        return seen.error();
    }
    struct Bin
    {
        double count = 0, r = 0, g = 0, b = 0;
    };
    std::map<std::uint32_t, Bin> bins; // 16 levels a channel
    double painted = 0;
    for (std::size_t i = 0; i < seen->pixels.size(); ++i) {
        if (!seen->painted[i]) {
            continue;
        }
        const std::uint32_t word = seen->pixels[i];
        Bin &bin = bins[(word >> 12 & 0xF00) | (word >> 8 & 0xF0) | (word >> 4 & 0xF)];
        ++bin.count;
        bin.r += word >> 16 & 255;
        bin.g += word >> 8 & 255;
        bin.b += word & 255;
        ++painted;
    }
    if (painted == 0) {
        return Error{ErrorCode::NothingToPrint,
                     "The page paints nothing to be separated.",
                     opened.artwork->name(),
                     {}};
    }
    std::vector<WishedColour> all;
    for (const auto &[key, bin] : bins) {
        const double scale = 1 / (255 * bin.count);
        all.push_back({srgb_to_lab({bin.r * scale, bin.g * scale, bin.b * scale}), bin.count / painted});
    }
    std::sort(all.begin(), all.end(),
              [](const WishedColour &a, const WishedColour &b) { return a.share > b.share; });
    std::vector<WishedColour> kept;
    constexpr double alike = 4; // ΔE
    for (const WishedColour &one : all) {
        WishedColour *nearest = nullptr;
        double least = 1e9;
        for (WishedColour &other : kept) {
            if (const double away = ciede2000(one.colour, other.colour); away < least) {
                least = away;
                nearest = &other;
            }
        }
        if (nearest != nullptr && (least < alike || kept.size() >= most)) {
            nearest->share += one.share;
        } else {
            kept.push_back(one);
        }
    }
    std::sort(kept.begin(), kept.end(),
              [](const WishedColour &a, const WishedColour &b) { return a.share > b.share; });
    return kept;
}

} // namespace bichrom
