/// \file
/// What was measured of a plate's tones, read from text.
/// Layer: core/job. May use core/base, core/colour.
#pragma once

#include "core/base/outcome.h"
#include "core/colour/tone_curve.h"

#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// What a reading of a press curve says about how it was made.
struct MeasuredCurve
{
    ToneCurve printed;     ///< tone on film → tone in print
    std::string how;       ///< in words: "10 points", "from Lab, ISO 20654" …
    bool smoothed = false; ///< points fell and were evened out
};

/// A curve through points of film and print, 0 to 1: 0 and 1 are added where they lack, points that fall are
/// evened out with their neighbours (least squares, by pooling). OutOfRange as ToneCurve::through().
[[nodiscard]] Outcome<MeasuredCurve> measured_curve(std::vector<CurvePoint> points);

/// Reads either lines of two percentages, film and print, with blanks or a comma between them (what follows a
/// # is not read); or a CGATS table, whose one ink column that varies is the film's tone, and whose print is
/// taken from LAB_L, LAB_A and LAB_B by spot tone value, or from D_VIS (or D_CYAN, D_MAGENTA, D_YELLOW) by
/// Murray–Davies; it must hold the bare stock and the solid.
/// \param place  for messages. WrongFormat for anything else, with the line; OutOfRange
[[nodiscard]] Outcome<MeasuredCurve> read_measured_curve(std::string_view text, const std::string &place);

} // namespace bichrom
