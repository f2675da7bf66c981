#include "core/job/edits/reading.h"

#include "core/job/edits/bleed.h"
#include "core/job/routing.h"

#include <algorithm>
#include <set>

namespace bichrom {

Job with_inks_of(Job job, const Scene &scene)
{
    const auto known = [&](const FoundInk &ink) {
        return job.find_plate(ink.name) >= 0 ||
               std::find(job.removed.begin(), job.removed.end(), ink.name) != job.removed.end();
    };
    if (std::all_of(scene.inks.begin(), scene.inks.end(), known)) {
        return job; // as nearly always, and a scene may be large
    }
    Scene wanted; // its inks but those taken away
    wanted.colours = scene.colours;
    wanted.inks = scene.inks;
    std::erase_if(wanted.inks, [&](const FoundInk &ink) {
        return std::find(job.removed.begin(), job.removed.end(), ink.name) != job.removed.end();
    });
    job.plates = plates_for({}, wanted, job);
    return job;
}

Job with_reading(Job now, const Job &read, const Scene &shown, const Scene &next, const Artwork &artwork)
{
    const bool untouched = now.routes.empty() && now.plates == propose_job(shown, now.name, now.page).plates;
    const bool moves =
        now.placements.scale != read.placements.scale || now.placements.bleed != read.placements.bleed;
    if (moves) { // places move with the page
        if (auto moved = with_made_bleed(now, artwork, read.placements.bleed,
                                         read.placements.scale / now.placements.scale)) {
            now = std::move(*moved);
        }
    }
    now.colours = read.colours;
    now.assumed_ppi = read.assumed_ppi;
    now.film.box = read.film.box;
    now.placements = read.placements;
    std::vector<Plate> plates =
        untouched ? propose_job(next, now.name, now.page).plates : plates_for(shown, next, now);
    // What only a file that does not print is in has no plate.
    std::erase_if(plates, [&](const Plate &plate) {
        const std::set<int> artworks = artworks_with(next, plate.ink);
        const bool is_new = artworks_with(shown, plate.ink).empty();
        return is_new && !artworks.empty() && std::all_of(artworks.begin(), artworks.end(), [&](int number) {
                   const PlacedArtwork *placed = now.placements.find(number);
                   return placed != nullptr && !placed->prints;
               });
    });
    now.plates = std::move(plates);
    std::erase_if(now.routes, [&](const Route &route) {
        return route.artwork != 0 && !now.placements.find(route.artwork);
    });
    return now;
}

} // namespace bichrom
