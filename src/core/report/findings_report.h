/// \file
/// What the shop rules caught, as a document for the customer or the job's folder.
/// Layer: core/report. May use core/preflight, core/proof.
#pragma once

#include "core/job/job_file.h"
#include "core/preflight/finding.h"
#include "core/preflight/shop_rules.h"

#include <cstddef>
#include <vector>

namespace bichrom {

/// The findings, grouped, each with what was measured, the limit, why it matters, what can be done, and a
/// picture of its worst place; then how the file was read.
/// \param date  as it shall stand there
/// \return a PDF; CannotRead, TooLarge, CannotWrite, Cancelled
[[nodiscard]] Outcome<std::vector<std::byte>> findings_report(const OpenedJob &opened, const ShopRules &rules,
                                                              const std::vector<Finding> &findings,
                                                              const std::string &date,
                                                              const JobControl &control = {});

} // namespace bichrom
