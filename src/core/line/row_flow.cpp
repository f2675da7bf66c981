#include "core/line/row_flow.h"

#include "core/raster/choke.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <utility>

namespace bichrom {

namespace {

constexpr int strip = 256; ///< rows; strip n begins at the page's row n × 256

int strip_of(int row)
{
    return row >= 0 ? row / strip : -((-row + strip - 1) / strip);
}

/// Adds \p row, its columns \p by further to the right, as far as they lie in \p to.
void add_moved(RunPlane &to, std::span<const ToneRun> row, int by)
{
    for (const ToneRun &run : row) {
        const int begin = std::max(0, run.begin + by), end = std::min(to.width(), run.end + by);
        if (begin < end) {
            to.add({begin, end, run.tone,
                    run.tones == nullptr ? nullptr : run.tones + (begin - by - run.begin)});
        }
    }
    to.end_row();
}

} // namespace

struct RowFlow::Rows
{
    std::vector<std::shared_ptr<const RunPlane>> strips;
    int first = 0; ///< number of the first of them

    /// \pre \p y lies in one of them
    [[nodiscard]] std::span<const ToneRun> row(int y) const
    {
        const int number = strip_of(y);
        return strips[static_cast<std::size_t>(number - first)]->row(y - number * strip);
    }
};

struct RowFlow::Node
{
    StripStoreOf<RunPlane> store;
    int depth; ///< rows on either side that it looks at, through all that it is made from

    Node(StripStoreOf<RunPlane>::Make make, int rows) : store(std::move(make)), depth(rows) {}
};

RowFlow::RowFlow(const PixelRect &frame, const JobControl &control, EdgePixels edges)
    : m_frame(frame), m_control(control), m_edges(edges)
{
}

RowFlow::~RowFlow() = default;

RowFlow::Number RowFlow::add(std::vector<Number> from, int reach, Make make)
{
    int depth = reach;
    for (const Number plane : from) {
        depth = std::max(depth, m_nodes[plane]->depth + reach);
    }
    const auto make_strip = [this, from = std::move(from), reach,
                             make = std::move(make)](int number) -> Outcome<StripStoreOf<RunPlane>::Strip> {
        if (m_control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", {}, {}};
        }
        const int top = number * strip;
        std::vector<Rows> looked_at;
        for (const Number plane : from) {
            auto some =
                rows(plane, std::max(top - reach, m_frame.y), std::min(top + strip + reach, bottom()));
            if (!some) {
                return some.error();
            }
            looked_at.push_back(std::move(*some));
        }
        auto made = make(looked_at, top, top + strip);
        if (!made) {
            return made.error();
        }
        return std::make_shared<const RunPlane>(std::move(*made));
    };
    m_nodes.push_back(std::make_unique<Node>(make_strip, depth));
    m_depth = std::max(m_depth, depth);
    return m_nodes.size() - 1;
}

/// Rows [\p first, \p last) of a plane, which lie on it.
Outcome<RowFlow::Rows> RowFlow::rows(Number plane, int first, int last)
{
    const int from = strip_of(first);
    auto strips = m_nodes[plane]->store.strips(from, strip_of(std::max(first, last - 1)));
    if (!strips) {
        return strips.error();
    }
    return Rows{std::move(*strips), from};
}

RowFlow::Number RowFlow::bare()
{
    return add({}, 0, [this](std::span<const Rows>, int, int) { return RunPlane(m_frame.width, strip); });
}

RowFlow::Number RowFlow::painted(const PixelRect &part, PartRows part_rows)
{
    return add({}, 0,
               [this, part, part_rows = std::move(part_rows)](std::span<const Rows>, int first,
                                                              int last) -> Outcome<RunPlane> {
                   RunPlane made(m_frame.width, strip);
                   const int from = std::clamp(first, part.y, part.y + part.height),
                             to = std::clamp(last, from, part.y + part.height);
                   if (from == to) {
                       return made;
                   }
                   auto given = part_rows(from, to);
                   if (!given) {
                       return given.error();
                   }
                   const auto kept = std::make_shared<const RunPlane>(std::move(*given));
                   for (int y = first; y < last; ++y) {
                       add_moved(made, y >= from && y < to ? kept->row(y - from) : std::span<const ToneRun>(),
                                 part.x - m_frame.x);
                   }
                   made.keep(kept);
                   return made;
               });
}

RowFlow::Number RowFlow::drawn(std::function<void(int row, RunPlane &to)> row)
{
    return add({}, 0, [this, row = std::move(row)](std::span<const Rows>, int first, int last) {
        RunPlane made(m_frame.width, strip);
        for (int y = first; y < last; ++y) {
            row(y, made);
        }
        return made;
    });
}

RowFlow::Number RowFlow::changed(Number from, const ToneTable &table)
{
    return add({from}, 0, [this, table](std::span<const Rows> rows, int first, int last) {
        RunPlane made(m_frame.width, strip);
        ToneMemory memory;
        for (int y = first; y < last; ++y) {
            const bool on_it = y >= m_frame.y && y < bottom();
            on_it ? add_changed(made, rows[0].row(y), table, memory) : made.end_row();
        }
        memory.give_to(made);
        return made;
    });
}

RowFlow::Number RowFlow::joined(Number one, Number other, std::shared_ptr<const PairTable> table)
{
    return add(
        {one, other}, 0, [this, table = std::move(table)](std::span<const Rows> rows, int first, int last) {
            RunPlane made(m_frame.width, strip);
            ToneMemory memory;
            for (int y = first; y < last; ++y) {
                const bool on_it = y >= m_frame.y && y < bottom();
                on_it ? add_joined(made, rows[0].row(y), rows[1].row(y), *table, memory) : made.end_row();
            }
            memory.give_to(made);
            for (const Rows &from : rows) {
                made.keep(from.strips.front()); // tones may be lent on
            }
            return made;
        });
}

RowFlow::Number RowFlow::choked(Number from, double radius, bool tonal)
{
    const double by = std::fabs(radius);
    if (!(by > 0)) {
        return from;
    }
    const int reach = rows_looked_at(by);
    return add({from}, reach,
               [this, radius, by, tonal, reach](std::span<const Rows> rows, int first, int last) {
                   if (tonal) {
                       return by_pixels(rows[0], first, last, reach, [&](const Plane &plane) {
                           return radius > 0 ? choke_tones(plane, by) : spread_tones(plane, by);
                       });
                   }
                   RowsAround around;
                   around.width = m_frame.width;
                   around.first = first;
                   around.last = last;
                   around.top = std::max(first - reach, m_frame.y);
                   around.bottom = std::min(last + reach, bottom());
                   around.row = [&](int y) { return rows[0].row(y); };
                   return radius > 0 ? choke(around, by, m_edges) : spread(around, by, m_edges);
               });
}

RowFlow::Number RowFlow::smoothed(Number from, double radius)
{
    const int reach = static_cast<int>(std::ceil(radius)) + 1;
    return add({from}, reach, [this, radius, reach](std::span<const Rows> rows, int first, int last) {
        return by_pixels(rows[0], first, last, reach,
                         [&](const Plane &plane) { return smooth(plane, radius); });
    });
}

/// Rows by \p change of planes of some columns, which looks \p reach pixels around; where all of such a plane
/// is of one tone, a small one stands for it.
RunPlane RowFlow::by_pixels(const Rows &from, int first, int last, int reach, const Change &change) const
{
    const int top = std::max(first - reach, m_frame.y), end = std::min(last + reach, bottom());
    const int columns = std::max(1024, 6 * reach); // what lies around them is looked at twice
    // Rows of a strip as a plane of runs can be asked for parts.
    const auto plane_of = [&](int y) -> std::pair<const RunPlane &, int> {
        const int number = strip_of(y);
        return {*from.strips[static_cast<std::size_t>(number - from.first)], y - number * strip};
    };
    auto result = std::make_shared<Plane>(m_frame.width, last - first);
    RunPlane made(m_frame.width, strip);
    if (top >= end) {
        return made;
    }
    for (int left = 0; left < m_frame.width; left += columns) {
        const int right = std::min(m_frame.width, left + columns);
        const int wide_left = std::max(0, left - reach), wide_right = std::min(m_frame.width, right + reach);
        std::optional<int> even;
        for (int y = top; y < end && even != -1; ++y) {
            const auto [plane, row] = plane_of(y);
            const int tone = plane.even_tone(row, wide_left, wide_right);
            even = !even || *even == tone ? tone : -1;
        }
        if (*even >= 0) {
            const Plane small = change(Plane(4, 4, static_cast<std::uint8_t>(*even)));
            for (int y = std::max(first, top); y < std::min(last, end); ++y) {
                std::fill_n(result->row(y - first).begin() + left, right - left, small.at(2, 2));
            }
            continue;
        }
        Plane wide(wide_right - wide_left, end - top);
        for (int y = top; y < end; ++y) {
            const auto [plane, row] = plane_of(y);
            plane.write_part(row, wide_left, wide_right, wide.row(y - top).data());
        }
        const Plane changed = change(wide);
        for (int y = std::max(first, top); y < std::min(last, end); ++y) {
            std::copy_n(changed.row(y - top).begin() + (left - wide_left), right - left,
                        result->row(y - first).begin() + left);
        }
    }
    for (int y = first; y < last; ++y) {
        made.add_tones(0, result->row(y - first).data(), m_frame.width);
        made.end_row();
    }
    made.keep(std::move(result));
    return made;
}

Done RowFlow::add_rows(RunPlane &to, Number plane, int left, int first, int last)
{
    if (first >= last) {
        return {};
    }
    const auto some = rows(plane, first, last);
    if (!some) {
        return some.error();
    }
    for (int y = first; y < last; ++y) {
        add_moved(to, some->row(y), m_frame.x - left);
    }
    for (const auto &one : some->strips) {
        to.keep(one);
    }
    return {};
}

void RowFlow::drop_before(int row)
{
    for (const auto &node : m_nodes) {
        node->store.drop_before(strip_of(row - m_depth));
    }
}

} // namespace bichrom
