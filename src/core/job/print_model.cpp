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

namespace {

/// Whether the print is seen through its film.
bool from_behind(const Stock &stock)
{
    return stock.clear && stock.behind;
}

std::vector<std::size_t> order_of_sight(std::size_t plates, const Stock &stock)
{
    std::vector<std::size_t> order(plates);
    std::iota(order.begin(), order.end(), std::size_t(0));
    if (from_behind(stock)) {
        std::reverse(order.begin(), order.end());
    }
    return order;
}

} // namespace

std::vector<std::size_t> order_of_sight(const Job &job)
{
    return order_of_sight(job.plates.size(), job.stock_here());
}

bool prints_wet(const std::vector<Plate> &plates, std::size_t number)
{
    return number > 0 && number < plates.size() && plates[number].printing.wet &&
           !plates[number - 1].printing.flash;
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
    const bool coloured = plate.kind != InkUse::Varnish; // which adds no colour
    const Bands solid = without_floor(coloured ? plate.solid : Lab{100, 0, 0}, ground.floor,
                                      coloured ? plate.traits.reflectance : std::optional<Spectrum>());
    StackInk ink;
    ink.plane = plane;
    ink.process = plate.kind == InkUse::Process ? process_channel(plate.ink) : -1;
    ink.film = scattering_film(solid, ground.paper, scattering_of(plate.traits.opacity));
    ink.hits = plate.printing.hits;
    ink.gain = printed_curve(plate);
    return ink;
}

/// What is printed on, and from which side it is seen.
PrintGround seen_ground(const std::vector<Plate> &plates, const Stock &stock)
{
    PrintGround ground = print_ground(plates, stock);
    ground.behind = from_behind(stock);
    return ground;
}

/// Of those of \p plates that are no technical ones, and whose ink is among \p planes and not \p hidden, in
/// order of sight.
std::vector<StackInk> stack_inks(const std::vector<Plate> &plates, const Stock &stock,
                                 const PrintGround &ground, const std::vector<std::string> &planes,
                                 const std::vector<std::string> &hidden)
{
    std::vector<int> wet_group(plates.size(), -1); // each named by its first plate
    for (std::size_t i = 1; i < plates.size(); ++i) {
        if (prints_wet(plates, i)) {
            int &before = wet_group[i - 1];
            before = before < 0 ? static_cast<int>(i - 1) : before;
            wet_group[i] = before;
        }
    }
    std::vector<StackInk> inks;
    for (const std::size_t i : order_of_sight(plates.size(), stock)) {
        const Plate &plate = plates[i];
        const auto plane = std::find(planes.begin(), planes.end(), plate.ink);
        if (plate.kind == InkUse::Technical || plane == planes.end() ||
            std::find(hidden.begin(), hidden.end(), plate.ink) != hidden.end()) {
            continue;
        }
        inks.push_back(stack_ink(plate, ground, static_cast<std::size_t>(plane - planes.begin())));
        inks.back().wet_group = wet_group[i];
    }
    return inks;
}

} // namespace

PrintStack stack_of(const Job &job, const std::vector<std::string> &planes, const ProcessProfile &condition,
                    const std::vector<std::string> &hidden)
{
    const PrintGround ground = seen_ground(job.plates, job.stock_here());
    return {ground, stack_inks(job.plates, job.stock_here(), ground, planes, hidden), condition};
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

/// From a plate's tone to what the print model calls its coverage: a process ink's is its tone.
ToneCurve coverage_curve(const Plate &plate)
{
    const bool process = plate.kind == InkUse::Process && process_channel(plate.ink) >= 0;
    return process ? ToneCurve() : printed_curve(plate);
}

/// What a full tone of such an ink costs the solver.
double thrift_of(InkUse use)
{
    return use == InkUse::White ? 0 : use == InkUse::Process ? InkSolver::process_thrift : SolvedInk().thrift;
}

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

/// \param controls  of those inks that something is asked of
InkSolver make_solver(const std::vector<Plate> &plates, const Stock &stock,
                      const std::vector<std::string> &inks, const ProcessProfile &condition, double ink_limit,
                      const std::vector<RouteTarget> &controls)
{
    const std::vector<const Plate *> used = chosen(plates, inks);
    std::vector<std::string> planes;
    for (const Plate *plate : used) {
        planes.push_back(plate->ink);
    }
    const PrintGround ground = seen_ground(plates, stock);
    std::vector<StackInk> stack = stack_inks(plates, stock, ground, planes, {});
    for (StackInk &ink : stack) {
        ink.gain = {}; // solved for are coverages
    }
    std::vector<SolvedInk> solved;
    for (const Plate *plate : used) {
        solved.push_back({coverage_curve(*plate), thrift_of(plate->kind), least_coverage(*plate)});
        const auto wish = std::find_if(controls.begin(), controls.end(),
                                       [&](const RouteTarget &one) { return one.ink == plate->ink; });
        if (wish == controls.end()) {
            continue;
        }
        SolvedInk &ink = solved.back();
        ink.hues = wish->control.hues;
        ink.strength = wish->control.strength;
        ink.after = wish->curve;
        for (std::size_t other = 0; other < used.size(); ++other) {
            const auto &never = wish->control.never_with;
            if (used[other] != plate &&
                std::find(never.begin(), never.end(), used[other]->ink) != never.end()) {
                ink.never_with.push_back(other);
            }
        }
    }
    return {PrintStack(ground, std::move(stack), condition), std::move(solved), ink_limit};
}

} // namespace

InkSolver solver_of(const std::vector<Plate> &plates, const Stock &stock,
                    const std::vector<std::string> &inks, const ProcessProfile &condition, double ink_limit)
{
    return make_solver(plates, stock, inks, condition, ink_limit, {});
}

InkSolver solver_of(const std::vector<Plate> &plates, const Stock &stock, const Route &route,
                    const ProcessProfile &condition)
{
    return make_solver(plates, stock, inks_of(route), condition, route.ink_limit, route.targets);
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
                       const std::vector<std::string> &inks, const ProcessProfile *condition)
{
    std::string key;
    const auto add = [&](double value) { key += std::to_string(value) + " "; };
    const auto add_bands = [&](const Bands &bands) { std::for_each(bands.begin(), bands.end(), add); };
    const PrintGround ground = seen_ground(plates, stock);
    add(ground.floor);
    add(ground.transfer);
    add_bands(ground.stock);
    key += ground.behind ? "behind " : "";
    std::vector<std::string> planes;
    for (const Plate *plate : chosen(plates, inks)) {
        key += "; " + plate->ink + " ";
        add(thrift_of(plate->kind));
        add(least_coverage(*plate));
        const ToneCurve curve = coverage_curve(*plate);
        for (const CurvePoint &point : curve.points()) {
            add(point.in);
            add(point.out);
        }
        planes.push_back(plate->ink);
    }
    bool process = false;
    for (const StackInk &ink : stack_inks(plates, stock, ground, planes, {})) {
        process = process || ink.process >= 0;
        key += "; " + std::to_string(ink.plane) + " " + std::to_string(ink.process) + " " +
               std::to_string(ink.hits) + " " + std::to_string(ink.wet_group) + " ";
        add_bands(ink.film.body);
        add_bands(ink.film.through);
    }
    for (int solids = 0; process && condition != nullptr && solids < 16; ++solids) {
        Cmyk cmyk{}; // two conditions hardly share the colours of all their solids
        for (std::size_t c = 0; c < 4; ++c) {
            cmyk[c] = (solids >> c & 1) != 0 ? 1.0f : 0.0f;
        }
        const Lab lab = condition->to_lab(cmyk);
        add(lab.l);
        add(lab.a);
        add(lab.b);
    }
    return key;
}

std::string computed_key(const Job &job)
{
    std::string key;
    for (const Route &route : job.routes) {
        if (route.to == RouteTo::Plates && route.separated) {
            key += solver_key(job.plates, job.stock_here(), inks_of(route), nullptr) + " " +
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
