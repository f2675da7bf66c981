#include "core/page/picture_tables.h"

#include "core/job/print_model.h"

#include <algorithm>

namespace bichrom {

namespace {

Outcome<PictureTable> separated(const PlateSetup &setup, const Route &route, PageMemory &memory,
                                const JobControl &control)
{
    std::vector<std::string> inks;
    for (const Plate &plate : setup.plates) { // in printing order, as the solver takes them
        const bool used = std::any_of(route.targets.begin(), route.targets.end(),
                                      [&](const RouteTarget &target) { return target.ink == plate.ink; });
        if (used && inks.size() < ColourTable::most_inks) {
            inks.push_back(plate.ink);
        }
    }
    const std::string key =
        "separation " + std::to_string(route.ink_limit) + " " + solver_key(setup.plates, setup.stock, inks);
    if (auto known = memory.find(key)) {
        return PictureTable{std::static_pointer_cast<const ColourTable>(known), inks};
    }
    auto made = separation_table(solver_of(setup.plates, setup.stock, inks, route.ink_limit), control);
    if (!made) {
        return made.error();
    }
    memory.keep(key, *made);
    return PictureTable{*made, inks};
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
                                      PageMemory &memory, const JobControl &control)
{
    PictureTables tables;
    for (std::size_t i = 0; i < setup.routes.size(); ++i) {
        const Route &route = setup.routes[i];
        const bool apart = route.to == RouteTo::Plates && route.separated && !route.targets.empty();
        const bool process = route.to == RouteTo::Process && !route.black.as_profile();
        if (!apart && !process) {
            continue;
        }
        auto table = apart ? separated(setup, route, memory, control)
                           : with_black(route.black, condition, memory, control);
        if (!table) {
            return table.error();
        }
        tables.emplace(static_cast<int>(i), std::move(*table));
    }
    return tables;
}

} // namespace bichrom
