/// \file
/// Recipes: the ordered steps by which a plate is computed from others.
/// Layer: core/job. May use core/artwork, core/colour.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/outcome.h"
#include "core/colour/ink_use.h"
#include "core/colour/process_profile.h"
#include "core/colour/tone_curve.h"
#include "core/job/route.h"

#include <array>
#include <string>
#include <vector>

namespace bichrom {

/// Where coverage comes from.
enum class RecipeFrom
{
    Area,      ///< wherever the artwork paints anything
    Plate,     ///< one plate, as the artwork and its routes make it
    Largest,   ///< of several plates, in each place
    Sum,       ///< of several plates, at most solid
    Objects,   ///< where chosen objects are seen
    Layer,     ///< where the objects of a layer are seen
    Box,       ///< inside a page box
    Drawn,     ///< rectangles, drawn by hand
    SmallText, ///< where text under a size is seen
    File,      ///< what a placed file paints, whatever lies over it, as dark as it is
    Tonal      ///< where gradients, and what fades by a soft mask, are seen
};
inline constexpr std::array<RecipeFrom, 11> all_recipe_sources = {
    RecipeFrom::Area,      RecipeFrom::Plate, RecipeFrom::Largest, RecipeFrom::Sum,
    RecipeFrom::Objects,   RecipeFrom::Layer, RecipeFrom::Box,     RecipeFrom::Drawn,
    RecipeFrom::SmallText, RecipeFrom::File,  RecipeFrom::Tonal};
[[nodiscard]] const char *to_string(RecipeFrom from); ///< "area", "plate", "largest" …
[[nodiscard]] Outcome<RecipeFrom> parse_recipe_from(std::string_view name);

/// How the tone runs across an area.
struct Fade
{
    double start = 1, end = 1; ///< 0 to 1; equal = even
    double degrees = 0;        ///< clockwise; at 0 from left to right, at 90 from top to bottom
    friend bool operator==(const Fade &, const Fade &) = default;
};

struct RecipeSource
{
    RecipeFrom from = RecipeFrom::Area;
    /// Of Plate (one), Largest, Sum; of Area: only where one of them prints, unless there are none; of Tonal:
    /// the sum of these there, or solid when there are none.
    std::vector<std::string> inks;
    bool windows = false;            ///< of Area: with what routes leave to the bare stock
    bool anywhere = false;           ///< of Area: solid wherever anything paints, however pale
    int artwork = 0;                 ///< of Objects, Layer, File: 0 = the first file
    std::vector<ObjectMark> objects; ///< of Objects
    std::string layer;               ///< of Layer
    PageBox box = PageBox::Trim;     ///< of Box
    std::vector<Rect> areas;         ///< of Drawn; mm from the media box's top left, y down
    Fade fade;                       ///< of Box and Drawn, across each area
    double size = 8;                 ///< of SmallText: points, exclusive
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
    Sharpen,    ///< further from the mean over a disc of that radius, by amount × what it is off
    RemoveThin, ///< what is thinner than a distance goes
    FillHoles,  ///< holes and gaps narrower than a distance close
    KeepAway,   ///< nothing within a distance of the source; of a page box: of its edges, and nothing outside
    Outline     ///< a line along the edge, half of it on either side
};
inline constexpr std::array<RecipeDo, 16> all_recipe_steps = {
    RecipeDo::Add,        RecipeDo::Keep,      RecipeDo::TakeAway,  RecipeDo::Invert,
    RecipeDo::Levels,     RecipeDo::Curve,     RecipeDo::Threshold, RecipeDo::Tint,
    RecipeDo::Choke,      RecipeDo::Spread,    RecipeDo::Smooth,    RecipeDo::Sharpen,
    RecipeDo::RemoveThin, RecipeDo::FillHoles, RecipeDo::KeepAway,  RecipeDo::Outline};
[[nodiscard]] const char *to_string(RecipeDo step); ///< "add", "keep", "take away" …
[[nodiscard]] Outcome<RecipeDo> parse_recipe_do(std::string_view name);

struct RecipeStep
{
    RecipeDo does = RecipeDo::Add;
    RecipeSource source;      ///< of Add, Keep, TakeAway, KeepAway
    double amount = 1;        ///< 0 to 1
    double low = 0, high = 1; ///< of Levels, 0 to 1
    ToneCurve curve;          ///< of Curve
    /// mm, 0 to 10. Of Add, Keep and TakeAway the source is first choked by it, or spread when it is
    /// negative.
    double distance = 0;
    /// Choke, Spread, and the distance of a source: tones keep their values, as in photos; else the edge is
    /// where coverage crosses one half.
    bool tonal = false;
    friend bool operator==(const RecipeStep &, const RecipeStep &) = default;
};

using Recipe = std::vector<RecipeStep>; ///< none: the plate is what the artwork and its routes make it

/// Whether the step looks at a source.
[[nodiscard]] bool has_source(RecipeDo step);
/// Whether it cannot do without a distance.
[[nodiscard]] bool has_distance(RecipeDo step);

/// The plates that \p recipe looks at.
[[nodiscard]] std::vector<std::string> plates_read(const Recipe &recipe);

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
    std::string ink;     ///< a name for the plate
    Lab solid{96, 0, 0}; ///< and its colour
    /// What it does to all plates that print colour, by a step at their end; empty = nothing. "" stands for
    /// the new plate.
    Recipe others;
    bool on_top = false; ///< printed last, else first
};
/// What ready-made recipes may look at.
struct PresetTable
{
    std::vector<std::string> inks; ///< plates of the artwork, white, varnish and the like left out
    std::string base;              ///< the first white plate that is computed; may be empty
    std::vector<Rect> folds;       ///< mm as of Drawn, lines without width
    bool tonal = false;            ///< the artwork holds gradients, or what fades
};
[[nodiscard]] std::vector<RecipePreset> recipe_presets(const PresetTable &table);

} // namespace bichrom
