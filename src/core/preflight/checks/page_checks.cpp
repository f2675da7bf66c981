#include "core/preflight/checks/checks.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace bichrom::checks {

void damaged_content(CheckContext &c)
{
    for (const Damage &damage : c.damage) {
        const double mm = millimetres_per_inch / points_per_inch;
        FindingPlace place;
        place.object = damage.object;
        place.measured = damage.note;
        if (damage.object >= 0 && damage.object < static_cast<int>(c.scene.objects.size())) {
            place.area = c.area(c.scene.objects[static_cast<std::size_t>(damage.object)]);
        } else {
            place.object = -1;
            place.area = {damage.area.x * mm, damage.area.y * mm, damage.area.width * mm, damage.area.height * mm};
        }
        c.report(to_string(damage.kind), place, 0, {}, describe(damage.kind));
    }
}

namespace {

bool written(const CheckContext &c, PageBox box)
{
    return c.info.written[static_cast<std::size_t>(box)];
}

const Rect &raw(const CheckContext &c, PageBox box)
{
    return c.info.raw[static_cast<std::size_t>(box)];
}

std::string size_of(const Rect &box)
{
    return format_number(box.width, 1) + " × " + format_number(box.height, 1) + " mm";
}

/// Whether any plate holds ink at pixel x, y; outside the page there is none.
bool inked(const CheckContext &c, int x, int y)
{
    const PixelRect &rect = c.survey.tile.rect;
    if (x < 0 || y < 0 || x >= rect.width || y >= rect.height) {
        return false;
    }
    return std::any_of(c.survey.tile.plates.begin(), c.survey.tile.plates.end(),
                       [&](const Plane &plate) { return plate.at(x, y) > 20; });
}

/// Gap between two rectangles, negative when \p inner crosses \p outer's edge.
double least_gap(const Rect &inner, const Rect &outer)
{
    return std::min({inner.x - outer.x, inner.y - outer.y, outer.x + outer.width - inner.x - inner.width,
                     outer.y + outer.height - inner.y - inner.height});
}

} // namespace

void page_boxes(CheckContext &c)
{
    if (!written(c, PageBox::Trim)) {
        c.report("trim", FindingPlace{-1, {}, "crop box " + size_of(c.box(PageBox::Crop)) + " is taken"}, 1,
                 "a trim box", "The file does not say its trim");
        return;
    }
    const Rect &media = raw(c, PageBox::Media);
    const Rect &trim = raw(c, PageBox::Trim);
    if (written(c, PageBox::Media) && !inside(trim, media, 0.05)) {
        c.report("outside", FindingPlace{-1, {}, size_of(trim) + " in " + size_of(media)}, 3,
                 "trim inside the media box", "The trim reaches outside the sheet");
    }
    if (written(c, PageBox::Bleed) && !inside(trim, raw(c, PageBox::Bleed), 0.05)) {
        c.report("bleed", FindingPlace{-1, {}, size_of(trim) + " in " + size_of(raw(c, PageBox::Bleed))}, 2,
                 "trim inside the bleed box", "The bleed box is smaller than the trim");
    }
    if (written(c, PageBox::Crop) && !inside(trim, raw(c, PageBox::Crop), 0.05)) {
        c.report("crop", FindingPlace{-1, {}, size_of(trim) + " in " + size_of(raw(c, PageBox::Crop))}, 1,
                 "trim inside the crop box", "The crop box cuts into the trim");
    }
}

void sheet_size(CheckContext &c)
{
    const Rect trim = c.box(PageBox::Trim);
    const double wide = std::max(c.rules.press.sheet_width.value, c.rules.press.sheet_height.value);
    const double narrow = std::min(c.rules.press.sheet_width.value, c.rules.press.sheet_height.value);
    if (std::max(trim.width, trim.height) > wide + 0.05 ||
        std::min(trim.width, trim.height) > narrow + 0.05) {
        c.report({}, FindingPlace{-1, trim, size_of(trim)}, 0, "at most " + size_of({0, 0, wide, narrow}));
    }
}

void bleed(CheckContext &c)
{
    const Rect trim = c.box(PageBox::Trim);
    const double asked = c.limit("bleed_mm");
    const double pixel = c.survey.millimetres_per_pixel();
    const double inner = std::max(pixel, 0.3); // just inside the cut
    static constexpr std::array<const char *, 4> sides = {"left", "right", "top", "bottom"};
    for (std::size_t side = 0; side < 4; ++side) {
        const bool upright = side < 2;
        const double edge = side == 0   ? trim.x
                            : side == 1 ? trim.x + trim.width
                            : side == 2 ? trim.y
                                        : trim.y + trim.height;
        const double outwards = side % 2 == 0 ? -1.0 : 1.0;
        const double from = upright ? trim.y : trim.x;
        const double to = upright ? trim.y + trim.height : trim.x + trim.width;
        double missing = 0;
        double first = to;
        double last = from;
        for (double along = from + pixel; along < to - pixel; along += pixel) {
            const auto at = [&](double across) {
                const int a = static_cast<int>(std::floor((edge + outwards * across) / pixel));
                const int b = static_cast<int>(std::floor(along / pixel));
                return upright ? inked(c, a, b) : inked(c, b, a);
            };
            if (at(-inner) && !at(std::max(0.0, asked - pixel))) {
                missing += pixel;
                first = std::min(first, along);
                last = std::max(last, along);
            }
        }
        if (missing > 1.0) {
            const Rect place =
                upright ? Rect{edge - 1, first, 2, last - first} : Rect{first, edge - 1, last - first, 2};
            c.report({},
                     FindingPlace{-1, place,
                                  std::string(sides[side]) + ": " + with_unit(missing, "mm", 0) + " without"},
                     missing, with_unit(asked, "mm", 1));
        }
    }
}

void near_edge(CheckContext &c)
{
    const Rect trim = c.box(PageBox::Trim);
    const double least = c.limit("distance_mm");
    for (const SceneObject &object : c.scene.objects) {
        const Rect area = c.area(object);
        if (is_paper_white(object.colour) || area.width <= 0 || area.height <= 0) {
            continue;
        }
        const double gap = least_gap(area, trim);
        if (gap >= 0 && gap < least - 0.005) {
            c.report("trim", object, with_unit(gap, "mm"), -gap, "at least " + with_unit(least, "mm"),
                     "Too near the trim");
        }
        for (const Fold &fold : c.rules.folds) {
            const double at = fold.at.value + (fold.upright ? trim.x : trim.y);
            const double low = fold.upright ? area.x : area.y;
            const double high = low + (fold.upright ? area.width : area.height);
            const double away = at < low ? low - at : at > high ? at - high : 0.0;
            const bool crosses_freely = away <= 0 && !is_text(object) && object.kind != ObjectKind::Stroke;
            if (away < least - 0.005 && !crosses_freely) {
                c.report("fold", object, with_unit(away, "mm"), -away, "at least " + with_unit(least, "mm"),
                         "Too near a fold");
            }
        }
        for (const Rect &zone : c.rules.keep_out) {
            const Rect there = {zone.x + trim.x, zone.y + trim.y, zone.width, zone.height};
            if (overlaps(area, there)) {
                c.report("keep-out", object, {}, area.width * area.height, "nothing", "In a keep-out zone");
            }
        }
    }
}

void outside_bleed(CheckContext &c)
{
    const Rect bleed_box = written(c, PageBox::Bleed) ? c.box(PageBox::Bleed) : c.box(PageBox::Trim);
    const double room = written(c, PageBox::Bleed) ? 0.0 : c.limit("bleed_mm");
    const Rect kept = {bleed_box.x - room, bleed_box.y - room, bleed_box.width + 2 * room,
                       bleed_box.height + 2 * room};
    for (const SceneObject &object : c.scene.objects) {
        const Rect area = c.area(object);
        const auto &names = object.colour.colorants;
        const bool mark = std::find(names.begin(), names.end(), "All") != names.end();
        if (area.width <= 0 || area.height <= 0) {
            c.report("clipped", object, "nothing of it is on the page", 0, {}, "Object outside the page");
        } else if (!overlaps(area, kept) && !mark) {
            c.report("outside", object, {}, area.width * area.height, {}, "Object outside the bleed");
        }
    }
}

void hidden_layers(CheckContext &c)
{
    for (const Layer &layer : c.artwork.layers()) {
        if (!layer.prints) {
            c.report(layer.name, FindingPlace{-1, {}, "does not print"}, 0, {},
                     "Hidden layer: " + layer.name);
        }
    }
}

void annotations(CheckContext &c)
{
    if (c.info.printing_annotations > 0) {
        c.report({}, FindingPlace{-1,
                                  {},
                                  std::to_string(c.info.printing_annotations) +
                                      (c.info.printing_annotations == 1 ? " annotation" : " annotations")});
    }
}

} // namespace bichrom::checks
