#include "core/line/apply_traps.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

RunPlane with_traps(const std::shared_ptr<const RunPlane> &plate, int first, const TrapRows &traps)
{
    const int rows = static_cast<int>(traps.first.size()) - 1;
    RunPlane made(plate->width(), rows);
    made.keep(plate);
    for (int y = 0; y < rows; ++y) {
        const auto own = plate->row(first + y);
        const auto changed = traps.row(y);
        std::size_t at = 0; // the first of own that does not end before x
        int x = 0;
        const auto own_until = [&](int end) {
            for (; at < own.size() && own[at].begin < end; ++at) {
                const int from = std::max(x, own[at].begin), to = std::min(end, own[at].end);
                if (from < to) {
                    const std::uint8_t *tones =
                        own[at].tones == nullptr ? nullptr : own[at].tones + (from - own[at].begin);
                    made.add({from, to, own[at].tone, tones});
                }
                if (own[at].end > end) {
                    break;
                }
            }
            x = end;
        };
        for (const TrapRun &run : changed) {
            own_until(run.begin);
            if (run.tone != 0) {
                made.add({run.begin, run.end, run.tone, nullptr});
            }
            x = run.end;
        }
        own_until(plate->width());
        made.end_row();
    }
    return made;
}

void add_mean_change(const TrapRows &traps, const RunPlane &plate, const PixelRect &wide,
                     const PixelRect &rows, int by, Plane &coarse, const PixelRect &at)
{
    std::vector<int> sums;
    const int left = rows.x - wide.x; // of the columns of wide
    const auto add_row = [&](int line) {
        for (const TrapRun &run : traps.row(line)) {
            for (int x = std::max(run.begin, left); x < std::min(run.end, left + rows.width);) {
                const int pixel = (x + wide.x) / by;
                const int end = std::min({run.end, left + rows.width, (pixel + 1) * by - wide.x});
                const auto own = plate.sum(rows.y - wide.y + line, x, end);
                sums[static_cast<std::size_t>(pixel - at.x)] += run.tone * (end - x) - static_cast<int>(own);
                x = end;
            }
        }
    };
    for (int line = 0; line < rows.height && !traps.empty(); line += by) {
        const int last = std::min(line + by, rows.height);
        if (traps.first[static_cast<std::size_t>(line)] == traps.first[static_cast<std::size_t>(last)]) {
            continue; // nothing in these rows
        }
        sums.assign(static_cast<std::size_t>(at.width), 0);
        for (int sub = line; sub < last; ++sub) {
            add_row(sub);
        }
        const auto row = coarse.row((rows.y + line) / by - at.y);
        for (std::size_t x = 0; x < row.size(); ++x) {
            const int change = static_cast<int>(std::lround(double(sums[x]) / (by * by)));
            row[x] = static_cast<std::uint8_t>(std::clamp(row[x] + change, 0, 255));
        }
    }
}

} // namespace bichrom
