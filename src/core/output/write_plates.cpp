#include "core/output/output_set.h"

#include "core/base/file_name.h"
#include "core/base/within_memory.h"
#include "core/output/plate_rows.h"
#include "core/output/publish_set.h"
#include "core/output/tiff_writer.h"

#include <algorithm>

namespace bichrom {

namespace {

Outcome<Manifest> single_files(const OpenedJob &opened, Dpi resolution, PageBox box,
                               const OutputRequest &request, const JobControl &control)
{
    const auto page = prepare_page(opened, resolution, box, false, request, control);
    if (!page) {
        return page.error();
    }
    if (const Done ready = prepare_folder(request.folder); !ready) {
        return ready.error();
    }
    const PixelRect extent = page->extent;
    Manifest manifest = begin_manifest(opened, *page, resolution);
    const int rows = request.band_rows > 0 ? request.band_rows : plate_band_rows(*page);
    std::vector<TiffWriter> files;
    for (std::size_t i = 0; i < manifest.plates.size(); ++i) {
        WrittenPlate &plate = manifest.plates[i];
        plate.file = page->stems[i] + ".tif";
        plate.width = extent.width;
        plate.height = extent.height;
        auto file = TiffWriter::create(request.folder / plate.file, TiffWriter::Kind::Plate,
                                       {extent.width, extent.height, rows, resolution, plate.ink});
        if (!file) {
            return file.error();
        }
        files.push_back(std::move(*file));
    }
    const Done run = run_plate_rows(
        *page, resolution, rows, request.threads, opened.job,
        [&](std::size_t plate, const Band &band, std::span<const std::uint8_t> bytes) {
            return files[plate].write_strip(band.index, bytes);
        },
        manifest, control);
    if (!run) {
        return run.error();
    }
    const auto kept = leave_out_blank(manifest, request);
    if (!kept) {
        return kept.error();
    }
    std::vector<AtomicFile *> parts;
    for (std::size_t i = 0; i < files.size(); ++i) {
        if (!(*kept)[i]) {
            continue;
        }
        if (const Done done = files[i].finish(); !done) {
            return done.error();
        }
        parts.push_back(&files[i].file());
    }
    return publish_set(std::move(parts), std::move(manifest), request);
}

/// All plates in one TIFF whose samples are inks.
Outcome<Manifest> one_file(const OpenedJob &opened, Dpi resolution, PageBox box, const OutputRequest &request,
                           const JobControl &control)
{
    const Job &job = opened.job;
    const std::string name = safe_file_name(job.name) + "-p" + std::to_string(job.page) + "-plates.tif";
    if (const Done ready = prepare_folder(request.folder); !ready) {
        return ready.error();
    }
    auto plates = spool_plates(opened, resolution, box, request, request.folder / name, control);
    if (!plates) {
        return plates.error();
    }
    Manifest manifest = std::move(plates->manifest);
    const std::size_t inks = plates->spools.size();
    const auto width = static_cast<std::size_t>(plates->width);
    // Strips of some hundred thousand bytes, so that readers need not unpack everything to see a row.
    const int rows = std::clamp(static_cast<int>((std::size_t(1) << 19) / (width * inks)), 1, plates->height);
    TiffHead head{plates->width, plates->height, rows, resolution, job.name};
    for (WrittenPlate &plate : manifest.plates) {
        plate.file = name;
        head.inks.push_back(plate.ink);
    }
    auto file = TiffWriter::create(request.folder / name, TiffWriter::Kind::Inks, head);
    if (!file) {
        return file.error();
    }
    std::vector<std::uint8_t> row(width), strip;
    for (int top = 0, index = 0; top < plates->height; top += rows, ++index) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped on request.", manifest.source, {}};
        }
        const auto count = static_cast<std::size_t>(std::min(rows, plates->height - top));
        strip.resize(count * width * inks);
        for (std::size_t ink = 0; ink < inks; ++ink) {
            for (std::size_t y = 0; y < count; ++y) {
                if (const Done read = plates->spools[ink].read(row); !read) {
                    return read.error();
                }
                std::uint8_t *out = strip.data() + y * width * inks + ink;
                for (std::size_t x = 0; x < width; ++x) {
                    out[x * inks] = row[x];
                }
            }
        }
        if (const Done done = file->write_strip(index, strip); !done) {
            return done.error();
        }
    }
    if (const Done done = file->finish(); !done) {
        return done.error();
    }
    return publish_set({&file->file()}, std::move(manifest), request);
}

} // namespace

Outcome<Manifest> write_plates(const OpenedJob &opened, Dpi resolution, PageBox box,
                               const OutputRequest &request, const JobControl &control, PlateFiles files)
{
    return within_memory(opened.artwork->name(), [&]() -> Outcome<Manifest> {
        const auto written = as_written(opened);
        if (!written) {
            return written.error();
        }
        if (const Done good = may_publish(*written, false, request); !good) {
            return good.error();
        }
        return (files == PlateFiles::OneForAll ? one_file : single_files)(*written, resolution, box, request,
                                                                          control);
    });
}

PageWriter plate_writer()
{
    return [](const OpenedJob &opened, const OutputRequest &request, const JobControl &control) {
        return write_plates(opened, Dpi(300), PageBox::Media, request, control);
    };
}

} // namespace bichrom
