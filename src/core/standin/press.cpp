#include "core/standin/device_parts.h"

#include "core/base/atomic_file.h"
#include "core/job/edits/plates.h"
#include "core/job/job_file.h"
#include "core/job/routing.h"
#include "core/job/stocks.h"
#include "core/line/plate_line.h"
#include "core/proof/print_look.h"
#include "core/report/pdf_pages.h"

#include <algorithm>

namespace bichrom {

namespace {

namespace fs = std::filesystem;

/// What a station is loaded with.
struct StationInk
{
    const char *kind;
    InkUse use;
    Lab solid; ///< over white
};
constexpr StationInk station_inks[] = {{"white", InkUse::White, {96, 0, 1}},
                                       {"clear", InkUse::Varnish, {99, 0, 1}},
                                       {"copper", InkUse::Metallic, {52, 24, 28}},
                                       {"silver", InkUse::Metallic, {70, 0, 0}}};

const StationInk &station_ink(const std::string &kind)
{
    for (const StationInk &one : station_inks) {
        if (kind == one.kind) {
            return one;
        }
    }
    return station_inks[0];
}

/// The job as the press runs it: what the under station holds, process inks, what the over station holds;
/// every other ink by its process build. \p words  grows by what is noteworthy
Job loaded(Job job, const DeviceFolder &device, std::string &words)
{
    const std::string under = device.word("under", {}), over = device.word("over", {});
    const std::vector<std::string> found = job.inks();
    for (const char *process : process_names) {
        if (job.find_plate(process) < 0) {
            Lab none{50, 0, 0};
            auto more = add_plate(job, propose_plate(job.plates, process, InkUse::Process, none));
            job = more ? std::move(*more) : std::move(job);
        }
    }
    const auto put = [&](const std::string &ink, const std::string &kind, bool first) {
        const int number = ink.empty() ? -1 : job.find_plate(ink);
        if (number < 0) {
            if (!ink.empty()) {
                words += " Nothing of it is in " + ink + ", which is loaded.";
            }
            return;
        }
        const StationInk &station = station_ink(kind);
        Plate &plate = job.plates[static_cast<std::size_t>(number)];
        plate.kind = station.use;
        plate.solid = station.solid;
        plate.traits = usual_traits(station.use);
        plate.printing.hits = device.flag("double_hit") ? 2 : 1;
        job = move_plate(std::move(job), static_cast<std::size_t>(number), first ? 0 : job.plates.size() - 1);
    };
    put(over, device.word("over_kind", "clear"), false);
    put(under, device.word("under_kind", "white"), true);
    for (const std::string &ink : found) {
        if (process_channel(ink) >= 0 || ink == under || ink == over) {
            continue;
        }
        words += " No station holds '" + ink + "': it is printed in its stand-in colour.";
        Route route;
        route.by = RouteBy::Ink;
        route.name = ink;
        route.to = RouteTo::Process;
        job = remove_plate(std::move(job), ink, false);
        job = with_route(std::move(job), std::move(route));
    }
    return job;
}

Outcome<ReportPicture> printed(const OpenedJob &opened, double dpi, const JobControl &control)
{
    const auto page = opened.artwork->interpret(opened.job.page, PageBox::Trim, opened.job.colours, control);
    if (!page) {
        return page.error();
    }
    const auto line = PlateLine::make(*page, setup_of(opened.job), control);
    if (!line) {
        return line.error();
    }
    const auto condition = condition_of(opened.job.colours);
    if (!condition) {
        return condition.error();
    }
    const PixelRect extent = (*line)->extent(Dpi(dpi));
    constexpr std::int64_t most_pixels = 400'000'000;
    if (std::int64_t(extent.width) * extent.height > most_pixels) {
        return Error{ErrorCode::TooLarge, "The page is too large for the press.", opened.artwork->name(), {}};
    }
    const auto tile = (*line)->whole_page(Dpi(dpi), Edges::Seen, control);
    if (!tile) {
        return tile.error();
    }
    ReportPicture picture{{}, extent.width, extent.height, {}};
    picture.pixels.resize(static_cast<std::size_t>(extent.width) * static_cast<std::size_t>(extent.height));
    PrintLook(opened.job, (*line)->inks(), **condition).compose(*tile, picture.pixels);
    return picture;
}

} // namespace

Outcome<DeviceEvent> print_pages(DeviceFolder &device, const fs::path &file, const JobControl &control)
{
    const auto artwork = Artwork::open(file, {}, control);
    if (!artwork) {
        return artwork.error().code == ErrorCode::Cancelled
                   ? Outcome<DeviceEvent>(artwork.error())
                   : device.refuse(file, artwork.error().reason + " " + artwork.error().remedy);
    }
    const auto pages = parse_pages(device.word("pages", "all"), (*artwork)->page_count());
    if (!pages) {
        return device.refuse(file, pages.error().reason);
    }
    const double dpi = std::clamp(device.number("dpi", 150), 20.0, 600.0);
    std::string words;
    const fs::path folder = device.path() / "printed";
    if (const Done ready = prepare_folder(folder); !ready) {
        return ready.error();
    }
    for (const int number : *pages) {
        const auto page = (*artwork)->interpret(number, PageBox::Media, {}, control);
        if (!page) {
            return device.refuse(file, page.error().reason);
        }
        const auto scene = record_scene(**page, control);
        if (!scene) {
            return device.refuse(file, scene.error().reason);
        }
        std::string noted;
        OpenedJob opened{propose_job(*scene, file.stem().string(), number), *artwork, {}};
        opened.job = loaded(std::move(opened.job), device, noted);
        const std::string stock = device.word("stock", "White stock");
        for (const ShippedStock &one : shipped_stocks()) {
            if (one.stock.name == stock || one.id == stock) {
                opened.job.stock = one.stock;
            }
        }
        const auto picture = printed(opened, dpi, control);
        if (!picture) {
            return picture.error().code == ErrorCode::Cancelled ? Outcome<DeviceEvent>(picture.error())
                                                                : device.refuse(file, picture.error().reason);
        }
        const auto png = png_bytes(*picture, dpi);
        if (!png) {
            return png.error();
        }
        const std::string name = file.stem().string() + "-p" + std::to_string(number) + ".png";
        if (const Done done = write_file(folder / name, *png); !done) {
            return done.error();
        }
        words += (pages->size() > 1 && !noted.empty() ? " Page " + std::to_string(number) + ":" : "") + noted;
    }
    return device.take(
        file, (pages->size() == 1 ? std::string("1 page") : std::to_string(pages->size()) + " pages") +
                  " printed." + words);
}

} // namespace bichrom
