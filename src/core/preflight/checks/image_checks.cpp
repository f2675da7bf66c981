#include "core/preflight/checks/checks.h"

#include <algorithm>
#include <array>
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
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
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
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
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
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
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

namespace {

/// Whether \p plate holds text or line work within \p pixels: nearly all of it is ground or stroke, whichever
/// is the darker, and rows change often between them.
bool holds_strokes(const Plane &plate, const PixelRect &pixels)
{
    const std::int64_t all = std::int64_t(pixels.width) * pixels.height;
    std::array<std::int64_t, 256> count{};
    for (int y = pixels.y; y < pixels.y + pixels.height; ++y) {
        const auto row = plate.row(y);
        for (int x = pixels.x; x < pixels.x + pixels.width; ++x) {
            ++count[row[static_cast<std::size_t>(x)]];
        }
    }
    int low = 0;
    int high = 255;
    while (low < 255 && count[static_cast<std::size_t>(low)] == 0) {
        ++low;
    }
    while (high > 0 && count[static_cast<std::size_t>(high)] == 0) {
        --high;
    }
    constexpr int least_contrast = 90;
    if (high - low < least_contrast) {
        return false;
    }
    std::int64_t light = 0;
    std::int64_t dark = 0;
    for (int tone = low; tone <= high; ++tone) {
        light += tone - low < (high - low) / 6 ? count[static_cast<std::size_t>(tone)] : 0;
        dark += high - tone < (high - low) * 2 / 5 ? count[static_cast<std::size_t>(tone)] : 0;
    }
    std::int64_t changes = 0;
    for (int y = pixels.y; y < pixels.y + pixels.height; ++y) {
        const auto row = plate.row(y);
        int before = row[static_cast<std::size_t>(pixels.x)];
        for (int x = pixels.x; x < pixels.x + pixels.width; ++x) {
            const int tone = row[static_cast<std::size_t>(x)];
            changes += std::abs(tone - before) > (high - low) * 2 / 5 ? 1 : 0;
            before = tone;
        }
    }
    const double dark_share = static_cast<double>(dark) / static_cast<double>(all);
    const double light_share = static_cast<double>(light) / static_cast<double>(all);
    const double stroke_share = std::min(dark_share, light_share);
    const double ground_share = std::max(dark_share, light_share);
    return stroke_share > 0.01 && stroke_share < 0.5 && ground_share > 0.4 &&
           dark_share + light_share > 0.7 && static_cast<double>(changes) / pixels.height > 2.0;
}

} // namespace

void rasterised_text(CheckContext &c)
{
    for (const SceneObject *one : c.art()) {
        const SceneObject &object = *one;
        if (object.kind != ObjectKind::Image || object.image_ppi <= 0 ||
            object.image_ppi >= c.limit("least_ppi") - 0.5 || object.image_bits == 1) {
            continue;
        }
        const PixelRect pixels = c.survey.pixels(c.area(object));
        if (std::int64_t(pixels.width) * pixels.height < 400) {
            continue;
        }
        for (std::size_t plate = 0; plate < c.survey.inks.size(); ++plate) {
            if (holds_strokes(c.survey.tile.plates[plate], pixels)) {
                c.report({}, object, with_unit(object.image_ppi, "ppi", 0) + ", on " + c.survey.inks[plate],
                         -object.image_ppi, "at least " + with_unit(c.limit("least_ppi"), "ppi", 0));
                break;
            }
        }
    }
}

void image_upscaled(CheckContext &c)
{
    for (const SceneObject *one : c.art()) {
        const auto found = c.upscaled.find(one->index);
        if (found != c.upscaled.end()) {
            c.report({}, *one,
                     with_unit(one->image_ppi / found->second, "ppi", 0) + " of detail in " +
                         with_unit(one->image_ppi, "ppi", 0) + " (blown up " +
                         with_unit(found->second, "", 1) + " times)",
                     found->second, "detail as fine as its pixels");
        }
    }
}

} // namespace bichrom::checks
