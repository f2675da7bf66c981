#include "core/line/coverage.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

struct BandSums final : BandResult
{
    std::vector<std::uint64_t> sums;
};

} // namespace

Outcome<std::vector<double>> measure_coverage(const PlateLine &plate_line, Dpi resolution,
                                              const JobControl &control, const Rect &area)
{
    constexpr double most_pixels = 40e6;
    const double square_inches = plate_line.page().width().value * plate_line.page().height().value /
                                 (points_per_inch * points_per_inch);
    const Dpi dpi(std::min(resolution.value, std::sqrt(most_pixels / std::max(square_inches, 1e-9))));
    const PixelRect extent = plate_line.extent(dpi);
    // Whole pixels whose centres lie inside.
    const auto edge = [&](double mm, int most) {
        return std::clamp(static_cast<int>(std::lround(mm * dpi.value / millimetres_per_inch)), 0, most);
    };
    const bool all = area.width <= 0 || area.height <= 0;
    const int left = all ? 0 : edge(area.x, extent.width);
    const int right = all ? extent.width : edge(area.x + area.width, extent.width);
    const int top = all ? 0 : edge(area.y, extent.height);
    const int bottom = all ? extent.height : edge(area.y + area.height, extent.height);
    std::vector<std::uint64_t> totals(plate_line.inks().size(), 0);
    PlateSink sink;
    sink.compute = [&](const Band &, const PlateRuns &plates) -> Outcome<std::unique_ptr<BandResult>> {
        auto result = std::make_unique<BandSums>();
        for (const RunPlane &plate : plates.plates) {
            std::uint64_t sum = 0;
            for (int y = std::max(0, top - plates.rect.y);
                 y < std::min(plate.height(), bottom - plates.rect.y); ++y) {
                sum += plate.sum(y, left, right);
            }
            result->sums.push_back(sum);
        }
        return std::unique_ptr<BandResult>(std::move(result));
    };
    sink.take = [&](const Band &, BandResult &result) -> Done {
        const auto &sums = static_cast<const BandSums &>(result).sums;
        for (std::size_t i = 0; i < totals.size(); ++i) {
            totals[i] += sums[i];
        }
        return {};
    };
    constexpr int rows = 256;
    if (const Done done = plate_line.run({dpi, Edges::Seen, 0, extent.height, rows, 0}, sink, control);
        !done) {
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
