/// \file
/// Tones of inks for every colour of a picture, solved together.
/// Layer: core/print. May use core/colour, core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/colour/colour_table.h"
#include "core/print/ink_solver.h"

#include <memory>
#include <vector>

namespace bichrom {

/// Coverages that print each colour of a lattice of sRGB colours, as ColourTable has it.
struct SolvedLattice
{
    std::vector<std::vector<double>> coverage; ///< by node, an ink each
    std::vector<double> evenness; ///< what a node pays for being unlike its neighbours, squared ΔE a tone
};

/// Each sRGB colour, its lightness brought into what stock and inks can reach, solved on a lattice that is
/// then smoothed where several answers look alike, so that no tone changes by more than about seven of 255
/// while a channel changes by one. What inks are held to does not count. Cancelled.
[[nodiscard]] Outcome<std::shared_ptr<const SolvedLattice>> solve_lattice(const InkSolver &solver,
                                                                          const JobControl &control = {});

/// \p free with inks held to their hues and kept from one another: where they break that, solved anew by what
/// is left, and smoothed with what lies around. Takes as long as there are such places. Cancelled.
[[nodiscard]] Outcome<std::shared_ptr<const SolvedLattice>>
held_lattice(const InkSolver &solver, std::shared_ptr<const SolvedLattice> free,
             const JobControl &control = {});

/// A table, and what should be known of it.
struct SeparationTable
{
    std::shared_ptr<const ColourTable> table; ///< never null
    /// By ink, the largest change of tone between colours that differ by one thirty-second in one channel: a
    /// gradient may show it as a step.
    std::vector<double> steepest;
    double limited = 0; ///< share of the colours whose strengthened inks the ink limit took back
};
/// Strengths and curves of the inks applied, gain taken out.
[[nodiscard]] SeparationTable table_of(const InkSolver &solver, const SolvedLattice &lattice);

/// All of that in a row. Cancelled.
[[nodiscard]] Outcome<std::shared_ptr<const ColourTable>> separation_table(const InkSolver &solver,
                                                                           const JobControl &control = {});

} // namespace bichrom
