#include "core/line/trap.h"

#include "core/line/column_starts.h"
#include "core/line/edge_lengths.h"
#include "core/line/trap_disc.h"
#include "core/line/trap_group.h"
#include "core/line/trap_writer.h"
#include "core/line/tuple_rows.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <memory>
#include <optional>
#include <unordered_map>

namespace bichrom {

namespace {

constexpr double thin = 3;             // widths: a stroke narrower than that takes a third of itself
constexpr double look = thin * 1.4143; // a stroke at 45° is crossed over that length by rows and columns

/// A give, ready to be stamped.
struct Stamp
{
    std::size_t group = 0;
    std::uint8_t tone = 0;      ///< as the ring holds it: of what holds back one more
    double width = 0;           ///< pixels, of the whole width times share
    const Disc *disc = nullptr; ///< for all of the width
    double share = 1;
    bool holds = false;
};

class Finder
{
public:
    Finder(std::span<const RunPlane *const> plates, const TrapRules &rules, const TrapPart &part,
           TrapMeetings *meetings, std::optional<std::pair<int, int>> only)
        : m_rules(rules), m_part(part), m_meetings(meetings), m_only(only),
          m_tuples(width_of(plates), plates.size(), part.x),
          m_most(static_cast<int>(std::ceil(rules.settings().widest() * part.per_mm + 0.5))),
          m_writer(m_tuples, m_tile, plates.size(), part.back > 0, meetings)
    {
        find_draws_back(plates.size());
        const int height = height_of(plates);
        for (int y = 0; y < height; ++y) {
            m_tuples.add_row(plates, y);
        }
    }

    std::vector<TrapRows> find()
    {
        constexpr int tile = TrapWriter::tile_width;
        for (int left = 0; left < m_tuples.width(); left += tile) {
            find_within(left, std::min(m_tuples.width(), left + tile));
        }
        if (m_meetings != nullptr) {
            measure_edges();
        }
        return m_writer.take();
    }

private:
    static int width_of(std::span<const RunPlane *const> plates)
    {
        const auto some = std::find_if(plates.begin(), plates.end(), [](auto one) { return one != nullptr; });
        return some == plates.end() ? 0 : (*some)->width();
    }
    static int height_of(std::span<const RunPlane *const> plates)
    {
        const auto some = std::find_if(plates.begin(), plates.end(), [](auto one) { return one != nullptr; });
        return some == plates.end() ? 0 : (*some)->height();
    }

    /// The rows that seeds for those asked for may lie in, [first, last).
    [[nodiscard]] int first_row() const { return std::max(0, m_part.above - m_most - 1); }
    [[nodiscard]] int last_row() const
    {
        return std::min(m_tuples.height(), m_part.above + m_part.rows + m_most + 1);
    }

    /// Finds what changes in columns [\p left, \p right): what is stamped meanwhile, and the rows around it,
    /// stay in the processor's cache.
    void find_within(int left, int right)
    {
        m_left = left;
        m_from = std::max(0, left - m_most - 1);
        m_to = std::min(m_tuples.width(), right + m_most + 1);
        m_beside_row = -2;
        m_above.clear();
        m_here.clear();
        m_writer.begin(left, right);
        // Seeds of a row are known once the row under it has been looked at.
        int written = m_part.above;
        const int end = m_part.above + m_part.rows;
        const int ahead = look_of(m_rules.settings().widest() * m_part.per_mm);
        m_tile.take(m_tuples, std::max(0, m_from - ahead), std::min(m_tuples.width(), m_to + ahead), m_from);
        m_so_far.begin(m_tile, m_from, m_to, std::max(0, first_row() - ahead));
        m_ahead.begin(m_tile, m_from, m_to, m_so_far.row());
        for (int y = first_row(); y < last_row(); ++y) {
            m_ahead.go_to(std::min(y + ahead, m_tuples.height() - 1));
            if (y > first_row() && !m_tile.same(y, y - 1)) {
                look_down(y - 1);
            }
            m_so_far.go_to(y);
            look_along(y);
            for (; written < end && written + m_most < y; ++written) {
                m_writer.write(written);
            }
        }
        for (; written < end; ++written) {
            m_writer.write(written);
        }
    }

    // ---- what an edge asks for ----

    struct Edge
    {
        std::vector<Stamp> stamps;
        std::pair<int, int> pair{-1, -1}; ///< the lower number first
    };

    /// Finds the plates at whose ends something happens though no other begins: a black that holds its inks
    /// back, a base under its colours.
    void find_draws_back(std::size_t count)
    {
        m_draws_back.assign(count, 0);
        for (std::size_t one = 0; one < count; ++one) {
            for (std::size_t other = 0; other < count && m_draws_back[one] == 0; ++other) {
                std::vector<std::uint8_t> both(count), none(count);
                both[one] = both[other] = 255;
                m_draws_back[one] = m_rules.gives(both, none).empty() ? 0 : 255;
            }
        }
    }

    /// Whether anything can happen between the two, either way: a plate falls and another rises, or one
    /// changes that draws others back.
    [[nodiscard]] bool may_matter(std::span<const std::uint8_t> p, std::span<const std::uint8_t> q) const
    {
        int rises = 0, falls = 0, alone = 0;
        for (std::size_t i = 0; i < p.size(); ++i) {
            const int step = q[i] - p[i];
            rises = std::max(rises, step);
            falls = std::max(falls, -step);
            alone = std::max(alone, std::abs(step) & m_draws_back[i]);
        }
        return std::max(alone, std::min(rises, falls)) >= TrapRules::least_step;
    }

    /// What an edge asks for either way; null where nothing happens.
    struct Both
    {
        const Edge *onwards = nullptr, *back = nullptr; ///< of p towards q, of q towards p
        [[nodiscard]] bool any() const { return onwards != nullptr || back != nullptr; }
    };
    /// Between \p p and \p q.
    const Both &edge(std::uint32_t p, std::uint32_t q)
    {
        const std::uint64_t key = std::uint64_t(p) << 32 | q;
        Known &known = m_known[(p * 0x9e3779b1U ^ q * 0x85ebca6bU) >> (32 - known_bits)];
        if (known.key != key) {
            known = {key, {}};
            if (may_matter(m_tuples.tuple(p), m_tuples.tuple(q))) {
                known.both = {find_edge(p, q), find_edge(q, p)};
            }
        }
        return known.both;
    }

    const Edge *find_edge(std::uint32_t p, std::uint32_t q)
    {
        auto [at, is_new] = m_edges.try_emplace(std::uint64_t(p) << 32 | q);
        if (is_new) {
            at->second = make_edge(m_tuples.tuple(p), m_tuples.tuple(q));
        }
        return at->second.get();
    }

    std::unique_ptr<Edge> make_edge(std::span<const std::uint8_t> p, std::span<const std::uint8_t> q)
    {
        Edge made;
        const auto pair = m_rules.pair_at(p, q);
        made.pair = std::minmax(pair.first, pair.second);
        if (m_only && made.pair != *m_only) {
            return nullptr;
        }
        for (const TrapGive &give : m_rules.gives(p, q)) {
            const double width = give.width * give.share * m_part.per_mm;
            Stamp stamp;
            stamp.group = group_of(give);
            stamp.tone =
                give.holds ? static_cast<std::uint8_t>(std::min(254, int(give.tone)) + 1) : give.tone;
            stamp.width = width;
            stamp.disc = &disc_of(width);
            stamp.share = give.share;
            stamp.holds = give.holds;
            made.stamps.push_back(stamp);
        }
        if (made.stamps.empty() && made.pair.first < 0) {
            return nullptr;
        }
        return std::make_unique<Edge>(std::move(made));
    }

    std::size_t group_of(const TrapGive &give)
    {
        for (std::size_t i = 0; i < m_groups.size(); ++i) {
            const TrapGroup &group = *m_groups[i];
            if (group.plate == give.plate && group.cover == give.cover && group.threshold == give.threshold &&
                group.holds == give.holds) {
                return i;
            }
        }
        m_groups.push_back(
            std::make_unique<TrapGroup>(TrapGroup{give.plate, give.cover, give.threshold, give.holds,
                                                  TrapRing(m_left, TrapWriter::tile_width, 2 * m_most + 4)}));
        m_writer.add(*m_groups.back());
        return m_groups.size() - 1;
    }

    // ---- where edges are ----

    /// Neighbours in a row that something happens between.
    struct Beside
    {
        std::size_t span = 0; ///< the left one
        Both both;
    };

    /// Finds those of row \p y; a row like the one above has the same.
    void find_beside(int y)
    {
        if (y == m_beside_row + 1 && m_tile.same(y, m_beside_row)) {
            m_beside_row = y;
            return;
        }
        m_beside_row = y;
        m_beside.clear();
        const auto spans = m_tile.row(y);
        for (std::size_t i = m_tile.start(y); i + 1 < spans.size() && spans[i].end < m_to; ++i) {
            const Both &both = edge(spans[i].tuple, spans[i + 1].tuple);
            if (both.any()) {
                m_beside.push_back({i, both});
            }
        }
    }

    /// Neighbours within row \p y.
    void look_along(int y)
    {
        find_beside(y);
        const auto spans = m_tile.row(y);
        m_above.swap(m_here);
        m_here.clear();
        m_above_at = 0;
        for (const Beside &beside : m_beside) {
            const int x = spans[beside.span].end;
            if (const Edge *one = beside.both.onwards) {
                for (const Stamp &stamp : one->stamps) {
                    stamp.holds ? seed_beside(stamp, y, x, x - 1, beside.span)
                                : seed_beside(stamp, y, x - 1, x, beside.span + 1);
                }
            }
            if (const Edge *one = beside.both.back) {
                for (const Stamp &stamp : one->stamps) {
                    stamp.holds ? seed_beside(stamp, y, x - 1, x, beside.span + 1)
                                : seed_beside(stamp, y, x, x - 1, beside.span);
                }
            }
        }
    }

    /// Row \p y and the one below it.
    void look_down(int y)
    {
        for (const TupleChange &change : m_tile.changes(y + 1)) {
            const int begin = std::max(change.begin, m_from), end = std::min(change.end, m_to);
            if (begin >= end) {
                continue;
            }
            const Both &both = edge(m_tile.row(y)[change.above].tuple, m_tile.row(y + 1)[change.below].tuple);
            if (const Edge *one = both.onwards) {
                for (const Stamp &stamp : one->stamps) {
                    stamp.holds ? seed_under(stamp, begin, end, y + 1, y, change.above)
                                : seed_under(stamp, begin, end, y, y + 1, change.below);
                }
            }
            if (const Edge *one = both.back) {
                for (const Stamp &stamp : one->stamps) {
                    stamp.holds ? seed_under(stamp, begin, end, y, y + 1, change.below)
                                : seed_under(stamp, begin, end, y + 1, y, change.above);
                }
            }
        }
    }

    // ---- how long they are ----

    /// Whether row \p y is asked for.
    [[nodiscard]] bool counts_row(int y) const { return y >= m_part.above && y < m_part.above + m_part.rows; }

    /// Adds up the edges of the rows asked for.
    void measure_edges()
    {
        EdgeLengths lengths;
        for (int y = first_row(); y < last_row(); ++y) {
            const auto spans = m_tuples.row(y);
            for (std::size_t i = 0; i + 1 < spans.size(); ++i) {
                const Edge *one = edge(spans[i].tuple, spans[i + 1].tuple).onwards;
                if (one != nullptr && one->pair.first >= 0) {
                    lengths.column(one->pair, y, spans[i].end, counts_row(y) ? m_meetings : nullptr);
                }
            }
            if (y > first_row() && !m_tuples.same(y, y - 1)) {
                measure_down(lengths, y - 1);
            }
        }
    }

    void measure_down(EdgeLengths &lengths, int y)
    {
        const auto above = m_tuples.row(y), below = m_tuples.row(y + 1);
        TrapMeetings *to = counts_row(y) ? m_meetings : nullptr;
        std::size_t a = 0, b = 0;
        for (int x = 0; x < m_tuples.width();) {
            const int end = std::min(above[a].end, below[b].end);
            if (above[a].tuple != below[b].tuple) {
                const Edge *one = edge(above[a].tuple, below[b].tuple).onwards;
                if (one != nullptr && one->pair.first >= 0) {
                    lengths.row(one->pair, x, end, to);
                }
            }
            x = end;
            a += above[a].end == end ? 1 : 0;
            b += below[b].end == end ? 1 : 0;
        }
        lengths.end_row(to);
    }

    // ---- seeds ----

    [[nodiscard]] bool covered(const TrapGroup &group, std::uint32_t tuple) const
    {
        return m_tuples.tuple(tuple)[static_cast<std::size_t>(group.cover)] >= group.threshold;
    }

    /// Columns from \p x on in row \p y, to the left or right, that are covered; at most \p most. \p x lies
    /// in stretch \p at.
    [[nodiscard]] int run_along(const TrapGroup &group, int y, int x, int step, int most,
                                std::size_t at) const
    {
        const auto spans = m_tile.row(y);
        if (step > 0) {
            while (at < spans.size() && covered(group, spans[at].tuple)) {
                if (spans[at].end - x >= most || ++at == spans.size()) {
                    return most; // far enough, or the page ends there
                }
            }
            return at == 0 ? 0 : std::max(0, spans[at - 1].end - x);
        }
        while (covered(group, spans[at].tuple)) {
            const int begin = at == 0 ? 0 : spans[at - 1].end;
            if (x + 1 - begin >= most || at == 0) {
                return most;
            }
            --at;
        }
        return std::max(0, x + 1 - spans[at].end);
    }

    /// Whether columns [\p begin, \p end) stay as they are for \p most rows from \p row up, or to the page's
    /// end. \pre m_so_far is at \p row
    [[nodiscard]] bool goes_up(int row, int begin, int end, int most) const
    {
        const int since = std::max(0, row + 1 - most);
        return m_so_far.all_since(since, begin, end);
    }
    /// The same from \p row down. \pre m_ahead has gone that far
    [[nodiscard]] bool goes_down(int row, int begin, int end, int most) const
    {
        return m_ahead.row() >= std::min(row + most, m_tuples.height()) - 1 &&
               m_ahead.all_since(row, begin, end);
    }

    /// Rows around \p y, up and down, in which column \p x is covered: \p most where they are as many on one
    /// side, or together, or the page ends on one side.
    [[nodiscard]] int run_across(TrapGroup &group, int y, int x, int most, std::size_t hint)
    {
        if (group.columns.empty()) {
            group.columns.assign(static_cast<std::size_t>(m_tuples.width()), {0, -1});
        }
        auto &[top, bottom] = group.columns[static_cast<std::size_t>(x)];
        std::size_t at = hint;
        const auto is_covered = [&](int row) {
            at = m_tile.find_near(row, x, at);
            return covered(group, m_tile.row(row)[at].tuple);
        };
        if (y < top || y > bottom) {
            if (!is_covered(y)) {
                return 0;
            }
            top = bottom = y;
        }
        while (y - top + 1 < most && top > 0 && (m_tile.same(top - 1, top) || is_covered(top - 1))) {
            --top;
        }
        if (y - top + 1 >= most || top == 0) {
            return most;
        }
        const int last = m_tuples.height() - 1;
        at = hint;
        while (bottom - y + 1 < most && bottom < last &&
               (m_tile.same(bottom + 1, bottom) || is_covered(bottom + 1))) {
            ++bottom;
        }
        return bottom - y + 1 >= most || bottom == last ? most : std::min(most, bottom - top + 1);
    }

    /// The width that a stroke of the cover bears that is so long along its row and its column; \p most means
    /// that or more.
    [[nodiscard]] double borne(const Stamp &stamp, double width, int along, int down, int most) const
    {
        const double a = along >= most ? 1e9 : along, d = down >= most ? 1e9 : down;
        const double stroke = a * d / std::sqrt(a * a + d * d);
        if (stroke >= thin * width) {
            return width;
        }
        if (!m_rules.settings().under_thin && !stamp.holds) {
            return 0;
        }
        const double eighth = width / 8;
        return std::floor(stroke / thin / eighth) * eighth;
    }

    /// The width that holds at a place: that of a zone, when it lies in one.
    [[nodiscard]] double width_at(const Stamp &stamp, int x, int y) const
    {
        double width = stamp.width;
        const double mm_x = (m_part.x + x + 0.5) / m_part.per_mm - m_part.media_x;
        const double mm_y = (m_part.y + y + 0.5) / m_part.per_mm - m_part.media_y;
        for (const TrapZone &zone : m_rules.settings().zones) {
            const Rect &area = zone.area;
            if (zone.page == m_part.page && mm_x >= area.x && mm_x < area.x + area.width && mm_y >= area.y &&
                mm_y < area.y + area.height) {
                width = stamp.holds ? (zone.width > 0 ? stamp.width : 0)
                                    : zone.width * stamp.share * m_part.per_mm;
            }
        }
        return width;
    }

    [[nodiscard]] static int look_of(double width) { return static_cast<int>(std::ceil(look * width)) + 1; }
    /// How far to look across a stroke that goes on as far as is looked along it: then its width is known.
    [[nodiscard]] static int look_across(double width) { return static_cast<int>(std::ceil(thin * width)); }

    /// One pixel, that works on its neighbour \p on in the same row, which lies in its stretch \p at.
    void seed_beside(const Stamp &stamp, int y, int x, int on, std::size_t at)
    {
        const double width = m_rules.settings().zones.empty() ? stamp.width : width_at(stamp, x, y);
        if (width < 0.5) {
            return;
        }
        TrapGroup &group = *m_groups[stamp.group];
        const int most = look_of(width);
        const int along = run_along(group, y, on, on - x, most, at);
        const int across = along >= most ? look_across(width) : most;
        const int down = along > 0 && (goes_up(y, on, on + 1, across) || goes_down(y, on, on + 1, across))
                             ? across
                             : run_across(group, y, on, across, at);
        stamp_side(stamp, y, x, on - x, borne(stamp, width, along, down >= across ? most : down, most));
    }

    /// A disc around a pixel, where it reaches beyond it to the side of \p step: an edge's nearest pixel to
    /// any place lies straight under or over it, or has the edge on that side. What the seed above has
    /// stamped in the same way is left out.
    void stamp_side(const Stamp &stamp, int y, int x, int step, double width)
    {
        if (width < 0.5) {
            return;
        }
        const Disc &disc = width == stamp.width ? *stamp.disc : disc_of(width);
        while (m_above_at < m_above.size() && m_above[m_above_at].x < x - 2) {
            ++m_above_at;
        }
        const SideSeed *before = nullptr;
        for (std::size_t i = m_above_at; i < m_above.size() && m_above[i].x <= x + 2; ++i) {
            const SideSeed &one = m_above[i];
            if (one.stamp == &stamp && one.disc == &disc && one.step == step) {
                before = &one;
                break;
            }
        }
        m_here.push_back({x, step, &stamp, &disc});
        TrapRing &ring = m_groups[stamp.group]->ring;
        if (m_part.back > 0 && counts_row(y)) {
            step > 0 ? ring.stamp(y, x + 1 - m_part.back, x + 1, stamp.tone)
                     : ring.stamp(y, x, x + m_part.back, stamp.tone);
        }
        const auto &rows = before == nullptr ? disc.whole_side() : disc.new_side((before->x - x) * step);
        for (const DiscRow &row : rows) {
            if (counts_row(y + row.dy)) {
                step > 0 ? ring.stamp(y + row.dy, x + row.from, x + row.to + 1, stamp.tone)
                         : ring.stamp(y + row.dy, x - row.to, x - row.from + 1, stamp.tone);
            }
        }
    }

    /// Columns [\p begin, \p end) of row \p y, that work on those of row \p on, which lie in its stretch \p
    /// at.
    void seed_under(const Stamp &stamp, int begin, int end, int y, int on, std::size_t at)
    {
        if (m_rules.settings().zones.empty()) {
            seed_under(stamp, begin, end, y, on, at, stamp.width);
            return;
        }
        for (int x = begin; x < end;) {
            const double width = width_at(stamp, x, y);
            int next = x + 1;
            while (next < end && width_at(stamp, next, y) == width) {
                ++next;
            }
            seed_under(stamp, x, next, y, on, at, width);
            x = next;
        }
    }

    void seed_under(const Stamp &stamp, int begin, int end, int y, int on, std::size_t at, double width)
    {
        if (width < 0.5) {
            return;
        }
        const TrapGroup &group = *m_groups[stamp.group];
        const int most = look_of(width);
        // The stretch is of one tuple in its row, so that it is covered from end to end or not at all.
        const int right = run_along(group, on, begin, 1, most, at);
        const int along =
            right >= most ? most : std::min(most, right + run_along(group, on, begin, -1, most, at) - 1);
        if (right > 0 && (on > y ? goes_down(on, begin, end, most) : goes_up(on, begin, end, most))) {
            stamp_under(stamp, y, begin, end, on - y, borne(stamp, width, along, most, most));
            return;
        }
        seed_deep(stamp, begin, end, y, on, 0, {width, along, most}, at);
    }

    struct Stroke
    {
        double width;
        int along, most;
    };

    /// Goes on down from row \p on, \p count rows of which are covered, and stamps what it finds on the way.
    void seed_deep(const Stamp &stamp, int begin, int end, int y, int on, int count, const Stroke &stroke,
                   std::size_t at)
    {
        const TrapGroup &group = *m_groups[stamp.group];
        const int step = on - y;
        for (; count < stroke.most; ++count) {
            const int row = on + count * step;
            if (row < 0 || row >= m_tuples.height()) {
                count = stroke.most;
                break;
            }
            if (count > 0 && m_tile.same(row, row - step)) {
                continue;
            }
            const auto spans = m_tile.row(row);
            at = m_tile.find_near(row, begin, at);
            bool all = true;
            for (std::size_t i = at; all; ++i) {
                all = covered(group, spans[i].tuple);
                if (spans[i].end >= end) {
                    break;
                }
            }
            if (all) {
                continue;
            }
            // Some columns end here, others go on.
            for (int x = begin; x < end; ++at) {
                const int next = std::min(end, spans[at].end);
                if (covered(group, spans[at].tuple)) {
                    int last = next;
                    while (last < end && covered(group, spans[at + 1].tuple)) {
                        ++at;
                        last = std::min(end, spans[at].end);
                    }
                    seed_deep(stamp, x, last, y, on, count + 1, stroke, at);
                    x = last;
                } else {
                    stamp_under(stamp, y, x, next, step,
                                borne(stamp, stroke.width, stroke.along, count, stroke.most));
                    x = next;
                }
            }
            return;
        }
        stamp_under(stamp, y, begin, end, step, borne(stamp, stroke.width, stroke.along, count, stroke.most));
    }

    /// Discs around columns [\p begin, \p end), where they reach beyond row \p y to the side of \p step.
    void stamp_under(const Stamp &stamp, int y, int begin, int end, int step, double width)
    {
        if (width < 0.5) {
            return;
        }
        const Disc &disc = width == stamp.width ? *stamp.disc : disc_of(width);
        TrapRing &ring = m_groups[stamp.group]->ring;
        for (int away = 1 - m_part.back; away <= 0; ++away) {
            const int row = y + away * step;
            if (counts_row(row)) {
                ring.stamp(row, begin, end, stamp.tone);
            }
        }
        for (int away = 1; away <= disc.radius(); ++away) {
            const int row = y + away * step;
            if (counts_row(row)) {
                const int half = disc.half[static_cast<std::size_t>(away)];
                ring.stamp(row, begin - half, end + half, stamp.tone);
            }
        }
    }

    const Disc &disc_of(double width)
    {
        const auto key = static_cast<int>(std::lround(width * 64));
        auto [at, is_new] = m_discs.try_emplace(key);
        if (is_new) {
            at->second = make_disc(key / 64.0); // the same whoever asks first
        }
        return at->second;
    }

    /// A seed of a row that worked on its side.
    struct SideSeed
    {
        int x, step;
        const Stamp *stamp;
        const Disc *disc;
    };
    const TrapRules &m_rules;
    TrapPart m_part;
    TrapMeetings *m_meetings;
    std::optional<std::pair<int, int>> m_only;
    TupleRows m_tuples;
    TupleColumns m_tile; ///< of the columns looked at, and as many on either side as strokes are looked along
    int m_most;          ///< rows that a seed reaches
    TrapWriter m_writer;
    std::vector<std::uint8_t> m_draws_back; ///< by plate: 255 where its end alone matters, else 0
    std::unordered_map<std::uint64_t, std::unique_ptr<Edge>> m_edges;
    /// What edge() said last, by a hash of what it was asked.
    struct Known
    {
        std::uint64_t key = ~std::uint64_t(0);
        Both both;
    };
    static constexpr int known_bits = 12;
    std::vector<Known> m_known = std::vector<Known>(std::size_t(1) << known_bits);
    std::vector<std::unique_ptr<TrapGroup>> m_groups;
    std::map<int, Disc> m_discs;
    ColumnStarts m_so_far, m_ahead;        ///< as of the row looked at, and of one further down
    std::vector<SideSeed> m_above, m_here; ///< of the row before, and of this one, from left to right
    std::size_t m_above_at = 0;
    std::vector<Beside> m_beside; ///< of row m_beside_row
    int m_beside_row = -2;
    int m_left = 0;           ///< of the columns being written
    int m_from = 0, m_to = 0; ///< columns whose seeds may reach them
};

} // namespace

int trap_reach(const TrapSettings &traps, Dpi resolution)
{
    if (traps.widest() <= 0) {
        return 0;
    }
    const double width = traps.widest() * resolution.value / millimetres_per_inch;
    return static_cast<int>(std::ceil(width + 0.5)) + static_cast<int>(std::ceil(look * width)) + 4;
}

std::vector<TrapRows> find_traps(std::span<const RunPlane *const> plates, const TrapRules &rules,
                                 const TrapPart &part, TrapMeetings *meetings,
                                 std::optional<std::pair<int, int>> only)
{
    std::vector<TrapRows> none(plates.size());
    const auto inked = std::count_if(plates.begin(), plates.end(),
                                     [](const RunPlane *one) { return one != nullptr && !one->bare(); });
    if (inked < 2 || part.rows <= 0) {
        for (TrapRows &rows : none) {
            rows.first.assign(static_cast<std::size_t>(part.rows) + 1, 0);
        }
        return none; // an edge has ink on either side
    }
    return Finder(plates, rules, part, meetings, only).find();
}

} // namespace bichrom
