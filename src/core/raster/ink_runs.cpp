#include "core/raster/ink_runs.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

std::vector<int> gaps(double distance, bool beyond)
{
    std::vector<int> columns;
    for (int dy = 0; dy < distance || (beyond && dy <= distance); ++dy) {
        const double across = std::sqrt(distance * distance - static_cast<double>(dy) * dy);
        columns.push_back(beyond ? static_cast<int>(std::floor(across)) + 1
                                 : static_cast<int>(std::ceil(across)));
    }
    return columns;
}

void InkRuns::end_row()
{
    m_start.push_back(m_runs.size());
    const int y = height() - 1;
    const auto above = y == 0 ? std::span<const Run>() : row(y - 1);
    const bool alike = y > 0 && std::equal(above.begin(), above.end(), row(y).begin(), row(y).end());
    m_repeats.push_back(alike ? 1 : 0);
}

void InkRuns::group()
{
    std::vector<Run> inside, spare;
    for (int top = 0; top < height(); top += grouped) {
        m_group_start.push_back(m_group_runs.size());
        const auto own = row(top);
        inside.assign(own.begin(), own.end());
        for (int y = top + 1; y < std::min(height(), top + grouped); ++y) {
            keep_inside(row(y), 1, inside, spare);
        }
        m_group_runs.insert(m_group_runs.end(), inside.begin(), inside.end());
    }
    m_group_start.push_back(m_group_runs.size());
}

int InkRuns::rows_without_bare(int y, int by, int first, int end, int gap) const
{
    const int other = y + by;
    const int in_group = other % grouped;
    if (m_group_start.empty() || in_group != (by > 0 ? 0 : grouped - 1)) {
        return 0; // not at the beginning of one
    }
    const auto number = static_cast<std::size_t>(other / grouped);
    const auto runs = std::span(m_group_runs)
                          .subspan(m_group_start[number], m_group_start[number + 1] - m_group_start[number]);
    const auto at =
        std::partition_point(runs.begin(), runs.end(), [&](const Run &run) { return run.end <= first; });
    const bool clear = at != runs.end() && (at->first == 0 || at->first <= first - gap) &&
                       (at->end == m_width || at->end >= end + gap) && at->first <= first && at->end >= end;
    return clear ? grouped : 0;
}

void InkRuns::narrowed(int y, const std::vector<int> &columns, std::vector<Run> &out,
                       std::vector<Run> &spare) const
{
    const auto own = row(y);
    out.assign(own.begin(), own.end());
    const int reach = static_cast<int>(columns.size()) - 1;
    int next[2] = {0, 1}; // rows away, upwards and downwards, that are to be looked at next
    for (int by = 0; by <= reach && !out.empty(); ++by) {
        for (int side = 0; side < 2; ++side) {
            const int away = side == 0 ? -by : by;
            const int other = y + away;
            if (by < next[side] || other < 0 || other >= height() ||
                (away != 0 && repeats_towards(y, away))) {
                continue; // unknown, or nearer there is one like it
            }
            const int gap = columns[static_cast<std::size_t>(by)] - 1;
            int pass = grouped;
            for (std::size_t i = 0; i < out.size() && pass > 0 && by > 0; ++i) {
                pass = rows_without_bare(y, away, out[i].first, out[i].end, gap);
            }
            if (pass > 0 && by > 0) {
                next[side] = by + pass;
                continue;
            }
            keep_inside(row(other), gap + 1, out, spare);
        }
    }
}

void InkRuns::keep_inside(std::span<const Run> other, int columns, std::vector<Run> &out,
                          std::vector<Run> &spare) const
{
    spare.clear();
    std::size_t at = 0;
    for (const Run &run : out) {
        while (at < other.size() && other[at].end <= run.first) {
            ++at;
        }
        for (std::size_t i = at; i < other.size() && other[i].first < run.end; ++i) {
            const int first = other[i].first > 0 ? other[i].first - 1 + columns : 0;
            const int end = other[i].end < m_width ? other[i].end - columns + 1 : m_width;
            const Run kept = {std::max(first, run.first), std::min(end, run.end)};
            if (kept.first < kept.end) {
                spare.push_back(kept);
            }
        }
    }
    out.swap(spare);
}

} // namespace bichrom
