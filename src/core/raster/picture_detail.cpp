#include "core/raster/picture_detail.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <vector>

namespace bichrom {

namespace {

constexpr int least_side = 64;

/// Mean of a difference across each column boundary, and share of rows that do not change there.
struct Profile
{
    std::vector<double> first;  ///< |g(x) − g(x−1)|
    std::vector<double> second; ///< |2 g(x) − g(x−1) − g(x+1)|
};

Profile profile_across(const Plane &grey)
{
    Profile out;
    const auto width = static_cast<std::size_t>(grey.width);
    out.first.assign(width, 0);
    out.second.assign(width, 0);
    for (int y = 0; y < grey.height; ++y) {
        const auto row = grey.row(y);
        for (std::size_t x = 1; x < width; ++x) {
            out.first[x] += std::abs(int(row[x]) - int(row[x - 1]));
        }
        for (std::size_t x = 1; x + 1 < width; ++x) {
            out.second[x] += std::abs(2 * int(row[x]) - int(row[x - 1]) - int(row[x + 1]));
        }
    }
    return out;
}

/// The factor by which pixels were copied, or 1: columns change at even distances and nowhere else.
double copied(const std::vector<double> &first)
{
    double sum = 0;
    for (const double one : first) {
        sum += one;
    }
    const double much = 0.05 * sum / static_cast<double>(first.size());
    std::vector<std::size_t> edges;
    for (std::size_t x = 1; x < first.size(); ++x) {
        if (first[x] > much) {
            edges.push_back(x);
        }
    }
    constexpr std::size_t least_edges = 24; // fewer may be the drawing's own
    if (sum <= 0 || edges.size() < least_edges) {
        return 1;
    }
    const double factor =
        static_cast<double>(edges.back() - edges.front()) / static_cast<double>(edges.size() - 1);
    if (factor < 1.45) {
        return 1;
    }
    std::size_t even = 0;
    for (std::size_t i = 1; i < edges.size(); ++i) {
        even += std::fabs(static_cast<double>(edges[i] - edges[i - 1]) - factor) <= 1.0 ? 1 : 0;
    }
    return static_cast<double>(even) >= 0.97 * static_cast<double>(edges.size() - 1) ? factor : 1;
}

/// The factor of an interpolation, or 1: second differences beat with its period.
double interpolated(const std::vector<double> &second)
{
    constexpr double pi = 3.14159265358979323846;
    const auto strength = [&](double period) {
        double re = 0;
        double im = 0;
        double sum = 0;
        for (std::size_t x = 1; x + 1 < second.size(); ++x) {
            const double angle = 2 * pi * static_cast<double>(x) / period;
            re += second[x] * std::cos(angle);
            im += second[x] * std::sin(angle);
            sum += second[x];
        }
        return sum > 0 ? std::hypot(re, im) / sum : 0.0;
    };
    constexpr double least = 0.18; // pictures as they were taken stay under 0.05, measured on noise and edges
    const double blocks = strength(8); // of JPEG
    for (const double factor : {2.0, 3.0, 4.0, 5.0, 6.0, 7.0}) {
        if (const double found = strength(factor); found > least && found > 2 * blocks) {
            return factor;
        }
    }
    return 1;
}

Plane transposed(const Plane &plane)
{
    Plane out(plane.height, plane.width);
    for (int y = 0; y < plane.height; ++y) {
        const auto row = plane.row(y);
        for (int x = 0; x < plane.width; ++x) {
            out.row(x)[static_cast<std::size_t>(y)] = row[static_cast<std::size_t>(x)];
        }
    }
    return out;
}

} // namespace

double blown_up(const Plane &grey)
{
    if (grey.width < least_side || grey.height < least_side) {
        return 1;
    }
    const Profile across = profile_across(grey);
    const Profile down = profile_across(transposed(grey));
    const double by_copies = std::min(copied(across.first), copied(down.first));
    if (by_copies > 1) {
        return by_copies;
    }
    return std::min(interpolated(across.second), interpolated(down.second));
}

} // namespace bichrom
