/// \file
/// Rows of a plate that wait on disk, compressed, until it is known what becomes of them.
/// Layer: core/output, private. zlib stays inside.
#pragma once

#include "core/base/atomic_file.h"
#include "core/base/outcome.h"

#include <cstdint>
#include <memory>
#include <span>

namespace bichrom {

/// Bytes are appended, then read again from the first on, as often as wanted. The file is hidden and goes
/// with the spool.
class PlaneSpool
{
public:
    /// \param beside  the file that is being written: the spool lies in its folder. CannotWrite, DiskFull.
    [[nodiscard]] static Outcome<PlaneSpool> create(const std::filesystem::path &beside);
    ~PlaneSpool();
    PlaneSpool(PlaneSpool &&) noexcept;
    PlaneSpool &operator=(PlaneSpool &&) = delete;

    [[nodiscard]] Done append(std::span<const std::uint8_t> bytes);
    /// Ends writing; reading begins at the first byte.
    [[nodiscard]] Done rewind();
    /// The next bytes. CannotWrite when they are not there: the disk failed.
    [[nodiscard]] Done read(std::span<std::uint8_t> bytes);

private:
    struct Impl;
    explicit PlaneSpool(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
