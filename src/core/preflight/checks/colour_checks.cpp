#include "core/preflight/checks/checks.h"

#include "core/artwork/found_colours.h"
#include "core/colour/colour_difference.h"
#include "core/colour/spaces.h"
#include "core/raster/patches.h"

#include <algorithm>
#include <cmath>

namespace bichrom::checks {

namespace {

constexpr double solid = 0.95;

/// Whether the colour is dark and nearly neutral, so that black alone would do.
bool looks_black(const CheckContext &c, const std::vector<std::pair<std::string, double>> &inks,
                 const ColourUse &colour)
{
    double black = 0;
    double others = 0;
    for (const auto &[name, amount] : inks) {
        if (c.is_black(name)) {
            black = std::max(black, amount);
        } else if (name == "Cyan" || name == "Magenta" || name == "Yellow") {
            others += amount;
        } else {
            return false; // another spot ink is there on purpose
        }
    }
    if (!inks.empty()) {
        return black >= 0.7 || others >= 2.4;
    }
    // RGB: dark, and all three channels alike.
    if (colour.values.size() == 3 && colour.colorants.size() == 3 && colour.colorants[0] == "Red") {
        const auto [least, most] = std::minmax_element(colour.values.begin(), colour.values.end());
        return *most <= 0.2f && *most - *least <= 0.05f;
    }
    return false;
}

/// The text, font and size of a text object, else its kind and line width.
std::string what_it_is(const SceneObject &object)
{
    if (!object.runs.empty()) {
        return quoted(object.runs.front());
    }
    return object.kind == ObjectKind::Stroke ? "line " + with_unit(object.stroke_width, "pt", 2)
                                             : std::string(to_string(object.kind));
}

bool is_thin(const SceneObject &object, double points)
{
    return object.kind == ObjectKind::Stroke && object.stroke_width <= points;
}

} // namespace

void unready_colour(CheckContext &c)
{
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const std::string &space = object.colour.space;
        const bool rgb = object.colour.colorants.size() == 3 && object.colour.colorants[0] == "Red";
        const bool lab = space.ends_with("Lab");
        if (!rgb && !lab) {
            continue;
        }
        const std::string subject = lab                             ? "Lab"
                                    : object.colour.profile.empty() ? "RGB without a profile"
                                                                    : "RGB, " + object.colour.profile;
        c.report(subject, object, describe(object.colour), 0, "inks", "Not separated yet: " + subject);
    }
}

void built_black(CheckContext &c)
{
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const bool small = (is_text(object) && object.font_size <= c.limit("text_pt")) ||
                           is_thin(object, c.limit("line_pt"));
        const auto inks = inks_of(object.colour);
        if (!small || !looks_black(c, inks, object.colour) ||
            (inks.size() == 1 && c.is_black(inks[0].first))) {
            continue;
        }
        c.report({}, object, what_it_is(object) + ", " + describe(object.colour),
                 static_cast<double>(inks.empty() ? 4 : inks.size()), "black only");
    }
}

void black_knocks_out(CheckContext &c)
{
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const auto inks = inks_of(object.colour);
        const bool black_only = inks.size() == 1 && c.is_black(inks[0].first) && inks[0].second >= solid;
        const int black = black_only ? c.survey.find(inks[0].first) : -1;
        const bool small = (is_text(object) && object.font_size <= c.limit("text_pt")) ||
                           is_thin(object, c.limit("line_pt"));
        if (black < 0 || !small || object.overprint || object.alpha < 1.0f) {
            continue;
        }
        std::vector<std::size_t> others; // inks that would be seen beside it
        for (std::size_t plate = 0; plate < c.survey.tile.plates.size(); ++plate) {
            const InkUse use = c.use_of(c.survey.inks[plate]);
            if (static_cast<int>(plate) != black && (use == InkUse::Spot || use == InkUse::Process)) {
                others.push_back(plate);
            }
        }
        // Colour beside the black, within a pixel or two of the object: it was knocked out.
        Rect area = c.area(object);
        const double margin = 2.0 * c.survey.millimetres_per_pixel();
        area = {area.x - margin, area.y - margin, area.width + 2 * margin, area.height + 2 * margin};
        const PixelRect pixels = c.survey.pixels(area);
        std::int64_t coloured = 0;
        std::int64_t all = 0;
        const int step =
            others.empty() ? std::max(pixels.width, pixels.height) + 1 : PlateSurvey::step(pixels);
        for (int y = pixels.y; y < pixels.y + pixels.height; y += step) {
            for (int x = pixels.x; x < pixels.x + pixels.width; x += step, ++all) {
                bool colour = false;
                for (const std::size_t plate : others) {
                    colour = colour || c.survey.tile.plates[plate].at(x, y) > 25;
                }
                coloured += colour ? 1 : 0;
            }
        }
        if (all > 0 && coloured * 10 >= all) {
            c.report({}, object, what_it_is(object) + " knocks out", static_cast<double>(coloured),
                     "overprint");
        }
    }
}

void white_overprints(CheckContext &c)
{
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        if (object.overprint && is_paper_white(object.colour)) {
            c.report({}, object, describe(object.colour) + ", overprints");
        }
    }
}

void registration_colour(CheckContext &c)
{
    const Rect trim = c.box(PageBox::Trim);
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const auto &names = object.colour.colorants;
        const Rect area = c.area(object);
        if (names_inks(object.colour) && std::find(names.begin(), names.end(), "All") != names.end() &&
            !is_paper_white(object.colour) && overlaps(area, trim)) {
            c.report({}, object, describe(object.colour), area.width * area.height);
        }
    }
}

void total_ink(CheckContext &c)
{
    const double most = c.limit("percent") * 255.0 / 100.0;
    const PixelRect &rect = c.survey.tile.rect;
    // White, varnish, foil and cut lines dry, or are laid down, apart: they are no ink on ink.
    std::vector<const Plane *> plates;
    for (std::size_t i = 0; i < c.survey.inks.size(); ++i) {
        const InkUse use = c.use_of(c.survey.inks[i]);
        if (use == InkUse::Spot || use == InkUse::Process || use == InkUse::Metallic) {
            plates.push_back(&c.survey.tile.plates[i]);
        }
    }
    if (static_cast<double>(plates.size()) * 255.0 <= most + 1.0) {
        return;
    }
    Plane over(rect.width, rect.height); // 255 where the sum is over the limit
    std::vector<int> sum(static_cast<std::size_t>(rect.width));
    bool any = false;
    for (int y = 0; y < rect.height; ++y) {
        std::fill(sum.begin(), sum.end(), 0);
        for (const Plane *plate : plates) {
            const auto row = plate->row(y);
            for (std::size_t x = 0; x < sum.size(); ++x) {
                sum[x] += row[x];
            }
        }
        const auto out = over.row(y);
        for (std::size_t x = 0; x < sum.size(); ++x) {
            if (sum[x] > most + 1.0) { // rounding of as many plates as there are
                out[x] = 255;
                any = true;
            }
        }
    }
    if (!any) {
        return;
    }
    struct Spot
    {
        Rect area;
        double mm2;
        int worst;
    };
    const double pixel = c.survey.millimetres_per_pixel();
    std::vector<Spot> spots;
    constexpr double apart = 2.0; // mm: nearer patches are one place
    for (const Patch &patch : find_patches(over, 255)) {
        int worst = 0;
        for (int y = patch.top; y <= patch.bottom; ++y) {
            for (int x = patch.left; x <= patch.right; ++x) {
                if (over.at(x, y) != 0) {
                    int here = 0;
                    for (const Plane *plate : plates) {
                        here += plate->at(x, y);
                    }
                    worst = std::max(worst, here);
                }
            }
        }
        const Spot spot = {c.survey.area_of({patch.left, patch.top, patch.right - patch.left + 1,
                                             patch.bottom - patch.top + 1}),
                           patch.pixels * pixel * pixel, worst};
        const auto near = std::find_if(spots.begin(), spots.end(), [&](const Spot &other) {
            const Rect wide = {other.area.x - apart, other.area.y - apart, other.area.width + 2 * apart,
                               other.area.height + 2 * apart};
            return overlaps(wide, spot.area);
        });
        if (near == spots.end()) {
            spots.push_back(spot);
            continue;
        }
        const double left = std::min(near->area.x, spot.area.x);
        const double top = std::min(near->area.y, spot.area.y);
        near->area = {left, top,
                      std::max(near->area.x + near->area.width, spot.area.x + spot.area.width) - left,
                      std::max(near->area.y + near->area.height, spot.area.y + spot.area.height) - top};
        near->mm2 += spot.mm2;
        near->worst = std::max(near->worst, spot.worst);
    }
    for (const Spot &spot : spots) {
        if (spot.mm2 >= c.limit("area_mm2")) {
            c.report({},
                     FindingPlace{-1, spot.area,
                                  "up to " + with_unit(spot.worst * 100.0 / 255.0, "%", 0) + " on " +
                                      with_unit(spot.mm2 / 100.0, "cm²")},
                     spot.worst + spot.mm2 * 1e-6, with_unit(c.limit("percent"), "%", 0));
        }
    }
}

void small_tint(CheckContext &c)
{
    const double least = c.limit("least_percent") / 100.0;
    const double most = c.limit("most_percent") / 100.0;
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        for (const auto &[ink, amount] : inks_of(object.colour, 0.002)) {
            if (amount < least - 0.002) {
                c.report(ink, object, with_unit(amount * 100.0, "%", 1), 1.0 - amount,
                         "at least " + with_unit(c.limit("least_percent"), "%", 1),
                         "Tint too light to hold: " + ink);
            } else if (amount > most + 0.002 && amount < 0.998) {
                c.report(ink + ", dark", object, with_unit(amount * 100.0, "%", 1), amount,
                         "at most " + with_unit(c.limit("most_percent"), "%", 1) + ", or solid",
                         "Tint that fills in: " + ink);
            }
        }
    }
}

void transparency(CheckContext &c)
{
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const double opacity = static_cast<double>(object.alpha) * static_cast<double>(object.group_alpha);
        std::string how;
        if (opacity < 1.0) {
            how = "opacity " + with_unit(opacity * 100.0, "%", 0);
        }
        if (object.blend != 0) {
            how += (how.empty() ? "" : ", ") + std::string("blend mode ") + blend_mode_name(object.blend);
        }
        if (object.soft_masked) {
            how += (how.empty() ? "" : ", ") + std::string("soft mask");
        }
        if (!how.empty()) {
            c.report({}, object, how + ": " + to_string(object.kind) + ", " + describe(object.colour),
                     1.0 - opacity + (object.blend != 0 ? 0.5 : 0.0));
        }
    }
}

void overprint(CheckContext &c)
{
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        if (object.overprint && !is_paper_white(object.colour)) {
            const Rect area = c.area(object);
            c.report({}, object, describe(object.colour), area.width * area.height);
        }
    }
}

void near_invisible(CheckContext &c)
{
    const double faint = c.limit("percent") / 100.0;
    const double tiny = c.limit("size_mm");
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const Rect area = c.area(object);
        const auto inks = inks_of(object.colour, 0.0005);
        double strongest = inks.empty() ? 1.0 : 0.0;
        for (const auto &[name, amount] : inks) {
            strongest = std::max(strongest, amount);
        }
        const double seen = strongest * static_cast<double>(object.alpha);
        if (is_paper_white(object.colour)) {
            continue; // knocks out on purpose, or is caught by its overprint
        }
        if (seen < faint) {
            c.report("faint", object, with_unit(seen * 100.0, "%", 1), 1.0 - seen,
                     "at least " + with_unit(faint * 100.0, "%", 1), "Object so faint that nobody sees it");
        } else if (area.width > 0 && area.height > 0 && std::max(area.width, area.height) < tiny) {
            c.report("tiny", object, with_unit(std::max(area.width, area.height), "mm", 3),
                     1.0 / std::max(1e-6, std::max(area.width, area.height)),
                     "at least " + with_unit(tiny, "mm", 3), "Object so small that nobody sees it");
        }
    }
}

void overprint_vanishes(CheckContext &c)
{
    const double seen = c.limit("de");
    // Transparent inks multiply what they let through.
    const auto through = [&](const std::string &ink, double tone, Xyz light) {
        const auto found = std::find_if(c.scene.inks.begin(), c.scene.inks.end(),
                                        [&](const FoundInk &one) { return one.name == ink; });
        const Xyz solid = lab_to_xyz(found == c.scene.inks.end() ? Lab{50, 0, 0} : found->solid);
        for (std::size_t i = 0; i < 3; ++i) {
            // The surface reflects a little that no ink takes away: half of what black on coated paper does.
            const double floor = 0.01 * d50_white[i];
            light[i] = floor + (light[i] - floor) * (1.0 - tone * (1.0 - solid[i] / d50_white[i]));
        }
        return light;
    };
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const auto inks = inks_of(object.colour);
        const bool counts = std::any_of(inks.begin(), inks.end(), [&](const auto &part) {
            const InkUse use = c.use_of(part.first);
            return use == InkUse::Spot || use == InkUse::Process;
        });
        if (!object.overprint || !counts) {
            continue;
        }
        // What else lies on its whole place, on plates that it does not print on.
        Xyz under = d50_white;
        std::string what;
        for (std::size_t plate = 0; plate < c.survey.inks.size(); ++plate) {
            const std::string &ink = c.survey.inks[plate];
            const InkUse use = c.use_of(ink);
            const bool mine =
                std::any_of(inks.begin(), inks.end(), [&](const auto &part) { return part.first == ink; });
            if (mine || (use != InkUse::Spot && use != InkUse::Process)) {
                continue;
            }
            constexpr double everywhere = 0.9; // where it lies only partly, the rest is seen
            if (const double tone = c.mean_tone(plate, c.area(object)); tone >= everywhere) {
                under = through(ink, tone, under);
                what += (what.empty() ? "" : " + ") + ink;
            }
        }
        if (what.empty()) {
            continue;
        }
        Xyz over = under;
        for (const auto &[ink, amount] : inks) {
            over = through(ink, amount, over);
        }
        const double difference = ciede2000(xyz_to_lab(under), xyz_to_lab(over));
        if (difference < seen) {
            c.report({}, object,
                     describe(object.colour) + " overprints " + what + ", ΔE " + with_unit(difference, "", 1),
                     seen - difference, "ΔE at least " + with_unit(seen, "", 1));
        }
    }
}

void white_on_stock(CheckContext &c)
{
    const double page = c.whole_page().width * c.whole_page().height;
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const Rect area = c.area(object);
        constexpr double ground = 0.5; // a sheet of white under everything is no artwork
        if (!is_paper_white(object.colour) || object.overprint || is_image(object) ||
            area.width * area.height > ground * page) {
            continue;
        }
        // Nothing that prints lies under it or beside it.
        const Rect wide = {area.x - 0.3, area.y - 0.3, area.width + 0.6, area.height + 0.6};
        bool bare = true;
        for (std::size_t plate = 0; plate < c.survey.inks.size() && bare; ++plate) {
            bare = c.mean_tone(plate, wide) < 0.002;
        }
        if (bare) {
            c.report({}, object, what_it_is(object) + ", " + describe(object.colour),
                     area.width * area.height);
        }
    }
}

namespace {

/// Where both areas meet, mm² in which one of \p inks (of any ink, when there are none) prints and \p white
/// does not.
double holes_in(const CheckContext &c, const std::string &white,
                const std::vector<std::pair<std::string, double>> &inks, const Rect &a, const Rect &b)
{
    const double left = std::max(a.x, b.x);
    const double top = std::max(a.y, b.y);
    const PixelRect part = c.survey.pixels({left, top, std::min(a.x + a.width, b.x + b.width) - left,
                                            std::min(a.y + a.height, b.y + b.height) - top});
    const int white_plate = c.survey.find(white);
    std::vector<std::size_t> plates;
    for (std::size_t i = 0; i < c.survey.inks.size(); ++i) {
        const bool named = std::any_of(inks.begin(), inks.end(),
                                       [&](const auto &one) { return one.first == c.survey.inks[i]; });
        if (static_cast<int>(i) != white_plate && (named || inks.empty())) {
            plates.push_back(i);
        }
    }
    std::int64_t holes = 0;
    for (int y = part.y; y < part.y + part.height && white_plate >= 0; ++y) {
        for (int x = part.x; x < part.x + part.width; ++x) {
            if (c.survey.tile.plates[static_cast<std::size_t>(white_plate)].at(x, y) < 64) {
                holes +=
                    std::any_of(plates.begin(), plates.end(),
                                [&](std::size_t plate) { return c.survey.tile.plates[plate].at(x, y) > 128; })
                        ? 1
                        : 0;
            }
        }
    }
    const double pixel = c.survey.millimetres_per_pixel();
    return static_cast<double>(holes) * pixel * pixel;
}

} // namespace

void white_knocked_out(CheckContext &c)
{
    std::vector<std::pair<Rect, std::string>> whites; // painted so far
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const auto inks = inks_of(object.colour);
        std::string white;
        for (const auto &[ink, amount] : inks) {
            white = c.use_of(ink) == InkUse::White && amount > 0.1 ? ink : white;
        }
        if (!white.empty()) {
            whites.emplace_back(c.area(object), white);
            continue;
        }
        const bool only_finishes =
            !inks.empty() && std::all_of(inks.begin(), inks.end(), [&](const auto &part) {
                const InkUse use = c.use_of(part.first);
                return use != InkUse::Spot && use != InkUse::Process;
            });
        // Black needs no white to look black.
        const bool only_black = !inks.empty() && std::all_of(inks.begin(), inks.end(), [&](const auto &part) {
            return c.is_black(part.first);
        });
        if (object.overprint || (inks.empty() && !is_image(object)) || is_paper_white(object.colour) ||
            only_finishes || only_black) {
            continue;
        }
        for (const auto &[area, ink] : whites) {
            if (!overlaps(area, c.area(object))) {
                continue;
            }
            const double mm2 = holes_in(c, ink, inks, area, c.area(object));
            if (mm2 >= c.limit("area_mm2")) {
                c.report(ink, object, describe(object.colour) + " on " + ink + ", " + with_unit(mm2, "mm²"),
                         mm2, "white under it", ink + " is knocked out by colour on it");
                break;
            }
        }
    }
}

} // namespace bichrom::checks
