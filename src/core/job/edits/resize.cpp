#include "core/job/edits/resize.h"

#include "core/artwork/page_boxes.h"
#include "core/job/edits/bleed.h"
#include "core/job/edits/places.h"

#include <algorithm>
#include <utility>

namespace bichrom {

Outcome<Job> resized(Job job, double factor, const Artwork &artwork)
{
    const MadeBleed bleed = job.placements.bleed;
    return with_made_bleed(std::move(job), artwork, bleed, factor);
}

Job stretched_for_press(Job job)
{
    move_places(job, [across = job.film.across, along = job.film.along](const Rect &rect, int) {
        return Rect{rect.x * across, rect.y * along, rect.width * across, rect.height * along};
    });
    job.placements.across *= std::exchange(job.film.across, 1.0);
    job.placements.along *= std::exchange(job.film.along, 1.0);
    return job;
}

Outcome<double> factor_for(const Rect &size, double width, double height)
{
    if (!(size.width > 0 && size.height > 0)) {
        return Error{ErrorCode::OutOfRange,
                     "There is nothing to be sized: the page paints nothing.",
                     {},
                     "Size the page instead, or choose another page."};
    }
    if (!(width >= 0 && height >= 0) || width + height <= 0) {
        return Error{ErrorCode::OutOfRange, "No size is given.", {}, "Give a width or a height above 0."};
    }
    if (width <= 0) {
        return height / size.height;
    }
    const double by_width = width / size.width;
    return height <= 0 ? by_width : std::min(by_width, height / size.height);
}

Rect area_of_size(const PageInfo &page, const Rect &painted, SizeOf of)
{
    switch (of) {
    case SizeOf::Trim:
        return box_within(page, PageBox::Trim, PageBox::Media);
    case SizeOf::Page:
        return box_within(page, PageBox::Media, PageBox::Media);
    case SizeOf::Art:
        break;
    }
    return painted;
}

} // namespace bichrom
