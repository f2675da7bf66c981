#include "core/line/recipe_op.h"

#include "core/raster/choke.h"
#include "core/raster/tone_rows.h"

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
    double above = 0;
    for (int y = 0; y < rect.height; ++y) {
        const double down = share(area.y, area.y + area.height, rect.y + y);
        const auto row = plane.row(y);
        if (y > 0 && down == above) { // nearly all rows are like the one before
            std::copy_n(plane.row(y - 1).begin(), rect.width, row.begin());
            continue;
        }
        above = down;
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

/// Whether the eight bytes of \p word are all \p value.
bool all_are(std::uint64_t word, std::uint8_t value)
{
    return word == value * std::uint64_t(0x0101010101010101U);
}

/// By a table of all pairs, so that the arithmetic is done once and not for each pixel. Where the table says
/// that nothing changes, eight pixels are passed over at once.
void join(Plane &plane, const Plane &other, const PairTable &table)
{
    const std::uint8_t *values = other.pixels.data();
    std::uint8_t *pixels = plane.pixels.data();
    const std::size_t count = plane.pixels.size();
    const auto nothing_changes = [&](std::size_t at) {
        std::uint64_t here = 0, there = 0;
        std::memcpy(&here, pixels + at, sizeof here);
        std::memcpy(&there, values + at, sizeof there);
        return (table.bare_leaves && there == 0) || (table.solid_leaves && all_are(there, 255)) ||
               (table.bare_stays && here == 0);
    };
    for (std::size_t i = 0; i < count;) {
        constexpr std::size_t step = 8;
        const std::size_t end = std::min(count, i + step);
        if (end == i + step && nothing_changes(i)) {
            i = end;
            continue;
        }
        for (; i < end; ++i) {
            pixels[i] = table.values[std::size_t(pixels[i]) << 8 | values[i]];
        }
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

/// The rectangles that a source is, in pixels of the page; none for other sources.
/// \param narrower  mm that each is moved in by at its edges, so that lines without width get one
std::vector<Rect> rectangles_of(const RecipeSource &source, const OpBand &band, double narrower)
{
    const double per_mm = band.resolution.value / millimetres_per_inch;
    std::vector<Rect> made;
    const auto add = [&](Rect area) {
        area.x += narrower;
        area.y += narrower;
        area.width -= 2 * narrower;
        area.height -= 2 * narrower;
        if (area.width > 0 && area.height > 0) {
            made.push_back({area.x * per_mm, area.y * per_mm, area.width * per_mm, area.height * per_mm});
        }
    };
    if (source.from == RecipeFrom::Box) {
        add(band.boxes[static_cast<std::size_t>(source.box)]);
    } else if (source.from == RecipeFrom::Drawn) {
        for (const Rect &area : source.areas) {
            add({area.x + band.media_x, area.y + band.media_y, area.width, area.height});
        }
    }
    return made;
}

/// mm that a step's source is choked by: what keeps away from anything but a box spreads it.
double narrower_by(const RecipeStep &step)
{
    return step.does == RecipeDo::KeepAway && step.source.from != RecipeFrom::Box ? -step.distance
                                                                                  : step.distance;
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
    switch (source.from) {
    case RecipeFrom::Area:
        if (source.inks.empty()) {
            plane = source.windows ? *band.whole : *band.area;
            break;
        }
        for (const std::string &ink : source.inks) {
            add(band.plate(ink), false);
        }
        show_where(plane.pixels.data(), (source.windows ? *band.whole : *band.area).pixels.data(),
                   plane.pixels.size());
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
    case RecipeFrom::Drawn:
        for (const Rect &area : rectangles_of(source, band, narrower)) {
            const Plane one = shaded(band.rect, area, source.fade);
            add(&one, false);
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

/// What a step makes of each pair, the working plane's value and another's; empty for steps that
/// need no table.
PairTable table_of(const RecipeStep &step)
{
    const auto by = [](const auto &both) {
        PairTable table;
        table.values.resize(std::size_t(256) * 256);
        for (std::size_t i = 0; i < table.values.size(); ++i) {
            const std::size_t a = i >> 8, b = i & 255;
            table.values[i] = both(static_cast<std::uint8_t>(a), static_cast<std::uint8_t>(b));
            table.bare_leaves = table.bare_leaves && (b != 0 || table.values[i] == a);
            table.solid_leaves = table.solid_leaves && (b != 255 || table.values[i] == a);
            table.bare_stays = table.bare_stays && (a != 0 || table.values[i] == 0);
        }
        return table;
    };
    const bool whole = step.amount == 1; // then arithmetic is as quick
    switch (step.does) {
    case RecipeDo::Add:
        return whole ? PairTable()
                     : by([&](std::uint8_t a, std::uint8_t b) { return std::max(a, byte(step.amount * b)); });
    case RecipeDo::TakeAway:
        return whole ? PairTable() : by([&](std::uint8_t a, std::uint8_t b) {
            return byte(a * (1.0 - step.amount * b / 255.0));
        });
    case RecipeDo::Invert:
        return by([](std::uint8_t a, std::uint8_t b) { return byte((255 - a) * b / 255.0); });
    case RecipeDo::Sharpen:
        return by([&](std::uint8_t a, std::uint8_t b) { return byte(a + step.amount * (a - b)); });
    case RecipeDo::KeepAway: {
        const bool edges = step.source.from == RecipeFrom::Box; // stays inside; else outside
        return by(
            [edges](std::uint8_t a, std::uint8_t b) { return byte(a * (edges ? b : 255 - b) / 255.0); });
    }
    default:
        return {};
    }
}

void take_step(const RecipeStep &step, const PairTable &table, const OpBand &band, Plane &plane)
{
    const double per_mm = band.resolution.value / millimetres_per_inch;
    const double radius = step.distance * per_mm;
    switch (step.does) {
    case RecipeDo::Add:
    case RecipeDo::Keep:
    case RecipeDo::TakeAway: {
        const Plane other = source_plane(step.source, band, narrower_by(step), step.tonal);
        if (!table.values.empty()) {
            join(plane, other, table);
        } else if (step.does == RecipeDo::Add) {
            take_larger(plane.pixels.data(), other.pixels.data(), plane.pixels.size());
        } else { // by it, or by what it leaves
            multiply(plane.pixels.data(), other.pixels.data(), plane.pixels.size(),
                     step.does == RecipeDo::Keep ? 0 : 255);
        }
        break;
    }
    case RecipeDo::Invert:
        join(plane, *band.area, table);
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
        join(plane, smooth(plane, radius), table);
        break;
    case RecipeDo::RemoveThin:
        take_lesser(plane.pixels.data(), spread(choke(plane, radius / 2), radius / 2).pixels.data(),
                    plane.pixels.size());
        break;
    case RecipeDo::FillHoles:
        take_larger(plane.pixels.data(), choke(spread(plane, radius / 2), radius / 2).pixels.data(),
                    plane.pixels.size());
        break;
    case RecipeDo::Outline: {
        const Plane inner = choke(plane, radius / 2);
        plane = spread(plane, radius / 2);
        take_off(plane.pixels.data(), inner.pixels.data(), plane.pixels.size());
        break;
    }
    case RecipeDo::KeepAway:
        join(plane, source_plane(step.source, band, narrower_by(step), step.tonal), table);
        break;
    }
}

} // namespace

RecipeOp::RecipeOp(std::string ink, Recipe recipe) : m_ink(std::move(ink)), m_recipe(std::move(recipe))
{
    for (const RecipeStep &step : m_recipe) {
        m_tables.push_back(table_of(step));
    }
}

std::optional<std::string> RecipeOp::even_by(const OpBand &band) const
{
    const double left = band.rect.x, top = band.rect.y;
    const double right = left + band.rect.width, bottom = top + band.rect.height;
    std::string by;
    for (const RecipeStep &step : m_recipe) {
        const auto areas = rectangles_of(step.source, band, narrower_by(step));
        const bool fades = step.source.fade.start != 1 || step.source.fade.end != 1;
        for (const Rect &area : areas) {
            const double end_x = area.x + area.width, end_y = area.y + area.height;
            if (end_x <= left || area.x >= right || end_y <= top || area.y >= bottom) {
                by += 'o';
            } else if (!fades && area.x <= left && end_x >= right && area.y <= top && end_y >= bottom) {
                by += 'i';
            } else {
                return std::nullopt;
            }
        }
    }
    return by;
}

void RecipeOp::run(OpBand &band) const
{
    Plane plane(band.rect.width, band.rect.height);
    bool bare = true; // so far
    for (std::size_t i = 0; i < m_recipe.size(); ++i) {
        const RecipeStep &step = m_recipe[i];
        if (bare && step.does == RecipeDo::Add && step.amount >= 1) {
            plane = source_plane(step.source, band, narrower_by(step), step.tonal);
        } else {
            take_step(step, m_tables[i], band, plane);
        }
        bare = false;
    }
    if (Plane *plate = band.plate(m_ink)) {
        *plate = std::move(plane);
    }
}

} // namespace bichrom
