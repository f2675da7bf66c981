#include "core/artwork/page_boxes.h"

#include <algorithm>

namespace bichrom {

namespace {

Rect united(const Rect &a, const Rect &b)
{
    const double left = std::min(a.x, b.x), low = std::min(a.y, b.y);
    return {left, low, std::max(a.x + a.width, b.x + b.width) - left,
            std::max(a.y + a.height, b.y + b.height) - low};
}

} // namespace

Rect box_within(const PageInfo &page, PageBox which, PageBox origin)
{
    return rect_within(page, page.box(which), origin);
}

Rect rect_within(const PageInfo &page, const Rect &w, PageBox origin)
{
    const Rect &o = page.box(origin);
    const double left = w.x - o.x;
    const double right = o.x + o.width - (w.x + w.width);
    const double bottom = w.y - o.y;
    const double top = o.y + o.height - (w.y + w.height);
    switch (page.rotate) { // clockwise: the left side of the page turns to the top
    case 90:
        return {bottom, left, w.height, w.width};
    case 180:
        return {right, bottom, w.width, w.height};
    case 270:
        return {top, right, w.height, w.width};
    default:
        return {left, top, w.width, w.height};
    }
}

void add_bleed(PageInfo &page, double across, double along)
{
    const Rect &trim = page.box(PageBox::Trim);
    const bool turned = page.rotate % 180 != 0;
    const double x = turned ? along : across, y = turned ? across : along;
    const Rect bleed = {trim.x - x, trim.y - y, trim.width + 2 * x, trim.height + 2 * y};
    for (const PageBox which : {PageBox::Media, PageBox::Crop, PageBox::Bleed}) {
        const auto at = static_cast<std::size_t>(which);
        page.boxes[at] = which == PageBox::Bleed ? bleed : united(page.boxes[at], bleed);
        page.written[at] = page.written[at] || which == PageBox::Bleed;
        page.raw[at] = page.written[at] ? page.boxes[at] : Rect{};
    }
    if (const auto art = static_cast<std::size_t>(PageBox::Art);
        !page.written[art]) { // ISO 32000-1, table 30
        page.boxes[art] = page.box(PageBox::Crop);
    }
}

std::pair<double, double> own_corner(const PageInfo &page)
{
    const Rect own = rect_within(page, page.own_media, PageBox::Media);
    return {own.x, own.y};
}

} // namespace bichrom
