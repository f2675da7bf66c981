/// \file
/// How much ink lies where a picture is.
/// Layer: core/line.
#pragma once

#include "core/base/job_control.h"
#include "core/line/plate_line.h"

#include <string>
#include <vector>

namespace bichrom {

struct PictureInk
{
    std::vector<std::string> inks; ///< that print there, in the line's order
    double most = 0, mean = 0;     ///< of all \c inks together at a pixel, 1 = one solid
};

/// \param area   points from the page's top left, as of a SceneObject
/// \param inks   those that count
/// Looked at with about half a million pixels; a tone under one percent prints nothing. OutOfRange for an
/// area without size, else as PlateLine::render().
[[nodiscard]] Outcome<PictureInk> ink_of_picture(const PlateLine &line, const Rect &area,
                                                 const std::vector<std::string> &inks,
                                                 const JobControl &control = {});

} // namespace bichrom
