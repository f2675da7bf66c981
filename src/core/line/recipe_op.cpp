#include "core/line/recipe_op.h"

#include "core/line/recipe_parts.h"
#include "core/raster/choke.h"
#include "core/raster/tone_rows.h"

#include <algorithm>
#include <cstring>
#include <utility>
#include <vector>

namespace bichrom {

namespace {

void each(Plane &plane, const ToneTable &table)
{
    for (std::uint8_t &value : plane.pixels) {
        value = table[value];
    }
}

/// Whether the eight bytes of \p word are all \p value.
bool all_are(std::uint64_t word, std::uint8_t value)
{
    return word == value * std::uint64_t(0x0101010101010101U);
}

/// Where nothing changes, eight pixels are passed over at once.
void join(Plane &plane, const Plane &other, const PairTable &table)
{
    using Kind = PairTable::Beside::Kind;
    const std::uint8_t *values = other.pixels.data();
    std::uint8_t *pixels = plane.pixels.data();
    const std::size_t count = plane.pixels.size();
    if (table.by_arithmetic()) {
        table.change(pixels, values, count);
        return;
    }
    const bool bare_leaves = table.by_other(0).kind == Kind::Leaves;
    const bool solid_leaves = table.by_other(255).kind == Kind::Leaves;
    const bool bare_stays = table.by_one(0).kind == Kind::Tone && table.by_one(0).tone == 0;
    const auto nothing_changes = [&](std::size_t at) {
        std::uint64_t here = 0, there = 0;
        std::memcpy(&here, pixels + at, sizeof here);
        std::memcpy(&there, values + at, sizeof there);
        return (bare_leaves && there == 0) || (solid_leaves && all_are(there, 255)) ||
               (bare_stays && here == 0);
    };
    for (std::size_t i = 0; i < count;) {
        constexpr std::size_t step = 8;
        const std::size_t end = std::min(count, i + step);
        if (end != i + step || !nothing_changes(i)) {
            table.change(pixels + i, values + i, end - i);
        }
        i = end;
    }
}

/// \param narrower  mm that the source is choked by; spread when negative
/// \param tonal  tones keep their values when it is
Plane source_plane(const RecipeSource &source, const OpBand &band, double narrower, bool tonal)
{
    const double per_mm = band.per_mm();
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
        each(plane, tones_anywhere());
    }
    if (narrower > 0) {
        return tonal ? choke_tones(plane, narrower * per_mm) : choke(plane, narrower * per_mm);
    }
    if (narrower < 0) {
        return tonal ? spread_tones(plane, -narrower * per_mm) : spread(plane, -narrower * per_mm);
    }
    return plane;
}

void take_step(const RecipeStep &step, const PairTable *table, const OpBand &band, Plane &plane)
{
    const double radius = step.distance * band.per_mm();
    switch (step.does) {
    case RecipeDo::Add:
    case RecipeDo::Keep:
    case RecipeDo::TakeAway:
    case RecipeDo::KeepAway:
        join(plane, source_plane(step.source, band, narrower_by(step), step.tonal), *table);
        break;
    case RecipeDo::Invert:
        join(plane, *band.area, *table);
        break;
    case RecipeDo::Levels:
    case RecipeDo::Curve:
    case RecipeDo::Threshold:
    case RecipeDo::Tint:
        each(plane, tones_of(step));
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
        join(plane, smooth(plane, radius), *table);
        break;
    case RecipeDo::RemoveThin:
        join(plane, spread(choke(plane, radius / 2), radius / 2), *table);
        break;
    case RecipeDo::FillHoles:
        join(plane, choke(spread(plane, radius / 2), radius / 2), *table);
        break;
    case RecipeDo::Outline: {
        const Plane inner = choke(plane, radius / 2);
        plane = spread(plane, radius / 2);
        join(plane, inner, *table);
        break;
    }
    }
}

} // namespace

RecipeOp::RecipeOp(std::string ink, Recipe recipe) : m_ink(std::move(ink)), m_recipe(std::move(recipe))
{
    for (const RecipeStep &step : m_recipe) {
        m_tables.push_back(table_of(step));
    }
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
            take_step(step, m_tables[i].get(), band, plane);
        }
        bare = false;
    }
    if (Plane *plate = band.plate(m_ink)) {
        *plate = std::move(plane);
    }
}

} // namespace bichrom
