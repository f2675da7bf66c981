/// \file
/// Recipes: the ordered steps by which a plate is computed from others.
/// Layer: core/job. May use core/artwork, core/colour.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/outcome.h"
#include "core/colour/ink_use.h"
#include "core/colour/tone_curve.h"
#include "core/job/route.h"

#include <array>
#include <string>
#include <vector>

namespace bichrom {

/// Where coverage comes from.
enum class RecipeFrom
{
    Area,    ///< wherever the artwork paints anything
    Plate,   ///< one plate, as the artwork and its routes make it
    Largest, ///< of several plates, in each place
    Sum,     ///< of several plates, at most solid
    Objects, ///< where chosen objects are seen
    Layer,   ///< where the objects of a layer are seen
    Box,     ///< inside a page box
    Drawn    ///< rectangles, drawn by hand
};
inline constexpr std::array<RecipeFrom, 8> all_recipe_sources = {
    RecipeFrom::Area,    RecipeFrom::Plate, RecipeFrom::Largest, RecipeFrom::Sum,
    RecipeFrom::Objects, RecipeFrom::Layer, RecipeFrom::Box,     RecipeFrom::Drawn};
[[nodiscard]] const char *to_string(RecipeFrom from); ///< "area", "plate", "largest" …
[[nodiscard]] Outcome<RecipeFrom> parse_recipe_from(std::string_view name);

struct RecipeSource
{
    RecipeFrom from = RecipeFrom::Area;
    std::vector<std::string> inks;   ///< of Plate (one), Largest, Sum
    int artwork = 0;                 ///< of Objects and Layer: 0 = the first file
    std::vector<ObjectMark> objects; ///< of Objects
    std::string layer;               ///< of Layer
    PageBox box = PageBox::Trim;     ///< of Box
    std::vector<Rect> areas;         ///< of Drawn; mm from the media box's top left, y down
    friend bool operator==(const RecipeSource &, const RecipeSource &) = default;
};

/// What a step does to the working plane, which begins bare.
enum class RecipeDo
{
    Add,        ///< the larger of it and amount × the source
    Keep,       ///< only where the source is: it times the source
    TakeAway,   ///< it × (1 − amount × the source)
    Invert,     ///< solid becomes bare and bare solid, inside the artwork area
    Levels,     ///< low becomes bare, high solid
    Curve,      ///< through a tone curve
    Threshold,  ///< solid from amount on, else bare
    Tint,       ///< times amount
    Choke,      ///< narrower by a distance on all sides
    Spread,     ///< wider
    Smooth,     ///< mean over a disc of that radius
    RemoveThin, ///< what is thinner than a distance goes
    FillHoles,  ///< holes and gaps narrower than a distance close
    KeepAway    ///< nothing within a distance of the edges of a page box, and nothing outside it
};
inline constexpr std::array<RecipeDo, 14> all_recipe_steps = {
    RecipeDo::Add,    RecipeDo::Keep,       RecipeDo::TakeAway,  RecipeDo::Invert,  RecipeDo::Levels,
    RecipeDo::Curve,  RecipeDo::Threshold,  RecipeDo::Tint,      RecipeDo::Choke,   RecipeDo::Spread,
    RecipeDo::Smooth, RecipeDo::RemoveThin, RecipeDo::FillHoles, RecipeDo::KeepAway};
[[nodiscard]] const char *to_string(RecipeDo step); ///< "add", "keep", "take away" …
[[nodiscard]] Outcome<RecipeDo> parse_recipe_do(std::string_view name);

struct RecipeStep
{
    RecipeDo does = RecipeDo::Add;
    RecipeSource source;      ///< of Add, Keep, TakeAway; its box of KeepAway
    double amount = 1;        ///< 0 to 1
    double low = 0, high = 1; ///< of Levels, 0 to 1
    ToneCurve curve;          ///< of Curve
    double distance = 0;      ///< mm, 0 to 10
    bool tonal = false;       ///< Choke, Spread: tones keep their values, as in photos; else the edge is
                              ///< where coverage crosses one half
    friend bool operator==(const RecipeStep &, const RecipeStep &) = default;
};

using Recipe = std::vector<RecipeStep>; ///< none: the plate is what the artwork and its routes make it

/// Whether the step looks at a source.
[[nodiscard]] bool has_source(RecipeDo step);
/// Whether it has a distance.
[[nodiscard]] bool has_distance(RecipeDo step);

/// OutOfRange for values that cannot be, with the step's number.
[[nodiscard]] Done check_recipe(const Recipe &recipe);

/// How far, in mm, a place of the result depends on others.
[[nodiscard]] double reach_of(const Recipe &recipe);

/// "the artwork area", "Black", "the largest of A and B" …
[[nodiscard]] std::string describe(const RecipeSource &source);
/// "add the artwork area", "take away 80 % of Black", "choke 0.2 mm" …
[[nodiscard]] std::string describe(const RecipeStep &step);

/// A ready-made recipe, for an artist to open and change.
struct RecipePreset
{
    std::string name;
    std::string about;
    InkUse use = InkUse::White; ///< of the plate it is for
    Recipe recipe;
};
/// \param inks  of the job's plates that the recipe may look at, white, varnish and the like left out
[[nodiscard]] std::vector<RecipePreset> recipe_presets(const std::vector<std::string> &inks);

} // namespace bichrom
