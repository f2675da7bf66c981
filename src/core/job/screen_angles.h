/// \file
/// Plates whose screens stand close to each other.
/// Layer: core/job.
#pragma once

#include "core/job/job.h"

#include <cstddef>
#include <string>
#include <vector>

namespace bichrom {

/// Degrees between two screens: the smallest turn that brings one onto the other, 0 to 90.
[[nodiscard]] double degrees_between(const Screen &a, const Screen &b);

struct ClosePair
{
    std::size_t first = 0, second = 0; ///< indices of plates, first < second
    double degrees = 0;                ///< between them
    bool meant = false;                ///< the artist has said so
};

/// Pairs of plates less than 15° apart, which may show a moiré; yellow, which hides it, and white under
/// everything, which may share black's angle, are left out (common practice, no source).
[[nodiscard]] std::vector<ClosePair> close_pairs(const Job &job);

/// The job in which the angles of two inks are meant to be as they are, or no longer.
[[nodiscard]] Job with_meant_angles(Job job, const std::string &first, const std::string &second, bool meant);

} // namespace bichrom
