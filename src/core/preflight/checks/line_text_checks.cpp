#include "core/preflight/checks/checks.h"

#include <algorithm>
#include <set>

namespace bichrom::checks {

namespace {

/// Inks that the survey shows on at least a third of the pixels of \p area, and that
/// \p own does not paint.
std::vector<std::string> inks_around(const CheckContext &c, const Rect &area,
                                     const std::set<std::string> &own)
{
    std::vector<std::string> around;
    const PixelRect pixels = c.survey.pixels(area);
    const std::int64_t all = std::int64_t(pixels.width) * pixels.height;
    for (std::size_t plate = 0; plate < c.survey.inks.size(); ++plate) {
        std::int64_t inked = 0;
        for (int y = pixels.y; y < pixels.y + pixels.height; ++y) {
            for (int x = pixels.x; x < pixels.x + pixels.width; ++x) {
                inked += c.survey.tile.plates[plate].at(x, y) > 40 ? 1 : 0;
            }
        }
        if (all > 0 && inked * 3 >= all && own.count(c.survey.inks[plate]) == 0) {
            around.push_back(c.survey.inks[plate]);
        }
    }
    return around;
}

} // namespace

void thin_line(CheckContext &c)
{
    const double least = c.limit("line_pt");
    for (const SceneObject &object : c.scene.objects) {
        if (object.kind != ObjectKind::Stroke && object.kind != ObjectKind::StrokedText) {
            continue;
        }
        if (object.stroke_width < least - 1e-4) {
            c.report({}, object,
                     object.stroke_width <= 0 ? std::string("as thin as the device can")
                                              : with_unit(object.stroke_width, "pt", 3),
                     -object.stroke_width, "at least " + with_unit(least, "pt", 3));
        }
    }
}

void small_text(CheckContext &c)
{
    for (const SceneObject &object : c.scene.objects) {
        if (!is_text(object) || object.font_size <= 0) {
            continue;
        }
        std::set<std::string> own;
        for (const auto &[ink, amount] : inks_of(object.colour, 0.02)) {
            own.insert(ink);
        }
        // White text, or text without an ink that surrounds it, is a hole that ink runs into.
        const std::vector<std::string> around =
            object.overprint ? std::vector<std::string>() : inks_around(c, c.area(object), own);
        const bool reversed = !around.empty();
        const std::size_t inks = reversed ? around.size() : own.size();
        double least = reversed ? c.limit("reversed_pt") : c.limit("positive_pt");
        std::string kind = reversed ? "reversed" : "positive";
        if (inks > 1) {
            least += c.limit("more_inks_pt") * static_cast<double>(inks - 1);
            kind += ", " + std::to_string(inks) + " inks";
        }
        if (object.font_size < least - 1e-3) {
            c.report(kind, object, with_unit(object.font_size, "pt", 1), least - object.font_size,
                     "at least " + with_unit(least, "pt", 1), "Text too small (" + kind + ")");
        }
    }
}

void fonts_missing(CheckContext &c)
{
    for (const SceneObject &object : c.scene.objects) {
        if (is_text(object) && !object.font_embedded) {
            c.report(object.font, object, {}, object.font_size, "embedded",
                     "Font not embedded: " + object.font);
        }
    }
}

} // namespace bichrom::checks
