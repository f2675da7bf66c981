#include "core/output/output_set.h"

#include "core/output/damage_gate.h"
#include "core/output/prepared_page.h"
#include "core/output/publish_set.h"
#include "core/output/tiff_writer.h"
#include "core/plates/pixel_row.h"
#include "core/raster/bands.h"

namespace bichrom {

namespace {

constexpr std::size_t band_bytes = std::size_t(16) << 20;

struct PlateBand final : BandResult
{
    std::vector<std::vector<std::uint8_t>> strips; ///< by plate, rows without padding
    std::vector<std::uint64_t> sums;
};

Outcome<std::unique_ptr<BandResult>> compute(const PlateRenderer &renderer, const PixelRect &extent,
                                             Dpi resolution, const Band &band, const JobControl &control)
{
    auto result = std::make_unique<PlateBand>();
    const std::size_t count = renderer.inks().size();
    const auto row_size = static_cast<std::size_t>(extent.width);
    result->strips.assign(count, std::vector<std::uint8_t>(row_size * static_cast<std::size_t>(band.rows)));
    result->sums.assign(count, 0);
    PlatePixels pixels;
    PixelRow row;
    for (int pass = 0; pass < renderer.passes(); ++pass) {
        const Done done = renderer.render_pass(pass, {0, band.top, extent.width, band.rows}, resolution,
                                               Edges::Smooth, pixels, control);
        if (!done) {
            return done.error();
        }
        for (int y = 0; y < band.rows; ++y) {
            row.look(pixels.row(y), extent.width, pixels.channels);
            for (std::size_t i = 0; i < pixels.plates.size(); ++i) {
                const auto plate = static_cast<std::size_t>(pixels.plates[i]);
                result->sums[plate] +=
                    row.take(pixels.channel_of[i],
                             result->strips[plate].data() + row_size * static_cast<std::size_t>(y));
            }
        }
    }
    return std::unique_ptr<BandResult>(std::move(result));
}

} // namespace

Outcome<Manifest> write_plates(const OpenedJob &opened, Dpi resolution, PageBox box,
                               const OutputRequest &request, const JobControl &control)
{
    const auto page = prepare_page(opened, resolution, box, control);
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
                         : (rows_for(extent.width, page->renderer->channels(), band_bytes) + 255) / 256 * 256;
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
    BandSteps steps;
    steps.compute = [&](const Band &band) {
        return compute(*page->renderer, extent, resolution, band, control);
    };
    steps.take = [&](const Band &band, BandResult &result) -> Done {
        auto &ready = static_cast<PlateBand &>(result);
        for (std::size_t i = 0; i < files.size(); ++i) {
            if (const Done done = files[i].write_strip(band.index, ready.strips[i]); !done) {
                return done;
            }
            sums[i] += ready.sums[i];
        }
        return {};
    };
    if (const Done done = run_bands(extent.height, rows, steps, control, request.threads); !done) {
        return done.error();
    }
    for (std::size_t i = 0; i < files.size(); ++i) {
        manifest.plates[i].coverage =
            static_cast<double>(sums[i]) /
            (255.0 * static_cast<double>(extent.width) * static_cast<double>(extent.height));
        if (const Done done = files[i].finish(); !done) {
            return done.error();
        }
    }
    auto passed = pass_damage(page->renderer->page(), opened.job); // painting may have met more
    if (!passed) {
        return passed.error();
    }
    manifest.damage = std::move(*passed);
    std::vector<AtomicFile *> parts;
    for (TiffWriter &file : files) {
        parts.push_back(&file.file());
    }
    return publish_set(std::move(parts), std::move(manifest), request);
}

} // namespace bichrom
