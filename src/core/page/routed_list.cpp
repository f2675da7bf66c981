#include "core/page/routed_list.h"

#include "core/artwork/mupdf/notes.h"

namespace bichrom {

namespace {

constexpr double seconds_allowed = 120.0;

} // namespace

Outcome<fz_display_list *> route_page(fz_context *ctx, const PageContent::Impl &page, ColourRoute &route,
                                      const JobControl &control, RoutedFor use)
{
    fz_display_list *list = nullptr;
    CookieWatch watch(control, seconds_allowed);
    NoteScope notes(ctx);
    bool broken = false;
    const Done done = guarded(ctx, page.place, [&] {
        fz_device *list_device = nullptr;
        fz_device *device = nullptr;
        fz_var(list_device);
        fz_var(device);
        fz_try(ctx)
        {
            const fz_rect bounds = {0, 0, static_cast<float>(page.width), static_cast<float>(page.height)};
            list = fz_new_display_list(ctx, bounds);
            list_device = fz_new_list_device(ctx, list);
            device = new_routing_device(ctx, list_device, &route, &page.pictures, page.group_bounds, use);
            fz_run_display_list(ctx, page.list, device, fz_identity, fz_infinite_rect, watch.cookie());
            broken = device->fill_path == nullptr || list_device->fill_path == nullptr;
            fz_close_device(ctx, device);
            fz_close_device(ctx, list_device);
        }
        fz_always(ctx)
        {
            fz_drop_device(ctx, device);
            fz_drop_device(ctx, list_device);
        }
        fz_catch(ctx)
        {
            fz_rethrow(ctx);
        }
    });
    const Done verdict = watch.verdict(page.place);
    if (verdict && done) {
        if (broken) {
            notes.add("what follows cannot be recorded: the rest of the page is missing");
        }
        (void)notes.sort_into(page.damage);
        return list;
    }
    fz_drop_display_list(ctx, list);
    return verdict ? done.error() : verdict.error();
}

} // namespace bichrom
