/// \file
/// What commands print and how they end.
/// Layer: cli.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/job/job_file.h"
#include "core/output/output_set.h"

#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace bichrom {

enum ExitCode
{
    exit_done = 0,
    exit_findings = 1,
    exit_usage = 2,
    exit_cannot_read = 3,
    exit_cannot_write = 4,
    exit_stopped = 130 ///< by Ctrl-C, as shells number it
};

/// Prints "bichrom-cli: message" on stderr. \return the exit code for the error
int report_error(const Error &error);

/// Prints "bichrom-cli: warning: text" on stderr.
void report_warning(const std::string &text);

/// What is doubtful about an opened job, told once each on stderr.
class OpenWarnings
{
public:
    /// Prints the warnings of opening.
    explicit OpenWarnings(const OpenedJob &opened);
    /// Prints those of \p damage that have not been printed.
    void report_more(const std::vector<std::string> &damage) const;
    /// The same of what was written, with files of earlier sets, and plates left out since they print
    /// nothing.
    void report_written(const std::vector<Manifest> &pages) const;

private:
    std::vector<std::string> m_told;
};

/// From now on Ctrl-C and SIGTERM stop what runs under the controls below, so that nothing incomplete is
/// left; a second time they end the program at once.
void stop_on_signals();

/// Stops when asked to.
[[nodiscard]] JobControl stoppable();

/// The same, and shows percent on stderr when it is a terminal.
[[nodiscard]] JobControl progress_on_terminal(const std::string &what);

/// Names on stderr the files of an earlier set in the folder, and where they went.
void report_earlier(const Manifest &manifest);

/// Today as YYYY-MM-DD in local time.
[[nodiscard]] std::string today();

} // namespace bichrom
