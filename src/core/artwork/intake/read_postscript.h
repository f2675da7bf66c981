/// \file
/// PostScript and EPS as PDF, through the Ghostscript executable in a process of its own.
/// Layer: core/artwork/intake.
#pragma once

#include "core/artwork/damage.h"
#include "core/base/child_process.h"

#include <cstddef>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// The PostScript inside an EPS file with a binary header, or the bytes themselves.
/// CannotRead when the header points outside the file.
[[nodiscard]] Outcome<std::span<const std::byte>> postscript_part(std::span<const std::byte> bytes);

/// Runs the program in safe mode: it may read no file and write none but the result.
/// \param eps          crops to the bounding box, the exact one when it is given, moved to the origin
/// \param assumptions  what had to be assumed
/// \return CannotRead (with the interpreter's own words), TooLarge (memory or time), FileMissing
///         when Ghostscript is not installed, Cancelled
[[nodiscard]] Outcome<std::vector<std::byte>> postscript_to_pdf(std::span<const std::byte> bytes, bool eps,
                                                                std::vector<std::string> &assumptions,
                                                                std::vector<Damage> &damage,
                                                                const ChildLimits &limits = {},
                                                                const JobControl &control = {});

} // namespace bichrom
