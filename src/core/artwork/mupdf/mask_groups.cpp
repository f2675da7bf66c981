#include "core/artwork/mupdf/mask_groups.h"

#include <mutex>

namespace bichrom {

namespace {

decltype(fz_device::begin_mask) own_begin_mask = nullptr;
decltype(fz_device::begin_group) own_begin_group = nullptr;
decltype(fz_device::end_mask) own_end_mask = nullptr;

/// Whether a mask has been opened on this thread and its group has not.
thread_local bool mask_waits = false;

void begin_mask(fz_context *ctx, fz_device *device, fz_rect area, int luminosity, fz_colorspace *space,
                const float *backdrop, fz_color_params params)
{
    mask_waits = true;
    own_begin_mask(ctx, device, area, luminosity, space, backdrop, params);
}

void begin_group(fz_context *ctx, fz_device *device, fz_rect area, fz_colorspace *space, int isolated,
                 int knockout, int blend, float alpha)
{
    if (mask_waits) {
        blend = FZ_BLEND_NORMAL;
        alpha = 1;
        mask_waits = false;
    }
    own_begin_group(ctx, device, area, space, isolated, knockout, blend, alpha);
}

void end_mask(fz_context *ctx, fz_device *device)
{
    mask_waits = false; // one that has no group
    own_end_mask(ctx, device);
}

} // namespace

void correct_mask_groups(fz_device *list_device)
{
    static std::once_flag once;
    std::call_once(once, [list_device] {
        own_begin_mask = list_device->begin_mask;
        own_begin_group = list_device->begin_group;
        own_end_mask = list_device->end_mask;
    });
    mask_waits = false; // of a page given up in the middle of one
    list_device->begin_mask = begin_mask;
    list_device->begin_group = begin_group;
    list_device->end_mask = end_mask;
}

} // namespace bichrom
