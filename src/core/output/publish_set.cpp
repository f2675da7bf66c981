#include "core/output/publish_set.h"

#include "core/base/file_name.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace bichrom {

std::string source_name(const OpenedJob &opened)
{
    return std::filesystem::path(opened.artwork->name()).filename().string();
}

namespace {

constexpr const char *manifest_name = "manifest.json";

/// The manifest in \p folder; null when there is none that can be read.
nlohmann::json earlier_manifest(const std::filesystem::path &folder)
{
    constexpr std::uintmax_t longest = 16 << 20; // bytes of a manifest
    const auto bytes = read_file(folder / manifest_name, longest);
    if (!bytes) {
        return nullptr;
    }
    const auto *text = reinterpret_cast<const char *>(bytes->data());
    auto root = nlohmann::json::parse(text, text + bytes->size(), nullptr, false);
    return root.is_object() ? root : nlohmann::json();
}

/// The files that an earlier set's manifest names in \p folder and \p manifest does not.
std::vector<std::string> earlier_files(const Manifest &manifest, const std::filesystem::path &folder)
{
    std::vector<std::string> earlier;
    const nlohmann::json root = earlier_manifest(folder);
    const auto take = [&](const nlohmann::json &file) {
        const std::string name = file.is_string() ? file.get<std::string>() : std::string();
        const bool ours = std::any_of(manifest.plates.begin(), manifest.plates.end(),
                                      [&](const WrittenPlate &one) { return one.file == name; });
        const bool plain = !name.empty() && std::filesystem::path(name).filename() == name;
        std::error_code fault;
        if (plain && !ours && std::find(earlier.begin(), earlier.end(), name) == earlier.end() &&
            std::filesystem::is_regular_file(folder / name, fault)) {
            earlier.push_back(name);
        }
    };
    const nlohmann::json none = nlohmann::json::array();
    const auto list = [&](const char *key) {
        return root.is_object() && root.contains(key) && root[key].is_array() ? root[key] : none;
    };
    for (const nlohmann::json &plate : list("plates")) {
        if (plate.is_object() && plate.contains("file")) {
            take(plate["file"]);
        }
    }
    for (const nlohmann::json &file : list("earlier")) {
        take(file);
    }
    return earlier;
}

} // namespace

Done may_publish(const OpenedJob &opened, bool screened, const OutputRequest &request)
{
    const nlohmann::json earlier = earlier_manifest(request.folder);
    const auto plates = earlier.find("plates");
    if (request.earlier == EarlierFiles::MoveAway || !earlier.is_object() || plates == earlier.end() ||
        !plates->is_array() || plates->empty()) {
        return {};
    }
    const nlohmann::json &first = plates->front();
    const bool films = first.is_object() && first.contains("lpi") && first["lpi"].is_number();
    const nlohmann::json source = earlier.value("source", nlohmann::json());
    const nlohmann::json page = earlier.value("page", nlohmann::json());
    if (source == source_name(opened) && page == opened.job.page && films == screened) {
        return {}; // the same once more
    }
    return Error{ErrorCode::CannotWrite,
                 "The folder holds the " + std::string(films ? "films" : "plates") + " of " +
                     (source.is_string() ? source.get<std::string>() : "another file") + ", page " +
                     (page.is_number_integer() ? std::to_string(page.get<int>()) : "?") + ".",
                 request.folder.string(),
                 "Choose another folder, or have what is there moved away: by the tick in Release, or "
                 "--move-earlier."};
}

Outcome<Manifest> publish_set(std::vector<AtomicFile *> files, Manifest manifest,
                              const OutputRequest &request)
{
    manifest.earlier = earlier_files(manifest, request.folder);
    const bool move_away = request.earlier == EarlierFiles::MoveAway;
    Manifest written = manifest;
    if (move_away) {
        written.earlier.clear();
    }
    auto text = write_aside(request.folder / manifest_name, manifest_to_json(written));
    if (!text) {
        return text.error();
    }
    files.push_back(&*text);
    if (const Done done = commit_together(files); !done) {
        return done.error();
    }
    if (move_away && !manifest.earlier.empty()) {
        const std::filesystem::path aside = free_path(request.folder, "earlier");
        std::error_code fault;
        std::filesystem::create_directories(aside, fault);
        // The set is written whatever becomes of these: one that cannot be moved stays and is named.
        std::erase_if(manifest.earlier, [&](const std::string &name) {
            std::filesystem::rename(request.folder / name, aside / name, fault);
            if (!fault) {
                manifest.moved.push_back(name);
            }
            return !fault;
        });
        manifest.moved_to = manifest.moved.empty() ? std::string() : aside.string();
    }
    return manifest;
}

} // namespace bichrom
