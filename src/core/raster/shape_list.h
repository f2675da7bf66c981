/// \file
/// Outlines as edges, ready to be crossed by rows of pixels.
/// Layer: core/raster. May use core/base.
#pragma once

#include "core/base/units.h"

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// A point in pixels of the page: pixel (x, y) covers [x, x + 1) × [y, y + 1).
struct PixelPoint
{
    double x = 0, y = 0;
};

/// The Bézier curve from \p o to \p c at \p t, 0 to 1.
[[nodiscard]] inline PixelPoint on_curve(PixelPoint o, PixelPoint a, PixelPoint b, PixelPoint c, double t)
{
    const double s = 1 - t;
    const double wo = s * s * s, wa = 3 * s * s * t, wb = 3 * s * t * t, wc = t * t * t;
    return {wo * o.x + wa * a.x + wb * b.x + wc * c.x, wo * o.y + wa * a.y + wb * b.y + wc * c.y};
}

/// An edge of an outline, crossed by the centres of rows [first, last).
struct Edge
{
    double x = 0;  ///< at the centre of row first
    double dx = 0; ///< to the next row
    int first = 0, last = 0;
    int winding = 0; ///< +1 downwards, −1 upwards
};

/// Columns [begin, end) of a row.
struct Sliver
{
    int row = 0, begin = 0, end = 0;
};

/// A filled outline. The rule which pixels it inks, the same everywhere on films:
/// a pixel is ink when its centre lies inside, half open (left and top edges count, right and bottom ones do
/// not); a stretch of a row that holds no centre inks the pixel in its middle; a contour lower than a row
/// that no row's centre crosses inks the nearest row.
struct Shape
{
    std::size_t first_edge = 0, last_edge = 0; ///< [first, last) of the list's edges, by first row
    std::size_t first_sliver = 0, last_sliver = 0;
    PixelRect box;          ///< all it inks, within the page
    bool even_odd = false;  ///< else by winding
    bool rectangle = false; ///< inks all of box
};

/// What is inked of one row: columns [begin, end).
struct InkSpan
{
    int begin = 0, end = 0;
    friend bool operator==(const InkSpan &, const InkSpan &) = default;
};

/// Shapes of a page \p width × \p height pixels large, collected one after the other.
class ShapeList
{
public:
    ShapeList(int width, int height) : m_width(width), m_height(height) {}
    [[nodiscard]] PixelRect page() const { return {0, 0, m_width, m_height}; }

    /// Opens a shape. \param keep_slivers  whether contours lower than a row ink one: fills do, the pieces of
    /// strokes, which are a pixel wide at least together, do not
    void begin(bool even_odd, bool keep_slivers);
    void move_to(PixelPoint p);
    void line_to(PixelPoint p);
    /// A Bézier curve, as chords within 0.05 pixels.
    void curve_to(PixelPoint a, PixelPoint b, PixelPoint c);
    void close();
    /// A closed contour.
    void polygon(std::span<const PixelPoint> points);
    /// Closes the shape. \return its number; −1 when it inks nothing on the page
    int end();

    [[nodiscard]] const Shape &shape(int number) const { return m_shapes[static_cast<std::size_t>(number)]; }
    [[nodiscard]] std::span<const Edge> edges(const Shape &shape) const
    {
        return std::span(m_edges).subspan(shape.first_edge, shape.last_edge - shape.first_edge);
    }
    [[nodiscard]] std::span<const Sliver> slivers(const Shape &shape) const
    {
        return std::span(m_slivers).subspan(shape.first_sliver, shape.last_sliver - shape.first_sliver);
    }
    [[nodiscard]] std::size_t edge_count() const { return m_edges.size(); }

private:
    void add_edge(PixelPoint a, PixelPoint b);
    void end_contour();

    int m_width, m_height;
    std::vector<Edge> m_edges;
    std::vector<Sliver> m_slivers;
    std::vector<Shape> m_shapes;
    Shape m_open;
    bool m_keep_slivers = true;
    std::vector<PixelPoint> m_contour;
    int m_contours = 0;      ///< of the open shape
    bool m_is_right = false; ///< whether its only contour is a rectangle along the axes
    PixelRect m_right;
};

/// What the rows of a shape ink, worked out for some rows at a time. Kept between shapes to save allocations.
class RowFiller
{
public:
    /// Calls \p take(row, spans) for each row of [top, bottom) that \p shape inks, spans from left to right,
    /// apart from each other, within columns [0, width).
    template <typename Take>
    void fill(const ShapeList &list, const Shape &shape, int top, int bottom, int width, Take take)
    {
        const int first = shape.box.y > top ? shape.box.y : top;
        const int end = shape.box.y + shape.box.height;
        const int last = end < bottom ? end : bottom;
        if (first >= last) {
            return;
        }
        if (shape.rectangle) {
            m_spans.assign(1, {shape.box.x, shape.box.x + shape.box.width});
            for (int row = first; row < last; ++row) {
                take(row, std::span<const InkSpan>(m_spans));
            }
            return;
        }
        collect(list, shape, first, last);
        for (int row = first; row < last; ++row) {
            spans_of(shape, row - first, width);
            if (!m_spans.empty()) {
                take(row, std::span<const InkSpan>(m_spans));
            }
        }
    }

private:
    struct Crossing
    {
        double x;
        int winding;
    };
    void collect(const ShapeList &list, const Shape &shape, int first, int last);
    void spans_of(const Shape &shape, int row, int width);

    std::vector<std::vector<Crossing>> m_crossings; ///< by row, or of the row that is looked at:
    std::span<const Edge> m_few;                    ///< edges of a shape that has few
    int m_first = 0;                                ///< row of the page that row 0 of the part is
    std::vector<std::vector<InkSpan>> m_extra;      ///< slivers by row
    bool m_any_extra = false;
    std::vector<InkSpan> m_spans;
};

} // namespace bichrom
