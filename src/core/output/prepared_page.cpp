#include "core/output/prepared_page.h"

#include "core/base/file_name.h"
#include "core/output/damage_gate.h"

#include <algorithm>

namespace bichrom {

Outcome<PreparedPage> prepare_page(const OpenedJob &opened, Dpi resolution, PageBox box,
                                   const JobControl &control)
{
    const Job &job = opened.job;
    const std::string place = opened.artwork->name() + ", page " + std::to_string(job.page);
    if (job.plates.empty()) {
        return Error{ErrorCode::NothingToPrint, "The page paints nothing, so there is no plate to write.",
                     place, "Choose another page, or check that the right layers are on."};
    }
    if (const Done good = check_resolution(resolution); !good) {
        return good.error();
    }
    const auto info = opened.artwork->page_info(job.page);
    if (!info) {
        return info.error();
    }
    const auto content = opened.artwork->interpret(job.page, box, job.colours, control);
    if (!content) {
        return content.error();
    }
    const auto plate_line = PlateLine::make(*content, setup_of(job), control);
    if (!plate_line) {
        return plate_line.error();
    }
    if (const auto passed = pass_damage(**content, job); !passed) {
        return passed.error();
    }
    PreparedPage page;
    page.plate_line = *plate_line;
    page.extent = page.plate_line->extent(resolution);
    page.trim = box_within(*info, PageBox::Trim, box);
    page.stems = distinct_file_names(job.inks());
    return page;
}

Manifest begin_manifest(const OpenedJob &opened, const PreparedPage &page, Dpi resolution)
{
    Manifest manifest;
    manifest.source = std::filesystem::path(opened.artwork->name()).filename().string();
    manifest.page = opened.job.page;
    manifest.width = to_millimetres(page.plate_line->page().width());
    manifest.height = to_millimetres(page.plate_line->page().height());
    for (std::size_t i = 0; i < opened.job.plates.size(); ++i) {
        const Plate &plate = opened.job.plates[i];
        WrittenPlate written;
        written.ink = plate.ink;
        written.kind = plate.kind;
        written.resolution = resolution;
        written.screen = plate.screen;
        written.order = static_cast<int>(i) + 1;
        manifest.plates.push_back(std::move(written));
    }
    return manifest;
}

} // namespace bichrom
