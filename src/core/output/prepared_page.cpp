#include "core/output/prepared_page.h"

#include "core/base/file_name.h"
#include "core/base/pixel_rect.h"
#include "core/job/edits/resize.h"
#include "core/output/damage_gate.h"
#include "core/output/publish_set.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

Error prints_nothing(const std::string &place)
{
    return {ErrorCode::NothingToPrint, "The page paints nothing, so there is no plate to write.", place,
            "Choose another page, or check that the right layers are on."};
}

/// Numbers of the plates to be written.
Outcome<std::vector<std::size_t>> chosen_plates(const Job &job, const OutputRequest &request)
{
    const std::vector<std::string> &inks = request.inks;
    const auto holds = [](const std::vector<std::string> &list, const std::string &ink) {
        return std::find(list.begin(), list.end(), ink) != list.end();
    };
    std::vector<std::size_t> numbers;
    for (const std::string &ink : inks) {
        if (job.find_plate(ink) < 0) {
            std::string known;
            for (const std::string &one : job.inks()) {
                known += (known.empty() ? "" : ", ") + one;
            }
            return Error{ErrorCode::UnknownInk, "There is no plate of '" + ink + "'.", job.name,
                         "The plates are: " + known + "."};
        }
    }
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        const std::string &ink = job.plates[i].ink;
        if ((inks.empty() || holds(inks, ink)) && !holds(request.without, ink)) {
            numbers.push_back(i);
        }
    }
    if (numbers.empty()) {
        return prints_nothing(job.name + ", page " + std::to_string(job.page));
    }
    return numbers;
}

/// Films tell job, page, printing order and ink; plates their ink.
std::vector<std::string> stems_of(const Job &job, const std::vector<std::size_t> &plates, bool screened)
{
    std::vector<std::string> names;
    const std::size_t digits = std::to_string(job.plates.size()).size();
    for (const std::size_t number : plates) {
        std::string order = std::to_string(number + 1);
        order.insert(0, digits - std::min(digits, order.size()), '0');
        names.push_back(screened ? safe_file_name(job.name) + "-p" + std::to_string(job.page) + "-" + order +
                                       "-" + safe_file_name(job.plates[number].ink)
                                 : job.plates[number].ink);
    }
    return distinct_file_names(names);
}

} // namespace

Outcome<OpenedJob> as_written(const OpenedJob &opened)
{
    OpenedJob written = opened;
    if (opened.job.film.across == 1 && opened.job.film.along == 1) {
        return written;
    }
    if (const Done good = check_film(opened.job.film); !good) {
        return good.error();
    }
    written.job = stretched_for_press(std::move(written.job));
    auto stretched = assemble(opened.artwork, written.job.placements);
    if (!stretched) {
        return stretched.error();
    }
    written.artwork = *stretched;
    return written;
}

Outcome<PreparedPage> prepare_page(const OpenedJob &opened, Dpi resolution, PageBox box, bool screened,
                                   const OutputRequest &request, const JobControl &control)
{
    const Job &job = opened.job;
    const std::string place = opened.artwork->name() + ", page " + std::to_string(job.page);
    if (job.plates.empty()) {
        return prints_nothing(place);
    }
    if (const Done good = check_resolution(resolution); !good) {
        return good.error();
    }
    auto plates = chosen_plates(job, request);
    if (!plates) {
        return plates.error();
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
    page.part = whole_part(*page.plate_line);
    FilmOptions film = job.film;
    film.resolution = resolution;
    if (screened && film.around_art) {
        const auto kept = painted_part(**plate_line, film, control);
        if (!kept) {
            return kept.error();
        }
        page.part = cut_to(page.part, *kept);
        const auto pixels = [&](double mm) {
            return static_cast<int>(std::lround(mm * resolution.value / millimetres_per_inch));
        };
        page.extent = intersection(
            {pixels(kept->x), pixels(kept->y), pixels(kept->width), pixels(kept->height)}, page.extent);
    }
    page.art = film_art(page.part, film);
    page.art.width = page.extent.width; // whatever a hair's breadth of rounding says
    page.art.height = page.extent.height;
    page.plates = std::move(*plates);
    page.stems = stems_of(job, page.plates, screened);
    return page;
}

Manifest begin_manifest(const OpenedJob &opened, const PreparedPage &page, Dpi resolution)
{
    Manifest manifest;
    manifest.source = source_name(opened);
    manifest.page = opened.job.page;
    manifest.width = to_millimetres(page.part.width);
    manifest.height = to_millimetres(page.part.height);
    manifest.scale = opened.job.placements.scale;
    manifest.across = opened.job.placements.across;
    manifest.along = opened.job.placements.along;
    for (const std::size_t i : page.plates) {
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

Outcome<std::vector<bool>> leave_out_blank(Manifest &manifest, const OutputRequest &request)
{
    std::vector<bool> kept;
    for (const WrittenPlate &plate : manifest.plates) {
        const bool keep = plate.coverage > 0 || request.blank_too;
        kept.push_back(keep);
        if (!keep) {
            manifest.blank.push_back(plate.ink);
        }
    }
    if (std::find(kept.begin(), kept.end(), true) == kept.end()) {
        return prints_nothing(manifest.source + ", page " + std::to_string(manifest.page));
    }
    std::size_t number = 0;
    std::erase_if(manifest.plates, [&](const WrittenPlate &) { return !kept[number++]; });
    return kept;
}

} // namespace bichrom
