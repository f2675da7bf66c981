/// \file
/// A job's plates as layers of ink.
/// Layer: core/job. May use core/colour, core/print.
#pragma once

#include "core/job/job.h"
#include "core/print/ink_solver.h"
#include "core/print/print_stack.h"

#include <string>
#include <vector>

namespace bichrom {

/// What inks are printed on, for films. The floor is half of the darkest ink's Y, or of the stock's, and 0.7
/// of it on uncoated stock; 0.01 or 0.014 at most.
struct PrintGround : StackGround
{
    Bands paper{}; ///< the white that inks' colours are told over
};
[[nodiscard]] PrintGround print_ground(const std::vector<Plate> &plates, const Stock &stock);

/// The numbers of \p job's plates from the stock, or what lies behind the film, to the eye: printing order,
/// or the reverse where the print is seen through its film.
[[nodiscard]] std::vector<std::size_t> order_of_sight(const Job &job);

/// The job's plates as they print on its stock; technical ones, like cut lines, are no part of a print.
/// \param planes  the ink of each plane that tones will be given in; plates that are not among them, or
///                \p hidden, are left out
[[nodiscard]] PrintStack stack_of(const Job &job, const std::vector<std::string> &planes,
                                  const ProcessProfile &condition,
                                  const std::vector<std::string> &hidden = {});

/// The solid of one plate's ink by itself on \p under, a part of \p ground.
[[nodiscard]] Lab solid_on(const Plate &plate, const Bands &under, const PrintGround &ground,
                           const ProcessProfile &condition);

/// Whether plate \p number prints on the one before it while that is wet: unless that one is flashed.
[[nodiscard]] bool prints_wet(const std::vector<Plate> &plates, std::size_t number);

/// Tones of the plates asked for are found by the same print that stack_of() shows, in which the other
/// plates are bare.
/// \param inks  those of \p plates to be used; others and inks unknown are left out
/// \param condition  outlives the solver
[[nodiscard]] InkSolver solver_of(const std::vector<Plate> &plates, const Stock &stock,
                                  const std::vector<std::string> &inks, const ProcessProfile &condition,
                                  double ink_limit = 0);

/// The same for what \p route separates into its targets, held and changed as it says.
[[nodiscard]] InkSolver solver_of(const std::vector<Plate> &plates, const Stock &stock, const Route &route,
                                  const ProcessProfile &condition);

/// Everything that solver_of() depends on, as text: equal texts, equal prints.
/// \param condition  null = it counts as the same
[[nodiscard]] std::string solver_key(const std::vector<Plate> &plates, const Stock &stock,
                                     const std::vector<std::string> &inks, const ProcessProfile *condition);

/// The same with what a separated route asks for: where its inks are held, and what becomes of them.
[[nodiscard]] std::string held_key(const Route &route);
[[nodiscard]] std::string strength_key(const Route &route);

/// The same for all routes of \p job that separate colours into several inks, and all recipes; empty when
/// there are none. Plates made under another key are stale.
[[nodiscard]] std::string computed_key(const Job &job);

/// From a plate's tone to its coverage in print: through the film that makes up for the press, and the press;
/// without such a curve the gain of the ink.
[[nodiscard]] ToneCurve printed_curve(const Plate &plate);

} // namespace bichrom
