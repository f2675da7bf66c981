#include "core/job/recipe_json.h"

#include "core/job/traits_json.h"

#include <nlohmann/json.hpp>

namespace bichrom {

using nlohmann::json;

json mark_to_json(const ObjectMark &mark)
{
    return {{"page", mark.page},
            {"index", mark.index},
            {"kind", to_string(mark.kind)},
            {"area_mm", {mark.bounds.x, mark.bounds.y, mark.bounds.width, mark.bounds.height}}};
}

Outcome<ObjectMark> mark_from_json(const json &entry)
{
    const auto kind = parse_object_kind(entry.at("kind").get<std::string>());
    if (!kind) {
        return kind.error();
    }
    const auto area = entry.at("area_mm").get<std::array<double, 4>>();
    return ObjectMark{entry.at("page").get<int>(),
                      entry.at("index").get<int>(),
                      *kind,
                      {area[0], area[1], area[2], area[3]}};
}

json recipe_to_json(const Recipe &recipe)
{
    json list = json::array();
    for (const RecipeStep &step : recipe) {
        json entry = {{"do", to_string(step.does)}};
        if (has_source(step.does)) {
            json source = {{"from", to_string(step.source.from)}};
            switch (step.source.from) {
            case RecipeFrom::Plate:
            case RecipeFrom::Largest:
            case RecipeFrom::Sum:
                source["inks"] = step.source.inks;
                break;
            case RecipeFrom::Objects:
                source["artwork"] = step.source.artwork;
                source["objects"] = json::array();
                for (const ObjectMark &mark : step.source.objects) {
                    source["objects"].push_back(mark_to_json(mark));
                }
                break;
            case RecipeFrom::Layer:
                source["artwork"] = step.source.artwork;
                source["layer"] = step.source.layer;
                break;
            case RecipeFrom::Box:
                source["box"] = to_string(step.source.box);
                break;
            case RecipeFrom::Drawn:
                source["areas_mm"] = json::array();
                for (const Rect &area : step.source.areas) {
                    source["areas_mm"].push_back({area.x, area.y, area.width, area.height});
                }
                break;
            case RecipeFrom::Area:
                break;
            }
            entry["source"] = source;
        }
        entry["amount"] = step.amount;
        if (step.does == RecipeDo::Levels) {
            entry["levels"] = {step.low, step.high};
        }
        if (step.does == RecipeDo::Curve) {
            entry["curve"] = curve_to_json(step.curve);
        }
        if (has_distance(step.does)) {
            entry["distance_mm"] = step.distance;
            entry["tonal"] = step.tonal;
        }
        if (step.does == RecipeDo::KeepAway) {
            entry["box"] = to_string(step.source.box);
        }
        list.push_back(std::move(entry));
    }
    return list;
}

Outcome<Recipe> recipe_from_json(const json &list)
{
    const Error wrong{ErrorCode::WrongFormat, "it holds an impossible recipe", {}, {}};
    Recipe recipe;
    for (const json &entry : list) {
        RecipeStep step;
        const auto does = parse_recipe_do(entry.at("do").get<std::string>());
        if (!does) {
            return wrong;
        }
        step.does = *does;
        step.amount = entry.at("amount").get<double>();
        if (has_source(step.does)) {
            const json &source = entry.at("source");
            const auto from = parse_recipe_from(source.at("from").get<std::string>());
            if (!from) {
                return wrong;
            }
            step.source.from = *from;
            step.source.inks = source.value("inks", std::vector<std::string>());
            step.source.artwork = source.value("artwork", 0);
            step.source.layer = source.value("layer", std::string());
            for (const json &one : source.value("objects", json::array())) {
                auto mark = mark_from_json(one);
                if (!mark) {
                    return wrong;
                }
                step.source.objects.push_back(*mark);
            }
            for (const json &one : source.value("areas_mm", json::array())) {
                const auto area = one.get<std::array<double, 4>>();
                step.source.areas.push_back({area[0], area[1], area[2], area[3]});
            }
            if (source.contains("box")) {
                const auto box = parse_page_box(source.at("box").get<std::string>());
                if (!box) {
                    return wrong;
                }
                step.source.box = *box;
            }
        }
        if (step.does == RecipeDo::Levels) {
            const auto levels = entry.at("levels").get<std::array<double, 2>>();
            step.low = levels[0];
            step.high = levels[1];
        }
        if (step.does == RecipeDo::Curve) {
            auto curve = curve_from_json(entry.at("curve"));
            if (!curve) {
                return wrong;
            }
            step.curve = std::move(*curve);
        }
        if (has_distance(step.does)) {
            step.distance = entry.at("distance_mm").get<double>();
            step.tonal = entry.at("tonal").get<bool>();
        }
        if (step.does == RecipeDo::KeepAway) {
            const auto box = parse_page_box(entry.at("box").get<std::string>());
            if (!box) {
                return wrong;
            }
            step.source.box = *box;
        }
        recipe.push_back(std::move(step));
    }
    if (!check_recipe(recipe)) {
        return wrong;
    }
    return recipe;
}

} // namespace bichrom
