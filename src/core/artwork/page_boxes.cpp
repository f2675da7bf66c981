#include "core/artwork/page_boxes.h"

namespace bichrom {

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

} // namespace bichrom
