#include "core/line/colour_areas.h"

#include "core/line/coverage.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

Outcome<std::vector<double>> measure_colours(const std::shared_ptr<const PageContent> &page,
                                             const Scene &scene, Dpi resolution, const JobControl &control)
{
    constexpr double most_pixels = 4e6;
    std::vector<double> areas(scene.colours.size(), -1.0);
    const std::size_t count = std::min(areas.size(), most_measured_colours);
    if (count == 0) {
        return areas;
    }
    // Each colour is sent to a plate of its own; the plates' coverage is its area.
    PlateSetup setup;
    for (std::size_t i = 0; i < count; ++i) {
        Route route;
        route.by = RouteBy::Objects;
        route.targets = {{"colour " + std::to_string(i), false, 1.0, {}}};
        route.artwork = scene.colours[i].artwork;
        setup.inks.push_back(route.targets.front().ink);
        setup.routes.push_back(std::move(route));
    }
    for (const SceneObject &object : scene.objects) {
        if (const auto number = static_cast<std::size_t>(object.colour_number); number < count) {
            setup.routes[number].objects.push_back({setup.page, object.own_index, object.kind, {}});
        }
    }
    const auto plate_line = PlateLine::make(page, std::move(setup), control);
    if (!plate_line) {
        return plate_line.error();
    }
    const double square_inches =
        page->width().value * page->height().value / points_per_inch / points_per_inch;
    const Dpi dpi(std::min(resolution.value, std::sqrt(most_pixels / std::max(square_inches, 1e-6))));
    const auto shares = measure_coverage(**plate_line, dpi, control);
    if (!shares) {
        return shares.error();
    }
    constexpr double square_cm_per_inch = 2.54 * 2.54;
    for (std::size_t i = 0; i < count; ++i) {
        areas[i] = (*shares)[i] * square_inches * square_cm_per_inch;
    }
    return areas;
}

} // namespace bichrom
