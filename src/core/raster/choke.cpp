#include "core/raster/choke.h"

#include "core/base/units.h"
#include "core/raster/edge_distance.h"
#include "core/raster/ink_runs.h"
#include "core/raster/tone_rows.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <span>
#include <vector>

namespace bichrom {

namespace {

Plane inverted(const Plane &plane)
{
    Plane out = plane;
    for (std::uint8_t &value : out.pixels) {
        value = static_cast<std::uint8_t>(255 - value);
    }
    return out;
}

/// A plane as distance_to_edge() looks at it.
struct PlaneTones
{
    const Plane &plane;
    [[nodiscard]] int width() const { return plane.width; }
    [[nodiscard]] int height() const { return plane.height; }
    [[nodiscard]] int at(int x, int y) const { return plane.at(x, y); }
};

/// Looks for the nearest bare pixel, along a row from the left.
class NearestBare
{
public:
    struct Found
    {
        bool any = false;
        int x = 0, y = 0;
        int squared = 0; ///< of the distance between the middles
    };

    NearestBare(const InkRuns &ink, int far)
        : m_ink(ink), m_far(far), m_at(static_cast<std::size_t>(2 * far + 1))
    {
    }

    void begin(int y)
    {
        m_y = y;
        std::fill(m_at.begin(), m_at.end(), std::size_t(0));
    }

    /// \param x  no less than before
    [[nodiscard]] Found find(int x)
    {
        Found best;
        best.squared = m_far * m_far;
        for (int by = 0; by <= m_far && by * by < best.squared; ++by) {
            for (const int dy : {-by, by}) {
                const int y = m_y + dy;
                if (y < 0 || y >= m_ink.height() || (by == 0 && dy == by && best.any && best.y == m_y)) {
                    continue;
                }
                const auto row = m_ink.row(y);
                std::size_t &at = m_at[static_cast<std::size_t>(dy + m_far)];
                while (at < row.size() && row[at].end <= x) {
                    ++at;
                }
                int column = x;
                if (at < row.size() && row[at].first <= x) {
                    const bool left = row[at].first > 0;
                    const bool right = row[at].end < m_ink.width();
                    if (!left && !right) {
                        continue;
                    }
                    const int to_left = left ? x - row[at].first + 1 : m_far;
                    const int to_right = right ? row[at].end - x : m_far;
                    column = to_left <= to_right ? x - to_left : x + to_right;
                }
                const int squared = (column - x) * (column - x) + dy * dy;
                if (squared < best.squared) {
                    best = {true, column, y, squared};
                }
            }
        }
        return best;
    }

private:
    const InkRuns &m_ink;
    int m_far;
    int m_y = 0;
    std::vector<std::size_t> m_at; ///< the run looked at last, by row
};

/// Half widths of a disc's rows, from the middle one outwards.
std::vector<int> disc_rows(double radius)
{
    std::vector<int> half;
    for (int dy = 0; dy <= static_cast<int>(radius); ++dy) {
        half.push_back(static_cast<int>(std::sqrt(radius * radius - static_cast<double>(dy) * dy)));
    }
    return half;
}

} // namespace

Plane choke(const Plane &plane, double radius)
{
    if (!(radius > 0) || plane.pixels.empty()) {
        return plane;
    }
    const InkRuns ink(plane);
    if (ink.all() || ink.none()) { // no edge
        Plane even(plane.width, plane.height);
        std::fill(even.pixels.begin(), even.pixels.end(), ink.all() ? std::uint8_t(255) : std::uint8_t(0));
        return even;
    }
    // A pixel farther than this from every bare one is solid, one as near as that is bare; between lies the
    // edge, and only there distances are looked for.
    const double solid_from = radius + 1.5;
    const double bare_to = radius - 1.5;
    const std::vector<int> solid_gaps = gaps(solid_from, false);
    const std::vector<int> bare_gaps = gaps(bare_to, true);
    const int far = static_cast<int>(std::ceil(radius)) + 3;
    Plane result(plane.width, plane.height);
    std::vector<InkRuns::Run> solid;
    std::vector<InkRuns::Run> maybe;
    std::vector<InkRuns::Run> spare;
    NearestBare nearest(ink, far);
    for (int y = 0; y < plane.height; ++y) {
        const auto row = ink.row(y);
        if (row.empty()) {
            continue;
        }
        ink.narrowed(y, bare_gaps, maybe, spare);
        if (maybe.empty()) {
            continue;
        }
        ink.narrowed(y, solid_gaps, solid, spare);
        std::uint8_t *line = result.row(y).data();
        for (const InkRuns::Run &run : solid) {
            std::fill(line + run.first, line + run.end, std::uint8_t(255));
        }
        nearest.begin(y);
        std::size_t at = 0; // of the solid runs
        for (const InkRuns::Run &run : maybe) {
            for (int x = run.first; x < run.end; ++x) {
                while (at < solid.size() && solid[at].end <= x) {
                    ++at;
                }
                if (at < solid.size() && solid[at].first <= x) {
                    x = solid[at].end - 1;
                    continue;
                }
                const auto found = nearest.find(x);
                const double distance = std::sqrt(static_cast<double>(found.squared));
                if (!found.any || distance >= solid_from) {
                    line[x] = 255;
                } else if (distance > bare_to) {
                    const double edge = distance_to_edge(PlaneTones{plane}, x, y, found.x, found.y);
                    line[x] =
                        static_cast<std::uint8_t>(std::lround(std::clamp(edge - radius, 0.0, 1.0) * 255.0));
                }
            }
        }
    }
    return result;
}

Plane spread(const Plane &plane, double radius)
{
    return radius > 0 ? inverted(choke(inverted(plane), radius)) : plane;
}

namespace {

/// The lesser of two rows; their memory does not overlap, so that many pixels go at once.
void least_of(std::uint8_t *__restrict out, const std::uint8_t *__restrict a,
              const std::uint8_t *__restrict b, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = a[i] < b[i] ? a[i] : b[i];
    }
}

/// The part of \p plane that holds ink, and \p rim pixels more on each side where there are any; empty when
/// none does.
PixelRect inked_part(const Plane &plane, int rim)
{
    int left = plane.width, right = -1, top = plane.height, bottom = -1;
    for (int y = 0; y < plane.height; ++y) {
        const auto row = plane.row(y);
        const auto inked = [](std::uint8_t value) { return value != 0; };
        const auto first = std::find_if(row.begin(), row.end(), inked);
        if (first == row.end()) {
            continue;
        }
        const auto last = std::find_if(row.rbegin(), row.rend(), inked);
        left = std::min(left, static_cast<int>(first - row.begin()));
        right = std::max(right, plane.width - 1 - static_cast<int>(last - row.rbegin()));
        top = std::min(top, y);
        bottom = y;
    }
    if (bottom < 0) {
        return {};
    }
    const int from_x = std::max(0, left - rim), from_y = std::max(0, top - rim);
    return {from_x, from_y, std::min(plane.width, right + 1 + rim) - from_x,
            std::min(plane.height, bottom + 1 + rim) - from_y};
}

} // namespace

Plane choke_tones(const Plane &plane, double radius)
{
    if (!(radius > 0) || plane.pixels.empty()) {
        return plane;
    }
    const std::vector<int> half = disc_rows(radius);
    const int reach = static_cast<int>(half.size()) - 1;
    const int widest = half.front();
    // Bare stays bare: only what holds ink is looked at, with a rim that limits it.
    const PixelRect part = inked_part(plane, std::max(reach, widest) + 1);
    Plane out(plane.width, plane.height);
    if (part.empty()) {
        return out;
    }
    const auto width = static_cast<std::size_t>(part.width);
    const std::size_t padded = width + static_cast<std::size_t>(2 * widest);
    for (int y = part.y; y < part.y + part.height; ++y) {
        std::fill_n(out.row(y).begin() + part.x, part.width, std::uint8_t(255));
    }
    std::vector<std::vector<std::uint8_t>> runs; // of each power of two: the least of that many from here on
    for (std::size_t length = 1; length <= static_cast<std::size_t>(2 * widest + 1); length *= 2) {
        runs.emplace_back(padded);
    }
    std::vector<std::uint8_t> across(width); // the least of 2 w + 1 pixels round each
    for (int y = part.y; y < part.y + part.height; ++y) {
        const auto row = plane.row(y).subspan(static_cast<std::size_t>(part.x), width);
        std::vector<std::uint8_t> &line = runs[0];
        std::fill(line.begin(), line.begin() + widest, row.front());
        std::copy(row.begin(), row.end(), line.begin() + widest);
        std::fill(line.end() - widest, line.end(), row.back());
        for (std::size_t power = 1; power < runs.size(); ++power) {
            const std::vector<std::uint8_t> &shorter = runs[power - 1];
            const std::size_t length = std::size_t(1) << power;
            least_of(runs[power].data(), shorter.data(), shorter.data() + length / 2, padded - length + 1);
        }
        int known = -1; // the half width that across is of
        for (int dy = 0; dy <= reach; ++dy) {
            const int w = half[static_cast<std::size_t>(dy)];
            if (w != known) {
                const auto length = static_cast<std::size_t>(2 * w + 1);
                const auto power = static_cast<std::size_t>(std::bit_width(length) - 1);
                const std::uint8_t *from = runs[power].data() + (widest - w);
                least_of(across.data(), from, from + (length - (std::size_t(1) << power)), width);
                known = w;
            }
            const auto limit = [&](int to) {
                if (to >= part.y && to < part.y + part.height) {
                    take_lesser(out.row(to).data() + part.x, across.data(), width);
                }
            };
            limit(y - dy);
            if (dy > 0) {
                limit(y + dy);
            }
        }
    }
    return out;
}

Plane spread_tones(const Plane &plane, double radius)
{
    return radius > 0 ? inverted(choke_tones(inverted(plane), radius)) : plane;
}

Plane smooth(const Plane &plane, double radius)
{
    if (!(radius >= 1) || plane.pixels.empty()) {
        return plane;
    }
    const std::vector<int> half = disc_rows(radius);
    const int reach = static_cast<int>(half.size()) - 1;
    std::int64_t area = 0;
    for (int dy = -reach; dy <= reach; ++dy) {
        area += 2 * half[static_cast<std::size_t>(std::abs(dy))] + 1;
    }
    const auto columns = static_cast<std::size_t>(plane.width);
    std::vector<std::uint32_t> sums((columns + 1) * static_cast<std::size_t>(plane.height), 0);
    for (int y = 0; y < plane.height; ++y) {
        std::uint32_t *line = sums.data() + (columns + 1) * static_cast<std::size_t>(y);
        const auto row = plane.row(y);
        for (std::size_t x = 0; x < columns; ++x) {
            line[x + 1] = line[x] + row[x];
        }
    }
    Plane out(plane.width, plane.height);
    std::vector<std::int64_t> total(columns);
    for (int y = 0; y < plane.height; ++y) {
        std::fill(total.begin(), total.end(), 0);
        for (int dy = -reach; dy <= reach; ++dy) {
            const int from = std::clamp(y + dy, 0, plane.height - 1);
            const std::uint32_t *line = sums.data() + (columns + 1) * static_cast<std::size_t>(from);
            const int w = half[static_cast<std::size_t>(std::abs(dy))];
            const std::uint8_t first = plane.at(0, from);
            const std::uint8_t last = plane.at(plane.width - 1, from);
            for (int x = 0; x < plane.width; ++x) {
                const int left = x - w;
                const int right = x + w + 1;
                const int inside_left = std::max(0, left);
                const int inside_right = std::min(plane.width, right);
                total[static_cast<std::size_t>(x)] += line[inside_right] - line[inside_left] +
                                                      std::int64_t(first) * (inside_left - left) +
                                                      std::int64_t(last) * (right - inside_right);
            }
        }
        const auto row = out.row(y);
        for (std::size_t x = 0; x < columns; ++x) {
            row[x] = static_cast<std::uint8_t>((total[x] + area / 2) / area);
        }
    }
    return out;
}

} // namespace bichrom
