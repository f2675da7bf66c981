#include "core/fit/trap_table.h"

#include <algorithm>

namespace bichrom {

std::vector<TrapTableRow> trap_table(const PageTraps &traps, const std::vector<std::string> &inks,
                                     const TrapSettings &settings)
{
    const double mm = millimetres_per_inch / traps.resolution.value;
    std::vector<TrapTableRow> rows;
    for (const auto &[pair, meeting] : traps.meetings) {
        TrapTableRow row;
        row.first = inks[static_cast<std::size_t>(pair.first)];
        row.second = inks[static_cast<std::size_t>(pair.second)];
        row.edge = meeting.edge * mm;
        row.first_spreads = static_cast<double>(meeting.first) * mm * mm;
        row.second_spreads = static_cast<double>(meeting.second) * mm * mm;
        row.decided = settings.pair_of(row.first, row.second);
        row.width = row.decided.width.value_or(settings.width);
        rows.push_back(std::move(row));
    }
    std::stable_sort(rows.begin(), rows.end(),
                     [](const TrapTableRow &a, const TrapTableRow &b) { return a.edge > b.edge; });
    return rows;
}

TrapMap trap_map(const PageTraps &traps)
{
    TrapMap map{traps.resolution, BitPlane(traps.width, traps.height), BitPlane(traps.width, traps.height)};
    for (const TrapRows &plate : traps.plates) {
        for (int y = 0; y < plate.rows() && !plate.empty(); ++y) {
            for (const TrapRun &run : plate.row(y)) {
                (run.less ? map.less : map.more).set(y, run.begin, run.end);
            }
        }
    }
    return map;
}

} // namespace bichrom
