#include "core/job/area_json.h"

#include <nlohmann/json.hpp>

#include <utility>

namespace bichrom {

using nlohmann::json;

json areas_to_json(const std::vector<NamedArea> &areas)
{
    json all = json::array();
    for (const NamedArea &one : areas) {
        all.push_back({{"kind", to_string(one.kind)},
                       {"name", one.name},
                       {"page", one.page},
                       {"area_mm", {one.area.x, one.area.y, one.area.width, one.area.height}}});
    }
    return all;
}

Outcome<std::vector<NamedArea>> areas_from_json(const json &entries)
{
    std::vector<NamedArea> areas;
    for (const json &entry : entries) {
        const auto kind = parse_area_kind(entry.at("kind").get<std::string>());
        if (!kind) {
            return kind.error();
        }
        const auto area = entry.at("area_mm").get<std::array<double, 4>>();
        areas.push_back({*kind,
                         entry.at("name").get<std::string>(),
                         {area[0], area[1], area[2], area[3]},
                         entry.at("page").get<int>()});
    }
    const Done good = check_areas(areas);
    return good ? Outcome<std::vector<NamedArea>>(std::move(areas)) : good.error();
}

} // namespace bichrom
