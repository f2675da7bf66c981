/// \file
/// Pictures and SVG as PDF, in this process: what the helper program does. Nobody else links it, so that the
/// libraries that read SVG are loaded by the helper alone.
/// Layer: core/artwork.
#pragma once

#include "core/artwork/intake/normalise.h"

#include <cstddef>
#include <span>

namespace bichrom {

/// Converts without limits of its own.
/// WrongFormat for kinds other than pictures and SVG; as the readers.
[[nodiscard]] Outcome<NormalisedInput> convert_picture(std::span<const std::byte> bytes,
                                                       const IntakeOptions &options);

/// What the helper program does: reads \p input, writes \p output (a PDF) and prints what it assumed,
/// a line each. \return 0, or 1 after printing an error
int run_intake(int argc, char **argv);

} // namespace bichrom
