/// \file
/// A draw device that goes on after an object it cannot paint.
/// Layer: core/page, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// MuPDF switches a device off at its first error, and everything after it is lost in silence. Guarded, an
/// object that fails is told to the thread's NoteScope and the rest is painted. Enlarged pictures are painted
/// as their pixels unless they ask to be interpolated. Faint pictures and shadings leave of other planes what
/// they let through, or all of it where they overprint.
/// \pre the device has no matrix of its own
/// \param box  that it paints at most; it is used by this thread before it guards another
void guard_draw_device(fz_device *draw_device, fz_irect box);

/// Makes tones of planes the nearest of 256: MuPDF cuts them down. Last of all that is done to a device.
/// \param crisp  it is one of make_crisp()
void make_tones_exact(fz_device *draw_device, bool crisp);

} // namespace bichrom
