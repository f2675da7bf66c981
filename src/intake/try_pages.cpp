#include "intake/try_pages.h"

#include "core/artwork/intake/intake_program.h"
#include "core/artwork/scene.h"
#include "core/base/atomic_file.h"
#include "core/line/plate_line.h"
#include "core/proof/original_view.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <ctime>
#include <new>
#include <string>

namespace bichrom {

namespace {

constexpr int most_pages = 4;
constexpr double enough = 3; // seconds of work; the rest of an honest large file is not waited for
constexpr Dpi coarse{24};

/// Whether the page is soon separated.
bool is_small(const Scene &scene)
{
    constexpr std::size_t most_objects = 20000;
    constexpr double most_pixels = 16e6; // of all pictures
    double pixels = 0;
    for (const SceneObject &object : scene.objects) {
        pixels += static_cast<double>(object.image_width) * object.image_height;
    }
    return scene.objects.size() <= most_objects && pixels <= most_pixels;
}

void try_page(const Artwork &artwork, int number)
{
    const auto content = artwork.interpret(number, PageBox::Media);
    if (!content) {
        if (content.error().code == ErrorCode::TooLarge || content.error().code == ErrorCode::TakesLong) {
            std::printf("%s %d\n", probe_slow_page, number);
        }
        return;
    }
    const auto scene = record_scene(**content);
    if (!scene) {
        return;
    }
    std::vector<std::string> inks;
    for (const FoundInk &ink : scene->inks) {
        inks.push_back(ink.name);
    }
    if (inks.empty()) {
        return;
    }
    if (static_cast<double>(std::clock()) / CLOCKS_PER_SEC > enough) {
        return; // many objects; each has been interpreted, which is where files do harm
    }
    constexpr int most_side = 2000; // pixels; endless pages are tried by their corner
    double area = 0;                // of all objects' boxes, by which the painter's work goes
    for (const SceneObject &object : scene->objects) {
        area += object.bounds.width * object.bounds.height;
    }
    constexpr double most_painted = 1e7; // pixels
    const Dpi resolution(std::max(
        1.0, std::min(coarse.value, std::sqrt(most_painted / std::max(1.0, area)) * points_per_inch)));
    const auto view = OriginalView::make(*content); // every decoder and painter, at the least cost
    if (!view) {
        return;
    }
    const auto pixels = [&](Points length) {
        return std::clamp(static_cast<int>(length.value * resolution.value / points_per_inch), 1, most_side);
    };
    const PixelRect page = {0, 0, pixels((*content)->width()), pixels((*content)->height())};
    if (!(*view)->render(page, resolution, Edges::Quick) || !is_small(*scene)) {
        return; // large pictures are not converted and many objects not routed twice
    }
    const auto plate_line = PlateLine::make(*content, std::move(inks));
    if (plate_line) {
        (void)(*plate_line)->render(page, resolution, Edges::Quick);
    }
}

} // namespace

int try_pages(const char *input, const char *password_file, const char *patience)
{
    std::set_new_handler([] { std::_Exit(probe_needs_memory); });
    auto bytes = read_file(input);
    const auto password = read_file(password_file);
    if (!bytes || !password) {
        return 1;
    }
    ReadingOptions options;
    options.patience = std::clamp(std::atoi(patience), 1, 100);
    options.password.assign(reinterpret_cast<const char *>(password->data()), password->size());
    const auto artwork = Artwork::open_bytes(std::move(*bytes), "input", options);
    if (!artwork) {
        return 0; // whoever opens it says why
    }
    for (int page = 1; page <= std::min((*artwork)->page_count(), most_pages); ++page) {
        if (static_cast<double>(std::clock()) / CLOCKS_PER_SEC > enough) {
            break;
        }
        try_page(**artwork, page);
    }
    return 0;
}

} // namespace bichrom
