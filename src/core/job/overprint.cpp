#include "core/job/overprint.h"

#include "core/job/job.h"

#include <algorithm>
#include <map>
#include <optional>
#include <tuple>

namespace bichrom {

const char *to_string(OverprintWish wish)
{
    static constexpr const char *names[] = {"as in the file", "overprint", "knock out"};
    return names[static_cast<std::size_t>(wish)];
}

Outcome<OverprintWish> parse_overprint_wish(std::string_view name)
{
    for (const OverprintWish wish : all_overprint_wishes) {
        if (name == to_string(wish)) {
            return wish;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is no way to overprint.",
                 {},
                 "Use as in the file, overprint or knock out."};
}

namespace {

/// What the plates that something prints on have in common.
struct Printed
{
    bool black = false;     ///< solid black and nothing else
    bool white = false;     ///< white and nothing else
    bool finishing = false; ///< varnish, technical, and nothing else
    bool foil = false;      ///< foil among others
};

Printed printed(const std::vector<InkAmount> &inks, const std::vector<Plate> &plates)
{
    constexpr float solid = 0.95f;
    Printed made{!inks.empty(), !inks.empty(), !inks.empty(), false};
    for (const InkAmount &one : inks) {
        const auto plate = std::find_if(plates.begin(), plates.end(),
                                        [&](const Plate &each) { return each.ink == one.ink; });
        if (plate == plates.end()) {
            return {};
        }
        const bool dark = is_black(plate->solid);
        const bool colour = plate->kind == InkUse::Spot || plate->kind == InkUse::Process;
        made.black = made.black && colour && dark && one.amount >= solid;
        made.white = made.white && plate->kind == InkUse::White;
        made.finishing =
            made.finishing && (plate->kind == InkUse::Varnish || plate->kind == InkUse::Technical);
        made.foil = made.foil || plate->kind == InkUse::Foil;
    }
    return made;
}

std::optional<bool> house_wants(const HouseOverprint &house, const SceneObject &object, const Printed &on)
{
    if (house.foil_knocks_out && on.foil) {
        return false;
    }
    if (house.finishing_overprints && on.finishing) {
        return true;
    }
    if (house.white_knocks_out && on.white) {
        return false;
    }
    if (house.black_text && on.black && object.kind == ObjectKind::Text &&
        object.font_size <= house.text_size) {
        return true;
    }
    const bool line = object.kind == ObjectKind::Stroke || object.kind == ObjectKind::StrokedText;
    if (house.black_lines && on.black && line && object.stroke_width <= house.line_width) {
        return true;
    }
    return std::nullopt;
}

/// The order in which kinds of rules decide.
int rank_of(RouteBy by)
{
    return static_cast<int>(by);
}

} // namespace

std::vector<ObjectOverprint> overprint_of(const Scene &scene, const OverprintSettings &settings,
                                          const std::vector<Route> &routes, const std::vector<Plate> &plates,
                                          int page)
{
    std::vector<ObjectOverprint> made(scene.objects.size());
    if (settings.empty()) {
        for (std::size_t i = 0; i < made.size(); ++i) {
            made[i].overprints = scene.objects[i].overprint;
        }
        return made;
    }
    std::vector<std::string> inks;
    for (const Plate &plate : plates) {
        inks.push_back(plate.ink);
    }
    const auto any_by = [&](RouteBy by) {
        return std::any_of(routes.begin(), routes.end(), [by](const Route &one) { return one.by == by; });
    };
    const bool by_layer = any_by(RouteBy::Layer), by_object = any_by(RouteBy::Objects);
    // Objects alike in all that routes look at print on the same plates.
    std::map<std::tuple<int, std::string, int>, std::pair<Printed, std::vector<InkAmount>>> known;
    for (std::size_t i = 0; i < made.size(); ++i) {
        const SceneObject &object = scene.objects[i];
        const FoundColour &colour = scene.colours[static_cast<std::size_t>(object.colour_number)];
        const RoutedObject routed{page, object.own_index, object.layer, &colour};
        const auto [at, is_new] =
            known.try_emplace({object.colour_number, by_layer ? object.layer : std::string(),
                               by_object ? object.own_index : -1});
        if (is_new) {
            at->second.second = reach_of(routed, routes, inks).plates;
            at->second.first = printed(at->second.second, plates);
        }
        const auto &[on, amounts] = at->second;
        ObjectOverprint &out = made[i];
        out.overprints = object.overprint;
        if (const auto house = house_wants(settings.house, object, on)) {
            out = {*house, OverprintBy::House, -1};
        }
        int best = 100;
        for (std::size_t number = 0; number < settings.rules.size(); ++number) {
            const OverprintRule &rule = settings.rules[number];
            if (rule.wish == OverprintWish::AsFile || rank_of(rule.source.by) > best ||
                !holds_for(rule.source.pages, page)) {
                continue;
            }
            const bool holds =
                rule.source.by == RouteBy::Ink
                    ? std::any_of(amounts.begin(), amounts.end(),
                                  [&](const InkAmount &one) { return one.ink == rule.source.name; })
                    : takes(rule.source, routed);
            if (holds) {
                out = {rule.wish == OverprintWish::Overprint, OverprintBy::Rule, static_cast<int>(number)};
                best = rank_of(rule.source.by);
            }
        }
    }
    return made;
}

namespace {

bool holds(const Route &source, int artwork, const ObjectMark &mark)
{
    return source.by == RouteBy::Objects && source.artwork == artwork &&
           std::any_of(source.objects.begin(), source.objects.end(), [&](const ObjectMark &one) {
               return one.page == mark.page && one.index == mark.index;
           });
}

} // namespace

OverprintSettings with_rule(OverprintSettings settings, OverprintRule rule)
{
    if (rule.source.by == RouteBy::Objects) {
        for (OverprintRule &one : settings.rules) {
            if (one.source.artwork == rule.source.artwork) {
                std::erase_if(one.source.objects, [&](const ObjectMark &mark) {
                    return holds(rule.source, rule.source.artwork, mark);
                });
            }
        }
    }
    std::erase_if(settings.rules, [&](const OverprintRule &one) {
        return one.source.by == RouteBy::Objects ? one.source.objects.empty()
                                                 : same_source(one.source, rule.source);
    });
    if (rule.wish != OverprintWish::AsFile) {
        settings.rules.push_back(std::move(rule));
    }
    return settings;
}

OverprintWish wish_about(const OverprintSettings &settings, const Route &source)
{
    for (const OverprintRule &one : settings.rules) {
        if (source.by == RouteBy::Objects
                ? !source.objects.empty() && holds(one.source, source.artwork, source.objects.front())
                : same_source(one.source, source)) {
            return one.wish;
        }
    }
    return OverprintWish::AsFile;
}

Done check_overprint(const OverprintSettings &settings)
{
    const HouseOverprint &house = settings.house;
    if (!(house.text_size >= 1 && house.text_size <= 144) ||
        !(house.line_width >= 0 && house.line_width <= 20)) {
        return Error{
            ErrorCode::OutOfRange,
            "The house rules of overprint hold for text of 1 to 144 points and lines of 0 to 20 points.",
            {},
            {}};
    }
    return {};
}

} // namespace bichrom
