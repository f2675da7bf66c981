#include "core/job/edits/bleed.h"

#include "core/artwork/page_boxes.h"
#include "core/job/edits/places.h"

#include <map>
#include <optional>
#include <utility>

namespace bichrom {

Outcome<Job> with_made_bleed(Job job, const Artwork &artwork, const MadeBleed &bleed, double factor)
{
    if (!(bleed.width >= 0 && bleed.width <= MadeBleed::most)) {
        return Error{ErrorCode::OutOfRange, "That much bleed cannot be made.", artwork.name(),
                     "Make at most " + format_number(MadeBleed::most, 0) + " mm."};
    }
    /// From where the file's own page begins to where it will.
    struct Corners
    {
        std::pair<double, double> before, after;
    };
    std::map<int, Corners> known; // by page, those that hold a place
    std::optional<Error> fault;
    const auto corners_of = [&](int page) {
        const auto found = known.find(page);
        if (found != known.end()) {
            return found->second;
        }
        Corners corners;
        auto info = artwork.page_info(page);
        if (!info) {
            fault = info.error();
        } else {
            corners.before = own_corner(*info);
            info->boxes[static_cast<std::size_t>(PageBox::Media)] = info->own_media;
            add_bleed(*info, bleed.width / factor, bleed.width / factor);
            const auto grown = own_corner(*info);
            corners.after = {grown.first * factor, grown.second * factor};
        }
        return known[page] = corners;
    };
    const auto moved = [&](const Rect &place, int page) {
        const auto [before, after] = corners_of(page);
        return Rect{(place.x - before.first) * factor + after.first,
                    (place.y - before.second) * factor + after.second, place.width * factor,
                    place.height * factor};
    };
    move_places(job, moved);
    for (PlacedArtwork &one : job.placements.artworks) {
        const Rect at = moved({one.x, one.y, 0, 0}, one.on_page);
        one.x = at.x;
        one.y = at.y;
        one.scale *= factor;
    }
    if (fault) {
        return *fault;
    }
    job.placements.bleed = bleed;
    job.placements.scale *= factor;
    return job;
}

} // namespace bichrom
