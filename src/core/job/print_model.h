/// \file
/// A job's plates as layers of ink.
/// Layer: core/job. May use core/colour.
#pragma once

#include "core/colour/ink_solver.h"
#include "core/job/job.h"

#include <string>
#include <vector>

namespace bichrom {

/// What prints are computed with: the stock and an ink's film for each plate asked for, in printing order.
/// Inks are told by their colours over white and by their opacity; every ink is dry before the next.
/// \param inks  those of \p plates to be used; others and inks unknown are left out
[[nodiscard]] InkSolver solver_of(const std::vector<Plate> &plates, const Stock &stock,
                                  const std::vector<std::string> &inks);

/// Everything that solver_of() depends on, as text: equal texts, equal prints.
[[nodiscard]] std::string solver_key(const std::vector<Plate> &plates, const Stock &stock,
                                     const std::vector<std::string> &inks);

/// The same for all routes of \p job that separate colours into several inks; empty when none does. Plates
/// made under another key are stale.
[[nodiscard]] std::string separation_key(const Job &job);

} // namespace bichrom
