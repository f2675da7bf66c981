#include "core/job/edits/reading.h"

#include "core/job/edits/resize.h"
#include "core/job/routing.h"

#include <algorithm>

namespace bichrom {

Job with_inks_of(Job job, const Scene &scene)
{
    Scene wanted; // its inks but those taken away
    wanted.colours = scene.colours;
    wanted.inks = scene.inks;
    std::erase_if(wanted.inks, [&](const FoundInk &ink) {
        return std::find(job.removed.begin(), job.removed.end(), ink.name) != job.removed.end();
    });
    job.plates = plates_for({}, wanted, job);
    return job;
}

Job with_reading(Job now, const Job &read, const Scene &shown, const Scene &next)
{
    const bool untouched = now.routes.empty() && now.plates == propose_job(shown, now.name, now.page).plates;
    std::vector<Plate> plates =
        untouched ? propose_job(next, now.name, now.page).plates : plates_for(shown, next, now);
    now.plates = std::move(plates);
    if (now.placements.scale != read.placements.scale) { // places move with the page
        now = resized(std::move(now), read.placements.scale / now.placements.scale);
    }
    now.colours = read.colours;
    now.assumed_ppi = read.assumed_ppi;
    now.film.box = read.film.box;
    now.placements = read.placements;
    std::erase_if(now.routes, [&](const Route &route) {
        return route.artwork != 0 && !now.placements.find(route.artwork);
    });
    return now;
}

} // namespace bichrom
