#include "core/plates/draw_guard.h"

#include "core/artwork/mupdf/notes.h"

#include <mutex>

namespace bichrom {

namespace {

/// The draw device's own function \p Member, the same for all draw devices, behind a guard.
template <auto Member> struct Guarded;
template <typename... Args, void (*fz_device::*Member)(fz_context *, fz_device *, Args...)>
struct Guarded<Member>
{
    static inline void (*own)(fz_context *, fz_device *, Args...) = nullptr;
    static void paint(fz_context *ctx, fz_device *device, Args... args) { own(ctx, device, args...); }
};

template <auto... Members> struct AllGuarded
{
    static void remember(fz_device *device) { ((Guarded<Members>::own = device->*Members), ...); }
    static void replace(fz_device *device)
    {
        ((device->*Members = Tolerant<Guarded<Members>::paint>::call), ...);
    }
};

using Painting = AllGuarded<&fz_device::fill_path, &fz_device::stroke_path, &fz_device::fill_text,
                            &fz_device::stroke_text, &fz_device::fill_shade, &fz_device::fill_image,
                            &fz_device::fill_image_mask>;

} // namespace

void guard_draw_device(fz_device *draw_device)
{
    static std::once_flag once;
    std::call_once(once, [draw_device] { Painting::remember(draw_device); });
    Painting::replace(draw_device);
}

} // namespace bichrom
