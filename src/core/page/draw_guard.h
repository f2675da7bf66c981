/// \file
/// A draw device that goes on after an object it cannot paint.
/// Layer: core/page, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// Crisp pages are painted so many pixels further left, all but their pictures. The rasteriser counts centres on
/// right edges and not those on left ones; moved by less than it tells apart, it is the other way round, as
/// everywhere else.
inline constexpr float crisp_shift = 1.0f / 512;

/// MuPDF switches a device off at its first error, and everything after it is lost in silence. Guarded, an
/// object that fails is told to the thread's NoteScope and the rest is painted. Enlarged pictures are painted
/// as their pixels unless they ask to be interpolated.
void guard_draw_device(fz_device *draw_device);

} // namespace bichrom
