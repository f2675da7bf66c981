#include "core/colour/black_generation.h"

#include <Eigen/Dense>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <cmath>

namespace bichrom {

namespace {

using Inks = std::array<double, 4>;

/// The condition's colours on a lattice, for speed: profiles hold no finer one themselves.
class ForwardTable
{
public:
    explicit ForwardTable(const ProcessProfile &condition) : m_nodes(size * size * size * size)
    {
        tbb::parallel_for(std::size_t(0), size, [&](std::size_t c) {
            for (std::size_t m = 0; m < size; ++m) {
                for (std::size_t y = 0; y < size; ++y) {
                    for (std::size_t k = 0; k < size; ++k) {
                        const auto tone = [](std::size_t at) {
                            return static_cast<float>(at) / static_cast<float>(size - 1);
                        };
                        m_nodes[((c * size + m) * size + y) * size + k] =
                            condition.to_lab({tone(c), tone(m), tone(y), tone(k)});
                    }
                }
            }
        });
    }

    [[nodiscard]] Eigen::Vector3d at(const Inks &inks) const
    {
        std::array<std::size_t, 4> node{};
        std::array<double, 4> share{};
        for (std::size_t i = 0; i < 4; ++i) {
            const double place = std::clamp(inks[i], 0.0, 1.0) * static_cast<double>(size - 1);
            node[i] = std::min(static_cast<std::size_t>(place), size - 2);
            share[i] = place - static_cast<double>(node[i]);
        }
        Eigen::Vector3d sum = Eigen::Vector3d::Zero();
        for (unsigned corner = 0; corner < 16; ++corner) {
            double weight = 1;
            std::size_t at = 0;
            for (std::size_t i = 0; i < 4; ++i) {
                const unsigned up = corner >> i & 1u;
                weight *= up != 0 ? share[i] : 1 - share[i];
                at = at * size + node[i] + up;
            }
            if (weight > 0) {
                const Lab &lab = m_nodes[at];
                sum += weight * Eigen::Vector3d(lab.l, lab.a, lab.b);
            }
        }
        return sum;
    }

private:
    static constexpr std::size_t size = 17;
    std::vector<Lab> m_nodes;
};

struct Mixture
{
    Inks inks{};
    double away = 0; ///< ΔE 1976 to the target
};

/// Cyan, magenta and yellow that look like \p target together with the black of \p start.
Mixture mix(const ForwardTable &forward, const Eigen::Vector3d &target, const Inks &start)
{
    Mixture mixture{start, (forward.at(start) - target).norm()};
    double damping = 0.1;
    for (int round = 0; round < 14 && mixture.away > 0.02; ++round) {
        const Eigen::Vector3d error = forward.at(mixture.inks) - target;
        Eigen::Matrix3d slope;
        for (std::size_t i = 0; i < 3; ++i) {
            Inks moved = mixture.inks;
            const double step = moved[i] < 0.5 ? 0.01 : -0.01;
            moved[i] += step;
            slope.col(static_cast<Eigen::Index>(i)) = (forward.at(moved) - target - error) / step;
        }
        Eigen::Vector3d gradient = slope.transpose() * error;
        Eigen::Matrix3d hessian = slope.transpose() * slope;
        for (std::size_t i = 0; i < 3; ++i) { // at its bound and pressed against it: it stays
            const auto n = static_cast<Eigen::Index>(i);
            if ((mixture.inks[i] <= 0 && gradient(n) > 0) || (mixture.inks[i] >= 1 && gradient(n) < 0)) {
                gradient(n) = 0;
                hessian.row(n).setZero();
                hessian.col(n).setZero();
                hessian(n, n) = 1;
            }
        }
        hessian.diagonal().array() += damping;
        const Eigen::Vector3d step = hessian.ldlt().solve(-gradient);
        Inks next = mixture.inks;
        for (std::size_t i = 0; i < 3; ++i) {
            next[i] = std::clamp(next[i] + step(static_cast<Eigen::Index>(i)), 0.0, 1.0);
        }
        const double away = (forward.at(next) - target).norm();
        if (away < mixture.away) {
            mixture = {next, away};
            damping = std::max(damping / 6, 1e-4);
        } else if ((damping *= 8) > 1e7) {
            break;
        }
    }
    return mixture;
}

constexpr double alike = 0.6; // ΔE 1976 that nobody sees

/// From \p known, which looks like the target, as far towards the black of \p end as it still does.
Mixture reach(const ForwardTable &forward, const Eigen::Vector3d &target, const Mixture &known, double end)
{
    const double allowed = std::max(alike, known.away + 0.1);
    Mixture best = known;
    double good = known.inks[3];
    double bad = end;
    Inks start = known.inks;
    start[3] = end;
    if (const Mixture whole = mix(forward, target, start); whole.away <= allowed) {
        return whole;
    }
    for (int i = 0; i < 9; ++i) {
        const double middle = (good + bad) / 2;
        start = best.inks;
        start[3] = middle;
        const Mixture tried = mix(forward, target, start);
        if (tried.away <= allowed) {
            best = tried;
            good = middle;
        } else {
            bad = middle;
        }
    }
    return best;
}

double total(const Inks &inks)
{
    return inks[0] + inks[1] + inks[2] + inks[3];
}

/// Where between the least and the most black.
double share_of(BlackAmount amount)
{
    switch (amount) {
    case BlackAmount::AsProfile:
    case BlackAmount::Least:
        return 0;
    case BlackAmount::Light:
        return 0.25;
    case BlackAmount::Medium:
        return 0.5;
    case BlackAmount::Heavy:
        return 0.75;
    case BlackAmount::Most:
        break;
    }
    return 1;
}

} // namespace

const char *to_string(BlackAmount amount)
{
    static constexpr const char *names[] = {"as profile", "least", "light", "medium", "heavy", "most"};
    return names[static_cast<std::size_t>(amount)];
}

Outcome<BlackAmount> parse_black_amount(std::string_view name)
{
    for (const BlackAmount amount : all_black_amounts) {
        if (name == to_string(amount)) {
            return amount;
        }
    }
    return Error{ErrorCode::OutOfRange, "'" + std::string(name) + "' is no amount of black.", {}, {}};
}

Outcome<std::shared_ptr<const ColourTable>>
black_table(const ProcessProfile &condition, const BlackGeneration &black, const JobControl &control)
{
    constexpr int n = ColourTable::nodes;
    constexpr double last = n - 1;
    const ForwardTable forward(condition);
    std::vector<ColourTable::Tones> tones(static_cast<std::size_t>(n) * n * n);
    std::atomic<int> done = 0;
    tbb::parallel_for(0, n, [&](int r) {
        for (int g = 0; g < n && !control.cancelled(); ++g) {
            for (int b = 0; b < n; ++b) {
                const Cmyk cmyk =
                    condition.from_rgb({static_cast<float>(r / last), static_cast<float>(g / last),
                                        static_cast<float>(b / last)});
                Mixture now;
                std::copy(cmyk.begin(), cmyk.end(), now.inks.begin());
                const Eigen::Vector3d target = forward.at(now.inks);
                Mixture most = now;
                // Where one of the three is bare there is no grey to take the place of: no specks of black in
                // clean colours. Black alone never needs more than two and a half times their tone.
                const double grey = std::min({now.inks[0], now.inks[1], now.inks[2]});
                const double end = std::min(1.0, now.inks[3] + 2.5 * grey);
                if (black.amount != BlackAmount::AsProfile) {
                    const Mixture least = reach(forward, target, now, 0);
                    most = reach(forward, target, now, end);
                    Inks start = least.inks;
                    const double share = share_of(black.amount);
                    for (std::size_t i = 0; i < 4; ++i) {
                        start[i] += share * (most.inks[i] - least.inks[i]);
                    }
                    now = mix(forward, target, start);
                } else if (total(now.inks) > black.ink_limit) {
                    most = reach(forward, target, now, end);
                }
                if (total(now.inks) > black.ink_limit) { // more black first, then lighter
                    Mixture low = now;
                    Mixture high = most;
                    for (int i = 0; i < 8 && total(high.inks) <= black.ink_limit; ++i) {
                        Inks start = low.inks;
                        start[3] = (low.inks[3] + high.inks[3]) / 2;
                        const Mixture middle = mix(forward, target, start);
                        (total(middle.inks) > black.ink_limit ? low : high) = middle;
                    }
                    now = high;
                    const double coloured = now.inks[0] + now.inks[1] + now.inks[2];
                    const double room = std::max(0.0, black.ink_limit - now.inks[3]);
                    for (std::size_t i = 0; i < 3 && coloured > room; ++i) {
                        now.inks[i] *= room / coloured;
                    }
                }
                ColourTable::Tones &out =
                    tones[(static_cast<std::size_t>(r) * n + static_cast<std::size_t>(g)) * n +
                          static_cast<std::size_t>(b)];
                for (std::size_t i = 0; i < 4; ++i) {
                    out[i] = static_cast<float>(now.inks[i]);
                }
            }
        }
        control.progress(++done, n);
    });
    if (control.cancelled()) {
        return Error{ErrorCode::Cancelled, "Stopped.", {}, {}};
    }
    return std::make_shared<const ColourTable>(4, tones);
}

} // namespace bichrom
