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
            case RecipeFrom::Tonal:
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
                source["inks"] = step.source.inks;
                source["windows"] = step.source.windows;
                if (step.source.anywhere) { // since version 7
                    source["anywhere"] = true;
                }
                break;
            case RecipeFrom::SmallText:
                source["under_pt"] = step.source.size;
                break;
            case RecipeFrom::File:
                source["artwork"] = step.source.artwork;
                break;
            }
            if (step.source.fade != Fade()) {
                source["fade"] = {step.source.fade.start, step.source.fade.end, step.source.fade.degrees};
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
        entry["distance_mm"] = step.distance;
        entry["tonal"] = step.tonal;
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
        if (has_source(step.does) && (step.does != RecipeDo::KeepAway || entry.contains("source"))) {
            const json &source = entry.at("source");
            const auto from = parse_recipe_from(source.at("from").get<std::string>());
            if (!from) {
                return wrong;
            }
            step.source.from = *from;
            step.source.inks = source.value("inks", std::vector<std::string>());
            step.source.artwork = source.value("artwork", 0);
            step.source.layer = source.value("layer", std::string());
            step.source.windows = source.value("windows", false);
            step.source.anywhere = source.value("anywhere", false);
            step.source.size = source.value("under_pt", step.source.size);
            if (source.contains("fade")) {
                const auto fade = source.at("fade").get<std::array<double, 3>>();
                step.source.fade = {fade[0], fade[1], fade[2]};
            }
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
        step.distance = entry.value("distance_mm", 0.0); // of all steps since version 5
        step.tonal = entry.value("tonal", false);
        if (step.does == RecipeDo::KeepAway && entry.contains("box")) { // up to version 4
            const auto box = parse_page_box(entry.at("box").get<std::string>());
            if (!box) {
                return wrong;
            }
            step.source.from = RecipeFrom::Box;
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
