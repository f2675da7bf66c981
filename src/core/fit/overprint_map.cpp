#include "core/fit/overprint_map.h"

#include <array>

namespace bichrom {

Outcome<OverprintMap> overprint_map(const std::shared_ptr<const PageContent> &page, const Scene &scene,
                                    const Job &job, Dpi resolution, const JobControl &control)
{
    const auto decided = overprint_of(scene, job.overprint, job.routes, job.plates, job.page);
    // A plate a kind, and every object solid on that of its kind; what knocks out as the file says goes to
    // none.
    static const std::array<const char *, 4> kinds = {"file", "more", "less", "rest"};
    PlateSetup setup;
    setup.page = job.page;
    OverprintMap map;
    map.resolution = resolution;
    std::vector<Route> by_kind;
    const auto add = [&](const SceneObject &object, std::size_t kind) {
        Route *known = nullptr;
        for (Route &one : by_kind) {
            if (one.artwork == object.artwork && one.targets.front().ink == kinds[kind]) {
                known = &one;
            }
        }
        if (known == nullptr) {
            Route route;
            route.by = RouteBy::Objects;
            route.artwork = object.artwork;
            route.targets = {{kinds[kind], false, 1, {}}};
            by_kind.push_back(std::move(route));
            known = &by_kind.back();
        }
        known->objects.push_back({job.page, object.own_index, object.kind, {}});
    };
    for (std::size_t i = 0; i < decided.size(); ++i) {
        const SceneObject &object = scene.objects[i];
        if (decided[i].overprints == object.overprint) {
            map.as_file += object.overprint ? 1 : 0;
            add(object, object.overprint ? 0 : 3);
        } else {
            ++(decided[i].overprints ? map.to_overprint : map.to_knock_out);
            add(object, decided[i].overprints ? 1 : 2);
        }
    }
    setup.inks = {kinds.begin(), kinds.end()};
    setup.routes = std::move(by_kind);
    setup.overprint = Overprint::Ignored; // the topmost object is seen
    const auto line = PlateLine::make(page, std::move(setup), control);
    if (!line) {
        return line.error();
    }
    const PixelRect all = (*line)->extent(resolution);
    if (static_cast<double>(all.width) * all.height > 400e6) {
        return Error{ErrorCode::TooLarge, "The page is too large to be shown so.", page->place(), {}};
    }
    std::array<BitPlane *, 3> planes = {&map.overprints, &map.now_overprints, &map.now_knocks_out};
    for (BitPlane *plane : planes) {
        *plane = BitPlane(all.width, all.height);
    }
    PlateSink sink;
    sink.compute = [&](const Band &band, const PlateRuns &plates) -> Outcome<std::unique_ptr<BandResult>> {
        for (std::size_t i = 0; i < planes.size(); ++i) {
            const RunPlane &tones = plates.plates[i];
            for (int y = 0; y < tones.height(); ++y) {
                add_row(*planes[i], band.top + y, tones, y, 1);
            }
        }
        return std::make_unique<BandResult>();
    };
    sink.take = [](const Band &, BandResult &) { return Done(); };
    if (const Done done = (*line)->run({resolution, Edges::Crisp, 0, all.height, 256, 0}, sink, control);
        !done) {
        return done.error();
    }
    return map;
}

} // namespace bichrom
