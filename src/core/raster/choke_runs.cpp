#include "core/raster/choke_runs.h"

#include "core/base/cpu_clones.h"
#include "core/raster/choke_bits.h"
#include "core/raster/edge_distance.h"
#include "core/raster/ink_runs.h"
#include "core/raster/tone_rows.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <memory>
#include <optional>

namespace bichrom {

namespace {

/// Rows of runs as the tones of their pixels, from row 0 on; turned where bare and solid change places.
class RowTones
{
public:
    RowTones(const RowsAround &rows, int from, int to, bool turned) : m_width(rows.width), m_turned(turned)
    {
        for (int y = from; y < to; ++y) {
            m_rows.push_back(rows.row(y));
            m_plain = m_plain &&
                      std::all_of(m_rows.back().begin(), m_rows.back().end(),
                                  [](const ToneRun &run) { return run.tones == nullptr && run.tone == 255; });
        }
    }
    [[nodiscard]] int width() const { return m_width; }
    [[nodiscard]] int height() const { return static_cast<int>(m_rows.size()); }
    /// Whether all is bare or solid.
    [[nodiscard]] bool plain() const { return m_plain; }
    [[nodiscard]] int at(int x, int y) const
    {
        const auto row = m_rows[static_cast<std::size_t>(y)];
        const auto run =
            std::partition_point(row.begin(), row.end(), [&](const ToneRun &one) { return one.end <= x; });
        const int tone = run == row.end() || run->begin > x ? 0
                         : run->tones == nullptr            ? run->tone
                                                            : run->tones[x - run->begin];
        return m_turned ? 255 - tone : tone;
    }
    /// Where they are solid, as rows were given. \pre plain()
    [[nodiscard]] BitPlane solid() const
    {
        BitPlane bits(m_width, height());
        for (int y = 0; y < bits.height; ++y) {
            for (const ToneRun &run : m_rows[static_cast<std::size_t>(y)]) {
                bits.set(y, run.begin, run.end);
            }
        }
        return bits;
    }
    /// Where they are half covered or more.
    [[nodiscard]] InkRuns ink() const
    {
        InkRuns ink(m_width);
        for (const auto &row : m_rows) {
            int first = 0, end = 0; // of the part that is open
            const auto add = [&](int from, int to, int tone) {
                if ((m_turned ? 255 - tone : tone) < 128 || from >= to) {
                    return;
                }
                if (from != end) {
                    if (first < end) {
                        ink.add(first, end);
                    }
                    first = from;
                }
                end = to;
            };
            int done = 0;
            for (const ToneRun &run : row) {
                add(done, run.begin, 0);
                if (run.tones == nullptr) {
                    add(run.begin, run.end, run.tone);
                }
                for (int x = run.begin; x < run.end && run.tones != nullptr; ++x) {
                    add(x, x + 1, run.tones[x - run.begin]);
                }
                done = run.end;
            }
            add(done, m_width, 0);
            if (first < end) {
                ink.add(first, end);
            }
            ink.end_row();
        }
        return ink;
    }

private:
    int m_width;
    bool m_turned, m_plain = true;
    std::vector<std::span<const ToneRun>> m_rows;
};

/// The nearest bare pixels of those of a row.
class NearestOfRow
{
public:
    /// \param far  no farther than that is looked
    NearestOfRow(const InkRuns &ink, int far)
        : m_ink(ink), m_far(far), m_at(static_cast<std::size_t>(2 * far + 1))
    {
    }
    void begin(int y)
    {
        m_y = y;
        std::fill(m_at.begin(), m_at.end(), std::size_t(0));
    }
    struct Found
    {
        int squared;  ///< of the distance between the middles; far² where none is nearer
        int x, y = 0; ///< of two as near, the nearer row's, the upper one's, the left one
    };
    /// Of columns [\p first, \p end). \pre they lie behind those looked at before in this row
    [[nodiscard]] const std::vector<Found> &find(int first, int end)
    {
        m_found.assign(static_cast<std::size_t>(end - first), {m_far * m_far, -1, -1});
        int farthest = m_far * m_far;
        int next[2] = {0, 1}; // rows away, upwards and downwards, that are to be looked at next
        for (int by = 0; by < m_far && by * by < farthest; ++by) {
            for (int side = 0; side < 2; ++side) {
                const int away = side == 0 ? -by : by;
                const int y = m_y + away;
                if (by < next[side] || y < 0 || y >= m_ink.height() ||
                    (away != 0 && m_ink.repeats_towards(m_y, away))) {
                    continue;
                }
                const int gap = static_cast<int>(std::sqrt(static_cast<double>(farthest - by * by)));
                if (const int pass = by == 0 ? 0 : m_ink.rows_without_bare(m_y, away, first, end, gap);
                    pass > 0) {
                    next[side] = by + pass;
                    continue;
                }
                look(y, m_at[static_cast<std::size_t>(away + m_far)], by * by, first, end);
            }
            farthest = 0;
            for (const Found &one : m_found) {
                farthest = std::max(farthest, one.squared);
            }
        }
        return m_found;
    }

private:
    /// By the bare pixels of row \p y, which is \p squared away from this one.
    void look(int y, std::size_t &at, int squared, int first, int end)
    {
        const auto row = m_ink.row(y);
        while (at < row.size() && row[at].end <= first) {
            ++at;
        }
        std::size_t run = at;
        Found *to = m_found.data();
        const auto take = [&](int gap, int x) {
            if (squared + gap * gap < to->squared) {
                *to = {squared + gap * gap, x, y};
            }
        };
        for (int x = first; x < end;) {
            if (run == row.size() || row[run].first > x) { // bare
                const int next = run == row.size() ? end : std::min(end, row[run].first);
                for (; x < next; ++x, ++to) {
                    take(0, x);
                }
                continue;
            }
            const int next = std::min(end, row[run].end);
            const int left = row[run].first > 0 ? row[run].first - 1 : -m_far - 1;
            const int right = row[run].end < m_ink.width() ? row[run].end : m_ink.width() + m_far;
            if (x - left < m_far || right - next < m_far) {
                for (; x < next; ++x, ++to) {
                    x - left <= right - x ? take(std::min(x - left, m_far), left)
                                          : take(std::min(right - x, m_far), right);
                }
            } else {
                to += next - x;
                x = next;
            }
            ++run;
        }
    }

    const InkRuns &m_ink;
    int m_far, m_y = 0;
    std::vector<std::size_t> m_at; ///< by row away: the first run that does not end before what is looked at
    std::vector<Found> m_found;
};

/// Counts \p count numbers on, up to \p most, which is below 255.
BICHROM_CPU_CLONES void one_further(std::uint8_t *numbers, int count, std::uint8_t most)
{
    for (int i = 0; i < count; ++i) {
        const auto next = static_cast<std::uint8_t>(numbers[i] + 1);
        numbers[i] = next < most ? next : most;
    }
}

/// How many rows away the next bare pixel of each column is, upwards or downwards, for the rows asked for of
/// some that are known.
class BareAbove
{
public:
    /// \param most  no more is counted; 1 to 254
    BareAbove(const InkRuns &ink, int first, int last, int most)
        : m_first(first), m_pad(most), m_stride(ink.width() + 2 * most),
          m_rows(static_cast<std::size_t>(m_stride) * static_cast<std::size_t>(last - first),
                 static_cast<std::uint8_t>(most))
    {
        const auto far = static_cast<std::uint8_t>(most);
        std::vector<std::uint8_t> away(static_cast<std::size_t>(ink.width()), far);
        for (int y = 0; y < last; ++y) {
            count(ink.row(y), away, far);
            if (y >= first) {
                std::copy(away.begin(), away.end(), at(0, y));
            }
        }
        std::fill(away.begin(), away.end(), far);
        for (int y = ink.height() - 1; y >= first; --y) {
            count(ink.row(y), away, far);
            if (y < last) {
                take_lesser(at(0, y), away.data(), away.size());
            }
        }
    }
    /// Of row \p y from column \p x on; most columns beside the plane have nothing.
    [[nodiscard]] std::uint8_t *at(int x, int y)
    {
        return m_rows.data() + static_cast<std::size_t>(y - m_first) * static_cast<std::size_t>(m_stride) +
               static_cast<std::size_t>(m_pad + x);
    }

private:
    /// One row further.
    static void count(std::span<const InkRuns::Run> row, std::vector<std::uint8_t> &away, std::uint8_t most)
    {
        std::uint8_t *const columns = away.data();
        int bare = 0;
        for (const InkRuns::Run &run : row) {
            std::fill(columns + bare, columns + run.first, std::uint8_t(0));
            one_further(columns + run.first, run.end - run.first, most);
            bare = run.end;
        }
        std::fill(columns + bare, columns + away.size(), std::uint8_t(0));
    }

    int m_first, m_pad, m_stride;
    std::vector<std::uint8_t> m_rows;
};

/// The least of away² + by² over \p count columns.
/// \param away     rows to the next bare pixel, by column
/// \param squares  by²
BICHROM_CPU_CLONES std::uint16_t least_square(const std::uint8_t *away, const std::uint16_t *squares,
                                              int count)
{
    std::uint16_t least = 65535;
    for (int i = 0; i < count; ++i) {
        const auto square = static_cast<std::uint16_t>(away[i] * away[i] + squares[i]);
        least = square < least ? square : least;
    }
    return least;
}

/// The tones of edges where all is bare or solid, by the exact distance to the nearest bare pixel.
class PlainEdges
{
public:
    static constexpr double widest = 100; ///< pixels of radius: squares are of 16 bits

    PlainEdges(const InkRuns &ink, int first, int last, double radius)
        : m_far(static_cast<int>(std::ceil(radius)) + 2), m_away(ink, first, last, m_far)
    {
        for (int by = -m_far; by <= m_far; ++by) {
            m_squares.push_back(static_cast<std::uint16_t>(by * by));
        }
        for (int squared = 0; squared <= 2 * m_far * m_far; ++squared) {
            m_tones.push_back(static_cast<std::uint8_t>(
                std::lround(std::clamp(std::sqrt(static_cast<double>(squared)) - radius, 0.0, 1.0) * 255.0)));
        }
    }
    [[nodiscard]] std::uint8_t tone(int x, int y)
    {
        return m_tones[least_square(m_away.at(x - m_far, y), m_squares.data(), 2 * m_far + 1)];
    }

private:
    int m_far;
    BareAbove m_away;
    std::vector<std::uint16_t> m_squares; ///< by column away, from the left
    std::vector<std::uint8_t> m_tones;    ///< by squared distance
};

/// Adds what comes from left to right to a row, turned where \p turned.
class RowOut
{
public:
    RowOut(RunPlane &to, bool turned, EdgePixels edges)
        : m_to(to), m_turned(turned), m_whole(edges == EdgePixels::Whole)
    {
    }
    void add(int first, int end, std::uint8_t tone)
    {
        if (!m_turned) {
            put(first, end, tone);
            return;
        }
        put(m_done, first, 255); // what is left out is bare
        put(first, end, static_cast<std::uint8_t>(255 - tone));
        m_done = end;
    }
    void end()
    {
        if (m_turned) {
            put(m_done, m_to.width(), 255);
        }
        m_to.end_row();
    }

private:
    void put(int first, int end, std::uint8_t tone)
    {
        if (m_whole) {
            tone = tone >= 128 ? 255 : 0;
        }
        if (first < end && tone != 0) {
            m_to.add({first, end, tone, nullptr});
        }
    }
    RunPlane &m_to;
    bool m_turned, m_whole;
    int m_done = 0;
};

/// \p made, whose rows begin with the first that is asked for and known, with bare rows around it as asked
/// for.
RunPlane in_place(RunPlane made, const RowsAround &rows, int from)
{
    const int above = std::max(rows.first, from) - rows.first;
    if (above == 0 && made.height() == rows.last - rows.first) {
        return made;
    }
    RunPlane all(rows.width, rows.last - rows.first);
    for (int y = 0; y < above; ++y) {
        all.end_row();
    }
    const int height = made.height();
    all.add_rows(std::make_shared<const RunPlane>(std::move(made)), 0, height);
    return all;
}

RunPlane choked(const RowsAround &rows, double radius, bool turned, EdgePixels edges)
{
    const int reach = rows_looked_at(radius);
    const int from = std::max(rows.top, rows.first - reach), to = std::min(rows.bottom, rows.last + reach);
    const RowTones tones(rows, from, to, turned);
    constexpr double by_bits = 64; // up to that radius they are quicker
    if (edges == EdgePixels::Whole && tones.plain() && radius <= by_bits && from < to && rows.width > 0) {
        const int first = std::clamp(rows.first, from, to) - from,
                  last = std::clamp(rows.last, from, to) - from;
        return in_place(turned ? spread(tones.solid(), first, last, radius)
                               : choke(tones.solid(), first, last, radius),
                        rows, from);
    }
    InkRuns ink = tones.ink();
    constexpr double worth = 24; // pixels from which on groups of rows are passed over
    if (radius >= worth) {
        ink.group();
    }
    // A pixel farther than this from every bare one is solid, one as near as that is bare.
    const double solid_from = radius + 1.5;
    const double bare_to = radius - 1.5;
    const std::vector<int> solid_gaps = gaps(solid_from, false);
    const std::vector<int> bare_gaps = gaps(bare_to, true);
    NearestOfRow nearest(ink, static_cast<int>(std::ceil(radius)) + 3);
    std::vector<InkRuns::Run> solid, maybe, spare;
    std::optional<PlainEdges> plain;
    if (tones.plain() && radius < PlainEdges::widest && !ink.none()) {
        plain.emplace(ink, std::clamp(rows.first, from, to) - from, std::clamp(rows.last, from, to) - from,
                      radius);
    }
    RunPlane made(rows.width, rows.last - rows.first);
    for (int y = rows.first; y < rows.last; ++y) {
        if (y < from || y >= to) {
            made.end_row();
            continue;
        }
        RowOut out(made, turned, edges);
        ink.narrowed(y - from, bare_gaps, maybe, spare);
        if (!maybe.empty()) {
            ink.narrowed(y - from, solid_gaps, solid, spare);
            nearest.begin(y - from);
        }
        const auto tone_of = [&](int x, const NearestOfRow::Found &found) {
            double distance = std::sqrt(static_cast<double>(found.squared));
            if (found.x < 0 || distance >= solid_from || distance <= bare_to) {
                return found.x < 0 || distance >= solid_from ? std::uint8_t(255) : std::uint8_t(0);
            }
            if (!tones.plain()) {
                distance = distance_to_edge(tones, x, y - from, found.x, found.y);
            }
            return static_cast<std::uint8_t>(std::lround(std::clamp(distance - radius, 0.0, 1.0) * 255.0));
        };
        const auto add_edge = [&](int first, int end) {
            for (int x = first; plain && x < end; ++x) {
                out.add(x, x + 1, plain->tone(x, y - from));
            }
            if (plain) {
                return;
            }
            const auto &found = nearest.find(first, end);
            for (int x = first; x < end; ++x) {
                out.add(x, x + 1, tone_of(x, found[static_cast<std::size_t>(x - first)]));
            }
        };
        std::size_t at = 0; // of the solid parts, which lie in those that may be
        for (const InkRuns::Run &run : maybe) {
            int x = run.first;
            for (; at < solid.size() && solid[at].first < run.end; ++at) {
                if (x < solid[at].first) {
                    add_edge(x, solid[at].first);
                }
                out.add(solid[at].first, solid[at].end, 255);
                x = solid[at].end;
            }
            if (x < run.end) {
                add_edge(x, run.end);
            }
        }
        out.end();
    }
    return made;
}

} // namespace

int rows_looked_at(double radius)
{
    return static_cast<int>(std::ceil(radius)) + 5; // where edges are grey, with what lies beside the nearest
}

RunPlane choke(const RowsAround &rows, double radius, EdgePixels edges)
{
    return choked(rows, radius, false, edges);
}

RunPlane spread(const RowsAround &rows, double radius, EdgePixels edges)
{
    return choked(rows, radius, true, edges);
}

} // namespace bichrom
