#include "core/separate/choose_inks.h"

#include "core/colour/colour_difference.h"
#include "core/job/print_model.h"

#include <oneapi/tbb/parallel_for.h>

#include <algorithm>

namespace bichrom {

namespace {

constexpr std::size_t looked_at = 48; ///< colours

/// Whether the ink is one that colours are made of.
bool makes_colour(const BookInk &ink)
{
    return ink.use == InkUse::Spot || ink.use == InkUse::Process;
}

bool among(const std::vector<BookInk> &inks, const std::string &name)
{
    return std::any_of(inks.begin(), inks.end(), [&](const BookInk &ink) { return ink.name == name; });
}

/// The candidate that brings \p base furthest, or −1 when there is none.
int best_addition(const std::vector<WishedColour> &wish, const std::vector<BookInk> &base,
                  const std::vector<const BookInk *> &candidates, const InkWish &asked, double &difference,
                  const JobControl &control)
{
    std::vector<double> tried(candidates.size(), 1e9);
    oneapi::tbb::parallel_for(std::size_t(0), candidates.size(), [&](std::size_t i) {
        if (control.cancelled() || among(base, candidates[i]->name)) {
            return;
        }
        std::vector<BookInk> inks = base;
        inks.push_back(*candidates[i]);
        tried[i] = expected_difference(wish, std::move(inks), asked.stock, *asked.condition).mean_difference;
    });
    const auto best = std::min_element(tried.begin(), tried.end());
    if (best == tried.end() || *best >= 1e9) {
        return -1;
    }
    difference = *best;
    return static_cast<int>(best - tried.begin());
}

} // namespace

BookInk white_of(const InkBook &book)
{
    const auto found = std::find_if(book.inks.begin(), book.inks.end(),
                                    [](const BookInk &ink) { return ink.use == InkUse::White; });
    return found != book.inks.end()
               ? *found
               : BookInk{"White", InkUse::White, {96, 0, 0}, usual_traits(InkUse::White), false};
}

std::vector<BookInk> process_inks(const ProcessProfile &condition)
{
    std::vector<BookInk> inks;
    for (std::size_t channel = 0; channel < process_names.size(); ++channel) {
        Cmyk solid{};
        solid[channel] = 1;
        inks.push_back({process_names[channel], InkUse::Process, condition.to_lab(solid),
                        usual_traits(InkUse::Process), true});
    }
    return inks;
}

std::vector<BookInk> in_printing_order(std::vector<BookInk> inks)
{
    const auto place = [](const BookInk &ink) {
        return ink.use == InkUse::White ? 0 : ink.use == InkUse::Process ? 2 : 1;
    };
    std::stable_sort(inks.begin(), inks.end(), [&](const BookInk &a, const BookInk &b) {
        return place(a) != place(b) ? place(a) < place(b) : a.solid.l > b.solid.l;
    });
    return inks;
}

std::vector<Plate> plates_for_inks(const std::vector<BookInk> &inks, const Stock &stock)
{
    std::vector<Plate> plates;
    for (const BookInk &ink : inks) {
        Plate plate = propose_plate(plates, ink.name, ink.use, ink.solid);
        plate.traits = ink.traits;
        plates.push_back(std::move(plate));
    }
    if (stock.clear && stock.behind) {
        std::reverse(plates.begin(), plates.end());
    }
    return plates;
}

InkSet expected_difference(const std::vector<WishedColour> &wish, std::vector<BookInk> inks,
                           const Stock &stock, const ProcessProfile &condition)
{
    inks = in_printing_order(std::move(inks));
    const std::vector<Plate> plates = plates_for_inks(inks, stock);
    std::vector<std::string> names;
    for (const BookInk &ink : inks) {
        names.push_back(ink.name);
    }
    const InkSolver solver = solver_of(plates, stock, names, condition);
    const LightnessReach reach = reach_of(solver);
    double sum = 0, shares = 0;
    for (const WishedColour &one : wish) {
        // Solved as pictures are, but judged by the colour that was wished for.
        const Solution solved = solver.solve(reach.within(one.colour));
        sum += one.share * ciede2000(one.colour, solver.print().colour(solved.coverage));
        shares += one.share;
    }
    return {std::move(inks), shares > 0 ? sum / shares : 0};
}

Outcome<std::vector<InkSet>> choose_inks(const std::vector<WishedColour> &all, const InkBook &book,
                                         const InkWish &asked, const JobControl &control)
{
    if (asked.most < 1 || asked.most > ColourTable::most_inks || asked.fixed.size() > asked.most) {
        return Error{ErrorCode::OutOfRange,
                     "So many inks cannot be chosen.",
                     {},
                     "Ask for 1 to " + std::to_string(ColourTable::most_inks) +
                         ", the fixed ones among them."};
    }
    const std::vector<WishedColour> wish(
        all.begin(), all.begin() + static_cast<std::ptrdiff_t>(std::min(all.size(), looked_at)));
    std::vector<const BookInk *> candidates;
    for (const BookInk &ink : book.inks) {
        const bool out =
            std::find(asked.excluded.begin(), asked.excluded.end(), ink.name) != asked.excluded.end();
        if (makes_colour(ink) && !out && !among(asked.fixed, ink.name)) {
            candidates.push_back(&ink);
        }
    }
    std::vector<InkSet> choices;
    std::vector<BookInk> inks = asked.fixed;
    if (!inks.empty()) {
        choices.push_back(expected_difference(wish, inks, asked.stock, *asked.condition));
    }
    const auto steps = static_cast<std::int64_t>(asked.most - inks.size());
    while (inks.size() < asked.most) {
        double difference = 0;
        const int added = best_addition(wish, inks, candidates, asked, difference, control);
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped on request.", {}, {}};
        }
        if (added < 0) {
            break; // the book holds no more
        }
        inks.push_back(*candidates[static_cast<std::size_t>(added)]);
        // Once around: an ink that was best alone may not be best among others.
        for (std::size_t i = asked.fixed.size(); i + 1 < inks.size() && !control.cancelled(); ++i) {
            std::vector<BookInk> without = inks;
            without.erase(without.begin() + static_cast<std::ptrdiff_t>(i));
            double swapped = 0;
            const int better = best_addition(wish, without, candidates, asked, swapped, control);
            if (better >= 0 && swapped < difference - 1e-6) {
                inks[i] = *candidates[static_cast<std::size_t>(better)];
                difference = swapped;
            }
        }
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped on request.", {}, {}};
        }
        InkSet made = expected_difference(wish, inks, asked.stock, *asked.condition);
        constexpr double seen = 0.01; // of the mean difference; less, and the ink hardly prints at all
        if (!choices.empty() && made.mean_difference > choices.back().mean_difference - seen) {
            break; // none helps any more
        }
        choices.push_back(std::move(made));
        control.progress(steps - static_cast<std::int64_t>(asked.most - inks.size()), steps);
    }
    return choices;
}

} // namespace bichrom
