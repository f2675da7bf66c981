/// \file
/// Blocks too large for the machine's memory.
/// Layer: core/base.
#pragma once

#include <cstddef>

namespace bichrom {

/// \p bytes zeros that lie in a file without a name, in the system's folder for large temporary files: they
/// take memory only while they are looked at. Null when less than a gigabyte would be left free there.
[[nodiscard]] void *map_paged(std::size_t bytes) noexcept;

/// Gives back what map_paged() gave.
void unmap_paged(void *block, std::size_t bytes) noexcept;

} // namespace bichrom
