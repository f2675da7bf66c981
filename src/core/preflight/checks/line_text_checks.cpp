#include "core/preflight/checks/checks.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace bichrom::checks {

namespace {

constexpr double points_per_millimetre = points_per_inch / millimetres_per_inch;

/// Where a run stands, mm like CheckContext::area().
Rect area_of(const TextRun &run)
{
    return {run.bounds.x / points_per_millimetre, run.bounds.y / points_per_millimetre,
            run.bounds.width / points_per_millimetre, run.bounds.height / points_per_millimetre};
}

struct Around
{
    std::vector<std::string> inks; ///< on at least a third of the place, and not the text's own
    double darkness = 0;           ///< of what they put there, 0 to about 1
};

Around look_around(const CheckContext &c, const Rect &area, const std::set<std::string> &own)
{
    Around around;
    const PixelRect pixels = c.survey.pixels(area);
    const int step = PlateSurvey::step(pixels);
    const std::int64_t all =
        std::int64_t((pixels.width + step - 1) / step) * ((pixels.height + step - 1) / step);
    for (std::size_t plate = 0; plate < c.survey.inks.size() && all > 0; ++plate) {
        const std::string &ink = c.survey.inks[plate];
        const InkUse use = c.use_of(ink);
        if (own.count(ink) > 0 ||
            (use != InkUse::Spot && use != InkUse::Process && use != InkUse::Metallic)) {
            continue;
        }
        std::int64_t inked = 0;
        std::int64_t tones = 0;
        for (int y = pixels.y; y < pixels.y + pixels.height; y += step) {
            for (int x = pixels.x; x < pixels.x + pixels.width; x += step) {
                const int tone = c.survey.tile.plates[plate].at(x, y);
                inked += tone > 40 ? 1 : 0;
                tones += tone > 40 ? tone : 0;
            }
        }
        if (inked * 3 >= all) {
            around.inks.push_back(ink);
            around.darkness +=
                c.darkness(ink) * static_cast<double>(tones) / (255.0 * static_cast<double>(inked));
        }
    }
    return around;
}

} // namespace

void thin_line(CheckContext &c)
{
    const double least = c.limit("line_pt");
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const bool stroked = object.kind == ObjectKind::Stroke || object.kind == ObjectKind::StrokedText;
        if (stroked && object.stroke_width < least - 1e-4) {
            c.report({}, object,
                     object.stroke_width <= 0 ? std::string("as thin as the device can")
                                              : with_unit(object.stroke_width, "pt", 3),
                     -object.stroke_width, "at least " + with_unit(least, "pt", 3));
        }
        // A filled bar is a line as thick as its smaller side.
        constexpr int most_sides = 5;
        const double thin = std::min(object.bounds.width, object.bounds.height);
        const double length = std::max(object.bounds.width, object.bounds.height);
        if (object.kind == ObjectKind::Fill && object.segments <= most_sides && !object.in_pattern &&
            thin < least - 1e-3 && length > 4 * least && !is_paper_white(object.colour)) {
            c.report({}, object, "filled, " + with_unit(thin, "pt", 3) + " at its narrower side", -thin,
                     "at least " + with_unit(least, "pt", 3));
        }
    }
}

void small_text(CheckContext &c)
{
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        if (!is_text(object) || object.font_size <= 0) {
            continue;
        }
        std::set<std::string> own;
        double own_darkness = 0;
        for (const auto &[ink, amount] : inks_of(object.colour, 0.02)) {
            own.insert(ink);
            own_darkness += amount * c.darkness(ink);
        }
        for (const TextRun &run : object.runs) {
            if (run.bounds.width <= 0 || run.size <= 0) {
                continue;
            }
            // White text, or text lighter than the inks that surround it, is a hole that ink runs into;
            // dark text on a light ground is not.
            const Around around = object.overprint ? Around{} : look_around(c, area_of(run), own);
            const bool reversed = !around.inks.empty() && own_darkness < around.darkness;
            const std::size_t inks = reversed ? around.inks.size() : own.size();
            double least = reversed ? c.limit("reversed_pt") : c.limit("positive_pt");
            std::string kind = reversed ? "reversed" : "positive";
            if (inks > 1) {
                least += c.limit("more_inks_pt") * static_cast<double>(inks - 1);
                kind += ", " + std::to_string(inks) + " inks";
            }
            if (run.size < least - 1e-3) {
                c.report(kind, FindingPlace{object.index, area_of(run), quoted(run)}, least - run.size,
                         "at least " + with_unit(least, "pt", 1), "Text too small (" + kind + ")");
            }
        }
    }
}

void screened_text(CheckContext &c)
{
    const double most = c.limit("text_pt");
    const double solid = c.limit("solid_percent") / 100.0;
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        const auto inks = inks_of(object.colour, 0.02);
        // Where one ink is solid, it holds the letters together.
        const bool screened = !inks.empty() && std::none_of(inks.begin(), inks.end(), [&](const auto &part) {
            return part.second >= solid;
        });
        for (const TextRun &run : object.runs) {
            if (screened && object.kind == ObjectKind::Text && run.size <= most && run.bounds.width > 0) {
                c.report(
                    {},
                    FindingPlace{object.index, area_of(run), quoted(run) + ", " + describe(object.colour)},
                    most - run.size, "solid up to " + with_unit(most, "pt", 1));
            }
        }
    }
}

void text_at_trim(CheckContext &c)
{
    if (!c.info.written[static_cast<std::size_t>(PageBox::Trim)]) {
        return;
    }
    const Rect trim = c.box(PageBox::Trim);
    const Rect bleed = c.box(PageBox::Bleed);
    for (const SceneObject &object : c.scene.objects) {
        const auto at = static_cast<std::size_t>(object.index);
        const bool prints = at >= c.leaves_no_trace.size() || !c.leaves_no_trace[at];
        const bool mark = std::find(object.colour.colorants.begin(), object.colour.colorants.end(), "All") !=
                          object.colour.colorants.end();
        for (const TextRun &run : object.runs) {
            const Rect area = area_of(run);
            if (!prints || mark || area.width <= 0 || !overlaps(area, bleed) || inside(area, trim, 0.05)) {
                continue;
            }
            c.report({},
                     FindingPlace{object.index, area,
                                  quoted(run) +
                                      (overlaps(area, trim) ? ", cut by the trim" : ", wholly in the bleed")},
                     run.size, "inside the trim");
        }
    }
}

void fonts_missing(CheckContext &c)
{
    for (const SceneObject *one : c.art()) {
        for (const TextRun &run : one->runs) {
            if (!run.embedded) {
                c.report(run.font, FindingPlace{one->index, area_of(run), quoted(run)}, run.size, "embedded",
                         "Font not embedded: " + run.font);
            }
        }
    }
}

} // namespace bichrom::checks
