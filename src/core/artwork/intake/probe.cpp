#include "core/artwork/intake/probe.h"

#include "core/artwork/intake/intake_program.h"
#include "core/base/atomic_file.h"
#include "core/base/child_process.h"

#include <sstream>

namespace bichrom {

Outcome<std::vector<int>> probe_pdf(std::span<const std::byte> bytes, const std::string &password,
                                    int patience, const JobControl &control)
{
    const auto helper = IntakeHelper::make();
    if (!helper) {
        return helper.error();
    }
    // In a file, for arguments can be read by anybody on the machine.
    if (Done written = write_file(helper->file("password"), password); !written) {
        return written.error();
    }
    if (Done written = write_file(helper->file("input"), bytes); !written) {
        return written.error();
    }
    const ChildLimits limits = limits_for(bytes.size(), patience);
    const auto run =
        helper->run({probe_word, "input", "password", std::to_string(patience)}, limits, control);
    if (!run) {
        return run.error();
    }
    if (run->late) {
        return Error{ErrorCode::TakesLong,
                     "The PDF takes very long to read: " + std::to_string(limits.work.count()) +
                         " seconds of work were not enough.",
                     {},
                     "Go on with more patience, or ask the customer for a simpler file."};
    }
    if (run->exit_code == probe_needs_memory) {
        return Error{ErrorCode::TooLarge,
                     "The PDF needs more memory than is allowed for one file.",
                     {},
                     "Ask the customer for a simpler file."};
    }
    if (run->signal != 0) {
        return Error{ErrorCode::CannotRead,
                     "The PDF makes its interpreter fail.",
                     {},
                     "Ask the customer for a new copy of the file."};
    }
    std::vector<int> slow_pages;
    std::istringstream words(run->output);
    for (std::string word; words >> word;) {
        int page = 0;
        if (word == probe_slow_page && words >> page) {
            slow_pages.push_back(page);
        }
    }
    return slow_pages;
}

} // namespace bichrom
