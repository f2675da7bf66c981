#include "core/output/prepared_page.h"

#include "core/base/atomic_file.h"
#include "core/base/file_name.h"

#include <algorithm>
#include <cstring>

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
    const auto renderer = PlateRenderer::make(*content, setup_of(job), control);
    if (!renderer) {
        return renderer.error();
    }
    PreparedPage page;
    page.renderer = *renderer;
    page.extent = page.renderer->extent(resolution);
    page.trim = box_within(*info, PageBox::Trim, box);
    page.stems = distinct_file_names(job.inks());
    return page;
}

Manifest begin_manifest(const OpenedJob &opened, const PreparedPage &page, Dpi resolution)
{
    Manifest manifest;
    manifest.source = std::filesystem::path(opened.artwork->name()).filename().string();
    manifest.page = opened.job.page;
    manifest.width = to_millimetres(page.renderer->page().width());
    manifest.height = to_millimetres(page.renderer->page().height());
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

namespace {

constexpr int group_pixels = 64;
constexpr int part_pixels = 8; ///< eight parts make a group

/// Whether \p count pixels are all alike: their bytes equal themselves moved by a pixel.
bool all_alike(const std::uint8_t *pixels, int count, int channels)
{
    return std::memcmp(pixels, pixels + channels, static_cast<std::size_t>((count - 1) * channels)) == 0;
}

} // namespace

void PixelRow::look(const std::uint8_t *pixels, int width, int channels)
{
    m_pixels = pixels;
    m_width = width;
    m_channels = channels;
    m_even.resize(static_cast<std::size_t>((width + group_pixels - 1) / group_pixels));
    for (std::size_t group = 0; group < m_even.size(); ++group) {
        const int first = static_cast<int>(group) * group_pixels;
        const int count = std::min(group_pixels, width - first);
        const std::uint8_t *at = pixels + static_cast<std::ptrdiff_t>(first) * channels;
        Even &even = m_even[group];
        even = {all_alike(at, count, channels), 0};
        if (!even.whole && count == group_pixels) {
            for (int part = 0; part < group_pixels / part_pixels; ++part) {
                const bool alike = all_alike(at + part * part_pixels * channels, part_pixels, channels);
                even.parts = static_cast<std::uint8_t>(even.parts | (alike ? 1u << part : 0u));
            }
        }
    }
}

std::uint64_t PixelRow::take(int channel, std::uint8_t *tones) const
{
    const int channels = m_channels;
    std::uint64_t sum = 0;
    for (std::size_t group = 0; group < m_even.size(); ++group) {
        const int first = static_cast<int>(group) * group_pixels;
        const int count = std::min(group_pixels, m_width - first);
        const std::uint8_t *from = m_pixels + static_cast<std::ptrdiff_t>(first) * channels + channel;
        std::uint8_t *to = tones + first;
        if (m_even[group].whole) {
            std::memset(to, *from, static_cast<std::size_t>(count));
            sum += static_cast<std::uint64_t>(*from) * static_cast<std::uint64_t>(count);
            continue;
        }
        std::uint32_t ink = 0;
        for (int x = 0; x < count; x += part_pixels, from += part_pixels * channels) {
            if ((m_even[group].parts >> (x / part_pixels) & 1) != 0) {
                std::memset(to + x, *from, part_pixels);
                ink += *from * static_cast<std::uint32_t>(part_pixels);
                continue;
            }
            const int end = std::min(part_pixels, count - x);
            for (int i = 0; i < end; ++i) {
                to[x + i] = from[i * channels];
                ink += from[i * channels];
            }
        }
        sum += ink;
    }
    return sum;
}

int rows_for(int width, int channels, std::size_t bytes)
{
    const std::size_t row =
        std::max<std::size_t>(1, static_cast<std::size_t>(width) * static_cast<std::size_t>(channels));
    const int rows = static_cast<int>(std::min<std::size_t>(bytes / row, 512));
    return std::max(64, rows / 64 * 64); // whole strips of the renderer
}

Outcome<Manifest> publish_set(std::vector<TiffWriter> &files, Manifest manifest,
                              const std::filesystem::path &folder)
{
    Done done;
    for (std::size_t i = 0; i < files.size() && done; ++i) {
        done = files[i].publish();
    }
    if (done) {
        done = write_file(folder / "manifest.json", manifest_to_json(manifest));
    }
    if (done) {
        return manifest;
    }
    for (const WrittenPlate &plate : manifest.plates) {
        std::error_code ignored;
        std::filesystem::remove(folder / plate.file, ignored);
    }
    return done.error();
}

} // namespace bichrom
