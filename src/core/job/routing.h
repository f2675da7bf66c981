/// \file
/// Changes of a job's routes that an artist asks for in one go.
/// Layer: core/job. May use core/artwork, core/colour.
#pragma once

#include "core/artwork/rename_ink.h"
#include "core/job/job.h"

#include <functional>
#include <utility>
#include <vector>

namespace bichrom {

/// A route, without an end, that takes some of the scene's colours, by number: one exactly as written;
/// several as everything like the first within \p tolerance of \p measure; pictures and shadings, which have
/// no one colour, by their objects. It takes the artwork of the first; the bounds of objects are in the
/// scene's own points.
[[nodiscard]] Route route_from(const Scene &scene, int page, const std::vector<int> &colours,
                               double tolerance, ColourMeasure measure = ColourMeasure::DeltaE);

/// The objects of the job's page that its route number \p route decides, by index into \p scene; of a route
/// by ink those that name the ink and that no other route takes.
[[nodiscard]] std::vector<int> decided_by(const Job &job, const Scene &scene, int route);

/// Puts \p route into the job, with a plate for each ink it prints on that has none: the colour of \p solids
/// when it names the ink, else that of what is routed, which a plate without a colour of its own takes too.
[[nodiscard]] Job with_route(Job job, Route route,
                             const std::vector<std::pair<std::string, Lab>> &solids = {});

/// Sends every ink whose name matches to the ink of its new name, in its own tint: two inks with one new name
/// are merged, and a single one is renamed. The plates of old names go; a new one takes the first one's place
/// and settings. Plates that other routes print on are renamed in those too. \return as check_rename(); the
/// job as it is when nothing matches
[[nodiscard]] Outcome<Job> merge_inks(Job job, const Scene &scene, const InkRename &rename);

/// The names match_names() is asked about: inks found in the artwork and inks of plates.
[[nodiscard]] std::vector<std::string> known_inks(const Job &job, const Scene &scene);

/// The job's plates when the page or its reading changes from \p before to \p now: order and settings are
/// kept. Plates of inks that were found before and are no more go, unless a route prints on them; each new
/// ink that no route takes comes after the one it follows when plates are proposed afresh.
[[nodiscard]] std::vector<Plate> plates_for(const Scene &before, const Scene &now, const Job &job);

/// What each of the scene's objects puts on plates: calls \p take with the number of its colour and what that
/// reaches. Objects alike in all that routes look at are taken once, so that pages of many objects stay
/// quick.
void each_reach(const Scene &scene, const Job &job,
                const std::function<void(int colour, const Reach &)> &take);

/// Plates that none of the page's colours reach.
[[nodiscard]] std::vector<std::string> idle_plates(const Scene &scene, const Job &job);

} // namespace bichrom
