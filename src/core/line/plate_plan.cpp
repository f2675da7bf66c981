#include "core/line/plate_plan.h"

#include "core/line/recipe_op.h"
#include "core/raster/tone_rows.h"

#include <algorithm>
#include <functional>

namespace bichrom {

namespace {

OpPlace place_of(Dpi resolution, const std::array<Rect, 5> &boxes)
{
    const Rect &media = boxes[static_cast<std::size_t>(PageBox::Media)];
    return {resolution, boxes, media.x, media.y};
}

} // namespace

PlatePlan::PlatePlan(const PlateSetup &setup, std::vector<std::string> inks, const Scene &scene)
    : m_inks(std::move(inks)), m_read(m_inks.size()), m_written(m_inks.size())
{
    std::vector<std::unique_ptr<const PlateOp>> ops;
    for (std::size_t i = 0; i < m_inks.size(); ++i) {
        const auto plate = std::find_if(setup.plates.begin(), setup.plates.end(), [&](const Plate &one) {
            return one.ink == m_inks[i] && !one.recipe.empty();
        });
        if (plate != setup.plates.end()) {
            ops.push_back(std::make_unique<RecipeOp>(m_inks[i], plate->recipe));
        }
    }
    order(std::move(ops));
    if (!empty()) {
        m_masks = plan_masks(setup, scene);
    }
}

std::size_t PlatePlan::number_of(const std::string &ink) const
{
    return static_cast<std::size_t>(std::find(m_inks.begin(), m_inks.end(), ink) - m_inks.begin());
}

void PlatePlan::order(std::vector<std::unique_ptr<const PlateOp>> ops)
{
    // By ink, the operation that writes it, and how far its plane depends on its surroundings, mm.
    std::vector<int> writer(m_inks.size(), -1);
    for (std::size_t op = 0; op < ops.size(); ++op) {
        for (const std::string &ink : ops[op]->writes()) {
            writer[number_of(ink)] = static_cast<int>(op);
            m_written[number_of(ink)] = true;
        }
    }
    std::vector<double> depth(ops.size(), -1);
    std::vector<bool> open(ops.size());
    const std::function<double(std::size_t)> visit = [&](std::size_t op) {
        if (open[op]) {
            return 0.0; // one that looks back is taken as the artwork and its routes make it
        }
        if (depth[op] < 0) {
            open[op] = true;
            double before = 0;
            for (const std::string &ink : ops[op]->reads()) {
                const std::size_t number = number_of(ink);
                if (number < m_inks.size()) {
                    m_read[number] = true;
                    before = writer[number] < 0
                                 ? before
                                 : std::max(before, visit(static_cast<std::size_t>(writer[number])));
                }
            }
            open[op] = false;
            depth[op] = before + ops[op]->reach();
            m_ops.push_back(std::move(ops[op]));
        }
        return depth[op];
    };
    for (std::size_t op = 0; op < depth.size(); ++op) {
        m_reach = std::max(m_reach, visit(op));
    }
}

std::vector<bool> PlatePlan::needed() const
{
    std::vector<bool> needed = m_read;
    for (std::size_t i = 0; i < needed.size(); ++i) {
        needed[i] = needed[i] || !computes(i);
    }
    return needed;
}

std::vector<RowFlow::Number> PlatePlan::flow(RowFlow &flow, const PaintedNumbers &painted, Dpi resolution,
                                             const std::array<Rect, 5> &boxes) const
{
    std::vector<RowFlow::Number> plates = painted.plates; // as the operations so far left them
    std::vector<RowFlow::Number> computed(m_inks.size(), RowFlow::none);
    OpRows rows{place_of(resolution, boxes), &flow, painted.area, painted.area, {}, {}};
    if (m_masks.bare >= 0) {
        rows.area = flow.joined(painted.area, painted.masks[static_cast<std::size_t>(m_masks.bare)],
                                table_by<leave_share>());
    }
    rows.plate = [&](const std::string &ink) {
        const std::size_t number = number_of(ink);
        return number < plates.size() ? plates[number] : RowFlow::none;
    };
    rows.mask = [&](const RecipeSource &source) {
        const std::size_t at = find_mask(m_masks.sources, source);
        return at < painted.masks.size() ? painted.masks[at] : RowFlow::none;
    };
    for (const auto &op : m_ops) {
        const std::vector<RowFlow::Number> made = op->flow(rows);
        const std::vector<std::string> inks = op->writes();
        for (std::size_t i = 0; i < inks.size(); ++i) {
            if (const std::size_t number = number_of(inks[i]); number < m_inks.size()) {
                plates[number] = computed[number] = made[i];
            }
        }
    }
    return computed;
}

ExactShapes PlatePlan::shapes(std::size_t number, const std::array<Rect, 5> &boxes,
                              std::function<ExactShapes()> area) const
{
    for (const auto &op : m_ops) {
        if (op->writes() == std::vector<std::string>{m_inks[number]}) {
            return op->shapes({place_of(Dpi(points_per_inch), boxes), std::move(area)});
        }
    }
    return std::optional<Polygons>();
}

} // namespace bichrom
