#include "core/job/trap_json.h"

#include "core/job/route_json.h"

#include <nlohmann/json.hpp>

namespace bichrom {

using nlohmann::json;

json traps_to_json(const TrapSettings &traps)
{
    json pairs = json::array();
    for (const TrapPair &pair : traps.pairs) {
        pairs.push_back({{"first", pair.first},
                         {"second", pair.second},
                         {"spreads", to_string(pair.side)},
                         {"width_mm", pair.width ? json(*pair.width) : json()}});
    }
    json zones = json::array();
    for (const TrapZone &zone : traps.zones) {
        zones.push_back({{"page", zone.page},
                         {"area_mm", {zone.area.x, zone.area.y, zone.area.width, zone.area.height}},
                         {"width_mm", zone.width}});
    }
    return {{"on", traps.on},
            {"width_mm", traps.width},
            {"hold_back_mm", traps.hold_back},
            {"base_choke_mm", traps.base_choke},
            {"darker", traps.darker},
            {"under_thin", traps.under_thin},
            {"pairs", pairs},
            {"zones", zones}};
}

Outcome<TrapSettings> traps_from_json(const json &entry)
{
    TrapSettings traps;
    traps.on = entry.at("on").get<bool>();
    traps.width = entry.at("width_mm").get<double>();
    traps.hold_back = entry.at("hold_back_mm").get<double>();
    traps.base_choke = entry.at("base_choke_mm").get<double>();
    traps.darker = entry.at("darker").get<double>();
    traps.under_thin = entry.at("under_thin").get<bool>();
    for (const json &one : entry.at("pairs")) {
        const auto side = parse_trap_side(one.at("spreads").get<std::string>());
        if (!side) {
            return side.error();
        }
        TrapPair pair{one.at("first").get<std::string>(), one.at("second").get<std::string>(), *side};
        if (const json &width = one.at("width_mm"); !width.is_null()) {
            pair.width = width.get<double>();
        }
        traps = with_pair(std::move(traps), std::move(pair));
    }
    for (const json &one : entry.at("zones")) {
        const auto area = one.at("area_mm").get<std::array<double, 4>>();
        traps.zones.push_back({{area[0], area[1], area[2], area[3]},
                               one.at("page").get<int>(),
                               one.at("width_mm").get<double>()});
    }
    if (const Done good = check_traps(traps); !good) {
        return good.error();
    }
    return traps;
}

json overprint_to_json(const OverprintSettings &settings)
{
    const HouseOverprint &house = settings.house;
    json rules = json::array();
    for (const OverprintRule &rule : settings.rules) {
        rules.push_back({{"of", routes_to_json({rule.source}).at(0)}, {"prints", to_string(rule.wish)}});
    }
    return {{"house",
             {{"black_text", house.black_text},
              {"text_size_pt", house.text_size},
              {"black_lines", house.black_lines},
              {"line_width_pt", house.line_width},
              {"white_knocks_out", house.white_knocks_out},
              {"finishing_overprints", house.finishing_overprints},
              {"foil_knocks_out", house.foil_knocks_out}}},
            {"rules", rules}};
}

Outcome<OverprintSettings> overprint_from_json(const json &entry)
{
    OverprintSettings settings;
    const json &house = entry.at("house");
    settings.house = {house.at("black_text").get<bool>(),       house.at("text_size_pt").get<double>(),
                      house.at("black_lines").get<bool>(),      house.at("line_width_pt").get<double>(),
                      house.at("white_knocks_out").get<bool>(), house.at("finishing_overprints").get<bool>(),
                      house.at("foil_knocks_out").get<bool>()};
    for (const json &one : entry.at("rules")) {
        auto source = routes_from_json(json::array({one.at("of")}));
        const auto wish = parse_overprint_wish(one.at("prints").get<std::string>());
        if (!source) {
            return source.error();
        }
        if (!wish) {
            return wish.error();
        }
        settings.rules.push_back({std::move(source->front()), *wish});
    }
    if (const Done good = check_overprint(settings); !good) {
        return good.error();
    }
    return settings;
}

} // namespace bichrom
