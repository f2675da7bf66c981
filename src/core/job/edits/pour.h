/// \file
/// Objects and areas poured into the recipe of a plate by hand.
/// Layer: core/job/edits. May use core/job.
#pragma once

#include "core/job/job.h"

#include <string>

namespace bichrom {

/// How something is poured.
struct Pouring
{
    int step = -1;     ///< of the recipe, by number: the one that is being worked on; −1 = none
    bool away = false; ///< taken away instead of added
};

/// Pours an object into the recipe of \p ink's plate; one that was poured there before is taken out again.
/// It goes to the step that is being worked on where that looks at objects of the same artwork, whatever the
/// step does with them. Else it is added by the first step that adds objects, or by a new one before all
/// others, so that these work on it too; or, away, it leaves the steps that add it, and when none does, a
/// step at the end takes it away. \param artwork  that the object is of \return the job as it was when there
/// is no such plate, or its plate has no recipe
[[nodiscard]] Job pour_object(Job job, const std::string &ink, int artwork, const ObjectMark &object,
                              const Pouring &how = {});

/// The same for an area, mm as of RecipeFrom::Drawn; it is not looked for in the steps. A plate without a
/// recipe begins one: what artwork and routes make, and the area added to it or taken away from it.
[[nodiscard]] Job pour_area(Job job, const std::string &ink, const Rect &area, const Pouring &how = {});

} // namespace bichrom
