/// \file
/// Plates that an artist asks for by a name, a kind, the colours found, or a ready-made recipe.
/// Layer: core/job/edits. May use core/job, core/colour.
#pragma once

#include "core/artwork/found_colours.h"
#include "core/colour/ink_book.h"
#include "core/job/job.h"

#include <string>
#include <vector>

namespace bichrom {

/// Adds a plate. What \p book knows of the ink holds; else colour comes from the artwork that names it, kind,
/// opacity and place in the order from what its name says (use_named()); a name that says nothing leaves the
/// plate without a colour of its own, until something is sent to it.
/// \return OutOfRange for an ink without a name, and for one that has a plate already
[[nodiscard]] Outcome<Job> add_named_plate(Job job, const std::string &ink, const InkBook &book,
                                           const Scene &scene);

/// Says what the ink of a plate does. White, varnish and technical inks that had a colour to be seen by keep
/// it for the screen only: they are white, clear and nothing in print. The plate takes its place in the
/// order: white first (on film seen from behind, last), then colours, foil, varnish, technical. \return
/// OutOfRange when there is no such plate
[[nodiscard]] Outcome<Job> declare_kind(Job job, const std::string &ink, InkUse kind);

/// Groups of colours beyond which no plate of its own is offered for each: nobody prints more.
inline constexpr std::size_t most_groups_to_plates = 64;

/// A plate of its own for each of \p groups, solid, in the group's colour, and the routes to it. Its name is
/// that of the nearest ink of \p book within ΔE 12 that is free, else "Colour 1", "Colour 2" … Left out are
/// groups without ink, of pictures and shadings, of registration colour, those that are one spot ink at its
/// own plate already, and what a route sends to plates already. A colour that asks for the same inks as
/// another in the same proportion, but less, is no plate of its own but a tint of that one's. Process plates
/// that nothing reaches any more go, where the artwork has only this page. \param tolerance, measure  that
/// the groups were made by
[[nodiscard]] Job plates_from_colours(Job job, const Scene &scene, const std::vector<ColourGroup> &groups,
                                      double tolerance, ColourMeasure measure, const InkBook &book,
                                      bool only_page);

/// What ready-made recipes may look at in \p job and its page. \param folds  mm as of RecipeFrom::Drawn
[[nodiscard]] PresetTable preset_table(const Job &job, const Scene &scene, std::vector<Rect> folds = {});

/// Whether colours print on the page's stock that need white under or behind them, and no plate is white or
/// named so.
[[nodiscard]] bool lacks_white(const Job &job);
/// The ready-made recipe of that white: behind the colours of clear film, else a base.
[[nodiscard]] RecipePreset usual_white(const Job &job, const Scene &scene);

/// The job with the preset's plate, and what it does to others.
struct MadePlate
{
    Job job;
    std::string ink; ///< of the new plate
};
/// \param ink  a name for the plate; empty = the preset's, made free
/// \return OutOfRange when \p ink has a plate already
[[nodiscard]] Outcome<MadePlate> make_preset_plate(Job job, const RecipePreset &preset,
                                                   const std::string &ink = {});

} // namespace bichrom
