#include "core/job/recipe.h"

#include "core/colour/process_profile.h"

#include <algorithm>

namespace bichrom {

namespace {

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

RecipeStep levels(double low, double high)
{
    RecipeStep step;
    step.does = RecipeDo::Levels;
    step.low = low;
    step.high = high;
    return step;
}

constexpr Lab white{96, 0, 0}, clear{98, 0, 1}, copper{62, 12, 28}, gold{74, 6, 38}, note{52, 72, -12};

/// A crease is marked by a line of one point (common practice, no source).
constexpr double crease_mm = 0.353;

} // namespace

std::vector<RecipePreset> recipe_presets(const PresetTable &table)
{
    const std::vector<std::string> &inks = table.inks;
    const RecipeSource area = from(RecipeFrom::Area);
    const auto black = std::find_if(inks.begin(), inks.end(),
                                    [](const std::string &ink) { return process_channel(ink) == 3; });
    // Flat art is solid and a little narrower. Where tones run the base runs with them: a glow that fades
    // into the garment must not print a disc of white.
    const auto under_all = [&](double choke) {
        Recipe recipe = {add(area), by_distance(RecipeDo::Choke, choke)};
        if (table.tonal && !inks.empty()) {
            recipe.push_back(take_away(from(RecipeFrom::Tonal), 1));
            recipe.push_back(add(from(RecipeFrom::Tonal, inks)));
            // Narrower where the art ends, not where tones meet flat art: white must not be missing between.
            RecipeStep keep;
            keep.does = RecipeDo::Keep;
            keep.source.anywhere = true;
            keep.distance = choke;
            recipe.push_back(keep);
        }
        return recipe;
    };
    const char *tones = table.tonal ? " Gradients and fades keep their tones." : "";
    const auto without_black = [&](double amount, double choke) {
        Recipe recipe = under_all(choke);
        if (black != inks.end()) { // after the choke: the base's edge must hide, its thinning need not
            recipe.push_back(take_away(from(RecipeFrom::Plate, {*black}), amount));
        }
        return recipe;
    };
    const auto choked = [](RecipeSource source, double mm) {
        return Recipe{add(std::move(source)), by_distance(RecipeDo::Choke, mm)};
    };
    const auto base = table.base.empty() ? area : from(RecipeFrom::Plate, {table.base});
    RecipeSource with_windows = area;
    with_windows.windows = true;
    RecipeSource bleed = from(RecipeFrom::Box);
    bleed.box = PageBox::Bleed;
    const RecipeSource trim = from(RecipeFrom::Box);
    RecipeStep away = by_distance(RecipeDo::KeepAway, 2);
    away.source = trim;
    Recipe text_free = {add(bleed)};
    RecipeStep off_text = take_away(from(RecipeFrom::SmallText), 1);
    off_text.distance = -0.3;
    text_free.push_back(off_text);
    RecipeStep off_folds = by_distance(RecipeDo::KeepAway, 2);
    off_folds.source = from(RecipeFrom::Drawn);
    off_folds.source.areas = table.folds;
    Recipe overall = {add(trim), away};
    if (!table.folds.empty()) {
        overall.push_back(off_folds);
        text_free.push_back(off_folds);
    }
    RecipeStep folds = add(off_folds.source);
    folds.distance = -crease_mm / 2;
    // Where the foil lies nothing else prints, but for a rim under its edge that hides a slip of the plates.
    RecipeStep under_foil = take_away(from(RecipeFrom::Plate, {""}), 1);
    under_foil.distance = 0.2;
    const Recipe pour_first = {add(from(RecipeFrom::Objects))};
    using U = InkUse;
    std::vector<RecipePreset> presets = {
        {"Base under everything",
         std::string("Solid under all artwork, a little narrower so that it does not show.") + tones,
         U::White,
         under_all(0.15),
         "Base White",
         white,
         {},
         false},
        {"Base for a coloured garment",
         std::string("The same, thinned where black prints.") + tones,
         U::White,
         without_black(0.8, 0.2),
         "Base White",
         white,
         {},
         false},
        {"Base without black",
         std::string("No base where black prints: the dark garment plays its part.") + tones,
         U::White,
         without_black(1, 0.15),
         "Base White",
         white,
         {},
         false},
        {"Tonal base",
         "As much white as there is ink; for photos.",
         U::White,
         {add(from(RecipeFrom::Sum, inks))},
         "Base White",
         white,
         {},
         false},
        {"Highlight white",
         "On top, where hardly any ink lies.",
         U::White,
         {add(area), take_away(from(RecipeFrom::Largest, inks), 1), levels(0.6, 1)},
         "Highlight White",
         white,
         {},
         true},
        {"Second hit",
         "Once more on the base, narrower.",
         U::White,
         choked(base, 0.15),
         "Second White",
         white,
         {},
         false},
        {"White behind colour",
         std::string("For clear film: behind all artwork; windows left to the film stay clear.") + tones,
         U::White,
         under_all(0.1),
         "Base White",
         white,
         {},
         false},
        {"White behind colour and windows",
         "For clear film: also where the film would show.",
         U::White,
         choked(with_windows, 0.1),
         "Base White",
         white,
         {},
         false},
        {"White over the whole film",
         "For clear film without windows.",
         U::White,
         {add(bleed)},
         "Base White",
         white,
         {},
         false},
        {"White where you pour it",
         "On the objects you click with Pour (P).",
         U::White,
         pour_first,
         "Spot White",
         white,
         {},
         false},
        {"Varnish on chosen objects",
         "On the objects you click with Pour (P), on top.",
         U::Varnish,
         pour_first,
         "Varnish",
         clear,
         {},
         true},
        {"Varnish over everything",
         "Up to 2 mm from the edges and the folds.",
         U::Varnish,
         overall,
         "Varnish",
         clear,
         {},
         true},
        {"Varnish on all artwork",
         "Wherever something is painted, pulled back.",
         U::Varnish,
         choked(area, 0.1),
         "Varnish",
         clear,
         {},
         true},
        {"Varnish but not on small text",
         "Everything but text under 8 pt and a rim around it.",
         U::Varnish,
         text_free,
         "Varnish",
         clear,
         {},
         true},
        {"Metallic under the colours",
         "Behind all artwork, pulled back.",
         U::Metallic,
         choked(area, 0.1),
         "Metallic",
         copper,
         {},
         false},
        {"Metallic over the colours",
         "Where you pour it (P), on top.",
         U::Metallic,
         pour_first,
         "Metallic",
         copper,
         {},
         true},
        {"Foil",
         "Where you pour it (P). What lies under it is knocked out, but for a rim of 0.2 mm.",
         U::Foil,
         pour_first,
         "Foil",
         gold,
         {under_foil},
         true},
        {"Cut line",
         "Around all artwork, 2 mm outside.",
         U::Technical,
         {add(with_windows), by_distance(RecipeDo::FillHoles, 10), by_distance(RecipeDo::Spread, 2),
          by_distance(RecipeDo::Outline, 0.25)},
         "Cut line",
         note,
         {},
         true},
        {"Crease lines",
         "On the folds of the shop rules, or where you draw them (A).",
         U::Technical,
         {folds},
         "Crease",
         note,
         {},
         true}};
    return presets;
}

} // namespace bichrom
