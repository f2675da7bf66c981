#include "core/job/routing.h"

#include "core/artwork/found_colours.h"
#include "core/job/edits/plates.h"

#include <algorithm>
#include <map>
#include <optional>
#include <set>

namespace bichrom {

namespace {

/// Whether routes by ink take \p ink in every artwork that names it.
bool all_routed(const Scene &scene, const Job &job, const std::string &ink)
{
    const std::set<int> artworks = artworks_with(scene, ink);
    return !artworks.empty() && std::all_of(artworks.begin(), artworks.end(), [&](int artwork) {
        return ink_route(job.routes, ink, job.page, artwork) >= 0;
    });
}

auto find_ink(std::vector<Plate> &plates, const std::string &ink)
{
    return std::find_if(plates.begin(), plates.end(), [&](const Plate &plate) { return plate.ink == ink; });
}

/// Objects of the job's page that some route names, by artwork and index in it.
std::set<std::pair<int, int>> chosen_objects(const Job &job)
{
    std::set<std::pair<int, int>> chosen;
    for (const Route &route : job.routes) {
        for (const ObjectMark &mark : route.objects) {
            if (route.by == RouteBy::Objects && mark.page == job.page) {
                chosen.emplace(route.artwork, mark.index);
            }
        }
    }
    return chosen;
}

} // namespace

std::vector<Plate> plates_for(const Scene &before, const Scene &now, const Job &job)
{
    const auto routed_to = [&](const std::string &ink) {
        return std::any_of(job.routes.begin(), job.routes.end(), [&](const Route &route) {
            return std::any_of(route.targets.begin(), route.targets.end(),
                               [&](const RouteTarget &target) { return target.ink == ink; });
        });
    };
    std::vector<Plate> found = propose_job(now, job.name, job.page).plates;
    std::vector<Plate> plates = job.plates;
    std::erase_if(plates, [&](const Plate &plate) {
        return holds_ink(before, plate.ink) && !holds_ink(now, plate.ink) && !routed_to(plate.ink);
    });
    for (std::size_t i = 0; i < found.size(); ++i) {
        const bool is_new = !holds_ink(before, found[i].ink) && !all_routed(now, job, found[i].ink);
        if (is_new && find_ink(plates, found[i].ink) == plates.end()) {
            const auto before_it = i == 0 ? plates.end() : find_ink(plates, found[i - 1].ink);
            plates.insert(before_it != plates.end()          ? before_it + 1
                          : found[i].kind == InkUse::Process ? plates.begin()
                                                             : plates.end(),
                          found[i]);
        }
    }
    return plates;
}

Route route_from(const Scene &scene, int page, const std::vector<int> &colours, double tolerance,
                 ColourMeasure measure)
{
    Route route;
    if (colours.empty()) {
        return route;
    }
    const FoundColour &leader = scene.colours[static_cast<std::size_t>(colours.front())];
    route.artwork = leader.artwork;
    if (leader.colour.values.empty()) {
        route.by = RouteBy::Objects;
        for (const SceneObject &object : scene.objects) {
            if (std::find(colours.begin(), colours.end(), object.colour_number) != colours.end()) {
                route.objects.push_back({page, object.own_index, object.kind, object.bounds});
            }
        }
        return route;
    }
    route.by = colours.size() > 1 ? RouteBy::Similar : RouteBy::Colour;
    route.colour = leader.colour;
    route.appearance = leader.appearance;
    route.tolerance = colours.size() > 1 ? tolerance : 0.0;
    route.measure = colours.size() > 1 ? measure : ColourMeasure::DeltaE;
    return route;
}

Job with_route(Job job, Route route, const std::vector<std::pair<std::string, Lab>> &solids)
{
    std::optional<Lab> looks; // of what is routed, where it has one colour
    if (route.by == RouteBy::Colour || route.by == RouteBy::Similar) {
        looks = route.appearance;
    }
    for (const RouteTarget &target : route.targets) {
        if (const int known = job.find_plate(target.ink); known >= 0) {
            Plate &plate = job.plates[static_cast<std::size_t>(known)];
            if (plate.uncoloured && looks) {
                plate.solid = *looks;
                plate.uncoloured = false;
            }
            continue;
        }
        const auto known = std::find_if(solids.begin(), solids.end(),
                                        [&](const auto &one) { return one.first == target.ink; });
        std::erase(job.removed, target.ink);
        const bool process = process_channel(target.ink) >= 0;
        job.plates.push_back(propose_plate(job.plates, target.ink, process ? InkUse::Process : InkUse::Spot,
                                           known == solids.end() ? route.appearance : known->second));
    }
    add_route(job.routes, std::move(route));
    return job;
}

std::vector<int> decided_by(const Job &job, const Scene &scene, int route)
{
    std::vector<int> decided;
    if (route < 0 || route >= static_cast<int>(job.routes.size())) {
        return decided;
    }
    const Route &one = job.routes[static_cast<std::size_t>(route)];
    const auto decides = [&](const SceneObject &object, int own_index) {
        const FoundColour &colour = scene.colours[static_cast<std::size_t>(object.colour_number)];
        const int by = deciding_route(job.routes, {job.page, own_index, object.layer, &colour});
        const auto &inks = colour.inks;
        return by == route || (one.by == RouteBy::Ink && by < 0 &&
                               std::any_of(inks.begin(), inks.end(),
                                           [&](const InkAmount &ink) { return ink.ink == one.name; }) &&
                               ink_route(job.routes, one.name, job.page, object.artwork) == route);
    };
    const std::set<std::pair<int, int>> chosen = chosen_objects(job);
    std::map<std::pair<int, std::string>, bool> known; // of objects that no route names, by colour and layer
    for (const SceneObject &object : scene.objects) {
        bool is_decided = false;
        if (chosen.count({object.artwork, object.own_index}) > 0) {
            is_decided = decides(object, object.own_index);
        } else {
            const auto [at, is_new] = known.try_emplace({object.colour_number, object.layer}, false);
            if (is_new) {
                at->second = decides(object, -1);
            }
            is_decided = at->second;
        }
        if (is_decided) {
            decided.push_back(object.index);
        }
    }
    return decided;
}

std::vector<std::string> known_inks(const Job &job, const Scene &scene)
{
    std::vector<std::string> names;
    for (const FoundInk &ink : scene.inks) {
        names.push_back(ink.name);
    }
    for (const Plate &plate : job.plates) {
        if (std::find(names.begin(), names.end(), plate.ink) == names.end()) {
            names.push_back(plate.ink);
        }
    }
    return names;
}

Outcome<Job> merge_inks(Job job, const Scene &scene, const InkRename &rename)
{
    const auto matches = match_names(known_inks(job, scene), rename);
    if (!matches) {
        return matches.error();
    }
    for (const auto &[from, to] : *matches) {
        if (job.find_plate(from) >= 0) {
            auto renamed = rename_plate(std::move(job), from, to);
            if (!renamed) {
                return renamed.error();
            }
            job = std::move(*renamed);
        }
        for (const int artwork : artworks_with(scene, from)) {
            if (ink_route(job.routes, from, job.page, artwork) >= 0) {
                continue;
            }
            Route route;
            route.by = RouteBy::Ink;
            route.artwork = artwork;
            route.name = from;
            route.targets = {{to, true, 1.0, {}}};
            job = with_route(std::move(job), std::move(route));
        }
    }
    return job;
}

void each_reach(const Scene &scene, const Job &job,
                const std::function<void(int colour, const Reach &)> &take)
{
    const std::vector<std::string> plates = job.inks();
    const bool by_layer = std::any_of(job.routes.begin(), job.routes.end(),
                                      [](const Route &route) { return route.by == RouteBy::Layer; });
    const std::set<std::pair<int, int>> chosen = chosen_objects(job);
    std::set<std::pair<int, std::string>> seen;
    for (const SceneObject &object : scene.objects) {
        const bool by_itself = chosen.count({object.artwork, object.own_index}) > 0;
        if (by_itself || seen.emplace(object.colour_number, by_layer ? object.layer : std::string()).second) {
            const FoundColour &colour = scene.colours[static_cast<std::size_t>(object.colour_number)];
            take(object.colour_number,
                 reach_of({job.page, by_itself ? object.own_index : -1, object.layer, &colour}, job.routes,
                          plates));
        }
    }
}

std::vector<std::string> idle_plates(const Scene &scene, const Job &job)
{
    std::vector<std::string> idle;
    for (const Plate &plate : job.plates) {
        if (plate.recipe.empty()) {
            idle.push_back(plate.ink);
        }
    }
    each_reach(scene, job, [&](int, const Reach &reach) {
        for (const InkAmount &one : reach.plates) {
            std::erase(idle, one.ink);
        }
    });
    return idle;
}

} // namespace bichrom
