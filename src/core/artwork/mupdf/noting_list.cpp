#include "core/artwork/mupdf/noting_list.h"

#include "core/artwork/mupdf/notes.h"

#include <mutex>
#include <string>

namespace bichrom {

namespace {

/// The list device's own function \p Member, the same for all list devices, behind the marks.
template <auto Member> struct Marked;
template <typename... Args, void (*fz_device::*Member)(fz_context *, fz_device *, Args...)>
struct Marked<Member>
{
    static inline void (*own)(fz_context *, fz_device *, Args...) = nullptr;

    static void call(fz_context *ctx, fz_device *device, Args... args)
    {
        if (NoteScope *scope = NoteScope::current()) {
            for (int note = scope->next_unmarked(); note >= 0; note = scope->next_unmarked()) {
                char name[40] = {};
                fz_snprintf(name, sizeof name, "%s%d", note_layer_prefix.data(), note);
                fz_begin_layer(ctx, device, name);
                fz_end_layer(ctx, device);
            }
        }
        own(ctx, device, args...);
    }
};

template <auto... Members> struct AllMarked
{
    static void remember(fz_device *device) { ((Marked<Members>::own = device->*Members), ...); }
    static void replace(fz_device *device) { ((device->*Members = Marked<Members>::call), ...); }
};

using Painting =
    AllMarked<&fz_device::fill_path, &fz_device::stroke_path, &fz_device::fill_text, &fz_device::stroke_text,
              &fz_device::fill_shade, &fz_device::fill_image, &fz_device::fill_image_mask>;

} // namespace

void mark_notes(fz_device *list_device)
{
    static std::once_flag once;
    std::call_once(once, [list_device] { Painting::remember(list_device); });
    Painting::replace(list_device);
}

} // namespace bichrom
