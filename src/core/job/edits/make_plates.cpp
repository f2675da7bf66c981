#include "core/job/edits/make_plates.h"

#include "core/colour/colour_difference.h"
#include "core/job/edits/plates.h"
#include "core/job/routing.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

namespace bichrom {

namespace {

constexpr Lab white_solid{96, 0, 0}, clear_solid{98, 0, 1}, nobodys_colour{50, 0, 0};
constexpr Lab gold{74, 6, 38}, silver{75, 0, 1}, copper{62, 12, 28};

/// Where plates of a kind stand, the lowest first.
int rank_of(InkUse kind, bool seen_from_behind)
{
    switch (kind) {
    case InkUse::White:
        return seen_from_behind ? 2 : 0;
    case InkUse::Spot:
    case InkUse::Process:
    case InkUse::Metallic:
        return 1;
    case InkUse::Foil:
        return 3;
    case InkUse::Varnish:
        return 4;
    case InkUse::Technical:
        break;
    }
    return 5;
}

/// Puts \p plate over all that belong below it or beside it.
void insert_ranked(Job &job, Plate plate)
{
    const bool behind = job.stock_here().clear && job.stock_here().behind;
    const int rank = rank_of(plate.kind, behind);
    auto place = job.plates.end();
    while (place != job.plates.begin() && rank_of((place - 1)->kind, behind) > rank) {
        --place;
    }
    job.plates.insert(place, std::move(plate));
}

bool has_word(const std::string &name, const char *word)
{
    std::string lower;
    for (const char c : name) {
        lower += static_cast<char>(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
    }
    return lower.find(word) != std::string::npos;
}

/// The colour that a name tells, where its kind has one.
std::optional<Lab> colour_named(const std::string &name, InkUse kind)
{
    switch (kind) {
    case InkUse::White:
        return white_solid;
    case InkUse::Varnish:
        return clear_solid;
    case InkUse::Metallic:
    case InkUse::Foil:
        return has_word(name, "gold")     ? std::optional(gold)
               : has_word(name, "copper") ? std::optional(copper)
               : has_word(name, "silver") ? std::optional(silver)
                                          : std::nullopt;
    case InkUse::Spot:
    case InkUse::Process:
    case InkUse::Technical:
        break;
    }
    return std::nullopt;
}

std::string free_name(const Job &job, const std::string &wish)
{
    std::string name = wish;
    for (int number = 2; job.find_plate(name) >= 0; ++number) {
        name = wish + " " + std::to_string(number);
    }
    return name;
}

using Amounts = std::map<std::string, double>;

/// What a colour that names inks asks of each; empty for RGB and the like, whose numbers are no amounts.
Amounts amounts_of(const ColourUse &use)
{
    if (use.space == "DeviceGray" && use.values.size() == 1) {
        return {{std::string(process_names[3]), 1.0 - use.values.front()}};
    }
    const bool named =
        use.space.find("Separation") != std::string::npos || use.space.find("DeviceN") != std::string::npos;
    Amounts amounts;
    for (std::size_t i = 0; i < std::min(use.colorants.size(), use.values.size()); ++i) {
        if (!named && process_channel(use.colorants[i]) < 0) {
            return {};
        }
        if (use.values[i] > 0) {
            amounts[use.colorants[i]] = use.values[i];
        }
    }
    return amounts;
}

/// By how much \p part is a tint of \p whole, up to 1 for the same: every ink in the same proportion. Nothing
/// when it is none.
std::optional<double> tint_of(const Amounts &part, const Amounts &whole)
{
    constexpr double alike = 0.012, least = 0.02;
    if (part.empty() || part.size() != whole.size()) {
        return std::nullopt;
    }
    double sum_part = 0, sum_whole = 0;
    for (const auto &[ink, amount] : part) {
        const auto same = whole.find(ink);
        if (same == whole.end()) {
            return std::nullopt;
        }
        sum_part += amount;
        sum_whole += same->second;
    }
    const double tint = sum_part / sum_whole;
    const bool proportional = std::all_of(part.begin(), part.end(), [&](const auto &one) {
        return std::fabs(one.second - tint * whole.at(one.first)) <= alike;
    });
    return proportional && tint >= least && tint <= 1 + alike ? std::optional(std::min(tint, 1.0))
                                                              : std::nullopt;
}

/// A colour that has a plate of its own.
struct Solid
{
    Amounts amounts;
    std::string ink;
};

/// Those that \p job's routes send to one plate, solid.
std::vector<Solid> solids_of(const Job &job)
{
    std::vector<Solid> solids;
    for (const Route &route : job.routes) {
        const bool by_colour = route.by == RouteBy::Colour || route.by == RouteBy::Similar;
        if (by_colour && route.to == RouteTo::Plates && route.targets.size() == 1 &&
            !route.targets[0].own_tint && route.targets[0].tint >= 1) {
            solids.push_back({amounts_of(route.colour), route.targets[0].ink});
        }
    }
    return solids;
}

bool is_registration(const FoundColour &colour)
{
    return colour.colour.colorants.size() == 1 && colour.colour.colorants.front() == "All";
}

} // namespace

Outcome<Job> add_named_plate(Job job, const std::string &ink, const InkBook &book, const Scene &scene)
{
    if (job.find_plate(ink) >= 0) {
        return add_plate(std::move(job), Plate{ink, {}, {}, {}, {}}); // says what is wrong
    }
    const auto known =
        std::find_if(book.inks.begin(), book.inks.end(), [&](const BookInk &one) { return one.name == ink; });
    const auto found = std::find_if(scene.inks.begin(), scene.inks.end(),
                                    [&](const FoundInk &one) { return one.name == ink; });
    const InkUse kind = known != book.inks.end() ? known->use : use_named(ink);
    Plate plate = propose_plate(job.plates, ink, kind, nobodys_colour);
    if (known != book.inks.end()) {
        plate.solid = known->solid;
        plate.traits = known->traits;
    } else if (const auto named = colour_named(ink, kind)) {
        plate.solid = *named;
    } else if (found != scene.inks.end()) {
        plate.solid = found->solid;
    } else {
        plate.uncoloured = kind != InkUse::Process && kind != InkUse::Technical;
    }
    if (ink.empty()) {
        return add_plate(std::move(job), std::move(plate));
    }
    std::erase(job.removed, ink);
    insert_ranked(job, std::move(plate));
    return job;
}

Outcome<Job> declare_kind(Job job, const std::string &ink, InkUse kind)
{
    const int number = job.find_plate(ink);
    if (number < 0) {
        return Error{ErrorCode::OutOfRange, "There is no plate of the ink '" + ink + "'.", {}, {}};
    }
    Plate plate = job.plates[static_cast<std::size_t>(number)];
    if (plate.kind == kind) {
        return job;
    }
    plate.kind = kind;
    plate.uncoloured = false;
    const InkTraits usual = usual_traits(kind);
    plate.traits.opacity = usual.opacity;
    constexpr double near_enough = 10; // ΔE
    if (kind == InkUse::White || kind == InkUse::Varnish) {
        const Lab true_colour = kind == InkUse::White ? white_solid : clear_solid;
        if (ciede2000(plate.solid, true_colour) > near_enough) {
            plate.traits.shown_as = plate.shown();
            plate.traits.reflectance.reset();
            plate.solid = true_colour;
        }
    }
    job.plates.erase(job.plates.begin() + number);
    insert_ranked(job, std::move(plate));
    job.share_tins();
    return job;
}

Job plates_from_colours(Job job, const Scene &scene, const std::vector<ColourGroup> &groups, double tolerance,
                        ColourMeasure measure, const InkBook &book, bool only_page)
{
    constexpr double nearest = 12; // ΔE beyond which a name would mislead
    int unnamed = 0;
    const std::vector<Route> decided = job.routes;
    const auto leader_of = [&](const ColourGroup &group) -> const FoundColour & {
        return scene.colours[static_cast<std::size_t>(group.members.front())];
    };
    struct Wanted
    {
        const ColourGroup *group;
        Amounts amounts;
    };
    std::vector<Wanted> wanted;
    for (const ColourGroup &group : groups) {
        const FoundColour &leader = leader_of(group);
        const ColourUse &use = leader.colour;
        const bool own_spot = use.space.find("Separation") != std::string::npos && leader.inks.size() == 1 &&
                              process_channel(leader.inks.front().ink) < 0 &&
                              job.find_plate(leader.inks.front().ink) >= 0;
        const bool known = std::any_of(decided.begin(), decided.end(), [&](const Route &route) {
            return route.to == RouteTo::Plates && takes(route, {job.page, leader.artwork, {}, &leader});
        });
        if (!use.values.empty() && !leader.inks.empty() && !is_registration(leader) && !own_spot && !known) {
            wanted.push_back({&group, amounts_of(use)});
        }
    }
    std::vector<Solid> solids = solids_of(job); // with those that are made here
    const auto is_tint = [&](const Amounts &amounts) {
        constexpr double lighter = 0.97; // of two that are the same one gets a plate
        return std::any_of(solids.begin(), solids.end(),
                           [&](const Solid &one) { return tint_of(amounts, one.amounts).has_value(); }) ||
               std::any_of(wanted.begin(), wanted.end(), [&](const Wanted &one) {
                   return tint_of(amounts, one.amounts).value_or(1) < lighter;
               });
    };
    const auto send = [&](const ColourGroup &group, const std::string &ink, double tint) {
        Route route = route_from(scene, job.page, group.members, tolerance, measure);
        route.targets = {{ink, false, tint, {}}};
        job = with_route(std::move(job), std::move(route));
    };
    std::vector<const Wanted *> tints;
    for (const Wanted &one : wanted) {
        const FoundColour &leader = leader_of(*one.group);
        if (is_tint(one.amounts)) {
            tints.push_back(&one);
            continue;
        }
        std::string name;
        for (const NearInk &near :
             nearest_inks(book, leader.appearance, static_cast<int>(book.inks.size()))) {
            const BookInk &ink = book.inks[static_cast<std::size_t>(near.index)];
            const bool colour = ink.use == InkUse::Spot || ink.use == InkUse::Metallic;
            if (near.difference > nearest) {
                break;
            }
            if (colour && job.find_plate(ink.name) < 0) {
                name = ink.name;
                break;
            }
        }
        while (name.empty() || job.find_plate(name) >= 0) {
            name = "Colour " + std::to_string(++unnamed);
        }
        insert_ranked(job, propose_plate(job.plates, name, InkUse::Spot, leader.appearance));
        send(*one.group, name, 1);
        solids.push_back({one.amounts, name});
    }
    for (const Wanted *one : tints) { // all solids have their plates now
        double tint = 2;
        const Solid *base = nullptr;
        for (const Solid &solid : solids) { // the strongest
            if (const auto found = tint_of(one->amounts, solid.amounts); found && *found < tint) {
                tint = *found;
                base = &solid;
            }
        }
        if (base != nullptr) {
            send(*one->group, base->ink, tint);
        }
    }
    if (only_page) {
        for (const std::string &idle : idle_plates(scene, job)) {
            if (process_channel(idle) >= 0) {
                job = remove_plate(std::move(job), idle, true);
            }
        }
    }
    return job;
}

PresetTable preset_table(const Job &job, const Scene &scene, std::vector<Rect> folds)
{
    PresetTable table;
    for (const Plate &one : job.plates) {
        if (one.kind == InkUse::Spot || one.kind == InkUse::Process) {
            table.inks.push_back(one.ink);
        } else if (one.kind == InkUse::White && !one.recipe.empty() && table.base.empty()) {
            table.base = one.ink;
        }
    }
    table.tonal = std::any_of(scene.objects.begin(), scene.objects.end(), is_tonal);
    table.folds = std::move(folds);
    return table;
}

bool lacks_white(const Job &job)
{
    constexpr double light = 85; // L* of a stock that colours need no white on
    const Stock &stock = job.stock_here();
    bool prints_colour = false;
    for (const Plate &plate : job.plates) {
        if (plate.kind == InkUse::White || use_named(plate.ink) == InkUse::White) {
            return false; // the customer's own counts
        }
        prints_colour = prints_colour || plate.kind == InkUse::Spot || plate.kind == InkUse::Process;
    }
    return prints_colour && (stock.clear || stock.colour.l < light);
}

RecipePreset usual_white(const Job &job, const Scene &scene)
{
    const char *name = job.stock_here().clear ? "White behind colour" : "Base for a coloured garment";
    std::vector<RecipePreset> presets = recipe_presets(preset_table(job, scene));
    return std::move(*std::find_if(presets.begin(), presets.end(),
                                   [name](const RecipePreset &one) { return one.name == name; }));
}

Outcome<MadePlate> make_preset_plate(Job job, const RecipePreset &preset, const std::string &ink)
{
    if (job.find_plate(ink) >= 0) {
        return Error{
            ErrorCode::OutOfRange, "There is a plate of '" + ink + "' already.", {}, "Choose another name."};
    }
    Plate made =
        propose_plate(job.plates, ink.empty() ? free_name(job, preset.ink) : ink, preset.use, preset.solid);
    made.recipe = preset.recipe;
    // What looks at a plate that is computed lies on it; other bases are printed first of all.
    const std::vector<std::string> read = plates_read(preset.recipe);
    std::size_t place = preset.on_top ? job.plates.size() : 0;
    for (std::size_t i = 0; i < job.plates.size() && !preset.on_top; ++i) {
        const bool base = job.plates[i].kind == InkUse::White && !job.plates[i].recipe.empty();
        if (base && std::find(read.begin(), read.end(), job.plates[i].ink) != read.end()) {
            place = i + 1;
        }
    }
    for (Plate &other : job.plates) {
        const bool prints_colour = other.kind == InkUse::Spot || other.kind == InkUse::Process ||
                                   other.kind == InkUse::White || other.kind == InkUse::Metallic;
        for (RecipeStep step : prints_colour ? preset.others : Recipe()) {
            for (std::string &source : step.source.inks) {
                source = source.empty() ? made.ink : source;
            }
            if (other.recipe.empty()) { // what the artwork and its routes make
                RecipeStep own;
                own.source.from = RecipeFrom::Plate;
                own.source.inks = {other.ink};
                other.recipe = {own};
            }
            other.recipe.push_back(step);
        }
    }
    MadePlate result{std::move(job), made.ink};
    const Stock &stock = result.job.stock_here();
    if (preset.use == InkUse::White && stock.clear && stock.behind) {
        insert_ranked(result.job, std::move(made)); // behind the colours, which are printed before it
        return result;
    }
    result.job.plates.insert(result.job.plates.begin() + static_cast<std::ptrdiff_t>(place), std::move(made));
    return result;
}

} // namespace bichrom
