#include "core/preflight/printed_scene.h"

#include <algorithm>
#include <map>
#include <tuple>

namespace bichrom {

PrintedScene printed_scene(const Scene &scene, const Job &job)
{
    PrintedScene out;
    out.scene = scene;
    out.leaves_no_trace.assign(scene.objects.size(), false);
    out.routes.assign(scene.objects.size(), -1);
    out.scene.inks.clear();
    for (const Plate &plate : job.plates) {
        FoundInk ink;
        ink.name = plate.ink;
        ink.kind = plate.kind == InkUse::Process ? InkKind::Process : InkKind::Spot;
        ink.solid = plate.solid;
        for (const FoundInk &found : scene.inks) {
            if (found.name == plate.ink) {
                ink.other_solids = found.other_solids;
            }
        }
        out.scene.inks.push_back(std::move(ink));
    }
    out.scene.colours.clear();
    out.scene.uses_overprint = out.scene.uses_registration_colour = false;
    const std::vector<std::string> plates = job.inks();
    const bool by_layer = std::any_of(job.routes.begin(), job.routes.end(),
                                      [](const Route &route) { return route.by == RouteBy::Layer; });
    const bool by_object = std::any_of(job.routes.begin(), job.routes.end(),
                                       [](const Route &route) { return route.by == RouteBy::Objects; });
    struct Known
    {
        int colour;
        int route;
        bool nothing;
    };
    const auto overprints = overprint_of(scene, job.overprint, job.routes, job.plates, job.page);
    for (std::size_t i = 0; i < overprints.size(); ++i) {
        SceneObject &object = out.scene.objects[i];
        out.overprint_changed.push_back(overprints[i].overprints != object.overprint);
        object.overprint = overprints[i].overprints;
        if (overprints[i].by != OverprintBy::File && object.overprint) {
            object.overprint_mode = 1;
        }
    }
    // Objects alike in all that routes look at share an answer.
    std::map<std::tuple<int, std::string, int>, Known> known;
    for (SceneObject &object : out.scene.objects) {
        const auto key = std::tuple(object.colour_number, by_layer ? object.layer : std::string(),
                                    by_object ? object.own_index : -1);
        auto at = known.find(key);
        if (at == known.end()) {
            const FoundColour &colour = scene.colours[static_cast<std::size_t>(object.colour_number)];
            const Reach reach =
                reach_of({job.page, object.own_index, object.layer, &colour}, job.routes, plates);
            FoundColour printed;
            printed.artwork = colour.artwork;
            printed.appearance = colour.appearance;
            printed.inks = reach.plates;
            const bool flat = !colour.colour.values.empty();
            // A colour that nobody routed prints as it is written, its zeros with it.
            const bool as_written = reach.route < 0 && flat && colour.colour.space.find("DeviceN") != 0 &&
                                    colour.colour.space.find("Separation") != 0 && job.routes.empty();
            if (as_written || reach.paper_white) {
                printed.colour = colour.colour;
            } else {
                printed.colour.space = reach.plates.size() == 1 ? "Separation" : "DeviceN";
                for (const InkAmount &one : reach.plates) {
                    printed.colour.colorants.push_back(one.ink);
                    if (flat) {
                        printed.colour.values.push_back(one.amount);
                    }
                }
            }
            const bool nothing = reach.plates.empty() && !reach.paper_white;
            const Known answer{static_cast<int>(out.scene.colours.size()), reach.route, nothing};
            out.scene.colours.push_back(std::move(printed));
            at = known.emplace(key, answer).first;
        }
        const auto index = static_cast<std::size_t>(object.index);
        object.colour_number = at->second.colour;
        FoundColour &colour = out.scene.colours[static_cast<std::size_t>(at->second.colour)];
        ++colour.objects;
        object.colour = colour.colour;
        out.leaves_no_trace[index] = at->second.nothing;
        out.routes[index] = at->second.route;
        out.scene.uses_overprint = out.scene.uses_overprint || object.overprint;
        for (FoundInk &ink : out.scene.inks) {
            ink.objects += std::any_of(colour.inks.begin(), colour.inks.end(),
                                       [&](const InkAmount &one) { return one.ink == ink.name; })
                               ? 1
                               : 0;
        }
    }
    return out;
}

bool changes_artwork(const Scene &scene, const Job &job)
{
    const std::vector<std::string> plates = job.inks();
    const auto has_plate = [&](const FoundInk &ink) {
        return std::find(plates.begin(), plates.end(), ink.name) != plates.end();
    };
    return !job.routes.empty() || !job.overprint.empty() || job.plates.size() != scene.inks.size() ||
           !std::all_of(scene.inks.begin(), scene.inks.end(), has_plate) ||
           std::any_of(job.plates.begin(), job.plates.end(),
                       [&](const Plate &plate) { return !plate.recipe_on(job.page).empty(); });
}

} // namespace bichrom
