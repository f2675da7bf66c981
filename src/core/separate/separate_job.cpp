#include "core/separate/separate_job.h"

#include "core/colour/bands.h"
#include "core/colour/colour_difference.h"
#include "core/job/print_model.h"
#include "core/job/routing.h"
#include "core/line/plate_line.h"
#include "core/separate/choose_inks.h"
#include "core/separate/seen_page.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

/// The colour of a print where the plates have these tones.
class PrintedColours
{
public:
    PrintedColours(const Job &job, const std::vector<std::string> &inks, const ProcessProfile &condition)
        : m_stack(stack_of(job, inks, condition))
    {
    }
    void row(const PlateTile &tile, int y, std::vector<Lab> &colours)
    {
        const auto width = static_cast<std::size_t>(tile.rect.width);
        colours.resize(width);
        std::vector<const std::uint8_t *> tones(tile.plates.size());
        for (std::size_t begin = 0; begin < width; begin += PrintStack::Pixels::most) {
            m_stack.begin(m_pixels, std::min(PrintStack::Pixels::most, width - begin));
            for (std::size_t i = 0; i < tones.size(); ++i) {
                tones[i] = tile.plates[i].row(y).data() + begin;
            }
            for (const PrintStack::Step &step : m_stack.steps()) {
                (void)m_stack.lay(step, tones, m_pixels);
            }
            for (std::size_t i = 0; i < m_pixels.count; ++i) {
                const auto light = m_stack.reflectance(m_pixels, i);
                Bands bands{};
                std::copy(light.begin(), light.end(), bands.begin());
                colours[begin + i] = bands_to_lab(bands);
            }
        }
    }

private:
    PrintStack m_stack;
    PrintStack::Pixels m_pixels{};
};

Lab lab_of(std::uint32_t word)
{
    const auto part = [&](int shift) { return static_cast<double>(word >> shift & 255) / 255; };
    return srgb_to_lab({part(16), part(8), part(0)});
}

/// Where the mean difference over a square is largest: a single pixel on an edge tells nothing.
void find_worst(SeparationReport &report, const std::vector<float> &differences, double mm_of_pixel)
{
    const int square = std::max(4, std::max(report.width, report.height) / 60);
    for (int top = 0; top + square <= report.height; top += square / 2) {
        for (int left = 0; left + square <= report.width; left += square / 2) {
            double sum = 0;
            int count = 0;
            for (int y = top; y < top + square; ++y) {
                for (int x = left; x < left + square; ++x) {
                    const float one =
                        differences[static_cast<std::size_t>(y) * static_cast<std::size_t>(report.width) +
                                    static_cast<std::size_t>(x)];
                    sum += one >= 0 ? static_cast<double>(one) : 0.0;
                    count += one >= 0 ? 1 : 0;
                }
            }
            if (count * 2 > square * square && sum / count > report.worst) {
                report.worst = sum / count;
                report.worst_x = (left + square / 2.0) * mm_of_pixel;
                report.worst_y = (top + square / 2.0) * mm_of_pixel;
            }
        }
    }
}

/// Fixed tints of \p names, the solver's inks, that print a flat colour.
std::vector<RouteTarget> flat_targets(const InkSolver &solver, const LightnessReach &reach,
                                      const std::vector<std::string> &names, const Lab &colour)
{
    std::vector<RouteTarget> targets;
    const std::vector<double> tones = solver.tones_of(solver.solve(reach.within(colour)).coverage);
    for (std::size_t ink = 0; ink < names.size(); ++ink) {
        constexpr double least = 0.005; // less prints nothing
        if (tones[ink] >= least) {
            targets.push_back({names[ink], false, tones[ink], {}});
        }
    }
    return targets;
}

/// What is on the plate of \p ink, narrower, its tones kept.
Recipe choked(const std::string &ink, double mm)
{
    RecipeStep own, choke;
    own.source.from = RecipeFrom::Plate;
    own.source.inks = {ink};
    choke.does = RecipeDo::Choke;
    choke.distance = mm;
    choke.tonal = true;
    return {own, choke};
}

/// Prints on them, or leaves the stock bare where there are none: the stock itself is the nearest.
void set_targets(Route &route, std::vector<RouteTarget> targets)
{
    route.to = targets.empty() ? RouteTo::BareStock : RouteTo::Plates;
    route.targets = std::move(targets);
}

} // namespace

Outcome<Job> separated_job(Job job, const Scene &scene, const std::vector<BookInk> &inks,
                           const SeparationWish &wish)
{
    if (inks.empty() || inks.size() > ColourTable::most_inks) {
        return Error{ErrorCode::OutOfRange,
                     "A picture is separated into 1 to " + std::to_string(ColourTable::most_inks) + " inks.",
                     {},
                     "Choose others."};
    }
    const auto condition = condition_of(job.colours);
    if (!condition) {
        return condition.error();
    }
    job.plates = plates_for_inks(inks, job.stock_here());
    job.routes.clear();
    job.removed.clear();
    const std::vector<std::string> names = job.inks();
    const InkSolver solver = solver_of(job.plates, job.stock_here(), names, **condition, wish.ink_limit);
    const LightnessReach reach = reach_of(solver);
    std::vector<int> pictures;
    for (std::size_t i = 0; i < scene.colours.size(); ++i) {
        const FoundColour &found = scene.colours[i];
        if (found.colour.values.empty()) {
            pictures.push_back(static_cast<int>(i));
            continue;
        }
        Route route = route_from(scene, job.page, {static_cast<int>(i)}, 0);
        set_targets(route, flat_targets(solver, reach, names, found.appearance));
        job = with_route(std::move(job), std::move(route));
    }
    if (!pictures.empty()) {
        Route route = route_from(scene, job.page, pictures, 0);
        route.to = RouteTo::Plates;
        route.separated = true;
        route.ink_limit = wish.ink_limit;
        route.dots = wish.dots;
        for (const std::string &name : names) {
            route.targets.push_back({name, true, 1, {}});
        }
        job = with_route(std::move(job), std::move(route));
    }
    for (Plate &plate : job.plates) {
        if (plate.kind == InkUse::White && wish.choke_mm > 0 && !wish.dots.wanted()) {
            plate.recipe = choked(plate.ink, wish.choke_mm);
        }
    }
    return job;
}

Job with_controls(Job job, const Scene &scene, std::size_t number, std::vector<RouteTarget> targets)
{
    Route now = job.routes[number];
    now.targets = std::move(targets);
    const std::vector<std::string> names = job.inks();
    // Of settings that were opened with the job.
    const auto opened = condition_of(job.colours);
    const std::shared_ptr<const ProcessProfile> condition = opened ? *opened : ProcessProfile::fogra39();
    const InkSolver was = solver_of(job.plates, job.stock_here(), job.routes[number], *condition);
    const InkSolver is = solver_of(job.plates, job.stock_here(), now, *condition);
    const LightnessReach reach = reach_of(was.free());
    std::vector<std::string> inks; // in the solver's order
    for (const std::string &name : names) {
        if (std::any_of(now.targets.begin(), now.targets.end(),
                        [&](const RouteTarget &target) { return target.ink == name; })) {
            inks.push_back(name);
        }
    }
    for (std::size_t i = 0; i < scene.colours.size(); ++i) {
        const FoundColour &found = scene.colours[i];
        if (found.colour.values.empty() || found.artwork != now.artwork) {
            continue;
        }
        const Route its = route_from(scene, job.page, {static_cast<int>(i)}, 0);
        const auto route = std::find_if(job.routes.begin(), job.routes.end(),
                                        [&](const Route &one) { return same_source(one, its); });
        if (route == job.routes.end()) {
            continue;
        }
        Route solved = *route;
        set_targets(solved, flat_targets(was, reach, inks, found.appearance));
        if (solved.to == route->to && solved.targets == route->targets) {
            set_targets(*route, flat_targets(is, reach, inks, found.appearance));
        }
    }
    job.routes[number] = std::move(now);
    return job;
}

Job with_dots(Job job, std::size_t route, const IndexDots &dots)
{
    job.routes[route].dots = dots;
    for (Plate &plate : job.plates) {
        const bool has_choke = dots.wanted() && plate.kind == InkUse::White && plate.recipe.size() == 2 &&
                               plate.recipe == choked(plate.ink, plate.recipe.back().distance);
        if (has_choke) {
            plate.recipe.clear();
        }
    }
    return job;
}

Job with_highlight(Job job)
{
    const auto base = std::find_if(job.plates.begin(), job.plates.end(),
                                   [](const Plate &plate) { return plate.kind == InkUse::White; });
    if (base == job.plates.end()) {
        return job;
    }
    Plate highlight = *base;
    highlight.ink = "Highlight " + base->ink;
    highlight.tin = base->ink;
    RecipeStep own, levels;
    own.source.from = RecipeFrom::Plate;
    own.source.inks = {base->ink};
    levels.does = RecipeDo::Levels;
    levels.low = 0.5;
    highlight.recipe = {own, levels};
    for (const Plate &plate : job.plates) {
        if (plate.kind != InkUse::White) {
            RecipeStep less;
            less.does = RecipeDo::TakeAway;
            less.source.from = RecipeFrom::Plate;
            less.source.inks = {plate.ink};
            highlight.recipe.push_back(less);
        }
    }
    double limit = 0;
    for (const Route &route : job.routes) {
        limit = route.separated ? std::max(limit, route.ink_limit) : limit;
    }
    if (limit > 0) {
        // Of solid white, colours that come to s leave 1 − s of room under a limit of 2, and the steps above
        // at most e^−s: what is over e^−1 of it, stretched, is convex in s and fits in at both ends. Below 2
        // the room ends where s = limit − 1.
        const double room = std::clamp(limit - 1, 0.0, 1.0);
        RecipeStep fit, tint;
        fit.does = RecipeDo::Levels;
        fit.low = std::min(std::exp(-room), 0.99);
        tint.does = RecipeDo::Tint;
        tint.amount = room;
        highlight.recipe.push_back(fit);
        highlight.recipe.push_back(tint);
    }
    const bool behind = job.stock_here().clear && job.stock_here().behind;
    job.plates.insert(behind ? job.plates.begin() : job.plates.end(), std::move(highlight));
    return job;
}

Outcome<SeparationReport> measure_separation(const OpenedJob &opened, int side, const JobControl &control)
{
    const auto page = opened.artwork->page_info(opened.job.page);
    if (!page) {
        return page.error();
    }
    double dot = 0; // mm, the largest
    for (const Route &route : opened.job.routes) {
        dot = std::max(dot, route.dots.size_mm);
    }
    const Rect &media = page->boxes[static_cast<std::size_t>(PageBox::Media)];
    const double longer = std::max(media.width, media.height);
    constexpr int least = 40; // pixels
    const int distant =
        dot > 0 ? std::clamp(static_cast<int>(longer / (dot * 4)), std::min(least, side), side) : side;
    auto seen = see_original(opened, distant, control);
    // So small that no pixel is wholly painted, it is looked at from near after all.
    if (seen && distant < side &&
        std::find(seen->painted.begin(), seen->painted.end(), true) == seen->painted.end()) {
        seen = see_original(opened, side, control);
    }
    if (!seen) {
        return seen.error();
    }
    const auto line = PlateLine::make(seen->page, setup_of(opened.job), control);
    if (!line) {
        return line.error();
    }
    const auto condition = condition_of(opened.job.colours);
    if (!condition) {
        return condition.error();
    }
    const auto tile = (*line)->whole_page(seen->resolution, Edges::Seen, control);
    if (!tile) {
        return tile.error();
    }
    SeparationReport report;
    report.width = seen->width;
    report.height = seen->height;
    report.coverage.assign(opened.job.plates.size(), 0);
    const std::size_t count = seen->pixels.size();
    report.map.assign(count, 0);
    std::vector<float> differences(count, -1), sorted;
    PrintedColours printed(opened.job, (*line)->inks(), **condition);
    std::vector<Lab> colours;
    for (int y = 0; y < seen->height; ++y) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped on request.", {}, {}};
        }
        printed.row(*tile, y, colours);
        for (int x = 0; x < seen->width; ++x) {
            const std::size_t at = static_cast<std::size_t>(y) * static_cast<std::size_t>(seen->width) +
                                   static_cast<std::size_t>(x);
            if (!seen->painted[at]) {
                continue;
            }
            const double away = ciede2000(lab_of(seen->pixels[at]), colours[static_cast<std::size_t>(x)]);
            differences[at] = static_cast<float>(away);
            sorted.push_back(differences[at]);
            report.map[at] = static_cast<std::uint8_t>(std::min(255.0, std::round(away * 10)));
            report.mean += away;
            constexpr double far = 6; // ΔE that everybody sees
            report.beyond += away >= far ? 1 : 0;
            for (std::size_t i = 0; i < report.coverage.size(); ++i) {
                report.coverage[i] += tile->plates[i].at(x, y) / 255.0;
            }
        }
    }
    if (sorted.empty()) {
        return Error{ErrorCode::NothingToPrint,
                     "The page paints nothing to be separated.",
                     opened.artwork->name(),
                     {}};
    }
    const auto all = static_cast<double>(sorted.size());
    const auto at_share = [&](double share) {
        const auto place = sorted.begin() + static_cast<std::ptrdiff_t>(share * (all - 1));
        std::nth_element(sorted.begin(), place, sorted.end());
        return static_cast<double>(*place);
    };
    report.median = at_share(0.5);
    report.p95 = at_share(0.95);
    report.mean /= all;
    report.beyond /= all;
    for (double &coverage : report.coverage) {
        coverage /= all;
    }
    find_worst(report, differences, millimetres_per_inch / seen->resolution.value);
    return report;
}

} // namespace bichrom
