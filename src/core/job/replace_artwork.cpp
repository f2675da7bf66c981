#include "core/job/replace_artwork.h"

#include "core/job/routing.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

namespace bichrom {

namespace {

constexpr double nearest_mm = 0.5;

/// How far two places are apart: the largest shift of a side, mm.
double shift(const Rect &a, const Rect &b)
{
    return std::max({std::fabs(a.x - b.x), std::fabs(a.y - b.y), std::fabs(a.x + a.width - b.x - b.width),
                     std::fabs(a.y + a.height - b.y - b.height)});
}

Rect in_mm(const Rect &points)
{
    const auto mm = [](double v) { return to_millimetres(Points(v)).value; };
    return {mm(points.x), mm(points.y), mm(points.width), mm(points.height)};
}

/// The marks found again, with their new numbers and places.
std::vector<ObjectMark> find_again(const Route &route, const std::map<int, Scene> &after)
{
    const std::vector<ObjectMark> &marks = route.objects;
    std::vector<ObjectMark> found;
    std::set<std::pair<int, int>> taken;
    for (const ObjectMark &mark : marks) {
        const auto page = after.find(mark.page);
        if (page == after.end()) {
            continue;
        }
        int best = -1;
        double least = nearest_mm;
        for (const SceneObject &object : page->second.objects) {
            if (object.artwork != route.artwork) {
                continue;
            }
            const double away = shift(in_mm(object.bounds), mark.bounds);
            // Of several at the same place the one at the same height of the pile.
            const bool nearer = away < least || (away <= least && object.own_index == mark.index);
            if (object.kind == mark.kind && nearer && taken.count({mark.page, object.own_index}) == 0) {
                best = object.index;
                least = away;
            }
        }
        if (best >= 0) {
            const SceneObject &object = page->second.objects[static_cast<std::size_t>(best)];
            taken.insert({mark.page, object.own_index});
            found.push_back({mark.page, object.own_index, mark.kind, in_mm(object.bounds)});
        }
    }
    return found;
}

bool matches_anything(const Route &route, const std::map<int, Scene> &scenes)
{
    for (const auto &[number, scene] : scenes) {
        if (route.by == RouteBy::Ink) {
            if (std::any_of(scene.colours.begin(), scene.colours.end(), [&](const FoundColour &colour) {
                    return colour.artwork == route.artwork &&
                           std::any_of(colour.inks.begin(), colour.inks.end(),
                                       [&](const InkAmount &one) { return one.ink == route.name; });
                })) {
                return true;
            }
            continue;
        }
        for (const SceneObject &object : scene.objects) {
            const FoundColour &colour = scene.colours[static_cast<std::size_t>(object.colour_number)];
            if (takes(route, {number, object.own_index, object.layer, &colour})) {
                return true;
            }
        }
    }
    return false;
}

/// \p route, its objects told again; nothing when it matches nothing any more.
std::optional<Route> carried(const Route &route, const std::map<int, Scene> &after)
{
    Route next = route;
    if (route.by == RouteBy::Objects) {
        next.objects = find_again(route, after);
        return next.objects.empty() ? std::nullopt : std::optional(std::move(next));
    }
    return matches_anything(route, after) ? std::optional(std::move(next)) : std::nullopt;
}

} // namespace

Replacement carry_over(Job job, const std::map<int, Scene> &before, const std::map<int, Scene> &after)
{
    Replacement replacement;
    std::vector<Route> kept;
    for (Route &route : job.routes) {
        if (auto next = carried(route, after)) {
            kept.push_back(std::move(*next));
        } else {
            replacement.dropped.push_back(std::move(route));
        }
    }
    job.routes = std::move(kept);
    std::vector<OverprintRule> rules;
    for (OverprintRule &rule : job.overprint.rules) {
        auto next = rule.source.by == RouteBy::Ink ? std::optional(rule.source) : carried(rule.source, after);
        if (next) {
            rules.push_back({std::move(*next), rule.wish});
        } else {
            replacement.dropped_rules.push_back(std::move(rule));
        }
    }
    job.overprint.rules = std::move(rules);
    const int page = job.page;
    if (!after.empty()) {
        job.page = std::clamp(job.page, after.begin()->first, after.rbegin()->first);
        static const Scene nothing;
        const auto old_page = before.find(page);
        job.plates =
            plates_for(old_page == before.end() ? nothing : old_page->second, after.at(job.page), job);
    }
    replacement.job = std::move(job);
    return replacement;
}

Outcome<std::map<int, Scene>> all_scenes(const Artwork &artwork, const ColourSettings &colours,
                                         const JobControl &control)
{
    std::map<int, Scene> scenes;
    for (int number = 1; number <= artwork.page_count(); ++number) {
        const auto page = artwork.interpret(number, PageBox::Media, colours, control);
        if (!page) {
            return page.error();
        }
        auto scene = record_scene(**page, control);
        if (!scene) {
            return scene.error();
        }
        scenes[number] = std::move(*scene);
    }
    return scenes;
}

} // namespace bichrom
