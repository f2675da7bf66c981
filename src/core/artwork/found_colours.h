/// \file
/// The distinct colours of a scene.
/// Layer: core/artwork.
#pragma once

#include "core/artwork/scene.h"

#include <set>

namespace bichrom {

/// The scene's distinct colours but for those of images and shadings, which have no single colour. Lent by
/// it.
[[nodiscard]] std::vector<const FoundColour *> find_colours(const Scene &scene);

/// How far apart colours are.
enum class ColourMeasure
{
    DeltaE,    ///< CIEDE2000 of what they look like
    Colourants ///< largest difference of a colourant, in percent, within the same space
};

/// The distance of two colours with values; huge for colourants of different spaces, and between registration
/// colour, white, varnish, foil or technical inks (as their names say) and any others.
[[nodiscard]] double colour_distance(const FoundColour &a, const FoundColour &b, ColourMeasure measure);

/// Colours that look nearly alike.
struct ColourGroup
{
    std::vector<int> members; ///< into the scene's colours, the leader first
    double spread = 0;        ///< largest distance from the leader
};

/// Puts colours within \p tolerance (of \p measure, 0 and more) of a leader into one group. The colour that
/// covers most leads, and with 0 each colour stays by itself, even beside its double under another name: \p
/// areas, one a colour of the scene in any unit, or the number of objects where it is empty. Every colour
/// stands in exactly one group; images and shadings stay by themselves, and so do colours of different
/// artworks.
[[nodiscard]] std::vector<ColourGroup> group_colours(const std::vector<FoundColour> &colours,
                                                     const std::vector<double> &areas, double tolerance,
                                                     ColourMeasure measure = ColourMeasure::DeltaE);

/// Whether anything of the page names \p ink.
[[nodiscard]] bool holds_ink(const Scene &scene, const std::string &ink);

/// The artworks of the page (0 = the first file, else ids of placed ones) that name \p ink.
[[nodiscard]] std::set<int> artworks_with(const Scene &scene, const std::string &ink);

/// "DeviceCMYK 0 0 0 100 %", "Separation Luna Green 60 %" and so on, for people.
[[nodiscard]] std::string describe(const ColourUse &colour);

} // namespace bichrom
