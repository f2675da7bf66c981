/// \file
/// Files that come compressed as a whole.
/// Layer: core/artwork. May use core/base. zlib stays inside.
#pragma once

#include "core/base/outcome.h"

#include <cstddef>
#include <span>
#include <vector>

namespace bichrom {

/// Whether \p bytes begin as a gzip file does (RFC 1952, 2.3.1): .svgz, .eps.gz …
[[nodiscard]] bool is_gzip(std::span<const std::byte> bytes);

/// What is in a gzip file, at most 1 GB of it. CannotRead when it is damaged or ends early, TooLarge.
[[nodiscard]] Outcome<std::vector<std::byte>> unpack_gzip(std::span<const std::byte> bytes);

/// Whether \p bytes, less than 4 GB, are a zlib stream (RFC 1950) that ends and whose checksum is right.
[[nodiscard]] bool is_whole_zlib(std::span<const std::byte> bytes);

} // namespace bichrom
