#include "core/output/prepared_page.h"

#include "core/base/atomic_file.h"
#include "core/base/file_name.h"
#include "core/output/damage_gate.h"

#include <nlohmann/json.hpp>

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
    const auto renderer = PlateRenderer::make(*content, setup_of(job), control);
    if (!renderer) {
        return renderer.error();
    }
    if (const auto passed = pass_damage(**content, job); !passed) {
        return passed.error();
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

int rows_for(int width, int channels, std::size_t bytes)
{
    const std::size_t row =
        std::max<std::size_t>(1, static_cast<std::size_t>(width) * static_cast<std::size_t>(channels));
    const int rows = static_cast<int>(std::min<std::size_t>(bytes / row, 512));
    return std::max(64, rows / 64 * 64); // whole strips of the renderer
}

namespace {

constexpr const char *manifest_name = "manifest.json";

/// The files that an earlier set's manifest names in \p folder and \p manifest does not.
std::vector<std::string> stale_files(const Manifest &manifest, const std::filesystem::path &folder)
{
    std::vector<std::string> stale;
    constexpr std::uintmax_t longest = 16 << 20; // bytes of a manifest
    const auto before = read_file(folder / manifest_name, longest);
    if (!before) {
        return stale;
    }
    const auto *text = reinterpret_cast<const char *>(before->data());
    const auto root = nlohmann::json::parse(text, text + before->size(), nullptr, false);
    if (!root.is_object() || !root.contains("plates") || !root["plates"].is_array()) {
        return stale;
    }
    for (const nlohmann::json &plate : root["plates"]) {
        const bool named = plate.is_object() && plate.contains("file") && plate["file"].is_string();
        const std::string name = named ? plate["file"].get<std::string>() : std::string();
        const bool ours = std::any_of(manifest.plates.begin(), manifest.plates.end(),
                                      [&](const WrittenPlate &one) { return one.file == name; });
        const bool plain = !name.empty() && std::filesystem::path(name).filename() == name;
        std::error_code fault;
        if (plain && !ours && std::find(stale.begin(), stale.end(), name) == stale.end() &&
            std::filesystem::is_regular_file(folder / name, fault)) {
            stale.push_back(name);
        }
    }
    return stale;
}

/// \p folder, or with a number behind it when there is one already.
std::filesystem::path free_folder(const std::filesystem::path &folder)
{
    std::filesystem::path free = folder;
    std::error_code fault;
    for (int number = 2; std::filesystem::exists(free, fault); ++number) {
        free = folder.string() + "-" + std::to_string(number);
    }
    return free;
}

} // namespace

Outcome<Manifest> publish_set(std::vector<AtomicFile *> files, Manifest manifest,
                              const OutputRequest &request)
{
    manifest.stale = stale_files(manifest, request.folder);
    auto text = write_aside(request.folder / manifest_name, manifest_to_json(manifest));
    if (!text) {
        return text.error();
    }
    files.push_back(&*text);
    if (const Done done = commit_together(files); !done) {
        return done.error();
    }
    if (request.stale == StaleFiles::MoveAway && !manifest.stale.empty()) {
        const std::filesystem::path aside = free_folder(request.folder / "earlier");
        std::error_code fault;
        std::filesystem::create_directories(aside, fault);
        for (const std::string &name : manifest.stale) {
            if (!fault) {
                std::filesystem::rename(request.folder / name, aside / name, fault);
            }
        }
        if (fault) {
            return write_error(aside, fault.value());
        }
        manifest.stale_moved_to = aside.string();
    }
    return manifest;
}

} // namespace bichrom
