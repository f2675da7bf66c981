#include "core/job/route.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace bichrom {

namespace {

template <typename Kinds>
auto parse(const Kinds &kinds, std::string_view name) -> Outcome<typename Kinds::value_type>
{
    for (const auto kind : kinds) {
        if (name == to_string(kind)) {
            return kind;
        }
    }
    return Error{ErrorCode::OutOfRange, "'" + std::string(name) + "' belongs to no route.", {}, {}};
}

std::string percent(double share)
{
    return format_number(share * 100.0, 1) + " %";
}

/// "A, B and C"
std::string list_inks(const Route &route)
{
    std::string inks;
    for (std::size_t i = 0; i < route.targets.size(); ++i) {
        inks += (i == 0 ? "" : i + 1 == route.targets.size() ? " and " : ", ") + route.targets[i].ink;
    }
    return inks;
}

std::string black_words(const BlackGeneration &black)
{
    std::string words;
    if (black.amount != BlackAmount::AsProfile) {
        static constexpr const char *names[] = {"",           "the least black", "little black",
                                                "some black", "much black",      "the most black"};
        words = std::string(", with ") + names[static_cast<std::size_t>(black.amount)];
    }
    if (black.ink_limit < 4) {
        words += ", at most " + percent(black.ink_limit) + " ink in all";
    }
    return words;
}

/// ", Rust at 120 % strength, held to hues 20° to 80°"
std::string control_words(const Route &route)
{
    std::string words;
    for (const RouteTarget &target : route.targets) {
        const InkControl &control = target.control;
        if (control == InkControl() && target.curve.is_identity()) {
            continue;
        }
        words += ", " + target.ink;
        words += control.strength != 1 ? " at " + percent(control.strength) + " strength" : "";
        words += target.curve.is_identity() ? "" : " through a curve";
        words += control.hues.holds() ? " in " + describe(control.hues) : "";
        for (const std::string &other : control.never_with) {
            words += " never with " + other;
        }
    }
    return words;
}

} // namespace

const char *to_string(RouteBy by)
{
    static constexpr const char *names[] = {"objects", "layer", "colour", "similar", "ink"};
    return names[static_cast<std::size_t>(by)];
}

Outcome<RouteBy> parse_route_by(std::string_view name)
{
    return parse(all_route_kinds, name);
}

const char *to_string(RouteTo to)
{
    static constexpr const char *names[] = {"plates", "process", "nothing", "bare stock"};
    return names[static_cast<std::size_t>(to)];
}

Outcome<RouteTo> parse_route_to(std::string_view name)
{
    return parse(all_route_ends, name);
}

bool takes(const Route &route, const RoutedObject &object)
{
    const ColourUse &colour = object.colour->colour;
    if (route.artwork != object.colour->artwork || !holds_for(route.pages, object.page)) {
        return false;
    }
    switch (route.by) {
    case RouteBy::Objects:
        return std::any_of(route.objects.begin(), route.objects.end(), [&](const ObjectMark &mark) {
            return mark.page == object.page && mark.index == object.index;
        });
    case RouteBy::Layer:
        return route.name == object.layer;
    case RouteBy::Colour:
        return !colour.values.empty() && route.colour == colour;
    case RouteBy::Similar:
        if (colour.values.empty()) {
            return false;
        }
        return colour_distance({route.colour, route.appearance, {}, {}, 0}, *object.colour, route.measure) <=
               route.tolerance;
    case RouteBy::Ink:
        break;
    }
    return false;
}

int deciding_route(const std::vector<Route> &routes, const RoutedObject &object)
{
    const auto found =
        std::find_if(routes.begin(), routes.end(), [&](const Route &route) { return takes(route, object); });
    return found == routes.end() ? -1 : static_cast<int>(found - routes.begin());
}

int ink_route(const std::vector<Route> &routes, const std::string &ink, int page, int artwork)
{
    const auto found = std::find_if(routes.begin(), routes.end(), [&](const Route &route) {
        return route.by == RouteBy::Ink && route.artwork == artwork && route.name == ink &&
               holds_for(route.pages, page);
    });
    return found == routes.end() ? -1 : static_cast<int>(found - routes.begin());
}

float own_strength(const FoundColour &colour)
{
    float most = 0;
    for (const InkAmount &ink : colour.inks) {
        most = std::max(most, ink.amount);
    }
    return most;
}

Reach reach_of(const RoutedObject &object, const std::vector<Route> &routes,
               const std::vector<std::string> &plates)
{
    Reach reach;
    const FoundColour &colour = *object.colour;
    reach.route = deciding_route(routes, object);
    const auto put = [&](const std::string &ink, double amount) {
        if (amount <= 0.0 || std::find(plates.begin(), plates.end(), ink) == plates.end()) {
            return;
        }
        const auto known = std::find_if(reach.plates.begin(), reach.plates.end(),
                                        [&](const InkAmount &one) { return one.ink == ink; });
        if (known == reach.plates.end()) {
            reach.plates.push_back({ink, static_cast<float>(std::min(1.0, amount))});
        } else {
            known->amount = static_cast<float>(std::min(1.0, static_cast<double>(known->amount) + amount));
        }
    };
    const auto follow = [&](const Route &route, float strength) {
        for (const RouteTarget &target : route.targets) {
            put(target.ink,
                target.own_tint ? target.curve.at(static_cast<double>(strength)) * target.tint : target.tint);
        }
    };
    reach.paper_white = colour.inks.empty();
    if (reach.route >= 0) {
        const Route &route = routes[static_cast<std::size_t>(reach.route)];
        switch (route.to) {
        case RouteTo::Plates:
            follow(route, own_strength(colour));
            return reach;
        case RouteTo::Process:
            for (std::size_t i = 0; i < process_names.size(); ++i) {
                put(process_names[i], static_cast<double>(colour.build[i]));
            }
            return reach;
        case RouteTo::Nothing:
        case RouteTo::BareStock:
            reach.deliberate = true;
            return reach;
        }
    }
    for (const InkAmount &ink : colour.inks) {
        if (ink.ink == "All") {
            for (const std::string &plate : plates) {
                put(plate, static_cast<double>(ink.amount));
            }
            continue;
        }
        const int number = ink_route(routes, ink.ink, object.page, colour.artwork);
        if (number < 0) {
            put(ink.ink, static_cast<double>(ink.amount));
            continue;
        }
        const Route &route = routes[static_cast<std::size_t>(number)];
        switch (route.to) {
        case RouteTo::Plates:
            follow(route, ink.amount);
            break;
        case RouteTo::Process:
            for (std::size_t i = 0; i < process_names.size(); ++i) {
                put(process_names[i], static_cast<double>(colour.build[i]));
            }
            break;
        case RouteTo::Nothing:
        case RouteTo::BareStock:
            reach.deliberate = true;
            break;
        }
    }
    return reach;
}

Route with_split(Route route, PaletteSplit split)
{
    route.to = RouteTo::Plates;
    route.targets.clear();
    for (const PaletteTarget &colour : split.colours) {
        const bool known = std::any_of(route.targets.begin(), route.targets.end(),
                                       [&](const RouteTarget &target) { return target.ink == colour.ink; });
        if (!colour.ink.empty() && !known) {
            route.targets.push_back({colour.ink, true, 1.0, {}});
        }
    }
    route.split = std::move(split);
    return route;
}

bool same_source(const Route &a, const Route &b)
{
    if (a.by != b.by || a.artwork != b.artwork || a.pages != b.pages) {
        return false;
    }
    switch (a.by) {
    case RouteBy::Objects:
        return a.objects == b.objects;
    case RouteBy::Layer:
    case RouteBy::Ink:
        return a.name == b.name;
    case RouteBy::Colour:
        return a.colour == b.colour;
    case RouteBy::Similar:
        break;
    }
    return a.colour == b.colour && a.measure == b.measure;
}

std::size_t add_route(std::vector<Route> &routes, Route route)
{
    for (std::size_t i = 0; i < routes.size(); ++i) {
        if (same_source(routes[i], route)) {
            routes[i] = std::move(route);
            return i;
        }
    }
    // Of its own kind the newest comes first: it was made with the others in view.
    const auto place =
        std::find_if(routes.begin(), routes.end(), [&](const Route &other) { return other.by >= route.by; });
    return static_cast<std::size_t>(routes.insert(place, std::move(route)) - routes.begin());
}

namespace {

std::string source_words(const Route &route)
{
    switch (route.by) {
    case RouteBy::Objects: {
        const std::size_t count = route.objects.size();
        const std::string page = count > 0 ? " on page " + std::to_string(route.objects.front().page) : "";
        if (count == 1) {
            return std::string("one ") + to_string(route.objects.front().kind) + page;
        }
        return std::to_string(count) + " objects" + page;
    }
    case RouteBy::Layer:
        return "the layer " + (route.name.empty() ? std::string("(none)") : route.name);
    case RouteBy::Colour:
        return "the colour " + describe(route.colour);
    case RouteBy::Similar:
        return "all that is like " + describe(route.colour) + " within " +
               (route.measure == ColourMeasure::DeltaE ? "ΔE " + format_number(route.tolerance, 1)
                                                       : format_number(route.tolerance, 1) + " %");
    case RouteBy::Ink:
        break;
    }
    return "the ink " + route.name;
}

} // namespace

std::string describe_source(const Route &route)
{
    return source_words(route) + (route.pages.empty() ? std::string() : ", " + describe_pages(route.pages));
}

Outcome<double> parse_ink_limit(std::string_view text)
{
    if (text.empty()) {
        return 0.0;
    }
    const auto value = parse_number(text.ends_with('%') ? text.substr(0, text.size() - 1) : text);
    if (value && (*value == 0 || (*value >= least_ink_limit * 100 && *value <= most_ink_limit * 100))) {
        return *value / 100;
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(text) + "' is no ink limit.",
                 {},
                 "Write a percentage of " + percent(least_ink_limit) + " to " + percent(most_ink_limit) +
                     ", all inks of a point together, or 0 for none."};
}

Outcome<IndexDots> parse_index_dots(std::string_view text)
{
    IndexDots dots;
    const std::size_t comma = text.find(',');
    const std::string_view size = text.substr(0, comma), how = comma == std::string_view::npos
                                                                   ? std::string_view("diffused")
                                                                   : text.substr(comma + 1);
    const auto length = size.empty() ? Outcome<Millimetres>(Millimetres{0}) : parse_length(size);
    dots.diffused = how == "diffused";
    dots.size_mm = length ? length->value : -1;
    const bool good =
        dots.size_mm == 0 || (dots.size_mm >= IndexDots::least_mm && dots.size_mm <= IndexDots::most_mm);
    if (good && (dots.diffused || how == "even")) {
        return dots;
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(text) + "' is no size of square dots.",
                 {},
                 "Write a length of 0.05 to 5 mm, such as 0.2mm; 0.2mm,even for dots that are not diffused."};
}

std::string describe_end(const Route &route)
{
    switch (route.to) {
    case RouteTo::Process:
        return "prints in process inks" + black_words(route.black);
    case RouteTo::Nothing:
        return "does not print";
    case RouteTo::BareStock:
        return "shows the bare stock";
    case RouteTo::Plates:
        break;
    }
    if (route.targets.empty()) {
        return "prints on no plate";
    }
    if (!route.split.colours.empty()) {
        return "is taken apart into its flat colours, for " + list_inks(route);
    }
    if (route.separated) {
        return "is separated into " + list_inks(route) +
               (route.ink_limit > 0 ? ", " + percent(route.ink_limit) + " ink at most" : "") +
               control_words(route) +
               (route.dots.wanted() ? ", in square dots of " + format_number(route.dots.size_mm, 3) + " mm" +
                                          (route.dots.diffused ? "" : ", not diffused")
                                    : "");
    }
    std::string text = "prints on ";
    for (std::size_t i = 0; i < route.targets.size(); ++i) {
        const RouteTarget &target = route.targets[i];
        text += i == 0 ? "" : i + 1 == route.targets.size() ? " and " : ", ";
        text += target.ink;
        if (target.own_tint) {
            text += target.tint < 1.0 ? " at " + percent(target.tint) + " of its tint" : " in its own tint";
        } else if (target.tint < 1.0) {
            text += " at " + percent(target.tint);
        }
    }
    return text;
}

bool leaves_bare(const Route &route)
{
    return route.to == RouteTo::BareStock ||
           std::any_of(route.split.colours.begin(), route.split.colours.end(),
                       [](const PaletteTarget &one) { return one.ink.empty(); });
}

} // namespace bichrom
