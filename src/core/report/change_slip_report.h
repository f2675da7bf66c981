/// \file
/// The change slip as a document for the customer.
/// Layer: core/report. May use core/job, core/proof.
#pragma once

#include "core/job/job_file.h"

#include <cstddef>
#include <vector>

namespace bichrom {

/// Every change and question with its state, and the page before and after: as it prints when nothing is
/// decided, and as it prints with the job.
/// \param date  as it shall stand there
/// \return a PDF; CannotRead, TooLarge, CannotWrite, Cancelled
[[nodiscard]] Outcome<std::vector<std::byte>>
change_slip_report(const OpenedJob &opened, const std::string &date, const JobControl &control = {});

} // namespace bichrom
