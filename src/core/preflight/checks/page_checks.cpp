#include "core/preflight/checks/checks.h"

#include "core/artwork/page_boxes.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <map>
#include <tuple>

namespace bichrom::checks {

void damaged_content(CheckContext &c)
{
    static constexpr const char *titles[] = {"The file's structure is damaged",
                                             "The page's drawing instructions are damaged",
                                             "A part that the page uses is missing",
                                             "Picture cut short or corrupt",
                                             "Font that cannot be read",
                                             "Object that cannot be painted"};
    for (const Damage &damage : c.damage) {
        const double mm = millimetres_per_inch / points_per_inch;
        FindingPlace place;
        place.object = damage.object;
        place.measured = damage.note;
        if (damage.object >= 0 && damage.object < static_cast<int>(c.scene.objects.size())) {
            place.area = c.area(c.scene.objects[static_cast<std::size_t>(damage.object)]);
        } else {
            place.object = -1;
            place.area = {damage.area.x * mm, damage.area.y * mm, damage.area.width * mm,
                          damage.area.height * mm};
        }
        c.report(to_string(damage.kind), place, 0, {}, titles[static_cast<std::size_t>(damage.kind)]);
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

/// Whether the artwork is a picture, a drawing or an EPS, which have no trim of their own.
bool is_bare_picture(const CheckContext &c)
{
    const InputKind kind = c.artwork.kind();
    return !written(c, PageBox::Trim) &&
           (kind == InputKind::Png || kind == InputKind::Jpeg || kind == InputKind::Tiff ||
            kind == InputKind::Svg || kind == InputKind::Eps);
}

/// Whether an object may be a crop or registration mark, a colour bar or a slug line: small, or thin, or
/// text.
bool is_mark(const SceneObject &object)
{
    constexpr double small = 60; // points: a patch of a colour bar, a registration mark
    const auto &names = object.colour.colorants;
    const double narrow = std::min(object.bounds.width, object.bounds.height);
    return is_text(object) || object.kind == ObjectKind::Stroke || narrow <= small ||
           std::find(names.begin(), names.end(), "All") != names.end();
}

/// Gap between two rectangles, negative when \p inner crosses \p outer's edge.
double least_gap(const Rect &inner, const Rect &outer)
{
    return std::min({inner.x - outer.x, inner.y - outer.y, outer.x + outer.width - inner.x - inner.width,
                     outer.y + outer.height - inner.y - inner.height});
}

} // namespace

void blank_page(CheckContext &c)
{
    const auto &plates = c.survey.tile.plates;
    if (std::all_of(plates.begin(), plates.end(), [](const Plane &plate) {
            return std::all_of(plate.pixels.begin(), plate.pixels.end(),
                               [](std::uint8_t v) { return v == 0; });
        })) {
        c.report({}, FindingPlace{-1, {}, c.scene.objects.empty() ? "no object" : "no ink"});
    }
}

void page_sizes(CheckContext &c)
{
    if (c.info.number <= 1) {
        return;
    }
    const auto first = c.artwork.page_info(1);
    if (!first) {
        return;
    }
    const Rect here = c.box(PageBox::Trim);
    const Rect there = box_within(*first, PageBox::Trim, PageBox::Media);
    constexpr double same = 0.2; // mm
    if (std::fabs(here.width - there.width) > same || std::fabs(here.height - there.height) > same) {
        c.report({}, FindingPlace{-1, {}, size_of(here)}, 0, "page 1: " + size_of(there));
    }
}

void output_intent(CheckContext &c)
{
    const std::string &named = c.artwork.output_intent();
    if (named.empty() || c.info.number != 1) {
        return;
    }
    if (!c.artwork.output_intent_has_profile()) {
        c.report("profile", FindingPlace{-1, {}, "names " + named}, 1, "its profile in the file",
                 "Printing condition named without its profile");
    }
    const auto letters = [](const std::string &text) {
        std::string out;
        for (const char letter : text) {
            const auto byte = static_cast<unsigned char>(letter);
            if (std::isalnum(byte) != 0) {
                out += static_cast<char>(std::tolower(byte));
            }
        }
        return out;
    };
    if (!c.condition.empty() && letters(named).find(letters(c.condition)) == std::string::npos &&
        letters(c.condition).find(letters(named)) == std::string::npos) {
        c.report("other", FindingPlace{-1, {}, "names " + named}, 0, c.condition,
                 "Made for another printing condition than the job's");
    }
}

void covered_art(CheckContext &c)
{
    // Only what covers its whole box can hide another surely: upright rectangles and pictures without masks.
    struct Cover
    {
        Rect area;
        int index;
        bool white;
    };
    std::vector<Cover> covers;
    for (const SceneObject *one : c.art()) {
        const bool box =
            (one->kind == ObjectKind::Fill && one->segments <= 4 && one->segments >= 3 && one->upright) ||
            (one->kind == ObjectKind::Image && one->upright);
        const bool opaque = one->alpha >= 1.0f && one->group_alpha >= 1.0f && one->blend == 0 &&
                            !one->soft_masked && !one->cut && !one->overprint && !one->in_pattern;
        const Rect area = c.area(*one);
        if (box && opaque && area.width > 0.2 && area.height > 0.2) {
            covers.push_back({area, one->index, is_paper_white(one->colour)});
        }
    }
    constexpr std::size_t most_covers = 1000;
    std::sort(covers.begin(), covers.end(), [](const Cover &a, const Cover &b) {
        return a.area.width * a.area.height > b.area.width * b.area.height;
    });
    covers.resize(std::min(covers.size(), most_covers));
    for (const SceneObject *one : c.art()) {
        const Rect area = c.area(*one);
        if (is_paper_white(one->colour) || area.width <= 0) {
            continue;
        }
        const auto cover = std::find_if(covers.begin(), covers.end(), [&](const Cover &other) {
            return other.index > one->index && inside(area, other.area, 0.0);
        });
        if (cover != covers.end()) {
            c.report({}, *one,
                     std::string(to_string(one->kind)) + ", " + describe(one->colour) +
                         ", hidden by object " + std::to_string(cover->index) +
                         (cover->white ? " (white)" : ""),
                     area.width * area.height);
        }
    }
}

void stacked_twice(CheckContext &c)
{
    std::map<std::tuple<std::uint64_t, int, int>, int> seen;
    for (const SceneObject *one : c.art()) {
        if (one->shape == 0 || one->in_pattern || is_paper_white(one->colour)) {
            continue;
        }
        const auto [at, is_new] =
            seen.try_emplace({one->shape, one->colour_number, static_cast<int>(one->kind)}, one->index);
        if (!is_new) {
            c.report({}, *one,
                     std::string(to_string(one->kind)) + ", " + describe(one->colour) +
                         ", exactly on object " + std::to_string(at->second),
                     one->alpha < 1.0f ? 2 : 1);
        }
    }
}

void heavy_path(CheckContext &c)
{
    const double most = c.limit("points");
    for (const SceneObject *one : c.art()) {
        if (one->segments > most) {
            c.report({}, *one, std::to_string(one->segments) + " lines and curves", one->segments,
                     "at most " + format_number(most, 0));
        }
    }
}

void gradient_steps(CheckContext &c)
{
    // A screen shows (resolution / ruling)² + 1 tones, a file of 8 bits 256 (common practice, no source).
    const double cells = c.rules.press.resolution.value / c.rules.press.ruling.value;
    const double tones = std::min(256.0, cells * cells + 1.0);
    for (const SceneObject *one : c.art()) {
        const double millimetres = one->gradient_length * millimetres_per_inch / points_per_inch;
        const double steps = std::max(1.0, tones * one->gradient_change);
        const double each = millimetres / steps;
        if (one->gradient_length > 0 && one->gradient_change > 0.01 && each > c.limit("step_mm")) {
            c.report({}, *one,
                     with_unit(steps, "steps", 0) + " over " + with_unit(millimetres, "mm", 0) + ", " +
                         with_unit(each, "mm") + " each",
                     each, "at most " + with_unit(c.limit("step_mm"), "mm"));
        }
    }
}

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
    if (is_bare_picture(c)) {
        return; // that it has no trim is told once
    }
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

namespace {

/// Whether any plate holds ink where \p a and \p b meet: white pixels of a picture enter no zone.
bool any_ink(const CheckContext &c, const Rect &a, const Rect &b)
{
    const double left = std::max(a.x, b.x);
    const double top = std::max(a.y, b.y);
    const PixelRect part = c.survey.pixels({left, top, std::min(a.x + a.width, b.x + b.width) - left,
                                            std::min(a.y + a.height, b.y + b.height) - top});
    for (int y = part.y; y < part.y + part.height; ++y) {
        for (int x = part.x; x < part.x + part.width; ++x) {
            if (inked(c, x, y)) {
                return true;
            }
        }
    }
    return false;
}

} // namespace

void near_edge(CheckContext &c)
{
    const Rect trim = c.box(PageBox::Trim);
    const double least = c.limit("distance_mm");
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const Rect area = c.area(object);
        if (is_paper_white(object.colour) || area.width <= 0 || area.height <= 0) {
            continue;
        }
        const double gap = least_gap(area, trim);
        if (gap >= 0 && gap < least - 0.005 && !is_bare_picture(c)) {
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
            if (overlaps(area, there) && any_ink(c, area, there)) {
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
    int marks = 0;
    for (const SceneObject &object : c.scene.objects) {
        const Rect area = c.area(object);
        const auto at = static_cast<std::size_t>(object.index);
        if (at < c.leaves_no_trace.size() && c.leaves_no_trace[at]) {
            continue;
        }
        if (object.clipped_away) {
            c.report("clipped", object, "nothing of it is on the page", 0, {}, "Object outside the page");
        } else if (!overlaps(area, kept) && written(c, PageBox::Trim) && is_mark(object)) {
            ++marks;
        } else if (!overlaps(area, kept)) {
            c.report("outside", object, describe(object), area.width * area.height, {},
                     "Object outside the bleed");
        }
    }
    if (marks > 0) { // one row that nobody has to walk
        c.report("marks", FindingPlace{-1, {}, std::to_string(marks) + (marks == 1 ? " object" : " objects")},
                 0, {}, "Marks outside the trim");
        c.mute("marks");
    }
}

void hidden_layers(CheckContext &c)
{
    for (const Layer &layer : c.artwork.layers()) {
        if (layer.prints) {
            continue;
        }
        std::string holds = layer.unprinted == 0 ? "nothing lies on it"
                            : layer.unprinted == 1
                                ? "1 object on it does not print"
                                : std::to_string(layer.unprinted) + " objects on it do not print";
        if (!layer.counted) {
            holds =
                layer.unprinted == 0 ? "does not print; what lies on it is not known" : "at least " + holds;
        }
        c.report(layer.name, FindingPlace{-1, {}, holds}, 0, {}, "Hidden layer: " + layer.name);
        if (layer.unprinted == 0 && layer.counted) {
            c.mute(layer.name);
        }
    }
}

void annotations(CheckContext &c)
{
    for (const PrintingAnnotation &one : c.info.annotations) {
        c.report({}, FindingPlace{-1, rect_within(c.info, one.area, PageBox::Media), one.kind},
                 one.area.width * one.area.height);
    }
}

} // namespace bichrom::checks
