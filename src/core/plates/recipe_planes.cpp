#include "core/plates/recipe_planes.h"

#include "core/raster/choke.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace bichrom {

namespace {

std::uint8_t byte(double value)
{
    return static_cast<std::uint8_t>(std::lround(std::clamp(value, 0.0, 255.0)));
}

/// How much of each pixel of \p rect lies inside \p area, which is in pixels of the page.
Plane rectangle(const PixelRect &rect, const Rect &area)
{
    Plane plane(rect.width, rect.height);
    const auto share = [](double low, double high, int pixel) {
        return std::clamp(std::min(high, pixel + 1.0) - std::max(low, static_cast<double>(pixel)), 0.0, 1.0);
    };
    for (int y = 0; y < rect.height; ++y) {
        const double down = share(area.y, area.y + area.height, rect.y + y);
        const auto row = plane.row(y);
        for (int x = 0; x < rect.width && down > 0; ++x) {
            row[static_cast<std::size_t>(x)] =
                byte(down * share(area.x, area.x + area.width, rect.x + x) * 255.0);
        }
    }
    return plane;
}

template <typename Change> void each(Plane &plane, Change change)
{
    std::array<std::uint8_t, 256> table{};
    for (std::size_t v = 0; v < table.size(); ++v) {
        table[v] = change(static_cast<std::uint8_t>(v));
    }
    for (std::uint8_t &value : plane.pixels) {
        value = table[value];
    }
}

/// By a table of all pairs, so that the arithmetic is done once and not for each pixel.
template <typename Join> void join(Plane &plane, const Plane &other, Join both)
{
    std::vector<std::uint8_t> table(std::size_t(256) * 256);
    for (std::size_t i = 0; i < table.size(); ++i) {
        table[i] = both(static_cast<std::uint8_t>(i >> 8), static_cast<std::uint8_t>(i & 255));
    }
    const std::uint8_t *values = other.pixels.data();
    std::uint8_t *pixels = plane.pixels.data();
    for (std::size_t i = 0; i < plane.pixels.size(); ++i) {
        pixels[i] = table[std::size_t(pixels[i]) << 8 | values[i]];
    }
}

Plane source_plane(const RecipeSource &source, const RecipeTable &table)
{
    const double per_mm = table.resolution.value / millimetres_per_inch;
    Plane plane(table.rect.width, table.rect.height);
    const auto add = [&](const Plane *other, bool sum) {
        if (other != nullptr) {
            join(plane, *other, [sum](std::uint8_t a, std::uint8_t b) {
                return sum ? static_cast<std::uint8_t>(std::min(255, a + b)) : std::max(a, b);
            });
        }
    };
    switch (source.from) {
    case RecipeFrom::Area:
        return *table.area;
    case RecipeFrom::Plate:
    case RecipeFrom::Largest:
    case RecipeFrom::Sum:
        for (const std::string &ink : source.inks) {
            add(table.plate(ink), source.from == RecipeFrom::Sum);
        }
        break;
    case RecipeFrom::Objects:
    case RecipeFrom::Layer:
        add(table.mask(source), false);
        break;
    case RecipeFrom::Box: {
        const Rect &box = table.boxes[static_cast<std::size_t>(source.box)];
        return rectangle(table.rect,
                         {box.x * per_mm, box.y * per_mm, box.width * per_mm, box.height * per_mm});
    }
    case RecipeFrom::Drawn:
        for (const Rect &area : source.areas) {
            const Plane drawn =
                rectangle(table.rect, {(area.x + table.media_x) * per_mm, (area.y + table.media_y) * per_mm,
                                       area.width * per_mm, area.height * per_mm});
            add(&drawn, false);
        }
        break;
    }
    return plane;
}

void take_step(const RecipeStep &step, const RecipeTable &table, Plane &plane)
{
    const double per_mm = table.resolution.value / millimetres_per_inch;
    const double radius = step.distance * per_mm;
    switch (step.does) {
    case RecipeDo::Add:
        join(plane, source_plane(step.source, table),
             [&](std::uint8_t a, std::uint8_t b) { return std::max(a, byte(step.amount * b)); });
        break;
    case RecipeDo::Keep:
        join(plane, source_plane(step.source, table),
             [](std::uint8_t a, std::uint8_t b) { return byte(a * b / 255.0); });
        break;
    case RecipeDo::TakeAway:
        join(plane, source_plane(step.source, table),
             [&](std::uint8_t a, std::uint8_t b) { return byte(a * (1.0 - step.amount * b / 255.0)); });
        break;
    case RecipeDo::Invert:
        join(plane, *table.area, [](std::uint8_t a, std::uint8_t b) { return byte((255 - a) * b / 255.0); });
        break;
    case RecipeDo::Levels:
        each(plane,
             [&](std::uint8_t v) { return byte((v / 255.0 - step.low) / (step.high - step.low) * 255.0); });
        break;
    case RecipeDo::Curve:
        each(plane, [&](std::uint8_t v) { return byte(step.curve.at(v / 255.0) * 255.0); });
        break;
    case RecipeDo::Threshold:
        each(plane, [&](std::uint8_t v) {
            return v > 0 && v / 255.0 >= step.amount ? std::uint8_t(255) : std::uint8_t(0);
        });
        break;
    case RecipeDo::Tint:
        each(plane, [&](std::uint8_t v) { return byte(v * step.amount); });
        break;
    case RecipeDo::Choke:
        plane = step.tonal ? choke_tones(plane, radius) : choke(plane, radius);
        break;
    case RecipeDo::Spread:
        plane = step.tonal ? spread_tones(plane, radius) : spread(plane, radius);
        break;
    case RecipeDo::Smooth:
        plane = smooth(plane, radius);
        break;
    case RecipeDo::RemoveThin:
        join(plane, spread(choke(plane, radius / 2), radius / 2),
             [](std::uint8_t a, std::uint8_t b) { return std::min(a, b); });
        break;
    case RecipeDo::FillHoles:
        join(plane, choke(spread(plane, radius / 2), radius / 2),
             [](std::uint8_t a, std::uint8_t b) { return std::max(a, b); });
        break;
    case RecipeDo::KeepAway: {
        Rect box = table.boxes[static_cast<std::size_t>(step.source.box)];
        box = {box.x + step.distance, box.y + step.distance, std::max(0.0, box.width - 2 * step.distance),
               std::max(0.0, box.height - 2 * step.distance)};
        const Plane inside =
            rectangle(table.rect, {box.x * per_mm, box.y * per_mm, box.width * per_mm, box.height * per_mm});
        join(plane, inside, [](std::uint8_t a, std::uint8_t b) { return byte(a * b / 255.0); });
        break;
    }
    }
}

} // namespace

Plane follow_recipe(const Recipe &recipe, const RecipeTable &table)
{
    Plane plane(table.rect.width, table.rect.height);
    for (const RecipeStep &step : recipe) {
        take_step(step, table, plane);
    }
    return plane;
}

} // namespace bichrom
