/// \file
/// What stands in the way of a release.
/// Layer: core/release. May use core/job, core/preflight, core/standin.
#pragma once

#include "core/base/page_list.h"
#include "core/job/job_file.h"

#include <string>
#include <vector>

namespace bichrom {

/// One reason not to release yet, for people.
struct GateStop
{
    std::string what;
    std::string remedy;
};

/// What a device that the release goes to can take.
struct DeviceNeeds
{
    std::string name;              ///< of the device, for messages
    std::vector<std::string> inks; ///< that it knows; empty = any
    std::string needed;            ///< an ink that must be there; empty = none
};

/// Errors of the rules that nobody has accepted, on \p pages; questions and changes that the customer has not
/// answered; inks of plates that print which \p devices do not know. Empty when nothing stands in the way.
/// \return as check_page()
[[nodiscard]] Outcome<std::vector<GateStop>> check_gate(const OpenedJob &opened, const PageList &pages,
                                                        const std::vector<DeviceNeeds> &devices = {},
                                                        const JobControl &control = {});

} // namespace bichrom
