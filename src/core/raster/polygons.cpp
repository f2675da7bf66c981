#include "core/raster/polygons.h"

#include <polyclipping/clipper.hpp>

#include <cmath>

namespace bichrom {

namespace {

namespace cl = ClipperLib;

constexpr double scale = 1e5;
constexpr double arc_tolerance = 0.002 * scale;

cl::Path to_path(const Polygon &polygon)
{
    cl::Path path;
    for (const PolygonPoint &point : polygon) {
        path.emplace_back(static_cast<cl::cInt>(std::llround(point.x * scale)),
                          static_cast<cl::cInt>(std::llround(point.y * scale)));
    }
    return path;
}

cl::Paths to_paths(const Polygons &shapes)
{
    cl::Paths paths;
    for (const Polygon &polygon : shapes) {
        paths.push_back(to_path(polygon));
    }
    return paths;
}

Polygons from_paths(const cl::Paths &paths)
{
    Polygons shapes;
    for (const cl::Path &path : paths) {
        Polygon polygon;
        for (const cl::IntPoint &point : path) {
            polygon.push_back({static_cast<double>(point.X) / scale, static_cast<double>(point.Y) / scale});
        }
        if (polygon.size() > 2) {
            shapes.push_back(std::move(polygon));
        }
    }
    return shapes;
}

Polygons combined(cl::ClipType how, const Polygons &a, const Polygons &b, cl::PolyFillType rule)
{
    cl::Clipper clipper;
    clipper.AddPaths(to_paths(a), cl::ptSubject, true);
    clipper.AddPaths(to_paths(b), cl::ptClip, true);
    cl::Paths result;
    clipper.Execute(how, result, rule, rule);
    return from_paths(result);
}

} // namespace

Polygons simplified(const Polygons &shapes, FillRule rule)
{
    return combined(cl::ctUnion, shapes, {}, rule == FillRule::EvenOdd ? cl::pftEvenOdd : cl::pftNonZero);
}

Polygons united(const Polygons &a, const Polygons &b)
{
    return combined(cl::ctUnion, a, b, cl::pftEvenOdd);
}

Polygons intersected(const Polygons &a, const Polygons &b)
{
    return combined(cl::ctIntersection, a, b, cl::pftEvenOdd);
}

Polygons subtracted(const Polygons &from, const Polygons &what)
{
    return combined(cl::ctDifference, from, what, cl::pftEvenOdd);
}

Polygons offset(const Polygons &shapes, double distance)
{
    if (distance == 0) {
        return shapes;
    }
    // Turned so that outer lines run one way and holes the other, as offsetting needs it.
    cl::Clipper clipper;
    clipper.AddPaths(to_paths(shapes), cl::ptSubject, true);
    cl::Paths turned;
    clipper.Execute(cl::ctUnion, turned, cl::pftEvenOdd, cl::pftEvenOdd);
    cl::ClipperOffset maker(2.0, arc_tolerance);
    maker.AddPaths(turned, cl::jtRound, cl::etClosedPolygon);
    cl::Paths result;
    maker.Execute(result, distance * scale);
    return from_paths(result);
}

Polygons stroked(const Polygon &line, bool closed, double width, LineJoin join, double miter_limit,
                 LineEnd end)
{
    cl::ClipperOffset maker(std::max(2.0, miter_limit), arc_tolerance);
    maker.AddPath(to_path(line), join == LineJoin::Round ? cl::jtRound : cl::jtMiter,
                  closed                  ? cl::etClosedLine
                  : end == LineEnd::Round ? cl::etOpenRound
                  : end == LineEnd::Butt  ? cl::etOpenButt
                                          : cl::etOpenSquare);
    cl::Paths result;
    maker.Execute(result, width / 2 * scale);
    return from_paths(result);
}

double area_of(const Polygons &shapes)
{
    double sum = 0; // holes run the other way
    for (const cl::Path &path : to_paths(simplified(shapes, FillRule::EvenOdd))) {
        sum += cl::Area(path);
    }
    return std::fabs(sum) / scale / scale;
}

} // namespace bichrom
