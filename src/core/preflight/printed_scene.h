/// \file
/// A page's objects in the inks that a job prints them in.
/// Layer: core/preflight. May use core/artwork, core/job.
#pragma once

#include "core/artwork/scene.h"
#include "core/job/job.h"

#include <vector>

namespace bichrom {

/// What the job makes of the artwork's objects; recipes are not in it.
struct PrintedScene
{
    Scene scene;                       ///< colours are tones on the job's plates; inks are the plates
    std::vector<bool> leaves_no_trace; ///< by object: it reaches no plate
    std::vector<int> routes;           ///< by object: the job's route that decides, or −1
    std::vector<bool>
        overprint_changed; ///< by object: it overprints, or knocks out, and the file says otherwise
};

[[nodiscard]] PrintedScene printed_scene(const Scene &scene, const Job &job);

/// Whether the job prints the artwork's inks otherwise than as they came: routes, recipes, other plates.
[[nodiscard]] bool changes_artwork(const Scene &scene, const Job &job);

} // namespace bichrom
