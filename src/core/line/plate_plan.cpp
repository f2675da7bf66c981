#include "core/line/plate_plan.h"

#include "core/line/recipe_planes.h"

#include <algorithm>
#include <functional>

namespace bichrom {

void PlatePlan::order(const PlateSetup &setup)
{
    std::vector<Recipe> found(m_inks.size());
    bool any = false;
    for (const Plate &plate : setup.plates) {
        const auto at = std::find(m_inks.begin(), m_inks.end(), plate.ink);
        if (at != m_inks.end() && !plate.recipe.empty()) {
            any = true;
            found[static_cast<std::size_t>(at - m_inks.begin())] = plate.recipe;
        }
    }
    if (!any) {
        return;
    }
    m_recipes = std::move(found);
    std::vector<double> depth(m_inks.size(), -1); // mm that a plate depends on its surroundings
    std::vector<bool> open(m_inks.size());
    const std::function<double(std::size_t)> visit = [&](std::size_t i) {
        if (m_recipes[i].empty() || open[i]) {
            return 0.0; // one that looks back is taken as the artwork and its routes make it
        }
        if (depth[i] < 0) {
            open[i] = true;
            double before = 0;
            for (const std::string &ink : plates_read(m_recipes[i])) {
                const auto at = std::find(m_inks.begin(), m_inks.end(), ink);
                if (at != m_inks.end()) {
                    before = std::max(before, visit(static_cast<std::size_t>(at - m_inks.begin())));
                }
            }
            open[i] = false;
            depth[i] = before + reach_of(m_recipes[i]);
            m_order.push_back(i);
        }
        return depth[i];
    };
    for (std::size_t i = 0; i < m_inks.size(); ++i) {
        m_reach = std::max(m_reach, visit(i));
    }
}

PlatePlan::PlatePlan(const PlateSetup &setup, std::vector<std::string> inks, const Scene &scene)
    : m_inks(std::move(inks))
{
    order(setup);
    if (!empty()) {
        m_masks = plan_masks(setup, scene);
    }
}

bool PlatePlan::computes(std::size_t number) const
{
    return number < m_recipes.size() && !m_recipes[number].empty();
}

std::vector<bool> PlatePlan::read() const
{
    std::vector<bool> read(m_inks.size());
    for (const Recipe &recipe : m_recipes) {
        for (const std::string &ink : plates_read(recipe)) {
            const auto at = std::find(m_inks.begin(), m_inks.end(), ink);
            if (at != m_inks.end()) {
                read[static_cast<std::size_t>(at - m_inks.begin())] = true;
            }
        }
    }
    return read;
}

std::vector<bool> PlatePlan::needed() const
{
    std::vector<bool> needed = read();
    for (std::size_t i = 0; i < needed.size(); ++i) {
        needed[i] = needed[i] || !computes(i);
    }
    return needed;
}

Done PlatePlan::follow(PaintedTile &painted, Dpi resolution, const std::array<Rect, 5> &boxes,
                       const JobControl &control) const
{
    PlateTile &tile = painted.tile;
    const std::vector<Plane> &masks = painted.masks;
    Plane without_bare;
    if (m_masks.bare >= 0) {
        without_bare = tile.area;
        const Plane &bare = masks[static_cast<std::size_t>(m_masks.bare)];
        for (std::size_t i = 0; i < bare.pixels.size(); ++i) {
            without_bare.pixels[i] =
                static_cast<std::uint8_t>((without_bare.pixels[i] * (255 - bare.pixels[i]) + 127) / 255);
        }
    }
    RecipeInput input;
    input.rect = tile.rect;
    input.resolution = resolution;
    input.whole = &tile.area;
    input.area = m_masks.bare >= 0 ? &without_bare : &tile.area;
    input.boxes = boxes;
    const Rect &media = input.boxes[static_cast<std::size_t>(PageBox::Media)];
    input.media_x = media.x;
    input.media_y = media.y;
    input.plate = [&](const std::string &ink) -> const Plane * {
        const auto at = std::find(m_inks.begin(), m_inks.end(), ink);
        return at == m_inks.end() ? nullptr : &tile.plates[static_cast<std::size_t>(at - m_inks.begin())];
    };
    input.mask = [&](const RecipeSource &source) -> const Plane * {
        const std::size_t at = find_mask(m_masks.sources, source);
        return at < masks.size() ? &masks[at] : nullptr;
    };
    for (const std::size_t i : m_order) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", {}, {}};
        }
        tile.plates[i] = follow_recipe(m_recipes[i], input);
    }
    return {};
}

} // namespace bichrom
