/// \file
/// Customers' files that are in use here are written over by nothing.
/// Layer: core/base.
#pragma once

#include "core/base/outcome.h"

#include <filesystem>
#include <string>

namespace bichrom {

/// Keeps one file from being replaced for as long as it lives. AtomicFile asks, so that every writer keeps to
/// it. Any thread may make and end one.
class OriginalGuard
{
public:
    OriginalGuard() = default;
    /// \param file  may be no file at all; then nothing is guarded
    explicit OriginalGuard(const std::filesystem::path &file);
    ~OriginalGuard();
    OriginalGuard(const OriginalGuard &) = delete;
    OriginalGuard &operator=(const OriginalGuard &) = delete;

private:
    std::filesystem::path m_file; ///< absolute; empty = none
};

/// Whether a file may be written at \p target: CannotWrite where that is a guarded one, by this or another
/// name.
[[nodiscard]] Done may_replace(const std::filesystem::path &target);

} // namespace bichrom
