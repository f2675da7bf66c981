/// \file
/// Routes: what happens to a colour, an object, a layer or an ink of the artwork.
/// Layer: core/job. May use core/artwork, core/colour.
#pragma once

#include "core/artwork/found_colours.h"
#include "core/base/outcome.h"
#include "core/base/page_list.h"
#include "core/colour/black_generation.h"
#include "core/colour/ink_control.h"
#include "core/colour/tone_curve.h"

#include <array>
#include <cstdint>
#include <string>
#include <vector>

namespace bichrom {

/// What a route looks at.
enum class RouteBy
{
    Objects, ///< chosen objects, pictures among them
    Layer,
    Colour,  ///< one colour exactly as written
    Similar, ///< colours that look like one
    Ink      ///< every use of an ink: in tints, mixtures, shadings and pictures
};
inline constexpr std::array<RouteBy, 5> all_route_kinds = {RouteBy::Objects, RouteBy::Layer, RouteBy::Colour,
                                                           RouteBy::Similar, RouteBy::Ink};
[[nodiscard]] const char *to_string(RouteBy by); ///< "objects", "layer", "colour", "similar", "ink"
[[nodiscard]] Outcome<RouteBy> parse_route_by(std::string_view name);

/// What becomes of it.
enum class RouteTo
{
    Plates,   ///< prints on the plates named
    Process,  ///< prints as its process build, whatever its inks are called
    Nothing,  ///< leaves no trace; what lies under it stays
    BareStock ///< knocks out everything under it and prints nothing
};
inline constexpr std::array<RouteTo, 4> all_route_ends = {RouteTo::Plates, RouteTo::Process, RouteTo::Nothing,
                                                          RouteTo::BareStock};
[[nodiscard]] const char *to_string(RouteTo to); ///< "plates", "process", "nothing", "bare stock"
[[nodiscard]] Outcome<RouteTo> parse_route_to(std::string_view name);

/// One plate that a route prints on.
struct RouteTarget
{
    std::string ink;       ///< of the plate
    bool own_tint = false; ///< the strength of what is routed, times tint; else tint everywhere
    double tint = 1;       ///< 0 to 1
    ToneCurve curve;       ///< from own strength to tone, before tint is applied; of what is separated last
    InkControl control{};  ///< of what is separated
    friend bool operator==(const RouteTarget &, const RouteTarget &) = default;
};

/// An object as it was when it was chosen.
struct ObjectMark
{
    int page = 1;
    int index = 0; ///< in its artwork's order of painting on that page
    ObjectKind kind = ObjectKind::Fill;
    Rect bounds; ///< mm from the media box's top left; tells the object again in a revised file
    friend bool operator==(const ObjectMark &, const ObjectMark &) = default;
};

/// A colour of flat artwork in a picture, and where it goes.
struct PaletteTarget
{
    std::array<std::uint8_t, 3> rgb{}; ///< sRGB as encoded
    std::string ink;                   ///< of the plate; empty = it is background and prints nothing
    double tint = 1;                   ///< 0 to 1
    friend bool operator==(const PaletteTarget &, const PaletteTarget &) = default;
};

/// How a picture of flat colours is taken apart.
struct PaletteSplit
{
    std::vector<PaletteTarget> colours; ///< none: the picture is no flat artwork
    double tolerance = 0.08;            ///< 0 to 1, black to white; see raster/unmix.h
    int despeckle = 0;                  ///< pixels
    bool outlines = false;              ///< painted as smooth outlines, crisp at any resolution
    friend bool operator==(const PaletteSplit &, const PaletteSplit &) = default;
};

/// A separated picture as square dots of one ink each, as large as said: no halftone is needed.
struct IndexDots
{
    static constexpr double least_mm = 0.05, most_mm = 5;
    double size_mm = 0;   ///< a side; 0 = tones
    bool diffused = true; ///< what a dot is off goes to its neighbours; else each is its nearest colour
    [[nodiscard]] bool wanted() const { return size_mm > 0; }
    friend bool operator==(const IndexDots &, const IndexDots &) = default;
};
/// "0.2mm", "0.2mm,even": not diffused; empty and 0: tones. OutOfRange.
[[nodiscard]] Outcome<IndexDots> parse_index_dots(std::string_view text);

inline constexpr double least_ink_limit = 0.5, most_ink_limit = 10; ///< of a separation, in solids
/// A limit in percent as one of a route: empty and 0 say none. OutOfRange.
[[nodiscard]] Outcome<double> parse_ink_limit(std::string_view percent);

/// One decision. Of several routes that fit an object the first in the job's list decides; routes by ink come
/// after all others, and act on each ink of a colour by itself. What no route takes prints
/// as it is, where the job has plates for its inks.
struct Route
{
    RouteBy by = RouteBy::Colour;
    PageList pages;       ///< that it holds for; objects say their own
    int artwork = 0;      ///< whose colours it takes: 0 = the first file, else the id of a placed one
    ColourUse colour;     ///< Colour, Similar
    Lab appearance;       ///< of colour, for Similar
    double tolerance = 0; ///< Similar: ΔE or percent, inclusive
    ColourMeasure measure = ColourMeasure::DeltaE; ///< Similar
    std::string name;                              ///< of the ink or layer
    std::vector<ObjectMark> objects;               ///< Objects
    RouteTo to = RouteTo::Plates;
    std::vector<RouteTarget> targets; ///< of Plates, one a plate
    PaletteSplit split;               ///< of Plates, for pictures: its colours say what the targets get
    /// Of Plates: the tones of all targets are solved together, so that the print looks like the picture;
    /// tints do not count, curves and controls come on top. At most ColourTable::most_inks targets.
    bool separated = false;
    /// Of separated: the most ink at a point, of all targets together, least_ink_limit to most_ink_limit,
    /// 1 = one solid; 0 = none.
    double ink_limit = 0;
    IndexDots dots;        ///< of separated, for pictures
    BlackGeneration black; ///< of Process, for pictures
    friend bool operator==(const Route &, const Route &) = default;
};

/// What a route is asked about.
struct RoutedObject
{
    int page = 1;
    int index = 0; ///< in its artwork's order of painting
    std::string layer;
    const FoundColour *colour = nullptr; ///< never null; says which artwork it is of
};

/// Whether \p route, of any kind but by ink, takes \p object. Colours of pictures and shadings have no values
/// and are taken by object or layer only.
[[nodiscard]] bool takes(const Route &route, const RoutedObject &object);

/// The first of \p routes that takes \p object, or −1.
[[nodiscard]] int deciding_route(const std::vector<Route> &routes, const RoutedObject &object);

/// The first route by ink for \p ink of \p artwork on \p page, or −1.
[[nodiscard]] int ink_route(const std::vector<Route> &routes, const std::string &ink, int page,
                            int artwork = 0);

/// How strong a flat colour is, 0 to 1: its strongest ink.
[[nodiscard]] float own_strength(const FoundColour &colour);

/// What reaches the plates of \p object's colour.
struct Reach
{
    int route = -1;                ///< of those by object, layer or colour; −1 when none decides
    std::vector<InkAmount> plates; ///< tones on plates of the job, above nothing
    bool deliberate = false;       ///< a route says that it does not print
    bool paper_white = false;      ///< no ink in the artwork: it only knocks out
    /// It has ink in the artwork and none on any plate, and nobody wanted it so.
    [[nodiscard]] bool lost() const { return plates.empty() && !deliberate && !paper_white; }
};

/// \param plates  the inks of the job's plates
[[nodiscard]] Reach reach_of(const RoutedObject &object, const std::vector<Route> &routes,
                             const std::vector<std::string> &plates);

/// Puts \p route where it decides over everything less particular: before the first route of a later kind,
/// and instead of one that looks at exactly the same. \return its place
std::size_t add_route(std::vector<Route> &routes, Route route);

/// Sends a picture's flat colours to plates: fills the targets to match. Objects only.
[[nodiscard]] Route with_split(Route route, PaletteSplit split);

/// Whether two routes look at exactly the same, whatever they do with it.
[[nodiscard]] bool same_source(const Route &a, const Route &b);

/// Whether \p route leaves something to the bare stock.
[[nodiscard]] bool leaves_bare(const Route &route);

/// "the colour DeviceCMYK 80 0 100 0 %", "all that looks like … within ΔE 3", "the ink Green", "3 objects on
/// page 1" — for lists and the change slip.
[[nodiscard]] std::string describe_source(const Route &route);
/// "prints on Luna Green", "prints on Rust at 40 %", "does not print" …
[[nodiscard]] std::string describe_end(const Route &route);

} // namespace bichrom
