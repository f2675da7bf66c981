#include "core/job/edits/places.h"

namespace bichrom {

void move_places(Job &job, const std::function<Rect(const Rect &place, int page)> &move)
{
    const auto move_marks = [&](std::vector<ObjectMark> &marks) {
        for (ObjectMark &mark : marks) {
            mark.bounds = move(mark.bounds, mark.page);
        }
    };
    for (Route &route : job.routes) {
        move_marks(route.objects);
    }
    for (OverprintRule &rule : job.overprint.rules) {
        move_marks(rule.source.objects);
    }
    for (TrapZone &zone : job.traps.zones) {
        zone.area = move(zone.area, zone.page);
    }
    for (NamedArea &one : job.areas) {
        one.area = move(one.area, one.page > 0 ? one.page : job.page);
    }
    for (Plate &plate : job.plates) {
        for (RecipeStep &step : plate.recipe) {
            move_marks(step.source.objects);
            for (Rect &area : step.source.areas) {
                area = move(area, job.page);
            }
        }
    }
    for (Pin &pin : job.pins) {
        const Rect moved = move({pin.x, pin.y, pin.width, pin.height}, pin.page);
        pin = {moved.x, moved.y, moved.width, moved.height, pin.page};
    }
}

} // namespace bichrom
