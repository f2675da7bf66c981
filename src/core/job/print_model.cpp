#include "core/job/print_model.h"

#include "core/colour/spaces.h"
#include "core/job/recipe_json.h"
#include "core/job/trap_json.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <numeric>

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
    const double share = stock.absorbs ? 0.7 : 0.5;
    constexpr double usual = 0.02; // Y of inks dark enough to tell
    ground.floor = share * std::clamp(darkest, 0.0, usual);
    ground.transfer = stock.absorbs ? wet_transfer_uncoated : wet_transfer;
    ground.stock = without_floor(stock.colour, ground.floor, stock.reflectance);
    ground.paper = without_floor({100, 0, 0}, ground.floor);
    return ground;
}

PrintedLayer layer_of(const Plate &plate, const PrintGround &ground)
{
    const Lab solid = plate.kind == InkUse::Varnish ? Lab{100, 0, 0} : plate.solid; // varnish adds no colour
    const bool coloured = plate.kind != InkUse::Varnish;
    return {scattering_film(without_floor(solid, ground.floor,
                                          coloured ? plate.traits.reflectance : std::optional<Spectrum>()),
                            ground.paper, scattering_of(plate.traits.opacity)),
            plate.printing.hits};
}

std::vector<std::size_t> order_of_sight(const Job &job)
{
    std::vector<std::size_t> order(job.plates.size());
    std::iota(order.begin(), order.end(), std::size_t(0));
    if (job.stock_here().clear && job.stock_here().behind) {
        std::reverse(order.begin(), order.end());
    }
    return order;
}

bool prints_wet(const std::vector<Plate> &plates, std::size_t number)
{
    return number > 0 && number < plates.size() && plates[number].printing.wet &&
           !plates[number - 1].printing.flash;
}

std::vector<PrintedLayer> layers_of(const std::vector<Plate> &plates, const PrintGround &ground)
{
    std::vector<PrintedLayer> layers;
    for (std::size_t i = 0; i < plates.size(); ++i) {
        PrintedLayer layer = layer_of(plates[i], ground);
        const bool joins = prints_wet(plates, i);
        layer.wet = joins || prints_wet(plates, i + 1);
        layer.first = layer.wet && !joins;
        layers.push_back(layer);
    }
    return layers;
}

ToneCurve printed_curve(const Plate &plate)
{
    const PressCurve &press = plate.press;
    if (press.is_identity()) {
        return plate.traits.gain;
    }
    constexpr int steps = 60;
    std::vector<CurvePoint> points;
    for (int i = 0; i <= steps; ++i) {
        const double tone = double(i) / steps, film = film_tone(press, tone);
        // What was measured of the press stands in place of what is known of the ink.
        points.push_back(
            {tone, press.printed.is_identity() ? plate.traits.gain.at(film) : press.printed.at(film)});
    }
    auto curve = ToneCurve::through(std::move(points));
    return curve ? std::move(*curve) : plate.traits.gain;
}

namespace {

StackInk stack_ink(const Plate &plate, const PrintGround &ground, std::size_t plane)
{
    StackInk ink;
    ink.plane = plane;
    ink.process = plate.kind == InkUse::Process ? process_channel(plate.ink) : -1;
    const PrintedLayer layer = layer_of(plate, ground);
    ink.film = layer.film;
    ink.hits = layer.hits;
    ink.gain = printed_curve(plate);
    return ink;
}

} // namespace

PrintStack stack_of(const Job &job, const std::vector<std::string> &planes, const ProcessProfile &condition,
                    const std::vector<std::string> &hidden)
{
    PrintGround ground = print_ground(job.plates, job.stock_here());
    ground.behind = job.stock_here().clear && job.stock_here().behind;
    std::vector<int> wet_group(job.plates.size(), -1); // each named by its first plate
    for (std::size_t i = 1; i < job.plates.size(); ++i) {
        if (prints_wet(job.plates, i)) {
            int &before = wet_group[i - 1];
            before = before < 0 ? static_cast<int>(i - 1) : before;
            wet_group[i] = before;
        }
    }
    std::vector<StackInk> inks;
    for (const std::size_t i : order_of_sight(job)) {
        const Plate &plate = job.plates[i];
        const auto plane = std::find(planes.begin(), planes.end(), plate.ink);
        if (plate.kind == InkUse::Technical || plane == planes.end() ||
            std::find(hidden.begin(), hidden.end(), plate.ink) != hidden.end()) {
            continue;
        }
        inks.push_back(stack_ink(plate, ground, static_cast<std::size_t>(plane - planes.begin())));
        inks.back().wet_group = wet_group[i];
    }
    return {ground, std::move(inks), condition};
}

Lab solid_on(const Plate &plate, const Bands &under, const PrintGround &ground,
             const ProcessProfile &condition)
{
    StackGround here = ground;
    here.stock = under;
    const double solid = 1;
    return PrintStack(here, {stack_ink(plate, ground, 0)}, condition).at({&solid, 1}).print();
}

namespace {

/// The coverage in print of the smallest dot that holds; 0 where all do.
double least_coverage(const Plate &plate)
{
    const PressCurve &press = plate.press;
    return press.least <= 0              ? 0
           : press.printed.is_identity() ? plate.traits.gain.at(press.least)
                                         : press.printed.at(press.least);
}

std::vector<std::string> inks_of(const Route &route)
{
    std::vector<std::string> inks;
    for (const RouteTarget &target : route.targets) {
        inks.push_back(target.ink);
    }
    return inks;
}

/// \p controls  of those inks that something is asked of
InkSolver make_solver(const std::vector<Plate> &plates, const Stock &stock,
                      const std::vector<std::string> &inks, double ink_limit,
                      const std::vector<RouteTarget> &controls)
{
    std::vector<Plate> used;
    for (const Plate *plate : chosen(plates, inks)) {
        used.push_back(*plate);
    }
    const PrintGround ground = print_ground(used, stock);
    const std::vector<PrintedLayer> layers = layers_of(used, ground);
    std::vector<SolvedInk> solved;
    for (std::size_t i = 0; i < used.size(); ++i) {
        solved.push_back({layers[i], printed_curve(used[i]), used[i].kind == InkUse::White ? 0.0 : 1.0,
                          least_coverage(used[i])});
        const auto wish = std::find_if(controls.begin(), controls.end(),
                                       [&](const RouteTarget &one) { return one.ink == used[i].ink; });
        if (wish == controls.end()) {
            continue;
        }
        SolvedInk &ink = solved.back();
        ink.hues = wish->control.hues;
        ink.strength = wish->control.strength;
        ink.after = wish->curve;
        for (std::size_t other = 0; other < used.size(); ++other) {
            const auto &never = wish->control.never_with;
            if (other != i && std::find(never.begin(), never.end(), used[other].ink) != never.end()) {
                ink.never_with.push_back(other);
            }
        }
    }
    return {ground.stock, std::move(solved), ground.floor, ground.transfer, ink_limit};
}

} // namespace

InkSolver solver_of(const std::vector<Plate> &plates, const Stock &stock,
                    const std::vector<std::string> &inks, double ink_limit)
{
    return make_solver(plates, stock, inks, ink_limit, {});
}

InkSolver solver_of(const std::vector<Plate> &plates, const Stock &stock, const Route &route)
{
    return make_solver(plates, stock, inks_of(route), route.ink_limit, route.targets);
}

std::string held_key(const Route &route)
{
    std::string key;
    for (const RouteTarget &target : route.targets) {
        const InkControl &control = target.control;
        if (control.hues.holds() || !control.never_with.empty()) {
            key += ";" + target.ink + " " + std::to_string(control.hues.middle) + " " +
                   std::to_string(control.hues.width);
            for (const std::string &other : control.never_with) {
                key += " without " + other;
            }
        }
    }
    return key;
}

std::string strength_key(const Route &route)
{
    std::string key;
    for (const RouteTarget &target : route.targets) {
        if (target.control.strength != 1 || !target.curve.is_identity()) {
            key += ";" + target.ink + " " + std::to_string(target.control.strength);
            for (const CurvePoint &point : target.curve.points()) {
                key += " " + std::to_string(point.in) + ":" + std::to_string(point.out);
            }
        }
    }
    return key;
}

std::string solver_key(const std::vector<Plate> &plates, const Stock &stock,
                       const std::vector<std::string> &inks)
{
    const auto lab = [](const Lab &colour) {
        return std::to_string(colour.l) + "," + std::to_string(colour.a) + "," + std::to_string(colour.b);
    };
    const auto spectrum = [](const std::optional<Spectrum> &measured) {
        std::string text;
        for (std::size_t i = 0; measured && i < measured->size(); ++i) {
            text += " " + std::to_string((*measured)[i]);
        }
        return text;
    };
    std::string key = lab(stock.colour) + (stock.absorbs ? " absorbs" : "") + spectrum(stock.reflectance);
    for (const Plate *plate : chosen(plates, inks)) {
        key += ";" + plate->ink + " " + to_string(plate->kind) + " " + lab(plate->solid) + " " +
               std::to_string(plate->traits.opacity) + " " + std::to_string(plate->printing.hits) +
               (plate->printing.wet ? "w" : "") + (plate->printing.flash ? "f" : "") +
               spectrum(plate->traits.reflectance);
        const ToneCurve curve = printed_curve(*plate);
        key += " " + std::to_string(least_coverage(*plate));
        for (const CurvePoint &point : curve.points()) {
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
            key += solver_key(job.plates, job.stock_here(), inks_of(route)) + " " +
                   std::to_string(route.ink_limit) + held_key(route) + strength_key(route) + " " +
                   std::to_string(route.dots.size_mm) + (route.dots.diffused ? "" : " even") + "\n";
        }
    }
    for (const Plate &plate : job.plates) {
        if (const Recipe &recipe = plate.recipe_on(job.page); !recipe.empty()) {
            key += plate.ink + " " + recipe_to_json(recipe).dump() + "\n";
        }
    }
    if (job.traps.on) {
        key += traps_to_json(job.traps).dump() + (job.stock_here().behind ? " behind" : "") + "\n";
    }
    if (!job.overprint.empty()) {
        key += overprint_to_json(job.overprint).dump() + "\n";
    }
    if (job.traps.on || !job.overprint.empty()) {
        for (const Plate &plate : job.plates) { // in their order
            key += plate.ink + " " + to_string(plate.kind) + " " + std::to_string(plate.traits.opacity) +
                   " " + std::to_string(neutral_density(plate.solid, plate.traits)) + " " +
                   std::to_string(plate.solid.l) + "\n";
        }
    }
    return key;
}

} // namespace bichrom
