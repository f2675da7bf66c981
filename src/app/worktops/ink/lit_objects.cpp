#include "app/worktops/ink/lit_objects.h"

namespace bichrom {

std::vector<QRectF> places_of(const Session &session, const std::vector<int> &objects)
{
    std::vector<QRectF> places;
    for (const int object : objects) {
        places.push_back(session.shownArea(session.markOf(object).bounds));
    }
    return places;
}

void light_objects(const Session &session, Spotlight &spotlight, const std::vector<int> &objects,
                   const QString &one, const QString &several)
{
    if (objects.empty()) {
        spotlight.clear();
        return;
    }
    spotlight.light(places_of(session, objects), 0,
                    objects.size() == 1 ? one : several.arg(static_cast<int>(objects.size())), -1, false);
}

} // namespace bichrom
