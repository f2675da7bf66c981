#include "core/job/print_model.h"

#include "core/colour/spaces.h"

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

InkSolver solver_of(const std::vector<Plate> &plates, const Stock &stock,
                    const std::vector<std::string> &inks)
{
    const std::vector<const Plate *> used = chosen(plates, inks);
    double darkest = lab_to_xyz(stock.colour)[1];
    for (const Plate *plate : used) {
        darkest = std::min(darkest, lab_to_xyz(plate->solid)[1]);
    }
    const double floor = 0.5 * std::max(0.0, darkest); // as on coated stock
    const Bands paper = without_floor({100, 0, 0}, floor);
    std::vector<SolvedInk> solved;
    for (const Plate *plate : used) {
        const bool white = plate->kind == InkUse::White;
        solved.push_back({{scattering_film(without_floor(plate->solid, floor), paper,
                                           scattering_of(plate->traits.opacity))},
                          plate->traits.gain,
                          white ? 0.0 : 1.0});
    }
    return {without_floor(stock.colour, floor), std::move(solved), floor};
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
               std::to_string(plate->traits.opacity);
        for (const CurvePoint &point : plate->traits.gain.points()) {
            key += " " + std::to_string(point.in) + ":" + std::to_string(point.out);
        }
    }
    return key;
}

std::string separation_key(const Job &job)
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
    return key;
}

} // namespace bichrom
