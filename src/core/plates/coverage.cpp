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
                                              const JobControl &control)
{
    constexpr double most_pixels = 40e6;
    const double square_inches =
        renderer.page().width().value * renderer.page().height().value / (points_per_inch * points_per_inch);
    const Dpi dpi(std::min(resolution.value, std::sqrt(most_pixels / std::max(square_inches, 1e-9))));
    const PixelRect extent = renderer.extent(dpi);
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
                for (int y = 0; y < band.rows; ++y) {
                    const std::uint8_t *value = pixels.row(y) + pixels.channel_of[i];
                    for (int x = 0; x < extent.width; ++x, value += pixels.channels) {
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
    const double full = 255.0 * static_cast<double>(extent.width) * static_cast<double>(extent.height);
    for (const std::uint64_t total : totals) {
        coverage.push_back(static_cast<double>(total) / full);
    }
    return coverage;
}

} // namespace bichrom
