#include "core/colour/ink_solver.h"

#include "core/colour/colour_difference.h"
#include "core/colour/spaces.h"

#include <Eigen/Dense>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace bichrom {

namespace {

constexpr int most = static_cast<int>(ColourTable::most_inks);
using Vector = Eigen::Matrix<double, Eigen::Dynamic, 1, 0, most, 1>;
using Matrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, most, most>;
using Jacobian = Eigen::Matrix<double, 3, Eigen::Dynamic, 0, 3, most>;

/// Price of a squared solid above the ink limit. It only has to be steep: what is left over is taken off in
/// the end, and the less that is, the better was the choice of what to leave out.
constexpr double beyond_limit = 2e4;
constexpr double evenness = 0.05; // price of a squared tone, so that no ink is favoured without reason

std::vector<PrintedLayer> layers_of(const std::vector<SolvedInk> &inks)
{
    std::vector<PrintedLayer> layers;
    for (const SolvedInk &ink : inks) {
        layers.push_back(ink.layer);
    }
    return layers;
}

Eigen::Vector3d vector_of(const Lab &lab)
{
    return {lab.l, lab.a, lab.b};
}

/// CIEDE2000 near \p lab as a matrix on differences of L*, a*, b*: |Q·Δ|² is ΔE² for small Δ. The rotation
/// term is left out; it concerns saturated blues only.
Eigen::Matrix3d local_metric(const Lab &lab)
{
    const double chroma = std::hypot(lab.a, lab.b);
    const double c7 = std::pow(chroma, 7);
    const double g = 0.5 * (1.0 - std::sqrt(c7 / (c7 + std::pow(25.0, 7))));
    const double a = lab.a * (1.0 + g);
    const double c = std::hypot(a, lab.b);
    const double h = c > 1e-9 ? std::atan2(lab.b, a) : 0.0;
    constexpr double degree = 3.14159265358979323846 / 180.0;
    const double t = 1.0 - 0.17 * std::cos(h - 30 * degree) + 0.24 * std::cos(2 * h) +
                     0.32 * std::cos(3 * h + 6 * degree) - 0.20 * std::cos(4 * h - 63 * degree);
    const double off = (lab.l - 50.0) * (lab.l - 50.0);
    const double sl = 1.0 + 0.015 * off / std::sqrt(20.0 + off);
    const double sc = 1.0 + 0.045 * c;
    const double sh = 1.0 + 0.015 * c * t;
    Eigen::Matrix3d q = Eigen::Matrix3d::Zero();
    q(0, 0) = 1.0 / sl;
    q(1, 1) = std::cos(h) * (1.0 + g) / sc;
    q(1, 2) = std::sin(h) / sc;
    q(2, 1) = -std::sin(h) * (1.0 + g) / sh;
    q(2, 2) = std::cos(h) / sh;
    return q;
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

} // namespace

InkSolver::InkSolver(const Bands &stock, std::vector<SolvedInk> inks, double floor, double transfer,
                     double ink_limit)
    : m_inks(std::move(inks)), m_print(stock, layers_of(m_inks), floor, transfer), m_limit(ink_limit)
{
    m_inks.resize(std::min(m_inks.size(), ColourTable::most_inks));
}

Solution InkSolver::descend(const Lab &target, std::vector<double> coverage,
                            const std::vector<double> &anchor, double weight, int rounds, double limit) const
{
    const auto n = static_cast<Eigen::Index>(m_inks.size());
    const Eigen::Matrix3d q = local_metric(target);
    const Eigen::Vector3d wanted = vector_of(target);
    const auto residual = [&](const std::vector<double> &at) -> Eigen::Vector3d {
        return q * (vector_of(m_print.lab(at)) - wanted);
    };
    const auto excess = [&](const std::vector<double> &at) {
        return limit > 0 ? std::max(0.0, std::accumulate(at.begin(), at.end(), -limit)) : 0.0;
    };
    const auto price = [&](const std::vector<double> &at) {
        const double over = excess(at);
        double sum = beyond_limit * over * over;
        for (std::size_t i = 0; i < at.size(); ++i) {
            const double pull = anchor.empty() ? 0.0 : at[i] - anchor[i];
            sum += evenness * at[i] * at[i] + m_inks[i].thrift * at[i] + weight * pull * pull;
        }
        return sum;
    };
    Eigen::Vector3d r = residual(coverage);
    double value = r.squaredNorm() + price(coverage);
    double damping = 1e-2;
    for (int round = 0; round < rounds; ++round) {
        Jacobian j(3, n);
        for (Eigen::Index i = 0; i < n; ++i) {
            const auto k = static_cast<std::size_t>(i);
            const double before = coverage[k];
            const double step = before < 0.5 ? 1e-4 : -1e-4;
            coverage[k] = before + step;
            j.col(i) = (residual(coverage) - r) / step;
            coverage[k] = before;
        }
        Vector gradient = j.transpose() * r;
        Matrix hessian = j.transpose() * j;
        if (const double over = excess(coverage); over > 0) {
            gradient.array() += beyond_limit * over;
            hessian.array() += beyond_limit;
        }
        for (Eigen::Index i = 0; i < n; ++i) {
            const auto k = static_cast<std::size_t>(i);
            gradient(i) += evenness * coverage[k] + m_inks[k].thrift / 2;
            hessian(i, i) += evenness;
            if (!anchor.empty()) {
                gradient(i) += weight * (coverage[k] - anchor[k]);
                hessian(i, i) += weight;
            }
            // At its bound and pressed against it: it stays.
            const bool held =
                (coverage[k] <= 0.0 && gradient(i) > 0) || (coverage[k] >= 1.0 && gradient(i) < 0);
            if (held) {
                gradient(i) = 0;
                hessian.row(i).setZero();
                hessian.col(i).setZero();
                hessian(i, i) = 1;
            }
        }
        bool better = false;
        double moved = 0;
        for (int attempt = 0; attempt < 8 && !better; ++attempt) {
            Matrix damped = hessian;
            damped.diagonal().array() += damping;
            const Vector step = damped.ldlt().solve(-gradient);
            std::vector<double> next = coverage;
            moved = 0;
            for (Eigen::Index i = 0; i < n; ++i) {
                const auto k = static_cast<std::size_t>(i);
                next[k] = std::clamp(coverage[k] + step(i), 0.0, 1.0);
                moved = std::max(moved, std::fabs(next[k] - coverage[k]));
            }
            const Eigen::Vector3d next_r = residual(next);
            const double next_value = next_r.squaredNorm() + price(next);
            if (next_value < value) {
                better = true;
                coverage = std::move(next);
                r = next_r;
                value = next_value;
                damping = std::max(damping / 8, 1e-6);
            } else {
                damping = std::max(damping * 8, 1e-4);
            }
        }
        if (!better || moved < 1e-4) {
            break;
        }
    }
    if (const double over = excess(coverage); over > 0) {
        for (double &share : coverage) {
            share *= limit / (limit + over);
        }
    }
    Solution solution;
    solution.difference = ciede2000(m_print.lab(coverage), target);
    solution.coverage = std::move(coverage);
    return solution;
}

Solution InkSolver::solve(const Lab &target, const std::vector<double> &start) const
{
    constexpr int rounds = 40;
    std::vector<double> from = start;
    if (start.size() != m_inks.size()) {
        from.assign(m_inks.size(), 0.0);
        for (std::size_t i = 0; i < m_inks.size(); ++i) {
            from[i] = m_inks[i].thrift <= 0.0 ? 0.95 : 0.02; // at exactly 0 an ink under white has no slope
        }
    }
    Solution free = descend(target, std::move(from), {}, 0, rounds, 0);
    const double sum = std::accumulate(free.coverage.begin(), free.coverage.end(), 0.0);
    if (m_limit <= 0 || sum <= m_limit) {
        return free;
    }
    for (double &share : free.coverage) { // the way to the best within the limit begins near the best of all
        share *= m_limit / sum;
    }
    return descend(target, std::move(free.coverage), {}, 0, rounds, m_limit);
}

Solution InkSolver::solve_near(const Lab &target, const std::vector<double> &anchor, double weight) const
{
    constexpr int rounds = 6;
    return descend(target, anchor, anchor, weight, rounds, m_limit);
}

LightnessReach reach_of(const InkSolver &solver)
{
    constexpr double dark_enough = 12; // L*
    const double bare = solver.print().lab(std::vector<double>(solver.inks().size(), 0.0)).l;
    const double darkest = solver.print().lab(solver.solve({0, 0, 0}).coverage).l;
    const double lightest = solver.print().lab(solver.solve({100, 0, 0}).coverage).l;
    // Else the knee lies where no colour is.
    return {darkest, std::max(bare, lightest), bare - darkest <= dark_enough ? bare : -100.0};
}

Outcome<std::shared_ptr<const ColourTable>> separation_table(const InkSolver &solver,
                                                             const JobControl &control)
{
    constexpr int n = ColourTable::nodes;
    constexpr int last = n - 1;
    constexpr int relaxations = 8;
    const std::size_t inks = solver.inks().size();
    const auto number = [](int r, int g, int b) {
        return (static_cast<std::size_t>(r) * n + static_cast<std::size_t>(g)) * n +
               static_cast<std::size_t>(b);
    };
    // What can be reached, from the darkest to the lightest, takes up the picture's whole lightness.
    const LightnessReach reach = reach_of(solver);
    std::vector<Lab> targets(static_cast<std::size_t>(n) * n * n);
    for (int r = 0; r < n; ++r) {
        for (int g = 0; g < n; ++g) {
            for (int b = 0; b < n; ++b) {
                targets[number(r, g, b)] =
                    reach.within(srgb_to_lab({static_cast<double>(r) / last, static_cast<double>(g) / last,
                                              static_cast<double>(b) / last}));
            }
        }
    }
    std::vector<std::vector<double>> solved(targets.size());
    std::vector<double> evenness_of(targets.size());
    const std::int64_t steps = 3 * last + 1 + 2 * relaxations;
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
            return Error{ErrorCode::Cancelled, "Stopped.", {}, {}};
        }
        tbb::parallel_for(std::size_t(0), shell.size(), [&](std::size_t i) {
            const auto [r, g, b] = shell[i];
            std::vector<double> start(inks, 0.0);
            int neighbours = 0;
            const auto join = [&](int nr, int ng, int nb) {
                if (nr < n && ng < n && nb < n) {
                    const std::vector<double> &near = solved[number(nr, ng, nb)];
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
            const std::size_t here = number(r, g, b);
            Solution found = solver.solve(targets[here], neighbours > 0 ? start : std::vector<double>());
            solved[here] = std::move(found.coverage);
            evenness_of[here] = evenness_at(found.difference);
        });
        control.progress(++done, steps);
    }
    // Where the bare stock is what black comes to, black is bare.
    const std::vector<double> none(inks, 0.0);
    constexpr double alike = 3; // ΔE
    if (ciede2000(targets[number(0, 0, 0)], solver.print().lab(none)) <= alike) {
        solved[number(0, 0, 0)] = none;
    }
    // Where several mixtures look alike, each node is drawn towards the mean of its neighbours on each axis.
    for (int round = 0; round < 2 * relaxations; ++round) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", {}, {}};
        }
        tbb::parallel_for(0, n, [&](int r) {
            for (int g = 0; g < n; ++g) {
                for (int b = (r + g + round) % 2; b < n; b += 2) { // the other half is read only
                    std::vector<double> mean(inks, 0.0);
                    int axes = 0;
                    const auto join = [&](int at, std::size_t before, std::size_t after) {
                        if (at > 0 && at < last) {
                            for (std::size_t k = 0; k < inks; ++k) {
                                mean[k] += (solved[before][k] + solved[after][k]) / 2;
                            }
                            ++axes;
                        }
                    };
                    const std::size_t here = number(r, g, b);
                    join(r, here - static_cast<std::size_t>(n) * n, here + static_cast<std::size_t>(n) * n);
                    join(g, here - static_cast<std::size_t>(n), here + static_cast<std::size_t>(n));
                    join(b, here - 1, here + 1);
                    if (axes == 0) {
                        continue;
                    }
                    for (double &m : mean) {
                        m /= axes;
                    }
                    solved[here] = solver.solve_near(targets[here], mean, evenness_of[here]).coverage;
                }
            }
        });
        control.progress(++done, steps);
    }
    std::vector<ColourTable::Tones> tones(solved.size());
    for (std::size_t i = 0; i < solved.size(); ++i) {
        for (std::size_t k = 0; k < inks; ++k) {
            tones[i][k] = static_cast<float>(solver.inks()[k].gain.tone_for(solved[i][k]));
        }
    }
    return std::make_shared<const ColourTable>(inks, tones);
}

} // namespace bichrom
