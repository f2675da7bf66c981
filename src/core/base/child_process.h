/// \file
/// Other programs, run with limits.
/// Layer: core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

namespace bichrom {

/// What a child may use. It is killed, with everything it started, when it takes more.
struct ChildLimits
{
    std::chrono::seconds work{20}; ///< of processor time: a busy machine does not count
    int idle_factor = 8; ///< on the clock it may take as many times that, for one that waits for ever
    std::uint64_t memory = std::uint64_t(2) << 30; ///< address space, bytes
    std::uint64_t file = std::uint64_t(2) << 30;   ///< largest file it may write, bytes
};

/// The usual limits for reading a file of \p bytes, \p patience times: a large one takes longer, and is held
/// in copies.
[[nodiscard]] ChildLimits limits_for(std::size_t bytes, int patience);

/// How a child ended.
struct ChildResult
{
    int exit_code = 0;  ///< when it ended by itself
    int signal = 0;     ///< when it was killed; 0 otherwise
    bool late = false;  ///< the time ran out
    std::string output; ///< standard output and error, the first 64 KB

    [[nodiscard]] bool good() const { return exit_code == 0 && signal == 0 && !late; }
};

/// Runs \p program, found in the PATH when it holds no '/', in \p folder with an almost empty
/// environment, standard input closed, and waits for it.
/// Cancelled when asked to stop; FileMissing when there is no such program; Internal when the
/// system cannot start it.
[[nodiscard]] Outcome<ChildResult> run_child(const std::string &program,
                                             const std::vector<std::string> &arguments,
                                             const std::filesystem::path &folder,
                                             const ChildLimits &limits = {}, const JobControl &control = {});

/// A folder of our own for passing files to a child; removed with everything in it.
class ScratchFolder
{
public:
    /// CannotWrite when the system's folder for temporary files refuses.
    [[nodiscard]] static Outcome<ScratchFolder> make();
    ~ScratchFolder();
    ScratchFolder(ScratchFolder &&other) noexcept;
    ScratchFolder &operator=(ScratchFolder &&) = delete;
    [[nodiscard]] const std::filesystem::path &path() const { return m_path; }

private:
    explicit ScratchFolder(std::filesystem::path path) : m_path(std::move(path)) {}
    std::filesystem::path m_path;
};

} // namespace bichrom
