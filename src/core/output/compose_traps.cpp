#include "core/output/compose_traps.h"

#include "core/output/compose_shapes.h"
#include "core/page/vector_page.h"
#include "core/raster/trace.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace bichrom {

namespace {

constexpr Dpi trace_resolution(1200);
constexpr int tile = 2048;      // pixels traced at once
constexpr int overlap = 8;      // that tiles share: painting a tone twice changes nothing
constexpr int back = 2;         // pixels that traps reach into the ink they come from
constexpr int many_tones = 24;  // of a tile: along gradients, taken together from there on
constexpr int coarse_step = 12; // of tones then

} // namespace

Done add_traps(VectorPage &page, const PlateLine &plate_line, const JobControl &control)
{
    const auto traps = plate_line.page_traps(trace_resolution, control, nullptr, {}, back);
    if (!traps) {
        return traps.error();
    }
    const double scale = points_per_inch / trace_resolution.value;
    for (std::size_t number = 0; number < traps->plates.size(); ++number) {
        const TrapRows &rows = traps->plates[number];
        if (rows.empty()) {
            continue;
        }
        std::string shapes;
        for (int top = 0; top < traps->height; top += tile) {
            for (int left = 0; left < traps->width; left += tile) {
                if (control.cancelled()) {
                    return Error{ErrorCode::Cancelled, "Stopped.", plate_line.page().place(), {}};
                }
                const int right = std::min(traps->width, left + tile + overlap);
                const int bottom = std::min(traps->height, top + tile + overlap);
                std::map<int, Plane> by_tone;
                const auto each_run = [&](const auto &take) {
                    for (int y = top; y < bottom; ++y) {
                        for (const TrapRun &run : rows.row(y)) {
                            const int begin = std::max(run.begin, left), end = std::min(run.end, right);
                            if (begin < end) {
                                take(y - top, begin - left, end - left, static_cast<int>(run.tone));
                            }
                        }
                    }
                };
                each_run([&](int, int, int, int tone) { by_tone[tone]; });
                const bool coarse = static_cast<int>(by_tone.size()) > many_tones;
                by_tone.clear();
                each_run([&](int y, int begin, int end, int tone) {
                    const int rounded =
                        !coarse ? tone : std::min(255, (tone + coarse_step / 2) / coarse_step * coarse_step);
                    Plane &plane = by_tone[rounded];
                    if (plane.pixels.empty()) {
                        plane = Plane(right - left, bottom - top);
                    }
                    std::fill(plane.row(y).begin() + begin, plane.row(y).begin() + end, std::uint8_t(255));
                });
                for (const auto &[tone, plane] : by_tone) {
                    auto outlines = trace_outlines(plane);
                    if (!outlines) {
                        return outlines.error();
                    }
                    if (!outlines->empty()) {
                        put(shapes, tone / 255.0);
                        shapes += "scn ";
                        put_outlines(shapes, *outlines, scale, left, top);
                        shapes += "f*\n";
                    }
                }
            }
        }
        if (!shapes.empty()) {
            const std::string state = overprinting(page);
            page.content +=
                "q " + state + space_of(page, static_cast<int>(number)) + " cs\n" + shapes + "Q\n";
        }
    }
    return {};
}

} // namespace bichrom
