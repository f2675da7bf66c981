#include "core/plates/coverage.h"

#include "core/raster/bands.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

struct BandSums final : BandResult
{
    std::vector<std::uint64_t> sums;
};

} // namespace

Outcome<std::vector<double>> measure_coverage(const PlateRenderer &renderer, Dpi resolution,
                                              const JobControl &control, const Rect &area)
{
    constexpr double most_pixels = 40e6;
    const double square_inches =
        renderer.page().width().value * renderer.page().height().value / (points_per_inch * points_per_inch);
    const Dpi dpi(std::min(resolution.value, std::sqrt(most_pixels / std::max(square_inches, 1e-9))));
    const PixelRect extent = renderer.extent(dpi);
    // Whole pixels whose centres lie inside.
    const auto edge = [&](double mm, int most) {
        return std::clamp(static_cast<int>(std::lround(mm * dpi.value / millimetres_per_inch)), 0, most);
    };
    const bool all = area.width <= 0 || area.height <= 0;
    const int left = all ? 0 : edge(area.x, extent.width);
    const int right = all ? extent.width : edge(area.x + area.width, extent.width);
    const int top = all ? 0 : edge(area.y, extent.height);
    const int bottom = all ? extent.height : edge(area.y + area.height, extent.height);
    std::vector<std::uint64_t> totals(renderer.inks().size(), 0);
    BandSteps steps;
    steps.compute = [&](const Band &band) -> Outcome<std::unique_ptr<BandResult>> {
        auto result = std::make_unique<BandSums>();
        result->sums.assign(totals.size(), 0);
        PlatePixels pixels;
        for (int pass = 0; pass < renderer.passes(); ++pass) {
            if (const Done ok = renderer.render_pass(pass, {0, band.top, extent.width, band.rows}, dpi,
                                                     Edges::Smooth, pixels, control);
                !ok) {
                return ok.error();
            }
            for (std::size_t i = 0; i < pixels.plates.size(); ++i) {
                std::uint64_t sum = 0;
                for (int y = std::max(0, top - band.top); y < std::min(band.rows, bottom - band.top); ++y) {
                    const std::uint8_t *value =
                        pixels.row(y) + std::ptrdiff_t(left) * pixels.channels + pixels.channel_of[i];
                    for (int x = left; x < right; ++x, value += pixels.channels) {
                        sum += *value;
                    }
                }
                result->sums[static_cast<std::size_t>(pixels.plates[i])] = sum;
            }
        }
        return std::unique_ptr<BandResult>(std::move(result));
    };
    steps.take = [&](const Band &, BandResult &result) -> Done {
        const auto &sums = static_cast<const BandSums &>(result).sums;
        for (std::size_t i = 0; i < totals.size(); ++i) {
            totals[i] += sums[i];
        }
        return {};
    };
    const int rows = std::clamp((1 << 20) / std::max(1, extent.width), 16, 512);
    if (const Done done = run_bands(extent.height, rows, steps, control); !done) {
        return done.error();
    }
    std::vector<double> coverage;
    const double full = 255.0 * std::max(1, right - left) * std::max(1, bottom - top);
    for (const std::uint64_t total : totals) {
        coverage.push_back(static_cast<double>(total) / full);
    }
    return coverage;
}

} // namespace bichrom
