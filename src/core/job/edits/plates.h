/// \file
/// What an artist can change about plates. Each is a plain function from job to job that keeps together what
/// belongs together: routes, recipes, tins, agreements and the change slip speak of plates by their inks.
/// Layer: core/job/edits. May use core/job.
#pragma once

#include "core/base/outcome.h"
#include "core/job/job.h"

#include <string>

namespace bichrom {

/// Adds a plate that prints last. The ink is no longer one that was taken away.
/// \return OutOfRange for an ink without a name, and for one that has a plate already
[[nodiscard]] Outcome<Job> add_plate(Job job, Plate plate);

/// Gives the plate of \p from the ink \p to, and everything that speaks of it: routes, flat colours of
/// pictures, recipes, tins, findings accepted, states of the change slip. When there is a plate of \p to, the
/// two become one as by merge_plates().
/// \return OutOfRange when there is no such plate, or the new name is empty; as merge_plates()
[[nodiscard]] Outcome<Job> rename_plate(Job job, const std::string &from, const std::string &to);

/// Makes one plate of two: what was sent to \p from goes to \p into, whose settings stay. What recipes read
/// of one they read of both; when \p into is computed, what the artwork puts there is added to it. \return
/// OutOfRange when one of them is missing, they are the same, or \p from is computed: a recipe cannot
///         be joined to another plate
[[nodiscard]] Outcome<Job> merge_plates(Job job, const std::string &from, const std::string &into);

/// Takes a plate away. Routes lose it as a target and go when they have no other; steps of recipes that look
/// at nothing else go; plates printed from its tin get tins of their own. The same job when there is no such
/// plate.
/// \param in_artwork  the artwork holds the ink: that it prints no longer is remembered for the change slip,
/// as
///                    it is of an ink that flat colours of a picture were sent to
[[nodiscard]] Job remove_plate(Job job, const std::string &ink, bool in_artwork);

/// Moves plate \p from to be printed as number \p to. The same job when there is no such place.
[[nodiscard]] Job move_plate(Job job, std::size_t from, std::size_t to);

/// \p after, with what it says otherwise than \p before of one plate of a tin said of the whole tin.
[[nodiscard]] Job keep_tins(const Job &before, Job after);

} // namespace bichrom
