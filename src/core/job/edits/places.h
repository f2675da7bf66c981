/// \file
/// Every place on the page that a job remembers.
/// Layer: core/job/edits, private to it. May use core/job.
#pragma once

#include "core/job/job.h"

#include <functional>

namespace bichrom {

/// Moves all of them. \p move takes and gives a rectangle, mm from the media box's top left, and the page
/// that it is on: of what is on all pages the one that is worked on. Placed artworks are not moved.
void move_places(Job &job, const std::function<Rect(const Rect &place, int page)> &move);

} // namespace bichrom
