/// \file
/// The helper program that meets untrusted files first.
/// Layer: core/artwork, private.
#pragma once

#include "core/base/child_process.h"
#include "core/base/outcome.h"

#include <filesystem>
#include <string>
#include <utility>
#include <vector>

namespace bichrom {

/// Its name; installed beside the others.
inline constexpr const char *intake_program = "bichrom-intake";

/// Its first argument when a PDF is only to be tried out; the input and the password file follow.
inline constexpr const char *probe_word = "probe";

/// Its first argument when a page is to be painted for a first look; input, password file, page and output
/// follow.
inline constexpr const char *glance_word = "glance";

/// Its exit code when a PDF that is tried out needs more memory than it may have.
inline constexpr int probe_needs_memory = 2;

/// Printed by it before the number of a page that takes too long to interpret.
inline constexpr const char *probe_slow_page = "slow-page";

/// What it prints: a line each, told apart by their first sign.
namespace intake_words {
inline constexpr char assumption = '+';
inline constexpr char damage = '-'; ///< then the kind, a digit
inline constexpr char reason = '!';
inline constexpr char remedy = '?';
} // namespace intake_words

/// The helper, with a folder of its own for what is passed to it and comes back.
class IntakeHelper
{
public:
    /// Internal when it is missing; CannotWrite
    [[nodiscard]] static Outcome<IntakeHelper> make();

    [[nodiscard]] std::filesystem::path file(const char *name) const { return m_scratch.path() / name; }
    /// As run_child(), in that folder.
    [[nodiscard]] Outcome<ChildResult> run(const std::vector<std::string> &arguments,
                                           const ChildLimits &limits, const JobControl &control) const
    {
        return run_child(m_program, arguments, m_scratch.path(), limits, control);
    }

private:
    IntakeHelper(std::string program, ScratchFolder scratch)
        : m_program(std::move(program)), m_scratch(std::move(scratch))
    {
    }
    std::string m_program; ///< beside this program, or where an installation puts it
    ScratchFolder m_scratch;
};

} // namespace bichrom
