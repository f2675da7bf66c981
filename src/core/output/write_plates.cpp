#include "core/output/output_set.h"

#include "core/base/within_memory.h"
#include "core/output/damage_gate.h"
#include "core/output/prepared_page.h"
#include "core/output/publish_set.h"
#include "core/output/tiff_writer.h"

namespace bichrom {

namespace {

constexpr std::size_t band_bytes = std::size_t(16) << 20;

struct PlateBand final : BandResult
{
    std::vector<std::vector<std::uint8_t>> strips; ///< by plate, rows without padding
    std::vector<std::uint64_t> sums;
};

Outcome<std::unique_ptr<BandResult>> compute(const PlateRuns &plates, const std::vector<std::size_t> &wanted)
{
    auto result = std::make_unique<PlateBand>();
    const auto row_size = static_cast<std::size_t>(plates.rect.width);
    for (const std::size_t number : wanted) {
        const RunPlane &plate = plates.plates[number];
        std::vector<std::uint8_t> strip(row_size * static_cast<std::size_t>(plate.height()));
        std::uint64_t sum = 0;
        for (int y = 0; y < plate.height(); ++y) {
            if (!plate.row(y).empty()) {
                plate.write_row(y, strip.data() + row_size * static_cast<std::size_t>(y));
                sum += plate.sum(y, 0, plate.width());
            }
        }
        result->strips.push_back(std::move(strip));
        result->sums.push_back(sum);
    }
    return std::unique_ptr<BandResult>(std::move(result));
}

Outcome<Manifest> plate_files(const OpenedJob &opened, Dpi resolution, PageBox box,
                              const OutputRequest &request, const JobControl &control)
{
    const auto page = prepare_page(opened, resolution, box, false, request, control);
    if (!page) {
        return page.error();
    }
    const PixelRect extent = page->extent;
    constexpr int longest = 131072;
    if (extent.width > longest || extent.height > longest) {
        return Error{ErrorCode::TooLarge,
                     "The plates would be " + std::to_string(extent.width) + " × " +
                         std::to_string(extent.height) + " pixels; the longest side is " +
                         std::to_string(longest) + ".",
                     opened.artwork->name(), "Lower the resolution or choose a smaller page box."};
    }
    if (const Done ready = prepare_folder(request.folder); !ready) {
        return ready.error();
    }
    Manifest manifest = begin_manifest(opened, *page, resolution);
    const int rows = request.band_rows > 0
                         ? request.band_rows
                         : (page->plate_line->band_rows(extent.width, band_bytes) + 255) / 256 * 256;
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
    std::vector<std::uint64_t> sums(files.size(), 0);
    PlateSink sink;
    sink.compute = [&](const Band &, const PlateRuns &plates) { return compute(plates, page->plates); };
    sink.take = [&](const Band &band, BandResult &result) -> Done {
        auto &ready = static_cast<PlateBand &>(result);
        for (std::size_t i = 0; i < files.size(); ++i) {
            if (const Done done = files[i].write_strip(band.index, ready.strips[i]); !done) {
                return done;
            }
            sums[i] += ready.sums[i];
        }
        return {};
    };
    if (const Done done = page->plate_line->run(
            {resolution, Edges::Smooth, 0, extent.height, rows, request.threads}, sink, control);
        !done) {
        return done.error();
    }
    for (std::size_t i = 0; i < files.size(); ++i) {
        manifest.plates[i].coverage =
            static_cast<double>(sums[i]) /
            (255.0 * static_cast<double>(extent.width) * static_cast<double>(extent.height));
    }
    auto passed = pass_damage(page->plate_line->page(), opened.job); // painting may have met more
    if (!passed) {
        return passed.error();
    }
    manifest.damage = std::move(*passed);
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

} // namespace

Outcome<Manifest> write_plates(const OpenedJob &opened, Dpi resolution, PageBox box,
                               const OutputRequest &request, const JobControl &control)
{
    return within_memory(opened.artwork->name(), [&]() -> Outcome<Manifest> {
        const auto written = as_written(opened);
        return written ? plate_files(*written, resolution, box, request, control)
                       : Outcome<Manifest>(written.error());
    });
}

} // namespace bichrom
