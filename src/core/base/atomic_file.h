/// \file
/// Files that appear whole or not at all.
/// Layer: core/base.
#pragma once

#include "core/base/outcome.h"

#include <filesystem>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// A name beside the target under which a file grows until it is complete.
/// Destroying an uncommitted one removes what was written so far.
class AtomicFile
{
public:
    explicit AtomicFile(std::filesystem::path target);
    ~AtomicFile();
    AtomicFile(AtomicFile &&other) noexcept;
    AtomicFile &operator=(AtomicFile &&) = delete;

    /// Where to write; hidden, in the target's folder, ".part" at the end.
    [[nodiscard]] const std::filesystem::path &path() const { return m_path; }
    [[nodiscard]] const std::filesystem::path &target() const { return m_target; }

    /// Flushes the written file to the disk and renames it onto the target. CannotWrite, also as
    /// may_replace(); DiskFull.
    [[nodiscard]] Done commit();

private:
    friend Done commit_together(std::span<AtomicFile *const> files);
    std::filesystem::path m_target;
    std::filesystem::path m_path;
    bool m_pending = true;
};

/// Renames all of \p files onto their targets, or none: when one fails, what stood there before stands there
/// again.
/// \return CannotWrite (also where a folder has the name) or DiskFull; then the files are as if they had
/// never
///         been committed
[[nodiscard]] Done commit_together(std::span<AtomicFile *const> files);

/// Reads a whole file. FileMissing, CannotRead, or TooLarge above \p limit bytes.
[[nodiscard]] Outcome<std::vector<std::byte>> read_file(const std::filesystem::path &path,
                                                        std::uintmax_t limit = std::uintmax_t(2) << 30);

/// Writes a file under its hidden name, to be committed. CannotWrite or DiskFull.
[[nodiscard]] Outcome<AtomicFile> write_aside(const std::filesystem::path &path, std::string_view text);

/// Writes a whole file atomically. CannotWrite or DiskFull.
[[nodiscard]] Done write_file(const std::filesystem::path &path, std::span<const std::byte> bytes);
[[nodiscard]] Done write_file(const std::filesystem::path &path, std::string_view text);

/// Makes the folder, with its parents, and proves that a file can be created in it.
[[nodiscard]] Done prepare_folder(const std::filesystem::path &folder);

/// The error for a write to \p path that failed with \p error_number (as in errno).
[[nodiscard]] Error write_error(const std::filesystem::path &path, int error_number);

} // namespace bichrom
