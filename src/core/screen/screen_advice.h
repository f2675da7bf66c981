/// \file
/// What a plate's screen means for film, mesh and pictures: a number and a sentence each.
/// Layer: core/screen. May use core/job, core/artwork.
#pragma once

#include "core/artwork/scene.h"
#include "core/job/job.h"

#include <string>
#include <vector>

namespace bichrom {

/// A sentence about a plate's screen.
struct ScreenAdvice
{
    std::string ink;
    std::string text;
    bool warns = false; ///< the artist should do something about it
};

/// What can be said of the screens of \p job, in printing order: pixels of a cell and the smallest dots at
/// the film's resolution; threads of the mesh a line, and the dot that the mesh still carries, where the mesh
/// is known; pictures too coarse for the ruling. Limits are common practice, no source: at least 64 pixels a
/// cell, 64 tones of a tile of the shop's own, 4 threads a line (better 4.5 to 5), dots as wide as a mesh
/// opening and two threads, pictures of 1.5 pixels a line. \param scene  of the page, for its pictures
[[nodiscard]] std::vector<ScreenAdvice> screen_advice(const Job &job, const Scene &scene);

} // namespace bichrom
