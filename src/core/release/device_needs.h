/// \file
/// Releases and the devices that they go to.
/// Layer: core/release. May use core/standin.
#pragma once

#include "core/release/gate.h"
#include "core/release/release.h"

namespace bichrom {

/// What the stand-in in \p folder can take, by its settings. FileMissing when there is none; CannotRead.
[[nodiscard]] Outcome<DeviceNeeds> needs_of_device(const std::filesystem::path &folder);

/// The same of several, in their order.
[[nodiscard]] Outcome<std::vector<DeviceNeeds>>
needs_of_devices(const std::vector<std::filesystem::path> &folders);

/// Puts those files of a release into the device's folder that it works with: films for a recorder, the PDF
/// of the plates for press and cutter. What is there already is left out, so that what broke off goes on.
/// \return names of the files sent now; FileMissing when the release holds none for it; as needs_of_device(),
/// send_to_device()
[[nodiscard]] Outcome<std::vector<std::string>> send_release(const Release &release,
                                                             const std::filesystem::path &folder);

} // namespace bichrom
