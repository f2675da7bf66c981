#include "core/separate/seen_page.h"

#include "core/line/plate_line.h"
#include "core/proof/original_view.h"

#include <algorithm>

namespace bichrom {

Outcome<SeenPage> see_original(const OpenedJob &opened, int side, const JobControl &control)
{
    const Job &job = opened.job;
    const auto page = opened.artwork->interpret(job.page, PageBox::Media, job.colours, control);
    if (!page) {
        return page.error();
    }
    SeenPage seen;
    seen.page = *page;
    seen.resolution = Dpi(side * points_per_inch / std::max((*page)->width().value, (*page)->height().value));
    const auto scene = shared_scene(**page, control);
    if (!scene) {
        return scene.error();
    }
    // With the page's own inks: what prints on no plate would count as bare.
    std::vector<std::string> inks(process_names.begin(), process_names.end());
    for (const FoundInk &ink : (*scene)->inks) {
        if (std::find(inks.begin(), inks.end(), ink.name) == inks.end()) {
            inks.push_back(ink.name);
        }
    }
    const auto line = PlateLine::make(*page, std::move(inks), control);
    if (!line) {
        return line.error();
    }
    const PixelRect extent = (*line)->extent(seen.resolution);
    seen.width = extent.width;
    seen.height = extent.height;
    const auto tile = (*line)->whole_page(seen.resolution, Edges::Seen, control);
    if (!tile) {
        return tile.error();
    }
    const auto view = OriginalView::make(*page, control);
    if (!view) {
        return view.error();
    }
    auto pixels = (*view)->render(extent, seen.resolution, Edges::Smooth, control);
    if (!pixels) {
        return pixels.error();
    }
    seen.pixels = std::move(*pixels);
    constexpr std::uint8_t wholly = 250;
    for (const std::uint8_t area : tile->area.pixels) {
        seen.painted.push_back(area >= wholly);
    }
    return seen;
}

} // namespace bichrom
