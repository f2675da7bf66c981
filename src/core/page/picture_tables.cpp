#include "core/page/picture_tables.h"

#include "core/job/print_model.h"
#include "core/print/separation_table.h"

#include <algorithm>

namespace bichrom {

namespace {

constexpr std::size_t lattice_nodes =
    std::size_t(ColourTable::nodes) * ColourTable::nodes * ColourTable::nodes;
constexpr std::size_t lattice_bytes = lattice_nodes * (ColourTable::most_inks + 4) * sizeof(double);
constexpr std::size_t table_bytes = lattice_nodes * ColourTable::most_inks * 2;

/// A part of the way that is kept in \p memory by \p key, or made by \p make, which gives an Outcome.
template <typename Part, typename Make>
Outcome<std::shared_ptr<const Part>> kept(PageMemory &memory, const std::string &key, std::size_t bytes,
                                          Make make)
{
    if (auto known = memory.find(key)) {
        return std::static_pointer_cast<const Part>(known);
    }
    Outcome<std::shared_ptr<const Part>> made = make();
    if (made) {
        memory.keep(key, *made, bytes);
    }
    return made;
}

/// The stock, and each ink alone; colours stand on the white where there is one.
IndexedPicture indexed(const InkSolver &solver, const IndexDots &dots)
{
    IndexedPicture picture;
    picture.dots = dots;
    picture.reach = reach_of(solver.free());
    const std::vector<SolvedInk> &inks = solver.inks();
    std::vector<std::size_t> white;
    for (std::size_t i = 0; i < inks.size(); ++i) {
        if (inks[i].thrift <= 0) {
            white.push_back(i);
        }
    }
    const auto add = [&](const std::vector<std::size_t> &solid, const HueHold &hues) {
        std::vector<double> coverage(inks.size(), 0.0);
        for (const std::size_t ink : solid) {
            coverage[ink] = 1;
        }
        picture.colours.push_back({solver.print().colour(coverage), hues});
        picture.solid.push_back(solid);
    };
    add({}, {});
    if (!white.empty()) {
        add(white, {});
    }
    for (std::size_t i = 0; i < inks.size(); ++i) {
        if (std::find(white.begin(), white.end(), i) == white.end()) {
            std::vector<std::size_t> solid = white;
            solid.push_back(i);
            add(solid, inks[i].hues);
        }
    }
    return picture;
}

Outcome<PictureTable> separated(const PlateSetup &setup, const Route &route, const ProcessProfile &condition,
                                PageMemory &memory, const JobControl &control)
{
    std::vector<std::string> inks;
    for (const Plate &plate : setup.plates) { // in printing order, as the solver takes them
        const bool used = std::any_of(route.targets.begin(), route.targets.end(),
                                      [&](const RouteTarget &target) { return target.ink == plate.ink; });
        if (used && inks.size() < ColourTable::most_inks) {
            inks.push_back(plate.ink);
        }
    }
    const InkSolver solver = solver_of(setup.plates, setup.stock, route, condition);
    // What was solved is kept apart from what is done to it, so that a strength or a hold is quickly changed.
    const std::string key = "separation " + std::to_string(route.ink_limit) + " " +
                            solver_key(setup.plates, setup.stock, inks, &condition);
    auto free =
        kept<SolvedLattice>(memory, key, lattice_bytes, [&] { return solve_lattice(solver, control); });
    if (!free) {
        return free.error();
    }
    const std::string held_by = held_key(route).empty() ? key : key + " held" + held_key(route);
    const auto held = kept<SolvedLattice>(memory, held_by, lattice_bytes,
                                          [&] { return held_lattice(solver, *free, control); });
    if (!held) {
        return held.error();
    }
    const auto table_by = [&](const std::string &name, const InkSolver &asked, const SolvedLattice &lattice) {
        return *kept<SeparationTable>(memory, name, table_bytes, [&] {
            return Outcome<std::shared_ptr<const SeparationTable>>(
                std::make_shared<const SeparationTable>(table_of(asked, lattice)));
        });
    };
    const auto table = table_by(held_by + " done" + strength_key(route), solver, **held);
    const auto before = table_by(key + " done", solver.free(), **free); // the same where nothing is asked
    PictureTable made{table->table, inks};
    for (std::size_t i = 0; i < inks.size(); ++i) {
        made.note.inks.push_back({inks[i], before->steepest[i], table->steepest[i]});
    }
    made.note.limited = table->limited;
    if (route.dots.wanted()) {
        made.indexed = indexed(solver, route.dots);
    }
    return made;
}

Outcome<PictureTable> with_black(const BlackGeneration &black, const ProcessProfile &condition,
                                 PageMemory &memory, const JobControl &control)
{
    const std::vector<std::string> inks(process_names.begin(), process_names.end());
    const std::string key = std::string("black ") + to_string(black.amount) + " " +
                            std::to_string(black.ink_limit) + " " + condition.name();
    if (auto known = memory.find(key)) {
        return PictureTable{std::static_pointer_cast<const ColourTable>(known), inks};
    }
    auto made = black_table(condition, black, control);
    if (!made) {
        return made.error();
    }
    memory.keep(key, *made);
    return PictureTable{*made, inks};
}

} // namespace

Outcome<PictureTables> picture_tables(const PlateSetup &setup, const ProcessProfile &condition,
                                      PageMemory &of_page, PageMemory &of_file, const JobControl &control)
{
    PictureTables tables;
    for (std::size_t i = 0; i < setup.routes.size(); ++i) {
        const Route &route = setup.routes[i];
        const bool apart = route.to == RouteTo::Plates && route.separated && !route.targets.empty();
        const bool process = route.to == RouteTo::Process && !route.black.as_profile();
        if (!apart && !process) {
            continue;
        }
        auto table = apart ? separated(setup, route, condition, of_file, control)
                           : with_black(route.black, condition, of_page, control);
        if (!table) {
            return table.error();
        }
        table->note.route = static_cast<int>(i);
        tables.emplace(static_cast<int>(i), std::move(*table));
    }
    return tables;
}

} // namespace bichrom
