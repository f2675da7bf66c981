/// \file
/// Which tones of given inks look like a colour.
/// Layer: core/print. May use core/colour, core/base.
#pragma once

#include "core/colour/colour_table.h"
#include "core/colour/ink_control.h"
#include "core/colour/tone_curve.h"
#include "core/print/print_stack.h"

#include <vector>

namespace bichrom {

/// An ink to be used.
struct SolvedInk
{
    ToneCurve gain{};  ///< from tone to coverage; taken out of the result, so that it prints as meant
    double thrift = 1; ///< what a full tone costs, in squared ΔE: 0 for white, or greys would collect colours
    /// The coverage of the smallest dot that holds: less than it is avoided where that costs little. 0 = all
    /// do
    double least = 0;
    HueHold hues{};                        ///< where it may print
    std::vector<std::size_t> never_with{}; ///< numbers of inks that it does not share a place with
    double strength = 1;                   ///< what is done to the tone in the end, then
    ToneCurve after{};                     ///< and this
};

struct Solution
{
    std::vector<double> coverage; ///< an ink each, 0 to 1, in print
    double difference = 0;        ///< CIEDE2000 to the target
    std::vector<double> most;     ///< what each ink could have had
};

/// Finds tones by bounded Levenberg–Marquardt on CIEDE2000's local metric with a small price on ink.
class InkSolver
{
public:
    /// The thrift of a process ink: less than of others. A full price leaves the four inks a tenth of a ΔE
    /// further from the wish on average and saves no ink (1617 patches of FOGRA39).
    static constexpr double process_thrift = 0.1;

    /// \param print  of coverages: planes as \p inks, and no gains. At most ColourTable::most_inks of them
    /// \param ink_limit  the most ink at a point, 1 = one solid: no solution's coverages come to more; 0 =
    /// none
    InkSolver(PrintStack print, std::vector<SolvedInk> inks, double ink_limit = 0);

    /// The tones nearest to \p target. \param start  a coverage for each ink; empty = white inks only
    [[nodiscard]] Solution solve(const Lab &target, const std::vector<double> &start = {}) const;

    /// The coverages of the same within \p most of each ink, pulled towards \p anchor by \p weight (squared
    /// ΔE for a whole tone).
    [[nodiscard]] std::vector<double> solve_near(const Lab &target, const std::vector<double> &anchor,
                                                 double weight, const std::vector<double> &most) const;

    /// What hues leave of each ink at \p target, 0 to 1.
    [[nodiscard]] std::vector<double> most_at(const Lab &target) const;
    /// Whether an ink is held to hues or kept from another.
    [[nodiscard]] bool holds() const;
    /// The solver of whose inks nothing is asked.
    [[nodiscard]] InkSolver free() const;

    /// The tones that print as \p coverage, strengths and curves of the inks applied. What those put above
    /// the ink limit is taken off again, of all inks in proportion; \p limited is set where that happens.
    [[nodiscard]] std::vector<double> tones_of(const std::vector<double> &coverage,
                                               bool *limited = nullptr) const;

    [[nodiscard]] const PrintStack &print() const { return m_print; }
    [[nodiscard]] const std::vector<SolvedInk> &inks() const { return m_inks; }
    [[nodiscard]] double ink_limit() const { return m_limit; }

private:
    struct Pull
    {
        std::span<const double> anchor{}; ///< empty: none
        double weight = 0;
    };
    [[nodiscard]] Solution solve_within(const Lab &target, std::vector<double> start,
                                        const std::vector<double> &most) const;
    [[nodiscard]] std::vector<double> descend(const Lab &target, std::vector<double> coverage,
                                              const Pull &pull, const std::vector<double> &most, int rounds,
                                              double limit) const;
    std::vector<SolvedInk> m_inks;
    PrintStack m_print;
    double m_limit;
};

/// From which L* to which L* stock and inks reach.
struct LightnessReach
{
    double darkest = 0, lightest = 100;
    double stock = 0; ///< L* that is dark enough: what would be darker is brought to it by a soft knee
    /// A picture's colour with its whole lightness brought into that.
    [[nodiscard]] Lab within(Lab lab) const
    {
        lab.l = darkest + (lightest - darkest) * lab.l / 100.0;
        constexpr double knee = 6; // L* on either side
        const double over = lab.l - stock;
        lab.l = over >= knee    ? lab.l
                : over <= -knee ? stock
                                : stock + (over + knee) * (over + knee) / (4 * knee);
        return lab;
    }
};
/// A stock that is nearly as dark as the darkest ink on it (within L* 12) is dark enough: a black shirt
/// prints black without ink.
[[nodiscard]] LightnessReach reach_of(const InkSolver &solver);

} // namespace bichrom
