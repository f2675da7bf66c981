#include "core/print/ink_solver.h"

#include "core/colour/colour_difference.h"
#include "core/colour/spaces.h"

#include <Eigen/Dense>

#include <algorithm>
#include <array>
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
/// A tone that would move less is found. A hundredth of an eight-bit step: what stops at a tenth of one loses
/// half a ΔE on the mean, since white and colours move together in small steps.
constexpr double still = 1e-5;
constexpr double evenness = 0.05; // price of a squared tone, so that no ink is favoured without reason

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

/// Price of a tone that is neither bare nor a dot that holds, in squared ΔE, where it is highest.
constexpr double between_dots = 12;

} // namespace

InkSolver::InkSolver(PrintStack print, std::vector<SolvedInk> inks, double ink_limit)
    : m_inks(std::move(inks)), m_print(std::move(print)), m_limit(ink_limit)
{
    m_inks.resize(std::min(m_inks.size(), ColourTable::most_inks));
}

InkSolver InkSolver::free() const
{
    InkSolver all = *this;
    for (SolvedInk &ink : all.m_inks) {
        ink.hues = {};
        ink.never_with.clear();
        ink.strength = 1;
        ink.after = {};
    }
    return all;
}

bool InkSolver::holds() const
{
    return std::any_of(m_inks.begin(), m_inks.end(),
                       [](const SolvedInk &ink) { return ink.hues.holds() || !ink.never_with.empty(); });
}

std::vector<double> InkSolver::most_at(const Lab &target) const
{
    std::vector<double> most_of;
    for (const SolvedInk &ink : m_inks) {
        most_of.push_back(ink.hues.share(target));
    }
    return most_of;
}

std::vector<double> InkSolver::descend(const Lab &target, std::vector<double> coverage, const Pull &pull,
                                       const std::vector<double> &most_of, int rounds, double limit) const
{
    const auto &[anchor, weight] = pull;
    for (std::size_t i = 0; i < coverage.size(); ++i) {
        coverage[i] = std::min(coverage[i], most_of[i]);
    }
    const auto n = static_cast<Eigen::Index>(m_inks.size());
    const Eigen::Matrix3d q = local_metric(target);
    const Eigen::Vector3d wanted = vector_of(target);
    Jacobian j(3, n), next_j(3, n);
    /// What is left between a print and the wish, as differences whose squares add up, and its slopes.
    const auto residual = [&](const std::vector<double> &at, Jacobian &slopes) -> Eigen::Vector3d {
        std::array<Lab, most> by;
        const Lab lab = m_print.colour(at, std::span(by).first(at.size()));
        for (Eigen::Index i = 0; i < n; ++i) {
            slopes.col(i) = vector_of(by[static_cast<std::size_t>(i)]);
        }
        slopes = q * slopes;
        return q * (vector_of(lab) - wanted);
    };
    const auto excess = [&](const std::vector<double> &at) {
        return limit > 0 ? std::max(0.0, std::accumulate(at.begin(), at.end(), -limit)) : 0.0;
    };
    const auto price = [&](const std::vector<double> &at) {
        const double over = excess(at);
        double sum = beyond_limit * over * over;
        for (std::size_t i = 0; i < at.size(); ++i) {
            const double away = anchor.empty() ? 0.0 : at[i] - anchor[i];
            sum += evenness * at[i] * at[i] + m_inks[i].thrift * at[i] + weight * away * away;
            if (const double t = at[i] / m_inks[i].least; t > 0 && t < 1) { // two hollows, at 0 and at least
                sum += between_dots * 16 * t * t * (1 - t) * (1 - t);
            }
        }
        return sum;
    };
    Eigen::Vector3d r = residual(coverage, j);
    double value = r.squaredNorm() + price(coverage);
    double damping = 1e-2;
    std::vector<double> next = coverage;
    for (int round = 0; round < rounds; ++round) {
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
            if (const double t = coverage[k] / m_inks[k].least; t > 0 && t < 1) {
                const double of_t = between_dots * 16 / m_inks[k].least;
                gradient(i) += of_t * t * (1 - t) * (1 - 2 * t);
                hessian(i, i) += std::max(0.0, of_t / m_inks[k].least * (1 - 6 * t * (1 - t)));
            }
            // At its bound and pressed against it: it stays.
            const bool held =
                (coverage[k] <= 0.0 && gradient(i) > 0) || (coverage[k] >= most_of[k] && gradient(i) < 0);
            if (held) {
                gradient(i) = 0;
                hessian.row(i).setZero();
                hessian.col(i).setZero();
                hessian(i, i) = 1;
            }
        }
        bool better = false;
        for (int attempt = 0; attempt < 8 && !better; ++attempt) {
            Matrix damped = hessian;
            damped.diagonal().array() += damping;
            const Vector step = damped.llt().solve(gradient);
            double moved = 0;
            for (Eigen::Index i = 0; i < n; ++i) {
                const auto k = static_cast<std::size_t>(i);
                next[k] = std::clamp(coverage[k] - step(i), 0.0, most_of[k]);
                moved = std::max(moved, std::fabs(next[k] - coverage[k]));
            }
            if (moved < still) {
                break;
            }
            const Eigen::Vector3d next_r = residual(next, next_j);
            const double next_value = next_r.squaredNorm() + price(next);
            if (next_value < value) {
                better = true;
                std::swap(coverage, next);
                r = next_r;
                j = next_j;
                value = next_value;
                damping = std::max(damping / 8, 1e-6);
            } else {
                damping = std::max(damping * 8, 1e-4);
            }
        }
        if (!better) {
            break;
        }
    }
    if (const double over = excess(coverage); over > 0) {
        for (double &share : coverage) {
            share *= limit / (limit + over);
        }
    }
    return coverage;
}

Solution InkSolver::solve_within(const Lab &target, std::vector<double> start,
                                 const std::vector<double> &most_of) const
{
    constexpr int rounds = 40;
    std::vector<double> found = descend(target, std::move(start), {}, most_of, rounds, 0);
    const double sum = std::accumulate(found.begin(), found.end(), 0.0);
    if (m_limit > 0 && sum > m_limit) {
        for (double &share : found) { // the way to the best within the limit begins near the best of all
            share *= m_limit / sum;
        }
        found = descend(target, std::move(found), {}, most_of, rounds, m_limit);
    }
    const double difference = ciede2000(m_print.colour(found), target);
    return {std::move(found), difference, most_of};
}

Solution InkSolver::solve(const Lab &target, const std::vector<double> &start) const
{
    std::vector<double> from = start;
    if (start.size() != m_inks.size()) {
        from.assign(m_inks.size(), 0.0);
        for (std::size_t i = 0; i < m_inks.size(); ++i) {
            from[i] = m_inks[i].thrift <= 0.0 ? 0.95 : 0.02; // at exactly 0 an ink under white has no slope
        }
    }
    Solution best = solve_within(target, std::move(from), most_at(target));
    for (std::size_t one = 0; one < m_inks.size(); ++one) {
        for (const std::size_t other : m_inks[one].never_with) {
            if (other >= m_inks.size() || best.coverage[one] <= 0 || best.coverage[other] <= 0) {
                continue;
            }
            // Without the one, or without the other: the nearer of the two.
            std::array<Solution, 2> without;
            for (std::size_t i = 0; i < 2; ++i) {
                std::vector<double> most_of = best.most;
                most_of[i == 0 ? one : other] = 0;
                without[i] = solve_within(target, best.coverage, most_of);
            }
            best = std::move(without[without[0].difference <= without[1].difference ? 0 : 1]);
        }
    }
    return best;
}

std::vector<double> InkSolver::solve_near(const Lab &target, const std::vector<double> &anchor, double weight,
                                          const std::vector<double> &most_of) const
{
    constexpr int rounds = 6; // it is asked again and again, from nearer each time
    return descend(target, anchor, {anchor, weight}, most_of, rounds, m_limit);
}

std::vector<double> InkSolver::tones_of(const std::vector<double> &coverage, bool *limited) const
{
    std::vector<double> tones;
    double sum = 0;
    bool changed = false;
    for (std::size_t i = 0; i < m_inks.size(); ++i) {
        const SolvedInk &ink = m_inks[i];
        double tone = ink.gain.tone_for(coverage[i]);
        if (ink.strength != 1 || !ink.after.is_identity()) {
            tone = ink.after.at(std::min(1.0, tone * ink.strength));
            changed = true;
        }
        tones.push_back(tone);
        sum += ink.gain.at(tone);
    }
    constexpr double slack = 1e-6; // of rounding
    if (changed && m_limit > 0 && sum > m_limit + slack) {
        for (std::size_t i = 0; i < m_inks.size(); ++i) {
            tones[i] = m_inks[i].gain.tone_for(m_inks[i].gain.at(tones[i]) * m_limit / sum);
        }
        if (limited != nullptr) {
            *limited = true;
        }
    }
    return tones;
}

LightnessReach reach_of(const InkSolver &solver)
{
    constexpr double dark_enough = 12; // L*
    const double bare = solver.print().colour(std::vector<double>(solver.inks().size(), 0.0)).l;
    const double darkest = solver.print().colour(solver.solve({0, 0, 0}).coverage).l;
    const double lightest = solver.print().colour(solver.solve({100, 0, 0}).coverage).l;
    // Else the knee lies where no colour is.
    return {darkest, std::max(bare, lightest), bare - darkest <= dark_enough ? bare : -100.0};
}

} // namespace bichrom
