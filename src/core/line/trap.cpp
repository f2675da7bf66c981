#include "core/line/trap.h"

#include "core/line/edge_lengths.h"
#include "core/line/trap_ring.h"
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

/// How wide a disc is, by its rows from the middle down: columns on either side.
struct Disc
{
    std::vector<int> half;
    [[nodiscard]] int radius() const { return static_cast<int>(half.size()) - 1; }
};

/// Pixels whose centres lie within \p width of the edge of the pixel in the middle.
Disc make_disc(double width)
{
    const double reach = width + 0.5;
    Disc disc;
    for (int dy = 0; dy <= static_cast<int>(std::floor(reach)); ++dy) {
        disc.half.push_back(static_cast<int>(std::floor(std::sqrt(reach * reach - double(dy) * dy))));
    }
    return disc;
}

/// Edges at which the same plate changes in the same way.
struct Group
{
    int plate, cover;
    std::uint8_t threshold;
    bool holds;
    TrapRing ring;
    /// By column, the rows that are known to be covered, the first and the last: what one seed has looked at
    /// the next one in that column need not. Empty until it is asked for.
    std::vector<std::pair<int, int>> columns{};
};

/// A give, ready to be stamped.
struct Stamp
{
    std::size_t group = 0;
    std::uint8_t tone = 0; ///< as the ring holds it: of what holds back one more
    double width = 0;      ///< pixels, of the whole width times share
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
          m_most(static_cast<int>(std::ceil(rules.settings().widest() * part.per_mm + 0.5)))
    {
        find_draws_back(plates.size());
        const int height = height_of(plates);
        for (int y = 0; y < height; ++y) {
            m_tuples.add_row(plates, y);
        }
        m_made.resize(plates.size());
        m_more.resize(plates.size());
        m_less.resize(plates.size());
    }

    std::vector<TrapRows> find()
    {
        const int height = m_tuples.height();
        const int first = std::max(0, m_part.above - m_most - 1);
        const int last = std::min(height, m_part.above + m_part.rows + m_most + 1);
        // Seeds of a row are known once the row under it has been looked at.
        int written = m_part.above;
        const int end = m_part.above + m_part.rows;
        for (int y = first; y < last; ++y) {
            look_along(y);
            if (y > first && !m_tuples.same(y, y - 1)) {
                look_down(y - 1);
            }
            for (; written < end && written + m_most < y; ++written) {
                write(written);
            }
        }
        for (; written < end; ++written) {
            write(written);
        }
        if (m_meetings != nullptr) {
            for (auto &[pair, meeting] : m_counts) {
                TrapMeeting &to = (*m_meetings)[pair];
                to.edge += meeting.edge;
                to.first += meeting.first;
                to.second += meeting.second;
            }
        }
        return std::move(m_made);
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

    /// Of p towards q; null when nothing happens there.
    const Edge *edge(std::uint32_t p, std::uint32_t q)
    {
        const std::uint64_t key = std::uint64_t(p) << 32 | q;
        if (key == m_last_key) {
            return m_last_edge;
        }
        const auto a = m_tuples.tuple(p), b = m_tuples.tuple(q);
        const Edge *found = nullptr;
        if (may_matter(a, b)) {
            auto [at, is_new] = m_edges.try_emplace(key);
            if (is_new) {
                at->second = make_edge(a, b);
            }
            if (at->second && (!at->second->stamps.empty() || at->second->pair.first >= 0)) {
                found = at->second.get();
            }
        }
        m_last_key = key;
        m_last_edge = found;
        return found;
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
            const Group &group = *m_groups[i];
            if (group.plate == give.plate && group.cover == give.cover && group.threshold == give.threshold &&
                group.holds == give.holds) {
                return i;
            }
        }
        m_groups.push_back(std::make_unique<Group>(Group{give.plate, give.cover, give.threshold, give.holds,
                                                         TrapRing(m_tuples.width(), 2 * m_most + 4)}));
        return m_groups.size() - 1;
    }

    // ---- where edges are ----

    /// Neighbours in a row that something happens between.
    struct Beside
    {
        std::size_t span = 0; ///< the left one
        const Edge *onwards = nullptr, *back = nullptr;
    };

    /// Finds those of row \p y; a row like the one above has the same.
    void find_beside(int y)
    {
        if (y == m_beside_row + 1 && m_tuples.same(y, m_beside_row)) {
            m_beside_row = y;
            return;
        }
        m_beside_row = y;
        m_beside.clear();
        const auto spans = m_tuples.row(y);
        for (std::size_t i = 0; i + 1 < spans.size(); ++i) {
            if (may_matter(m_tuples.tuple(spans[i].tuple), m_tuples.tuple(spans[i + 1].tuple))) {
                const Beside one{i, edge(spans[i].tuple, spans[i + 1].tuple),
                                 edge(spans[i + 1].tuple, spans[i].tuple)};
                if (one.onwards != nullptr || one.back != nullptr) {
                    m_beside.push_back(one);
                }
            }
        }
    }

    /// Neighbours within row \p y.
    void look_along(int y)
    {
        find_beside(y);
        const auto spans = m_tuples.row(y);
        m_above.swap(m_here);
        m_here.clear();
        m_above_at = 0;
        for (const Beside &beside : m_beside) {
            const int x = spans[beside.span].end;
            if (const Edge *one = beside.onwards) {
                for (const Stamp &stamp : one->stamps) {
                    seed_beside(stamp, y, stamp.holds ? x : x - 1, stamp.holds ? x - 1 : x, beside.span);
                }
                if (m_meetings != nullptr && one->pair.first >= 0) {
                    m_lengths.column(one->pair, y, x, counts_row(y) ? &m_counts : nullptr);
                }
            }
            if (const Edge *one = beside.back) {
                for (const Stamp &stamp : one->stamps) {
                    seed_beside(stamp, y, stamp.holds ? x - 1 : x, stamp.holds ? x : x - 1, beside.span);
                }
            }
        }
    }

    /// Row \p y and the one below it.
    void look_down(int y)
    {
        const auto above = m_tuples.row(y), below = m_tuples.row(y + 1);
        std::size_t a = 0, b = 0;
        for (int x = 0; x < m_tuples.width();) {
            const int end = std::min(above[a].end, below[b].end);
            const std::uint32_t p = above[a].tuple, q = below[b].tuple;
            if (p != q) {
                const Edge *one = edge(p, q);
                if (one != nullptr) {
                    for (const Stamp &stamp : one->stamps) {
                        stamp.holds ? seed_under(stamp, x, end, y + 1, y)
                                    : seed_under(stamp, x, end, y, y + 1);
                    }
                }
                if (m_meetings != nullptr && one != nullptr && one->pair.first >= 0) {
                    m_lengths.row(one->pair, x, end, counts_row(y) ? &m_counts : nullptr);
                }
                if (const Edge *other = edge(q, p)) {
                    for (const Stamp &stamp : other->stamps) {
                        stamp.holds ? seed_under(stamp, x, end, y, y + 1)
                                    : seed_under(stamp, x, end, y + 1, y);
                    }
                }
            }
            x = end;
            a += above[a].end == end ? 1 : 0;
            b += below[b].end == end ? 1 : 0;
        }
        m_lengths.end_row(counts_row(y) ? &m_counts : nullptr);
    }

    /// Whether row \p y is asked for.
    [[nodiscard]] bool counts_row(int y) const { return y >= m_part.above && y < m_part.above + m_part.rows; }

    // ---- seeds ----

    [[nodiscard]] bool covered(const Group &group, std::uint32_t tuple) const
    {
        return m_tuples.tuple(tuple)[static_cast<std::size_t>(group.cover)] >= group.threshold;
    }

    /// Columns from \p x on in row \p y, to the left or right, that are covered; at most \p most.
    [[nodiscard]] int run_along(const Group &group, int y, int x, int step, int most, std::size_t hint) const
    {
        const auto spans = m_tuples.row(y);
        std::size_t at = m_tuples.find_near(y, x, hint);
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

    /// Rows around \p y, up and down, in which column \p x is covered: \p most where they are as many on one
    /// side, or together, or the page ends on one side.
    [[nodiscard]] int run_across(Group &group, int y, int x, int most, std::size_t hint)
    {
        if (group.columns.empty()) {
            group.columns.assign(static_cast<std::size_t>(m_tuples.width()), {0, -1});
        }
        auto &[top, bottom] = group.columns[static_cast<std::size_t>(x)];
        std::size_t at = hint;
        const auto is_covered = [&](int row) {
            at = m_tuples.find_near(row, x, at);
            return covered(group, m_tuples.row(row)[at].tuple);
        };
        if (y < top || y > bottom) {
            if (!is_covered(y)) {
                return 0;
            }
            top = bottom = y;
        }
        while (y - top + 1 < most && top > 0 && (m_tuples.same(top - 1, top) || is_covered(top - 1))) {
            --top;
        }
        if (y - top + 1 >= most || top == 0) {
            return most;
        }
        const int last = m_tuples.height() - 1;
        at = hint;
        while (bottom - y + 1 < most && bottom < last &&
               (m_tuples.same(bottom + 1, bottom) || is_covered(bottom + 1))) {
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

    /// One pixel, that works on its neighbour in the same row.
    void seed_beside(const Stamp &stamp, int y, int x, int on, std::size_t hint)
    {
        const double width = m_rules.settings().zones.empty() ? stamp.width : width_at(stamp, x, y);
        if (width < 0.5) {
            return;
        }
        Group &group = *m_groups[stamp.group];
        const int most = look_of(width);
        const int along = run_along(group, y, on, on - x, most, hint);
        const int across = along >= most ? look_across(width) : most;
        const int down = run_across(group, y, on, across, hint);
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
        const Disc &disc = disc_of(width);
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
        const int radius = disc.radius();
        const int first = std::max(-radius, m_part.above - y);
        const int last = std::min(radius, m_part.above + m_part.rows - 1 - y);
        for (int dy = first; dy <= last; ++dy) {
            int half = disc.half[static_cast<std::size_t>(std::abs(dy))];
            int from = 1; // columns away from the seed
            if (before != nullptr && std::abs(dy + 1) <= radius) {
                // The stretch of the one above, from its own neighbour on, at most two columns off.
                const int shift = (before->x - x) * step;
                const int done = disc.half[static_cast<std::size_t>(std::abs(dy + 1))] + shift;
                if (shift <= 0) {
                    from = std::max(from, done + 1);
                } else if (half <= done) {
                    half = std::min(half, shift);
                }
            }
            if (dy == 0 && m_part.back > 0) {
                step > 0 ? ring.stamp(y, x + 1 - m_part.back, x + 1, stamp.tone)
                         : ring.stamp(y, x, x + m_part.back, stamp.tone);
            }
            if (from <= half) {
                step > 0 ? ring.stamp(y + dy, x + from, x + half + 1, stamp.tone)
                         : ring.stamp(y + dy, x - half, x - from + 1, stamp.tone);
            }
        }
    }

    /// Columns [\p begin, \p end) of row \p y, that work on those of row \p on.
    void seed_under(const Stamp &stamp, int begin, int end, int y, int on)
    {
        if (m_rules.settings().zones.empty()) {
            seed_under(stamp, begin, end, y, on, stamp.width);
            return;
        }
        for (int x = begin; x < end;) {
            const double width = width_at(stamp, x, y);
            int next = x + 1;
            while (next < end && width_at(stamp, next, y) == width) {
                ++next;
            }
            seed_under(stamp, x, next, y, on, width);
            x = next;
        }
    }

    void seed_under(const Stamp &stamp, int begin, int end, int y, int on, double width)
    {
        if (width < 0.5) {
            return;
        }
        const Group &group = *m_groups[stamp.group];
        const int most = look_of(width);
        // The stretch is of one tuple in its row, so that it is covered from end to end or not at all.
        const std::size_t hint = m_tuples.find(on, begin);
        const int right = run_along(group, on, begin, 1, most, hint);
        const int along =
            right >= most ? most : std::min(most, right + run_along(group, on, begin, -1, most, hint) - 1);
        seed_deep(stamp, begin, end, y, on, 0, {width, along, most});
    }

    struct Stroke
    {
        double width;
        int along, most;
    };

    /// Goes on down from row \p on, \p count rows of which are covered, and stamps what it finds on the way.
    void seed_deep(const Stamp &stamp, int begin, int end, int y, int on, int count, const Stroke &stroke)
    {
        const Group &group = *m_groups[stamp.group];
        const int step = on - y;
        std::size_t at = m_tuples.find(on, begin);
        for (; count < stroke.most; ++count) {
            const int row = on + count * step;
            if (row < 0 || row >= m_tuples.height()) {
                count = stroke.most;
                break;
            }
            if (count > 0 && m_tuples.same(row, row - step)) {
                continue;
            }
            const auto spans = m_tuples.row(row);
            at = m_tuples.find_near(row, begin, at);
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
                    seed_deep(stamp, x, last, y, on, count + 1, stroke);
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
        const Disc &disc = disc_of(width);
        TrapRing &ring = m_groups[stamp.group]->ring;
        for (int away = 1 - m_part.back; away <= 0; ++away) {
            const int row = y + away * step;
            if (row >= m_part.above && row < m_part.above + m_part.rows) {
                ring.stamp(row, begin, end, stamp.tone);
            }
        }
        for (int away = 1; away <= disc.radius(); ++away) {
            const int row = y + away * step;
            if (row >= m_part.above && row < m_part.above + m_part.rows) {
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

    // ---- what comes of it ----

    TrapRing &line(std::vector<std::unique_ptr<TrapRing>> &lines, int plate)
    {
        auto &one = lines[static_cast<std::size_t>(plate)];
        if (!one) {
            one = std::make_unique<TrapRing>(m_tuples.width(), 1);
        }
        return *one;
    }

    void write(int y)
    {
        const auto spans = m_tuples.row(y);
        for (const auto &each : m_groups) {
            Group &group = *each;
            group.ring.empty_row(y, [&](int begin, int end, const std::uint8_t *tones) {
                std::size_t at = m_tuples.find(y, begin);
                for (int x = begin; x < end; ++at) {
                    const int next = std::min(end, spans[at].end);
                    const auto tuple = m_tuples.tuple(spans[at].tuple);
                    const std::uint8_t own = tuple[static_cast<std::size_t>(group.plate)];
                    if (tuple[static_cast<std::size_t>(group.cover)] >= group.threshold) {
                        put(group, own, x, next, tones);
                    } else if (m_part.back > 0) {
                        put_back(group, own, x, next, tones);
                    }
                    x = next;
                }
            });
        }
        for (std::size_t plate = 0; plate < m_made.size(); ++plate) {
            TrapRows &rows = m_made[plate];
            write_plate(plate, rows);
            rows.first.push_back(rows.runs.size());
        }
    }

    /// Stamped \p tones that change a plate which has \p own in columns [\p begin, \p end).
    void put(const Group &group, std::uint8_t own, int begin, int end, const std::uint8_t *tones)
    {
        for (int x = begin; x < end;) {
            const std::uint8_t tone = tones[x];
            int next = x + 1;
            while (next < end && tones[next] == tone) {
                ++next;
            }
            if (tone != 0 && !group.holds && tone > own) {
                line(m_more, group.plate).stamp(0, x, next, tone);
                if (m_meetings != nullptr) {
                    TrapMeeting &meeting = m_counts[std::minmax(group.plate, group.cover)];
                    (group.plate < group.cover ? meeting.first : meeting.second) +=
                        static_cast<std::uint64_t>(next - x);
                }
            }
            if (tone != 0 && group.holds && tone - 1 < own) {
                line(m_less, group.plate).stamp(0, x, next, tone);
            }
            x = next;
        }
    }

    /// Stamped \p tones that the plate has anyway.
    void put_back(const Group &group, std::uint8_t own, int begin, int end, const std::uint8_t *tones)
    {
        for (int x = begin; x < end; ++x) {
            if (tones[x] != 0 && tones[x] - (group.holds ? 1 : 0) == own) {
                line(group.holds ? m_less : m_more, group.plate).stamp(0, x, x + 1, tones[x]);
            }
        }
    }

    void write_plate(std::size_t plate, TrapRows &rows)
    {
        const std::size_t first = rows.first.back();
        const auto put_run = [&](const TrapRun &run) {
            if (rows.runs.size() > first && rows.runs.back().end == run.begin &&
                rows.runs.back().tone == run.tone && rows.runs.back().less == run.less) {
                rows.runs.back().end = run.end;
            } else {
                rows.runs.push_back(run);
            }
        };
        const auto add = [&](int begin, int end, std::uint8_t tone) { put_run({begin, end, tone, false}); };
        const auto add_less = [&](int begin, int end, std::uint8_t stamped) {
            put_run({begin, end, static_cast<std::uint8_t>(stamped - 1), true});
        };
        auto &more = m_more[plate];
        auto &less = m_less[plate];
        const auto each_run = [](int begin, int end, const std::uint8_t *tones, const auto &take) {
            for (int x = begin; x < end;) {
                int next = x + 1;
                while (next < end && tones[next] == tones[x]) {
                    ++next;
                }
                if (tones[x] != 0) {
                    take(x, next, tones[x]);
                }
                x = next;
            }
        };
        if (more && less) {
            // What spreads counts before what draws back: two edges that meet there.
            std::vector<TrapRun> spread;
            more->empty_row(0, [&](int begin, int end, const std::uint8_t *tones) {
                each_run(begin, end, tones, [&](int from, int to, std::uint8_t tone) {
                    spread.push_back({from, to, tone, false});
                });
            });
            std::size_t at = 0;
            const auto until = [&](int column) {
                for (; at < spread.size() && spread[at].begin < column; ++at) {
                    add(spread[at].begin, spread[at].end, spread[at].tone);
                }
            };
            less->empty_row(0, [&](int begin, int end, const std::uint8_t *tones) {
                each_run(begin, end, tones, [&](int from, int to, std::uint8_t tone) {
                    for (int x = from; x < to;) {
                        until(x + 1);
                        const int taken = at == 0 ? 0 : spread[at - 1].end;
                        x = std::max(x, std::min(to, taken));
                        const int next = std::min(to, at < spread.size() ? spread[at].begin : to);
                        if (x < next) {
                            add_less(x, next, tone);
                            x = next;
                        }
                    }
                });
            });
            until(m_tuples.width());
            return;
        }
        if (more) {
            more->empty_row(
                0, [&](int begin, int end, const std::uint8_t *tones) { each_run(begin, end, tones, add); });
        }
        if (less) {
            less->empty_row(0, [&](int begin, int end, const std::uint8_t *tones) {
                each_run(begin, end, tones, add_less);
            });
        }
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
    int m_most;                             ///< rows that a seed reaches
    std::vector<std::uint8_t> m_draws_back; ///< by plate: 255 where its end alone matters, else 0
    std::unordered_map<std::uint64_t, std::unique_ptr<Edge>> m_edges;
    std::uint64_t m_last_key = ~std::uint64_t(0);
    const Edge *m_last_edge = nullptr;
    std::vector<std::unique_ptr<Group>> m_groups;
    std::map<int, Disc> m_discs;
    std::vector<SideSeed> m_above, m_here; ///< of the row before, and of this one, from left to right
    std::size_t m_above_at = 0;
    std::vector<Beside> m_beside; ///< of row m_beside_row
    int m_beside_row = -2;
    std::vector<std::unique_ptr<TrapRing>> m_more, m_less; ///< by plate, the row being written
    std::vector<TrapRows> m_made;
    EdgeLengths m_lengths;
    TrapMeetings m_counts;
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
