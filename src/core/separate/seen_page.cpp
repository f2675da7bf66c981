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
    const auto line =
        PlateLine::make(*page, std::vector<std::string>(process_names.begin(), process_names.end()), control);
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
