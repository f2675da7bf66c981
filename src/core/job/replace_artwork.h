/// \file
/// A revised customer file in place of the old one: which decisions still hold.
/// Layer: core/job. May use core/artwork.
#pragma once

#include "core/base/job_control.h"
#include "core/job/job.h"

#include <map>
#include <vector>

namespace bichrom {

/// Scenes of all pages by number, interpreted for the media box. As Artwork::interpret(), record_scene().
[[nodiscard]] Outcome<std::map<int, Scene>> all_scenes(const Artwork &artwork, const ColourSettings &colours,
                                                       const JobControl &control = {});

struct Replacement
{
    Job job;                                    ///< with the routes that still match
    std::vector<Route> dropped;                 ///< that match nothing any more
    std::vector<OverprintRule> dropped_rules{}; ///< the same of decisions on overprint
};

/// Carries a job over to a revised file. A route by colour, likeness, layer or ink holds while any page has
/// something that it takes. Objects are told again by kind and place, within 0.5 mm on all sides, each once;
/// a route keeps those it finds, and goes when it finds none. So do decisions on overprint, but for those
/// about plates, which stay. Plates follow plates_for(). The page becomes the last one when the new file is
/// shorter. \param before, after  scenes of all pages, by number, interpreted for the media box
[[nodiscard]] Replacement carry_over(Job job, const std::map<int, Scene> &before,
                                     const std::map<int, Scene> &after);

} // namespace bichrom
