#include "core/raster/choke.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

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

/// How far, in pixels, the edge lies from the middle of a bare pixel towards the ink, less one half: the
/// share of it that is inked, or minus the share that its inked neighbour lacks.
float edge_shift(const Plane &plane, int x, int y)
{
    const int own = plane.at(x, y);
    if (own > 0) {
        return static_cast<float>(own) / 255.0f;
    }
    int least = 255;
    const auto look = [&](int nx, int ny) {
        if (nx >= 0 && ny >= 0 && nx < plane.width && ny < plane.height) {
            const int value = plane.at(nx, ny);
            least = value >= 128 ? std::min(least, value) : least;
        }
    };
    look(x - 1, y);
    look(x + 1, y);
    look(x, y - 1);
    look(x, y + 1);
    return static_cast<float>(least) / 255.0f - 1.0f;
}

/// The distance of (x, y) from the edge by the nearest bare pixel (u, v) and its neighbours: of two nearly as
/// near, the one with more ink in it is where the edge is nearest. One half more than the true distance.
double distance_to_edge(const Plane &plane, int x, int y, int u, int v)
{
    double least = 1e9;
    for (int nv = std::max(0, v - 1); nv <= std::min(plane.height - 1, v + 1); ++nv) {
        for (int nu = std::max(0, u - 1); nu <= std::min(plane.width - 1, u + 1); ++nu) {
            if (plane.at(nu, nv) < 128) {
                least = std::min(least, std::hypot(static_cast<double>(x - nu), static_cast<double>(y - nv)) +
                                            static_cast<double>(edge_shift(plane, nu, nv)));
            }
        }
    }
    return least;
}

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
    const int width = plane.width;
    const int height = plane.height;
    const auto columns = static_cast<std::size_t>(width);
    // Rows from each pixel to the nearest bare one above and below, as far as matters. Row by row, so that
    // the loops run along memory.
    const auto far = static_cast<std::uint16_t>(std::min(60000.0, std::ceil(radius) + 3));
    std::vector<std::uint16_t> up(plane.pixels.size());
    std::vector<std::uint16_t> down(plane.pixels.size());
    const auto pass = [&](std::vector<std::uint16_t> &rows, int from, int to, int by) {
        const std::vector<std::uint16_t> none(columns, far);
        const std::uint16_t *before = none.data();
        for (int y = from; y != to; y += by) {
            const std::uint8_t *line = plane.row(y).data();
            std::uint16_t *out = rows.data() + static_cast<std::size_t>(y) * columns;
            for (std::size_t x = 0; x < columns; ++x) {
                const auto next = static_cast<std::uint16_t>(std::min<int>(far, before[x] + 1));
                out[x] = line[x] < 128 ? std::uint16_t(0) : next;
            }
            before = out;
        }
    };
    pass(up, 0, height, 1);
    pass(down, height - 1, -1, -1);

    Plane result(width, height);
    std::vector<int> reach(columns); // columns to the nearest one that has a bare pixel near
    std::vector<std::uint16_t> nearest(columns);
    for (int y = 0; y < height; ++y) {
        const std::uint16_t *above = up.data() + static_cast<std::size_t>(y) * columns;
        const std::uint16_t *below = down.data() + static_cast<std::size_t>(y) * columns;
        std::uint16_t least = far;
        for (std::size_t x = 0; x < columns; ++x) {
            nearest[x] = std::min(above[x], below[x]);
            least = std::min(least, nearest[x]);
        }
        const auto line = result.row(y);
        if (least >= far) {
            std::fill(line.begin(), line.end(), std::uint8_t(255)); // no edge near
            continue;
        }
        int away = far;
        for (std::size_t x = 0; x < columns; ++x) {
            away = nearest[x] < far ? 0 : std::min<int>(far, away + 1);
            reach[x] = away;
        }
        away = far;
        for (std::size_t x = columns; x-- > 0;) {
            away = nearest[x] < far ? 0 : std::min<int>(far, away + 1);
            reach[x] = std::min(reach[x], away);
        }
        for (int x = 0; x < width; ++x) {
            const auto at = static_cast<std::size_t>(x);
            if (reach[at] >= far) {
                line[at] = 255;
                continue;
            }
            if (nearest[at] == 0 || nearest[at] < radius - 1.5) {
                continue; // bare
            }
            int best = far * far;
            int column = -1;
            const int first = std::max(0, x - far);
            const int last = std::min(width - 1, x + far);
            for (int u = first; u <= last; ++u) {
                const int rows = nearest[static_cast<std::size_t>(u)];
                const int squared = (u - x) * (u - x) + rows * rows;
                if (rows < far && squared < best) {
                    best = squared;
                    column = u;
                }
            }
            const double distance = std::sqrt(static_cast<double>(best));
            if (column < 0 || distance >= radius + 1.5) {
                line[at] = 255;
            } else if (distance > radius - 1.5) {
                const auto c = static_cast<std::size_t>(column);
                const int row = above[c] <= below[c] ? y - above[c] : y + below[c];
                const double edge = distance_to_edge(plane, x, y, column, row);
                line[at] =
                    static_cast<std::uint8_t>(std::lround(std::clamp(edge - radius, 0.0, 1.0) * 255.0));
            }
        }
    }
    return result;
}

Plane spread(const Plane &plane, double radius)
{
    return radius > 0 ? inverted(choke(inverted(plane), radius)) : plane;
}

Plane choke_tones(const Plane &plane, double radius)
{
    if (!(radius > 0) || plane.pixels.empty()) {
        return plane;
    }
    const std::vector<int> half = disc_rows(radius);
    const int reach = static_cast<int>(half.size()) - 1;
    const int widest = half.front();
    Plane out(plane.width, plane.height, 255);
    const auto padded = static_cast<std::size_t>(plane.width + 2 * widest);
    std::vector<std::vector<std::uint8_t>> runs; // of each power of two: the least of that many from here on
    for (int y = 0; y < plane.height; ++y) {
        runs.assign(1, std::vector<std::uint8_t>(padded));
        const auto row = plane.row(y);
        std::fill(runs[0].begin(), runs[0].begin() + widest, row.front());
        std::copy(row.begin(), row.end(), runs[0].begin() + widest);
        std::fill(runs[0].end() - widest, runs[0].end(), row.back());
        for (std::size_t length = 2; length <= static_cast<std::size_t>(2 * widest + 1); length *= 2) {
            std::vector<std::uint8_t> next = runs.back();
            const std::vector<std::uint8_t> &shorter = runs.back();
            for (std::size_t i = 0; i + length <= padded; ++i) {
                next[i] = std::min(shorter[i], shorter[i + length / 2]);
            }
            runs.push_back(std::move(next));
        }
        for (int dy = -reach; dy <= reach; ++dy) {
            const int to = y + dy;
            if (to < 0 || to >= plane.height) {
                continue;
            }
            const int w = half[static_cast<std::size_t>(std::abs(dy))];
            const auto length = static_cast<std::size_t>(2 * w + 1);
            std::size_t power = 0;
            while ((std::size_t(2) << power) <= length) {
                ++power;
            }
            const std::vector<std::uint8_t> &run = runs[power];
            const std::size_t step = length - (std::size_t(1) << power);
            const std::uint8_t *from = run.data() + (widest - w);
            std::uint8_t *line = out.row(to).data();
            for (int x = 0; x < plane.width; ++x) {
                const std::uint8_t value = std::min(from[x], from[static_cast<std::size_t>(x) + step]);
                line[x] = std::min(line[x], value);
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
