/// \file
/// Which tones of given inks look like a colour.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/colour/colour_table.h"
#include "core/colour/ink_film.h"
#include "core/colour/tone_curve.h"

#include <memory>
#include <vector>

namespace bichrom {

/// An ink to be used, in printing order.
struct SolvedInk
{
    PrintedLayer layer;
    ToneCurve gain;    ///< from tone to coverage; taken out of the result, so that it prints as meant
    double thrift = 1; ///< what a full tone costs, in squared ΔE: 0 for white, or greys would collect colours
};

struct Solution
{
    std::vector<double> coverage; ///< an ink each, 0 to 1, in print
    double difference = 0;        ///< CIEDE2000 to the target
};

/// Finds tones by bounded Levenberg–Marquardt on CIEDE2000's local metric with a small price on ink.
class InkSolver
{
public:
    /// \param stock  without the floor, as LayeredPrint takes it. At most ColourTable::most_inks inks
    /// \param ink_limit  the most ink at a point, 1 = one solid: no solution's coverages come to more; 0 =
    /// none
    InkSolver(const Bands &stock, std::vector<SolvedInk> inks, double floor = 0, double transfer = 1,
              double ink_limit = 0);

    /// The tones nearest to \p target. \param start  a coverage for each ink; empty = white inks only
    [[nodiscard]] Solution solve(const Lab &target, const std::vector<double> &start = {}) const;

    /// The same, pulled towards \p anchor by \p weight (squared ΔE for a whole tone).
    [[nodiscard]] Solution solve_near(const Lab &target, const std::vector<double> &anchor,
                                      double weight) const;

    [[nodiscard]] const LayeredPrint &print() const { return m_print; }
    [[nodiscard]] const std::vector<SolvedInk> &inks() const { return m_inks; }

private:
    [[nodiscard]] Solution descend(const Lab &target, std::vector<double> coverage,
                                   const std::vector<double> &anchor, double weight, int rounds,
                                   double limit) const;
    std::vector<SolvedInk> m_inks;
    LayeredPrint m_print;
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

/// Tones for every colour of a picture: each sRGB colour, its lightness brought into what stock and inks can
/// reach, solved on a lattice that is then smoothed where several answers look alike.
/// Cancelled.
[[nodiscard]] Outcome<std::shared_ptr<const ColourTable>> separation_table(const InkSolver &solver,
                                                                           const JobControl &control = {});

} // namespace bichrom
