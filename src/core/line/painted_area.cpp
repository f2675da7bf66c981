#include "core/line/painted_area.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

/// Pixels that hold something, right and bottom excluded; empty where right is not beyond left.
struct Bounds
{
    int left = 1 << 30, top = 1 << 30, right = 0, bottom = 0;
    void add(const Bounds &other)
    {
        left = std::min(left, other.left);
        top = std::min(top, other.top);
        right = std::max(right, other.right);
        bottom = std::max(bottom, other.bottom);
    }
};

struct BandBounds final : BandResult
{
    Bounds bounds;
};

/// The inked columns of \p run.
void add_run(Bounds &bounds, const ToneRun &run, int row)
{
    int begin = run.begin, end = run.end;
    if (run.tones == nullptr) {
        if (run.tone == 0) {
            return;
        }
    } else {
        while (begin < end && run.tones[begin - run.begin] == 0) {
            ++begin;
        }
        while (begin < end && run.tones[end - 1 - run.begin] == 0) {
            --end;
        }
    }
    if (begin < end) {
        bounds.add({begin, row, end, row + 1});
    }
}

} // namespace

Outcome<Rect> painted_area(const PlateLine &plate_line, const JobControl &control, Painted what)
{
    constexpr double best = 1200, most_pixels = 200e6;
    const double square_inches = plate_line.page().width().value * plate_line.page().height().value /
                                 (points_per_inch * points_per_inch);
    const Dpi dpi(std::min(best, std::sqrt(most_pixels / std::max(square_inches, 1e-9))));
    Bounds all;
    PlateSink sink;
    sink.compute = [&](const Band &, const PlateRuns &plates) -> Outcome<std::unique_ptr<BandResult>> {
        auto result = std::make_unique<BandBounds>();
        const auto add = [&](const RunPlane &plane) {
            for (int y = 0; y < plane.height(); ++y) {
                for (const ToneRun &run : plane.row(y)) {
                    add_run(result->bounds, run, plates.rect.y + y);
                }
            }
        };
        if (what == Painted::Artwork) {
            add(plates.area);
        } else {
            std::for_each(plates.plates.begin(), plates.plates.end(), add);
        }
        return std::unique_ptr<BandResult>(std::move(result));
    };
    sink.take = [&](const Band &, BandResult &result) -> Done {
        all.add(static_cast<const BandBounds &>(result).bounds);
        return {};
    };
    constexpr int rows = 256;
    if (const Done done =
            plate_line.run({dpi, Edges::Crisp, 0, plate_line.extent(dpi).height, rows, 0}, sink, control);
        !done) {
        return done.error();
    }
    if (all.left >= all.right) {
        return Rect();
    }
    if (what == Painted::Plates) {
        const PixelRect page = plate_line.extent(dpi);
        all = {std::max(0, all.left - 1), std::max(0, all.top - 1), std::min(page.width, all.right + 1),
               std::min(page.height, all.bottom + 1)};
    }
    const double mm = millimetres_per_inch / dpi.value;
    return Rect{all.left * mm, all.top * mm, (all.right - all.left) * mm, (all.bottom - all.top) * mm};
}

} // namespace bichrom
