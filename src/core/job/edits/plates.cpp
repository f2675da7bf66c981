#include "core/job/edits/plates.h"

#include "core/job/change_slip.h"
#include "core/job/screen_angles.h"

#include <algorithm>
#include <set>
#include <utility>

namespace bichrom {

namespace {

Error no_plate(const std::string &ink)
{
    return {
        ErrorCode::OutOfRange, "There is no plate of the ink '" + ink + "'.", {}, "Choose another plate."};
}

/// Removes what stands twice, keeping the first.
void drop_repeated(std::vector<std::string> &inks)
{
    std::set<std::string> seen;
    std::erase_if(inks, [&](const std::string &ink) { return !seen.insert(ink).second; });
}

/// One target an ink: of two the stronger prints.
void join_targets(std::vector<RouteTarget> &targets)
{
    std::vector<RouteTarget> joined;
    for (RouteTarget &target : targets) {
        const auto same = std::find_if(joined.begin(), joined.end(),
                                       [&](const RouteTarget &one) { return one.ink == target.ink; });
        if (same == joined.end()) {
            joined.push_back(std::move(target));
        } else if (target.tint > same->tint) {
            *same = std::move(target);
        }
    }
    targets = std::move(joined);
}

/// Changes \p job's routes, with the states of their lines on the change slip.
template <typename Edit> void edit_routes(Job &job, Edit edit)
{
    for (Route &route : job.routes) {
        const std::string before = key_of(route);
        edit(route);
        const std::string after = key_of(route);
        if (const auto state = job.change_states.find(before);
            state != job.change_states.end() && after != before) {
            job.change_states.emplace(after, state->second);
        }
    }
}

/// Everything that spoke of the plate of \p from speaks of \p to.
void speak_of(Job &job, const std::string &from, const std::string &to)
{
    edit_routes(job, [&](Route &route) {
        for (RouteTarget &target : route.targets) {
            target.ink = target.ink == from ? to : target.ink;
            std::vector<std::string> &never = target.control.never_with;
            std::replace(never.begin(), never.end(), from, to);
            std::erase(never, target.ink);
            drop_repeated(never);
        }
        for (PaletteTarget &colour : route.split.colours) {
            colour.ink = colour.ink == from ? to : colour.ink;
        }
        join_targets(route.targets);
    });
    // What was decided for the ink that stays, last, counts where both were decided for.
    const auto about_to = [&](const TrapPair &pair) { return pair.first == to || pair.second == to; };
    std::vector<TrapPair> pairs = std::exchange(job.traps.pairs, {});
    std::stable_partition(pairs.begin(), pairs.end(), [&](const TrapPair &pair) { return !about_to(pair); });
    for (TrapPair &pair : pairs) {
        pair.first = pair.first == from ? to : pair.first;
        pair.second = pair.second == from ? to : pair.second;
        if (pair.first != pair.second) {
            job.traps = with_pair(std::move(job.traps), std::move(pair));
        }
    }
    const auto is_of = [](const OverprintRule &rule, const std::string &ink) {
        return rule.source.by == RouteBy::Ink && rule.source.name == ink;
    };
    auto &rules = job.overprint.rules;
    if (std::any_of(rules.begin(), rules.end(), [&](const OverprintRule &rule) { return is_of(rule, to); })) {
        std::erase_if(rules, [&](const OverprintRule &rule) { return is_of(rule, from); });
    }
    for (OverprintRule &rule : rules) {
        rule.source.name = is_of(rule, from) ? to : rule.source.name;
    }
    for (const auto &[first, second] : std::exchange(job.meant_angles, {})) {
        job =
            with_meant_angles(std::move(job), first == from ? to : first, second == from ? to : second, true);
    }
    for (Plate &plate : job.plates) {
        plate.tin = plate.tin == from ? to : plate.tin;
        for (RecipeStep &step : plate.recipe) {
            std::replace(step.source.inks.begin(), step.source.inks.end(), from, to);
            drop_repeated(step.source.inks);
        }
    }
    // What is said of the ink in the customer's file stays beside it.
    for (std::size_t i = 0, count = job.accepted.size(); i < count; ++i) {
        if (job.accepted[i].subject == from) {
            AcceptedFinding again = job.accepted[i];
            again.subject = to;
            job.accepted.push_back(std::move(again));
        }
    }
    for (std::size_t i = 0, count = job.questions.size(); i < count; ++i) {
        if (job.questions[i].subject == from) {
            Question again = job.questions[i];
            again.subject = to;
            job.questions.push_back(std::move(again));
        }
    }
    for (const char *line : {"recipe ", "kind "}) {
        if (const auto state = job.change_states.find(line + from); state != job.change_states.end()) {
            job.change_states.emplace(line + to, state->second);
        }
    }
}

} // namespace

Outcome<Job> add_plate(Job job, Plate plate)
{
    if (plate.ink.empty() || job.find_plate(plate.ink) >= 0) {
        return Error{ErrorCode::OutOfRange,
                     plate.ink.empty() ? "A plate needs an ink with a name."
                                       : "The ink '" + plate.ink + "' has a plate already.",
                     {},
                     "Give it another name."};
    }
    std::erase(job.removed, plate.ink);
    job.plates.push_back(std::move(plate));
    return job;
}

Outcome<Job> rename_plate(Job job, const std::string &from, const std::string &to)
{
    const int at = job.find_plate(from);
    if (at < 0) {
        return no_plate(from);
    }
    if (to.empty()) {
        return Error{ErrorCode::OutOfRange, "A plate needs an ink with a name.", {}, "Give it a name."};
    }
    if (from == to) {
        return job;
    }
    if (job.find_plate(to) >= 0) {
        return merge_plates(std::move(job), from, to);
    }
    job.plates[static_cast<std::size_t>(at)].ink = to;
    speak_of(job, from, to);
    std::erase(job.removed, to);
    return job;
}

Outcome<Job> merge_plates(Job job, const std::string &from, const std::string &into)
{
    const int old_plate = job.find_plate(from);
    const int kept = job.find_plate(into);
    if (old_plate < 0 || kept < 0) {
        return no_plate(old_plate < 0 ? from : into);
    }
    if (old_plate == kept) {
        return Error{ErrorCode::OutOfRange, "A plate cannot be merged with itself.", {}, "Choose another."};
    }
    if (!job.plates[static_cast<std::size_t>(old_plate)].recipe.empty()) {
        return Error{ErrorCode::OutOfRange,
                     "The plate " + from + " is computed by a recipe and cannot become part of " + into + ".",
                     {},
                     "Merge " + into + " into " + from + ", or take the recipe away."};
    }
    speak_of(job, from, into);
    Recipe &recipe = job.plates[static_cast<std::size_t>(kept)].recipe;
    const std::vector<std::string> read = plates_read(recipe);
    if (!recipe.empty() && std::find(read.begin(), read.end(), into) == read.end()) {
        RecipeStep own; // what was sent to the other must not vanish
        own.does = RecipeDo::Add;
        own.source.from = RecipeFrom::Plate;
        own.source.inks = {into};
        recipe.push_back(own);
    }
    job.plates.erase(job.plates.begin() + old_plate);
    job.share_tins();
    return job;
}

Job remove_plate(Job job, const std::string &ink, bool in_artwork)
{
    const int at = job.find_plate(ink);
    if (at < 0) {
        return job;
    }
    job.plates.erase(job.plates.begin() + at);
    std::erase_if(job.traps.pairs,
                  [&](const TrapPair &pair) { return pair.first == ink || pair.second == ink; });
    std::erase_if(job.meant_angles,
                  [&](const auto &pair) { return pair.first == ink || pair.second == ink; });
    std::erase_if(job.overprint.rules, [&](const OverprintRule &rule) {
        return rule.source.by == RouteBy::Ink && rule.source.name == ink;
    });
    bool in_picture = false; // its colours still name the ink: they print nothing, and nobody meant them to
    edit_routes(job, [&](Route &route) {
        std::erase_if(route.targets, [&](const RouteTarget &target) { return target.ink == ink; });
        for (RouteTarget &target : route.targets) {
            std::erase(target.control.never_with, ink);
        }
        in_picture =
            in_picture || (!route.targets.empty() &&
                           std::any_of(route.split.colours.begin(), route.split.colours.end(),
                                       [&](const PaletteTarget &colour) { return colour.ink == ink; }));
    });
    std::erase_if(job.routes,
                  [](const Route &route) { return route.to == RouteTo::Plates && route.targets.empty(); });
    for (Plate &plate : job.plates) {
        std::erase_if(plate.recipe, [&](RecipeStep &step) {
            return std::erase(step.source.inks, ink) > 0 && step.source.inks.empty();
        });
    }
    job.share_tins();
    const bool known = std::find(job.removed.begin(), job.removed.end(), ink) != job.removed.end();
    if ((in_artwork || in_picture) && !known) {
        job.removed.push_back(ink);
    }
    return job;
}

Job move_plate(Job job, std::size_t from, std::size_t to)
{
    if (from < job.plates.size() && to < job.plates.size() && from != to) {
        Plate moved = std::move(job.plates[from]);
        job.plates.erase(job.plates.begin() + static_cast<std::ptrdiff_t>(from));
        job.plates.insert(job.plates.begin() + static_cast<std::ptrdiff_t>(to), std::move(moved));
    }
    return job;
}

Job keep_tins(const Job &before, Job after)
{
    const std::vector<Plate> said = after.plates;
    for (const Plate &plate : said) {
        const int old_plate = before.find_plate(plate.ink);
        const int source = after.find_plate(plate.tin);
        if (old_plate < 0 || source < 0) {
            continue;
        }
        const Plate &was = before.plates[static_cast<std::size_t>(old_plate)];
        if (was.tin == plate.tin &&
            !(was.solid == plate.solid && was.kind == plate.kind && was.traits == plate.traits)) {
            Plate &tin = after.plates[static_cast<std::size_t>(source)];
            tin.solid = plate.solid;
            tin.kind = plate.kind;
            tin.traits = plate.traits;
        }
    }
    after.share_tins();
    return after;
}

} // namespace bichrom
