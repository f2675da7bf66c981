#include "core/proof/plate_changes.h"

#include "core/raster/patches.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <numeric>
#include <utility>

namespace bichrom {

namespace {

constexpr double finest = 150.0;
constexpr double most_pixels = 8e6;
constexpr int rows_at_once = 256;
constexpr int least_change =
    13;                  ///< of 255: 5 %; what antialiasing makes of the same edge written anew is less
constexpr int cell = 12; ///< pixels, two millimetres; changes closer than that are one place

/// One ink in both files; −1 where it has no plate.
struct Pair
{
    std::string ink;
    int before = -1;
    int after = -1;
    Plane cells; ///< 255 where anything changed
    double changed = 0;
    double sum_before = 0;
    double sum_after = 0;
};

std::vector<Pair> pairs_of(const PlateLine &before, const PlateLine &after)
{
    std::vector<Pair> pairs;
    for (std::size_t i = 0; i < after.inks().size(); ++i) {
        pairs.push_back({after.inks()[i], -1, static_cast<int>(i), {}, 0, 0, 0});
    }
    for (std::size_t i = 0; i < before.inks().size(); ++i) {
        const auto known = std::find_if(pairs.begin(), pairs.end(),
                                        [&](const Pair &pair) { return pair.ink == before.inks()[i]; });
        if (known != pairs.end()) {
            known->before = static_cast<int>(i);
        } else {
            pairs.push_back({before.inks()[i], static_cast<int>(i), -1, {}, 0, 0, 0});
        }
    }
    return pairs;
}

/// \p part of a page; what lies beyond it is bare.
Outcome<PlateTile> strip_of(const PlateLine &plate_line, const PixelRect &part, Dpi resolution,
                            const JobControl &control)
{
    const PixelRect page = plate_line.extent(resolution);
    if (part.y >= page.height) {
        PlateTile bare;
        bare.rect = part;
        bare.plates.assign(plate_line.inks().size(), Plane(part.width, part.height));
        return bare;
    }
    return plate_line.render(part, resolution, Edges::Smooth, control);
}

/// How much of pixel \p x, \p y has changed: a pixel on an edge by its share of what changes beside it.
double changed_share(const Plane &difference, int x, int y)
{
    int most = 0;
    for (int v = std::max(0, y - 1); v <= std::min(difference.height - 1, y + 1); ++v) {
        for (int u = std::max(0, x - 1); u <= std::min(difference.width - 1, x + 1); ++u) {
            most = std::max(most, int(difference.at(u, v)));
        }
    }
    return difference.at(x, y) / static_cast<double>(most);
}

/// Adds a strip of one ink; \p changed counts the pixels of each cell that changed in any ink.
/// \param seen  which pixels of the strip are counted
void compare_strip(const Plane &a, const Plane &b, int top, Pair &pair, Plane &changed, Plane &seen)
{
    Plane difference(a.width, a.height);
    std::uint64_t sum_before = 0;
    std::uint64_t sum_after = 0;
    for (std::size_t i = 0; i < difference.pixels.size(); ++i) {
        sum_before += a.pixels[i];
        sum_after += b.pixels[i];
        const int step = std::abs(int(a.pixels[i]) - int(b.pixels[i]));
        difference.pixels[i] = static_cast<std::uint8_t>(step >= least_change ? step : 0);
    }
    pair.sum_before += static_cast<double>(sum_before);
    pair.sum_after += static_cast<double>(sum_after);
    for (int y = 0; y < difference.height; ++y) {
        const auto row = difference.row(y);
        for (int x = 0; x < difference.width; ++x) {
            if (row[static_cast<std::size_t>(x)] == 0) {
                continue;
            }
            pair.changed += changed_share(difference, x, y);
            const auto column = static_cast<std::size_t>(x / cell);
            pair.cells.row((top + y) / cell)[column] = 255;
            std::uint8_t &counted = seen.row(y)[static_cast<std::size_t>(x)];
            std::uint8_t &pixels = changed.row((top + y) / cell)[column];
            pixels = static_cast<std::uint8_t>(pixels + (counted == 0 ? 1 : 0));
            counted = 1;
        }
    }
}

/// \param changed  pixels changed in each cell, in any ink
std::vector<ChangedPlace> places_of(const std::vector<Pair> &pairs, std::vector<Patch> patches,
                                    const Plane &changed, double pixel_mm)
{
    if (patches.size() > PlateChanges::most_places) {
        std::stable_sort(patches.begin(), patches.end(),
                         [](const Patch &a, const Patch &b) { return a.pixels > b.pixels; });
        patches.resize(PlateChanges::most_places);
    }
    std::vector<ChangedPlace> places;
    const double cell_mm = cell * pixel_mm;
    for (const Patch &patch : patches) {
        ChangedPlace place;
        place.area = {patch.left * cell_mm, patch.top * cell_mm, (patch.right + 1 - patch.left) * cell_mm,
                      (patch.bottom + 1 - patch.top) * cell_mm};
        int pixels = 0;
        for (int y = patch.top; y <= patch.bottom; ++y) {
            const auto row = changed.row(y);
            pixels = std::accumulate(row.begin() + patch.left, row.begin() + patch.right + 1, pixels);
        }
        place.area_mm2 = pixels * pixel_mm * pixel_mm;
        for (const Pair &pair : pairs) {
            bool here = false;
            for (int y = patch.top; y <= patch.bottom && !here; ++y) {
                const auto row = pair.cells.row(y);
                here = std::any_of(row.begin() + patch.left, row.begin() + patch.right + 1,
                                   [](std::uint8_t v) { return v != 0; });
            }
            if (here) {
                place.inks.push_back(pair.ink);
            }
        }
        places.push_back(std::move(place));
    }
    std::stable_sort(places.begin(), places.end(), [](const ChangedPlace &a, const ChangedPlace &b) {
        return std::pair(a.area.y, a.area.x) < std::pair(b.area.y, b.area.x);
    });
    return places;
}

} // namespace

Outcome<PlateChanges> compare_plates(const PlateLine &before, const PlateLine &after,
                                     const JobControl &control)
{
    const double width = std::max(before.page().width().value, after.page().width().value);
    const double height = std::max(before.page().height().value, after.page().height().value);
    const double square_inches = width * height / (points_per_inch * points_per_inch);
    const Dpi dpi(std::min(finest, std::sqrt(most_pixels / std::max(square_inches, 1e-6))));
    const PixelRect one = before.extent(dpi);
    const PixelRect other = after.extent(dpi);
    const PixelRect all = {0, 0, std::max(one.width, other.width), std::max(one.height, other.height)};

    std::vector<Pair> pairs = pairs_of(before, after);
    for (Pair &pair : pairs) {
        pair.cells = Plane((all.width + cell - 1) / cell, (all.height + cell - 1) / cell);
    }
    Plane changed((all.width + cell - 1) / cell, (all.height + cell - 1) / cell);
    for (int top = 0; top < all.height; top += rows_at_once) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", after.page().place(), {}};
        }
        control.progress(top, all.height);
        const PixelRect part = {0, top, all.width, std::min(rows_at_once, all.height - top)};
        const auto old_strip = strip_of(before, part, dpi, control);
        const auto new_strip = strip_of(after, part, dpi, control);
        if (!old_strip || !new_strip) {
            return old_strip ? new_strip.error() : old_strip.error();
        }
        const Plane bare(part.width, part.height);
        Plane seen(part.width, part.height);
        const auto plane_of = [&](const PlateTile &tile, int plate) -> const Plane & {
            return plate < 0 ? bare : tile.plates[static_cast<std::size_t>(plate)];
        };
        for (Pair &pair : pairs) {
            compare_strip(plane_of(*old_strip, pair.before), plane_of(*new_strip, pair.after), top, pair,
                          changed, seen);
        }
    }

    PlateChanges changes;
    constexpr double same_size = 0.5; // points; writers round boxes
    changes.page_size = std::abs(before.page().width().value - after.page().width().value) > same_size ||
                        std::abs(before.page().height().value - after.page().height().value) > same_size;
    const double pixel_mm = millimetres_per_inch / dpi.value;
    const double full = 255.0 * all.width * all.height;
    for (const Pair &pair : pairs) {
        if (pair.changed > 0) {
            changes.inks.push_back({pair.ink, pair.changed * pixel_mm * pixel_mm, pair.sum_before / full,
                                    pair.sum_after / full, pair.before < 0, pair.after < 0});
        }
    }
    std::stable_sort(changes.inks.begin(), changes.inks.end(),
                     [](const InkChange &a, const InkChange &b) { return a.area_mm2 > b.area_mm2; });
    std::vector<Patch> patches = find_patches(changed, 1);
    changes.places_in_all = patches.size();
    changes.places = places_of(pairs, std::move(patches), changed, pixel_mm);
    return changes;
}

} // namespace bichrom
