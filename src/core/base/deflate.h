/// \file
/// Large data made small, on all processors.
/// Layer: core/base. zlib stays inside.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// Appends what it is given to one zlib stream (RFC 1950), compressed lightly and in parts side by side.
class Deflater
{
public:
    /// Throws std::bad_alloc. Same bytes for any number of threads.
    void append(std::span<const std::uint8_t> bytes);
    /// The whole stream; nothing is appended afterwards.
    [[nodiscard]] std::vector<std::uint8_t> finish();

private:
    std::vector<std::uint8_t> m_out;
    unsigned long m_sum = 1; ///< Adler-32 of nothing
};

} // namespace bichrom
