#include "core/report/page_pictures.h"

#include "core/proof/original_view.h"
#include "core/proof/print_look.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

Dpi resolution_for(const PageContent &page, int side)
{
    return Dpi(side * points_per_inch / std::max(page.width().value, page.height().value));
}

void draw_frame(ReportPicture &picture, const PixelRect &frame)
{
    const auto paint = [&](int x, int y, std::uint32_t colour) {
        if (x >= 0 && y >= 0 && x < picture.width && y < picture.height) {
            picture.pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(picture.width) +
                           static_cast<std::size_t>(x)] = colour;
        }
    };
    for (int ring = 0; ring < 4; ++ring) {
        const std::uint32_t colour = ring == 0 || ring == 3 ? 0xFF1C1C1Bu : 0xFFE59A1Cu;
        const int left = frame.x - ring, top = frame.y - ring;
        const int right = frame.x + frame.width - 1 + ring, bottom = frame.y + frame.height - 1 + ring;
        for (int x = left; x <= right; ++x) {
            paint(x, top, colour);
            paint(x, bottom, colour);
        }
        for (int y = top; y <= bottom; ++y) {
            paint(left, y, colour);
            paint(right, y, colour);
        }
    }
}

} // namespace

void draw_border(ReportPicture &picture)
{
    constexpr std::uint32_t grey = 0xFF8C8C8Au;
    const auto width = static_cast<std::size_t>(picture.width);
    const auto height = static_cast<std::size_t>(picture.height);
    for (std::size_t x = 0; x < width; ++x) {
        picture.pixels[x] = picture.pixels[(height - 1) * width + x] = grey;
    }
    for (std::size_t y = 0; y < height; ++y) {
        picture.pixels[y * width] = picture.pixels[y * width + width - 1] = grey;
    }
}

Outcome<ReportPicture> picture_of_print(const OpenedJob &opened, int side, const std::string &name,
                                        const JobControl &control)
{
    const Job &job = opened.job;
    const auto content = opened.artwork->interpret(job.page, PageBox::Media, job.colours, control);
    if (!content) {
        return content.error();
    }
    const auto scene = record_scene(**content, control);
    if (!scene) {
        return scene.error();
    }
    // A job that has decided nothing yet shows every ink of the artwork.
    Job shown = job;
    if (shown.plates.empty()) {
        shown.plates = propose_job(*scene, job.name, job.page).plates;
    }
    const auto plate_line = PlateLine::make(*content, setup_of(shown), control);
    if (!plate_line) {
        return plate_line.error();
    }
    const auto condition = condition_of(job.colours);
    if (!condition) {
        return condition.error();
    }
    const Dpi dpi = resolution_for(**content, side);
    const PixelRect extent = (*plate_line)->extent(dpi);
    const auto tile = (*plate_line)->whole_page(dpi, Edges::Seen, control);
    if (!tile) {
        return tile.error();
    }
    ReportPicture picture{name, extent.width, extent.height, {}};
    picture.pixels.resize(static_cast<std::size_t>(extent.width) * static_cast<std::size_t>(extent.height));
    PrintLook(shown, (*plate_line)->inks(), **condition).compose(*tile, picture.pixels);
    draw_border(picture);
    return picture;
}

Outcome<ReportPicture> picture_of_place(const std::shared_ptr<const PageContent> &content, const Rect &area,
                                        const std::string &name, const JobControl &control)
{
    constexpr double room = 8;        // mm shown around the place
    constexpr double least = 30;      // mm shown at least
    constexpr int longest_side = 420; // pixels
    const double page_width = to_millimetres(content->width()).value;
    const double page_height = to_millimetres(content->height()).value;
    const bool whole = area.width <= 0 && area.height <= 0;
    const Rect wanted = whole ? Rect{0, 0, page_width, page_height} : area;
    const double width = std::min(page_width, std::max(least, wanted.width + 2 * room));
    const double height = std::min(page_height, std::max(least, wanted.height + 2 * room));
    const double x =
        std::clamp(wanted.x + (wanted.width - width) / 2, 0.0, std::max(0.0, page_width - width));
    const double y =
        std::clamp(wanted.y + (wanted.height - height) / 2, 0.0, std::max(0.0, page_height - height));
    const Dpi dpi(std::min(600.0, longest_side * millimetres_per_inch / std::max(width, height)));
    const auto pixel = [&](double mm) {
        return static_cast<int>(std::lround(mm * dpi.value / millimetres_per_inch));
    };
    const PixelRect rect = {pixel(x), pixel(y), std::max(1, pixel(width)), std::max(1, pixel(height))};
    const auto view = OriginalView::make(content, control);
    if (!view) {
        return view.error();
    }
    auto pixels = (*view)->render(rect, dpi);
    if (!pixels) {
        return pixels.error();
    }
    ReportPicture picture{name, rect.width, rect.height, std::move(*pixels)};
    if (!whole) {
        draw_frame(picture, {pixel(area.x) - rect.x - 3, pixel(area.y) - rect.y - 3,
                             std::max(8, pixel(area.width) + 6), std::max(8, pixel(area.height) + 6)});
    }
    draw_border(picture);
    return picture;
}

} // namespace bichrom
