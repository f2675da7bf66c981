#include "core/line/trap_writer.h"

#include "core/raster/even_stretch.h"

#include <algorithm>

namespace bichrom {

namespace {

/// Adds \p run to a row that begins at \p first of \p runs.
void append(std::vector<TrapRun> &runs, std::size_t first, const TrapRun &run)
{
    if (runs.size() > first && runs.back().end == run.begin && runs.back().tone == run.tone &&
        runs.back().less == run.less) {
        runs.back().end = run.end;
    } else {
        runs.push_back(run);
    }
}

/// A stretch as rings hold it: tones of what draws back are one more there.
TrapRun run_of(int begin, int end, std::uint8_t stamped, bool less)
{
    return {begin, end, static_cast<std::uint8_t>(stamped - (less ? 1 : 0)), less};
}

/// Gives \p take each stretch of one tone but 0; \p tones are of column \p begin on.
template <class Take> void each_run(int begin, int end, const std::uint8_t *tones, const Take &take)
{
    for (int x = begin; x < end;) {
        const int next = change_after(tones, begin, x, end);
        if (tones[x - begin] != 0) {
            take(x, next, tones[x - begin]);
        }
        x = next;
    }
}

/// The stretches of a row of \p line, which is emptied; none where there is no line.
std::vector<TrapRun> runs_of(TrapRing *line, bool less)
{
    std::vector<TrapRun> runs;
    if (line != nullptr) {
        line->empty_row(0, [&](int begin, int end, const std::uint8_t *tones) {
            each_run(begin, end, tones, [&](int from, int to, std::uint8_t tone) {
                runs.push_back(run_of(from, to, tone, less));
            });
        });
    }
    return runs;
}

} // namespace

TrapWriter::TrapWriter(const TupleRows &tuples, const TupleColumns &tile, std::size_t plates, bool back,
                       TrapMeetings *counts)
    : m_tuples(tuples), m_tile(tile), m_back(back), m_counts(counts), m_groups(plates), m_more(plates),
      m_less(plates)
{
}

void TrapWriter::add(TrapGroup &group)
{
    m_groups[static_cast<std::size_t>(group.plate)].push_back(&group);
}

void TrapWriter::begin(int left, int right)
{
    m_left = left;
    m_right = right;
    m_tiles.emplace_back(m_groups.size());
    for (const auto &groups : m_groups) {
        for (TrapGroup *group : groups) {
            group->ring.move_to(left);
        }
    }
    for (const auto &line : m_lines) {
        line->move_to(left);
    }
}

void TrapWriter::write(int y)
{
    for (std::size_t plate = 0; plate < m_groups.size(); ++plate) {
        TrapRows &rows = m_tiles.back()[plate];
        const auto stamped = [&](const TrapGroup *group) { return group->ring.holds_any(y); };
        const auto &groups = m_groups[plate];
        const auto one = std::find_if(groups.begin(), groups.end(), stamped);
        if (one != groups.end() && std::none_of(one + 1, groups.end(), stamped)) {
            const std::size_t first = rows.first.back();
            each_change(**one, y, [&](int begin, int end, std::uint8_t tone) {
                append(rows.runs, first, run_of(begin, end, tone, (*one)->holds));
            });
        } else if (one != groups.end()) {
            write_several(plate, y, rows);
        }
        rows.first.push_back(rows.runs.size());
    }
}

/// Gives \p take what of row \p y of \p group changes its plate, from left to right: columns and tone, as the
/// ring holds it. The row is emptied.
template <class Take> void TrapWriter::each_change(TrapGroup &group, int y, const Take &take)
{
    const auto spans = m_tile.row(y);
    std::size_t at = m_tile.start(y);
    group.ring.empty_row(y, [&](int begin, int end, const std::uint8_t *tones) {
        each_run(begin, std::min(end, m_right), tones, [&](int from, int to, std::uint8_t tone) {
            at = m_tile.find_near(y, from, at);
            for (int x = from; x < to;) {
                const int next = std::min(to, spans[at].end);
                if (changes(group, m_tuples.tuple(spans[at].tuple), tone, next - x)) {
                    take(x, next, tone);
                }
                x = next;
                at += next < to ? 1 : 0;
            }
        });
    });
}

/// Whether a stamped \p tone changes the plate of \p group where all plates are \p tuple, for \p pixels; or
/// whether it has that tone anyway and is kept all the same.
bool TrapWriter::changes(const TrapGroup &group, std::span<const std::uint8_t> tuple, std::uint8_t tone,
                         int pixels)
{
    const std::uint8_t own = tuple[static_cast<std::size_t>(group.plate)];
    if (tuple[static_cast<std::size_t>(group.cover)] < group.threshold) {
        return m_back && tone - (group.holds ? 1 : 0) == own;
    }
    if (group.holds) {
        return tone - 1 < own;
    }
    if (tone > own && m_counts != nullptr) {
        TrapMeeting &meeting = (*m_counts)[std::minmax(group.plate, group.cover)];
        (group.plate < group.cover ? meeting.first : meeting.second) += static_cast<std::uint64_t>(pixels);
    }
    return tone > own;
}

/// Row \p y of a plate for which several groups have stamped: the strongest counts, and what spreads counts
/// before what draws back, where two edges meet.
void TrapWriter::write_several(std::size_t plate, int y, TrapRows &rows)
{
    for (TrapGroup *group : m_groups[plate]) {
        each_change(*group, y, [&](int begin, int end, std::uint8_t tone) {
            line(group->holds ? m_less : m_more, group->plate).stamp(0, begin, end, tone);
        });
    }
    const std::size_t first = rows.first.back();
    const std::vector<TrapRun> more = runs_of(m_more[plate], false), less = runs_of(m_less[plate], true);
    std::size_t at = 0;
    const auto spread_until = [&](int column) {
        for (; at < more.size() && more[at].begin < column; ++at) {
            append(rows.runs, first, more[at]);
        }
    };
    for (const TrapRun &run : less) {
        for (int x = run.begin; x < run.end;) {
            spread_until(x + 1);
            const int taken = at == 0 ? 0 : more[at - 1].end;
            x = std::max(x, std::min(run.end, taken));
            const int next = std::min(run.end, at < more.size() ? more[at].begin : run.end);
            if (x < next) {
                append(rows.runs, first, {x, next, run.tone, true});
                x = next;
            }
        }
    }
    spread_until(m_right);
}

TrapRing &TrapWriter::line(std::vector<TrapRing *> &lines, int plate)
{
    TrapRing *&one = lines[static_cast<std::size_t>(plate)];
    if (one == nullptr) {
        one = m_lines.emplace_back(std::make_unique<TrapRing>(m_left, tile_width, 1)).get();
    }
    return *one;
}

std::vector<TrapRows> TrapWriter::take()
{
    std::vector<TrapRows> whole(m_groups.size());
    for (std::size_t plate = 0; plate < whole.size(); ++plate) {
        TrapRows &to = whole[plate];
        for (int y = 0; !m_tiles.empty() && y < m_tiles.front()[plate].rows(); ++y) {
            const std::size_t first = to.runs.size();
            for (const auto &tile : m_tiles) {
                for (const TrapRun &run : tile[plate].row(y)) {
                    append(to.runs, first, run);
                }
            }
            to.first.push_back(to.runs.size());
        }
    }
    m_tiles.clear();
    return whole;
}

} // namespace bichrom
