#include "core/standin/device_folder.h"

#include "core/artwork/fingerprint.h"
#include "core/base/atomic_file.h"
#include "core/base/file_name.h"
#include "core/base/units.h"

#include <algorithm>
#include <set>

namespace bichrom {

namespace {

namespace fs = std::filesystem;
using nlohmann::json;

constexpr const char *state_name = "device.json";
constexpr std::uintmax_t longest_state = 1 << 20;

std::vector<fs::path> files_in(const fs::path &folder)
{
    std::vector<fs::path> files;
    std::error_code fault;
    for (fs::directory_iterator entry(folder, fault), end; !fault && entry != end; entry.increment(fault)) {
        const std::string name = entry->path().filename().string();
        if (entry->is_regular_file() && !name.starts_with('.') && name != state_name) {
            files.push_back(entry->path());
        }
    }
    std::sort(files.begin(), files.end());
    return files;
}

/// \p file moved into \p folder, under a free name.
Outcome<fs::path> moved(const fs::path &file, const fs::path &folder)
{
    std::error_code fault;
    fs::create_directories(folder, fault);
    const fs::path place = free_path(folder, file.stem().string(), file.extension().string());
    fs::rename(file, place, fault);
    return fault ? Outcome<fs::path>(write_error(place, fault.value())) : Outcome<fs::path>(place);
}

} // namespace

const char *to_string(DeviceEvent::Kind kind)
{
    static constexpr const char *names[] = {"done", "refused", "waiting"};
    return names[static_cast<std::size_t>(kind)];
}

Outcome<DeviceFolder> DeviceFolder::open(const fs::path &folder, const json &usual)
{
    if (const Done ready = prepare_folder(folder); !ready) {
        return ready.error();
    }
    DeviceFolder device;
    device.m_path = folder;
    device.m_state = usual;
    std::error_code fault;
    if (!fs::exists(folder / state_name, fault)) {
        if (const Done done = device.save(); !done) {
            return done.error();
        }
        return device;
    }
    const auto bytes = read_file(folder / state_name, longest_state);
    if (!bytes) {
        return bytes.error();
    }
    const auto *text = reinterpret_cast<const char *>(bytes->data());
    const json kept = json::parse(text, text + bytes->size(), nullptr, false);
    if (!kept.is_object()) {
        return Error{ErrorCode::CannotRead, "The device's settings are damaged.",
                     (folder / state_name).string(), "Mend the file, or remove it to begin anew."};
    }
    if (kept.value("device", json()) != usual.at("device")) {
        return Error{ErrorCode::WrongFormat,
                     "The folder belongs to another device than a " + usual.at("device").get<std::string>() +
                         ".",
                     folder.string(), "Choose a folder of its own for each device."};
    }
    device.m_state.update(kept);
    return device;
}

std::vector<fs::path> DeviceFolder::waiting(const std::string &ending) const
{
    std::vector<fs::path> files = files_in(m_path);
    std::erase_if(files, [&](const fs::path &file) {
        const std::string own = file_ending(file);
        return own != ending && !(ending == ".tif" && own == ".tiff");
    });
    return files;
}

std::vector<fs::path> DeviceFolder::strangers(const std::string &ending) const
{
    std::vector<fs::path> files = files_in(m_path);
    const std::vector<fs::path> known = waiting(ending);
    std::erase_if(files, [&](const fs::path &file) {
        const std::string own = file_ending(file);
        return own == ".png" || own == ".json" || std::find(known.begin(), known.end(), file) != known.end();
    });
    return files;
}

double DeviceFolder::number(const char *key, double otherwise) const
{
    const auto found = m_state.find(key);
    return found != m_state.end() && found->is_number() ? found->get<double>() : otherwise;
}

std::string DeviceFolder::word(const char *key, const std::string &otherwise) const
{
    const auto found = m_state.find(key);
    return found != m_state.end() && found->is_string() ? found->get<std::string>() : otherwise;
}

bool DeviceFolder::flag(const char *key) const
{
    const auto found = m_state.find(key);
    return found != m_state.end() && found->is_boolean() && found->get<bool>();
}

Done DeviceFolder::set(const std::string &name, const std::string &value)
{
    const auto known = m_state.find(name);
    if (known == m_state.end() || known->is_structured() || name == "device") {
        std::string names;
        for (const auto &[key, one] : m_state.items()) {
            names += one.is_structured() || key == "device" ? "" : (names.empty() ? "" : ", ") + key;
        }
        return Error{
            ErrorCode::OutOfRange, "The device has no setting '" + name + "'.", {}, "It has: " + names + "."};
    }
    if (known->is_boolean()) {
        const bool yes = value == "yes" || value == "true" || value == "on" || value == "1";
        if (!yes && value != "no" && value != "false" && value != "off" && value != "0") {
            return Error{
                ErrorCode::OutOfRange, "'" + value + "' does not say whether.", {}, "Write yes or no."};
        }
        *known = yes;
    } else if (known->is_number()) {
        const auto number = parse_number(value);
        if (!number) {
            return number.error();
        }
        *known = *number;
    } else {
        *known = value;
    }
    return {};
}

Done DeviceFolder::save() const
{
    return write_file(m_path / state_name,
                      m_state.dump(2, ' ', false, json::error_handler_t::replace) + "\n");
}

Outcome<DeviceEvent> DeviceFolder::take(const fs::path &file, const std::string &words)
{
    const auto place = moved(file, m_path / "done");
    if (!place) {
        return place.error();
    }
    return DeviceEvent{file.filename().string(), DeviceEvent::Kind::Taken, words};
}

Outcome<DeviceEvent> DeviceFolder::refuse(const fs::path &file, const std::string &reason)
{
    const auto place = moved(file, m_path / "refused");
    if (!place) {
        return place.error();
    }
    if (const Done told = write_file(place->string() + ".txt", reason + "\n"); !told) {
        return told.error();
    }
    return DeviceEvent{file.filename().string(), DeviceEvent::Kind::Refused, reason};
}

DeviceEvent DeviceFolder::leave(const fs::path &file, const std::string &reason)
{
    return {file.filename().string(), DeviceEvent::Kind::Waiting, reason};
}

Outcome<std::vector<std::string>> send_to_device(const std::vector<FileToSend> &files, const fs::path &folder)
{
    std::error_code fault;
    if (!fs::is_directory(folder, fault)) {
        return Error{ErrorCode::FileMissing, "The device's folder is not there: it may be switched off.",
                     folder.string(), "Start the device, or check where its folder lies, and send again."};
    }
    std::set<std::string> there;
    for (const fs::path &place : {folder, folder / "done"}) {
        for (const fs::path &file : files_in(place)) {
            if (const auto sum = fingerprint_of_file(file); sum) {
                there.insert(*sum);
            }
        }
    }
    std::vector<std::string> sent;
    for (const auto &[file, name] : files) {
        const auto sum = fingerprint_of_file(file);
        if (!sum) {
            return sum.error();
        }
        if (there.contains(*sum)) {
            continue;
        }
        AtomicFile target(
            free_path(folder, fs::path(name).stem().string(), fs::path(name).extension().string()));
        fs::copy_file(file, target.path(), fs::copy_options::overwrite_existing, fault);
        if (fault) {
            return write_error(target.target(), fault.value());
        }
        if (const Done done = target.commit(); !done) {
            return done.error();
        }
        sent.push_back(target.target().filename().string());
    }
    return sent;
}

} // namespace bichrom
