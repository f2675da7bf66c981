#include "core/output/compose_parts.h"

#include "core/artwork/page_boxes.h"

#include <algorithm>

namespace bichrom {

std::array<double, 4> look_of(const Plate &plate, const ProcessProfile &condition)
{
    std::array<double, 4> look{};
    if (const int channel = process_channel(plate.ink); channel >= 0) {
        look[static_cast<std::size_t>(channel)] = 1;
    } else {
        const Cmyk cmyk = condition.from_lab(plate.shown());
        std::copy(cmyk.begin(), cmyk.end(), look.begin());
    }
    return look;
}

void add_boxes(QPDFObjectHandle page, const PageInfo &info, double height)
{
    for (const auto &[which, key] :
         {std::pair(PageBox::Media, "/MediaBox"), std::pair(PageBox::Bleed, "/BleedBox"),
          std::pair(PageBox::Trim, "/TrimBox")}) {
        const Rect box = box_within(info, which, PageBox::Media); // mm, y down
        const double scale = points_per_inch / millimetres_per_inch;
        QPDFObjectHandle corners = QPDFObjectHandle::newArray();
        for (const double value : {box.x * scale, height - (box.y + box.height) * scale,
                                   (box.x + box.width) * scale, height - box.y * scale}) {
            corners.appendItem(QPDFObjectHandle::newReal(format_number(std::max(0.0, value), 5)));
        }
        page.replaceKey(key, corners);
    }
}

} // namespace bichrom
