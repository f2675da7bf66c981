/// \file
/// Every object a page paints, in painting order, as the file wrote it.
/// Layer: core/artwork. May use core/colour, core/base.
#pragma once

#include "core/artwork/artwork.h"
#include "core/colour/process_profile.h"

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

namespace bichrom {

enum class ObjectKind
{
    Fill,
    Stroke,
    Text,
    StrokedText,
    Image,
    ImageMask, ///< a stencil painted in one colour
    Shading
};
[[nodiscard]] const char *to_string(ObjectKind kind);
[[nodiscard]] Outcome<ObjectKind> parse_object_kind(std::string_view name); ///< as to_string() writes it

/// A colour as written: the space and its components in the file's own order.
struct ColourUse
{
    std::string space;                  ///< "DeviceCMYK", "Separation", "ICCBased", "DeviceRGB", …
    std::string profile;                ///< name of the profile of ICCBased; empty for others
    std::vector<std::string> colorants; ///< names, one a component
    std::vector<float> values;          ///< 0 to 1 (Lab as L*, a*, b*); empty for images and shadings
    friend bool operator==(const ColourUse &, const ColourUse &) = default;
};

/// How much of one ink a colour puts down, 0 to 1.
struct InkAmount
{
    std::string ink;
    float amount = 0;
    friend bool operator==(const InkAmount &, const InkAmount &) = default;
};

/// A distinct colour of a page; pictures and shadings of one space share one without values.
struct FoundColour
{
    ColourUse colour;
    Lab appearance;              ///< of its values in the job's printing condition; media-relative
    Cmyk build{};                ///< its process build, whatever its inks are called
    std::vector<InkAmount> inks; ///< above nothing: those it names, or its process build; of pictures and
                                 ///< shadings all that their space can put down, at 1
    int objects = 0;             ///< painted in it
    int artwork = 0;             ///< that it is of: 0 = the first file, else the id of a placed one
};

/// Text of one font and size within a text object.
struct TextRun
{
    std::string font;
    bool embedded = true;
    double size = 0;  ///< points on the page
    Rect bounds;      ///< points in page space, clipped as painted
    std::string text; ///< the first 60 characters
};

/// How an object is put over what is under it (ISO 32000-1, 11.3.5).
[[nodiscard]] const char *blend_mode_name(int mode);

/// One painted object.
struct SceneObject
{
    int index = 0;     ///< order of painting on the page, from 0
    int artwork = 0;   ///< 0 = the first file, else the id of a placed one
    int own_index = 0; ///< order of painting within its artwork, from 0; stable for a file
    ObjectKind kind = ObjectKind::Fill;
    Rect bounds; ///< points in page space, clipped as painted; of what a tiling pattern repeats, its whole
                 ///< area
    bool clipped_away = false; ///< nothing of it is within its clips or on the page
    bool in_pattern = false;   ///< a cell of a tiling pattern holds it
    bool cut = false;          ///< by a clip that is no upright rectangle
    ColourUse colour;
    int colour_number = 0; ///< into the scene's colours
    bool overprint = false;
    int overprint_mode = 0; ///< OPM of the graphics state
    float alpha = 1.0f;
    int blend = 0;            ///< of the innermost group around it that is not Normal; blend_mode_name()
    float group_alpha = 1.0f; ///< product of the groups around it
    bool soft_masked = false;
    double stroke_width = 0;    ///< points on the page; 0 for the thinnest line the device can draw
    std::vector<TextRun> runs;  ///< text only, in painting order
    std::string font;           ///< text only: of the first run
    bool font_embedded = true;  ///< of all runs
    std::string text;           ///< text only: the first 60 characters, as UTF-8 where the font tells
    double font_size = 0;       ///< points on the page, text only: the smallest of its runs
    int segments = 0;           ///< lines and curves of a path; 0 for others
    bool upright = false;       ///< a path of level and upright lines only, or a picture turned by quarters
    double gradient_length = 0; ///< points on the page, of linear and radial shadings by a function
    double gradient_change = 0; ///< how far their strongest colourant goes, 0 to 1
    std::uint64_t shape = 0;    ///< equal for objects of the same outline or picture at the same place
    int image_width = 0;        ///< image only, pixels
    int image_height = 0;
    int image_bits = 0; ///< of a sample
    int image_channels = 0;
    double image_ppi = 0; ///< effective, the lower of the two directions
    std::string layer;    ///< innermost optional-content name; empty outside
};

/// Whether its tones run: a gradient, or what fades by a soft mask. Pictures are judged by their pixels, not
/// here.
[[nodiscard]] bool is_tonal(const SceneObject &object);

enum class InkKind
{
    Process,
    Spot
};
[[nodiscard]] const char *to_string(InkKind kind);

/// An ink that the page's objects name.
struct FoundInk
{
    std::string name;
    InkKind kind = InkKind::Spot;
    Lab solid;                       ///< of the alternate colour at full tint, over the process paper
    int objects = 0;                 ///< objects that name it
    std::vector<Lab> other_solids{}; ///< that other colour spaces of the same name give it, ΔE00 over 2 apart
};

/// What recording a page gives.
struct Scene
{
    std::vector<SceneObject> objects;
    std::vector<FoundInk> inks;       ///< process first (C, M, Y, K), then spots in order of painting
    std::vector<FoundColour> colours; ///< distinct, in order of first use
    bool uses_overprint = false;
    bool uses_transparency = false;
    bool uses_nonseparable_blend = false;  ///< Hue, Saturation, Color or Luminosity
    bool uses_registration_colour = false; ///< something is painted in the colourant All
};

/// Walks a page and lists what it paints. Objects inside soft masks paint no ink and
/// are left out. CannotRead, TooLarge, Cancelled.
[[nodiscard]] Outcome<Scene> record_scene(const PageContent &page, const JobControl &control = {});
/// The same without a copy: it is recorded once for all who ask. Errors as record_scene().
[[nodiscard]] Outcome<std::shared_ptr<const Scene>> shared_scene(const PageContent &page,
                                                                 const JobControl &control = {});

/// The objects that paint at a point (in page space), first painted first, by index. What soft masks
/// hide, or paint in white, counts too; of tiling patterns, all objects of the cell. As record_scene().
[[nodiscard]] Outcome<std::vector<int>> objects_at(const PageContent &page, Points x, Points y,
                                                   const JobControl &control = {});

/// The index of the object that is \p own_index of \p artwork, or −1.
[[nodiscard]] int object_of(const Scene &scene, int artwork, int own_index);

/// "fill, Separation Luna Green 60 %, overprints": kind, colour as written, and what is special about it.
[[nodiscard]] std::string describe(const SceneObject &object);

} // namespace bichrom
