/// \file
/// What a PageContent holds: MuPDF's recorded page.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/artwork.h"
#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/notes.h"
#include "core/artwork/mupdf/picture_faults.h"
#include "core/artwork/mupdf/runtime.h"
#include "core/artwork/page_memory.h"
#include "core/artwork/placed_artwork.h"

#include <array>
#include <optional>

namespace bichrom {

struct Scene;

/// Where bleed is made of a page; mm from its top left, y down.
struct BleedPlace
{
    BleedBy by = BleedBy::Mirror;
    Rect trim, bleed;
    Rect own; ///< the media box of the file: what lies beside both does not print
};

struct PageContent::Impl
{
    std::shared_ptr<MupdfRuntime> runtime;
    std::shared_ptr<const void> document;       ///< Type 3 glyphs are interpreted by it when painted
    fz_display_list *list = nullptr;            ///< kept
    std::vector<fz_rect> group_bounds;          ///< see find_group_bounds()
    std::shared_ptr<const PageColours> colours; ///< never null
    double width = 0, height = 0;               ///< points
    std::array<Rect, 5> boxes;                  ///< by PageBox; mm from the page's top left, y down
    std::optional<BleedPlace> made_bleed{};
    std::string place;
    std::vector<std::string> warnings;
    mutable PageMemory memory;
    std::shared_ptr<PageMemory>
        shared_memory; ///< of all pages of the file, for what is of no page; never null
    mutable PictureFaults pictures;
    mutable DamageLog damage; ///< grows while the page is read and painted
    mutable std::mutex scene_guard;
    mutable std::shared_ptr<const Scene> scene; ///< once it is recorded

    ~Impl()
    {
        if (list != nullptr) {
            const auto lease = runtime->lease();
            fz_drop_display_list(lease.ctx(), list);
        }
    }
};

/// Gives the notes of the interpretation that are about fonts the object that follows them in the recorded
/// page. Defined beside the recording device.
void find_noted_objects(const PageContent::Impl &page, NoteScope &notes);

} // namespace bichrom
