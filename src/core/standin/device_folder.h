/// \file
/// The hot folder of a simulated device.
/// Layer: core/standin. May use core/base.
#pragma once

#include "core/base/outcome.h"

#include <nlohmann/json.hpp>

#include <filesystem>
#include <string>
#include <vector>

namespace bichrom {

/// What became of a file that was given to a device.
struct DeviceEvent
{
    enum class Kind
    {
        Taken,   ///< done; the file lies in "done"
        Refused, ///< not for this device; it lies in "refused", the reason beside it
        Waiting  ///< the device cannot now; the file stays where it is
    };
    std::string file;
    Kind kind = Kind::Taken;
    std::string words; ///< one or more sentences
};
[[nodiscard]] const char *to_string(DeviceEvent::Kind kind); ///< "done", "refused", "waiting"

/// A folder into which files for a device are put. What the device is and what it has used up stands in
/// device.json in it, to be read and changed by people.
class DeviceFolder
{
public:
    /// Makes the folder when it is missing. \param usual  settings where device.json has none; "device" says
    /// what kind it is. WrongFormat when the folder belongs to another kind of device; CannotRead,
    /// CannotWrite.
    [[nodiscard]] static Outcome<DeviceFolder> open(const std::filesystem::path &folder,
                                                    const nlohmann::json &usual);

    [[nodiscard]] const std::filesystem::path &path() const { return m_path; }
    /// Complete files that wait, by name; \p ending as ".tif", in small letters.
    [[nodiscard]] std::vector<std::filesystem::path> waiting(const std::string &ending) const;
    /// Files that wait and end otherwise.
    [[nodiscard]] std::vector<std::filesystem::path> strangers(const std::string &ending) const;

    /// Settings and state; what is changed is kept by save().
    [[nodiscard]] nlohmann::json &state() { return m_state; }
    [[nodiscard]] const nlohmann::json &state() const { return m_state; }
    /// A number or a word of it, \p otherwise when it is missing or of another kind.
    [[nodiscard]] double number(const char *key, double otherwise) const;
    [[nodiscard]] std::string word(const char *key, const std::string &otherwise) const;
    [[nodiscard]] bool flag(const char *key) const;
    /// One of its settings, from text: a number, a word, or yes or no. OutOfRange for no such setting or
    /// value.
    [[nodiscard]] Done set(const std::string &name, const std::string &value);
    [[nodiscard]] Done save() const;

    /// Moves \p file into the folder "done", or "refused" with the reason in a text file beside it; one of
    /// that name that is there already keeps it.
    [[nodiscard]] Outcome<DeviceEvent> take(const std::filesystem::path &file, const std::string &words);
    [[nodiscard]] Outcome<DeviceEvent> refuse(const std::filesystem::path &file, const std::string &reason);
    [[nodiscard]] static DeviceEvent leave(const std::filesystem::path &file, const std::string &reason);

private:
    std::filesystem::path m_path;
    nlohmann::json m_state;
};

/// A file, and what it is called at the device.
struct FileToSend
{
    std::filesystem::path file;
    std::string name;
};

/// Puts \p files into the hot folder, each whole or not at all; those that the device has already, waiting or
/// done, are left out by their contents, so that what was broken off is gone on with. Another file that waits
/// under the name stays as it is.
/// \return names of the files that were put there now; FileMissing, CannotRead, CannotWrite, DiskFull
[[nodiscard]] Outcome<std::vector<std::string>> send_to_device(const std::vector<FileToSend> &files,
                                                               const std::filesystem::path &folder);

} // namespace bichrom
