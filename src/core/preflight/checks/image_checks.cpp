#include "core/preflight/checks/checks.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

namespace bichrom::checks {

namespace {

enum class ImageKind
{
    LineArt,
    Grey,
    Photo
};

ImageKind kind_of(const SceneObject &object)
{
    if (object.image_bits == 1 || object.kind == ObjectKind::ImageMask) {
        return ImageKind::LineArt;
    }
    return object.image_channels <= 1 ? ImageKind::Grey : ImageKind::Photo;
}

const char *name_of(ImageKind kind)
{
    return kind == ImageKind::LineArt ? "line art" : kind == ImageKind::Grey ? "grey picture" : "photo";
}

double by_kind(const CheckContext &c, ImageKind kind)
{
    return kind == ImageKind::LineArt ? c.limit("line_art_ppi")
           : kind == ImageKind::Grey  ? c.limit("grey_ppi")
                                      : c.limit("photo_ppi");
}

} // namespace

void image_coarse(CheckContext &c)
{
    for (const SceneObject &object : c.scene.objects) {
        const ImageKind kind = kind_of(object);
        if (is_image(object) && object.image_ppi > 0 && object.image_ppi < by_kind(c, kind) - 0.5) {
            c.report(name_of(kind), object, with_unit(object.image_ppi, "ppi", 0), -object.image_ppi,
                     "at least " + with_unit(by_kind(c, kind), "ppi", 0),
                     std::string("Picture too coarse: ") + name_of(kind));
        }
    }
}

void image_fine(CheckContext &c)
{
    for (const SceneObject &object : c.scene.objects) {
        const ImageKind kind = kind_of(object);
        const double most = by_kind(c, kind);
        if (is_image(object) && most > 0 && object.image_ppi > most + 0.5) {
            c.report(name_of(kind), object, with_unit(object.image_ppi, "ppi", 0), object.image_ppi,
                     "at most " + with_unit(most, "ppi", 0),
                     std::string("Picture far finer than needed: ") + name_of(kind));
        }
    }
}

void image_moire(CheckContext &c)
{
    const double ruling = c.rules.press.ruling.value;
    for (const SceneObject &object : c.scene.objects) {
        if (!is_image(object) || kind_of(object) == ImageKind::LineArt || object.image_ppi <= 0) {
            continue;
        }
        const double ratio = object.image_ppi / ruling;
        const double whole = std::round(ratio);
        const double off = std::fabs(ratio - whole);
        // Beats are coarse enough to be seen only while few pixels make a screen cell.
        if (whole >= 1 && whole <= c.limit("highest_ratio") && off > 0.002 && off < c.limit("near")) {
            c.report({}, object,
                     with_unit(object.image_ppi, "ppi", 0) + " = " + with_unit(ratio, "", 3) + " × " +
                         with_unit(ruling, "lpi", 1),
                     1.0 - off, "not within " + with_unit(c.limit("near"), "", 2) + " of a whole ratio");
        }
    }
}

void rasterised_text(CheckContext &c)
{
    for (const SceneObject &object : c.scene.objects) {
        if (object.kind != ObjectKind::Image || object.image_ppi <= 0 ||
            object.image_ppi >= c.limit("least_ppi") - 0.5 || object.image_bits == 1) {
            continue;
        }
        // Text and line art are nearly all ink or nearly none, and change often along a row.
        const PixelRect pixels = c.survey.pixels(c.area(object));
        const std::int64_t all = std::int64_t(pixels.width) * pixels.height;
        if (all < 400) {
            continue;
        }
        std::int64_t dark = 0;
        std::int64_t light = 0;
        std::int64_t changes = 0;
        for (int y = pixels.y; y < pixels.y + pixels.height; ++y) {
            int before = 0;
            for (int x = pixels.x; x < pixels.x + pixels.width; ++x) {
                int most = 0;
                for (const Plane &plate : c.survey.tile.plates) {
                    most = std::max(most, int(plate.at(x, y)));
                }
                dark += most > 150 ? 1 : 0;
                light += most < 40 ? 1 : 0;
                changes += std::abs(most - before) > 90 ? 1 : 0;
                before = most;
            }
        }
        const double dark_share = static_cast<double>(dark) / static_cast<double>(all);
        const double light_share = static_cast<double>(light) / static_cast<double>(all);
        const double changes_a_row = static_cast<double>(changes) / pixels.height;
        if (dark_share > 0.01 && dark_share < 0.5 && light_share > 0.4 && dark_share + light_share > 0.7 &&
            changes_a_row > 2.0) {
            c.report({}, object, with_unit(object.image_ppi, "ppi", 0), -object.image_ppi,
                     "at least " + with_unit(c.limit("least_ppi"), "ppi", 0));
        }
    }
}

} // namespace bichrom::checks
