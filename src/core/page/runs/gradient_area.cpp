#include "core/page/runs/gradient_area.h"

#include "core/page/runs/outlines.h"

#include <array>
#include <cmath>
#include <numbers>
#include <vector>

namespace bichrom {

namespace {

/// Where a linear gradient paints: the strip between its ends, and beyond those that it extends.
void add_strip(const fz_shade *shade, const fz_matrix &to_pixels, const PixelRect &page, ShapeList &shapes)
{
    const auto &c = shade->u.l_or_r.coords;
    const auto point = [&](float x, float y, bool vector) {
        const fz_point p =
            vector ? fz_transform_vector({x, y}, to_pixels) : fz_transform_point_xy(x, y, to_pixels);
        return PixelPoint{static_cast<double>(p.x), static_cast<double>(p.y)};
    };
    PixelPoint start = point(c[0][0], c[0][1], false), end = point(c[1][0], c[1][1], false);
    PixelPoint side = point(c[0][1] - c[1][1], c[1][0] - c[0][0], true); // colours are alike along it
    const double far =
        4.0 * (page.width + page.height) + std::hypot(start.x, start.y) + std::hypot(end.x, end.y);
    const double along = std::hypot(end.x - start.x, end.y - start.y);
    const double across = std::hypot(side.x, side.y);
    if (!(along > 0) || !(across > 0)) {
        return;
    }
    side = {side.x * far / across, side.y * far / across};
    const PixelPoint ahead = {(end.x - start.x) * far / along, (end.y - start.y) * far / along};
    if (shade->u.l_or_r.extend[0] != 0) {
        start = {start.x - ahead.x, start.y - ahead.y};
    }
    if (shade->u.l_or_r.extend[1] != 0) {
        end = {end.x + ahead.x, end.y + ahead.y};
    }
    const std::array<PixelPoint, 4> corners = {
        PixelPoint{start.x + side.x, start.y + side.y}, PixelPoint{end.x + side.x, end.y + side.y},
        PixelPoint{end.x - side.x, end.y - side.y}, PixelPoint{start.x - side.x, start.y - side.y}};
    shapes.polygon(corners);
}

} // namespace

void add_gradient_area(const fz_shade *shade, fz_rect area, const fz_matrix &to_pixels, const PixelRect &page,
                       ShapeList &shapes)
{
    const bool before = shade->u.l_or_r.extend[0] != 0, after = shade->u.l_or_r.extend[1] != 0;
    const auto &c = shade->u.l_or_r.coords;
    if (shade->type == FZ_LINEAR) {
        add_strip(shade, to_pixels, page, shapes);
        return;
    }
    // One circle within the other: the ring between them, the inner one, all around.
    const double r0 = static_cast<double>(c[0][2]), r1 = static_cast<double>(c[1][2]);
    const std::size_t outer = r1 > r0 ? 1 : 0;
    const bool beyond = outer == 1 ? after : before;
    const bool inside = outer == 1 ? before : after;
    const auto circle = [&](std::size_t which) {
        constexpr int corners = 2048;
        std::vector<PixelPoint> points;
        for (int i = 0; i < corners; ++i) {
            const double turn = 2 * std::numbers::pi * i / corners;
            const fz_point p = fz_transform_point_xy(
                c[which][0] + c[which][2] * static_cast<float>(std::cos(turn)),
                c[which][1] + c[which][2] * static_cast<float>(std::sin(turn)), to_pixels);
            points.push_back({static_cast<double>(p.x), static_cast<double>(p.y)});
        }
        shapes.polygon(points);
    };
    if (beyond) {
        add_quad(area, fz_identity, shapes);
    } else {
        circle(outer);
    }
    if (!inside && c[1 - outer][2] > 0) {
        circle(1 - outer);
    }
}

} // namespace bichrom
