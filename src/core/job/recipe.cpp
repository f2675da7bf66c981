#include "core/job/recipe.h"

#include "core/base/units.h"
#include "core/colour/process_profile.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr std::array<const char *, 11> source_names = {
    "area", "plate", "largest", "sum", "objects", "layer", "box", "drawn", "small text", "file", "tonal"};
constexpr std::array<const char *, 16> step_names = {
    "add",   "keep",   "take away", "invert",  "levels",      "curve",      "threshold", "tint",
    "choke", "spread", "smooth",    "sharpen", "remove thin", "fill holes", "keep away", "outline"};

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
    return step == RecipeDo::Add || step == RecipeDo::Keep || step == RecipeDo::TakeAway ||
           step == RecipeDo::KeepAway;
}

bool has_distance(RecipeDo step)
{
    switch (step) {
    case RecipeDo::Choke:
    case RecipeDo::Spread:
    case RecipeDo::Smooth:
    case RecipeDo::Sharpen:
    case RecipeDo::RemoveThin:
    case RecipeDo::FillHoles:
    case RecipeDo::KeepAway:
    case RecipeDo::Outline:
        return true;
    default:
        return false;
    }
}

Done check_recipe(const Recipe &recipe)
{
    for (std::size_t i = 0; i < recipe.size(); ++i) {
        const RecipeStep &step = recipe[i];
        const double least = has_distance(step.does) ? 0 : -10;
        const Fade &fade = step.source.fade;
        const bool good = step.amount >= 0 && step.amount <= 1 && step.low >= 0 && step.high <= 1 &&
                          step.low < step.high && step.distance >= least && step.distance <= 10 &&
                          fade.start >= 0 && fade.start <= 1 && fade.end >= 0 && fade.end <= 1 &&
                          std::isfinite(fade.degrees) && step.source.size >= 0 && step.source.size <= 1000;
        const bool named =
            !has_source(step.does) || step.source.from != RecipeFrom::Plate || step.source.inks.size() == 1;
        if (!good || !named) {
            return Error{ErrorCode::OutOfRange, "Step " + std::to_string(i + 1) + " of a recipe cannot be.",
                         describe(step), "Amounts are 0 to 100 %, distances at most 10 mm."};
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
        case RecipeDo::Sharpen:
        case RecipeDo::RemoveThin: // there and back by half each
        case RecipeDo::FillHoles:
        case RecipeDo::Outline:
        case RecipeDo::Add: // of their source
        case RecipeDo::Keep:
        case RecipeDo::TakeAway:
        case RecipeDo::KeepAway:
            mm += std::fabs(step.distance);
            break;
        default:
            break;
        }
    }
    return mm;
}

std::vector<std::string> plates_read(const Recipe &recipe)
{
    std::vector<std::string> inks;
    for (const RecipeStep &step : recipe) {
        const RecipeFrom from = step.source.from;
        if (has_source(step.does) &&
            (from == RecipeFrom::Plate || from == RecipeFrom::Largest || from == RecipeFrom::Sum ||
             from == RecipeFrom::Area || from == RecipeFrom::Tonal)) {
            inks.insert(inks.end(), step.source.inks.begin(), step.source.inks.end());
        }
    }
    return inks;
}

std::string describe(const RecipeSource &source)
{
    const auto faded = [&](std::string text) {
        const Fade &fade = source.fade;
        if (fade.start == 1 && fade.end == 1) {
            return text;
        }
        return text + (fade.start == fade.end ? " at " + percent(fade.start)
                                              : " from " + percent(fade.start) + " to " + percent(fade.end));
    };
    switch (source.from) {
    case RecipeFrom::Area:
        return "the artwork area" + (source.inks.empty() ? "" : " of " + list(source.inks)) +
               (source.windows ? " with its windows" : "") + (source.anywhere ? ", however pale" : "");
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
        return faded(std::string("the ") + to_string(source.box) + " box");
    case RecipeFrom::SmallText:
        return "text under " + format_number(source.size, 1) + " pt";
    case RecipeFrom::File:
        return "the placed file " + std::to_string(source.artwork);
    case RecipeFrom::Tonal:
        return source.inks.empty() ? "gradients and fades"
                                   : "the tones of " + list(source.inks) + " in gradients and fades";
    case RecipeFrom::Drawn:
        break;
    }
    return faded(source.areas.size() == 1 ? "one drawn area"
                                          : std::to_string(source.areas.size()) + " drawn areas");
}

std::string describe(const RecipeStep &step)
{
    const std::string mm = format_number(step.distance, 3) + " mm";
    const std::string part = step.amount < 1 ? percent(step.amount) + " of " : "";
    const std::string width = format_number(std::fabs(step.distance), 3) + " mm";
    const std::string pulled = step.distance > 0   ? ", " + width + " narrower"
                               : step.distance < 0 ? ", " + width + " wider"
                                                   : "";
    switch (step.does) {
    case RecipeDo::Add:
        return "add " + part + describe(step.source) + pulled;
    case RecipeDo::Keep:
        return "keep only inside " + describe(step.source) + pulled;
    case RecipeDo::TakeAway:
        return "take away " + part + describe(step.source) + pulled;
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
    case RecipeDo::Sharpen:
        return "sharpen by " + percent(step.amount) + " over " + mm;
    case RecipeDo::RemoveThin:
        return "remove what is thinner than " + mm;
    case RecipeDo::FillHoles:
        return "close gaps narrower than " + mm;
    case RecipeDo::Outline:
        return "the outline, " + mm + " wide";
    case RecipeDo::KeepAway:
        break;
    }
    return "keep " + mm + " away from " +
           (step.source.from == RecipeFrom::Box ? std::string("the ") + to_string(step.source.box) + " edges"
                                                : describe(step.source));
}

} // namespace bichrom
