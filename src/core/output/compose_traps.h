/// \file
/// Traps as PDF operators.
/// Layer: core/output, private.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/line/plate_line.h"

namespace bichrom {

/// Adds the traps of \p plate_line to \p page as shapes that overprint: each is painted on its plate alone,
/// and what draws back is painted bare, or in the tone that is left. Errors as PlateLine::page_traps().
[[nodiscard]] Done add_traps(VectorPage &page, const PlateLine &plate_line, const JobControl &control);

} // namespace bichrom
