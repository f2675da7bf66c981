/// \file
/// A job's plates as layers of ink.
/// Layer: core/job. May use core/colour.
#pragma once

#include "core/colour/ink_solver.h"
#include "core/job/job.h"

#include <string>
#include <vector>

namespace bichrom {

/// What inks are printed on, for films.
struct PrintGround
{
    Bands stock{};    ///< without the floor
    Bands paper{};    ///< the white that inks' colours are told over
    double floor = 0; ///< half of the darkest ink's Y, or of the stock's, as on coated stock; 0.01 at most
};
[[nodiscard]] PrintGround print_ground(const std::vector<Plate> &plates, const Stock &stock);

/// \p plate's ink as a layer.
[[nodiscard]] PrintedLayer layer_of(const Plate &plate, const PrintGround &ground);

/// What prints are computed with: the stock and an ink's film for each plate asked for, in printing order.
/// Inks are told by their colours over white and by their opacity.
/// \param inks  those of \p plates to be used; others and inks unknown are left out
[[nodiscard]] InkSolver solver_of(const std::vector<Plate> &plates, const Stock &stock,
                                  const std::vector<std::string> &inks);

/// Everything that solver_of() depends on, as text: equal texts, equal prints.
[[nodiscard]] std::string solver_key(const std::vector<Plate> &plates, const Stock &stock,
                                     const std::vector<std::string> &inks);

/// The same for all routes of \p job that separate colours into several inks, and all recipes; empty when
/// there are none. Plates made under another key are stale.
[[nodiscard]] std::string computed_key(const Job &job);

} // namespace bichrom
