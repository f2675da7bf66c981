#include "core/line/recipe_masks.h"

#include <algorithm>
#include <map>
#include <set>
#include <string>

namespace bichrom {

namespace {

std::string mask_name(std::size_t number)
{
    return "mask " + std::to_string(number);
}

bool wants_mask(RecipeFrom from)
{
    return from == RecipeFrom::Objects || from == RecipeFrom::Layer || from == RecipeFrom::SmallText ||
           from == RecipeFrom::Tonal;
}

/// The same source, whatever of it is no matter of a mask.
bool same_mask(const RecipeSource &a, const RecipeSource &b)
{
    return a.from == b.from && a.artwork == b.artwork && a.objects == b.objects && a.layer == b.layer &&
           a.size == b.size;
}

/// The objects of a mask by their artwork and place in it.
using Marked = std::set<std::pair<int, int>>;

Marked objects_of(const RecipeSource &source, int page)
{
    Marked found;
    for (const ObjectMark &mark : source.objects) {
        if (mark.page == page) {
            found.emplace(source.artwork, mark.index);
        }
    }
    return found;
}

/// Routes by object, one for each set of masks and artwork.
class MaskRoutes
{
public:
    void add(const SceneObject &object, int page, std::vector<RouteTarget> targets)
    {
        std::string key = std::to_string(object.artwork);
        for (const RouteTarget &target : targets) {
            key += " " + target.ink;
        }
        Route &route = m_routes[key];
        route.by = RouteBy::Objects;
        route.artwork = object.artwork;
        route.targets = std::move(targets);
        route.objects.push_back({page, object.own_index, object.kind, {}});
    }
    void move_to(std::vector<Route> &routes)
    {
        for (auto &[key, route] : m_routes) {
            routes.push_back(std::move(route));
        }
    }

private:
    std::map<std::string, Route> m_routes;
};

/// The page as it prints, with planes for the masks before its own.
PlateSetup beside(const PlateSetup &setup)
{
    PlateSetup page = setup;
    page.plates.clear(); // and their recipes; separated pictures only matter by where they are
    page.lost = Lost::Dropped;
    page.routes.clear();
    page.inks.clear();
    return page;
}

} // namespace

std::size_t find_mask(const std::vector<RecipeSource> &sources, const RecipeSource &source)
{
    const auto at = std::find_if(sources.begin(), sources.end(),
                                 [&](const RecipeSource &one) { return same_mask(one, source); });
    return static_cast<std::size_t>(at - sources.begin());
}

MaskPlan plan_masks(const PlateSetup &setup, const Scene &scene)
{
    MaskPlan plan;
    std::vector<RecipeSource> files;
    bool looks_at_area = false;
    for (const Plate &plate : setup.plates) {
        for (const RecipeStep &step : plate.recipe) {
            const RecipeSource &source = step.source;
            looks_at_area = looks_at_area || step.does == RecipeDo::Invert ||
                            (has_source(step.does) && source.from == RecipeFrom::Area && !source.windows);
            auto &list = source.from == RecipeFrom::File ? files : plan.sources;
            if (has_source(step.does) && (source.from == RecipeFrom::File || wants_mask(source.from)) &&
                find_mask(list, source) == list.size()) {
                list.push_back(source);
            }
        }
    }
    const bool bare = looks_at_area && std::any_of(setup.routes.begin(), setup.routes.end(), leaves_bare);
    if (bare) {
        plan.bare = static_cast<int>(plan.sources.size());
        plan.sources.emplace_back();
    }
    if (!plan.sources.empty()) {
        PlateSetup page = beside(setup);
        std::vector<Marked> marked;
        for (std::size_t i = 0; i < plan.sources.size(); ++i) {
            page.inks.push_back(mask_name(i));
            marked.push_back(objects_of(plan.sources[i], setup.page));
        }
        MaskRoutes by_objects;
        for (const SceneObject &object : scene.objects) {
            std::vector<RouteTarget> targets;
            for (std::size_t i = 0; i < plan.sources.size(); ++i) {
                const RecipeSource &source = plan.sources[i];
                const bool text = object.kind == ObjectKind::Text || object.kind == ObjectKind::StrokedText;
                const bool inside =
                    source.from == RecipeFrom::Objects
                        ? marked[i].count({object.artwork, object.own_index}) > 0
                    : source.from == RecipeFrom::Layer
                        ? object.artwork == source.artwork && object.layer == source.layer
                    : source.from == RecipeFrom::Tonal
                        ? is_tonal(object)
                        : source.from == RecipeFrom::SmallText && text && object.font_size < source.size;
                if (inside) {
                    targets.push_back({mask_name(i), false, 1.0, {}});
                }
            }
            if (targets.empty()) {
                continue;
            }
            const auto &colour = scene.colours[static_cast<std::size_t>(object.colour_number)];
            const int route =
                deciding_route(setup.routes, {setup.page, object.own_index, object.layer, &colour});
            if (bare && route >= 0 &&
                setup.routes[static_cast<std::size_t>(route)].to == RouteTo::BareStock) {
                targets.push_back({mask_name(static_cast<std::size_t>(plan.bare)), false, 1.0, {}});
            }
            by_objects.add(object, setup.page, std::move(targets));
        }
        by_objects.move_to(page.routes);
        for (Route route : setup.routes) {
            route.separated = false;
            if (bare && leaves_bare(route)) {
                const std::string name = mask_name(static_cast<std::size_t>(plan.bare));
                if (route.to == RouteTo::BareStock) {
                    route.to = RouteTo::Plates;
                    route.targets.clear();
                }
                route.targets.push_back({name, false, 1.0, {}});
                for (PaletteTarget &one : route.split.colours) {
                    one.ink = one.ink.empty() ? name : one.ink;
                }
            }
            page.routes.push_back(std::move(route));
        }
        page.inks.insert(page.inks.end(), setup.inks.begin(), setup.inks.end());
        plan.pages.push_back({std::move(page), plan.sources.size()});
    }
    for (const RecipeSource &source : files) { // a page each, since they do not hide one another
        PlateSetup page = beside(setup);
        page.silent.clear();
        const std::string name = mask_name(plan.sources.size());
        page.inks = {name};
        MaskRoutes by_objects;
        for (const SceneObject &object : scene.objects) {
            if (object.artwork == source.artwork) {
                by_objects.add(object, setup.page, {{name, true, 1.0, {}}});
            } else {
                page.silent.push_back(object.artwork);
            }
        }
        std::sort(page.silent.begin(), page.silent.end());
        page.silent.erase(std::unique(page.silent.begin(), page.silent.end()), page.silent.end());
        by_objects.move_to(page.routes);
        plan.sources.push_back(source);
        plan.pages.push_back({std::move(page), 1});
    }
    return plan;
}

} // namespace bichrom
