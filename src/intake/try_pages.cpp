#include "intake/try_pages.h"

#include "core/artwork/intake/intake_program.h"
#include "core/artwork/scene.h"
#include "core/base/atomic_file.h"
#include "core/plates/plate_renderer.h"

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
    const auto renderer = PlateRenderer::make(*content, std::move(inks));
    if (!renderer) {
        return;
    }
    constexpr int most_side = 2000; // pixels; endless pages are tried by their corner
    double area = 0;                // of all objects' boxes, by which the painter's work goes
    for (const SceneObject &object : scene->objects) {
        area += object.bounds.width * object.bounds.height;
    }
    constexpr double most_painted = 3e7; // pixels
    const Dpi resolution(std::max(
        1.0, std::min(coarse.value, std::sqrt(most_painted / std::max(1.0, area)) * points_per_inch)));
    PixelRect page = (*renderer)->extent(resolution);
    page.width = std::min(page.width, most_side);
    page.height = std::min(page.height, most_side);
    (void)(*renderer)->render(page, resolution, Edges::Quick);
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
