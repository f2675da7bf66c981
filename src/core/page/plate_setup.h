/// \file
/// What a page is separated into.
/// Layer: core/page. May use core/job.
#pragma once

#include "core/job/job.h"

#include <string>
#include <vector>

namespace bichrom {

/// Whether the file's wish to overprint is heeded.
enum class Overprint
{
    Honoured, ///< as ISO 32000 says, and as it prints
    Ignored   ///< everything knocks out, as in viewers that know no overprint
};

/// Whether an extra plane collects what reaches no plate.
enum class Lost
{
    Dropped,
    Inks,        ///< colours that hold ink
    InksAndWhite ///< also paper-white, which a coloured stock does not show
};

/// The name of the plane that collects what is lost, after all others.
inline constexpr const char *lost_ink = "\x01lost";

/// What came of what was asked of the inks of a separated route.
struct SeparationNote
{
    struct Ink
    {
        std::string name;
        /// The largest change of tone between colours that differ by one thirty-second in one channel, 0 to
        /// 1: as solved and as asked for.
        double step_before = 0, step = 0;
    };
    int route = 0; ///< number
    std::vector<Ink> inks{};
    double limited = 0; ///< share of all colours whose ink the limit took back, 0 to 1
};

struct PlateSetup
{
    std::vector<std::string> inks; ///< a plate each; other inks do not print
    std::vector<Route> routes{};
    int page = 1; ///< that routes by object speak of
    Overprint overprint = Overprint::Honoured;
    Lost lost = Lost::Dropped;
    std::vector<Plate> plates{}; ///< what the inks look like; asked by routes that separate pictures
    Stock stock{};
    std::vector<int> silent{};        ///< placed artworks that leave no trace
    OverprintSettings overprinting{}; ///< what the artist and the house want of it
    TrapSettings traps{};
    friend bool operator==(const PlateSetup &, const PlateSetup &) = default;
};

/// The plates and routes of the page that the job is worked on.
[[nodiscard]] inline PlateSetup setup_of(const Job &job, Overprint overprint = Overprint::Honoured)
{
    PlateSetup setup{job.inks(),    job.routes, job.page,         overprint,
                     Lost::Dropped, job.plates, job.stock_here(), {}};
    for (Plate &plate : setup.plates) {
        plate.recipe = Recipe(plate.recipe_on(job.page));
    }
    for (const PlacedArtwork &one : job.placements.artworks) {
        if (!one.prints) {
            setup.silent.push_back(one.id);
        }
    }
    setup.overprinting = job.overprint;
    setup.traps = job.traps;
    return setup;
}

} // namespace bichrom
