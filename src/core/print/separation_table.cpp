#include "core/print/separation_table.h"

#include "core/colour/colour_difference.h"
#include "core/colour/spaces.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace bichrom {

namespace {

constexpr int n = ColourTable::nodes;
constexpr int last = n - 1;
constexpr int smoothing_rounds = 10; // each of one half of the nodes
constexpr int settling_rounds = 3;
/// The most that a tone changes between nodes that touch: seven of 255 while a colour changes by one. Five
/// would cost saturated colours on a dark shirt 4 ΔE.
constexpr double steepest_tone = 7.0 / (ColourTable::nodes - 1);

std::size_t number_of(int r, int g, int b)
{
    return (static_cast<std::size_t>(r) * n + static_cast<std::size_t>(g)) * n + static_cast<std::size_t>(b);
}

/// What is printed of each node's colour: the picture's whole lightness takes up what can be reached, from
/// the darkest to the lightest.
std::vector<Lab> targets_of(const InkSolver &solver)
{
    const LightnessReach reach = reach_of(solver);
    std::vector<Lab> targets(static_cast<std::size_t>(n) * n * n);
    for (int r = 0; r < n; ++r) {
        for (int g = 0; g < n; ++g) {
            for (int b = 0; b < n; ++b) {
                targets[number_of(r, g, b)] =
                    reach.within(srgb_to_lab({static_cast<double>(r) / last, static_cast<double>(g) / last,
                                              static_cast<double>(b) / last}));
            }
        }
    }
    return targets;
}

/// What a node of a lattice pays for a squared tone away from its neighbours, where the nearest that can be
/// printed is \p difference off. A colour that can be reached is kept, so that shadows stay clean; of a
/// colour that cannot, no answer is right, and the even one shows no step in a gradient.
double evenness_at(double difference)
{
    constexpr double within = 30, beyond = 1000;
    constexpr double near = 2, far = 8; // ΔE
    const double share = std::clamp((difference - near) / (far - near), 0.0, 1.0);
    return within + (beyond - within) * share;
}

Error stopped()
{
    return {ErrorCode::Cancelled, "Stopped.", {}, {}};
}

/// Calls \p join(before, after) for each axis on which node \p r, \p g, \p b has neighbours on both sides.
template <typename Join> void each_axis(int r, int g, int b, Join join)
{
    const std::size_t here = number_of(r, g, b);
    const std::array<int, 3> at = {r, g, b};
    const std::array<std::size_t, 3> stride = {static_cast<std::size_t>(n) * n, n, 1};
    for (std::size_t axis = 0; axis < 3; ++axis) {
        if (at[axis] > 0 && at[axis] < last) {
            join(here - stride[axis], here + stride[axis]);
        }
    }
}

/// Where several mixtures look alike, each node of \p nodes is drawn towards the mean of its neighbours on
/// each axis. \param round  half of the nodes are changed and the other half read, by turns
void smooth_once(const InkSolver &solver, const std::vector<Lab> &targets,
                 const std::vector<std::vector<double>> &most, const std::vector<char> &nodes, int round,
                 SolvedLattice &lattice)
{
    const std::size_t inks = solver.inks().size();
    tbb::parallel_for(0, n, [&](int r) {
        for (int g = 0; g < n; ++g) {
            for (int b = (r + g + round) % 2; b < n; b += 2) {
                const std::size_t here = number_of(r, g, b);
                if (nodes[here] == 0) {
                    continue;
                }
                std::vector<double> mean(inks, 0.0);
                int axes = 0;
                each_axis(r, g, b, [&](std::size_t before, std::size_t after) {
                    for (std::size_t k = 0; k < inks; ++k) {
                        mean[k] += (lattice.coverage[before][k] + lattice.coverage[after][k]) / 2;
                    }
                    ++axes;
                });
                if (axes == 0) {
                    continue;
                }
                for (double &m : mean) {
                    m /= axes;
                }
                lattice.coverage[here] =
                    solver.solve_near(targets[here], mean, lattice.evenness[here], most[here]);
            }
        }
    });
}

/// Brings \p tones, one a node, down until no two nodes that touch, at corners too, differ by more than
/// steepest_tone: to the largest such lattice below. Nothing grows, so that what is bare or held stays so,
/// and within the ink limit.
void bring_down(std::vector<double> &tones)
{
    static const std::vector<std::array<int, 3>> before = [] {
        std::vector<std::array<int, 3>> made;
        for (int i = 0; i < 13; ++i) { // of the 26 neighbours those that come before the middle of 27
            made.push_back({i / 9 - 1, i / 3 % 3 - 1, i % 3 - 1});
        }
        return made;
    }();
    // Once forwards and once backwards, over half of the neighbours each, so that it goes on from node to
    // node.
    for (const int sign : {1, -1}) {
        for (int i = 0; i < n * n * n; ++i) {
            const int node = sign > 0 ? i : n * n * n - 1 - i;
            const int r = node / (n * n), g = node / n % n, b = node % n;
            double &tone = tones[static_cast<std::size_t>(node)];
            for (const auto &[dr, dg, db] : before) {
                const int nr = r + sign * dr, ng = g + sign * dg, nb = b + sign * db;
                if (std::min({nr, ng, nb}) >= 0 && std::max({nr, ng, nb}) < n) {
                    tone = std::min(tone, tones[number_of(nr, ng, nb)] + steepest_tone);
                }
            }
        }
    }
}

/// The same for all inks.
void bring_down(SolvedLattice &lattice)
{
    const std::size_t inks = lattice.coverage.front().size();
    tbb::parallel_for(std::size_t(0), inks, [&](std::size_t k) {
        std::vector<double> tones;
        for (const std::vector<double> &coverage : lattice.coverage) {
            tones.push_back(coverage[k]);
        }
        bring_down(tones);
        for (std::size_t node = 0; node < tones.size(); ++node) {
            lattice.coverage[node][k] = tones[node];
        }
    });
}

/// Makes gradients even: tones may change only so fast, and the inks around make up for what that costs.
/// \param nodes  that are solved again beside those whose tones have changed
void settle(const InkSolver &solver, const std::vector<Lab> &targets, std::vector<std::vector<double>> most,
            const std::vector<char> &nodes, SolvedLattice &lattice, const JobControl &control)
{
    constexpr double close = 100; // squared ΔE for a whole tone
    constexpr double bare = 0.02; // what is less of every ink is the stock
    for (std::size_t node = 0; node < targets.size(); ++node) {
        std::vector<double> &here = lattice.coverage[node];
        if (std::all_of(here.begin(), here.end(), [](double tone) { return tone < bare; })) {
            here.assign(here.size(), 0.0); // and stays so: a shirt that is dark enough gets no haze
            most[node] = here;
        }
    }
    for (int round = 0; round < settling_rounds && !control.cancelled(); ++round) {
        const std::vector<std::vector<double>> before = lattice.coverage;
        bring_down(lattice);
        tbb::parallel_for(std::size_t(0), targets.size(), [&](std::size_t node) {
            const std::vector<double> here = lattice.coverage[node];
            if (nodes[node] != 0 || here != before[node]) {
                lattice.coverage[node] = solver.solve_near(targets[node], here, close, most[node]);
            }
        });
    }
    bring_down(lattice);
}

} // namespace

Outcome<std::shared_ptr<const SolvedLattice>> solve_lattice(const InkSolver &held, const JobControl &control)
{
    const InkSolver solver = held.free();
    const std::size_t inks = solver.inks().size();
    const std::vector<Lab> targets = targets_of(solver);
    auto lattice = std::make_shared<SolvedLattice>();
    lattice->coverage.resize(targets.size());
    lattice->evenness.resize(targets.size());
    const std::int64_t steps = 3 * last + 2 + smoothing_rounds;
    // From white outwards: each node begins where its solved neighbours are. Nodes as far from white as one
    // another do not touch.
    std::vector<std::vector<std::array<int, 3>>> shells(3 * last + 1);
    for (int r = 0; r < n; ++r) {
        for (int g = 0; g < n; ++g) {
            for (int b = 0; b < n; ++b) {
                shells[static_cast<std::size_t>(3 * last - r - g - b)].push_back({r, g, b});
            }
        }
    }
    std::int64_t done = 0;
    for (const auto &shell : shells) {
        if (control.cancelled()) {
            return stopped();
        }
        tbb::parallel_for(std::size_t(0), shell.size(), [&](std::size_t i) {
            const auto [r, g, b] = shell[i];
            std::vector<double> start(inks, 0.0);
            int neighbours = 0;
            const auto join = [&](int nr, int ng, int nb) {
                if (nr < n && ng < n && nb < n) {
                    const std::vector<double> &near = lattice->coverage[number_of(nr, ng, nb)];
                    for (std::size_t k = 0; k < inks; ++k) {
                        start[k] += near[k];
                    }
                    ++neighbours;
                }
            };
            join(r + 1, g, b);
            join(r, g + 1, b);
            join(r, g, b + 1);
            for (double &s : start) {
                s = std::clamp(s / std::max(1, neighbours), 0.02, 0.98);
            }
            const std::size_t here = number_of(r, g, b);
            Solution found = solver.solve(targets[here], neighbours > 0 ? start : std::vector<double>());
            lattice->coverage[here] = std::move(found.coverage);
            lattice->evenness[here] = evenness_at(found.difference);
        });
        control.progress(++done, steps);
    }
    // Where the bare stock is what black comes to, black is bare.
    const std::vector<double> none(inks, 0.0);
    constexpr double alike = 3; // ΔE
    if (ciede2000(targets[number_of(0, 0, 0)], solver.print().colour(none)) <= alike) {
        lattice->coverage[number_of(0, 0, 0)] = none;
    }
    const std::vector<std::vector<double>> most(targets.size(), std::vector<double>(inks, 1.0));
    const std::vector<char> all(targets.size(), 1);
    for (int round = 0; round < smoothing_rounds; ++round) {
        if (control.cancelled()) {
            return stopped();
        }
        smooth_once(solver, targets, most, all, round, *lattice);
        control.progress(++done, steps);
    }
    settle(solver, targets, most, all, *lattice, control);
    if (control.cancelled()) {
        return stopped();
    }
    control.progress(steps, steps);
    return std::shared_ptr<const SolvedLattice>(std::move(lattice));
}

Outcome<std::shared_ptr<const SolvedLattice>>
held_lattice(const InkSolver &solver, std::shared_ptr<const SolvedLattice> free, const JobControl &control)
{
    if (!solver.holds()) {
        return free;
    }
    const std::vector<SolvedInk> &inks = solver.inks();
    const std::vector<Lab> targets = targets_of(solver.free()); // the same, whatever is held
    auto lattice = std::make_shared<SolvedLattice>(*free);
    std::vector<std::vector<double>> most(targets.size());
    std::vector<char> broken(targets.size(), 0), near(targets.size(), 0);
    tbb::parallel_for(std::size_t(0), targets.size(), [&](std::size_t node) {
        constexpr double enough = 1e-3;         // of a tone
        constexpr double printed = 0.5 / 255.0; // less is bare in eight bits
        const std::vector<double> &tones = free->coverage[node];
        most[node] = solver.most_at(targets[node]);
        for (std::size_t k = 0; k < inks.size() && broken[node] == 0; ++k) {
            broken[node] = tones[k] > most[node][k] + enough ? 1 : 0;
            for (const std::size_t other : inks[k].never_with) {
                if (other < inks.size() && std::min(tones[k], tones[other]) > printed) {
                    broken[node] = 1;
                }
            }
        }
        if (broken[node] != 0 && !control.cancelled()) {
            Solution found = solver.solve(targets[node], tones);
            lattice->coverage[node] = std::move(found.coverage);
            lattice->evenness[node] = evenness_at(found.difference);
            most[node] = std::move(found.most);
        }
    });
    // What lies beside is smoothed too, but nothing may take up again what is kept apart.
    for (int r = 0; r < n; ++r) {
        for (int g = 0; g < n; ++g) {
            for (int b = 0; b < n; ++b) {
                const std::size_t here = number_of(r, g, b);
                near[here] = broken[here];
                each_axis(r, g, b, [&](std::size_t before, std::size_t after) {
                    near[here] = near[here] != 0 || broken[before] != 0 || broken[after] != 0 ? 1 : 0;
                });
                for (std::size_t k = 0; k < inks.size(); ++k) {
                    for (const std::size_t other : inks[k].never_with) {
                        if (other < inks.size() && most[here][k] > 0 && most[here][other] > 0) {
                            const bool less = lattice->coverage[here][k] < lattice->coverage[here][other];
                            most[here][less ? k : other] = 0;
                        }
                    }
                }
            }
        }
    }
    for (int round = 0; round < smoothing_rounds; ++round) {
        if (control.cancelled()) {
            return stopped();
        }
        smooth_once(solver, targets, most, near, round, *lattice);
        control.progress(round + 1, smoothing_rounds + 1);
    }
    settle(solver, targets, most, near, *lattice, control);
    if (control.cancelled()) {
        return stopped();
    }
    control.progress(smoothing_rounds + 1, smoothing_rounds + 1);
    return std::shared_ptr<const SolvedLattice>(std::move(lattice));
}

SeparationTable table_of(const InkSolver &solver, const SolvedLattice &lattice)
{
    const std::size_t inks = solver.inks().size();
    std::vector<ColourTable::Tones> tones(lattice.coverage.size());
    std::vector<char> limited(tones.size(), 0);
    tbb::parallel_for(std::size_t(0), tones.size(), [&](std::size_t node) {
        bool here = false;
        const std::vector<double> made = solver.tones_of(lattice.coverage[node], &here);
        std::transform(made.begin(), made.end(), tones[node].begin(),
                       [](double tone) { return static_cast<float>(tone); });
        limited[node] = here ? 1 : 0;
    });
    SeparationTable result;
    result.steepest.assign(inks, 0);
    for (int r = 0; r < n; ++r) {
        for (int g = 0; g < n; ++g) {
            for (int b = 0; b < n; ++b) {
                const auto compare = [&](int nr, int ng, int nb) {
                    for (std::size_t k = 0; nr < n && ng < n && nb < n && k < inks; ++k) {
                        const float step =
                            std::fabs(tones[number_of(nr, ng, nb)][k] - tones[number_of(r, g, b)][k]);
                        result.steepest[k] = std::max(result.steepest[k], static_cast<double>(step));
                    }
                };
                compare(r + 1, g, b);
                compare(r, g + 1, b);
                compare(r, g, b + 1);
            }
        }
    }
    result.limited = static_cast<double>(std::count(limited.begin(), limited.end(), 1)) /
                     static_cast<double>(limited.size());
    result.table = std::make_shared<const ColourTable>(inks, tones);
    return result;
}

Outcome<std::shared_ptr<const ColourTable>> separation_table(const InkSolver &solver,
                                                             const JobControl &control)
{
    auto free = solve_lattice(solver, control);
    if (!free) {
        return free.error();
    }
    const auto held = held_lattice(solver, std::move(*free), control);
    if (!held) {
        return held.error();
    }
    return table_of(solver, **held).table;
}

} // namespace bichrom
