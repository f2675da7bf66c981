#include "core/output/plate_rows.h"

#include "core/output/damage_gate.h"

namespace bichrom {

namespace {

constexpr std::size_t band_bytes = std::size_t(16) << 20;

struct PlateBand final : BandResult
{
    std::vector<std::vector<std::uint8_t>> rows; ///< by plate
    std::vector<std::uint64_t> sums;
};

Outcome<std::unique_ptr<BandResult>> compute(const PlateRuns &plates, const std::vector<std::size_t> &wanted)
{
    auto result = std::make_unique<PlateBand>();
    const auto row_size = static_cast<std::size_t>(plates.rect.width);
    for (const std::size_t number : wanted) {
        const RunPlane &plate = plates.plates[number];
        std::vector<std::uint8_t> rows(row_size * static_cast<std::size_t>(plate.height()));
        std::uint64_t sum = 0;
        for (int y = 0; y < plate.height(); ++y) {
            if (!plate.row(y).empty()) {
                plate.write_row(y, rows.data() + row_size * static_cast<std::size_t>(y));
                sum += plate.sum(y, 0, plate.width());
            }
        }
        result->rows.push_back(std::move(rows));
        result->sums.push_back(sum);
    }
    return std::unique_ptr<BandResult>(std::move(result));
}

} // namespace

int plate_band_rows(const PreparedPage &page)
{
    return (page.plate_line->band_rows(page.extent.width, band_bytes) + 255) / 256 * 256;
}

Done run_plate_rows(const PreparedPage &page, Dpi resolution, int band_rows, int threads, const Job &job,
                    const TakePlateRows &take, Manifest &manifest, const JobControl &control)
{
    const PixelRect extent = page.extent;
    constexpr int longest = 131072;
    if (extent.width > longest || extent.height > longest) {
        return Error{ErrorCode::TooLarge,
                     "The plates would be " + std::to_string(extent.width) + " × " +
                         std::to_string(extent.height) + " pixels; the longest side is " +
                         std::to_string(longest) + ".",
                     manifest.source, "Lower the resolution or choose a smaller page box."};
    }
    std::vector<std::uint64_t> sums(page.plates.size(), 0);
    PlateSink sink;
    sink.compute = [&](const Band &, const PlateRuns &plates) { return compute(plates, page.plates); };
    sink.take = [&](const Band &band, BandResult &result) -> Done {
        auto &ready = static_cast<PlateBand &>(result);
        for (std::size_t i = 0; i < sums.size(); ++i) {
            if (const Done done = take(i, band, ready.rows[i]); !done) {
                return done;
            }
            sums[i] += ready.sums[i];
        }
        return {};
    };
    if (const Done done = page.plate_line->run(
            {resolution, Edges::Smooth, 0, extent.height, band_rows, threads}, sink, control);
        !done) {
        return done;
    }
    for (std::size_t i = 0; i < sums.size(); ++i) {
        manifest.plates[i].coverage =
            static_cast<double>(sums[i]) /
            (255.0 * static_cast<double>(extent.width) * static_cast<double>(extent.height));
    }
    auto passed = pass_damage(page.plate_line->page(), job); // painting may have met more
    if (!passed) {
        return passed.error();
    }
    manifest.damage = std::move(*passed);
    return {};
}

Outcome<SpooledPlates> spool_plates(const OpenedJob &opened, Dpi resolution, PageBox box,
                                    const OutputRequest &request, const std::filesystem::path &beside,
                                    const JobControl &control)
{
    const auto page = prepare_page(opened, resolution, box, false, request, control);
    if (!page) {
        return page.error();
    }
    SpooledPlates made{
        begin_manifest(opened, *page, resolution), {}, {}, page->extent.width, page->extent.height};
    std::vector<PlaneSpool> spools;
    for (std::size_t i = 0; i < page->plates.size(); ++i) {
        auto spool = PlaneSpool::create(beside);
        if (!spool) {
            return spool.error();
        }
        spools.push_back(std::move(*spool));
    }
    const Done run = run_plate_rows(
        *page, resolution, request.band_rows > 0 ? request.band_rows : plate_band_rows(*page),
        request.threads, opened.job,
        [&](std::size_t plate, const Band &, std::span<const std::uint8_t> rows) {
            return spools[plate].append(rows);
        },
        made.manifest, control);
    if (!run) {
        return run.error();
    }
    const auto kept = leave_out_blank(made.manifest, request);
    if (!kept) {
        return kept.error();
    }
    for (std::size_t i = 0; i < spools.size(); ++i) {
        if (!(*kept)[i]) {
            continue;
        }
        if (const Done ready = spools[i].rewind(); !ready) {
            return ready.error();
        }
        made.numbers.push_back(page->plates[i]);
        made.spools.push_back(std::move(spools[i]));
    }
    for (WrittenPlate &plate : made.manifest.plates) {
        plate.width = made.width;
        plate.height = made.height;
    }
    return made;
}

} // namespace bichrom
