/// \file
/// What commands print and how they end.
/// Layer: cli.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"

#include <string>

namespace bichrom {

enum ExitCode
{
    exit_done = 0,
    exit_findings = 1,
    exit_usage = 2,
    exit_cannot_read = 3,
    exit_cannot_write = 4
};

/// Prints "bichrom-cli: message" on stderr. \return the exit code for the error
int report_error(const Error &error);

/// Prints "bichrom-cli: warning: text" on stderr.
void report_warning(const std::string &text);

/// Shows percent on stderr when it is a terminal.
[[nodiscard]] JobControl progress_on_terminal(const std::string &what);

/// Today as YYYY-MM-DD in local time.
[[nodiscard]] std::string today();

} // namespace bichrom
