#include "core/raster/choke.h"

#include "core/base/units.h"
#include "core/raster/choke_runs.h"
#include "core/raster/tone_rows.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>
#include <vector>

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

namespace {

Plane by_runs(const Plane &plane, double radius, RunPlane (*change)(const RowsAround &, double, EdgePixels))
{
    if (!(radius > 0) || plane.pixels.empty()) {
        return plane;
    }
    const RunPlane runs{Plane(plane)};
    RowsAround rows;
    rows.width = plane.width;
    rows.last = rows.bottom = plane.height;
    rows.row = [&](int y) { return runs.row(y); };
    return change(rows, radius, EdgePixels::Grey).plane();
}

} // namespace

Plane choke(const Plane &plane, double radius)
{
    return by_runs(plane, radius, choke);
}

Plane spread(const Plane &plane, double radius)
{
    return by_runs(plane, radius, spread);
}

namespace {

/// The lesser of two rows; their memory does not overlap, so that many pixels go at once.
void least_of(std::uint8_t *__restrict out, const std::uint8_t *__restrict a,
              const std::uint8_t *__restrict b, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = a[i] < b[i] ? a[i] : b[i];
    }
}

/// The part of \p plane that holds ink, and \p rim pixels more on each side where there are any; empty when
/// none does.
PixelRect inked_part(const Plane &plane, int rim)
{
    int left = plane.width, right = -1, top = plane.height, bottom = -1;
    for (int y = 0; y < plane.height; ++y) {
        const auto row = plane.row(y);
        const auto inked = [](std::uint8_t value) { return value != 0; };
        const auto first = std::find_if(row.begin(), row.end(), inked);
        if (first == row.end()) {
            continue;
        }
        const auto last = std::find_if(row.rbegin(), row.rend(), inked);
        left = std::min(left, static_cast<int>(first - row.begin()));
        right = std::max(right, plane.width - 1 - static_cast<int>(last - row.rbegin()));
        top = std::min(top, y);
        bottom = y;
    }
    if (bottom < 0) {
        return {};
    }
    const int from_x = std::max(0, left - rim), from_y = std::max(0, top - rim);
    return {from_x, from_y, std::min(plane.width, right + 1 + rim) - from_x,
            std::min(plane.height, bottom + 1 + rim) - from_y};
}

} // namespace

Plane choke_tones(const Plane &plane, double radius)
{
    if (!(radius > 0) || plane.pixels.empty()) {
        return plane;
    }
    const std::vector<int> half = disc_rows(radius);
    const int reach = static_cast<int>(half.size()) - 1;
    const int widest = half.front();
    // Bare stays bare: only what holds ink is looked at, with a rim that limits it.
    const PixelRect part = inked_part(plane, std::max(reach, widest) + 1);
    Plane out(plane.width, plane.height);
    if (part.empty()) {
        return out;
    }
    const auto width = static_cast<std::size_t>(part.width);
    const std::size_t padded = width + static_cast<std::size_t>(2 * widest);
    for (int y = part.y; y < part.y + part.height; ++y) {
        std::fill_n(out.row(y).begin() + part.x, part.width, std::uint8_t(255));
    }
    std::vector<std::vector<std::uint8_t>> runs; // of each power of two: the least of that many from here on
    for (std::size_t length = 1; length <= static_cast<std::size_t>(2 * widest + 1); length *= 2) {
        runs.emplace_back(padded);
    }
    std::vector<std::uint8_t> across(width); // the least of 2 w + 1 pixels round each
    for (int y = part.y; y < part.y + part.height; ++y) {
        const auto row = plane.row(y).subspan(static_cast<std::size_t>(part.x), width);
        std::vector<std::uint8_t> &line = runs[0];
        std::fill(line.begin(), line.begin() + widest, row.front());
        std::copy(row.begin(), row.end(), line.begin() + widest);
        std::fill(line.end() - widest, line.end(), row.back());
        for (std::size_t power = 1; power < runs.size(); ++power) {
            const std::vector<std::uint8_t> &shorter = runs[power - 1];
            const std::size_t length = std::size_t(1) << power;
            least_of(runs[power].data(), shorter.data(), shorter.data() + length / 2, padded - length + 1);
        }
        int known = -1; // the half width that across is of
        for (int dy = 0; dy <= reach; ++dy) {
            const int w = half[static_cast<std::size_t>(dy)];
            if (w != known) {
                const auto length = static_cast<std::size_t>(2 * w + 1);
                const auto power = static_cast<std::size_t>(std::bit_width(length) - 1);
                const std::uint8_t *from = runs[power].data() + (widest - w);
                least_of(across.data(), from, from + (length - (std::size_t(1) << power)), width);
                known = w;
            }
            const auto limit = [&](int to) {
                if (to >= part.y && to < part.y + part.height) {
                    take_lesser(out.row(to).data() + part.x, across.data(), width);
                }
            };
            limit(y - dy);
            if (dy > 0) {
                limit(y + dy);
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
