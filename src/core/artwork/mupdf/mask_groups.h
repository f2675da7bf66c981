/// \file
/// Soft masks as they are meant, whatever their object's own strength is.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// Makes \p list_device record the group of a soft mask at full strength, blended as usual: MuPDF 1.21 gives
/// it the strength of the object that is masked, which then is taken twice (ISO 32000-1, 11.6.6: the
/// contents of a group begin with a strength of 1; section from memory).
void correct_mask_groups(fz_device *list_device);

} // namespace bichrom
