/// \file
/// Fewer inks: what could print on another plate with little loss.
/// Layer: core/job. May use core/artwork, core/colour.
#pragma once

#include "core/colour/ink_book.h"
#include "core/job/job.h"

#include <string>
#include <vector>

namespace bichrom {

/// One proposal: accepted or not by itself.
struct Saving
{
    enum class Kind
    {
        SameName,    ///< two names that differ in case, blanks or marks only
        AlikeInks,   ///< two spot inks that look alike
        BuildIsSpot, ///< process builds that look like a spot ink of the job
        SmallInk     ///< an ink that covers little and takes a press unit
    } kind = Kind::SameName;
    std::vector<Route> routes;      ///< to be added
    std::vector<std::string> frees; ///< plates that no colour needs then
    double difference = 0;          ///< largest ΔE (CIEDE2000) of what it changes
    double square_cm = 0;           ///< of what it changes, on the page measured
    std::string what;               ///< in words
};

/// Proposals for the page, from the least visible to the most: those that free a plate first, then process
/// builds that are meant as a spot, which free the process plates together. \param areas    visible cm² of
/// the scene's colours, by number; empty when not known \param alike    ΔE within which inks are taken for
/// the same \param small    cm² under which an ink is small
[[nodiscard]] std::vector<Saving> propose_savings(const Scene &scene, const Job &job,
                                                  const std::vector<double> &areas, double alike = 6.0,
                                                  double small = 1.0);

/// A job with fewer plates, and the proposals taken to get there.
struct Reduction
{
    Job job;
    std::vector<Saving> taken;
};

/// Takes proposals, the least visible first and each worked out anew, until the job needs \p plates plates or
/// none is left.
[[nodiscard]] Reduction reduce_to(const Scene &scene, Job job, const std::vector<double> &areas,
                                  std::size_t plates, double alike = 6.0, double small = 1.0);

/// The job with a proposal taken: its routes added, the plates it frees removed.
[[nodiscard]] Job with_saving(Job job, const Saving &saving);

} // namespace bichrom
