#include "core/page/made_bleed.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <memory>
#include <utility>
#include <vector>

namespace bichrom {

BleedMap::BleedMap(const BleedPlace &place, Dpi resolution, Edges edges) : m_by(place.by)
{
    const double per_mm = resolution.value / millimetres_per_inch;
    constexpr double slack = 1e-6; // of a pixel: what lies on a border stays on it
    const bool crisp = edges == Edges::Crisp;
    const auto inner = [&](double from, double length) {
        const double begin = from * per_mm, end = (from + length) * per_mm;
        Trim trim;
        if (crisp) {
            trim.begin = static_cast<int>(std::ceil(begin - 0.5));
            trim.end = static_cast<int>(std::ceil(end - 0.5));
            trim.low_axis = 2 * trim.begin - 1;
            trim.high_axis = 2 * trim.end - 1;
        } else {
            trim.begin = static_cast<int>(std::ceil(begin - slack));
            trim.end = static_cast<int>(std::floor(end + slack));
            trim.low_axis = static_cast<int>(std::floor(2 * begin - 0.5));
            trim.high_axis = static_cast<int>(std::floor(2 * end - 0.5));
        }
        return trim;
    };
    const auto outer = [&](double from, double length) {
        const double begin = from * per_mm, end = (from + length) * per_mm;
        return crisp ? Span(inner(from, length))
                     : Span{static_cast<int>(std::floor(begin + slack)),
                            static_cast<int>(std::ceil(end - slack))};
    };
    m_trim_x = inner(place.trim.x, place.trim.width);
    m_trim_y = inner(place.trim.y, place.trim.height);
    m_bleed_x = outer(place.bleed.x, place.bleed.width);
    m_bleed_y = outer(place.bleed.y, place.bleed.height);
    m_own_x = outer(place.own.x, place.own.width);
    m_own_y = outer(place.own.y, place.own.height);
    if (m_trim_x.begin >= m_trim_x.end || m_trim_y.begin >= m_trim_y.end) { // less than a pixel: none
        m_bleed_x = m_own_x;
        m_bleed_y = m_own_y;
        m_trim_x = Trim{m_own_x, 0, 0};
        m_trim_y = Trim{m_own_y, 0, 0};
    }
}

int BleedMap::mapped(int at, const Trim &trim) const
{
    if (trim.holds(at)) {
        return at;
    }
    const bool before = at < trim.begin;
    if (m_by == BleedBy::Extend) {
        return before ? trim.begin : trim.end - 1;
    }
    return std::clamp((before ? trim.low_axis : trim.high_axis) - at, trim.begin, trim.end - 1);
}

BleedMap::Span BleedMap::mapped(const Span &part, const Trim &trim, const Span &bleed) const
{
    Span all = part; // beside the bleed they are themselves
    // Between these places what they are made of runs evenly.
    for (const int at : {bleed.begin, trim.begin - 1, trim.begin, trim.end - 1, trim.end, bleed.end - 1,
                         part.begin, part.end - 1}) {
        if (part.holds(at) && bleed.holds(at)) {
            all.begin = std::min(all.begin, mapped(at, trim));
            all.end = std::max(all.end, mapped(at, trim) + 1);
        }
    }
    return all;
}

bool BleedMap::leaves(const PixelRect &rect) const
{
    const auto within = [](const Span &part, int from, int length) {
        return from >= part.begin && from + length <= part.end;
    };
    const auto beside = [](const Span &part, int from, int length) {
        return from >= part.end || from + length <= part.begin;
    };
    if (within(m_trim_x, rect.x, rect.width) && within(m_trim_y, rect.y, rect.height)) {
        return true;
    }
    return (beside(m_bleed_x, rect.x, rect.width) || beside(m_bleed_y, rect.y, rect.height)) &&
           within(m_own_x, rect.x, rect.width) && within(m_own_y, rect.y, rect.height);
}

PixelRect BleedMap::source(const PixelRect &rect) const
{
    const Span x = mapped({rect.x, rect.x + rect.width}, m_trim_x, m_bleed_x);
    const Span y = mapped({rect.y, rect.y + rect.height}, m_trim_y, m_bleed_y);
    return {x.begin, y.begin, x.end - x.begin, y.end - y.begin};
}

template <class Take> void BleedMap::each_piece(int y, const Span &part, const Take &take) const
{
    const auto give = [&](int row, Piece piece) {
        piece.begin = std::max(piece.begin, part.begin);
        piece.end = std::min(piece.end, part.end);
        if (piece.begin < piece.end) {
            take(row, piece);
        }
    };
    const auto own = [&](int begin, int end) { // beside the bleed
        if (m_own_y.holds(y)) {
            give(y, {std::max(begin, m_own_x.begin), std::min(end, m_own_x.end), 1, 0});
        }
    };
    if (!m_bleed_y.holds(y)) {
        own(part.begin, part.end);
        return;
    }
    own(part.begin, m_bleed_x.begin);
    const int row = row_of(y);
    const auto ring = [&](const Span &columns) {
        if (columns.begin >= columns.end) {
            return;
        }
        if (m_by == BleedBy::Extend) {
            give(row, {columns.begin, columns.end, 0, mapped(columns.begin, m_trim_x)});
            return;
        }
        // Turned over as far as the art goes, on either side its edges again.
        const int axis = columns.end <= m_trim_x.begin ? m_trim_x.low_axis : m_trim_x.high_axis;
        const int first_turned = std::clamp(axis - m_trim_x.end + 1, columns.begin, columns.end);
        const int last_turned = std::clamp(axis - m_trim_x.begin + 1, columns.begin, columns.end);
        give(row, {columns.begin, first_turned, 0, m_trim_x.end - 1});
        give(row, {first_turned, last_turned, -1, axis});
        give(row, {last_turned, columns.end, 0, m_trim_x.begin});
    };
    ring({m_bleed_x.begin, m_trim_x.begin});
    give(row, {m_trim_x.begin, m_trim_x.end, 1, 0});
    ring({m_trim_x.end, m_bleed_x.end});
    own(m_bleed_x.end, part.end);
}

PlateTile BleedMap::bled(const PlateTile &from, const PixelRect &rect) const
{
    const auto change = [&](const Plane &plane) {
        Plane made(rect.width, rect.height);
        for (int y = 0; y < rect.height; ++y) {
            std::uint8_t *row = made.row(y).data();
            each_piece(rect.y + y, {rect.x, rect.x + rect.width}, [&](int source, const Piece &piece) {
                const std::uint8_t *tones = plane.row(source - from.rect.y).data();
                for (int x = piece.begin; x < piece.end; ++x) {
                    row[x - rect.x] = tones[piece.by * x + piece.from - from.rect.x];
                }
            });
        }
        return made;
    };
    return each_plane(from, rect, change);
}

namespace {

/// Adds the part of \p runs in columns [\p begin, \p end) to \p out, moved by \p by columns.
void add_part(RunPlane &out, std::span<const ToneRun> runs, int begin, int end, int by)
{
    for (const ToneRun &run : runs) {
        const int first = std::max(run.begin, begin), last = std::min(run.end, end);
        if (first < last) {
            const std::uint8_t *tones = run.tones == nullptr ? nullptr : run.tones + (first - run.begin);
            out.add({first + by, last + by, run.tone, tones});
        }
    }
}

/// The same turned over: column x becomes \p axis − x.
void add_turned(RunPlane &out, std::span<const ToneRun> runs, int begin, int end, int axis)
{
    for (auto run = runs.rbegin(); run != runs.rend(); ++run) {
        const int first = std::max(run->begin, begin), last = std::min(run->end, end);
        if (first >= last) {
            continue;
        }
        const std::uint8_t *tones = nullptr;
        if (run->tones != nullptr) {
            auto turned = std::make_shared<std::vector<std::uint8_t>>(run->tones + (first - run->begin),
                                                                      run->tones + (last - run->begin));
            std::reverse(turned->begin(), turned->end());
            tones = turned->data();
            out.keep(std::move(turned));
        }
        out.add({axis - last + 1, axis - first + 1, run->tone, tones});
    }
}

std::uint8_t tone_at(std::span<const ToneRun> runs, int column)
{
    for (const ToneRun &run : runs) {
        if (column >= run.begin && column < run.end) {
            return run.tones == nullptr ? run.tone : run.tones[column - run.begin];
        }
    }
    return 0;
}

} // namespace

PlateRuns BleedMap::bled(PlateRuns from, const PixelRect &rect) const
{
    const PixelRect &source = from.rect;
    const auto change = [&](RunPlane &plane) {
        const auto kept = std::make_shared<const RunPlane>(std::move(plane));
        RunPlane made(rect.width, rect.height);
        made.keep(kept);
        for (int y = 0; y < rect.height; ++y) {
            each_piece(rect.y + y, {rect.x, rect.x + rect.width}, [&](int row, const Piece &piece) {
                const auto runs = kept->row(row - source.y);
                const int begin = piece.begin - rect.x, end = piece.end - rect.x;
                if (piece.by == 0) {
                    if (const std::uint8_t tone = tone_at(runs, piece.from - source.x); tone > 0) {
                        made.add({begin, end, tone, nullptr});
                    }
                } else if (piece.by > 0) {
                    add_part(made, runs, piece.begin - source.x, piece.end - source.x, source.x - rect.x);
                } else { // column c of the source stands at axis − c
                    const int axis = piece.from - source.x - rect.x;
                    add_turned(made, runs, axis - end + 1, axis - begin + 1, axis);
                }
            });
            made.end_row();
        }
        return made;
    };
    PlateRuns made;
    made.rect = rect;
    for (RunPlane &plate : from.plates) {
        made.plates.push_back(change(plate));
    }
    made.area = change(from.area);
    return made;
}

void add_bleed(VectorPage &page, const BleedPlace &place)
{
    const auto points = [](double mm) { return to_points(Millimetres(mm)).value; };
    const auto number = [](double value) { return format_number(value, 5) + " "; };
    const auto rectangle = [&](double left, double top, double right, double bottom) {
        return number(left) + number(top) + number(right - left) + number(bottom - top) + "re ";
    };
    struct Sides
    {
        double low, high; ///< points
    };
    const auto sides = [&](double from, double length) { return Sides{points(from), points(from + length)}; };
    const Sides trim_x = sides(place.trim.x, place.trim.width),
                trim_y = sides(place.trim.y, place.trim.height);
    const Sides bleed_x = sides(place.bleed.x, place.bleed.width);
    const Sides bleed_y = sides(place.bleed.y, place.bleed.height);
    const Sides own_x = sides(place.own.x, place.own.width), own_y = sides(place.own.y, place.own.height);
    VectorForm all;
    all.content = std::move(page.content);
    all.box = {std::min(0.0, own_x.low), std::min(0.0, own_y.low), std::max(page.width, own_x.high),
               std::max(page.height, own_y.high)};
    const std::string draw = "/F" + std::to_string(page.forms.size()) + " Do Q\n";
    page.forms.push_back(std::move(all));
    // The page itself, but for what lies between trim and bleed (even-odd, ISO 32000-1, 8.5.3.3.3).
    page.content = "q " + rectangle(own_x.low, own_y.low, own_x.high, own_y.high) +
                   rectangle(std::max(own_x.low, bleed_x.low), std::max(own_y.low, bleed_y.low),
                             std::min(own_x.high, bleed_x.high), std::min(own_y.high, bleed_y.high)) +
                   rectangle(trim_x.low, trim_y.low, trim_x.high, trim_y.high) + "W* n " + draw;
    /// A part of the page's width or height, and what its content is scaled by and moved to come there.
    struct Part
    {
        double low, high, by, from;
    };
    constexpr double thin = 0.05; // points at the edge that are drawn out
    const auto parts = [&](const Sides &trim, const Sides &bleed) {
        std::vector<Part> made{{trim.low, trim.high, 1, 0}};
        const auto draw_out = [&](double low, double high, double edge) { // from edge to edge + thin
            const double by = (high - low) / thin;
            made.push_back({low, high, by, low - by * edge});
        };
        double low = trim.low, high = trim.high; // of what is there
        double first = trim.low, last = trim.high - thin;
        if (place.by == BleedBy::Mirror) {
            low = std::max(bleed.low, 2 * trim.low - trim.high);
            high = std::min(bleed.high, 2 * trim.high - trim.low);
            made.push_back({low, trim.low, -1, 2 * trim.low});
            made.push_back({trim.high, high, -1, 2 * trim.high});
            std::swap(first, last); // an art narrower than its bleed ends, turned over, at its other edge
        }
        draw_out(bleed.low, low, first);
        draw_out(high, bleed.high, last);
        return made;
    };
    const std::vector<Part> columns = parts(trim_x, bleed_x), rows = parts(trim_y, bleed_y);
    for (std::size_t i = 0; i < rows.size(); ++i) {
        for (std::size_t j = 0; j < columns.size(); ++j) {
            const Part &x = columns[j], &y = rows[i];
            if ((i == 0 && j == 0) || x.low >= x.high || y.low >= y.high) {
                continue;
            }
            page.content += "q " + rectangle(x.low, y.low, x.high, y.high) + "W n " + number(x.by) + "0 0 " +
                            number(y.by) + number(x.from) + number(y.from) + "cm " + draw;
        }
    }
}

} // namespace bichrom
