/// \file
/// A film turned to lie across, so that more of them share one.
/// Layer: core/output, private.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"

#include <filesystem>

namespace bichrom {

/// Writes the film in \p from, a 1-bit TIFF, turned by 90° clockwise into \p to: its left edge becomes the
/// upper one, pixel by pixel. \return CannotRead, CannotWrite, DiskFull, TooLarge, Cancelled; then there is
/// no new file
[[nodiscard]] Done turn_film(const std::filesystem::path &from, const std::filesystem::path &to,
                             const JobControl &control);

} // namespace bichrom
