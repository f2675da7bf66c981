#include "choke_by_pixels.h"

#include "core/raster/edge_distance.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace bichrom::test {

namespace {

struct PlaneTones
{
    const Plane &plane;
    [[nodiscard]] int width() const { return plane.width; }
    [[nodiscard]] int height() const { return plane.height; }
    [[nodiscard]] int at(int x, int y) const { return plane.at(x, y); }
};

/// By pixel, the column of the nearest bare one in its row, the left one of two; −1 where there is none.
std::vector<std::vector<int>> nearest_in_rows(const Plane &plane)
{
    std::vector<std::vector<int>> rows;
    for (int y = 0; y < plane.height; ++y) {
        std::vector<int> row(static_cast<std::size_t>(plane.width), -1);
        int bare = -1;
        for (int x = 0; x < plane.width; ++x) {
            bare = plane.at(x, y) < 128 ? x : bare;
            row[static_cast<std::size_t>(x)] = bare;
        }
        bare = -1;
        for (int x = plane.width - 1; x >= 0; --x) {
            bare = plane.at(x, y) < 128 ? x : bare;
            int &nearest = row[static_cast<std::size_t>(x)];
            nearest = nearest < 0 || (bare >= 0 && bare - x < x - nearest) ? bare : nearest;
        }
        rows.push_back(std::move(row));
    }
    return rows;
}

} // namespace

Plane choke_by_pixels(const Plane &plane, double radius)
{
    Plane made(plane.width, plane.height);
    const auto rows = nearest_in_rows(plane);
    const int far = static_cast<int>(std::ceil(radius)) + 3;
    for (int y = 0; y < plane.height; ++y) {
        for (int x = 0; x < plane.width; ++x) {
            int best = far * far, u = -1, v = -1;
            for (int by = 0; by < far; ++by) {
                for (const int row : {y - by, y + by}) {
                    const int column = row < 0 || row >= plane.height
                                           ? -1
                                           : rows[static_cast<std::size_t>(row)][static_cast<std::size_t>(x)];
                    if (column >= 0 && (column - x) * (column - x) + by * by < best) {
                        best = (column - x) * (column - x) + by * by;
                        u = column;
                        v = row;
                    }
                }
            }
            const double distance = std::sqrt(static_cast<double>(best));
            double tone = 255; // far from everything bare
            if (best == 0 || distance <= radius - 1.5) {
                tone = 0;
            } else if (distance < radius + 1.5) {
                const double edge = distance_to_edge(PlaneTones{plane}, x, y, u, v);
                tone = std::clamp(edge - radius, 0.0, 1.0) * 255.0;
            }
            made.row(y)[static_cast<std::size_t>(x)] = static_cast<std::uint8_t>(std::lround(tone));
        }
    }
    return made;
}

Plane spread_by_pixels(const Plane &plane, double radius)
{
    Plane turned = plane;
    const auto turn = [](Plane &one) {
        for (std::uint8_t &tone : one.pixels) {
            tone = static_cast<std::uint8_t>(255 - tone);
        }
    };
    turn(turned);
    Plane made = choke_by_pixels(turned, radius);
    turn(made);
    return made;
}

Plane halved(Plane plane)
{
    for (std::uint8_t &pixel : plane.pixels) {
        pixel = pixel >= 128 ? 255 : 0;
    }
    return plane;
}

} // namespace bichrom::test
