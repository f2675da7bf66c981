#include "core/job/edits/resize.h"

#include "core/artwork/page_boxes.h"

#include <algorithm>
#include <utility>

namespace bichrom {

namespace {

/// Moves every place of \p job on the page.
void stretch_places(Job &job, double across, double along)
{
    const auto move = [&](Rect &rect) {
        rect = {rect.x * across, rect.y * along, rect.width * across, rect.height * along};
    };
    const auto move_marks = [&](std::vector<ObjectMark> &marks) {
        for (ObjectMark &mark : marks) {
            move(mark.bounds);
        }
    };
    for (Route &route : job.routes) {
        move_marks(route.objects);
    }
    for (OverprintRule &rule : job.overprint.rules) {
        move_marks(rule.source.objects);
    }
    for (TrapZone &zone : job.traps.zones) {
        move(zone.area);
    }
    for (Plate &plate : job.plates) {
        for (RecipeStep &step : plate.recipe) {
            move_marks(step.source.objects);
            for (Rect &area : step.source.areas) {
                move(area);
            }
        }
    }
    for (Pin &pin : job.pins) {
        pin = {pin.x * across, pin.y * along, pin.width * across, pin.height * along, pin.page};
    }
}

} // namespace

Job resized(Job job, double factor)
{
    stretch_places(job, factor, factor);
    job.placements.scale *= factor;
    for (PlacedArtwork &one : job.placements.artworks) {
        one.x *= factor;
        one.y *= factor;
        one.scale *= factor;
    }
    return job;
}

Job stretched_for_press(Job job)
{
    stretch_places(job, job.film.across, job.film.along);
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
