#include "core/line/recipe_op.h"
#include "core/line/recipe_parts.h"
#include "core/raster/tone_rows.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <utility>

namespace bichrom {

namespace {

using Number = RowFlow::Number;

/// \p area, which is in pixels of the page.
Number drawn(RowFlow &flow, const Rect &area, const Fade &fade)
{
    const int left = flow.frame().x;
    if (fade.start == 1 && fade.end == 1) {
        return flow.drawn([left, area](int y, RunPlane &to) { add_even_row(to, left, y, area); });
    }
    return flow.drawn([left, area, fade](int y, RunPlane &to) {
        const int first = std::max(left, static_cast<int>(std::floor(std::max(area.x, double(left)))));
        const int end = static_cast<int>(std::ceil(std::min(area.x + area.width, double(left + to.width()))));
        if (first < end && y + 1 > area.y && y < area.y + area.height) {
            const auto row = std::make_shared<const Plane>(shaded({first, y, end - first, 1}, area, fade));
            to.add({first - left, end - left, 0, row->pixels.data()});
            to.keep(row);
        }
        to.end_row();
    });
}

/// \param narrower  mm that the source is choked by; spread when negative
/// \param tonal  tones keep their values when it is
Number source_rows(const RecipeSource &source, const OpRows &rows, double narrower, bool tonal)
{
    RowFlow &flow = *rows.flow;
    Number plane = RowFlow::none;
    const auto add = [&](Number other, const std::shared_ptr<const PairTable> &table) {
        if (other != RowFlow::none) {
            plane = plane == RowFlow::none ? other : flow.joined(plane, other, table);
        }
    };
    const auto add_plates = [&](const std::shared_ptr<const PairTable> &table) {
        for (const std::string &ink : source.inks) {
            add(rows.plate(ink), table);
        }
    };
    switch (source.from) {
    case RecipeFrom::Area: {
        const Number area = source.windows ? rows.whole : rows.area;
        if (source.inks.empty()) {
            plane = area;
            break;
        }
        add_plates(table_by<take_larger>());
        if (plane != RowFlow::none) {
            plane = flow.joined(plane, area, table_by<show_where>());
        }
        break;
    }
    case RecipeFrom::Plate:
    case RecipeFrom::Largest:
    case RecipeFrom::Sum:
        add_plates(source.from == RecipeFrom::Sum ? table_by<add_tones>() : table_by<take_larger>());
        break;
    case RecipeFrom::Objects:
    case RecipeFrom::Layer:
    case RecipeFrom::SmallText:
    case RecipeFrom::File:
        plane = rows.mask(source);
        break;
    case RecipeFrom::Tonal: {
        const Number where = rows.mask(source);
        if (where == RowFlow::none) {
            return flow.bare();
        }
        if (source.inks.empty()) {
            plane = flow.changed(where, tones_anywhere());
            break;
        }
        add_plates(table_by<add_tones>());
        if (plane != RowFlow::none) {
            plane = flow.joined(plane, where, table_by<keep_where>());
        }
        break;
    }
    case RecipeFrom::Box:
    case RecipeFrom::Drawn:
        for (const Rect &area : rectangles_of(source, rows, narrower)) {
            const Rect placed = flow.edges() == EdgePixels::Whole ? whole_pixels(area) : area;
            add(drawn(flow, placed, source.fade), table_by<take_larger>());
        }
        return plane == RowFlow::none ? flow.bare() : plane;
    }
    if (plane == RowFlow::none) {
        plane = flow.bare();
    }
    if (source.from == RecipeFrom::Area && source.anywhere) {
        plane = flow.changed(plane, tones_anywhere());
    }
    return flow.choked(plane, narrower * rows.per_mm(), tonal);
}

Number take_step(const RecipeStep &step, const std::shared_ptr<const PairTable> &table, const OpRows &rows,
                 Number plane)
{
    RowFlow &flow = *rows.flow;
    const double radius = step.distance * rows.per_mm();
    switch (step.does) {
    case RecipeDo::Add:
    case RecipeDo::Keep:
    case RecipeDo::TakeAway:
    case RecipeDo::KeepAway:
        return flow.joined(plane, source_rows(step.source, rows, narrower_by(step), step.tonal), table);
    case RecipeDo::Invert:
        return flow.joined(plane, rows.area, table);
    case RecipeDo::Levels:
    case RecipeDo::Curve:
    case RecipeDo::Threshold:
    case RecipeDo::Tint:
        return flow.changed(plane, tones_of(step));
    case RecipeDo::Choke:
        return flow.choked(plane, radius, step.tonal);
    case RecipeDo::Spread:
        return flow.choked(plane, -radius, step.tonal);
    case RecipeDo::Smooth:
        return flow.smoothed(plane, radius);
    case RecipeDo::Sharpen:
        return flow.joined(plane, flow.smoothed(plane, radius), table);
    case RecipeDo::RemoveThin:
        return flow.joined(plane, flow.choked(flow.choked(plane, radius / 2, false), -radius / 2, false),
                           table);
    case RecipeDo::FillHoles:
        return flow.joined(plane, flow.choked(flow.choked(plane, -radius / 2, false), radius / 2, false),
                           table);
    case RecipeDo::Outline:
        return flow.joined(flow.choked(plane, -radius / 2, false), flow.choked(plane, radius / 2, false),
                           table);
    }
    return plane;
}

// ---- on exact shapes ----

Polygons as_polygons(const std::vector<Rect> &rectangles)
{
    Polygons shapes;
    for (const Rect &one : rectangles) {
        const double right = one.x + one.width, bottom = one.y + one.height;
        shapes = united(shapes, {{{one.x, one.y}, {right, one.y}, {right, bottom}, {one.x, bottom}}});
    }
    return shapes;
}

/// \param narrower  mm
ExactShapes source_shapes(const RecipeSource &source, const OpShapes &of, double narrower)
{
    switch (source.from) {
    case RecipeFrom::Area: {
        auto area = source.inks.empty() ? of.area() : std::optional<Polygons>();
        if (area && *area) {
            area = std::optional(offset(**area, -narrower * of.place.per_mm()));
        }
        return area;
    }
    case RecipeFrom::Box:
    case RecipeFrom::Drawn:
        if (source.fade == Fade()) {
            return std::optional(as_polygons(rectangles_of(source, of.place, narrower)));
        }
        break;
    default:
        break;
    }
    return std::optional<Polygons>();
}

/// \param source  of the step, when it has one
std::optional<Polygons> step_shapes(const RecipeStep &step, const Polygons &shapes, const Polygons &source,
                                    double per_mm)
{
    const double distance = step.distance * per_mm;
    switch (step.does) {
    case RecipeDo::Add:
        return step.amount < 1 ? std::nullopt : std::optional(united(shapes, source));
    case RecipeDo::TakeAway:
        return step.amount < 1 ? std::nullopt : std::optional(subtracted(shapes, source));
    case RecipeDo::Keep:
        return intersected(shapes, source);
    case RecipeDo::KeepAway:
        return step.source.from == RecipeFrom::Box ? intersected(shapes, source) : subtracted(shapes, source);
    case RecipeDo::Choke:
        return step.tonal ? std::nullopt : std::optional(offset(shapes, -distance));
    case RecipeDo::Spread:
        return step.tonal ? std::nullopt : std::optional(offset(shapes, distance));
    case RecipeDo::RemoveThin:
        return offset(offset(shapes, -distance / 2), distance / 2);
    case RecipeDo::FillHoles:
        return offset(offset(shapes, distance / 2), -distance / 2);
    default:
        return std::nullopt;
    }
}

} // namespace

RecipeOp::RecipeOp(std::string ink, Recipe recipe) : m_ink(std::move(ink)), m_recipe(std::move(recipe))
{
    for (const RecipeStep &step : m_recipe) {
        m_tables.push_back(table_of(step));
    }
}

std::vector<RowFlow::Number> RecipeOp::flow(const OpRows &rows) const
{
    Number plane = RowFlow::none; // bare so far
    for (std::size_t i = 0; i < m_recipe.size(); ++i) {
        const RecipeStep &step = m_recipe[i];
        if (plane == RowFlow::none && step.does == RecipeDo::Add && step.amount >= 1) {
            plane = source_rows(step.source, rows, narrower_by(step), step.tonal);
        } else {
            plane = take_step(step, m_tables[i], rows, plane == RowFlow::none ? rows.flow->bare() : plane);
        }
    }
    return {plane == RowFlow::none ? rows.flow->bare() : plane};
}

ExactShapes RecipeOp::shapes(const OpShapes &of) const
{
    Polygons shapes;
    for (const RecipeStep &step : m_recipe) {
        Polygons source;
        if (has_source(step.does)) {
            auto found = source_shapes(step.source, of, narrower_by(step));
            if (!found || !*found) {
                return found;
            }
            source = std::move(**found);
        }
        auto made = step_shapes(step, shapes, source, of.place.per_mm());
        if (!made) {
            return made;
        }
        shapes = std::move(*made);
    }
    return std::optional(std::move(shapes));
}

} // namespace bichrom
