#include "core/job/route_json.h"

#include "core/job/recipe_json.h"
#include "core/job/traits_json.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace bichrom {

using nlohmann::json;

namespace {

json colour_to_json(const ColourUse &colour)
{
    return {{"space", colour.space},
            {"profile", colour.profile},
            {"colorants", colour.colorants},
            {"values", colour.values}};
}

ColourUse colour_from_json(const json &entry)
{
    return {entry.at("space").get<std::string>(), entry.at("profile").get<std::string>(),
            entry.at("colorants").get<std::vector<std::string>>(),
            entry.at("values").get<std::vector<float>>()};
}

json target_to_json(const RouteTarget &target)
{
    json entry = {{"ink", target.ink},
                  {"own_tint", target.own_tint},
                  {"tint", target.tint},
                  {"curve", curve_to_json(target.curve)}};
    const InkControl &control = target.control; // since version 13
    if (control.strength != 1) {
        entry["strength"] = control.strength;
    }
    if (control.hues.holds()) {
        entry["hues"] = {control.hues.middle, control.hues.width};
    }
    if (!control.never_with.empty()) {
        entry["never_with"] = control.never_with;
    }
    return entry;
}

Outcome<RouteTarget> target_from_json(const json &entry)
{
    RouteTarget target;
    target.ink = entry.at("ink").get<std::string>();
    target.own_tint = entry.at("own_tint").get<bool>();
    target.tint = entry.at("tint").get<double>();
    auto curve = curve_from_json(entry.at("curve"));
    if (!curve || !(target.tint >= 0.0 && target.tint <= 1.0)) {
        return Error{ErrorCode::WrongFormat, "a route has an impossible tint or curve", {}, {}};
    }
    target.curve = std::move(*curve);
    InkControl &control = target.control;
    control.strength = entry.value("strength", 1.0);
    control.never_with = entry.value("never_with", std::vector<std::string>());
    if (entry.contains("hues")) {
        control.hues = {entry["hues"].at(0).get<double>(), entry["hues"].at(1).get<double>()};
    }
    if (!(control.strength >= 0 && control.strength <= InkControl::most_strength) ||
        !(control.hues.middle >= 0 && control.hues.middle <= 360) ||
        !(control.hues.width >= HueHold::least_width && control.hues.width <= HueHold::all)) {
        return Error{ErrorCode::WrongFormat, "a route asks something impossible of an ink", {}, {}};
    }
    return target;
}

} // namespace

json routes_to_json(const std::vector<Route> &routes)
{
    json list = json::array();
    for (const Route &route : routes) {
        json entry = {{"by", to_string(route.by)}, {"to", to_string(route.to)}, {"targets", json::array()}};
        if (route.artwork != 0) {
            entry["artwork"] = route.artwork;
        }
        for (const RouteTarget &target : route.targets) {
            entry["targets"].push_back(target_to_json(target));
        }
        if (!route.split.colours.empty()) {
            json colours = json::array();
            for (const PaletteTarget &one : route.split.colours) {
                colours.push_back({{"rgb", one.rgb}, {"ink", one.ink}, {"tint", one.tint}});
            }
            entry["split"] = {{"colours", colours},
                              {"tolerance", route.split.tolerance},
                              {"despeckle", route.split.despeckle},
                              {"outlines", route.split.outlines}};
        }
        if (!route.pages.empty()) { // since version 6
            entry["pages"] = route.pages;
        }
        if (route.separated) {
            entry["separated"] = true;
            if (route.ink_limit > 0) { // since version 10
                entry["ink_limit"] = route.ink_limit;
            }
            if (route.dots.wanted()) { // since version 13
                entry["dots"] = {{"size_mm", route.dots.size_mm}, {"diffused", route.dots.diffused}};
            }
        }
        if (!(route.black == BlackGeneration())) {
            entry["black"] = {{"amount", to_string(route.black.amount)},
                              {"ink_limit", route.black.ink_limit}};
        }
        switch (route.by) {
        case RouteBy::Objects:
            entry["objects"] = json::array(); // also of none
            for (const ObjectMark &mark : route.objects) {
                entry["objects"].push_back(mark_to_json(mark));
            }
            break;
        case RouteBy::Layer:
        case RouteBy::Ink:
            entry["name"] = route.name;
            break;
        case RouteBy::Similar:
            entry["tolerance"] = route.tolerance;
            entry["measure"] = route.measure == ColourMeasure::DeltaE ? "delta e" : "colourants";
            [[fallthrough]];
        case RouteBy::Colour:
            entry["lab"] = {route.appearance.l, route.appearance.a, route.appearance.b};
            entry["colour"] = colour_to_json(route.colour);
            break;
        }
        list.push_back(std::move(entry));
    }
    return list;
}

Outcome<std::vector<Route>> routes_from_json(const json &list)
{
    std::vector<Route> routes;
    for (const json &entry : list) {
        const auto by = parse_route_by(entry.at("by").get<std::string>());
        const auto to = parse_route_to(entry.at("to").get<std::string>());
        if (!by || !to) {
            return Error{ErrorCode::WrongFormat, "it holds an unknown kind of route", {}, {}};
        }
        Route route;
        route.by = *by;
        route.to = *to;
        route.artwork = entry.value("artwork", 0);
        route.pages = entry.value("pages", PageList());
        std::sort(route.pages.begin(), route.pages.end());
        route.separated = entry.value("separated", false);
        route.ink_limit = entry.value("ink_limit", 0.0);
        if (route.ink_limit != 0 &&
            !(route.ink_limit >= least_ink_limit && route.ink_limit <= most_ink_limit)) {
            return Error{ErrorCode::WrongFormat, "it holds an impossible ink limit", {}, {}};
        }
        if (entry.contains("dots")) {
            route.dots = {entry["dots"].at("size_mm").get<double>(),
                          entry["dots"].at("diffused").get<bool>()};
            if (!(route.dots.size_mm >= IndexDots::least_mm && route.dots.size_mm <= IndexDots::most_mm)) {
                return Error{ErrorCode::WrongFormat, "it holds square dots of an impossible size", {}, {}};
            }
        }
        if (entry.contains("black")) {
            const auto amount = parse_black_amount(entry["black"].at("amount").get<std::string>());
            route.black.ink_limit = entry["black"].at("ink_limit").get<double>();
            if (!amount || !(route.black.ink_limit >= 1 && route.black.ink_limit <= 4)) {
                return Error{ErrorCode::WrongFormat, "it holds an unknown amount of black", {}, {}};
            }
            route.black.amount = *amount;
        }
        for (const json &one : entry.at("targets")) {
            auto target = target_from_json(one);
            if (!target) {
                return target.error();
            }
            route.targets.push_back(std::move(*target));
        }
        if (entry.contains("split")) {
            const json &split = entry.at("split");
            for (const json &one : split.at("colours")) {
                route.split.colours.push_back({one.at("rgb").get<std::array<std::uint8_t, 3>>(),
                                               one.at("ink").get<std::string>(),
                                               one.at("tint").get<double>()});
            }
            route.split.tolerance = split.at("tolerance").get<double>();
            route.split.despeckle = split.at("despeckle").get<int>();
            route.split.outlines = split.at("outlines").get<bool>();
            constexpr std::size_t most_colours = 64; // as unmix() takes
            constexpr int most_despeckle = 1'000'000;
            const bool tints =
                std::all_of(route.split.colours.begin(), route.split.colours.end(),
                            [](const PaletteTarget &one) { return one.tint >= 0 && one.tint <= 1; });
            if (route.split.colours.size() > most_colours || !tints ||
                !(route.split.tolerance >= 0 && route.split.tolerance <= 1) || route.split.despeckle < 0 ||
                route.split.despeckle > most_despeckle) {
                return Error{ErrorCode::WrongFormat, "a picture is taken apart in an impossible way", {}, {}};
            }
        }
        if (route.by == RouteBy::Objects) {
            for (const json &one : entry.at("objects")) {
                const auto kind = parse_object_kind(one.at("kind").get<std::string>());
                const auto area = one.at("area_mm").get<std::array<double, 4>>();
                if (!kind) {
                    return kind.error();
                }
                route.objects.push_back({one.at("page").get<int>(),
                                         one.at("index").get<int>(),
                                         *kind,
                                         {area[0], area[1], area[2], area[3]}});
            }
        } else if (route.by == RouteBy::Layer || route.by == RouteBy::Ink) {
            route.name = entry.at("name").get<std::string>();
        } else {
            route.colour = colour_from_json(entry.at("colour"));
            const auto &values = route.colour.values;
            if (!std::all_of(values.begin(), values.end(),
                             [](float value) { return std::isfinite(value); })) {
                return Error{ErrorCode::WrongFormat, "it holds an impossible colour", {}, {}};
            }
            const auto lab = entry.at("lab").get<std::array<double, 3>>();
            route.appearance = {lab[0], lab[1], lab[2]};
        }
        if (route.by == RouteBy::Similar) {
            route.tolerance = entry.at("tolerance").get<double>();
            route.measure =
                entry.at("measure") == "colourants" ? ColourMeasure::Colourants : ColourMeasure::DeltaE;
        }
        routes.push_back(std::move(route));
    }
    return routes;
}

} // namespace bichrom
