/// \file
/// Soft masks as they are meant, whatever their object's own strength is.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// Makes \p list_device record the group of a soft mask at full strength, blended as usual: MuPDF 1.21 gives
/// it the strength of the object that is masked, which then is taken twice (ISO 32000-1, 11.6.5.3: a mask's
/// group is composited from nothing, with a strength of 1).
void correct_mask_groups(fz_device *list_device);

} // namespace bichrom
