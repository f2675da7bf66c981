/// \file
/// A recorded page that remembers where its interpretation was complained about.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// Makes \p list_device write a mark (note_layer_prefix) before each object, for every note that the thread's
/// NoteScope received since the object before. PaintingOrder finds them again.
void mark_notes(fz_device *list_device);

} // namespace bichrom
