#include "core/raster/shape_list.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>

namespace bichrom {

namespace {

constexpr double flatness = 0.05; // pixels that a chord may be off
constexpr double far_away = 1e8;  // pixels; farther points are drawn in
constexpr int most_chords = 1000;

/// The first pixel whose centre is not before \p at.
int first_centre(double at, int most)
{
    const double v = at - 0.5;
    if (!(v > 0)) {
        return 0;
    }
    if (v >= most) {
        return most;
    }
    const int whole = static_cast<int>(v); // rounding up without a call
    return whole + (whole < v ? 1 : 0);
}

/// The pixels from \p begin to \p end whose centres lie between, or the one in the middle.
InkSpan inked(double begin, double end, int width)
{
    const int first = first_centre(begin, width);
    const int last = first_centre(end, width);
    if (first < last) {
        return {first, last};
    }
    const double middle = (begin + end) / 2;
    if (!(middle >= 0) || middle >= width || end < 0) {
        return {};
    }
    const int column = static_cast<int>(middle);
    return {column, column + 1};
}

bool is_far(PixelPoint p)
{
    return !(std::fabs(p.x) < far_away && std::fabs(p.y) < far_away);
}

/// Whether \p contour is a rectangle along the axes.
bool is_right_angled(std::span<const PixelPoint> contour)
{
    if (contour.size() == 5 && contour[4].x == contour[0].x && contour[4].y == contour[0].y) {
        contour = contour.first(4);
    }
    if (contour.size() != 4) {
        return false;
    }
    const auto &[a, b, c, d] = std::tie(contour[0], contour[1], contour[2], contour[3]);
    return (a.x == b.x && b.y == c.y && c.x == d.x && d.y == a.y) ||
           (a.y == b.y && b.x == c.x && c.y == d.y && d.x == a.x);
}

} // namespace

void ShapeList::begin(bool even_odd, bool keep_slivers)
{
    m_open = {};
    m_open.even_odd = even_odd;
    m_open.first_edge = m_edges.size();
    m_open.first_sliver = m_slivers.size();
    m_keep_slivers = keep_slivers;
    m_contour.clear();
    m_contours = 0;
    m_is_right = false;
}

void ShapeList::move_to(PixelPoint p)
{
    end_contour();
    m_contour.assign(1, p);
}

void ShapeList::line_to(PixelPoint p)
{
    m_contour.push_back(p);
}

void ShapeList::curve_to(PixelPoint a, PixelPoint b, PixelPoint c)
{
    if (m_contour.empty()) {
        m_contour.push_back(a);
    }
    const PixelPoint o = m_contour.back();
    // A chord of n is off by at most an eighth of the largest second derivative over n².
    const double bend = std::max(std::hypot(o.x - 2 * a.x + b.x, o.y - 2 * a.y + b.y),
                                 std::hypot(a.x - 2 * b.x + c.x, a.y - 2 * b.y + c.y));
    const double parts = std::ceil(std::sqrt(6 * bend / (8 * flatness)));
    const int n = parts > 1 ? static_cast<int>(std::min(parts, static_cast<double>(most_chords))) : 1;
    for (int i = 1; i < n; ++i) {
        const double t = static_cast<double>(i) / n;
        const double s = 1 - t;
        const double wo = s * s * s, wa = 3 * s * s * t, wb = 3 * s * t * t, wc = t * t * t;
        m_contour.push_back(
            {wo * o.x + wa * a.x + wb * b.x + wc * c.x, wo * o.y + wa * a.y + wb * b.y + wc * c.y});
    }
    m_contour.push_back(c);
}

void ShapeList::close()
{
    if (!m_contour.empty()) {
        const PixelPoint start = m_contour.front();
        end_contour();
        m_contour.assign(1, start); // where the next contour begins, when nothing else says so
    }
}

void ShapeList::polygon(std::span<const PixelPoint> points)
{
    end_contour();
    m_contour.assign(points.begin(), points.end());
    end_contour();
}

void ShapeList::add_edge(PixelPoint a, PixelPoint b)
{
    Edge edge;
    edge.winding = 1;
    if (a.y > b.y) {
        std::swap(a, b);
        edge.winding = -1;
    }
    edge.first = first_centre(a.y, m_height);
    edge.last = first_centre(b.y, m_height);
    if (edge.first < edge.last) {
        edge.dx = (b.x - a.x) / (b.y - a.y);
        edge.x = a.x + (edge.first + 0.5 - a.y) * edge.dx;
        m_edges.push_back(edge);
    }
}

void ShapeList::end_contour()
{
    if (m_contour.size() < 2 || std::any_of(m_contour.begin(), m_contour.end(), is_far)) {
        m_contour.clear();
        return;
    }
    double left = m_contour.front().x, right = left, top = m_contour.front().y, bottom = top;
    for (std::size_t i = 0; i < m_contour.size(); ++i) {
        const PixelPoint &a = m_contour[i];
        const PixelPoint &b = m_contour[(i + 1) % m_contour.size()];
        left = std::min(left, a.x);
        right = std::max(right, a.x);
        top = std::min(top, a.y);
        bottom = std::max(bottom, a.y);
        add_edge(a, b);
    }
    const bool right_angled = is_right_angled(m_contour);
    m_contour.clear();
    const InkSpan columns = inked(left, right, m_width);
    InkSpan rows = {first_centre(top, m_height), first_centre(bottom, m_height)};
    if (rows.begin >= rows.end) {
        if (!m_keep_slivers) {
            return;
        }
        const InkSpan nearest = inked(top, bottom, m_height);
        if (nearest.begin >= nearest.end || columns.begin >= columns.end) {
            return;
        }
        m_slivers.push_back({nearest.begin, columns.begin, columns.end});
        rows = nearest;
    }
    if (columns.begin >= columns.end) {
        return; // beside the page; its edges still count
    }
    const PixelRect box = {columns.begin, rows.begin, columns.end - columns.begin, rows.end - rows.begin};
    ++m_contours;
    m_is_right = m_contours == 1 && right_angled;
    if (m_contours == 1) {
        m_open.box = box;
        return;
    }
    PixelRect &all = m_open.box;
    const int x1 = std::max(all.x + all.width, box.x + box.width);
    const int y1 = std::max(all.y + all.height, box.y + box.height);
    all.x = std::min(all.x, box.x);
    all.y = std::min(all.y, box.y);
    all.width = x1 - all.x;
    all.height = y1 - all.y;
}

int ShapeList::end()
{
    end_contour();
    m_open.last_edge = m_edges.size();
    m_open.last_sliver = m_slivers.size();
    if (m_contours == 0) {
        m_edges.resize(m_open.first_edge);
        m_slivers.resize(m_open.first_sliver);
        return -1;
    }
    if (m_is_right) { // four corners along the axes ink their whole box
        m_open.rectangle = true;
        m_edges.resize(m_open.first_edge);
        m_slivers.resize(m_open.first_sliver);
        m_open.last_edge = m_open.first_edge;
        m_open.last_sliver = m_open.first_sliver;
    }
    std::sort(m_edges.begin() + static_cast<std::ptrdiff_t>(m_open.first_edge), m_edges.end(),
              [](const Edge &a, const Edge &b) { return a.first < b.first; });
    m_shapes.push_back(m_open);
    return static_cast<int>(m_shapes.size()) - 1;
}

void RowFiller::collect(const ShapeList &list, const Shape &shape, int first, int last)
{
    const auto rows = static_cast<std::size_t>(last - first);
    if (m_crossings.size() < rows) {
        m_crossings.resize(rows);
    }
    constexpr std::size_t few = 8; // edges, which a line has: looked at for each row, nothing is stored
    const std::span<const Edge> edges = list.edges(shape);
    m_few = edges.size() <= few ? edges : std::span<const Edge>();
    m_first = first;
    for (std::size_t i = 0; m_few.empty() && i < rows; ++i) {
        m_crossings[i].clear();
    }
    for (const Edge &edge : edges) {
        if (edge.first >= last || !m_few.empty()) {
            break;
        }
        const int from = std::max(edge.first, first);
        const int to = std::min(edge.last, last);
        for (int row = from; row < to; ++row) {
            m_crossings[static_cast<std::size_t>(row - first)].push_back(
                {edge.x + (row - edge.first) * edge.dx, edge.winding});
        }
    }
    m_any_extra = false;
    for (const Sliver &sliver : list.slivers(shape)) {
        if (sliver.row >= first && sliver.row < last) {
            if (!m_any_extra) {
                m_extra.assign(std::max(m_extra.size(), rows), {});
                m_any_extra = true;
            }
            m_extra[static_cast<std::size_t>(sliver.row - first)].push_back({sliver.begin, sliver.end});
        }
    }
}

void RowFiller::spans_of(const Shape &shape, int row, int width)
{
    m_spans.clear();
    auto &crossings = m_crossings[m_few.empty() ? static_cast<std::size_t>(row) : 0];
    if (!m_few.empty()) {
        crossings.clear();
        const int at = m_first + row;
        for (const Edge &edge : m_few) {
            if (at >= edge.first && at < edge.last) {
                crossings.push_back({edge.x + (at - edge.first) * edge.dx, edge.winding});
            }
        }
    }
    const auto less = [](const Crossing &a, const Crossing &b) {
        return a.x != b.x ? a.x < b.x : a.winding > b.winding;
    };
    if (crossings.size() == 2 && !m_any_extra &&
        (shape.even_odd || crossings[0].winding + crossings[1].winding == 0)) {
        const InkSpan span =
            inked(std::min(crossings[0].x, crossings[1].x), std::max(crossings[0].x, crossings[1].x), width);
        if (span.begin < span.end) {
            m_spans.push_back(span);
        }
        return;
    }
    if (crossings.size() == 2) {
        if (less(crossings[1], crossings[0])) {
            std::swap(crossings[0], crossings[1]);
        }
    } else {
        std::sort(crossings.begin(), crossings.end(), less);
    }
    const auto add = [&](InkSpan span) {
        if (span.begin >= span.end) {
            return;
        }
        if (!m_spans.empty() && span.begin <= m_spans.back().end) {
            m_spans.back().end = std::max(m_spans.back().end, span.end);
            m_spans.back().begin = std::min(m_spans.back().begin, span.begin);
        } else {
            m_spans.push_back(span);
        }
    };
    int winding = 0;
    double begin = 0;
    for (const Crossing &crossing : crossings) {
        const bool was_inside = shape.even_odd ? (winding & 1) != 0 : winding != 0;
        winding += shape.even_odd ? 1 : crossing.winding;
        const bool inside = shape.even_odd ? (winding & 1) != 0 : winding != 0;
        if (!was_inside && inside) {
            begin = crossing.x;
        } else if (was_inside && !inside) {
            add(inked(begin, crossing.x, width));
        }
    }
    if (m_any_extra && !m_extra[static_cast<std::size_t>(row)].empty()) {
        auto &extra = m_extra[static_cast<std::size_t>(row)];
        extra.insert(extra.end(), m_spans.begin(), m_spans.end());
        std::sort(extra.begin(), extra.end(),
                  [](const InkSpan &a, const InkSpan &b) { return a.begin < b.begin; });
        m_spans.clear();
        for (const InkSpan &span : extra) {
            add(span);
        }
    }
}

} // namespace bichrom
