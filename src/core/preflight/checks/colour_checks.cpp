#include "core/preflight/checks/checks.h"

#include "core/artwork/found_colours.h"

#include <algorithm>
#include <cmath>

namespace bichrom::checks {

namespace {

constexpr double solid = 0.95;

/// Whether the colour is dark and nearly neutral, so that black alone would do.
bool looks_black(const std::vector<std::pair<std::string, double>> &inks, const ColourUse &colour)
{
    double black = 0;
    double others = 0;
    for (const auto &[name, amount] : inks) {
        if (name == "Black") {
            black = amount;
        } else if (name == "Cyan" || name == "Magenta" || name == "Yellow") {
            others += amount;
        } else {
            return false; // a spot ink is there on purpose
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

bool is_thin(const SceneObject &object, double points)
{
    return object.kind == ObjectKind::Stroke && object.stroke_width <= points;
}

} // namespace

void unready_colour(CheckContext &c)
{
    for (const SceneObject &object : c.scene.objects) {
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
    for (const SceneObject &object : c.scene.objects) {
        const bool small = (is_text(object) && object.font_size <= c.limit("text_pt")) ||
                           is_thin(object, c.limit("line_pt"));
        const auto inks = inks_of(object.colour);
        if (!small || !looks_black(inks, object.colour) || (inks.size() == 1 && inks[0].first == "Black")) {
            continue;
        }
        c.report({}, object, describe(object.colour), static_cast<double>(inks.empty() ? 4 : inks.size()),
                 "black only");
    }
}

void black_knocks_out(CheckContext &c)
{
    const int black = c.survey.find("Black");
    if (black < 0) {
        return;
    }
    for (const SceneObject &object : c.scene.objects) {
        const auto inks = inks_of(object.colour);
        const bool black_only = inks.size() == 1 && inks[0].first == "Black" && inks[0].second >= solid;
        const bool small = (is_text(object) && object.font_size <= c.limit("text_pt")) ||
                           is_thin(object, c.limit("line_pt"));
        if (!black_only || !small || object.overprint || object.alpha < 1.0f) {
            continue;
        }
        // Colour beside the black, within a pixel or two of the object: it was knocked out.
        Rect area = c.area(object);
        const double margin = 2.0 * c.survey.millimetres_per_pixel();
        area = {area.x - margin, area.y - margin, area.width + 2 * margin, area.height + 2 * margin};
        const PixelRect pixels = c.survey.pixels(area);
        std::int64_t coloured = 0;
        for (int y = pixels.y; y < pixels.y + pixels.height; ++y) {
            for (int x = pixels.x; x < pixels.x + pixels.width; ++x) {
                bool colour = false;
                for (std::size_t plate = 0; plate < c.survey.tile.plates.size() && !colour; ++plate) {
                    colour = static_cast<int>(plate) != black && c.survey.tile.plates[plate].at(x, y) > 25;
                }
                coloured += colour ? 1 : 0;
            }
        }
        const std::int64_t all = std::int64_t(pixels.width) * pixels.height;
        if (all > 0 && coloured * 10 >= all) {
            c.report({}, object, "knocks out", static_cast<double>(coloured), "overprint");
        }
    }
}

void white_overprints(CheckContext &c)
{
    for (const SceneObject &object : c.scene.objects) {
        if (object.overprint && is_paper_white(object.colour)) {
            c.report({}, object, describe(object.colour) + ", overprints");
        }
    }
}

void registration_colour(CheckContext &c)
{
    const Rect trim = c.box(PageBox::Trim);
    for (const SceneObject &object : c.scene.objects) {
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
    const auto &plates = c.survey.tile.plates;
    const PixelRect &rect = c.survey.tile.rect;
    std::int64_t over = 0;
    int worst = 0;
    int left = rect.width;
    int right = 0;
    int top = rect.height;
    int bottom = 0;
    int worst_x = 0;
    int worst_y = 0;
    for (int y = 0; y < rect.height; ++y) {
        for (int x = 0; x < rect.width; ++x) {
            int sum = 0;
            for (const Plane &plate : plates) {
                sum += plate.at(x, y);
            }
            if (sum > most + 1.0) { // rounding of as many plates as there are
                ++over;
                left = std::min(left, x);
                right = std::max(right, x);
                top = std::min(top, y);
                bottom = std::max(bottom, y);
                if (sum > worst) {
                    worst = sum;
                    worst_x = x;
                    worst_y = y;
                }
            }
        }
    }
    const double pixel = c.survey.millimetres_per_pixel();
    const double square_mm = static_cast<double>(over) * pixel * pixel;
    if (over > 0 && square_mm >= c.limit("area_mm2")) {
        const std::string limit = with_unit(c.limit("percent"), "%", 0);
        c.report({},
                 FindingPlace{-1, c.survey.area_of({worst_x - 3, worst_y - 3, 7, 7}),
                              "worst point " + with_unit(worst * 100.0 / 255.0, "%", 0)},
                 2, limit);
        c.report({},
                 FindingPlace{-1, c.survey.area_of({left, top, right - left + 1, bottom - top + 1}),
                              with_unit(square_mm / 100.0, "cm²") + " in all"},
                 1, limit);
    }
}

void small_tint(CheckContext &c)
{
    const double least = c.limit("least_percent") / 100.0;
    const double most = c.limit("most_percent") / 100.0;
    for (const SceneObject &object : c.scene.objects) {
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
    bool any = false;
    for (const SceneObject &object : c.scene.objects) {
        if (object.alpha < 1.0f) {
            c.report({}, object, "opacity " + with_unit(static_cast<double>(object.alpha) * 100.0, "%", 0),
                     1.0 - static_cast<double>(object.alpha));
            any = true;
        }
    }
    if (!any && c.scene.uses_transparency) {
        c.report({}, FindingPlace{-1, {}, "blend modes or soft masks"});
    }
}

void overprint(CheckContext &c)
{
    for (const SceneObject &object : c.scene.objects) {
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
    for (const SceneObject &object : c.scene.objects) {
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

} // namespace bichrom::checks
