#include "core/preflight/checks/checks.h"

#include <algorithm>
#include <functional>

namespace bichrom::checks {

namespace {

std::string words_of(const NamedArea &area)
{
    return std::string(to_string(area.kind)) + (area.name.empty() ? "" : " '" + area.name + "'");
}

/// Pixels of the survey that some plate prints on and \p counts, as one place; what is cut or creased is no
/// ink.
struct Printed
{
    double mm2 = 0;
    PixelRect around;
};
Printed printed(const CheckContext &c, const PixelRect &part, const std::function<bool(int, int)> &counts)
{
    constexpr int least = 20; // of 255
    std::vector<const Plane *> planes;
    for (const Plate &plate : c.job->plates) {
        const int at = c.survey.find(plate.ink);
        if (at >= 0 && plate.kind != InkUse::Technical) {
            planes.push_back(&c.survey.tile.plates[static_cast<std::size_t>(at)]);
        }
    }
    int pixels = 0, left = part.x + part.width, top = part.y + part.height, right = part.x, bottom = part.y;
    for (int y = part.y; y < part.y + part.height; ++y) {
        for (int x = part.x; x < part.x + part.width; ++x) {
            if (counts(x, y) && std::any_of(planes.begin(), planes.end(),
                                            [&](const Plane *plane) { return plane->at(x, y) > least; })) {
                ++pixels;
                left = std::min(left, x);
                top = std::min(top, y);
                right = std::max(right, x + 1);
                bottom = std::max(bottom, y + 1);
            }
        }
    }
    const double pixel = c.survey.millimetres_per_pixel();
    return {pixels * pixel * pixel, {left, top, right - left, bottom - top}};
}

/// Whether the middle of a pixel of the survey lies in \p area.
bool holds(const CheckContext &c, const Rect &area, int x, int y)
{
    const Rect pixel = c.survey.area_of({x, y, 1, 1});
    const double middle_x = pixel.x + pixel.width / 2, middle_y = pixel.y + pixel.height / 2;
    return middle_x >= area.x && middle_x < area.x + area.width && middle_y >= area.y &&
           middle_y < area.y + area.height;
}

void report_printed(CheckContext &c, const std::string &subject, const Printed &found,
                    const std::string &title)
{
    if (found.mm2 >= c.limit("area_mm2")) {
        c.report(subject, FindingPlace{-1, c.survey.area_of(found.around), with_unit(found.mm2, "mm²", 1)},
                 found.mm2, "nothing", title);
    }
}

/// Text and lines that cross a fold, or stand close to it.
void look_at_fold(CheckContext &c, const NamedArea &fold)
{
    const Rect &at = fold.area;
    const bool level = at.width >= at.height;
    const double line = level ? at.y + at.height / 2 : at.x + at.width / 2;
    for (const SceneObject *object : c.art()) {
        const Rect area = c.area(*object);
        const double low = level ? area.y : area.x, high = low + (level ? area.height : area.width);
        const double from = level ? area.x : area.y, to = from + (level ? area.width : area.height);
        const double begin = level ? at.x : at.y, end = begin + (level ? at.width : at.height);
        const bool is_fine = is_text(*object) || object->kind == ObjectKind::Stroke;
        const double away = line < low ? low - line : line > high ? line - high : 0.0;
        if (is_fine && to > begin && from < end && away < c.limit("distance_mm")) {
            c.report(words_of(fold), *object, with_unit(away, "mm"), -away,
                     "at least " + with_unit(c.limit("distance_mm"), "mm"),
                     "Text or line at the " + words_of(fold));
        }
    }
}

} // namespace

void named_areas(CheckContext &c)
{
    const PixelRect &page = c.survey.tile.rect;
    std::vector<Rect> platens;
    for (const NamedArea &one : c.job->areas) {
        if (!is_on(one, c.info.number)) {
            continue;
        }
        if (one.kind == AreaKind::Fold) {
            look_at_fold(c, one);
        } else if (one.kind == AreaKind::Platen) {
            platens.push_back(one.area);
        } else {
            const auto inside = [&](int x, int y) { return holds(c, one.area, x, y); };
            report_printed(c, words_of(one), printed(c, c.survey.pixels(one.area), inside),
                           "Something prints in the " + words_of(one) + " area");
        }
    }
    if (!platens.empty()) {
        const auto beside = [&](int x, int y) {
            return std::none_of(platens.begin(), platens.end(),
                                [&](const Rect &one) { return holds(c, one, x, y); });
        };
        report_printed(c, "platen", printed(c, page, beside), "Something prints beside the platen");
    }
}

} // namespace bichrom::checks
