#include "core/job/recipe.h"

#include "core/base/units.h"
#include "core/colour/process_profile.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr std::array<const char *, 8> source_names = {"area",    "plate", "largest", "sum",
                                                      "objects", "layer", "box",     "drawn"};
constexpr std::array<const char *, 14> step_names = {
    "add",  "keep",  "take away", "invert", "levels",      "curve",      "threshold",
    "tint", "choke", "spread",    "smooth", "remove thin", "fill holes", "keep away"};

std::string percent(double share)
{
    return format_number(share * 100, 1) + " %";
}

std::string list(const std::vector<std::string> &names)
{
    std::string text;
    for (std::size_t i = 0; i < names.size(); ++i) {
        text += (i == 0 ? "" : i + 1 == names.size() ? " and " : ", ") + names[i];
    }
    return text;
}

RecipeStep add(RecipeSource source, double amount = 1)
{
    RecipeStep step;
    step.source = std::move(source);
    step.amount = amount;
    return step;
}

RecipeStep take_away(RecipeSource source, double amount)
{
    RecipeStep step = add(std::move(source), amount);
    step.does = RecipeDo::TakeAway;
    return step;
}

RecipeStep by_distance(RecipeDo does, double mm, bool tonal = false)
{
    RecipeStep step;
    step.does = does;
    step.distance = mm;
    step.tonal = tonal;
    return step;
}

RecipeSource from(RecipeFrom kind, std::vector<std::string> inks = {})
{
    RecipeSource source;
    source.from = kind;
    source.inks = std::move(inks);
    return source;
}

} // namespace

const char *to_string(RecipeFrom source)
{
    return source_names[static_cast<std::size_t>(source)];
}
const char *to_string(RecipeDo step)
{
    return step_names[static_cast<std::size_t>(step)];
}

Outcome<RecipeFrom> parse_recipe_from(std::string_view name)
{
    for (const RecipeFrom source : all_recipe_sources) {
        if (name == to_string(source)) {
            return source;
        }
    }
    return Error{ErrorCode::OutOfRange, "'" + std::string(name) + "' is no source of a recipe.", {}, {}};
}

Outcome<RecipeDo> parse_recipe_do(std::string_view name)
{
    for (const RecipeDo step : all_recipe_steps) {
        if (name == to_string(step)) {
            return step;
        }
    }
    return Error{ErrorCode::OutOfRange, "'" + std::string(name) + "' is no step of a recipe.", {}, {}};
}

bool has_source(RecipeDo step)
{
    return step == RecipeDo::Add || step == RecipeDo::Keep || step == RecipeDo::TakeAway;
}

bool has_distance(RecipeDo step)
{
    switch (step) {
    case RecipeDo::Choke:
    case RecipeDo::Spread:
    case RecipeDo::Smooth:
    case RecipeDo::RemoveThin:
    case RecipeDo::FillHoles:
    case RecipeDo::KeepAway:
        return true;
    default:
        return false;
    }
}

Done check_recipe(const Recipe &recipe)
{
    for (std::size_t i = 0; i < recipe.size(); ++i) {
        const RecipeStep &step = recipe[i];
        const bool good = step.amount >= 0 && step.amount <= 1 && step.low >= 0 && step.high <= 1 &&
                          step.low < step.high && step.distance >= 0 && step.distance <= 10;
        const bool named =
            !has_source(step.does) || step.source.from != RecipeFrom::Plate || step.source.inks.size() == 1;
        if (!good || !named) {
            return Error{ErrorCode::OutOfRange, "Step " + std::to_string(i + 1) + " of a recipe cannot be.",
                         describe(step), "Amounts are 0 to 100 %, distances 0 to 10 mm."};
        }
    }
    return {};
}

double reach_of(const Recipe &recipe)
{
    double mm = 0;
    for (const RecipeStep &step : recipe) {
        switch (step.does) {
        case RecipeDo::Choke:
        case RecipeDo::Spread:
        case RecipeDo::Smooth:
        case RecipeDo::RemoveThin: // there and back by half each
        case RecipeDo::FillHoles:
            mm += step.distance;
            break;
        default:
            break;
        }
    }
    return mm;
}

std::string describe(const RecipeSource &source)
{
    switch (source.from) {
    case RecipeFrom::Area:
        return "the artwork area";
    case RecipeFrom::Plate:
        return source.inks.empty() ? "no plate" : source.inks.front();
    case RecipeFrom::Largest:
        return "the largest of " + list(source.inks);
    case RecipeFrom::Sum:
        return "the sum of " + list(source.inks);
    case RecipeFrom::Objects:
        return source.objects.size() == 1 ? "one object" : std::to_string(source.objects.size()) + " objects";
    case RecipeFrom::Layer:
        return "the layer " + source.layer;
    case RecipeFrom::Box:
        return std::string("the ") + to_string(source.box) + " box";
    case RecipeFrom::Drawn:
        break;
    }
    return source.areas.size() == 1 ? "one drawn area" : std::to_string(source.areas.size()) + " drawn areas";
}

std::string describe(const RecipeStep &step)
{
    const std::string mm = format_number(step.distance, 3) + " mm";
    const std::string part = step.amount < 1 ? percent(step.amount) + " of " : "";
    switch (step.does) {
    case RecipeDo::Add:
        return "add " + part + describe(step.source);
    case RecipeDo::Keep:
        return "keep only inside " + describe(step.source);
    case RecipeDo::TakeAway:
        return "take away " + part + describe(step.source);
    case RecipeDo::Invert:
        return "invert inside the artwork area";
    case RecipeDo::Levels:
        return "levels from " + percent(step.low) + " to " + percent(step.high);
    case RecipeDo::Curve:
        return "through a tone curve";
    case RecipeDo::Threshold:
        return "solid from " + percent(step.amount) + " on";
    case RecipeDo::Tint:
        return "tint at " + percent(step.amount);
    case RecipeDo::Choke:
        return "choke " + mm + (step.tonal ? ", tones kept" : "");
    case RecipeDo::Spread:
        return "spread " + mm + (step.tonal ? ", tones kept" : "");
    case RecipeDo::Smooth:
        return "smooth over " + mm;
    case RecipeDo::RemoveThin:
        return "remove what is thinner than " + mm;
    case RecipeDo::FillHoles:
        return "close gaps narrower than " + mm;
    case RecipeDo::KeepAway:
        break;
    }
    return "keep " + mm + " away from the " + to_string(step.source.box) + " edges";
}

std::vector<RecipePreset> recipe_presets(const std::vector<std::string> &inks)
{
    const auto area = from(RecipeFrom::Area);
    const auto black = std::find_if(inks.begin(), inks.end(),
                                    [](const std::string &ink) { return process_channel(ink) == 3; });
    const std::string black_ink = black == inks.end() ? std::string() : *black;
    const auto thinned = [&](double amount) {
        Recipe recipe = {add(area)};
        if (!black_ink.empty()) {
            recipe.push_back(take_away(from(RecipeFrom::Plate, {black_ink}), amount));
        }
        return recipe;
    };
    const auto choked = [](Recipe recipe, double mm) {
        recipe.push_back(by_distance(RecipeDo::Choke, mm));
        return recipe;
    };
    // Choked first, since the edge of the base must hide; then thinned where black prints over it.
    const auto garment = [&] {
        Recipe recipe = choked({add(area)}, 0.2);
        if (!black_ink.empty()) {
            recipe.push_back(take_away(from(RecipeFrom::Plate, {black_ink}), 0.8));
        }
        return recipe;
    }();
    Recipe tonal = {add(from(RecipeFrom::Sum, inks))};
    RecipeStep keep = add(area);
    keep.does = RecipeDo::Keep;
    RecipeStep away = by_distance(RecipeDo::KeepAway, 2);
    Recipe highlight = {add(area), take_away(from(RecipeFrom::Largest, inks), 1)};
    RecipeStep levels;
    levels.does = RecipeDo::Levels;
    levels.low = 0.6;
    highlight.push_back(levels);
    const Recipe everything = {add(from(RecipeFrom::Box)), away};
    RecipeSource bleed = from(RecipeFrom::Box);
    bleed.box = PageBox::Bleed;
    return {
        {"Base under everything", "Solid under all artwork, a little narrower so that it does not show.",
         InkUse::White, choked({add(area)}, 0.15)},
        {"Base for a coloured garment", "The same, thinned where black prints.", InkUse::White, garment},
        {"Base without black", "No base where black prints.", InkUse::White, choked(thinned(1), 0.15)},
        {"Tonal base", "As much white as there is ink; for photos.", InkUse::White, tonal},
        {"Highlight white", "On top, where hardly any ink lies.", InkUse::White, highlight},
        {"Second hit", "Once more on the base, narrower.", InkUse::White, choked({add(area)}, 0.3)},
        {"White behind colour", "For clear film: behind all artwork, clear where nothing is.", InkUse::White,
         choked({add(area)}, 0.1)},
        {"White over the whole film", "For clear film without windows.", InkUse::White, {add(bleed)}},
        {"Varnish over everything", "Up to 2 mm from the edges.", InkUse::Varnish, everything},
        {"Spot varnish", "On all artwork, pulled back.", InkUse::Varnish, choked({add(area)}, 0.1)},
        {"Metallic under the colours", "Behind all artwork, pulled back.", InkUse::Metallic,
         choked({add(area)}, 0.1)},
    };
}

} // namespace bichrom
