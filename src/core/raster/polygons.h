/// \file
/// Exact union, difference and offset of flat shapes.
/// Layer: core/raster. Clipper stays inside.
#pragma once

#include <vector>

namespace bichrom {

struct PolygonPoint
{
    double x = 0, y = 0;
};
/// A closed line; the last point is not the first again.
using Polygon = std::vector<PolygonPoint>;
/// Filled by the even-odd rule. Coordinates up to 1e6 units, exact to 1e-5.
using Polygons = std::vector<Polygon>;

enum class FillRule
{
    EvenOdd,
    NonZero
};

/// The same area without crossings.
[[nodiscard]] Polygons simplified(const Polygons &shapes, FillRule rule);
[[nodiscard]] Polygons united(const Polygons &a, const Polygons &b);
[[nodiscard]] Polygons intersected(const Polygons &a, const Polygons &b);
[[nodiscard]] Polygons subtracted(const Polygons &from, const Polygons &what);

/// Wider by \p distance on all sides, corners round; narrower when it is negative. Arcs are chords within
/// 0.002 units.
[[nodiscard]] Polygons offset(const Polygons &shapes, double distance);

enum class LineJoin
{
    Miter,
    Round
};
enum class LineEnd
{
    Butt,
    Round,
    Square
};
/// The area of a line of \p width along points; \p closed joins the last to the first.
[[nodiscard]] Polygons stroked(const Polygon &line, bool closed, double width, LineJoin join,
                               double miter_limit, LineEnd end);

[[nodiscard]] double area_of(const Polygons &shapes);

} // namespace bichrom
