#include "core/job/print_model.h"

#include "core/colour/spaces.h"
#include "core/job/recipe_json.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace bichrom {

namespace {

std::vector<const Plate *> chosen(const std::vector<Plate> &plates, const std::vector<std::string> &inks)
{
    std::vector<const Plate *> found;
    for (const Plate &plate : plates) { // in printing order
        if (std::find(inks.begin(), inks.end(), plate.ink) != inks.end() &&
            found.size() < ColourTable::most_inks) {
            found.push_back(&plate);
        }
    }
    return found;
}

} // namespace

PrintGround print_ground(const std::vector<Plate> &plates, const Stock &stock)
{
    double darkest = lab_to_xyz(stock.colour)[1];
    for (const Plate &plate : plates) {
        darkest = std::min(darkest, lab_to_xyz(plate.solid)[1]);
    }
    PrintGround ground;
    constexpr double usual = 0.01; // of inks dark enough to tell
    ground.floor = std::min(usual, 0.5 * std::max(0.0, darkest));
    ground.stock = without_floor(stock.colour, ground.floor);
    ground.paper = without_floor({100, 0, 0}, ground.floor);
    return ground;
}

PrintedLayer layer_of(const Plate &plate, const PrintGround &ground)
{
    const Lab solid = plate.kind == InkUse::Varnish ? Lab{100, 0, 0} : plate.solid; // varnish adds no colour
    return {scattering_film(without_floor(solid, ground.floor), ground.paper,
                            scattering_of(plate.traits.opacity)),
            plate.printing.hits, plate.printing.wet};
}

InkSolver solver_of(const std::vector<Plate> &plates, const Stock &stock,
                    const std::vector<std::string> &inks)
{
    std::vector<Plate> used;
    for (const Plate *plate : chosen(plates, inks)) {
        used.push_back(*plate);
    }
    const PrintGround ground = print_ground(used, stock);
    std::vector<SolvedInk> solved;
    for (const Plate &plate : used) {
        solved.push_back(
            {layer_of(plate, ground), plate.traits.gain, plate.kind == InkUse::White ? 0.0 : 1.0});
    }
    return {ground.stock, std::move(solved), ground.floor, wet_transfer};
}

std::string solver_key(const std::vector<Plate> &plates, const Stock &stock,
                       const std::vector<std::string> &inks)
{
    const auto lab = [](const Lab &colour) {
        return std::to_string(colour.l) + "," + std::to_string(colour.a) + "," + std::to_string(colour.b);
    };
    std::string key = lab(stock.colour);
    for (const Plate *plate : chosen(plates, inks)) {
        key += ";" + plate->ink + " " + to_string(plate->kind) + " " + lab(plate->solid) + " " +
               std::to_string(plate->traits.opacity) + " " + std::to_string(plate->printing.hits) +
               (plate->printing.wet ? "w" : "");
        for (const CurvePoint &point : plate->traits.gain.points()) {
            key += " " + std::to_string(point.in) + ":" + std::to_string(point.out);
        }
    }
    return key;
}

std::string computed_key(const Job &job)
{
    std::string key;
    for (const Route &route : job.routes) {
        if (route.to == RouteTo::Plates && route.separated) {
            std::vector<std::string> inks;
            for (const RouteTarget &target : route.targets) {
                inks.push_back(target.ink);
            }
            key += solver_key(job.plates, job.stock, inks) + "\n";
        }
    }
    for (const Plate &plate : job.plates) {
        if (!plate.recipe.empty()) {
            key += plate.ink + " " + recipe_to_json(plate.recipe).dump() + "\n";
        }
    }
    return key;
}

} // namespace bichrom
