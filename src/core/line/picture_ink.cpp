#include "core/line/picture_ink.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace bichrom {

Outcome<PictureInk> ink_of_picture(const PlateLine &line, const Rect &area,
                                   const std::vector<std::string> &inks, const JobControl &control)
{
    constexpr double pixels = 5e5, finest = 300; // of these no more, at no more than that
    constexpr int least_tone = 3;                // of 255
    if (!(area.width > 0 && area.height > 0)) {
        return Error{ErrorCode::OutOfRange, "The picture has no size.", line.page().place(), {}};
    }
    const double dpi = std::min(finest, std::sqrt(pixels / (area.width * area.height)) * points_per_inch);
    const double scale = dpi / points_per_inch;
    const auto at = [scale](double points) { return static_cast<int>(std::floor(points * scale)); };
    // Its outermost pixels are shared with what lies beside it.
    const PixelRect rect = {at(area.x) + 1, at(area.y) + 1, std::max(1, at(area.width) - 2),
                            std::max(1, at(area.height) - 2)};
    const auto tile = line.render(rect, Dpi(dpi), Edges::Smooth, control);
    if (!tile) {
        return tile.error();
    }
    PictureInk result;
    const std::size_t count = static_cast<std::size_t>(rect.width) * static_cast<std::size_t>(rect.height);
    std::vector<std::uint16_t> sums(count);
    for (std::size_t i = 0; i < line.inks().size(); ++i) {
        const std::vector<std::uint8_t> &tones = tile->plates[i].pixels;
        if (std::find(inks.begin(), inks.end(), line.inks()[i]) == inks.end() ||
            std::none_of(tones.begin(), tones.end(), [](std::uint8_t tone) { return tone >= least_tone; })) {
            continue;
        }
        result.inks.push_back(line.inks()[i]);
        for (std::size_t p = 0; p < count; ++p) {
            sums[p] = static_cast<std::uint16_t>(sums[p] + tones[p]);
        }
    }
    double total = 0;
    std::uint16_t most = 0;
    for (const std::uint16_t sum : sums) {
        total += sum;
        most = std::max(most, sum);
    }
    result.most = most / 255.0;
    result.mean = total / 255.0 / static_cast<double>(count);
    return result;
}

} // namespace bichrom
