/// \file
/// Findings that say the same, put together.
/// Layer: core/preflight.
#pragma once

#include "core/preflight/finding.h"

#include <string>
#include <vector>

namespace bichrom {

/// The findings of one check about one subject, on all pages.
struct FindingGroup
{
    std::vector<int> findings; ///< indices into the list that was grouped, by page; never empty
    int objects = 0;           ///< single objects meant
    int places = 0;
    int pages = 0;
    bool accepted = false; ///< all of them are
    bool solved = false;   ///< all of them are, by the job
    bool muted = false;    ///< nothing to walk to

    /// Whether somebody has to look at it.
    [[nodiscard]] bool is_open() const { return !accepted && !solved && !muted; }
};

/// Groups in the order in which they begin.
[[nodiscard]] std::vector<FindingGroup> group_findings(const std::vector<Finding> &findings,
                                                       const std::vector<AcceptedFinding> &accepted = {});

/// "3 objects on 2 pages", "1 place"; pages are only told when there are several in the file.
[[nodiscard]] std::string count_text(const FindingGroup &group, int pages_in_file);

} // namespace bichrom
