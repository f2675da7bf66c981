/// \file
/// Simulated devices: each works off what waits in its folder, and can be made to fail.
/// Layer: core/standin. May use core/artwork, core/job, core/line, core/proof, core/screen.
#pragma once

#include "core/base/job_control.h"
#include "core/standin/device_folder.h"

#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

enum class DeviceKind
{
    Recorder, ///< exposes 1-bit films onto a roll
    Press,    ///< prints composite PDFs, with a station under and one over the process inks
    Cutter    ///< cuts along the lines of one ink
};
[[nodiscard]] const char *to_string(DeviceKind kind); ///< "recorder", "press", "cutter"
[[nodiscard]] Outcome<DeviceKind> parse_device_kind(std::string_view name);

/// Settings and state of a new one.
///
/// All: "offline". Recorder: "dpi" (0 = any), "roll_mm" wide, "roll_left_mm", "used_mm", "gap_mm" between
/// films, "emulsion" "up" or "down", "jam" (the next film jams half way), "jammed", "exposed": list of {file,
/// from_mm, length_mm, width_mm}. Press: "under" and "over": name of the ink that is loaded, or empty;
/// "under_kind" and "over_kind": "white", "clear", "copper" or "silver"; "double_hit", "stock", "pages",
/// "dpi". Cutter: "ink".
[[nodiscard]] nlohmann::json usual_device(DeviceKind kind);

/// Opens, or makes, the folder of such a device. As DeviceFolder::open().
[[nodiscard]] Outcome<DeviceFolder> open_device(DeviceKind kind, const std::filesystem::path &folder);

/// Works off everything that waits, in the order of the names.
///
/// Recorder: takes TIFFs of its resolution that fit onto the roll; draws the roll as roll.png. Press: writes
/// the print of each page as PNG into "printed". Cutter: tells length and pieces, and draws what it cuts.
/// What none of them can do stays with the reason. \return what became of each file; CannotWrite, DiskFull,
/// Cancelled
[[nodiscard]] Outcome<std::vector<DeviceEvent>> run_device(DeviceKind kind, DeviceFolder &device,
                                                           const JobControl &control = {});

} // namespace bichrom
