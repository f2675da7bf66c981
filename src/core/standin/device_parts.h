/// \file
/// One file through each device.
/// Layer: core/standin, private.
#pragma once

#include "core/standin/devices.h"

namespace bichrom {

[[nodiscard]] Outcome<DeviceEvent> expose(DeviceFolder &device, const std::filesystem::path &file,
                                          const JobControl &control);
/// Draws the roll as it is exposed.
[[nodiscard]] Done draw_roll(const DeviceFolder &device, const JobControl &control);
[[nodiscard]] Outcome<DeviceEvent> print_pages(DeviceFolder &device, const std::filesystem::path &file,
                                               const JobControl &control);
[[nodiscard]] Outcome<DeviceEvent> cut_lines(DeviceFolder &device, const std::filesystem::path &file,
                                             const JobControl &control);

} // namespace bichrom
