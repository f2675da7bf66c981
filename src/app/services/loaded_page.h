/// \file
/// A page of the artwork, ready to be shown.
/// Layer: app/services.
#pragma once

#include "core/artwork/scene.h"
#include "core/line/plate_line.h"
#include "core/proof/original_view.h"

#include <memory>

namespace bichrom {

/// Everything computed once when a page is opened or read in another way. Immutable.
struct LoadedPage
{
    std::shared_ptr<const Artwork> artwork; ///< that it is a page of
    PageInfo info;
    PageBox box = PageBox::Media; ///< that the page was interpreted for
    ColourSettings colours;       ///< that it was read by
    std::shared_ptr<const ProcessProfile> condition;
    Scene scene;
    std::vector<Route> routes;                    ///< that the plate lines follow
    std::string computed;                         ///< computed_key() of the job they follow
    std::shared_ptr<const PlateLine> plate_line;  ///< plates in the order of the job's inks then
    std::shared_ptr<const PlateLine> knocked_out; ///< the same as if nothing overprinted
    std::shared_ptr<const OriginalView> original;
    std::shared_ptr<const OriginalView> previous;     ///< of the file that this one replaced; may be null
    std::shared_ptr<const PlateLine> previous_plates; ///< of that file, as they printed
    std::shared_ptr<const PlateLine> revised_plates;  ///< of this one, before anything was routed anew

    [[nodiscard]] const PageContent &content() const { return plate_line->page(); }
};

} // namespace bichrom
