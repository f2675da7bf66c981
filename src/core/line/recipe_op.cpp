#include "core/line/recipe_op.h"

#include "core/raster/choke.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <numbers>
#include <utility>
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

/// By a table of all pairs, so that the arithmetic is done once and not for each pixel. Where the other plane
/// is bare and that leaves values as they are, eight pixels are passed over at once.
template <typename Join> void join(Plane &plane, const Plane &other, Join both)
{
    std::vector<std::uint8_t> table(std::size_t(256) * 256);
    bool bare_leaves = true;
    for (std::size_t i = 0; i < table.size(); ++i) {
        table[i] = both(static_cast<std::uint8_t>(i >> 8), static_cast<std::uint8_t>(i & 255));
        bare_leaves = bare_leaves && ((i & 255) != 0 || table[i] == i >> 8);
    }
    const std::uint8_t *values = other.pixels.data();
    std::uint8_t *pixels = plane.pixels.data();
    const std::size_t count = plane.pixels.size();
    for (std::size_t i = 0; i < count;) {
        std::uint64_t word = 1;
        if (bare_leaves && i + sizeof word <= count) {
            std::memcpy(&word, values + i, sizeof word);
        }
        if (word == 0) {
            i += sizeof word;
            continue;
        }
        const std::size_t end = std::min(count, i + sizeof word);
        for (; i < end; ++i) {
            pixels[i] = table[std::size_t(pixels[i]) << 8 | values[i]];
        }
    }
}

// Planes of one size joined pixel by pixel; their memory does not overlap, so that many pixels go at once.

/// The sum, at most solid.
void add_tones(std::uint8_t *__restrict out, const std::uint8_t *__restrict other, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        const auto sum = static_cast<std::uint8_t>(out[i] + other[i]);
        out[i] = sum < out[i] ? std::uint8_t(255) : sum; // it has wrapped round
    }
}

void take_larger(std::uint8_t *__restrict out, const std::uint8_t *__restrict other, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = out[i] > other[i] ? out[i] : other[i];
    }
}

/// Bare where \p where is.
void keep_where(std::uint8_t *__restrict out, const std::uint8_t *__restrict where, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = where[i] == 0 ? std::uint8_t(0) : out[i];
    }
}

/// Where \p pixels, of the page, have ink, by how much of each pixel they cover and how the tone runs.
Plane shaded(const PixelRect &rect, const Rect &pixels, const Fade &fade)
{
    Plane plane = rectangle(rect, pixels);
    if (fade.start == 1 && fade.end == 1) {
        return plane;
    }
    // The tone runs over the length that the rectangle has in that direction.
    const double along_x = std::cos(fade.degrees * std::numbers::pi / 180);
    const double along_y = std::sin(fade.degrees * std::numbers::pi / 180);
    const double length =
        std::max(1e-9, std::fabs(along_x) * pixels.width + std::fabs(along_y) * pixels.height);
    const double middle_x = pixels.x + pixels.width / 2;
    const double middle_y = pixels.y + pixels.height / 2;
    for (int y = 0; y < rect.height; ++y) {
        const auto row = plane.row(y);
        const double down = (rect.y + y + 0.5 - middle_y) * along_y;
        for (int x = 0; x < rect.width; ++x) {
            std::uint8_t &value = row[static_cast<std::size_t>(x)];
            if (value != 0) {
                const double at = ((rect.x + x + 0.5 - middle_x) * along_x + down) / length + 0.5;
                value = byte(value * (fade.start + (fade.end - fade.start) * std::clamp(at, 0.0, 1.0)));
            }
        }
    }
    return plane;
}

/// \param narrower  mm that the source is choked by; spread when negative
/// \param tonal  tones keep their values when it is
Plane source_plane(const RecipeSource &source, const OpBand &band, double narrower, bool tonal)
{
    const double per_mm = band.resolution.value / millimetres_per_inch;
    Plane plane(band.rect.width, band.rect.height);
    bool bare = true;
    const auto add = [&](const Plane *other, bool sum) {
        if (other == nullptr) {
            return;
        }
        if (std::exchange(bare, false)) {
            plane.pixels = other->pixels;
            return;
        }
        (sum ? add_tones : take_larger)(plane.pixels.data(), other->pixels.data(), plane.pixels.size());
    };
    // Rectangles are moved at their edges, so that lines without width get one.
    const auto add_rectangle = [&](Rect area) {
        area.x += narrower;
        area.y += narrower;
        area.width -= 2 * narrower;
        area.height -= 2 * narrower;
        if (area.width > 0 && area.height > 0) {
            const Plane one = shaded(
                band.rect, {area.x * per_mm, area.y * per_mm, area.width * per_mm, area.height * per_mm},
                source.fade);
            add(&one, false);
        }
    };
    switch (source.from) {
    case RecipeFrom::Area:
        if (source.inks.empty()) {
            plane = source.windows ? *band.whole : *band.area;
            break;
        }
        for (const std::string &ink : source.inks) {
            add(band.plate(ink), false);
        }
        join(plane, source.windows ? *band.whole : *band.area,
             [](std::uint8_t a, std::uint8_t b) { return a > 0 ? b : std::uint8_t(0); });
        break;
    case RecipeFrom::Plate:
    case RecipeFrom::Largest:
    case RecipeFrom::Sum:
        for (const std::string &ink : source.inks) {
            add(band.plate(ink), source.from == RecipeFrom::Sum);
        }
        break;
    case RecipeFrom::Objects:
    case RecipeFrom::Layer:
    case RecipeFrom::SmallText:
    case RecipeFrom::File:
        add(band.mask(source), false);
        break;
    case RecipeFrom::Tonal: {
        const Plane *where = band.mask(source);
        if (where == nullptr) {
            return plane;
        }
        for (const std::string &ink : source.inks) {
            add(band.plate(ink), true);
        }
        if (source.inks.empty()) {
            std::fill(plane.pixels.begin(), plane.pixels.end(), std::uint8_t(255));
        }
        keep_where(plane.pixels.data(), where->pixels.data(), plane.pixels.size());
        break;
    }
    case RecipeFrom::Box:
        add_rectangle(band.boxes[static_cast<std::size_t>(source.box)]);
        return plane;
    case RecipeFrom::Drawn:
        for (const Rect &area : source.areas) {
            add_rectangle({area.x + band.media_x, area.y + band.media_y, area.width, area.height});
        }
        return plane;
    }
    if (source.from == RecipeFrom::Area && source.anywhere) {
        each(plane, [](std::uint8_t v) { return v > 0 ? std::uint8_t(255) : std::uint8_t(0); });
    }
    if (narrower > 0) {
        return tonal ? choke_tones(plane, narrower * per_mm) : choke(plane, narrower * per_mm);
    }
    if (narrower < 0) {
        return tonal ? spread_tones(plane, -narrower * per_mm) : spread(plane, -narrower * per_mm);
    }
    return plane;
}

void take_step(const RecipeStep &step, const OpBand &band, Plane &plane)
{
    const double per_mm = band.resolution.value / millimetres_per_inch;
    const double radius = step.distance * per_mm;
    switch (step.does) {
    case RecipeDo::Add:
        join(plane, source_plane(step.source, band, step.distance, step.tonal),
             [&](std::uint8_t a, std::uint8_t b) { return std::max(a, byte(step.amount * b)); });
        break;
    case RecipeDo::Keep:
        join(plane, source_plane(step.source, band, step.distance, step.tonal),
             [](std::uint8_t a, std::uint8_t b) { return byte(a * b / 255.0); });
        break;
    case RecipeDo::TakeAway:
        join(plane, source_plane(step.source, band, step.distance, step.tonal),
             [&](std::uint8_t a, std::uint8_t b) { return byte(a * (1.0 - step.amount * b / 255.0)); });
        break;
    case RecipeDo::Invert:
        join(plane, *band.area, [](std::uint8_t a, std::uint8_t b) { return byte((255 - a) * b / 255.0); });
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
    case RecipeDo::Sharpen:
        join(plane, smooth(plane, radius),
             [&](std::uint8_t a, std::uint8_t b) { return byte(a + step.amount * (a - b)); });
        break;
    case RecipeDo::RemoveThin:
        join(plane, spread(choke(plane, radius / 2), radius / 2),
             [](std::uint8_t a, std::uint8_t b) { return std::min(a, b); });
        break;
    case RecipeDo::FillHoles:
        join(plane, choke(spread(plane, radius / 2), radius / 2),
             [](std::uint8_t a, std::uint8_t b) { return std::max(a, b); });
        break;
    case RecipeDo::Outline: {
        const Plane inner = choke(plane, radius / 2);
        plane = spread(plane, radius / 2);
        join(plane, inner,
             [](std::uint8_t a, std::uint8_t b) { return static_cast<std::uint8_t>(a - std::min(a, b)); });
        break;
    }
    case RecipeDo::KeepAway: {
        const bool edges = step.source.from == RecipeFrom::Box; // stays inside; else outside
        join(plane, source_plane(step.source, band, edges ? step.distance : -step.distance, step.tonal),
             [edges](std::uint8_t a, std::uint8_t b) { return byte(a * (edges ? b : 255 - b) / 255.0); });
        break;
    }
    }
}

} // namespace

void RecipeOp::run(OpBand &band) const
{
    Plane plane(band.rect.width, band.rect.height);
    bool bare = true; // so far
    for (const RecipeStep &step : m_recipe) {
        if (bare && step.does == RecipeDo::Add && step.amount >= 1) {
            plane = source_plane(step.source, band, step.distance, step.tonal);
        } else {
            take_step(step, band, plane);
        }
        bare = false;
    }
    if (Plane *plate = band.plate(m_ink)) {
        *plate = std::move(plane);
    }
}

} // namespace bichrom
