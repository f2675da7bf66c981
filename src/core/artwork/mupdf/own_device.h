/// \file
/// A MuPDF device of our own: its state, and running a page through it.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

namespace bichrom {

/// A device whose callbacks find a \p State of C++ behind it.
template <class State> struct OwnDevice
{
    fz_device super;
    State *state;

    [[nodiscard]] static State &of(fz_device *device)
    {
        return *reinterpret_cast<OwnDevice *>(device)->state;
    }
    /// A new device with a new state, which goes with it.
    [[nodiscard]] static OwnDevice *make(fz_context *ctx)
    {
        OwnDevice *device = fz_new_derived_device(ctx, OwnDevice);
        device->state = new State();
        device->super.drop_device = [](fz_context *, fz_device *gone) { delete &of(gone); };
        return device;
    }
};

/// Runs the whole of \p list through \p device, closes and drops it; drops it also when MuPDF throws.
/// \return false when the device was switched off on the way, so that it saw only part of the page
inline bool run_and_drop(fz_context *ctx, fz_display_list *list, fz_device *device, fz_cookie *cookie)
{
    const bool fills = device->fill_path != nullptr;
    bool whole = true;
    fz_var(whole);
    fz_try(ctx)
    {
        fz_run_display_list(ctx, list, device, fz_identity, fz_infinite_rect, cookie);
        whole = (device->fill_path != nullptr) == fills;
        fz_close_device(ctx, device);
    }
    fz_always(ctx)
    {
        fz_drop_device(ctx, device);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
    return whole;
}

} // namespace bichrom
