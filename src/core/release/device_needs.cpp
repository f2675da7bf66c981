#include "core/release/device_needs.h"

#include "core/standin/devices.h"

namespace bichrom {

namespace {

Outcome<std::pair<DeviceKind, DeviceFolder>> device_in(const std::filesystem::path &folder)
{
    std::error_code fault;
    if (!std::filesystem::exists(folder / "device.json", fault)) {
        return Error{ErrorCode::FileMissing, "There is no device in this folder.", folder.string(),
                     "Start one: bichrom-cli stand-in recorder|press|cutter --in " + folder.string()};
    }
    Error last;
    for (const DeviceKind kind : {DeviceKind::Recorder, DeviceKind::Press, DeviceKind::Cutter}) {
        auto device = open_device(kind, folder);
        if (device) {
            return std::pair(kind, std::move(*device));
        }
        last = device.error();
    }
    return last;
}

} // namespace

Outcome<DeviceNeeds> needs_of_device(const std::filesystem::path &folder)
{
    const auto found = device_in(folder);
    if (!found) {
        return found.error();
    }
    const auto &[kind, device] = *found;
    DeviceNeeds needs;
    needs.name = "The " + std::string(to_string(kind)) + " in " + folder.filename().string();
    if (kind == DeviceKind::Press) {
        needs.inks.assign(process_names.begin(), process_names.end());
        for (const char *station : {"under", "over"}) {
            if (const std::string ink = device.word(station, {}); !ink.empty()) {
                needs.inks.push_back(ink);
            }
        }
    } else if (kind == DeviceKind::Cutter) {
        needs.needed = device.word("ink", "Cut");
    }
    return needs;
}

Outcome<std::vector<DeviceNeeds>> needs_of_devices(const std::vector<std::filesystem::path> &folders)
{
    std::vector<DeviceNeeds> all;
    for (const std::filesystem::path &folder : folders) {
        auto needs = needs_of_device(folder);
        if (!needs) {
            return needs.error();
        }
        all.push_back(std::move(*needs));
    }
    return all;
}

Outcome<std::vector<std::string>> send_release(const Release &release, const std::filesystem::path &folder)
{
    const auto found = device_in(folder);
    if (!found) {
        return found.error();
    }
    std::vector<FileToSend> files;
    const std::string mark = "r" + std::to_string(release.number) + "-";
    for (const auto &[name, sum] : release.files) {
        const bool film = name.starts_with("films/") && name.ends_with(".tif");
        const std::filesystem::path path = release.folder / name;
        if (found->first == DeviceKind::Recorder && film) {
            files.push_back({path, mark + path.filename().string()});
        } else if (found->first != DeviceKind::Recorder && name == "plates.pdf") {
            files.push_back({path, mark + release.folder.parent_path().filename().string() + "-plates.pdf"});
        }
    }
    if (files.empty()) {
        const bool recorder = found->first == DeviceKind::Recorder;
        return Error{ErrorCode::FileMissing,
                     std::string("The release holds no ") +
                         (recorder ? "films as TIFF" : "PDF of the plates") + " for the " +
                         to_string(found->first) + ".",
                     folder.string(),
                     std::string("Release the job with ") + (recorder ? "films as TIFF." : "the PDF.")};
    }
    return send_to_device(files, folder);
}

} // namespace bichrom
